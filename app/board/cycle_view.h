// One cycle of the board as a timeline, what it takes from the battery, and the list of wires to print.
#pragma once

#include <QPushButton>
#include <QTableWidget>
#include <QWidget>

#include "shell/workbench.h"
#include "widgets/form.h"
#include "widgets/timeline.h"
#include "wiring/wiring_list.h"

namespace fair_gauge::app {

class CycleView : public QWidget {
  Q_OBJECT
 public:
  CycleView(const Theme& theme, Workbench& workbench, QWidget* parent = nullptr);

 protected:
  void showEvent(QShowEvent* event) override;

 private:
  void refresh();
  void edit_power(const std::function<void(PowerPlan&)>& change);

  const Theme& theme_;
  Workbench& workbench_;
  Text* summary_;
  Timeline* timeline_;
  QVBoxLayout* findings_;
  QuantityField *battery_, *period_, *awake_, *sleep_;
  QVBoxLayout* charges_;
};

class WiresView : public QWidget {
  Q_OBJECT
 public:
  WiresView(const Theme& theme, Workbench& workbench, QWidget* parent = nullptr);

  /// Writes NAME.pdf, or NAME.csv by its ending. \returns what went wrong, or nothing
  QString write_to(const QString& path);

 protected:
  void showEvent(QShowEvent* event) override;

 private:
  void refresh();

  const Theme& theme_;
  Workbench& workbench_;
  WiringList list_;
  Text* summary_;
  QTableWidget* table_;
  QVBoxLayout* findings_;
  bool filling_ = false;
};

}  // namespace fair_gauge::app
