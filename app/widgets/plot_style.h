// How every plot looks: paper, thin rules, the number face on the axes.
#pragma once

#include <QPen>

#include "widgets/theme.h"

class QCPAxisRect;
class QCustomPlot;

namespace fair_gauge::app {

/// A screen reader calls every plot that is made from now on a chart.
void call_plots_charts();

/// Colours and faces of background, axes and grid by the theme. Graphs and items are the caller's.
void style_plot(QCustomPlot& plot, const Theme& theme);
/// Those of one more axis rectangle.
void style_axes(QCPAxisRect& rect, const Theme& theme);

/// The pen of the i-th of several lines: colour and dashes tell them apart.
QPen line_pen(const Colours& colours, std::size_t i);

}  // namespace fair_gauge::app
