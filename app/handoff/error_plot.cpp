#include "handoff/error_plot.h"

#include <qcustomplot.h>

#include <algorithm>

#include "widgets/plot_style.h"
#include "widgets/text.h"

namespace fair_gauge::app {

ErrorPlot::ErrorPlot(const Theme& theme, QWidget* parent) : QWidget(parent), theme_(theme) {
  plot_ = new QCustomPlot;
  plot_->setObjectName(QStringLiteral("handoff_errors"));
  least_ = plot_->addGraph();
  most_ = plot_->addGraph();
  worst_ = plot_->addGraph();
  most_->setChannelFillGraph(least_);
  worst_->setLineStyle(QCPGraph::lsNone);
  room_ = new QCPItemRect(plot_);
  room_->setLayer(QStringLiteral("background"));
  room_->topLeft->setTypeX(QCPItemPosition::ptAxisRectRatio);
  room_->bottomRight->setTypeX(QCPItemPosition::ptAxisRectRatio);
  auto* all = column(0);
  all->addWidget(plot_);
  setLayout(all);
  setMinimumHeight(150);
  setMaximumHeight(260);
  connect(&theme, &Theme::changed, this, &ErrorPlot::wear);
  hide();
}

void ErrorPlot::wear() {
  const Colours& colours = theme_.colours();
  style_plot(*plot_, theme_);
  for (QCPGraph* each : {least_, most_}) each->setPen(QPen(colours.accent, 1));
  QColor fill = colours.accent;
  fill.setAlphaF(0.35F);
  most_->setBrush(fill);
  worst_->setScatterStyle(QCPScatterStyle(QCPScatterStyle::ssDisc, QPen(colours.amber, 1.5), colours.amber, 7));
  room_->setPen(Qt::NoPen);
  room_->setBrush(colours.tint);
  plot_->replot(QCustomPlot::rpQueuedReplot);
}

void ErrorPlot::show_handoff(const Handoff& handoff, const QString& unit, const NumberStyle& style) {
  setVisible(!handoff.errors.empty());
  if (handoff.errors.empty()) return;
  const HandoffReport& report = handoff.report;
  QVector<double> x, least, most;
  double top = 0;
  for (const ErrorStretch& each : handoff.errors) {
    x << static_cast<double>(each.first + each.last) / 2;
    least << each.least, most << each.most;
    top = std::max({top, -each.least, each.most});
  }
  least_->setData(x, least, true);
  most_->setData(x, most, true);
  const auto worst = std::ranges::max_element(
      handoff.errors, {}, [](const ErrorStretch& each) { return std::max(-each.least, each.most); });
  const double at = static_cast<double>(worst->first + worst->last) / 2;
  if (top > 0)
    worst_->setData({at}, {worst->most > -worst->least ? worst->most : worst->least}, true);
  else
    worst_->setData({}, {});
  const double room = report.allowed_error + 0.5 / static_cast<double>(report.per_unit);
  room_->topLeft->setCoords(0, room);
  room_->bottomRight->setCoords(1, -room);
  plot_->xAxis->setRange(x.front(), std::max(x.back(), x.front() + 1));
  const double reach = 1.15 * (top > 0 ? std::max(top, std::min(room, 3 * top)) : room);
  plot_->yAxis->setRange(-reach, reach);
  plot_->yAxis->ticker()->setTickCount(3);
  plot_->xAxis->ticker()->setTickCount(4);
  plot_->xAxis->setLabel(tr("raw number"));
  plot_->yAxis->setLabel(tr("off by, %1").arg(unit));
  plot_->setAccessibleName(
      tr("Error of the arithmetic over every raw number: at worst %1 %2 at %3, room for %4 %2")
          .arg(text_of(fixed(report.worst_error, decimals_of_two_digits(report.worst_error), style)), unit,
               text_of(report.at_raw), text_of(fixed(room, decimals_of_two_digits(room), style))));
  plot_->setToolTip(
      tr("By how far the arithmetic is off, over every raw number; the dot is the worst. Shaded: a tenth "
         "of the uncertainty and half a step"));
  wear();
}

}  // namespace fair_gauge::app

#include "moc_error_plot.cpp"
