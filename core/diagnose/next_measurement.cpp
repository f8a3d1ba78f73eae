#include "diagnose/next_measurement.h"

#include <fmt/format.h>

#include <algorithm>
#include <cmath>
#include <numeric>

#include "language/translation.h"
#include "quantity/number_format.h"
#include "quantity/quantity_text.h"

namespace fair_gauge {
namespace {

constexpr double meter_share = 0.005;     // one standard deviation of a usual meter, with its reading
constexpr double unforeseen = 1e-4;       // what is left of a cause that foretold something else
constexpr double worth_measuring = 0.05;  // bits

const std::string settings_begin = "setting-";

// Volts between sensor and converter; without a front end the sensor is at the pin itself.
StageName pin_stage(const Chain& chain) {
  return chain.stage(StageName::front_end) ? StageName::front_end : StageName::sensor;
}

std::optional<double> at_stage(const Chain& chain, StageName name, double raw) {
  const Stage* stage = chain.stage(name);
  const Anchor anchor{chain.stage(StageName::raw) ? StageName::raw : StageName::converter, raw};
  const auto values = evaluate(chain, anchor);
  if (!stage || values.size() != chain.stages.size()) return std::nullopt;
  const auto& value = values[static_cast<std::size_t>(stage - chain.stages.data())];
  return value && std::isfinite(*value) ? std::optional(*value) : std::nullopt;
}

// Numbers that no measurement could tell apart are one outcome: which outcome each prediction belongs to.
std::vector<std::size_t> outcomes(const std::vector<std::optional<double>>& predicted,
                                  const std::function<double(double)>& standard) {
  std::vector<std::size_t> order;
  for (std::size_t i = 0; i < predicted.size(); ++i)
    if (predicted[i]) order.push_back(i);
  std::ranges::sort(order, {}, [&](std::size_t i) { return *predicted[i]; });
  std::vector<std::size_t> outcome(predicted.size(), 0);
  std::size_t now = 1;
  for (std::size_t k = 0; k < order.size(); ++k) {
    if (k > 0) {
      const double gap = *predicted[order[k]] - *predicted[order[k - 1]];
      if (gap > 4 * standard(*predicted[order[k]])) ++now;
    }
    outcome[order[k]] = now;
  }
  return outcome;  // 0: it says nothing
}

}  // namespace

Result<double> measured_value(const std::string& id, std::string_view text) {
  static const std::map<std::string, Dimension> probes = {
      {"pin", Dimension::voltage},     {"reference", Dimension::voltage}, {"supply", Dimension::voltage},
      {"volts", Dimension::voltage},   {"sensor", Dimension::resistance}, {"fixed", Dimension::resistance},
      {"identity", Dimension::number}, {"number", Dimension::number}};
  const auto probe = probes.find(id);
  if (probe == probes.end() && !id.starts_with(settings_begin))
    return Problem{
        translated("\"{}\" is nothing to measure", id),
        translated("pin, reference, supply, volts, sensor, fixed, identity, number or setting-NAME, as in pin=1.23V")};
  const auto value = parse_quantity(text, probe == probes.end() ? Dimension::number : probe->second);
  if (!value) return value.problem();
  return value->base;
}

Probes::Probes(const Catalogue& catalogue, const Chain& chain, const Firmware& right, const Question& question,
               bool of_arithmetic)
    : catalogue_(catalogue), chain_(chain), right_(right), question_(question), of_arithmetic_(of_arithmetic) {
  const auto add = [&](std::string id, std::string words, std::string unit) {
    all_.push_back(
        {.id = std::move(id), .words = std::move(words), .unit = std::move(unit), .information = 0, .predicted = {}});
  };
  const bool has_volts = !chain.decoder && !chain.channel.arrives_converted() && !chain.converter->counts_pulses();
  if (has_volts && of_arithmetic) add("volts", translated("print the volts that the firmware works out"), "V");
  if (has_volts && !of_arithmetic) {
    add("pin", translated("measure the volts at the pin by a meter"), "V");
    add("reference", translated("measure the converter's reference by a meter"), "V");
    const Stage* sensor = chain.stage(StageName::sensor);
    if (sensor && sensor->unit->dimension == Dimension::resistance)
      add("sensor", translated("pull the sensor's plug and measure its resistance"), "Ω");
    if (chain.divider) {
      add("fixed", translated("lift a leg of the fixed resistor and measure it"), "Ω");
      add("supply", translated("measure the volts that feed the divider by a meter"), "V");
    }
  }
  if (chain.decoder && of_arithmetic)
    add("number", translated("print the number that the firmware puts together from the bytes"), "");
  if (chain.decoder && !of_arithmetic) {
    const ByteLayout& layout = chain.decoder->part().bytes;
    if (!layout.identity.empty())
      add("identity", translated("read the identity register {}", layout.identity.front().address), "");
    for (const PartSetting& setting : layout.settings)
      add(settings_begin + setting.key, translated("read the setting {} back", setting.key), "");
  }
  // At the far end of the range that is wanted.
  const Range& wanted = chain.channel.wanted;
  const auto here = read_raw(chain, right.input.raw);
  const bool low = !here || *here < (wanted.from + wanted.to) / 2;
  const double span = wanted.to - wanted.from;
  if (const auto raw = raw_for(chain, low ? wanted.to - 0.05 * span : wanted.from + 0.05 * span)) {
    add("second",
        of_arithmetic
            ? translated("look at what the firmware shows for another raw number, such as {:.10g}", *raw)
            : translated("compare again at the other end of the range, where the raw number is about {:.10g}", *raw),
        std::string(chain.shown->symbol));
    all_.back().raw = *raw;
    all_.back().decimals = question.shown ? question.decimals : 2;
  }
}

std::optional<double> Probes::predict(const NextMeasurement& probe, const Firmware& wrong) const {
  const auto finite = [](double value) { return std::isfinite(value) ? std::optional(value) : std::nullopt; };
  if (probe.id == "second") {
    Firmware there = wrong;
    there.input = raw_input(chain_, probe.raw);
    return finite(there.shows(catalogue_));
  }
  if (probe.id == "volts") return wrong.volts(catalogue_);
  if (probe.id == "number") {
    const auto stages = wrong.stages(catalogue_);
    const auto number = stages.find(StageName::raw);
    return number == stages.end() ? std::nullopt : std::optional(number->second);
  }
  if (probe.id == "identity") {
    const ByteLayout& fitted = (wrong.decoder ? wrong.decoder : chain_.decoder)->part().bytes;
    const std::string& address = chain_.decoder->part().bytes.identity.front().address;
    const auto identity = std::ranges::find(fitted.identity, address, &PartIdentity::address);
    if (identity == fitted.identity.end() || identity->values.empty()) return std::nullopt;
    return identity->values.front();
  }
  if (probe.id.starts_with(settings_begin)) {
    const std::string key = probe.id.substr(settings_begin.size());
    if (wrong.decoder) return std::nullopt;  // another part has other settings
    const auto& set = wrong.bench.devices.front().settings;
    const auto own = set.find(key), usual = chain_.decoder->settings().find(key);
    if (own != set.end()) return own->second;
    return usual == chain_.decoder->settings().end() ? std::nullopt : std::optional(usual->second);
  }
  const bool is_bench = wrong.errs_in_bench_alone();
  const Bench& bench = is_bench ? wrong.bench : right_.bench;
  if (probe.id == "fixed" && !bench.devices.empty()) return bench.devices.front().front_end.fixed_ohm;
  if (probe.id == "supply" && !bench.devices.empty()) {
    const Rail* rail = find_by_id(bench.rails, bench.devices.front().front_end.rail);
    return rail ? std::optional(rail->voltage.best_v()) : std::nullopt;
  }
  const auto world = is_bench ? build_chain(bench, catalogue_, wrong.channel) : Result<Chain>(chain_);
  if (!world || world->converter->counts_pulses()) return std::nullopt;
  if (probe.id == "reference") return finite(world->converter->span_v());
  if (probe.id == "pin") return at_stage(*world, pin_stage(*world), right_.input.raw);
  if (probe.id == "sensor" && world->stage(StageName::sensor) &&
      world->stage(StageName::sensor)->unit->dimension == Dimension::resistance)
    return at_stage(*world, StageName::sensor, right_.input.raw);
  return std::nullopt;
}

double Probes::standard(const NextMeasurement& probe, double value) const {
  if (probe.id == "second") {
    if (of_arithmetic_) return std::pow(10.0, -probe.decimals) / 4;  // digits that stand there
    return chain_.channel.tolerance / std::abs(chain_.shown->scale) / 2;
  }
  if (probe.unit.empty()) return 1e-4 * std::abs(value) + 1e-6;  // a number that is read, not measured
  return meter_share * std::abs(value) + (probe.unit == "V" ? 0.001 : 0.5);
}

double Probes::fits(const Firmware& wrong) const {
  double all = 1;
  const auto take = [&](const NextMeasurement& probe, double value) {
    const auto foretold = predict(probe, wrong);
    if (!foretold) return;
    const double off = (value - *foretold) / standard(probe, *foretold);
    all *= std::max(unforeseen, std::exp(-0.5 * off * off));
  };
  for (const Question::Measured& each : question_.measured)
    if (const auto probe = std::ranges::find(all_, each.id, &NextMeasurement::id); probe != all_.end())
      take(*probe, each.value);
  for (const Question::Also& each : question_.also) {
    NextMeasurement probe{.id = "second", .words = "", .unit = "", .information = 0, .predicted = {}};
    probe.raw = each.raw;
    probe.decimals = each.decimals;
    take(probe, each.value);
  }
  return all;
}

std::string Probes::text(const NextMeasurement& probe, double value) const {
  if (probe.id == "second") return with_unit(value, probe.decimals, probe.unit);
  if (probe.id == "identity") return fmt::format("0x{:02X}", static_cast<std::int64_t>(value));
  if (probe.unit.empty()) return fmt::format("{:.10g}", value);
  return with_prefix(value, probe.unit, 4);
}

void Probes::foretell(Diagnosis& diagnosis) const {
  const std::vector<Cause>& causes = diagnosis.causes;
  if (causes.size() < 2) return;
  double all = 0;
  for (const Cause& cause : causes) all += cause.share;
  std::vector<std::vector<std::size_t>> of_probe;
  for (NextMeasurement probe : all_) {
    if (std::ranges::find(question_.measured, probe.id, &Question::Measured::id) != question_.measured.end()) continue;
    for (const Cause& cause : causes)
      probe.predicted.push_back(cause.wrong ? predict(probe, *cause.wrong) : std::nullopt);
    const auto outcome = outcomes(probe.predicted, [&](double value) { return standard(probe, value); });
    std::map<std::size_t, double> weights;
    for (std::size_t i = 0; i < causes.size(); ++i) weights[outcome[i]] += causes[i].share / all;
    // A cause that says nothing of it stays as likely as it is among the others.
    const double silent = weights[0];
    double bits = 0;
    for (const auto& [which, weight] : weights)
      if (which > 0 && weight > 0) bits -= weight * std::log2(weight / (1 - silent));
    probe.information = bits;
    if (bits > worth_measuring) diagnosis.next.push_back(probe), of_probe.push_back(outcome);
  }
  // Of each cause, what tells it from the most of the others.
  for (std::size_t i = 0; i < causes.size(); ++i) {
    double most = 0;
    for (std::size_t p = 0; p < of_probe.size(); ++p) {
      const auto& outcome = of_probe[p];
      if (outcome[i] == 0) continue;
      double excluded = 0;
      std::optional<std::size_t> other;
      for (std::size_t k = 0; k < causes.size(); ++k) {
        if (outcome[k] == 0 || outcome[k] == outcome[i]) continue;
        excluded += causes[k].share;
        if (!other || causes[k].share > causes[*other].share) other = k;
      }
      if (!other || excluded <= most * 1.001) continue;
      most = excluded;
      const NextMeasurement& probe = diagnosis.next[p];
      diagnosis.causes[i].next = translated("{}: {} if it is this, {} if {}", probe.words,
                                            text(probe, *probe.predicted[i]), text(probe, *probe.predicted[*other]),
                                            causes[*other].words.substr(0, causes[*other].words.find(": the truth")));
    }
  }
  std::ranges::stable_sort(diagnosis.next, std::greater{}, &NextMeasurement::information);
}

}  // namespace fair_gauge
