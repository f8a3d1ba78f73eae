// The corrections of calibration points, the model through them and the band in which it is known.
#pragma once

#include <QString>
#include <vector>

#include "bench/bench.h"
#include "logbook/logbook.h"
#include "quantity/unit.h"
#include "truth/calibration_fit.h"
#include "widgets/theme.h"

class QCustomPlot;

namespace fair_gauge::app {

/// "a line"
QString model_name(FitModel model);

/// Draws it anew, over the wanted range and what lies beyond it. \param unit  of the readings, for the axes
/// \param fit  null → the points alone
void draw_fit_plot(QCustomPlot& plot, const Theme& theme, const Channel& channel, const Unit& unit,
                   const std::vector<RecordedPoint>& points, const CalibrationFit* fit);

}  // namespace fair_gauge::app
