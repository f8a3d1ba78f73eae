// Correct → Derived: what follows from readings together.
#pragma once

#include <QCheckBox>
#include <QComboBox>
#include <QPushButton>
#include <QTableWidget>

#include "formulas/derived_quantity.h"
#include "shell/workbench.h"
#include "widgets/quantity_field.h"
#include "widgets/text.h"

namespace fair_gauge::app {

/// What follows from readings together: dew point, deficit, gauge pressure, with the uncertainty carried over; each can
/// be kept as a channel.
class DerivedView : public QWidget {
  Q_OBJECT
 public:
  DerivedView(const Theme& theme, Workbench& workbench, QWidget* parent = nullptr);

 protected:
  void showEvent(QShowEvent* event) override;

 private:
  void list_channels();
  void refresh();
  std::vector<QComboBox*> boxes_of(const DerivedQuantity& quantity) const;
  QLayout* formula_row();
  DerivedFrom own_formula() const;
  void keep();

  const Theme& theme_;
  Workbench& workbench_;
  QComboBox *temperature_, *second_temperature_, *humidity_, *pressure_, *second_;
  QuantityField* height_;
  double height_m_ = 0;
  QCheckBox* shared_;
  QComboBox *a_, *b_, *formula_is_;
  QLineEdit* formula_;
  Text* formula_wrong_;
  QTableWidget* table_;
  QPushButton* keep_;
  Text* kept_;
  bool nothing_follows_ = false;
  std::vector<std::string> rows_;  // ids of what stands in the table
};

}  // namespace fair_gauge::app
