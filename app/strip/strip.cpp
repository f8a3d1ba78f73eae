#include "strip/strip.h"

#include <QPainter>
#include <QTimer>

#include <algorithm>
#include <cmath>

#include "stream/review.h"

namespace fair_gauge::app {
namespace {

bool same_stages(const std::vector<Stage>& a, const std::vector<Stage>& b) {
  return std::ranges::equal(a, b, [](const Stage& x, const Stage& y) { return x.name == y.name && x.unit == y.unit; });
}

// Millivolts and microvolts carry their own prefix.
// Small ones, and all of a converter whose steps are far below a microvolt.
bool in_prefixed_volts(const Chain& chain, double volts) {
  return (std::abs(volts) < 0.03 && volts != 0) || chain.converter->step_v() < 1e-7;
}

// The world and what is worked out of it stand in the unit in which the channel is shown, not in the quantity's base.
bool is_in_base(StageName stage) {
  return stage == StageName::world || stage == StageName::compensated || stage == StageName::corrected;
}
Stage as_people_read(const Chain& chain, Stage stage) {
  if (is_in_base(stage.name)) stage.unit = chain.shown;
  return stage;
}

double share_of_stage(const Budget& budget, StageName stage) {
  double share = 0;
  for (const Contribution& line : budget.lines)
    if (line.stage == stage) share += line.share;
  return share;
}

}  // namespace

Strip::Strip(const Theme& theme, Workbench& workbench, QWidget* parent)
    : QWidget(parent), theme_(theme), workbench_(workbench) {
  setObjectName(QStringLiteral("strip"));
  layout_ = row(10);
  layout_->setContentsMargins(16, 12, 16, 12);
  setLayout(layout_);
  problem_ = new Text(theme, Face::text, {}, Tint::red);
  problem_->setWordWrap(true);
  problem_->hide();
  connect(&workbench, &Workbench::values_changed, this, &Strip::refresh);
  connect(&workbench, &Workbench::selection_changed, this, &Strip::refresh);
  connect(&workbench, &Workbench::source_changed, this, &Strip::refresh);
  connect(&theme, &Theme::changed, this, [this] { setFixedHeight(theme_.column_px(128)); });
  setFixedHeight(theme.column_px(128));
  auto* every_second = new QTimer(this);  // the age of the shown value moves by itself
  every_second->setInterval(1000);
  connect(every_second, &QTimer::timeout, this, [this] {
    if (isVisible() && workbench_.age_s().value_or(0) >= 1) refresh();
  });
  every_second->start();
  refresh();
}

StageCard* Strip::card(StageName name) const {
  for (StageCard* card : cards_)
    if (card->stage() == name) return card;
  return nullptr;
}

void Strip::rebuild() {
  problem_->setParent(nullptr);
  clear(layout_);
  cards_.clear();
  built_.clear();
  problem_->hide();
  const ChannelView& view = workbench_.chosen();
  if (!view.chain) {
    layout_->addWidget(problem_);
    problem_->show();
    return;
  }
  built_ = view.chain->stages;
  for (const Stage& stage : built_) {
    auto* card = new StageCard(theme_, as_people_read(*view.chain, stage));
    connect(card, &StageCard::chosen, this, [this, name = stage.name] { workbench_.choose_stage(name); });
    connect(card, &StageCard::typed, this, [this, name = stage.name](double value) { workbench_.hold({name, value}); });
    if (stage.name == StageName::bytes)
      card->field().set_reader([bytes = *view.chain->bytes](const std::string& text) { return bytes.raw(text); });
    layout_->addWidget(card, 1);
    cards_.push_back(card);
  }
}

QString Strip::value_text(const Chain& chain, const Stage& stage, double value, int decimals) const {
  const NumberStyle& style = workbench_.style();
  if (is_in_base(stage.name)) value = chain.shown->from_base(value);
  switch (stage.unit->dimension) {
    case Dimension::resistance: return text_of(with_prefix(value, "Ω", 4, style));
    case Dimension::current: return text_of(with_prefix(value, "A", 4, style));
    case Dimension::voltage:
      return in_prefixed_volts(chain, value) ? text_of(with_prefix(value, "V", 4, style))
                                             : text_of(fixed(value, decimals_for(chain.converter->step_v(), 3), style));
    case Dimension::number: return text_of(fixed(value, 0, style));
    default: return text_of(fixed(value, decimals, style));
  }
}

void Strip::refresh() {
  const ChannelView& view = workbench_.chosen();
  if (!view.chain || !same_stages(built_, view.chain->stages) || cards_.empty()) rebuild();
  if (!view.chain) {
    problem_->setText(view.problem ? text_of(to_text(*view.problem)) : tr("This bench has no channels yet."));
    return;
  }
  const Anchor anchor = workbench_.solved_from();
  const auto values = evaluate(*view.chain, anchor);
  const int decimals = Workbench::decimals_of(view);
  const QString stalled = view.stalled();
  for (std::size_t i = 0; i < cards_.size(); ++i) {
    const Stage& stage = view.chain->stages[i];
    // One digit more than what is shown, in this stage's unit: what comes before is not rounded yet.
    const Unit& unit = *as_people_read(*view.chain, stage).unit;
    const bool is_of_quantity = unit.dimension == view.chain->shown->dimension;
    const int here = stage.name == StageName::shown
                         ? decimals
                         : std::max(0, decimals + 1 + (is_of_quantity ? more_decimals(*view.chain->shown, unit) : 0));
    const bool with_its_unit =
        stage.unit->dimension == Dimension::resistance || stage.unit->dimension == Dimension::current ||
        (stage.unit->dimension == Dimension::voltage && values[i] && in_prefixed_volts(*view.chain, *values[i]));
    StageCard::State state{.value = values[i],
                           .unit = with_its_unit         ? QString()
                                   : unit.symbol.empty() ? (view.chain->converter->counts() == "pulses" ? tr("pulses")
                                                            : view.chain->converter->counts_pulses()    ? QString()
                                                                                                        : tr("counts"))
                                                         : text_of(unit.symbol),
                           .caption = text_of(stage.caption),
                           .share = view.budget ? share_of_stage(*view.budget, stage.name) : 0,
                           .fairness = fairness_of(view.used()),
                           .anchored = workbench_.anchor() && workbench_.anchor()->stage == stage.name,
                           .chosen = workbench_.stage() == stage.name};
    const bool arrives = stage.name == StageName::raw && view.channel->arrives_converted();
    if (values[i])
      state.text = arrives ? text_of(fixed(*values[i], view.channel->arrives->decimals, workbench_.style()))
                           : value_text(*view.chain, stage, *values[i], here);
    if (stage.name == StageName::shown && stalled.isEmpty())
      if (const auto age = workbench_.age_s()) {
        const double lag = part_times(workbench_.bench(), workbench_.catalogue(), *view.chain).response_s;
        state.caption = tr("%1 old").arg(duration_words(*age));
        if (lag > 0) state.caption += tr(", lags %1").arg(text_of(with_prefix(lag, "s", 2, workbench_.style())));
        state.caption = unbroken(state.caption);
      }
    if (const Unit* also = view.chain->also; also && stage.name == StageName::shown && values[i])
      state.caption = text_of(with_unit(also->from_base(view.chain->shown->to_base(*values[i])),
                                        std::max(0, decimals + more_decimals(*view.chain->shown, *also)), also->symbol,
                                        workbench_.style())) +
                      QStringLiteral(", ") + state.caption;
    // The number that no longer comes: of the stage that it would arrive at.
    if (!stalled.isEmpty() && !workbench_.anchor() && stage.name == view.chain->code_stage()->name) {
      state.caption = stalled;
      state.silent = true;
    }
    if (const ChainBeside* beside = workbench_.beside()) {
      if (const auto other = beside->values.find(stage.name); other != beside->values.end())
        state.beside = tr("%1: %2").arg(
            beside->whose, value_text(*view.chain, stage, other->second,
                                      stage.name == StageName::shown ? std::max(decimals, beside->decimals) : here));
      state.differs = beside->differs == stage.name;
    }
    if (stage.name == StageName::bytes) {
      state.unit.clear();
      if (values[i]) state.text = text_of(view.chain->bytes->text(*values[i]));
    }
    cards_[i]->show_state(state);
  }
}

void Strip::paintEvent(QPaintEvent*) {
  QPainter painter(this);
  painter.setPen(QPen(theme_.colours().accent, 2));
  for (std::size_t i = 0; i + 1 < cards_.size(); ++i) {
    const int y = cards_[i]->geometry().center().y() - 8;
    painter.drawLine(cards_[i]->geometry().right() + 1, y, cards_[i + 1]->geometry().left(), y);
  }
  painter.setPen(theme_.colours().rule);
  painter.drawLine(0, height() - 1, width(), height() - 1);
}

}  // namespace fair_gauge::app

#include "moc_strip.cpp"
