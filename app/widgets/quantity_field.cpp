#include "widgets/quantity_field.h"

#include <QApplication>
#include <QClipboard>
#include <QContextMenuEvent>
#include <QKeyEvent>
#include <QLocale>
#include <QMenu>
#include <QRegularExpression>
#include <QStyle>
#include <QToolTip>
#include <cmath>

#include "widgets/text.h"

namespace fair_gauge::app {

QuantityField::QuantityField(const Theme&, Dimension dimension, QWidget* parent)
    : QLineEdit(parent), dimension_(dimension), unit_(&base_unit(dimension)) {
  connect(this, &QLineEdit::textEdited, this, [this](const QString& text) {
    typing_ = true;
    understand(text);
  });
}

void QuantityField::set_emptied(const QString& placeholder, std::function<void()> emptied) {
  setPlaceholderText(placeholder);
  emptied_ = std::move(emptied);
}

void QuantityField::show_value(double base, const QString& text) { show_text(std::isnan(base) ? QString() : text, {}); }

void QuantityField::show_problem(const Problem& problem) { show_text(QStringLiteral("–"), text_of(to_text(problem))); }

void QuantityField::show_text(const QString& text, const QString& reason) {
  shown_ = text;
  if (!typing_ && reason != reason_) setToolTip(in_own_marks(reason));
  reason_ = reason;
  if (!typing_ && !hasFocus()) take_shown();
}

void QuantityField::take_shown() {
  typing_ = false;
  if (text() != shown_) setText(shown_);
  mark(false, {});
  if (hasFocus()) selectAll();
}

Result<double> QuantityField::read(const QString& text) const {
  if (reader_) return reader_(text.toStdString());
  const auto quantity = parse_quantity(text.toStdString(), dimension_, unit_);
  return quantity ? Result<double>(quantity->base) : quantity.problem();
}

void QuantityField::understand(const QString& text) {
  if (emptied_ && text.trimmed().isEmpty()) return mark(false, {});
  const auto base = read(text);
  if (!base)
    return mark(true, tr("%1; expected %2").arg(text_of(base.problem().wrong), text_of(base.problem().expected)));
  QString echo = QStringLiteral("= ") + text_of(with_prefix(unit_->from_base(*base), unit_->symbol, 6));
  // A mark that parts thousands where the other one is the decimal mark of the window.
  const bool is_comma_foreign = QLocale().decimalPoint() == QLatin1String(".");
  static const QRegularExpression with_comma(QStringLiteral("^[^.,]*[1-9]\\d{0,2},\\d{3}(?![\\d.,])")),
      with_point(QStringLiteral("^[^.,]*[1-9]\\d{0,2}\\.\\d{3}(?![\\d.,])"));
  const bool is_doubtful = (is_comma_foreign ? with_comma : with_point).match(text).hasMatch();
  if (is_doubtful)
    echo = (is_comma_foreign ? tr("%1: a comma is a decimal mark") : tr("%1: a point is a decimal mark")).arg(echo);
  mark(false, echo);
  if (is_doubtful && hasFocus()) QToolTip::showText(mapToGlobal(QPoint(0, height())), echo, this);
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
  setToolTip(in_own_marks(echo.isEmpty() ? reason_ : echo));
  if (!faulty) QToolTip::hideText();  // what was wrong is so no longer
  if (faulty && hasFocus()) QToolTip::showText(mapToGlobal(QPoint(0, height())), echo, this);
  emit echo_changed(echo, faulty);
}

// What was typed stays as typed while it is not understood: nothing is thrown away.
void QuantityField::settle() {
  if (!typing_) return;
  if (emptied_ && text().trimmed().isEmpty()) {
    typing_ = false;
    mark(false, {});
    return emptied_();
  }
  const auto base = read(text());
  if (!base) return;
  typing_ = false;
  mark(false, {});
  emit value_given(*base);
}

void QuantityField::keyPressEvent(QKeyEvent* event) {
  if (event->key() == Qt::Key_Return || event->key() == Qt::Key_Enter) {
    settle();
    if (!typing_) take_shown();
    return;
  }
  if (event->key() == Qt::Key_Escape) {
    const bool was_typing = typing_;
    take_shown();
    if (was_typing) emit typing_dropped();
    event->ignore();  // the strip goes back to the live reading by the same key
    return;
  }
  QLineEdit::keyPressEvent(event);
}

// Undo and redo belong to the bench until something is typed here.
bool QuantityField::event(QEvent* event) {
  if (event->type() == QEvent::ShortcutOverride && !typing_) {
    const auto* key = static_cast<QKeyEvent*>(event);
    if (key->matches(QKeySequence::Undo) || key->matches(QKeySequence::Redo)) {
      event->ignore();
      return false;
    }
  }
  return QLineEdit::event(event);
}

void QuantityField::focusOutEvent(QFocusEvent* event) {
  settle();
  QLineEdit::focusOutEvent(event);
  if (!typing_ && event->reason() != Qt::PopupFocusReason) take_shown();
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

#include "moc_quantity_field.cpp"
