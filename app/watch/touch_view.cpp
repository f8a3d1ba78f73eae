#include "watch/touch_view.h"

#include <fmt/format.h>

#include <QDate>
#include <cmath>

#include "diagnose/warm_up.h"
#include "language/translation.h"
#include "quantity/number_format.h"
#include "widgets/findings.h"
#include "widgets/form.h"

namespace fair_gauge::app {
namespace {

constexpr double before_s = 30;          // of readings that count as undisturbed
constexpr double without_a_sheet_s = 9;  // time constant in still air of a sensor whose sheet states none
constexpr double enough_seen = 0.86;     // of a rise: two time constants
constexpr int enough_readings = 20;      // of a warm-up: fewer may be noise
constexpr double by_hand = 3;            // times as quick as in still air, in the simulation

}  // namespace

TouchView::TouchView(const Theme& theme, Workbench& workbench, WatchLog& log, LogPlot& plot, QWidget* parent)
    : QWidget(parent), theme_(theme), workbench_(workbench), log_(log), plot_(plot) {
  ways_box_ = choice_box({}, "touch_way", tr("What is done to it"));
  instruction_ = new Text(theme, Face::strong);
  instruction_->setObjectName(QStringLiteral("touch_instruction"));
  care_ = new Text(theme, Face::small, {}, Tint::amber);
  care_->setObjectName(QStringLiteral("touch_care"));
  for (Text* each : {instruction_, care_}) each->setWordWrap(true);
  next_ = new QPushButton;
  next_->setObjectName(QStringLiteral("touch_next"));
  next_->setProperty("primary", true);
  keep_ = new QPushButton(tr("Keep it with the channel"));
  keep_->setObjectName(QStringLiteral("touch_keep"));
  keep_->setToolTip(tr("The trim of a warm chip goes by it then"));
  connect(keep_, &QPushButton::clicked, this, &TouchView::keep);
  findings_ = column(6);
  auto* all = column(10);
  all->addWidget(ways_box_);
  all->addWidget(care_);
  all->addWidget(instruction_);
  all->addWidget(next_, 0, Qt::AlignLeft);
  all->addLayout(findings_);
  all->addWidget(keep_, 0, Qt::AlignLeft);
  all->addStretch();
  setLayout(all);
  connect(ways_box_, &QComboBox::activated, this, &TouchView::refresh);
  connect(next_, &QPushButton::clicked, this, &TouchView::next_phase);
  connect(&log, &WatchLog::changed, this, &TouchView::judge);
  connect(&workbench, &Workbench::selection_changed, this, &TouchView::follow_channel);
}

void TouchView::showEvent(QShowEvent* event) {
  QWidget::showEvent(event);
  if (channel_ != workbench_.channel_id())
    follow_channel();
  else
    refresh();
}

void TouchView::hideEvent(QHideEvent* event) {
  QWidget::hideEvent(event);
  plot_.show_filtered({});
}

// Another channel, another test.
void TouchView::follow_channel() {
  if (channel_ == workbench_.channel_id() && !ways_.empty()) return;
  if (phase_ == Phase::touched) workbench_.let_go_simulated();
  channel_ = workbench_.channel_id();
  phase_ = Phase::waiting;
  began_.reset(), ended_.reset();
  const Channel* channel = find_by_id(workbench_.bench().channels, channel_);
  const Part* sensor = part();
  const bool warms_itself = sensor && (sensor->senses == "chip" || sensor->senses == "board");
  ways_ = channel && !channel->derived ? touch_ways(channel->quantity, warms_itself) : std::vector<TouchWay>();
  ways_box_->clear();
  for (const TouchWay& each : ways_) ways_box_->addItem(tr(each.name));
  clear(findings_);
  plot_.show_filtered({});
  refresh();
}

const Part* TouchView::part() const {
  const Channel* channel = find_by_id(workbench_.bench().channels, channel_);
  const Device* device = channel ? find_by_id(workbench_.bench().devices, channel->device) : nullptr;
  return device ? workbench_.catalogue().find(device->part) : nullptr;
}

const TouchWay* TouchView::way() const {
  const auto at = static_cast<std::size_t>(std::max(ways_box_->currentIndex(), 0));
  return at < ways_.size() ? &ways_[at] : nullptr;
}

std::vector<TouchReading> TouchView::readings_of(const std::string& channel_id) const {
  std::vector<TouchReading> readings;
  const Channel* channel = find_by_id(workbench_.bench().channels, channel_id);
  const auto chain = channel ? build_chain(workbench_.bench(), workbench_.catalogue(), channel_id) : Problem{};
  if (!chain) return readings;
  const double from = began_.value_or(-1e300) - before_s;
  for (const Sample& sample : workbench_.samples(channel_id))
    if (sample.seconds > from)
      if (const auto reading = read_raw(*chain, sample.raw)) readings.push_back({sample.seconds, *reading});
  return readings;
}

void TouchView::next_phase() {
  const auto& samples = workbench_.samples(channel_);
  const TouchWay* chosen = way();
  if (samples.empty() || !chosen) return refresh();
  const double now = samples.back().seconds;
  switch (phase_) {
    case Phase::waiting:
    case Phase::let_go: {
      began_ = now;
      ended_.reset();
      phase_ = Phase::touched;
      const Part* sensor = part();
      const double response = sensor && sensor->response_s > 0 ? sensor->response_s : without_a_sheet_s;
      const auto readings = readings_of(channel_);
      const bool share = chosen->quantity == Quantity::illuminance && !readings.empty();
      workbench_.touch_simulated(channel_, chosen->usual_change * (share ? readings.back().value : 1),
                                 share ? 0.2 : response / by_hand);
      break;
    }
    case Phase::touched:
      ended_ = now;
      phase_ = Phase::let_go;
      workbench_.let_go_simulated();
      break;
  }
  refresh();
}

QString TouchView::why_untouchable() const {
  const Channel* channel = find_by_id(workbench_.bench().channels, channel_);
  if (!channel) return tr("This bench has no channels yet.");
  if (!channel->derived) return tr("Nothing can be done by hand to what this channel measures.");
  const Channel* measured = find_by_id(workbench_.bench().channels, channel->derived->of);
  return tr("%1 is worked out: choose %2 on the shelf, which is measured.")
      .arg(text_of(called(*channel)), measured ? text_of(called(*measured)) : text_of(channel->derived->of));
}

void TouchView::refresh() {
  const TouchWay* chosen = way();
  const bool has_readings = !workbench_.samples(channel_).empty();
  ways_box_->setVisible(chosen);
  ways_box_->setEnabled(phase_ != Phase::touched);
  next_->setVisible(chosen);
  next_->setEnabled(has_readings);
  care_->setText(chosen ? tr(chosen->care) : QString());
  care_->setVisible(chosen && *chosen->care);
  next_->setText(phase_ == Phase::waiting ? tr("I begin now")
                 : phase_ == Phase::touched
                     ? (chosen && chosen->kind == TouchKind::warm_up ? tr("It stands") : tr("I let go"))
                     : tr("Once more"));
  const QString hand = workbench_.listens_to_line() ? QString() : tr(" The simulation has a hand of its own.");
  if (!chosen)
    instruction_->setText(why_untouchable());
  else if (!has_readings)
    instruction_->setText(tr("No reading has come yet: connect the board first."));
  else if (phase_ == Phase::waiting)
    instruction_->setText((chosen->kind == TouchKind::warm_up
                               ? tr(chosen->begin)
                               : tr("Leave it alone for half a minute first. Then begin: %1").arg(tr(chosen->begin))) +
                          hand);
  else if (phase_ == Phase::touched)
    instruction_->setText(
        tr(chosen->begin) + QLatin1Char(' ') +
        (chosen->kind == TouchKind::warm_up ? tr("Press when it stands.") : tr("Press when you let go.")));
  else
    instruction_->setText(tr(chosen->end) + QLatin1Char(' ') + tr("What it does then is watched, too."));
  judge();
}

void TouchView::judge() {
  found_.reset();
  keep_->hide();
  if (!isVisible() || !began_ || !way()) return;
  const Channel* channel = find_by_id(workbench_.bench().channels, channel_);
  if (!channel) return;
  std::vector<TouchReading> readings = readings_of(channel_);
  const auto until_end = [&](std::vector<TouchReading> all) {
    if (ended_) std::erase_if(all, [&](const TouchReading& each) { return each.seconds > *ended_; });
    return all;
  };
  if (way()->kind == TouchKind::warm_up) return judge_warm_up(*channel, until_end(readings));
  const auto rise = fit_step(until_end(readings), *began_);
  if (!rise) return list_findings(findings_, theme_, {{Severity::note, translated("Waiting for four readings.")}}, 1);
  std::vector<TouchNeighbour> neighbours;
  for (const Channel& other : workbench_.bench().channels)
    if (other.id != channel_ && other.quantity == channel->quantity)
      if (const auto fit = fit_step(until_end(readings_of(other.id)), *began_))
        neighbours.push_back({called(other), *fit});
  TouchSubject subject{.name = called(*channel)};
  if (const Part* sensor = part(); sensor && way()->kind == TouchKind::touch) subject.response_s = sensor->response_s;
  const auto& samples = workbench_.samples(channel_);
  if (const auto& chain = workbench_.chosen().chain; chain && !samples.empty()) {
    const auto here = read_raw(*chain, samples.back().raw), there = read_raw(*chain, samples.back().raw + 1);
    if (here && there) subject.resolution = std::abs(*there - *here);
  }
  auto findings = judge_touch(*way(), subject, *rise, neighbours, base_unit(channel->quantity));
  if (ended_) {
    std::erase_if(readings, [&](const TouchReading& each) { return each.seconds < *ended_ - 3 * channel->period_s; });
    if (const auto fall = fit_step(readings, *ended_); fall && std::abs(fall->change) > 0.1 * std::abs(rise->change))
      findings.push_back({Severity::note, translated("Let go, it comes back with a time constant of {}",
                                                     with_prefix(fall->time_constant_s, "s", 2))});
  }
  if (way()->kind == TouchKind::load && rise->reached >= enough_seen && rise->change > rise->by_itself) {
    found_ = channel->warm_up.value_or(WarmUp{.time_constant_s = rise->time_constant_s});
    found_->under_load = rise->change;
  }
  keep_->setVisible(found_.has_value());
  list_findings(findings_, theme_, findings, 6);
  draw([&](double since) { return rise->at(since); });
}

void TouchView::judge_warm_up(const Channel& channel, const std::vector<TouchReading>& readings) {
  const auto fit = fit_warm_up(readings, *began_);
  if (!fit) return list_findings(findings_, theme_, {{Severity::note, translated("Waiting for six readings.")}}, 1);
  const Unit& base = base_unit(channel.quantity);
  const int decimals = decimals_for(std::max(fit->standard, 1e-3), 1);
  std::vector<Finding> findings;
  const double unsure = 2 * fit->standard;
  const auto after = std::ranges::count_if(readings, [&](const TouchReading& each) { return each.seconds >= *began_; });
  if (fit->rise < std::max(unsure, 2 * fit->misfit)) {
    findings.push_back(
        {Severity::warning, translated("It does not rise above its noise: was it cold, and is it the chip's own?")});
  } else {
    findings.push_back({Severity::note,
                        translated("It warms itself by {} ± {}, with a time constant of {}: {:.0f} % of that was seen.",
                                   with_unit(fit->rise, decimals, difference_symbol(base), workbench_.style()),
                                   with_unit(unsure, decimals, difference_symbol(base), workbench_.style()),
                                   with_prefix(fit->time_constant_s, "s", 2, workbench_.style()), 100 * fit->reached)});
    findings.push_back(
        fit->reached < enough_seen || after < enough_readings
            ? Finding{Severity::warning, translated("Go on: where it ends cannot be told yet.")}
            : Finding{Severity::note, translated("It stands, to a hundredth, {} after it was switched on.",
                                                 with_prefix(4.6 * fit->time_constant_s, "s", 2, workbench_.style()))});
    if (fit->reached >= enough_seen && after >= enough_readings && fit->rise > 4 * fit->standard) {
      found_ = channel.warm_up.value_or(WarmUp());
      found_->rise = fit->rise, found_->time_constant_s = fit->time_constant_s;
    }
  }
  keep_->setVisible(found_.has_value());
  list_findings(findings_, theme_, findings, 6);
  draw([&](double since) { return fit->at(since); });
}

void TouchView::keep() {
  if (!found_) return;
  WarmUp kept = *found_;
  kept.on = QDate::currentDate().toString(Qt::ISODate).toStdString();
  workbench_.document().edit(tr("Own warmth of the sensor"), [&](Bench& bench) {
    if (Channel* channel = find_by_id(bench.channels, channel_)) channel->warm_up = kept;
  });
  judge();
}

// The curve that was fitted, over the readings that the page draws; their clock begins elsewhere.
void TouchView::draw(const std::function<double(double)>& value_at) const {
  const auto& watched = log_.watched();
  const auto& samples = workbench_.samples(channel_);
  if (!watched || watched->log->rows.empty() || samples.empty() || !log_.is_session()) return;
  const double shift = watched->log->rows.back().seconds - samples.back().seconds;
  const double begin = *began_ + shift, end = ended_ ? *ended_ + shift : std::numeric_limits<double>::infinity();
  std::vector<double> course;
  std::size_t first = watched->log->rows.size();
  for (std::size_t i = 0; i < watched->log->rows.size(); ++i) {
    const double at = watched->log->rows[i].seconds;
    const bool within = at >= begin && at <= end;
    course.push_back(within ? watched->chain.shown->from_base(value_at(at - begin)) : std::nan(""));
    if (at > begin - before_s && i < first) first = i;
  }
  plot_.show_filtered(course, tr("fitted"));
  plot_.bring_into_view(first + 1, watched->log->rows.size());
}

}  // namespace fair_gauge::app

#include "moc_touch_view.cpp"
