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
  name->setPadding(QMargins(3, 0, 3, 0));
  name->setFont(theme.font(Face::small));
  name->setColor(ink);
  name->setText(words);
  name->position->setType(QCPItemPosition::ptAxisRectRatio);
  return name;
}

void stand_apart(std::vector<std::pair<double, QCPItemText*>> names, const QCPAxisRect& rect, const Theme& theme) {
  std::ranges::stable_sort(names, {}, &std::pair<double, QCPItemText*>::first);
  const double height = std::max(1, rect.height()),
               line_height = QFontMetrics(theme.font(Face::small)).height() / height;
  // Above the line; then pushed down, and all of them up where the last would fall out.
  double free = 0;
  for (auto& [at, name] : names) {
    at = std::max(at - line_height, free);
    free = at + line_height;
  }
  for (std::size_t i = names.size(); i-- > 0;) {
    const double most = (i + 1 < names.size() ? names[i + 1].first : 1) - line_height;
    names[i].first = std::max(0.0, std::min(names[i].first, most));
  }
  for (const auto& [at, name] : names) {
    name->setPositionAlignment(Qt::AlignRight | Qt::AlignTop);
    name->position->setCoords(0.995, at);
  }
}

}  // namespace fair_gauge::app
