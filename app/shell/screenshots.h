// Pictures of the main views, made from the demonstration bench.
#pragma once

#include <QString>

#include "shell/main_window.h"

namespace fair_gauge::app {

/// Writes one PNG a main view into `folder`. \returns the number written, or the problem with the first that failed
Result<int> take_screenshots(MainWindow& window, Theme& theme, Workbench& workbench, const QString& folder);

}  // namespace fair_gauge::app
