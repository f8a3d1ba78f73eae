// How every plot looks: paper, thin rules, the number face on the axes.
#pragma once

#include "widgets/theme.h"

class QCustomPlot;

namespace fair_gauge::app {

/// Colours and faces of background, axes and grid by the theme. Graphs and items are the caller's.
void style_plot(QCustomPlot& plot, const Theme& theme);

}  // namespace fair_gauge::app
