// The words of the trade where they stand in the window: what a label, a heading or a cell means, told by the mouse
// that rests on it, or by a key.
#pragma once

#include <QObject>
#include <QString>
#include <vector>

class QWidget;

namespace fair_gauge::app {

/// The manual's page of words, read once.
class Glossary {
 public:
  struct Term {
    QString word;   ///< as the page has it
    QString means;  ///< without markup
  };
  /// \param page  markdown: a table of **word** and meaning
  explicit Glossary(const QString& page);

  /// The term that a text names, the longest of several; null → none. Whole words, with or without a plural's s.
  const Term* in(const QString& text) const;
  /// Where a text uses a term.
  struct Use {
    qsizetype from, length;
    const Term* term;
  };
  /// All of them, none over another; of those that begin at one place the longest. In the text's order.
  std::vector<Use> uses(const QString& text) const;
  const std::vector<Term>& terms() const { return terms_; }

 private:
  struct Form {
    QString words;  // lower case
    std::size_t term;
  };
  std::vector<Term> terms_;
  std::vector<Form> forms_;  // the longest first
};

/// Of the manual that belongs to this program, in the language in use; read when it is first asked for.
const Glossary& glossary();

/// Tells it for every widget of the program that has no words of its own for a resting mouse.
class GlossaryTips : public QObject {
  Q_OBJECT
 public:
  explicit GlossaryTips(QObject* parent);
  /// What stands on a widget: of a label or button its text, of a field its name. \param at  where, in a list or table
  static QString words_on(const QWidget& widget, const QPoint& at);

 private:
  bool eventFilter(QObject* object, QEvent* event) override;
};

}  // namespace fair_gauge::app
