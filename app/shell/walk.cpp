#include "shell/walk.h"

#include <QSettings>

#include "shell/main_window.h"

namespace fair_gauge::app {
namespace {

struct Step {
  Page page;
  const char* words;
};

// In the order of the work.
constexpr Step steps[] = {
    {Page::home, QT_TRANSLATE_NOOP("Walk",
                                   "Home: every line is a channel, with its value and how much of its allowed error "
                                   "is used.")},
    {Page::choose,
     QT_TRANSLATE_NOOP("Walk", "Choose: say what you need, and every part is judged for it on this bench.")},
    {Page::board,
     QT_TRANSLATE_NOOP("Walk",
                       "Board: what there is on the bench: supplies, controller, buses, parts and their wires.")},
    {Page::wire, QT_TRANSLATE_NOOP("Walk",
                                   "Wire: the strip on top runs from the world to the shown number. Type over any "
                                   "value: everything else follows.")},
    {Page::read, QT_TRANSLATE_NOOP(
                     "Walk", "Read: connect a board, or paste the bytes it sent, and see every step of the formula.")},
    {Page::correct,
     QT_TRANSLATE_NOOP(
         "Walk", "Correct: compare with a reference, fit a correction, and see where the remaining error comes from.")},
    {Page::watch, QT_TRANSLATE_NOOP("Walk",
                                    "Watch: record the readings, see what is wrong with a signal, and try filters and "
                                    "switching on them.")},
    {Page::handoff,
     QT_TRANSLATE_NOOP("Walk",
                       "Hand over: the same arithmetic as firmware, in whole numbers, run over every raw number before "
                       "you take it.")},
    {Page::logbook,
     QT_TRANSLATE_NOOP("Walk", "Logbook: what was done stays written. Ctrl+K finds every command. That is all.")},
};

}  // namespace

Walk::Walk(const Theme& theme, QWidget* parent) : QWidget(parent) {
  setObjectName(QStringLiteral("banner"));
  setAttribute(Qt::WA_StyledBackground);
  words_ = new Text(theme, Face::text);
  words_->setObjectName(QStringLiteral("walk_words"));
  words_->setWordWrap(true);
  next_ = new QPushButton;
  next_->setObjectName(QStringLiteral("walk_next"));
  next_->setProperty("primary", true);
  auto* close = new QPushButton(tr("Leave the walk"));
  close->setObjectName(QStringLiteral("walk_close"));
  auto* all = row(8);
  all->setContentsMargins(16, 8, 16, 8);
  all->addWidget(words_, 1);
  all->addWidget(next_);
  all->addWidget(close);
  setLayout(all);
  connect(next_, &QPushButton::clicked, this, [this] {
    if (step_ < 0) emit demonstration_wanted();
    if (++step_ < static_cast<int>(std::size(steps)))
      show_step();
    else
      end();
  });
  connect(close, &QPushButton::clicked, this, &Walk::end);
  hide();
}

bool Walk::was_walked() { return QSettings().value(QStringLiteral("walked")).toBool(); }

void Walk::start(bool on_channels) {
  step_ = on_channels ? 0 : -1;
  show();
  show_step();
}

void Walk::show_step() {
  if (step_ < 0) {
    words_->setText(tr("New here? A walk of a minute shows every page on the demonstration, a made-up mushroom shed."));
    next_->setText(tr("Open it and begin"));
    return;
  }
  words_->setText(tr(steps[step_].words));
  next_->setText(step_ + 1 < static_cast<int>(std::size(steps))
                     ? tr("Next (%1 of %2)").arg(step_ + 1).arg(std::size(steps))
                     : tr("Done"));
  emit page_wanted(steps[step_].page);
}

void Walk::end() {
  QSettings().setValue(QStringLiteral("walked"), true);
  hide();
}

}  // namespace fair_gauge::app

#include "moc_walk.cpp"
