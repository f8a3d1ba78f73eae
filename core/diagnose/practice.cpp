#include "diagnose/practice.h"

#include <fmt/format.h>

#include <algorithm>
#include <cmath>
#include <random>
#include <set>

#include "diagnose/diagnose.h"
#include "language/translation.h"

namespace fair_gauge {
namespace {

constexpr int most_draws = 60;
constexpr double share_that_counts = 0.1;

double decimal_steps(int decimals) { return std::pow(10.0, decimals); }

double rounded_to(double value, int decimals) {
  return std::floor(value * decimal_steps(decimals) + 0.5) / decimal_steps(decimals);
}

PracticeLevel level_of(const Diagnosis& diagnosis) {
  const auto many =
      std::ranges::count_if(diagnosis.causes, [](const Cause& cause) { return cause.share >= share_that_counts; });
  return many <= 1 ? PracticeLevel::plain : many <= 3 ? PracticeLevel::doubtful : PracticeLevel::tangled;
}

bool alike(double a, double b, double within) {
  return std::isnan(a) == std::isnan(b) && (std::isnan(a) || std::abs(a - b) <= within);
}

}  // namespace

double PracticeCase::to_shown(double base) const { return made().believed().shown->from_base(base); }

std::string PracticeCase::number(double shown, const NumberStyle& style) const {
  if (!std::isfinite(shown)) return translated("no number");
  return with_unit(shown, decimals_, made().believed().shown->symbol, style);
}

Result<PracticeCase> PracticeCase::draw(const std::shared_ptr<const Bench>& bench,
                                        const std::shared_ptr<const Catalogue>& catalogue, const std::string& channel,
                                        PracticeLevel level, std::uint64_t seed) {
  const Channel* known = find_by_id(bench->channels, channel);
  if (!known) return Problem{translated("\"{}\" is no channel of the bench", channel), translated("an id of one")};
  const Range wanted = known->wanted;
  const double tolerance = known->tolerance;
  std::mt19937_64 random(seed);
  const auto within = [&](double from, double to) { return std::uniform_real_distribution<double>(from, to)(random); };
  std::optional<PracticeCase> nearest;
  for (int attempt = 0; attempt < most_draws; ++attempt) {
    PracticeCase one;
    const double span = wanted.to - wanted.from;
    one.truth_base_ = wanted.from + span * within(0.1, 0.9);
    one.other_truth_base_ =
        one.truth_base_ < wanted.from + span / 2 ? wanted.to - 0.05 * span : wanted.from + 0.05 * span;
    auto all = MadeMistake::all(bench, catalogue, channel, one.truth_base_);
    if (!all) return all.problem();
    if (all->empty()) break;
    one.all_ = std::move(*all);
    // By how common each is; of one that needs a number, many ways are one.
    std::map<std::string, int> ways;
    for (const MadeMistake& made : one.all_) ++ways[made.code()];
    std::vector<double> weights;
    for (const MadeMistake& made : one.all_) weights.push_back(made.prior() / ways[made.code()]);
    one.made_ = static_cast<std::size_t>(std::discrete_distribution<int>(weights.begin(), weights.end())(random));
    const MadeMistake& made = one.made();
    const Unit& unit = *made.believed().shown;
    one.decimals_ = std::clamp(decimals_of_two_digits(tolerance / std::abs(unit.scale) / 5), 0, 6);
    const auto raw = made.raw_for(one.truth_base_);
    if (!raw) continue;
    one.raw_ = *raw;
    one.truth_ = rounded_to(one.to_shown(one.truth_base_), one.decimals_);
    one.shows_ = rounded_to(made.shows(*raw), one.decimals_);
    const double allowed = tolerance / std::abs(unit.scale);
    if (alike(one.shows_, one.truth_, allowed)) continue;  // nobody would notice
    // What is fitted wrongly is something that somebody could take for right: 12 kΩ for 8.2, not 33 Ω.
    const double shown_base = unit.to_base(one.shows_);
    if (made.is_of_world() && !made.is_state() && !(shown_base > wanted.from - span && shown_base < wanted.to + span))
      continue;
    Question question{.raw = one.raw_, .decimals = one.decimals_};
    if (std::isfinite(one.shows_)) question.shown = one.shows_;
    question.expected = Range{one.truth_ - allowed / 2, one.truth_ + allowed / 2};
    const auto diagnosis = diagnose(*bench, *catalogue, channel, question);
    if (!diagnosis) return diagnosis.problem();
    one.level_ = level_of(*diagnosis);
    if (one.level_ == level) return one;
    const auto off = [&](PracticeLevel of) { return std::abs(static_cast<int>(of) - static_cast<int>(level)); };
    if (!nearest || off(one.level_) < off(nearest->level_)) nearest = std::move(one);
  }
  if (!nearest)
    return Problem{translated("no mistake can be seen on \"{}\"", channel),
                   translated("a channel with a wider wanted range")};
  return std::move(*nearest);
}

std::vector<PracticeProbe> PracticeCase::probes() const {
  const Chain& world = made().world();
  std::vector<PracticeProbe> probes = {{"raw", translated("the raw number that arrives")}};
  if (world.decoder) {
    probes.push_back({"bytes", translated("the bytes themselves")});
    if (!world.decoder->part().bytes.identity.empty())
      probes.push_back({"identity", translated("the identity register, read back")});
    if (!world.decoder->part().bytes.settings.empty())
      probes.push_back({"settings", translated("the settings, read back")});
  } else if (!world.converter->counts_pulses()) {
    probes.push_back({"pin", translated("the volts at the pin, by a meter")});
    probes.push_back({"reference", translated("the volts of the converter's reference, by a meter")});
    const Dimension output =
        world.stage(StageName::sensor) ? world.stage(StageName::sensor)->unit->dimension : Dimension::number;
    if (output == Dimension::resistance) probes.push_back({"sensor", translated("the sensor's ohms, its plug pulled")});
    if (output == Dimension::current) probes.push_back({"sensor", translated("the sensor's current, by a meter")});
    if (world.divider) {
      probes.push_back({"supply", translated("the volts that feed the divider, by a meter")});
      probes.push_back({"fixed", translated("the fixed resistor, one leg lifted")});
    }
  }
  if (!made().device().bus.empty() && made().device().address > 0)
    probes.push_back({"scan", translated("a scan of its bus")});
  probes.push_back({"warm", world.channel.quantity == Quantity::temperature
                                ? translated("warm it a little by hand")
                                : translated("let what it measures rise a little")});
  probes.push_back({"swap", translated("the sensor swapped for another of what the bench says")});
  probes.push_back({"second", translated("a second reading at another place of the range")});
  return probes;
}

std::string PracticeCase::measure(const std::string& probe, const NumberStyle& style) {
  if (std::ranges::find(asked_, probe) == asked_.end()) asked_.push_back(probe);
  const MadeMistake& made = this->made();
  const Chain& world = made.world();
  const auto at_stage = [&](StageName name, int digits) -> std::string {
    const Stage* stage = world.stage(name);
    if (made.is_state()) {
      // Its input does not follow the world: an open lead, an end of the range.
      return name == StageName::sensor && made.code() == "disconnected"
                 ? translated("no end: the lead is open")
                 : translated("the same whatever is done to the sensor");
    }
    const auto values = evaluate(world, {StageName::world, truth_base_});
    const auto index = static_cast<std::size_t>(stage - world.stages.data());
    if (!values[index]) return to_text(values[index].problem());
    return with_prefix(*values[index], std::string(stage->unit->symbol), digits, style);
  };
  if (probe == "raw") return fmt::format("{:.0f}", raw_);
  if (probe == "bytes") return world.bytes ? world.bytes->text(raw_) : translated("there are none");
  if (probe == "identity") {
    std::string words;
    for (const auto& identity : world.decoder->part().bytes.identity)
      words += translated("{}0x{:02X} at {}", words.empty() ? "" : ", ", static_cast<int>(identity.values.front()),
                          identity.address);
    return words;
  }
  if (probe == "settings") {
    std::string words;
    for (const auto& [key, value] : world.decoder->settings())
      words += fmt::format("{}{} {:g}", words.empty() ? "" : ", ", key, value);
    return words;
  }
  // Without a front end the sensor is at the pin itself.
  if (probe == "pin") return at_stage(world.stage(StageName::front_end) ? StageName::front_end : StageName::sensor, 4);
  if (probe == "sensor") return at_stage(StageName::sensor, 4);
  if (probe == "reference") return with_prefix(world.converter->span_v(), "V", 4, style);
  if (probe == "supply") return with_prefix(made.supply_v(), "V", 4, style);
  if (probe == "fixed") return with_prefix(made.device().front_end.fixed_ohm, "Ω", 4, style);
  if (probe == "scan") return translated("0x{:02X} answers, as the bench says", made.device().address);
  if (probe == "swap") {
    if (!made.is_in_sensor()) return translated("still {}", number(shows_, style));
    const auto raw = raw_for(made.believed(), truth_base_);
    return translated("shown {}", raw ? number(made.shows(*raw), style) : translated("no number"));
  }
  if (probe == "warm") {
    const Range& wanted = world.channel.wanted;
    const double more = truth_base_ + 0.04 * (wanted.to - wanted.from);
    const auto raw = made.raw_for(more);
    const double shows = raw ? rounded_to(made.shows(*raw), decimals_) : std::nan("");
    if (!std::isfinite(shows) || !std::isfinite(shows_)) return translated("there is no number");
    return translated("shown {}: {}", number(shows, style),
                      shows > shows_   ? translated("it rises")
                      : shows < shows_ ? translated("it falls")
                                       : translated("it stays"));
  }
  if (probe == "second") {
    const auto raw = made.raw_for(other_truth_base_);
    if (!raw) return translated("there is no reading");
    return translated("reference {}, shown {}, raw {:.0f}", number(to_shown(other_truth_base_), style),
                      number(made.shows(*raw), style), *raw);
  }
  return "";
}

std::vector<std::string> PracticeCase::choices() const {
  std::set<std::string> codes;
  for (const MadeMistake& made : all_) codes.insert(made.code());
  return {codes.begin(), codes.end()};
}

PracticeVerdict PracticeCase::name(const std::string& code) const {
  const MadeMistake& made = this->made();
  PracticeVerdict verdict{
      .right = code == made.code(), .words = made.words(), .fix = made.fix(), .arithmetic = made.arithmetic(raw_)};
  if (verdict.right) return verdict;
  // One that gives the same numbers at both places, from the same raw numbers, is none that could be told from it.
  const double within = 0.5 / decimal_steps(decimals_);
  for (const MadeMistake& other : all_) {
    if (other.code() != code || other.is_state() != made.is_state()) continue;
    bool same = true;
    for (const double truth : {truth_base_, other_truth_base_}) {
      const auto raw = made.raw_for(truth), others = other.raw_for(truth);
      same = same && raw && others && *raw == *others && alike(made.shows(*raw), other.shows(*raw), within);
    }
    if (same) verdict.right = verdict.equal = true;
  }
  return verdict;
}

}  // namespace fair_gauge
