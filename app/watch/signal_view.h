// What is said of a signal: its figures, beside what the converter explains, and its events in words.
#pragma once

#include <QListWidget>
#include <QPushButton>
#include <QTableWidget>
#include <QWidget>

#include "watch/log_plot.h"
#include "widgets/text.h"

namespace fair_gauge::app {

class SignalView : public QWidget {
  Q_OBJECT
 public:
  SignalView(const Theme& theme, Workbench& workbench, WatchLog& log, LogPlot& plot, QWidget* parent = nullptr);

 signals:
  void mistake_wanted(double raw);

 private:
  void refresh();
  void showEvent(QShowEvent* event) override;

  const Theme& theme_;
  Workbench& workbench_;
  WatchLog& log_;
  LogPlot& plot_;
  Text *verdict_, *events_title_;
  QTableWidget* figures_;
  QListWidget* events_;
  QPushButton* why_;
};

}  // namespace fair_gauge::app
