// One cycle of the board as a timeline, and what it takes from the battery.
#pragma once

#include <QWidget>

#include "shell/workbench.h"
#include "widgets/form.h"
#include "widgets/timeline.h"

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

}  // namespace fair_gauge::app
