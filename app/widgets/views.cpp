#include "widgets/views.h"

#include <QPushButton>

#include "widgets/text.h"

namespace fair_gauge::app {

ViewTabs::ViewTabs(const QStringList& names, QWidget* parent) : QWidget(parent), buttons_(new QButtonGroup(this)) {
  auto* all = row(0);  // the tabs have room of their own
  for (int i = 0; i < names.size(); ++i) {
    auto* button = new QPushButton(names[i]);
    button->setCheckable(true);
    button->setAutoExclusive(true);
    button->setProperty("tab", true);
    button->setObjectName(QStringLiteral("view_%1").arg(i));
    button->setShortcut(QKeySequence(Qt::ALT | static_cast<Qt::Key>(Qt::Key_1 + i)));
    button->setToolTip(tr("%1 (Alt+%2)").arg(names[i]).arg(i + 1));
    buttons_->addButton(button, i);
    all->addWidget(button);
  }
  setLayout(all);
  // Not by a click only: a screen reader checks them.
  connect(buttons_, &QButtonGroup::idToggled, this, [this](int view, bool on) {
    if (on) emit chosen(view);
  });
}

void ViewTabs::mark(int view) {
  const QSignalBlocker blocked(buttons_);
  buttons_->button(view)->setChecked(true);
  if (isAncestorOf(window()->focusWidget())) buttons_->button(view)->setFocus();
}

void Views::add(std::function<QWidget*()> build) {
  builds_.push_back(std::move(build));
  addWidget(new QWidget);  // keeps the place
}

QWidget* Views::view(int index) {
  auto& build = builds_[static_cast<std::size_t>(index)];
  if (!build) return widget(index);
  QWidget* made = std::exchange(build, nullptr)();
  QWidget* place = widget(index);
  made->setSizePolicy(QSizePolicy::Ignored, QSizePolicy::Ignored);
  insertWidget(index, made);
  removeWidget(place);
  place->deleteLater();
  return made;
}

void Views::show_view(int index) {
  QWidget* shown = view(index);
  for (int i = 0; i < count(); ++i) {
    const auto policy = i == index ? QSizePolicy::Preferred : QSizePolicy::Ignored;
    widget(i)->setSizePolicy(policy, policy);
  }
  setCurrentWidget(shown);
}

}  // namespace fair_gauge::app

#include "moc_views.cpp"
