// The workbench's readings over time: what comes together over a day, what rules decide, what is left out or pasted.
#include <QDateTime>
#include <QSignalBlocker>
#include <cmath>

#include "shell/workbench.h"
#include "sources/recording.h"
#include "stream/recorded_past.h"
#include "stream/review.h"
#include "widgets/text.h"

namespace fair_gauge::app {
namespace {

constexpr std::size_t most_older_samples = 200'000;  // of a channel

}  // namespace

// What its rule decides goes to the recording's events, with the reason.
void Workbench::switch_live(const Channel& channel, double seconds, bool has_reading) {
  if (!recording_->is_on()) switching_.clear();  // the next recording begins with it off
  const Chain* chain = channel.switching && recording_->is_on() ? steady_chain(channel.id) : nullptr;
  if (!chain || signalsBlocked()) return;
  const SwitchRule rule = rule_of(*channel.switching, *chain->shown);
  auto known = switching_.find(channel.id);
  if (known == switching_.end()) {
    const Range plausible = plausible_range(*chain, part_times(bench(), *catalogue_, *chain));
    known = switching_.emplace(channel.id, Switching{channel, {rule, plausible, channel.period_s}}).first;
  }
  LogReading row{.seconds = wall_clock(seconds), .reading = std::nan("")};
  const auto& came = samples(channel.id);
  if (has_reading && !came.empty()) {
    std::optional<double> base;
    if (chain->derived || !chain->side_channels.empty()) {
      const auto all = past(channel.id);
      if (!all.empty()) base = all.back().second;
    } else if (const auto reading = read_raw(*chain, came.back().raw)) {
      base = *reading;
    }
    if (base) row.reading = chain->shown->from_base(*base);
  }
  SwitchOver& over = known->second.over;
  const std::size_t before = over.decisions().size();
  over.look(row);
  for (std::size_t i = before; i < over.decisions().size(); ++i)
    recording_->happens("switch", text_of(called(channel) + ": " + words_of(over.decisions()[i], rule, *chain->shown)));
}

void Workbench::start_clock() {
  clock_.restart();
  began_s_ = static_cast<double>(QDateTime::currentMSecsSinceEpoch()) / 1000;
}

void Workbench::recall(const QString& recording) {
  const double now = static_cast<double>(clock_.elapsed()) / 1000;
  for (const auto& [id, raws] :
       recorded_past(bench(), *catalogue_, recording.toStdString(), wall_clock(now - tape_seconds))) {
    auto& samples = samples_[id];
    const double before = samples.empty() ? now : samples.front().seconds;
    std::deque<Sample> past;
    for (const auto& [moment, raw] : raws)
      if (const double seconds = moment - wall_clock(0); seconds < before) past.push_back({seconds, raw});
    while (!past.empty() && past.size() + samples.size() > most_samples) past.pop_front();
    samples.insert(samples.begin(), past.begin(), past.end());
    views_.erase(id);
  }
  emit values_changed();
}

// What comes together over a day keeps it; Watch still has it.
void Workbench::forget_oldest(const Channel& channel) {
  auto& samples = samples_[channel.id];
  for (const Channel& other : bench().channels) {
    const Chain* chain = other.is_derived_from(channel.id) ? steady_chain(other.id) : nullptr;
    if (!chain || !chain->derived->setup().quantity->accumulates) continue;
    const auto reading = read_raw(*chain->inputs.front(), samples.front().raw);
    DayDose& before = days_[other.id].before;
    reading ? before.take(wall_clock(samples.front().seconds), *reading) : before.miss();
  }
  auto& older = older_samples_[channel.id];
  older.push_back(samples.front());
  if (older.size() > most_older_samples) older.pop_front();
  samples.pop_front();
}

// Goes on from where it was; after a change of the bench once over all that is remembered.
const DayDose& Workbench::day_of(const Channel& channel) const {
  Day& day = days_[channel.id];
  const Chain* chain = steady_chain(channel.id);
  if (!chain || !chain->derived) return day.now;
  if (std::isinf(day.until)) day.now = day.before;
  const auto& all = samples(channel.id);
  auto next = std::ranges::upper_bound(all, day.until, {}, &Sample::seconds);
  for (; next != all.end(); ++next) {
    const auto reading = read_raw(*chain->inputs.front(), next->raw);
    reading ? day.now.take(wall_clock(next->seconds), *reading) : day.now.miss();
    day.until = next->seconds;
  }
  return day.now;
}

void Workbench::take_text(const QString& lines) {
  SerialText text(true);
  std::string all = lines.toStdString();
  if (!all.ends_with('\n')) all += '\n';
  for (const SerialLine& line : text.take(all)) take_line(line, 0);
}

// What another source sends is no business of the shed's.
void Workbench::take_simulated(const SerialLine& line, double age_s) {
  if (heard_beside_.empty()) return take_line(line, age_s);
  SerialLine left = line;
  std::erase_if(left.items, [this](const RawItem& item) { return heard_beside_.contains(item.name); });
  if (!left.items.empty()) take_line(left, age_s);
}

}  // namespace fair_gauge::app
