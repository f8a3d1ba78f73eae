// The error budget in full: every source with its sensitivity, the same over the range, and a million specimens beside
// it.
#pragma once

#include <QProgressBar>
#include <QPushButton>
#include <QTableWidget>
#include <QWidget>

#include "shell/workbench.h"
#include "truth/monte_carlo.h"
#include "widgets/background.h"
#include "widgets/form.h"

class QCustomPlot;

namespace fair_gauge::app {

class BudgetView : public QWidget {
  Q_OBJECT
 public:
  BudgetView(const Theme& theme, Workbench& workbench, QWidget* parent = nullptr);
  bool is_running() const { return background_.is_running(); }

 protected:
  void showEvent(QShowEvent* event) override;

 private:
  QLayout* build_doubts();
  void refresh();
  void show_sources(const Budget& budget);
  void show_doubts();
  void draw_range(const ChannelView& view);
  void run();
  void show_spread(const Result<MonteCarlo>& spread);

  const Theme& theme_;
  Workbench& workbench_;
  QTableWidget* table_;
  Text* summary_;
  QCustomPlot* range_plot_;
  QCustomPlot* histogram_;
  QPushButton* run_;
  QProgressBar* progress_;
  Text* spread_words_;
  QComboBox* doubt_kind_;
  QuantityField* doubt_width_;
  QVBoxLayout* contributions_;
  Background background_;
  std::optional<Budget> of_run_;
  std::string channel_;
};

}  // namespace fair_gauge::app
