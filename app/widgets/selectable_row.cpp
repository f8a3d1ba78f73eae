#include "widgets/selectable_row.h"

#include <QAccessibleWidget>
#include <QKeyEvent>
#include <QLayout>
#include <QPainter>
#include <utility>

namespace fair_gauge::app {
namespace {

// What a screen reader is told of it.
class Spoken : public QAccessibleWidget {
 public:
  explicit Spoken(SelectableRow* row) : QAccessibleWidget(row, QAccessible::ListItem), row_(row) {}
  QAccessible::State state() const override {
    QAccessible::State state = QAccessibleWidget::state();
    state.selectable = true;
    state.selected = row_->is_chosen();
    return state;
  }
  QStringList actionNames() const override { return {pressAction(), setFocusAction()}; }
  void doAction(const QString& action) override {
    if (action == pressAction())
      emit row_->chosen();
    else
      QAccessibleWidget::doAction(action);
  }

 private:
  SelectableRow* row_;
};

QAccessibleInterface* spoken(const QString&, QObject* object) {
  auto* row = qobject_cast<SelectableRow*>(object);
  return row ? new Spoken(row) : nullptr;
}

}  // namespace

SelectableRow::SelectableRow(const Theme& theme, QWidget* parent) : QWidget(parent), theme_(theme) {
  static const bool installed = (QAccessible::installFactory(spoken), true);
  Q_UNUSED(installed)
  setFocusPolicy(Qt::StrongFocus);
  setCursor(Qt::PointingHandCursor);
  connect(&theme, &Theme::changed, this, [this] { update(); });
}

void SelectableRow::mark(bool chosen) {
  if (std::exchange(is_chosen_, chosen) == chosen) return;
  update();
  QAccessible::State changed;
  changed.selected = true;
  QAccessibleStateChangeEvent event(this, changed);
  QAccessible::updateAccessibility(&event);
}

void SelectableRow::paintEvent(QPaintEvent*) {
  QPainter painter(this);
  const Colours& colours = theme_.colours();
  if (is_chosen_) {
    painter.fillRect(rect(), colours.sheet);
    painter.fillRect(QRect(0, 0, 4, height()), colours.accent);
  }
  const int inset = layout() ? layout()->contentsMargins().left() : 0;
  painter.setPen(colours.rule);
  painter.drawLine(inset, height() - 1, width() - inset, height() - 1);
  if (!hasFocus()) return;
  painter.setPen(QPen(colours.accent, 1, Qt::DotLine));
  painter.drawRect(rect().adjusted(4, 2, -4, -4));
}

void SelectableRow::mousePressEvent(QMouseEvent*) { emit chosen(); }

void SelectableRow::keyPressEvent(QKeyEvent* event) {
  if (event->key() == Qt::Key_Return || event->key() == Qt::Key_Space)
    emit chosen();
  else
    QWidget::keyPressEvent(event);
}

}  // namespace fair_gauge::app

#include "moc_selectable_row.cpp"
