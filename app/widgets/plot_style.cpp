#include "widgets/plot_style.h"

#include "qcustomplot.h"

namespace fair_gauge::app {

void style_plot(QCustomPlot& plot, const Theme& theme) {
  const Colours& colours = theme.colours();
  plot.setBackground(colours.paper);
  plot.axisRect()->setBackground(colours.sheet);
  for (QCPAxis* axis : {plot.xAxis, plot.yAxis, plot.yAxis2}) {
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

}  // namespace fair_gauge::app
