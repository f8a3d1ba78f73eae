// What a person holds of a part instead of its sheet: accuracy, range and supply, and where that comes from.
#pragma once

#include <QPushButton>

#include "shell/workbench.h"
#include "widgets/form.h"

namespace fair_gauge::app {

class OwnFiguresForm : public QWidget {
  Q_OBJECT
 public:
  OwnFiguresForm(const Theme& theme, Workbench& workbench, QWidget* parent = nullptr);

  /// \param part  of the catalogue as this bench has it
  void show_part(const Part& part, Quantity quantity);

 private:
  void edit(const std::function<void(OwnPart&, OwnFigure&)>& change);
  OwnPart own() const;
  OwnFigure figure() const;

  Workbench& workbench_;
  std::string part_;
  Quantity quantity_ = Quantity::temperature;
  Range sheet_;  // its range as it counts now
  QuantityField *accuracy_, *from_, *to_, *supply_from_, *supply_to_;
  QLineEdit* note_;
  QPushButton* back_;
  Text* said_;  // why a figure was not taken
};

}  // namespace fair_gauge::app
