#include "shell/habits.h"

#include <QApplication>
#include <QComboBox>
#include <QKeyEvent>

#include "widgets/plot_style.h"
#include "widgets/quantity_field.h"

namespace fair_gauge::app {
namespace {

void describe(QComboBox& box) {
  box.setAccessibleDescription(box.accessibleName());
  if (box.lineEdit() && box.lineEdit()->accessibleName().isEmpty())
    box.lineEdit()->setAccessibleName(box.accessibleName());
}

}  // namespace

Habits::Habits(QObject* parent) : QObject(parent) {
  qApp->installEventFilter(this);
  call_plots_charts();
}

bool Habits::eventFilter(QObject* object, QEvent* event) {
  if (!object->isWidgetType()) return false;  // a mouse's event comes to the window of the screen first
  switch (event->type()) {
    case QEvent::FocusIn:
      // That of a list is entered by the list.
      if (auto* list = qobject_cast<QComboBox*>(object);
          QLineEdit* field = list ? list->lineEdit() : qobject_cast<QLineEdit*>(object)) {
        const Qt::FocusReason reason = static_cast<QFocusEvent*>(event)->reason();
        clicked_into_ = reason == Qt::MouseFocusReason ? field : nullptr;
        if (reason == Qt::OtherFocusReason && qobject_cast<QuantityField*>(field)) field->selectAll();
      }
      break;
    case QEvent::KeyPress: {
      // While words are offered below a field their list has the keys, for the field.
      auto* field = qobject_cast<QLineEdit*>(object);
      if (!field) field = qobject_cast<QLineEdit*>(static_cast<QWidget*>(object)->focusProxy());
      if (!field) break;
      const int key = static_cast<QKeyEvent*>(event)->key();
      settled_ = key == Qt::Key_Return || key == Qt::Key_Enter ? field : nullptr;
      break;
    }
    case QEvent::ShortcutOverride:
      // Undo and redo are the bench's once Enter has settled what was typed, or where nothing was.
      if (const auto* field = qobject_cast<QLineEdit*>(object); field && (settled_ == field || !field->isModified())) {
        const auto* key = static_cast<QKeyEvent*>(event);
        if (!key->matches(QKeySequence::Undo) && !key->matches(QKeySequence::Redo)) break;
        event->ignore();
        return true;
      }
      break;
    case QEvent::MouseButtonPress:
      if (settled_ && settled_ == object) clicked_into_ = settled_;
      settled_.clear();
      break;
    case QEvent::MouseButtonRelease:
      if (clicked_into_ && clicked_into_ == object && !clicked_into_->hasSelectedText()) clicked_into_->selectAll();
      clicked_into_.clear();
      break;
    case QEvent::Show:
      if (auto* box = qobject_cast<QComboBox*>(object); box && box->accessibleDescription().isEmpty()) describe(*box);
      break;
    default: break;
  }
  return false;
}

}  // namespace fair_gauge::app

#include "moc_habits.cpp"
