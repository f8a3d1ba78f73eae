#include "widgets/plot_style.h"

#include <QAccessibleWidget>

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

}  // namespace fair_gauge::app
