#include "widgets/quantity_field.h"

#include <QApplication>
#include <QClipboard>
#include <QContextMenuEvent>
#include <QKeyEvent>
#include <QMenu>
#include <QStyle>
#include <QToolTip>

#include "widgets/text.h"

namespace fair_gauge::app {

QuantityField::QuantityField(const Theme&, Dimension dimension, QWidget* parent)
    : QLineEdit(parent), dimension_(dimension), unit_(&base_unit(dimension)) {
  connect(this, &QLineEdit::textEdited, this, [this](const QString& text) {
    typing_ = true;
    understand(text);
  });
}

void QuantityField::show_value(double, const QString& text) {
  shown_ = text;
  if (typing_) return;
  setText(text);
  mark(false, {});
}

void QuantityField::show_problem(const Problem& problem) {
  shown_ = QStringLiteral("–");
  if (typing_) return;
  setText(shown_);
  mark(false, {});
  setToolTip(text_of(to_text(problem)));
}

Result<double> QuantityField::read(const QString& text) const {
  if (reader_) return reader_(text.toStdString());
  const auto quantity = parse_quantity(text.toStdString(), dimension_, unit_);
  return quantity ? Result<double>(quantity->base) : quantity.problem();
}

void QuantityField::understand(const QString& text) {
  const auto base = read(text);
  if (!base)
    return mark(true, tr("%1; expected %2").arg(text_of(base.problem().wrong), text_of(base.problem().expected)));
  mark(false, QStringLiteral("= ") + text_of(with_prefix(unit_->from_base(*base), unit_->symbol, 6)));
  emit value_typed(*base);
}

void QuantityField::mark(bool faulty, const QString& echo) {
  if (faulty != faulty_) {
    faulty_ = faulty;
    setProperty("faulty", faulty);
    style()->unpolish(this);
    style()->polish(this);
  }
  if (echo == echo_) return;
  echo_ = echo;
  setToolTip(echo);
  if (faulty && hasFocus()) QToolTip::showText(mapToGlobal(QPoint(0, height())), echo, this);
  emit echo_changed(echo, faulty);
}

// What was typed stays as typed while it is not understood: nothing is thrown away.
void QuantityField::settle() {
  if (!typing_) return;
  const auto base = read(text());
  if (!base) return;
  typing_ = false;
  mark(false, {});
  emit value_given(*base);
}

void QuantityField::keyPressEvent(QKeyEvent* event) {
  if (event->key() == Qt::Key_Return || event->key() == Qt::Key_Enter) {
    settle();
    if (!faulty_) selectAll();
    return;
  }
  if (event->key() == Qt::Key_Escape && typing_) {
    typing_ = false;
    setText(shown_);
    mark(false, {});
    event->ignore();  // the strip goes back to the live reading by the same key
    return;
  }
  QLineEdit::keyPressEvent(event);
}

void QuantityField::focusOutEvent(QFocusEvent* event) {
  settle();
  QLineEdit::focusOutEvent(event);
}

void QuantityField::contextMenuEvent(QContextMenuEvent* event) {
  QMenu* menu = createStandardContextMenu();
  menu->addSeparator();
  menu->addAction(tr("Copy with unit"), this, [this] {
    const QString symbol = text_of(unit_->symbol);
    QApplication::clipboard()->setText(
        symbol.isEmpty() || text().endsWith(symbol) ? text() : text() + QLatin1Char(' ') + symbol);
  });
  menu->exec(event->globalPos());
  delete menu;
}

}  // namespace fair_gauge::app
