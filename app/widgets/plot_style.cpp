#include "widgets/plot_style.h"

#include <QAccessibleWidget>
#include <algorithm>

#include "qcustomplot.h"

namespace fair_gauge::app {
namespace {

// What a screen reader calls it.
QAccessibleInterface* chart(const QString&, QObject* object) {
  auto* plot = qobject_cast<QCustomPlot*>(object);
  return plot ? new QAccessibleWidget(plot, QAccessible::Chart) : nullptr;
}

}  // namespace

void call_plots_charts() { QAccessible::installFactory(chart); }

void style_plot(QCustomPlot& plot, const Theme& theme) {
  plot.setBackground(theme.colours().paper);
  style_axes(*plot.axisRect(), theme);
}

void style_axes(QCPAxisRect& rect, const Theme& theme) {
  const Colours& colours = theme.colours();
  rect.setBackground(colours.sheet);
  for (QCPAxis* axis : {rect.axis(QCPAxis::atBottom), rect.axis(QCPAxis::atLeft), rect.axis(QCPAxis::atRight)}) {
    axis->setBasePen(QPen(colours.rule));
    axis->setTickPen(QPen(colours.rule));
    axis->setSubTicks(false);
    axis->setTickLength(0, 4);
    axis->setTickLabelFont(theme.font(Face::code));
    axis->setTickLabelColor(colours.quiet);
    axis->setLabelFont(theme.font(Face::small));
    axis->setLabelColor(colours.quiet);
    axis->grid()->setPen(QPen(colours.rule, 1, Qt::SolidLine));
    axis->grid()->setZeroLinePen(Qt::NoPen);
  }
}

QPen line_pen(const Colours& colours, std::size_t i) {
  const QColor inks[] = {colours.accent, colours.second, colours.amber, colours.ink, colours.red};
  const Qt::PenStyle lines[] = {Qt::SolidLine, Qt::DashLine, Qt::DashDotLine, Qt::DotLine, Qt::DashDotDotLine};
  return {inks[i % 5], 1.6, lines[i % 5]};
}

QCPItemText* line_name(QCustomPlot& plot, const Theme& theme, const QString& words, const QColor& ink) {
  auto* name = new QCPItemText(&plot);
  QColor under = theme.colours().sheet;
  under.setAlpha(200);
  name->setBrush(under);
  name->setLayer(QStringLiteral("legend"));  // over the lines of the others
  name->setPadding(QMargins(3, 0, 3, 0));
  name->setFont(theme.font(Face::small));
  name->setColor(ink);
  name->setText(words);
  name->position->setType(QCPItemPosition::ptAxisRectRatio);
  return name;
}

void stand_apart(std::vector<std::pair<double, QCPItemText*>> names, const QCPAxisRect& rect, const Theme& theme) {
  std::ranges::stable_sort(names, {}, &std::pair<double, QCPItemText*>::first);
  const QFontMetrics metrics(theme.font(Face::small));
  const auto room = static_cast<std::size_t>(std::max(1, rect.height() / metrics.height()));
  const std::size_t columns = (names.size() + room - 1) / room;
  const double line_height = metrics.height() / static_cast<double>(std::max(1, rect.height()));
  double right = 0.995;
  for (std::size_t column = 0; column < columns; ++column) {
    std::vector<std::pair<double, QCPItemText*>> own;
    for (std::size_t i = column; i < names.size(); i += columns) own.push_back(names[i]);
    // Above the line; then pushed down, and all of them up where the last would fall out.
    double free = 0;
    for (auto& [at, name] : own) {
      at = std::max(at - line_height, free);
      free = at + line_height;
    }
    int widest = 0;
    for (std::size_t i = own.size(); i-- > 0;) {
      const double most = (i + 1 < own.size() ? own[i + 1].first : 1) - line_height;
      own[i].first = std::max(0.0, std::min(own[i].first, most));
      own[i].second->setPositionAlignment(Qt::AlignRight | Qt::AlignTop);
      own[i].second->position->setCoords(right, own[i].first);
      widest = std::max(widest, metrics.horizontalAdvance(own[i].second->text()));
    }
    right -= (widest + theme.px(10)) / static_cast<double>(std::max(1, rect.width()));
  }
}

}  // namespace fair_gauge::app
