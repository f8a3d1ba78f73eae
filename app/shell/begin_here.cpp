#include "shell/begin_here.h"

#include <algorithm>

#include "shell/main_window.h"

namespace fair_gauge::app {
namespace {

struct Purpose {
  Page page;
  const char *title, *words;
};

constexpr Purpose purposes[] = {
    {Page::wire, QT_TRANSLATE_NOOP("BeginHere", "Nothing is wired yet"),
     QT_TRANSLATE_NOOP("BeginHere",
                       "Here stands one channel, from the world to the shown number: its curve, its circuit, and what "
                       "every stage of it is set to.")},
    {Page::correct, QT_TRANSLATE_NOOP("BeginHere", "Nothing to correct yet"),
     QT_TRANSLATE_NOOP(
         "BeginHere",
         "Here a channel is compared with a reference, and its error is taken apart into what causes it.")},
    {Page::handoff, QT_TRANSLATE_NOOP("BeginHere", "Nothing to hand over yet"),
     QT_TRANSLATE_NOOP("BeginHere",
                       "Here a channel's arithmetic becomes firmware in whole numbers, run over every raw number "
                       "before you take it.")},
};

const Purpose* purpose_of(Page page) {
  const auto* found = std::ranges::find(purposes, page, &Purpose::page);
  return found == std::end(purposes) ? nullptr : found;
}

}  // namespace

bool BeginHere::is_for(Page page) { return purpose_of(page) != nullptr; }

BeginHere::BeginHere(const Theme& theme, QWidget* parent) : QWidget(parent), theme_(theme) {
  setObjectName(QStringLiteral("begin_here"));
  title_ = new Text(theme, Face::title);
  title_->setObjectName(QStringLiteral("begin_title"));
  words_ = new Text(theme, Face::text, {}, Tint::quiet);
  how_ = new Text(theme, Face::text);
  answer_ = new Text(theme, Face::text);
  answer_->setObjectName(QStringLiteral("begin_answer"));
  for (Text* each : {title_, words_, how_, answer_}) each->setWordWrap(true);
  answering_ = column(2);
  const auto button = [](const char* name, const QString& words) {
    auto* made = new QPushButton(words);
    made->setObjectName(QLatin1String(name));
    return made;
  };
  const std::pair<QPushButton*, Page> ways[] = {{button("begin_board", tr("Put a part on the bench")), Page::board},
                                                {button("begin_choose", tr("Choose a sensor")), Page::choose},
                                                {button("begin_read", tr("Listen to a board")), Page::read}};
  ways[0].first->setProperty("primary", true);
  setFocusProxy(ways[0].first);
  auto* buttons = row(8);
  // At large text they do not stand beside each other.
  const auto arrange = [buttons, &theme] {
    buttons->setDirection(theme.text_scale() > 1.2 ? QBoxLayout::TopToBottom : QBoxLayout::LeftToRight);
  };
  arrange();
  connect(&theme, &Theme::changed, this, arrange);
  for (const auto& [way, page] : ways) {
    connect(way, &QPushButton::clicked, this, [this, to = page] { emit page_wanted(to); });
    buttons->addWidget(way);
  }
  buttons->addStretch();
  listen_ = ways[2].first;
  demonstration_ = new QPushButton(tr("Open the demonstration"));
  demonstration_->setObjectName(QStringLiteral("begin_demonstration"));
  demonstration_->setProperty("quiet", true);
  connect(demonstration_, &QPushButton::clicked, this, &BeginHere::demonstration_wanted);
  auto* inside = column(12);
  inside->addWidget(title_);
  inside->addWidget(words_);
  inside->addWidget(how_);
  inside->addWidget(answer_);
  inside->addLayout(answering_);
  inside->addSpacing(4);
  inside->addLayout(buttons);
  inside->addWidget(demonstration_, 0, Qt::AlignLeft);
  auto* readable = new QWidget;
  readable->setMaximumWidth(theme.px(760));  // lines that can be read
  readable->setLayout(inside);
  auto* across = row(0);
  across->addWidget(readable, 1);
  across->addStretch();
  auto* page = column(0);
  page->addLayout(across);
  page->addStretch();
  auto* whole = new QWidget;
  whole->setLayout(page);
  auto* all = column(0);
  all->setContentsMargins(24, 16, 24, 16);
  all->addWidget(scrolled(whole));
  setLayout(all);
  hide();
}

void BeginHere::list_answering(const std::vector<AnsweringPart>& answering) {
  std::vector<std::string> ids;
  for (const AnsweringPart& each : answering) ids.push_back(each.part->id);
  answer_->setVisible(!answering.empty());
  if (ids == listed_) return;
  listed_ = ids;
  clear(answering_);
  const bool proven = !answering.empty() && answering.front().is_proven;
  answer_->setText(proven ? tr("The checksums in its bytes are right for these parts. Which of them is it?")
                          : tr("So many bytes are what these parts send. Which of them is it?"));
  for (const AnsweringPart& each : answering) {
    QStringList words;
    if (!each.part->markings.empty()) words << text_of(each.part->markings.front());
    words << text_of(each.part->name);
    auto* take = new QPushButton(words.join(QStringLiteral(" · ")));
    take->setObjectName(QStringLiteral("begin_part_%1").arg(text_of(each.part->id)));
    take->setProperty("quiet", true);
    connect(take, &QPushButton::clicked, this, [this, id = each.part->id] { emit part_wanted(id); });
    answering_->addWidget(take, 0, Qt::AlignLeft);
  }
}

void BeginHere::set_page(Page page, const QString& bare, const std::vector<AnsweringPart>& answering) {
  const Purpose* purpose = purpose_of(page);
  if (!purpose) return;
  title_->setText(bare.isEmpty() ? tr(purpose->title) : tr("Which sensor makes the numbers of %1?").arg(bare));
  words_->setText(tr(purpose->words));
  how_->setText(bare.isEmpty()
                    ? tr("It takes a channel: one quantity of one part. Put a part on the bench by what is printed on "
                         "it, let one be chosen by what you need, or listen to a board that sends readings already.")
                    : tr("They arrive as the board sends them, and nobody has said yet what they mean. Put the sensor "
                         "behind them on the bench by what is printed on it: it takes them over."));
  list_answering(answering);
  listen_->setVisible(bare.isEmpty());
  demonstration_->setVisible(bare.isEmpty());
}

}  // namespace fair_gauge::app

#include "moc_begin_here.cpp"
