#include "home/first_chain.h"

#include <QPainter>
#include <cmath>

#include "chain/chain.h"
#include "quantity/number_format.h"
#include "truth/verdict.h"

namespace fair_gauge::app {
namespace {

// What most people measure first: a bead of 10 kΩ under a resistor of the same, read by ten bits on 5 V.
Bench first_bench() {
  Bench bench;
  bench.rails = {{.id = "5v", .name = "5 V", .voltage = {.nominal_v = 5}}};
  bench.converters = {{.id = "adc", .bits = 10, .reference_rail = "5v"}};
  FrontEnd divider;
  divider.kind = FrontEndKind::divider;
  divider.rail = "5v";
  bench.devices = {{.id = "bead", .part = "ntc-10k-3950", .converter = "adc", .front_end = divider}};
  bench.channels = {{.id = "air", .device = "bead", .wanted = {0, 50}, .tolerance = 1}};
  return bench;
}

}  // namespace

FirstChain::FirstChain(const Theme& theme, const Catalogue& catalogue, NumberStyle style, QWidget* parent)
    : QWidget(parent), theme_(theme), style_(std::move(style)) {
  setObjectName(QStringLiteral("first_chain"));
  auto* all = column(10);
  auto* words = column(2);
  auto* title = new Text(theme, Face::strong, tr("Try it: type over any number"));
  auto* what = new Text(theme, Face::small, tr("A thermistor under 10 kΩ at a 10-bit converter, solved both ways."),
                        Tint::quiet);
  for (Text* each : {title, what}) {
    each->setWordWrap(true);
    words->addWidget(each);
  }
  all->addLayout(words);
  if (auto chain = build_chain(first_bench(), catalogue, "air")) {
    chain_ = std::move(*chain);
    for (const Stage& stage : chain_->stages) {
      if (stage.name == StageName::compensated) continue;  // it is what is shown
      auto* card = new StageCard(theme, stage);
      connect(card, &StageCard::typed, this, [this, name = stage.name](double value) {
        is_typed_ = true;
        solve({name, value});
      });
      cards_.push_back(card);
      all->addWidget(card);
    }
  }
  verdict_ = new Text(theme, Face::strong);
  verdict_->setObjectName(QStringLiteral("first_verdict"));
  causes_ = new Text(theme, Face::small, {}, Tint::quiet);
  for (Text* each : {verdict_, causes_}) {
    each->setWordWrap(true);
    all->addWidget(each);
  }
  all->addStretch();
  setLayout(all);
  const auto fit = [this, &theme] {
    for (StageCard* card : cards_) card->setFixedHeight(theme.px(80));
    setFixedWidth(theme.column_px(290));
  };
  fit();
  connect(&theme, &Theme::changed, this, fit);
  solve({StageName::world, 21.5});
}

QString FirstChain::text_at(const Stage& stage, double value) const {
  switch (stage.unit->dimension) {
    case Dimension::resistance: return text_of(with_prefix(value, "Ω", 4, style_));
    case Dimension::number: return text_of(fixed(value, 0, style_));
    default: return text_of(fixed(value, stage.name == StageName::front_end ? 3 : 2, style_));
  }
}

void FirstChain::solve(const Anchor& from) {
  if (!chain_) return;
  const auto values = evaluate(*chain_, from);
  const auto& world = values.front();
  const auto budget = world ? error_budget(*chain_, *world) : Result<Budget>(world.problem());
  for (StageCard* card : cards_) {
    const Stage& stage = *chain_->stage(card->stage());
    const auto& value = values[static_cast<std::size_t>(&stage - chain_->stages.data())];
    const bool says_unit = stage.unit->dimension == Dimension::resistance;
    card->show_state({.value = value,
                      .text = value ? text_at(stage, *value) : QString(),
                      .unit = says_unit                    ? QString()
                              : stage.unit->symbol.empty() ? tr("counts")
                                                           : text_of(stage.unit->symbol),
                      .caption = text_of(stage.caption),
                      .anchored = is_typed_ && stage.name == from.stage});
  }
  verdict_->setText(budget
                        ? tr("The true value is within ±%1 °C (95 %)").arg(text_of(fixed(budget->expanded, 2, style_)))
                        : text_of(to_text(budget.problem())));
  QStringList causes;
  if (budget)
    for (std::size_t i = 0; i < std::min<std::size_t>(3, budget->lines.size()); ++i)
      causes << tr("%1: %2 %").arg(text_of(budget->lines[i].name)).arg(std::lround(100 * budget->lines[i].share));
  causes_->setText(causes.isEmpty() ? QString() : tr("by %1").arg(causes.join(QStringLiteral("; "))));
}

// The line that joins the stages.
void FirstChain::paintEvent(QPaintEvent*) {
  QPainter painter(this);
  painter.setPen(QPen(theme_.colours().accent, 2));
  for (std::size_t i = 1; i < cards_.size(); ++i) {
    const int x = cards_[i]->geometry().center().x();
    painter.drawLine(x, cards_[i - 1]->geometry().bottom() + 1, x, cards_[i]->geometry().top());
  }
}

}  // namespace fair_gauge::app

#include "moc_first_chain.cpp"
