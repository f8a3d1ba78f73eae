// What every field and every box of choices does, whichever page it stands on.
#pragma once

#include <QLineEdit>
#include <QObject>
#include <QPointer>

namespace fair_gauge::app {

/// A field that is clicked into, one of a number also where a screen reader gives it the keys, has its text selected as
/// after the Tab key: whoever types then types another value over it. A second click puts the cursor into it, until
/// Enter has settled what was typed. A box of choices, whose name is what is chosen for a screen reader, tells beside
/// it what it is called; a plot is a chart. Undo and redo in a field are the bench's unless something is being typed.
class Habits : public QObject {
  Q_OBJECT
 public:
  explicit Habits(QObject* parent);

 protected:
  bool eventFilter(QObject* object, QEvent* event) override;

 private:
  QPointer<QLineEdit> clicked_into_;  // while the button is down
  QPointer<QLineEdit> settled_;       // by Enter, and not typed into since
};

}  // namespace fair_gauge::app
