#include "home/home_page.h"

#include <QPushButton>

#include <algorithm>
#include <cmath>

namespace fair_gauge::app {

HomePage::HomePage(const Theme& theme, Workbench& workbench, QWidget* parent) : QScrollArea(parent), theme_(theme), workbench_(workbench) {
  setFrameShape(NoFrame);
  setWidgetResizable(true);
  setHorizontalScrollBarPolicy(Qt::ScrollBarAlwaysOff);
  auto* inside = new QWidget;
  inside->setObjectName(QStringLiteral("page"));
  auto* all = column(8);
  all->setContentsMargins(32, 24, 32, 24);
  title_ = new Text(theme, Face::title);
  subtitle_ = new Text(theme, Face::text, {}, Tint::quiet);
  all->addWidget(title_);
  all->addWidget(subtitle_);
  demonstration_ = new QPushButton(tr("Open the demonstration bench"));
  demonstration_->setProperty("primary", true);
  connect(demonstration_, &QPushButton::clicked, this, &HomePage::demonstration_wanted);
  all->addWidget(demonstration_, 0, Qt::AlignLeft);
  all->addSpacing(8);
  list_ = column(8);
  all->addLayout(list_);
  all->addStretch();
  inside->setLayout(all);
  setWidget(inside);
  connect(&workbench, &Workbench::values_changed, this, &HomePage::refresh);
  refresh();
}

void HomePage::rebuild() {
  clear(list_);
  lines_.clear();
  for (const Channel& channel : workbench_.bench().channels) {
    auto* card = new QWidget;
    card->setObjectName(QStringLiteral("card"));
    card->setAttribute(Qt::WA_StyledBackground);
    Line line{channel.id, new Text(theme_, Face::number_large), new Vial(theme_, Vial::Size::medium), new Text(theme_, Face::strong), new Text(theme_, Face::small, {}, Tint::quiet)};
    line.next->setWordWrap(true);
    auto* name = column(2);
    name->addWidget(new Text(theme_, Face::strong, text_of(channel.name.empty() ? channel.id : channel.name)));
    name->addWidget(new Text(theme_, Face::small, text_of(channel.place), Tint::quiet));
    auto* name_box = new QWidget;
    name_box->setLayout(name);
    name_box->setFixedWidth(theme_.column_px(180));
    line.value->setFixedWidth(theme_.column_px(150));
    auto* words = column(2);
    words->addWidget(line.words);
    words->addWidget(line.next);
    auto* open = new QPushButton(tr("Open"));
    open->setAccessibleName(tr("Open %1").arg(text_of(channel.name)));
    connect(open, &QPushButton::clicked, this, [this, id = channel.id] { emit opened(id); });
    auto* layout = row(24);
    layout->setContentsMargins(16, 12, 16, 12);
    layout->addWidget(name_box);
    layout->addWidget(line.value);
    layout->addWidget(line.vial, 0, Qt::AlignVCenter);
    layout->addLayout(words, 1);
    layout->addWidget(open);
    card->setLayout(layout);
    list_->addWidget(card);
    lines_.push_back(line);
  }
}

void HomePage::showEvent(QShowEvent* event) {
  QScrollArea::showEvent(event);
  refresh();
}

void HomePage::refresh() {
  if (!isVisible()) return;
  const Bench& bench = workbench_.bench();
  if (!std::ranges::equal(lines_, bench.channels, {}, &Line::id, &Channel::id)) rebuild();
  title_->setText(bench.channels.empty() ? tr("A fair reading is one whose error is known")
                  : bench.name.empty()   ? tr("A bench without a name")
                                         : text_of(bench.name));
  demonstration_->setVisible(bench.channels.empty());
  int unfair = 0;
  for (const Line& line : lines_) {
    const ChannelView& view = workbench_.view(line.id);
    const Fairness fairness = fairness_of(view.used());
    if (fairness == Fairness::unfair) ++unfair;
    line.vial->show_share(view.used(), view.bias());
    line.value->setText(view.reading && view.chain ? text_of(with_unit(view.chain->shown->from_base(*view.reading), Workbench::decimals_of(view), view.chain->shown->symbol, workbench_.style())) : QStringLiteral("–"));
    line.words->setText(view.budget && view.chain ? text_of(verdict_words(*view.budget, *view.chain->shown, workbench_.style())) : tr("Nothing to judge yet"));
    line.words->set_tint(fairness == Fairness::fair ? Tint::accent : fairness == Fairness::tight ? Tint::amber
                                                                 : fairness == Fairness::unfair  ? Tint::red
                                                                                                 : Tint::quiet);
    if (!view.reading)
      line.next->setText(text_of(to_text(view.reading.problem())));
    else if (view.budget && !view.budget->lines.empty())
      line.next->setText(tr("mostly %1 (%2 %)").arg(text_of(view.budget->lines.front().name)).arg(std::lround(view.budget->lines.front().share * 100)));
  }
  subtitle_->setText(bench.channels.empty() ? tr("Begin with the demonstration, a mushroom shed called Fernhollow, or with a bench of your own: Ctrl+O, or drop its file here.")
                                            : QStringLiteral("%1 · %2 · %3").arg(text_of(bench.place), bench.channels.size() == 1 ? tr("one channel") : tr("%1 channels").arg(bench.channels.size()), unfair == 0 ? tr("all within their allowed error") : tr("%1 over the allowed error").arg(unfair)));
}

}  // namespace fair_gauge::app
