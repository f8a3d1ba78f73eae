// A box for several lines that a person types or pastes.
#pragma once

#include <QPlainTextEdit>

namespace fair_gauge::app {

/// Takes no paste that could not be laid out while somebody waits, and says so below itself; Tab goes on.
class TextBox : public QPlainTextEdit {
  Q_OBJECT
 public:
  /// \param name   of the object
  /// \param means  what it is for, as a screen reader says it
  /// \param most   characters in all
  TextBox(const char* name, const QString& means, int most, QWidget* parent = nullptr);

 protected:
  void insertFromMimeData(const QMimeData* pasted) override;

 private:
  const int most_;
};

/// Characters of a text that is kept with the bench, and of rows of numbers.
constexpr int most_of_a_note = 30'000, most_of_rows = 100'000;
/// Of one line without a break.
constexpr qsizetype most_of_a_line = 10'000;

}  // namespace fair_gauge::app
