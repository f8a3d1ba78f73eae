// A field that takes a quantity as people write it (4k7, 3V3, 72 F, 11,4) and echoes how it was understood.
#pragma once

#include <QLineEdit>
#include <functional>

#include "quantity/quantity_text.h"
#include "widgets/theme.h"

namespace fair_gauge::app {

class QuantityField : public QLineEdit {
  Q_OBJECT
 public:
  QuantityField(const Theme& theme, Dimension dimension, QWidget* parent = nullptr);

  /// The unit meant when none is written, and in which values are shown.
  void set_unit(const Unit& unit) { unit_ = &unit; }
  /// Another quantity, in its base unit.
  void set_dimension(Dimension dimension) {
    dimension_ = dimension;
    unit_ = &base_unit(dimension);
  }
  /// Reads texts in its own way instead, as of bytes.
  void set_reader(std::function<Result<double>(const std::string&)> reader) { reader_ = std::move(reader); }
  /// A value that need not be: emptied, it is forgotten. \param placeholder  what stands there then
  void set_emptied(const QString& placeholder, std::function<void()> emptied);
  /// Shows a value; one that is not a number as an empty field. A field that has the focus belongs to the person: its
  /// text, selection and cursor stay as they are, and it shows the latest value when it is left. \param text  as it
  /// should read while not edited
  void show_value(double base, const QString& text);
  /// Shows the latest value also while it has the focus, because the person asked for it (Enter, Esc, undo).
  void take_shown();
  /// Shows that there is no value, and why.
  void show_problem(const Problem& problem);
  /// How the last text was understood, or why it was not: "= 4.7 kΩ".
  QString echo() const { return echo_; }
  bool is_faulty() const { return faulty_; }
  /// Something was typed that is not settled yet.
  bool is_typing() const { return typing_; }

 signals:
  /// While typing, whenever the text is a quantity.
  void value_typed(double base);
  /// On Enter or when the focus leaves, if the text was changed and is a quantity.
  void value_given(double base);
  /// Esc: what was typed is gone, the latest value stands again.
  void typing_dropped();
  void echo_changed(const QString& echo, bool faulty);

 protected:
  bool event(QEvent* event) override;
  void keyPressEvent(QKeyEvent* event) override;
  void focusOutEvent(QFocusEvent* event) override;
  void contextMenuEvent(QContextMenuEvent* event) override;

 private:
  Result<double> read(const QString& text) const;
  void understand(const QString& text);
  void settle();
  void mark(bool faulty, const QString& echo);
  void show_text(const QString& text, const QString& reason);

  Dimension dimension_;
  std::function<Result<double>(const std::string&)> reader_;
  std::function<void()> emptied_;  // may be empty
  const Unit* unit_;
  QString shown_;
  QString echo_;
  QString reason_;  // why there is no value; empty → there is one
  bool typing_ = false;
  bool faulty_ = false;
};

}  // namespace fair_gauge::app
