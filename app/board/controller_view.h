// The controller's own registers: which input, which reference, how fast; what follows, and the lines of firmware that
// change only those bits.
#pragma once

#include <QComboBox>
#include <QPushButton>

#include "board/pin_table.h"
#include "parts/controller.h"
#include "shell/workbench.h"
#include "widgets/form.h"
#include "widgets/register_grid.h"

namespace fair_gauge::app {

class ControllerView : public QWidget {
  Q_OBJECT
 public:
  ControllerView(const Theme& theme, Workbench& workbench, QWidget* parent = nullptr);

 protected:
  void showEvent(QShowEvent* event) override;

 private:
  void refresh();
  void compose_anew();
  void keep();
  const Controller* controller() const;

  const Theme& theme_;
  Workbench& workbench_;
  QComboBox* described_;
  QuantityField* clock_;
  Text *title_, *nothing_, *echo_, *figures_, *lines_, *lines_title_, *cautions_;
  QVBoxLayout* findings_;
  RegisterGrid* grid_;
  QPushButton* keep_;
  QWidget* right_;  // what follows: only with a description
  PinTable* pins_;
  std::vector<Controller> controllers_;
  std::string shown_;           // id of the description that the grid has
  std::vector<unsigned> kept_;  // what the bench says of its registers
};

}  // namespace fair_gauge::app
