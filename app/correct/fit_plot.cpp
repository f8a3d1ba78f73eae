#include "correct/fit_plot.h"

#include <qcustomplot.h>

#include <algorithm>
#include <cmath>

#include "widgets/plot_style.h"
#include "widgets/text.h"

namespace fair_gauge::app {

QString model_name(FitModel model) {
  switch (model) {
    case FitModel::offset: return QObject::tr("one offset");
    case FitModel::gain: return QObject::tr("slope through zero");
    case FitModel::line: return QObject::tr("a line");
    case FitModel::quadratic: return QObject::tr("a parabola");
    case FitModel::cubic: return QObject::tr("a cubic");
    case FitModel::table: return QObject::tr("a table");
  }
  return {};
}

void draw_fit_plot(QCustomPlot& plot, const Theme& theme, const Channel& channel, const Unit& unit,
                   const std::vector<RecordedPoint>& points, const CalibrationFit* fit) {
  const Colours& colours = theme.colours();
  style_plot(plot, theme);
  plot.clearPlottables();
  const Range& wanted = channel.wanted;
  const double beside = 0.1 * (wanted.to - wanted.from);
  double low = wanted.from - beside, high = wanted.to + beside, reach = 0;
  for (const RecordedPoint& point : points) low = std::min(low, point.reading), high = std::max(high, point.reading);
  plot.xAxis->setRange(unit.from_base(low), unit.from_base(high));
  plot.xAxis->setLabel(QObject::tr("read, %1").arg(text_of(unit.symbol)));
  plot.yAxis->setLabel(QObject::tr("to add, %1").arg(text_of(difference_symbol(unit))));
  plot.yAxis->setTickLabels(!points.empty());  // numbers of nothing
  double middle = 0;
  if (fit) {
    QVector<double> x, y, above, below;
    for (int i = 0; i <= 120; ++i) {
      const double at = low + (high - low) * i / 120;
      const Prediction prediction = fit->predict(at);
      const double band = std::isfinite(prediction.standard_uncertainty) ? 2 * prediction.standard_uncertainty : 0;
      x << unit.from_base(at), y << prediction.correction / unit.scale,
          above << (prediction.correction + band) / unit.scale, below << (prediction.correction - band) / unit.scale;
    }
    auto* upper = plot.addGraph();
    auto* lower = plot.addGraph();
    upper->setData(x, above, true);
    lower->setData(x, below, true);
    for (auto* edge : {upper, lower}) edge->setPen(QPen(colours.accent, 1, Qt::DotLine));
    upper->setBrush(colours.tint);
    upper->setChannelFillGraph(lower);
    auto* line = plot.addGraph();
    line->setPen(QPen(colours.accent, 2));
    line->setData(x, y, true);
    middle = fit->predict((low + high) / 2).correction / unit.scale;
    for (int i = 0; i < y.size(); ++i)
      if (x[i] >= unit.from_base(wanted.from) && x[i] <= unit.from_base(wanted.to))
        reach = std::max({reach, std::abs(above[i] - middle), std::abs(below[i] - middle)});
  }
  QVector<double> px, py, pe;
  for (const RecordedPoint& point : points) {
    px << unit.from_base(point.reading), py << (point.reference - point.reading) / unit.scale,
        pe << 2 * std::hypot(point.reference_standard, point.spread / std::sqrt(std::max(1, point.readings))) /
                  unit.scale;
    reach = std::max(reach, std::abs(py.back() - middle) + pe.back());
  }
  auto* dots = plot.addGraph();
  dots->setLineStyle(QCPGraph::lsNone);
  dots->setScatterStyle(QCPScatterStyle(QCPScatterStyle::ssCircle, QPen(colours.second, 2), QBrush(colours.sheet), 8));
  dots->setData(px, py);
  auto* bars = new QCPErrorBars(plot.xAxis, plot.yAxis);
  bars->setDataPlottable(dots);
  bars->setData(pe);
  bars->setPen(QPen(colours.second, 1));
  reach = std::max(reach, 0.25 * channel.tolerance / unit.scale) * 1.15;
  plot.yAxis->setRange(middle - reach, middle + reach);
  plot.setAccessibleName(QObject::tr("Corrections of the points and the model through them"));
  plot.replot(QCustomPlot::rpQueuedReplot);
}

}  // namespace fair_gauge::app
