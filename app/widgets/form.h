// Rows of a label and an editor, as every page has them: quantities, choices, words. The echo of what was typed stands
// below.
#pragma once

#include <QComboBox>
#include <QGridLayout>
#include <QWidget>
#include <functional>

#include "widgets/quantity_field.h"
#include "widgets/text.h"

namespace fair_gauge::app {

/// A combo box in the program's look.
QComboBox* choice_box(const QStringList& choices, const char* name, const QString& means);

class Form : public QWidget {
  Q_OBJECT
 public:
  explicit Form(const Theme& theme, QWidget* parent = nullptr);

  /// \param name   for tests and screen readers' tools; the label is the accessible name
  /// \param given  takes the value in base units once it is settled
  QuantityField* add_quantity(const QString& label, const QString& why, Dimension dimension, const char* name,
                              std::function<void(double)> given);
  QComboBox* add_choice(const QString& label, const QString& why, const QStringList& choices, const char* name,
                        std::function<void(int)> chosen);
  QLineEdit* add_words(const QString& label, const QString& why, const char* name,
                       std::function<void(const QString&)> given);
  void add_heading(const QString& words);
  /// A widget over both columns.
  void add_wide(QWidget* widget);

 private:
  void add_row(const QString& label, const QString& why, const char* name, QWidget* editor);

  const Theme& theme_;
  QGridLayout* grid_;
  Text* echo_;
  int rows_ = 0;
};

}  // namespace fair_gauge::app
