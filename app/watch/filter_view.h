// Filters tried on the same readings: noise against delay, and the one that is enough.
#pragma once

#include <QComboBox>
#include <QPushButton>
#include <QTableWidget>
#include <QWidget>

#include "stream/filters.h"
#include "watch/log_plot.h"
#include "widgets/form.h"

namespace fair_gauge::app {

class FilterView : public QWidget {
  Q_OBJECT
 public:
  FilterView(const Theme& theme, Workbench& workbench, WatchLog& log, LogPlot& plot, QWidget* parent = nullptr);

 private:
  void refresh();
  void try_filter();
  void show_filtered(const Filter& filter, const Filtered& filtered);
  void show_kept();
  void showEvent(QShowEvent* event) override;

  const Theme& theme_;
  Workbench& workbench_;
  WatchLog& log_;
  LogPlot& plot_;
  Text *verdict_, *words_;
  QTableWidget* table_;
  QPushButton* keep_;
  Text* kept_;
  int chosen_ = 1;
  std::string chosen_for_;  // the channel for which a person chose
  Background work_{this};   // millions of rows take longer than a frame
};

}  // namespace fair_gauge::app
