#include "widgets/kept_typing.h"

#include <QApplication>
#include <QComboBox>
#include <QEvent>
#include <QLineEdit>
#include <QPlainTextEdit>
#include <QPointer>
#include <QTableWidget>
#include <QTimer>

#include "widgets/quantity_field.h"

namespace fair_gauge::app {
namespace {

constexpr const char* mark = "holds_work";

QStringList cells_of(const QTableWidget& table) {
  QStringList cells;
  for (int row = 0; row < table.rowCount(); ++row)
    for (int column = 0; column < table.columnCount(); ++column) {
      const QTableWidgetItem* item = table.item(row, column);
      cells.append(item ? item->text() : QString());
    }
  return cells;
}

// Empty where nothing of the user's stands in it.
QStringList typed_into(const QWidget& widget) {
  if (const auto* field = qobject_cast<const QuantityField*>(&widget))
    return field->is_typing() ? QStringList{field->text()} : QStringList();
  if (const auto* line = qobject_cast<const QLineEdit*>(&widget))
    return line->isModified() && !line->isReadOnly() ? QStringList{line->text()} : QStringList();
  if (const auto* text = qobject_cast<const QPlainTextEdit*>(&widget))
    return text->document()->isModified() && !text->isReadOnly() ? QStringList{text->toPlainText()} : QStringList();
  if (!widget.property(mark).toBool()) return {};
  if (const auto* table = qobject_cast<const QTableWidget*>(&widget)) return cells_of(*table);
  if (const auto* box = qobject_cast<const QComboBox*>(&widget)) return {QString::number(box->currentIndex())};
  return {};
}

void type_into(QWidget& widget, const QStringList& kept) {
  if (auto* line = qobject_cast<QLineEdit*>(&widget)) {
    line->selectAll();
    line->insert(kept.front());
  } else if (auto* text = qobject_cast<QPlainTextEdit*>(&widget)) {
    text->setPlainText(kept.front());
    text->document()->setModified();
  } else if (auto* table = qobject_cast<QTableWidget*>(&widget)) {
    for (int i = 0; i < kept.size() && i < table->rowCount() * table->columnCount(); ++i)
      table->setItem(i / table->columnCount(), i % table->columnCount(), new QTableWidgetItem(kept[i]));
  } else if (auto* box = qobject_cast<QComboBox*>(&widget)) {
    box->setCurrentIndex(kept.front().toInt());
    emit box->activated(box->currentIndex());
  }
}

}  // namespace

void keep_choice(QWidget& widget) { widget.setProperty(mark, true); }

void KeptTyping::take(const QWidget& pages) {
  for (const QWidget* widget : pages.findChildren<QWidget*>())
    if (const QStringList typed = typed_into(*widget); !typed.isEmpty() && !widget->objectName().isEmpty())
      kept_[widget->objectName()] = typed;
  if (!kept_.empty()) qApp->installEventFilter(this);
}

bool KeptTyping::eventFilter(QObject* watched, QEvent* event) {
  // Once all of its view is there: a choice decides what a text beside it means.
  if (event->type() == QEvent::Polish && kept_.contains(watched->objectName()))
    if (auto* widget = qobject_cast<QWidget*>(watched))
      QTimer::singleShot(0, widget, [this, widget] { give_back(*widget->window()); });
  return QObject::eventFilter(watched, event);
}

void KeptTyping::give_back(QWidget& window) {
  for (const bool choices : {true, false}) {
    QList<QPointer<QWidget>> all;  // what is given back may make others anew
    for (QWidget* each : window.findChildren<QWidget*>()) all.append(each);
    for (const QPointer<QWidget>& widget : all) {
      if (!widget) continue;
      const auto kept = kept_.find(widget->objectName());
      if (kept == kept_.end() || !widget->testAttribute(Qt::WA_WState_Polished)) continue;
      if (choices != (qobject_cast<QComboBox*>(widget.data()) != nullptr)) continue;
      const QStringList typed = kept->second;
      kept_.erase(kept);
      type_into(*widget, typed);
    }
  }
  if (kept_.empty()) qApp->removeEventFilter(this);
}

}  // namespace fair_gauge::app

#include "moc_kept_typing.cpp"
