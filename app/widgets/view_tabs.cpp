#include "widgets/view_tabs.h"

#include <QPushButton>

#include "widgets/text.h"

namespace fair_gauge::app {

ViewTabs::ViewTabs(const QStringList& names, QWidget* parent) : QWidget(parent), buttons_(new QButtonGroup(this)) {
  auto* all = row(4);
  for (int i = 0; i < names.size(); ++i) {
    auto* button = new QPushButton(names[i]);
    button->setCheckable(true);
    button->setProperty("tab", true);
    button->setObjectName(QStringLiteral("view_%1").arg(i));
    button->setShortcut(QKeySequence(Qt::ALT | static_cast<Qt::Key>(Qt::Key_1 + i)));
    button->setToolTip(tr("%1 (Alt+%2)").arg(names[i]).arg(i + 1));
    buttons_->addButton(button, i);
    all->addWidget(button);
  }
  setLayout(all);
  connect(buttons_, &QButtonGroup::idClicked, this, &ViewTabs::chosen);
}

void show_only(QStackedWidget& stack, int index) {
  stack.setCurrentIndex(index);
  for (int i = 0; i < stack.count(); ++i) {
    const auto policy = i == index ? QSizePolicy::Preferred : QSizePolicy::Ignored;
    stack.widget(i)->setSizePolicy(policy, policy);
  }
}

}  // namespace fair_gauge::app
