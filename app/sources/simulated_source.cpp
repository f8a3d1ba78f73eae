#include "sources/simulated_source.h"

#include <fmt/format.h>

#include <algorithm>
#include <set>

namespace fair_gauge::app {
namespace {
constexpr int tick_ms = 250;
// The air beside a sensor moves slowly, and a chain is anew for each change.
constexpr double surroundings_last_s = 15, surroundings_of_the_past_last_s = 60;
}  // namespace

SimulatedSource::SimulatedSource(std::uint64_t seed, double start_seconds, QObject* parent)
    : LiveSource(parent), seed_(seed), time_(start_seconds) {
  timer_.setInterval(tick_ms);
  connect(&timer_, &QTimer::timeout, this, &SimulatedSource::tick);
}

void SimulatedSource::take_specimens(const Bench& bench) {
  specimens_.clear();
  for (const Channel& channel : bench.channels) specimens_.emplace(channel.id, channel.correction);
}

void SimulatedSource::follow(const Bench& bench, const Catalogue& catalogue,
                             const std::shared_ptr<const InjectedFault>& fault) {
  bench_ = bench;
  catalogue_ = &catalogue;
  const auto is_here = [](const Correction& correction) {
    return correction.placed == CorrectionPlace::physical || correction.placed == CorrectionPlace::raw;
  };
  for (Channel& channel : bench_.channels) {
    const Correction& as_it_was = specimens_.try_emplace(channel.id, channel.correction).first->second;
    if (is_here(channel.correction) && is_here(as_it_was)) channel.correction = as_it_was;
  }
  std::map<std::string, Answering> next;
  std::set<std::pair<std::string, std::string>> sent;  // device and name
  for (const Channel& channel : bench_.channels) {
    if (channel.derived || channel.line_name == "-") continue;  // it is not on the line
    auto chain = build_chain(bench_, catalogue, channel.id);
    if (!chain) continue;
    const auto known = channels_.find(channel.id);
    const auto surroundings = [this, channel](double seconds) {
      return chain_at(bench_, *catalogue_, channel, seed_, seconds);
    };
    const bool is_faulty = fault && std::ranges::find(fault->channels(), channel.id) != fault->channels().end();
    const bool is_beside = !sent.emplace(channel.device, channel.name_on_line()).second;
    next.emplace(channel.id, Answering{channel.name_on_line(), is_beside, EnvironmentCourse(channel, seed_),
                                       is_faulty ? fault->device(std::move(*chain), seed_, surroundings)
                                                 : SimulatedDevice(std::move(*chain), seed_, surroundings),
                                       channel.period_s, known == channels_.end() ? time_ : known->second.next,
                                       is_faulty ? fault : nullptr});
  }
  channels_ = std::move(next);
  bytes_ = SimulatedLine(bench_, catalogue);
  is_faulty_ = fault != nullptr;
  if (timer_.isActive()) say_state();
}

void SimulatedSource::start() {
  clock_.start();
  timer_.start();
  say_state();
}

void SimulatedSource::say_state() {
  set_state(LineState::running, is_faulty_ ? tr("Simulation, a fault put in") : tr("Simulation"));
}

void SimulatedSource::stop() {
  timer_.stop();
  set_state(LineState::stopped, tr("Nothing is connected"));
}

std::optional<double> SimulatedSource::truth_of(const std::string& channel) const {
  const auto found = channels_.find(channel);
  return found == channels_.end() ? std::nullopt : std::optional(found->second.course.at(time_));
}

void SimulatedSource::touch(const std::string& channel, double change, double time_constant_s) {
  touched_[channel] = {.change = change, .began = time_, .time_constant_s = time_constant_s};
}

void SimulatedSource::let_go() {
  for (auto& [channel, touch] : touched_)
    if (!touch.ended) touch.ended = time_;
}

std::map<std::string, std::vector<double>> SimulatedSource::skip(double seconds) {
  std::map<std::string, std::vector<double>> past;
  answer_until(time_ + seconds, &past);
  return past;
}

void SimulatedSource::tick() { answer_until(time_ + static_cast<double>(clock_.restart()) / 1000); }

void SimulatedSource::answer_until(double time, std::map<std::string, std::vector<double>>* past) {
  time_ = time;
  std::vector<std::pair<double, SerialLine>> due;  // each with its moment
  for (auto& [id, answering] : channels_) {
    for (; answering.next <= time_; answering.next += answering.period) {
      if (answering.next >= answering.surroundings_due) {
        answering.device.go_to(answering.next);
        answering.surroundings_due = answering.next + (past ? surroundings_of_the_past_last_s : surroundings_last_s);
      }
      double world = answering.course.at(answering.next);
      if (const auto touch = touched_.find(id); touch != touched_.end()) world += touch->second.at(answering.next);
      const auto answer =
          answering.fault ? answering.fault->answer(answering.device, world) : answering.device.answer(world);
      if (!answer) continue;  // nothing comes
      const double raw = *answer;
      if (past && answering.next + answering.period <= time_) {
        (*past)[id].push_back(raw);
        continue;
      }
      auto bytes = bytes_.bytes(id, raw);
      if (answering.is_beside && !bytes.empty() && !answering.fault) continue;  // it goes out with the other's
      if (answering.fault) answering.fault->spoil(bytes);
      const std::string& name = answering.name;
      if (bytes.empty())
        due.push_back({answering.next, {name + ":" + fmt::format("{}", raw), {{name, raw, {}}}, std::nullopt}});
      else
        due.push_back({answering.next, {name + ":x" + to_hex(bytes), {{name, std::nullopt, bytes}}, std::nullopt}});
    }
  }
  // A window that stood still is told late, of readings that were in time.
  std::ranges::stable_sort(due, {}, &std::pair<double, SerialLine>::first);
  for (const auto& [moment, line] : due)
    emit line_came(line, time_ - moment + (past ? 0 : static_cast<double>(clock_.elapsed()) / 1000));
}

}  // namespace fair_gauge::app

#include "moc_simulated_source.cpp"
