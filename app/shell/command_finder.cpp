#include "shell/command_finder.h"

#include <QKeyEvent>
#include <QVBoxLayout>

namespace fair_gauge::app {

CommandFinder::CommandFinder(const std::vector<QAction*>& actions, QWidget* parent)
    : QDialog(parent, Qt::Popup), actions_(actions) {
  text_ = new QLineEdit;
  text_->setPlaceholderText(tr("What do you want to do?"));
  text_->installEventFilter(this);
  list_ = new QListWidget;
  list_->setHorizontalScrollBarPolicy(Qt::ScrollBarAlwaysOff);
  list_->setTextElideMode(Qt::ElideRight);
  nothing_ = new QLabel(tr("No command, view, channel or part is called so."));
  nothing_->setWordWrap(true);
  auto* layout = new QVBoxLayout;
  layout->setContentsMargins(12, 12, 12, 12);
  layout->addWidget(text_);
  layout->addWidget(list_);
  layout->addWidget(nothing_, 1, Qt::AlignTop);
  setLayout(layout);
  resize(std::min(640, parent ? parent->width() : 640), 320);
  if (parent) move(parent->mapToGlobal(QPoint((parent->width() - width()) / 2, 60)));
  connect(text_, &QLineEdit::textChanged, this, &CommandFinder::filter);
  connect(text_, &QLineEdit::returnPressed, this, &QDialog::accept);
  connect(list_, &QListWidget::itemClicked, this, &QDialog::accept);
  filter({});
}

void CommandFinder::filter(const QString& text) {
  list_->clear();
  const QStringList words = text.split(QLatin1Char(' '), Qt::SkipEmptyParts);
  const auto is_meant = [&](const QString& name) {
    return std::ranges::all_of(words, [&](const QString& word) { return name.contains(word, Qt::CaseInsensitive); });
  };
  for (QAction* action : actions_) {
    if (!action->isEnabled() || !is_meant(action->text())) continue;
    const QString keys = action->shortcut().toString(QKeySequence::NativeText);
    auto* item = new QListWidgetItem(
        keys.isEmpty() ? action->text() : QStringLiteral("%1    %2").arg(action->text(), keys), list_);
    item->setToolTip(item->text());
    item->setData(Qt::UserRole, QVariant::fromValue(static_cast<QObject*>(action)));
  }
  nothing_->setVisible(list_->count() == 0);
  list_->setVisible(list_->count() > 0);
  // Enter upon nothing typed and nothing chosen does nothing: the first command would begin another bench.
  list_->setCurrentRow(words.isEmpty() ? -1 : 0);
}

bool CommandFinder::eventFilter(QObject* object, QEvent* event) {
  if (event->type() == QEvent::KeyPress) {
    const int key = static_cast<QKeyEvent*>(event)->key();
    const int step = key == Qt::Key_Down ? 1 : key == Qt::Key_Up ? -1 : 0;
    if (step != 0) {
      list_->setCurrentRow(std::clamp(list_->currentRow() + step, 0, std::max(0, list_->count() - 1)));
      return true;
    }
  }
  return QDialog::eventFilter(object, event);
}

QAction* CommandFinder::choose() {
  text_->setFocus();
  if (exec() != Accepted || !list_->currentItem()) return nullptr;
  return qobject_cast<QAction*>(list_->currentItem()->data(Qt::UserRole).value<QObject*>());
}

}  // namespace fair_gauge::app

#include "moc_command_finder.cpp"
