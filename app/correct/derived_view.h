// Correct → Derived: what follows from readings together.
#pragma once

#include <QCheckBox>
#include <QComboBox>
#include <QPushButton>
#include <QTableWidget>

#include "formulas/derived_quantity.h"
#include "shell/workbench.h"
#include "truth/derived.h"
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
  struct Line {
    std::string id;
    QStringList cells;
    bool is_quiet;  ///< it has no value, and says why
  };
  void list_channels();
  void refresh();
  void show_lines(const std::vector<Line>& lines);
  /// Nothing where an input has neither a reading nor a budget, or both boxes name one channel.
  std::optional<Line> line_of(const DerivedQuantity& quantity, const std::vector<QComboBox*>& boxes,
                              QStringList& assumed) const;
  Result<Derived> worked_out(const DerivedQuantity& quantity, const std::vector<QComboBox*>& boxes,
                             const std::vector<DerivedInput>& inputs) const;
  /// What a channel reads, base units; while none has come the middle of its wanted range, its name among the assumed.
  std::optional<double> value_of(const std::string& channel, QStringList& assumed) const;
  std::vector<QComboBox*> boxes_of(const DerivedQuantity& quantity) const;
  QLayout* formula_row();
  QLayout* end_row();
  /// What takes the place of the second input where no channel of the box does, base units.
  std::optional<double> number_for(const DerivedQuantity& quantity, const std::vector<QComboBox*>& boxes) const;
  bool is_at_rest(const DerivedQuantity& quantity, const std::vector<QComboBox*>& boxes) const;
  struct Mean {
    double value = 0;
    int readings = 0;
  };
  /// Of a channel's last half minute.
  Mean mean_now(const std::string& channel) const;
  void take_rest();
  void take_zero();
  DerivedFrom choice_of(const DerivedQuantity& quantity) const;
  /// How far what is held against its own rest may be off at a value, one standard uncertainty.
  std::optional<double> off_at(const DerivedQuantity& quantity, double value) const;
  DerivedFrom own_formula() const;
  void keep();

  const Theme& theme_;
  Workbench& workbench_;
  QComboBox *temperature_, *second_temperature_, *humidity_, *pressure_, *second_, *light_;
  QuantityField *height_, *other_pressure_, *light_hours_;
  double height_m_ = 0, other_pascal_ = 101'325, light_s_ = 12 * 3600;
  int at_rest_ = 0;  // readings of which other_pascal_ is the mean
  QPushButton* zero_;
  QCheckBox* shared_;
  QComboBox *a_, *b_, *formula_is_;
  QLineEdit* formula_;
  Text *head_, *formula_wrong_;
  QTableWidget* table_;
  QPushButton* keep_;
  Text* kept_;
  bool nothing_follows_ = false;
  std::vector<std::string> rows_;  // ids of what stands in the table
};

}  // namespace fair_gauge::app
