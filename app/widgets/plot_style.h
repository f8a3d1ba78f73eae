// How every plot looks: paper, thin rules, the number face on the axes.
#pragma once

#include <QPen>
#include <utility>
#include <vector>

#include "widgets/theme.h"

class QCPAxisRect;
class QCPItemText;
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

/// A name that can be read where it lies on a line; placed by parts of its axis rectangle, 0…1 from its upper left
/// corner.
QCPItemText* line_name(QCustomPlot& plot, const Theme& theme, const QString& words, const QColor& ink);

/// Puts names to the right ends of their lines, above them, one below the other where they would touch, and
/// in several columns where there are too many for that.
/// \param names  where each line ends, 0 at the top of the rectangle…1, and its name
void stand_apart(std::vector<std::pair<double, QCPItemText*>> names, const QCPAxisRect& rect, const Theme& theme);

}  // namespace fair_gauge::app
