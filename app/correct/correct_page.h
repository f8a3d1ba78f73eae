// Correct: calibrate, the error budget in full, which of several is right, and what follows from readings together.
#pragma once

#include <QWidget>

#include "correct/budget_view.h"
#include "correct/calibrate_view.h"
#include "correct/compare_channels.h"
#include "shell/workbench.h"
#include "widgets/views.h"

namespace fair_gauge::app {

class CorrectPage : public QWidget {
  Q_OBJECT
 public:
  CorrectPage(const Theme& theme, Workbench& workbench, QWidget* parent = nullptr);

  /// Calibrate, budget, compare, derived: as numbered by show_view().
  static QStringList view_names();
  void show_view(int view);

 signals:
  void calibrated(const fair_gauge::LogEntry& entry);
  void over_time_wanted(const std::vector<std::string>& channels, const QString& log);

 private:
  Views* views_;
  ViewTabs* tabs_;
  PageTitle* title_;
};

}  // namespace fair_gauge::app
