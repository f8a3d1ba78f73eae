// Registers to be composed: each with its value in hexadecimal digits, and below it a choice for each of its fields.
#pragma once

#include <QComboBox>
#include <QGridLayout>
#include <QLineEdit>
#include <QWidget>
#include <functional>
#include <map>
#include <string>
#include <vector>

#include "parts/byte_layout.h"
#include "widgets/theme.h"

namespace fair_gauge::app {

class RegisterGrid : public QWidget {
  Q_OBJECT
 public:
  /// \param name  objects are called by it: NAME_0 the first register's digits, NAME_0_1 the choice of its second field
  RegisterGrid(const Theme& theme, QString name, QWidget* parent = nullptr);

  /// Builds the rows anew. \param values  one a register
  void show_registers(const std::vector<PartRegister>& registers, const std::vector<unsigned>& values);
  const std::vector<PartRegister>& registers() const { return registers_; }
  /// As they are composed now.
  const std::vector<unsigned>& values() const { return values_; }
  /// Those of them that are another value than after power-on, by address: what a bench keeps.
  std::map<std::string, double> changed_values() const;
  /// Says beside each choice what would follow from it. \param words  of the values with that choice
  void tell_choices(const std::function<QString(const std::vector<unsigned>& values)>& words);

 signals:
  void changed();
  /// Digits that were typed are no value: why. Empty → they are.
  void refused(const QString& why);

 private:
  void add_field(std::size_t reg, std::size_t field, int line);
  void show_values();

  const Theme& theme_;
  QString name_;
  QGridLayout* grid_;
  std::vector<PartRegister> registers_;
  std::vector<unsigned> values_;
  std::vector<QLineEdit*> digits_;
  std::vector<std::vector<QComboBox*>> choices_;
};

}  // namespace fair_gauge::app
