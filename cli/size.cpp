// size: component values, one subcommand a question. Every answer is one JSON value; without --json it is printed as
// lines.
#include <fmt/format.h>

#include <iostream>
#include <memory>

#include "command.h"
#include "quantity/quantity_text.h"
#include "sizing/load_resistor.h"
#include "sizing/pull_up.h"
#include "sizing/rc_filter.h"
#include "sizing/sensor_divider.h"
#include "sizing/span.h"
#include "sizing/voltage_divider.h"

namespace fair_gauge::cli {
namespace {

// Every option as it was typed; each question reads those it has.
using Words = std::map<std::string, std::string>;
using Answer = Result<Json>;

struct Asked {
  Session& session;
  Words words;
  std::vector<std::string> settings;
  std::optional<Problem> fault;  // the first option that could not be read

  bool has(const std::string& name) const { return words.contains(name) && !words.at(name).empty(); }
  std::string text(const std::string& name, const std::string& otherwise = "") const {
    return has(name) ? words.at(name) : otherwise;
  }

  double number(const std::string& name, Dimension dimension, double otherwise) {
    if (!has(name)) return otherwise;
    const auto read = parse_quantity(words.at(name), dimension);
    if (!read) note({fmt::format("--{}: {}", name, read.problem().wrong), read.problem().expected});
    using enum Dimension;
    const bool never_negative = dimension == resistance || dimension == capacitance || dimension == frequency ||
                                dimension == time || dimension == length;
    if (read && never_negative && read->base < 0)
      note({fmt::format("--{}: {} is below zero", name, words.at(name)), "zero or more"});
    return read ? read->base : otherwise;
  }
  std::optional<double> maybe(const std::string& name, Dimension dimension) {
    return has(name) ? std::optional(number(name, dimension, 0)) : std::nullopt;
  }
  int bits(int otherwise = 12) {
    const int value = whole("bits", otherwise);
    if (value < 1 || value > 32) note({fmt::format("--bits: {} is no width of a converter", value), "1 to 32"});
    return std::clamp(value, 1, 32);
  }
  int whole(const std::string& name, int otherwise) {
    const double value = number(name, Dimension::number, otherwise);
    if (value != std::floor(value) || std::abs(value) > 1e6)
      note({fmt::format("--{}: {:g} is no whole number", name, value), "a whole number"});
    return static_cast<int>(value);
  }
  std::vector<double> list(const std::string& name, Dimension dimension) {
    if (!has(name)) return {};
    auto read = parse_quantity_list(words.at(name), dimension);
    if (!read) note({fmt::format("--{}: {}", name, read.problem().wrong), read.problem().expected});
    return read ? *read : std::vector<double>{};
  }
  Between between(const std::string& name, Dimension dimension) {
    const auto values = list(name, dimension);
    if (values.size() != 2 && !fault) note({fmt::format("--{}: {} values", name, values.size()), "minimum,maximum"});
    return values.size() == 2 ? Between{values[0], values[1]} : Between{};
  }
  ResistorChoice resistors() {
    ResistorChoice choice{.drawer_ohm = list("drawer", Dimension::resistance)};
    const auto series = e_series_from_text(text("series", "E24"));
    if (!series)
      note({fmt::format("--series: \"{}\" is no series", text("series")), "E3, E6, E12, E24, E48, E96 or E192"});
    if (series) choice.series = *series;
    return choice;
  }
  void note(Problem problem) {
    if (!fault) fault = std::move(problem);
  }
};

// The part's law and the wanted range in base units of its quantity.
Result<SensorSpan> sensor_span(Asked& asked, const Part*& part) {
  const auto found = find_part(asked.session, asked.text("part"));
  if (!found) return found.problem();
  part = *found;
  if (part->is_digital()) return Problem{fmt::format("\"{}\" answers with bytes", part->id), "an analog part"};
  const auto settings = parse_settings(asked.settings);
  if (!settings) return settings.problem();
  auto law = transfer_law(*part, *settings);
  if (!law) return law.problem();
  const PartQuantity& quantity = part->quantities.front();
  const Dimension dimension = dimension_of(quantity.quantity);
  return SensorSpan{std::move(*law), quantity, asked.number("from", dimension, quantity.minimum),
                    asked.number("to", dimension, quantity.maximum)};
}

std::string_view unit_of(const Part& part) { return base_unit(part.quantities.front().quantity).ucum; }

// ---- the questions ----

Json json_of(const DividerCandidate& candidate) {
  Json json = {{"fixed_ohm", candidate.fixed_ohm},       {"worst_step", candidate.worst_step},
               {"best_step", candidate.best_step},       {"worst_share", candidate.worst_share},
               {"nonlinearity", candidate.nonlinearity}, {"highest_current_a", candidate.highest_a},
               {"source_ohm", candidate.source_ohm},     {"self_heating_k", candidate.self_heating_k}};
  if (!candidate.refused.empty()) json["refused"] = candidate.refused;
  return json;
}

Answer sensor_divider(Asked& asked) {
  const Part* part = nullptr;
  const auto span = sensor_span(asked, part);
  if (!span) return span.problem();
  DividerWish wish{.law = span->law,
                   .range = span->range,
                   .from = span->from,
                   .to = span->to,
                   .supply_v = asked.number("supply", Dimension::voltage, 3.3),
                   .bits = asked.bits(12),
                   .resistors = asked.resistors(),
                   .max_source_ohm = asked.maybe("max-source", Dimension::resistance),
                   .max_self_heating_k = asked.maybe("max-self-heating", Dimension::temperature_difference),
                   .kelvin_per_watt = part->kelvin_per_watt};
  bool known = false;
  for (const auto& [goal, name] : enum_names(DividerGoal{}))
    if (name == asked.text("goal", "resolution")) wish.goal = goal, known = true;
  if (!known)
    asked.note(
        {fmt::format("--goal: \"{}\" is no goal", asked.text("goal")), "resolution, linear, current or relative"});
  if (const std::string position = asked.text("position", "top"); position == "bottom")
    wish.position = Position::bottom;
  if (asked.fault) return *asked.fault;
  const auto size = size_sensor_divider(wish);
  if (!size) return size.problem();
  Json json = json_of(size->chosen);
  json["position"] = enum_name(size->position);
  json["step_unit"] = unit_of(*part);
  json["at_from_v"] = size->at_from_v;
  json["at_to_v"] = size->at_to_v;
  json["goal"] = enum_name(wish.goal);
  Json neighbours = Json::array(), candidates = Json::array();
  if (size->chosen_index > 0) neighbours.push_back(json_of(size->candidates[size->chosen_index - 1]));
  if (size->chosen_index + 1 < size->candidates.size())
    neighbours.push_back(json_of(size->candidates[size->chosen_index + 1]));
  for (const auto& candidate : size->candidates) candidates.push_back(json_of(candidate));
  json["neighbours"] = std::move(neighbours);
  json["candidates"] = std::move(candidates);
  json["assumes"] = size->assumes;
  return json;
}

Json json_of(const LevelDivider& pair) {
  return {{"top_ohm", pair.top_ohm},         {"bottom_ohm", pair.bottom_ohm}, {"ratio", pair.ratio},
          {"ratio_error", pair.ratio_error}, {"source_ohm", pair.source_ohm}, {"loaded_ratio", pair.loaded_ratio},
          {"current_a", pair.current_a}};
}

Answer level_divider(Asked& asked) {
  const LevelWish wish{.from_v = asked.number("from-volts", Dimension::voltage, 0),
                       .to_v = asked.number("to-volts", Dimension::voltage, 0),
                       .max_source_ohm = asked.number("max-source", Dimension::resistance, 10e3),
                       .input_ohm = asked.number("input", Dimension::resistance, 0),
                       .resistors = asked.resistors()};
  if (asked.fault) return *asked.fault;
  const auto pairs = size_level_divider(wish);
  if (!pairs) return pairs.problem();
  Json json = json_of(pairs->front());
  json["full_scale_v"] = wish.from_v * pairs->front().loaded_ratio;
  json["neighbours"] = Json::array();
  for (std::size_t i = 1; i < pairs->size(); ++i) json["neighbours"].push_back(json_of((*pairs)[i]));
  return json;
}

Answer adc(Asked& asked) {
  const Part* part = nullptr;
  const auto span = sensor_span(asked, part);
  if (!span) return span.problem();
  const auto references = asked.list("references", Dimension::voltage), gains = asked.list("gains", Dimension::number);
  const int bits = asked.bits(12);
  if (asked.fault) return *asked.fault;
  const auto table = compare_spans(*span, bits, references, gains);
  if (!table) return table.problem();
  Json json = Json::array();
  for (const SpanCandidate& row : *table) {
    Json line = {{"reference_v", row.reference_v},
                 {"gain", row.gain},
                 {"step_v", row.step_v},
                 {"step_physical", row.step_physical},
                 {"step_unit", unit_of(*part)},
                 {"span_used", row.span_used},
                 {"clips", row.clips}};
    if (row.clips_above) line["clips_above"] = *row.clips_above;
    if (row.clips_below) line["clips_below"] = *row.clips_below;
    json.push_back(std::move(line));
  }
  return json;
}

Answer one_count(Asked& asked) {
  const Part* part = nullptr;
  const auto span = sensor_span(asked, part);
  if (!span) return span.problem();
  const Dimension kind = part ? dimension_of(part->quantities.front().quantity) : Dimension::number;
  const double step =
      asked.number("step", kind == Dimension::temperature ? Dimension::temperature_difference : kind, 1);
  const int bits = asked.bits(12);
  if (asked.fault) return *asked.fault;
  const auto reference = reference_for_step(*span, bits, step);
  if (!reference) return reference.problem();
  return Json{{"reference_v", *reference}, {"step", step}, {"step_unit", unit_of(*part)}, {"bits", bits}};
}

Answer load_resistor(Asked& asked) {
  LoadWish wish;
  if (asked.has("low-current")) wish.low_a = asked.between("low-current", Dimension::current);
  if (asked.has("high-current")) wish.high_a = asked.between("high-current", Dimension::current);
  wish.threshold_v = asked.between("threshold", Dimension::voltage);
  wish.supply_v = asked.number("supply", Dimension::voltage, wish.supply_v);
  wish.headroom_v = asked.number("headroom", Dimension::voltage, wish.headroom_v);
  wish.resistors = asked.resistors();
  if (asked.fault) return *asked.fault;
  const auto size = size_load_resistor(wish);
  if (!size) return size.problem();
  Json json = {{"minimum_ohm", size->minimum_ohm},
               {"maximum_ohm", size->maximum_ohm},
               {"recommended_ohm", size->possible ? Json(size->recommended_ohm) : Json()},
               {"verdict", size->possible ? "good" : "impossible"},
               {"reasons", size->reasons}};
  json["low_v"] = size->possible ? Json{size->low_v.minimum, size->low_v.maximum} : Json();
  json["high_v"] = size->possible ? Json{size->high_v.minimum, size->high_v.maximum} : Json();
  return json;
}

Json json_of(const ReferenceSource& source) {
  return {{"top_ohm", source.top_ohm},
          {"bottom_ohm", source.bottom_ohm > 0 ? Json(source.bottom_ohm) : Json()},
          {"nominal_v", source.nominal_v},
          {"worst_v", {source.lowest_v, source.highest_v}},
          {"current_a", source.current_a}};
}

Answer reference(Asked& asked) {
  ReferenceWish wish;
  wish.supply_v = asked.number("supply", Dimension::voltage, wish.supply_v);
  wish.supply_tolerance = asked.number("supply-tolerance", Dimension::number, wish.supply_tolerance);
  wish.target_v = asked.number("target", Dimension::voltage, wish.target_v);
  wish.load_ohm = asked.number("load", Dimension::resistance, wish.load_ohm);
  wish.max_source_ohm = asked.number("max-source", Dimension::resistance, wish.max_source_ohm);
  wish.resistors = asked.resistors();
  if (asked.fault) return *asked.fault;
  const auto size = size_reference(wish);
  if (!size) return size.problem();
  Json shunt;
  if (size->shunt) {
    shunt = json_of(*size->shunt);
    shunt["shunt_current_a"] = {size->shunt->shunt_lowest_a, size->shunt->shunt_highest_a};
  }
  return Json{{"divider", json_of(size->divider)}, {"shunt", std::move(shunt)}, {"reasons", size->reasons}};
}

Json json_of(const AmplifierSize& size) {
  return {{"gain_wanted", size.gain_wanted}, {"gain", size.gain},           {"feedback_ohm", size.feedback_ohm},
          {"input_ohm", size.input_ohm},     {"offset_v", size.offset_v},   {"at_from_v", size.at_low_v},
          {"at_to_v", size.at_high_v},       {"span_used", size.span_used}, {"gain_error", size.gain_error},
          {"noise_v", size.noise_v}};
}

Answer gain(Asked& asked) {
  GainWish wish{.reference_v = asked.number("reference", Dimension::voltage, 3.3),
                .headroom = asked.number("headroom", Dimension::number, 0.05),
                .resistors = asked.resistors()};
  if (asked.has("part")) {
    const Part* part = nullptr;
    const auto span = sensor_span(asked, part);
    if (!span) return span.problem();
    if (span->law.output_dimension != Dimension::voltage)
      return Problem{fmt::format("\"{}\" gives no voltage by itself", part->id),
                     "a part whose output is a voltage, or --low and --high"};
    wish.low_v = span->law.output(span->from);
    wish.high_v = span->law.output(span->to);
  } else {
    if (!asked.has("low") || !asked.has("high"))
      return Problem{"the sensor's span is not given", "--part with --from and --to, or --low and --high"};
    wish.low_v = asked.number("low", Dimension::voltage, 0);
    wish.high_v = asked.number("high", Dimension::voltage, 0);
  }
  if (asked.fault) return *asked.fault;
  const auto size = size_gain(wish);
  if (!size) return size.problem();
  Json json = json_of(size->shifted);
  json["without_offset"] = json_of(size->plain);
  json["reasons"] = size->reasons;
  return json;
}

Answer rc_filter(Asked& asked) {
  FilterWish wish;
  wish.cutoff_hz = asked.number("cutoff", Dimension::frequency, wish.cutoff_hz);
  wish.settle_s = asked.maybe("settle", Dimension::time);
  wish.bits = asked.whole("bits", wish.bits);
  wish.sample_farad = asked.number("sample-capacitance", Dimension::capacitance, wish.sample_farad);
  wish.acquisition_s = asked.number("acquisition", Dimension::time, wish.acquisition_s);
  wish.max_ohm = asked.number("max-source", Dimension::resistance, wish.max_ohm);
  wish.resistors = asked.resistors();
  if (asked.fault) return *asked.fault;
  const auto size = size_rc_filter(wish);
  if (!size) return size.problem();
  return Json{{"ohm", size->ohm},
              {"farad", size->farad},
              {"cutoff_hz", size->cutoff_hz},
              {"settling_s", size->settling_s},
              {"noise_bandwidth_hz", size->noise_bandwidth_hz},
              {"charge_error_steps", size->charge_error_steps},
              {"verdict", size->possible ? "good" : "impossible"},
              {"reasons", size->reasons}};
}

Json json_of(const PullUpSize& size) {
  const auto or_null = [](const std::optional<double>& value) { return value ? Json(*value) : Json(); };
  return {{"minimum_ohm", size.minimum_ohm},
          {"maximum_ohm", size.maximum_ohm},
          {"recommended_ohm", or_null(size.recommended_ohm)},
          {"existing_parallel_ohm", or_null(size.existing_ohm)},
          {"rise_time_s", or_null(size.rise_s)},
          {"rise_time_limit_s", size.rise_limit_s},
          {"verdict", verdict_name(size.verdict)},
          {"reasons", size.reasons}};
}

Answer answer_of(const Result<PullUpSize>& size) { return size ? Answer(json_of(*size)) : Answer(size.problem()); }

Answer i2c_pullup(Asked& asked) {
  const TwoWireWish wish{.supply_v = asked.number("supply", Dimension::voltage, 3.3),
                         .speed_hz = asked.number("speed", Dimension::frequency, 100e3),
                         .capacitance_f = asked.number("capacitance", Dimension::capacitance, 100e-12),
                         .sink_a = asked.maybe("sink", Dimension::current),
                         .low_level_v = asked.maybe("low-level", Dimension::voltage),
                         .existing_ohm = asked.list("existing", Dimension::resistance),
                         .resistors = asked.resistors()};
  return asked.fault ? Answer(*asked.fault) : answer_of(size_two_wire(wish));
}

Answer one_wire_pullup(Asked& asked) {
  const OneWireWish wish{.supply_v = asked.number("supply", Dimension::voltage, 3.3),
                         .sensors = asked.whole("sensors", 1),
                         .cable_m = asked.number("cable", Dimension::length, 1),
                         .parasite = asked.has("parasite"),
                         .existing_ohm = asked.list("existing", Dimension::resistance),
                         .resistors = asked.resistors()};
  return asked.fault ? Answer(*asked.fault) : answer_of(size_one_wire(wish));
}

Answer open_drain(Asked& asked) {
  const OpenDrainWish wish{.supply_v = asked.number("supply", Dimension::voltage, 3.3),
                           .sink_a = asked.number("sink", Dimension::current, 3e-3),
                           .capacitance_f = asked.number("capacitance", Dimension::capacitance, 50e-12),
                           .edge_s = asked.number("edge", Dimension::time, 1e-6),
                           .low_level_v = asked.number("low-level", Dimension::voltage, 0.4),
                           .existing_ohm = asked.list("existing", Dimension::resistance),
                           .resistors = asked.resistors()};
  return asked.fault ? Answer(*asked.fault) : answer_of(size_open_drain(wish));
}

struct Question {
  const char* name;
  const char* what;
  std::vector<const char*> required;
  std::vector<const char*> others;
  Answer (*answer)(Asked&);
};

const std::vector<Question>& questions() {
  static const std::vector<Question> all = {
      {"sensor-divider",
       "The fixed resistor beside a resistive sensor",
       {"part", "from", "to", "supply"},
       {"bits", "goal", "position", "max-source", "max-self-heating"},
       sensor_divider},
      {"level-divider",
       "Two resistors that lower a voltage",
       {"from-volts", "to-volts"},
       {"max-source", "input"},
       level_divider},
      {"adc",
       "Every reference and gain compared for a sensor's span",
       {"part", "from", "to", "references"},
       {"bits", "gains"},
       adc},
      {"one-count",
       "The reference for which one step is so much of the unit",
       {"part", "from", "to"},
       {"bits", "step"},
       one_count},
      {"load-resistor",
       "The load of a two-level current sensor",
       {"threshold"},
       {"low-current", "high-current", "supply", "headroom"},
       load_resistor},
      {"reference",
       "A reference made from the supply",
       {"supply", "target"},
       {"supply-tolerance", "load", "max-source"},
       reference},
      {"gain",
       "Gain and offset that fill the converter's span",
       {},
       {"part", "from", "to", "low", "high", "reference", "headroom"},
       gain},
      {"rc-filter",
       "A filter before the converter's pin",
       {},
       {"cutoff", "settle", "bits", "sample-capacitance", "acquisition", "max-source"},
       rc_filter},
      {"i2c-pullup",
       "Pull-ups of a two-wire bus",
       {"supply", "speed", "capacitance"},
       {"sink", "low-level", "existing"},
       i2c_pullup},
      {"one-wire-pullup",
       "The pull-up of a one-wire line",
       {"supply", "sensors", "cable"},
       {"existing"},
       one_wire_pullup},
      {"open-drain",
       "The pull-up of an open-drain line",
       {"supply", "sink", "capacitance", "edge"},
       {"low-level", "existing"},
       open_drain},
  };
  return all;
}

void print_lines(const Json& json, const std::string& indent) {
  for (const auto& [key, value] : json.items()) {
    if (key == "candidates") continue;
    const std::string label = json.is_array() ? "" : key + ": ";
    if (value.is_structured() && !value.empty() && (value.is_object() || value.front().is_structured())) {
      std::cout << indent << (label.empty() ? "–" : key) << "\n";
      print_lines(value, indent + "  ");
    } else {
      std::cout << indent << label
                << (value.is_string()         ? value.get<std::string>()
                    : value.is_number_float() ? fmt::format("{:.6g}", value.get<double>())
                                              : value.dump())
                << "\n";
    }
  }
}

struct SizeOptions {
  Words words;
  std::vector<std::string> settings;
  bool parasite = false;
  bool json = false;
};

}  // namespace

void add_size(Command& program, Session& session) {
  Command size = program.add("size", "Component values for a goal");
  for (const Question& question : questions()) {
    auto options = std::make_shared<SizeOptions>();
    Command command = size.add(question.name, question.what, [options, &session, &question] {
      Asked asked{.session = session, .words = options->words, .settings = options->settings, .fault = {}};
      if (options->parasite) asked.words["parasite"] = "yes";
      const Answer answer = question.answer(asked);
      if (!answer) return session.refuse(answer.problem());
      if (options->json)
        print_json(*answer);
      else
        print_lines(*answer, "");
    });
    for (const char* name : question.required)
      command.option("--" + std::string(name), options->words[name], "", Presence::required);
    for (const char* name : question.others) command.option("--" + std::string(name), options->words[name]);
    for (const char* name : {"series", "drawer"}) command.option("--" + std::string(name), options->words[name]);
    command.option("--setting", options->settings, "KEY=VALUE, over the part's own");
    if (std::string_view(question.name) == "one-wire-pullup")
      command.flag("--parasite", options->parasite, "the sensors are powered through the line");
    command.flag("--json", options->json, "as JSON");
  }
}

}  // namespace fair_gauge::cli
