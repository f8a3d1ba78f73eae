#include "diagnose/meter_check.h"

#include <fmt/format.h>

#include <algorithm>
#include <cmath>
#include <map>

#include "language/translation.h"

namespace fair_gauge {
namespace {

constexpr double meter_coverage = 2;  // for 95 %, of contributions none of which is counted

// As the sentences call the places.
std::string_view place_words(StageName stage) {
  switch (stage) {
    case StageName::world: return translated("what is measured");
    case StageName::sensor: return translated("the sensor");
    case StageName::front_end: return translated("the pin");
    case StageName::converter: return translated("the converter's code");
    case StageName::raw: return translated("the raw number");
    default: return translated("the reading");
  }
}

bool is_read_off(const Stage& stage) { return stage.unit->dimension == Dimension::number; }

bool is_measurable(const Stage& stage) {
  switch (stage.unit->dimension) {
    case Dimension::resistance:
    case Dimension::voltage:
    case Dimension::current:
    case Dimension::frequency: return true;
    default: return false;
  }
}

// From one node to another further out, a specimen that is off by some deviations. Codes are not rounded.
double outward(const Chain& chain, double value, std::size_t from, std::size_t to,
               const std::vector<std::vector<double>>& deviations) {
  for (std::size_t i = from; i < to; ++i)
    value = i < chain.converter_node ? chain.links[i]->forward_off(value, deviations[i])
                                     : chain.links[i]->forward(value).value_or(std::nan(""));
  return value;
}

double inward(const Chain& chain, double value, std::size_t from, std::size_t to) {
  for (std::size_t i = from; i > to; --i) value = chain.links[i - 1]->inverse_continuous(value);
  return value;
}

struct Between {
  double standard = 0;  // of what is expected at the place, in its unit
  std::string largest;
};

// What the sources between two nodes do to the outer one, or, where that is known, to the inner one.
Between sources_between(const Chain& chain, std::size_t inner, std::size_t outer, double inner_value,
                        bool outer_is_known) {
  std::vector<std::vector<double>> deviations(chain.links.size());
  std::vector<std::vector<Source>> sources(chain.links.size());
  double value = inner_value;
  for (std::size_t i = inner; i < std::min(outer, chain.converter_node); ++i) {
    sources[i] = chain.links[i]->sources(value);
    deviations[i].assign(sources[i].size(), 0.0);
    value = chain.links[i]->forward_off(value, {});
  }
  // Of the outer node by the inner one; where it is flat, nothing is expected.
  double slope = 1;
  if (outer_is_known) {
    const double step = 1e-4 * std::max(std::abs(inner_value), 1e-3);
    slope = (outward(chain, inner_value + step, inner, outer, deviations) -
             outward(chain, inner_value - step, inner, outer, deviations)) /
            (2 * step);
  }
  std::map<std::string, std::pair<double, std::string>> causes;  // signed sum, and the name of its first source
  for (std::size_t i = inner; i < std::min(outer, chain.converter_node); ++i)
    for (std::size_t k = 0; k < sources[i].size(); ++k) {
      const Source& source = sources[i][k];
      const double standard = source.standard();
      if (!(standard > 0) || source.kind == SourceKind::unknown) continue;
      deviations[i][k] = standard;
      const double above = outward(chain, inner_value, inner, outer, deviations);
      deviations[i][k] = -standard;
      const double below = outward(chain, inner_value, inner, outer, deviations);
      deviations[i][k] = 0;
      if (!std::isfinite(above) || !std::isfinite(below)) continue;
      auto& cause = causes[source.cause.empty() ? fmt::format("{} {}", i, k) : source.cause];
      cause.first += (above - below) / 2 / slope;
      if (cause.second.empty()) cause.second = source.name;
    }
  Between between;
  double most = 0;
  for (const auto& [name, cause] : causes) {
    between.standard = std::hypot(between.standard, cause.first);
    if (std::abs(cause.first) > most) most = std::abs(cause.first), between.largest = cause.second;
  }
  return between;
}

}  // namespace

std::vector<MeterPlace> meter_places(const Chain& chain, StageName known) {
  std::vector<MeterPlace> places;
  const Stage* raw = chain.stage(StageName::raw) ? chain.stage(StageName::raw) : chain.code_stage();
  for (const Stage& stage : chain.stages) {
    if (stage.name == known || (!is_measurable(stage) && &stage != raw)) continue;
    // A number that is known by its code is known; one that arrives converted is no code.
    const bool is_known = &stage == raw && chain.stage(known) && is_read_off(*chain.stage(known));
    if (is_known || (chain.channel.arrives_converted() && &stage == raw)) continue;
    MeterPlace place{.stage = stage.name, .unit = stage.unit, .words = "", .how = ""};
    if (is_read_off(stage)) {
      place.words = translated("the raw number that your firmware prints");
      place.how = translated("as it comes from the converter, before any arithmetic");
    } else if (stage.unit->dimension == Dimension::resistance) {
      place.words = translated("the resistance of the sensor");
      place.how = translated("with the supply off and one leg out of the circuit, or the rest of it is measured too");
    } else if (stage.unit->dimension == Dimension::voltage) {
      place.words = stage.name == StageName::front_end ? translated("the voltage at the pin")
                                                       : translated("the voltage of the sensor");
      place.how = translated("against ground, as close to the pin as the probe gets");
    } else {
      place.words = translated("the {} of the sensor", dimension_name(stage.unit->dimension));
      place.how = translated("as the part's sheet shows it");
    }
    places.push_back(std::move(place));
  }
  return places;
}

Result<MeterCheck> check_with_meter(const Chain& chain, const Anchor& anchor, StageName stage, double measured,
                                    double meter) {
  const Stage* place = chain.stage(stage);
  const Stage* known = chain.stage(anchor.stage);
  if (!place || !known || place == known)
    return Problem{translated("nothing is expected there"), translated("another stage of the chain")};
  const auto values = evaluate(chain, anchor);
  const auto value_at = [&](const Stage& at) -> Result<double> {
    const auto index = static_cast<std::size_t>(&at - chain.stages.data());
    return index < values.size() ? values[index]
                                 : Result<double>(Problem{translated("it has no value"), translated("a value")});
  };
  const auto expected = value_at(*place);
  if (!expected) return expected.problem();
  if (!std::isfinite(measured)) return Problem{translated("that is no number"), translated("what the meter shows")};
  MeterCheck check{.stage = stage, .expected = *expected, .measured = measured};
  // Node values are those of the inner side: a code is what is between its edges.
  const std::size_t inner = std::min(place->node, known->node), outer = std::max(place->node, known->node);
  const bool outer_is_known = known->node == outer;
  const double outer_value = outer_is_known ? anchor.value : *expected;
  const double inner_value = outer_is_known ? inward(chain, outer_value, outer, inner) : anchor.value;
  const Between between = sources_between(chain, inner, outer, inner_value, outer_is_known);
  if (!std::isfinite(between.standard))
    return Problem{translated("a meter tells nothing there: the value hardly follows what is known"),
                   translated("another place")};
  check.largest = between.largest;
  const double of_meter = is_read_off(*place) ? 0 : meter * std::abs(measured) / std::sqrt(3.0);
  check.explained = meter_coverage * std::hypot(between.standard, of_meter);
  const double one = inward(chain, measured, place->node, chain.world_node),
               other = inward(chain, *expected, place->node, chain.world_node);
  check.reading_off = one - other;
  check.share = std::abs(check.reading_off) / chain.channel.tolerance;
  return check;
}

std::string meter_verdict(const Chain& chain, const Anchor& anchor, std::vector<MeterCheck> checks) {
  const Stage* known = chain.stage(anchor.stage);
  if (checks.empty() || !known) return "";
  const auto distance = [&](const MeterCheck& check) {
    const Stage* stage = chain.stage(check.stage);
    const auto node = stage ? stage->node : known->node;
    return node > known->node ? node - known->node : known->node - node;
  };
  std::ranges::sort(checks, {}, distance);
  const MeterCheck* agrees = nullptr;
  for (const MeterCheck& check : checks) {
    if (check.agrees()) {
      agrees = &check;
      continue;
    }
    const StageName near = agrees ? agrees->stage : anchor.stage;
    std::string words = translated("Look between {} and {}: what differs there is {:.2g} times what can be explained.",
                                   place_words(near), place_words(check.stage),
                                   std::abs(check.measured - check.expected) / check.explained);
    if (agrees) words += translated(" As far as {} all is as it ought to be.", place_words(agrees->stage));
    if (!check.largest.empty()) words += translated(" The most uncertain thing there: {}.", check.largest);
    return words;
  }
  return checks.size() == 1
             ? translated("It agrees: what differs is less than the meter and everything between {} and {} may be off.",
                          place_words(anchor.stage), place_words(checks.front().stage))
             : translated("All of it agrees: what differs is less than the meter and everything between may be off.");
}

}  // namespace fair_gauge
