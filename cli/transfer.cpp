// forward and inverse: what a sensor puts out for a quantity, and what an output meant.
#include <fmt/format.h>

#include <iostream>
#include <memory>

#include "chain/links.h"
#include "command.h"
#include "quantity/quantity_text.h"

namespace fair_gauge::cli {
namespace {

struct Options {
  std::string part;
  std::vector<std::string> settings;
  std::vector<std::string> at;
  std::string output;
  std::string unit;
  bool json = false;
};

// A sensor ready to be asked: its law within its range.
struct Sensor {
  const Part* part;
  TransferLaw law;
  SensorLink link;
};

Result<Sensor> sensor_of(const Session& session, const Options& options) {
  const auto part = find_part(session, options.part);
  if (!part) return part.problem();
  const auto settings = parse_settings(options.settings);
  if (!settings) return settings.problem();
  auto law = transfer_law(**part, *settings);
  if (!law) return law.problem();
  SensorLink link(*law, (*part)->quantities.front(), "part accuracy", true);
  return Sensor{*part, std::move(*law), std::move(link)};
}

Dimension dimension_of(const std::string& quantity) {
  for (const Dimension dimension : {Dimension::temperature, Dimension::humidity, Dimension::pressure, Dimension::illuminance})
    if (dimension_name(dimension) == quantity) return dimension;
  return Dimension::number;
}

Result<double> value_at(const Sensor& sensor, const std::vector<std::string>& texts) {
  const std::string& quantity = sensor.part->quantities.front().quantity;
  for (const std::string& text : texts) {
    const auto equals = text.find('=');
    if (equals == std::string::npos) return Problem{fmt::format("\"{}\" names no quantity", text), fmt::format("{}=VALUE UNIT", quantity)};
    if (text.substr(0, equals) != quantity) return Problem{fmt::format("the part does not measure \"{}\"", text.substr(0, equals)), quantity};
    const auto value = parse_quantity(text.substr(equals + 1), dimension_of(quantity));
    if (!value) return value.problem();
    return value->base;
  }
  return Problem{"no value is given", fmt::format("--at '{}=VALUE UNIT'", quantity)};
}

void run_forward(Session& session, const Options& options) {
  const auto sensor = sensor_of(session, options);
  if (!sensor) return session.refuse(sensor.problem());
  const auto value = value_at(*sensor, options.at);
  if (!value) return session.refuse(value.problem());
  const auto output = sensor->link.forward(*value);
  if (!output) return session.refuse(output.problem());
  const Unit& unit = base_unit(sensor->law.output_dimension);
  if (options.json)
    print_json({{"output", {{"value", *output}, {"unit", unit.ucum}}}});
  else
    std::cout << with_prefix(*output, unit.symbol, 6) << "\n";
}

void run_inverse(Session& session, const Options& options) {
  const auto sensor = sensor_of(session, options);
  if (!sensor) return session.refuse(sensor.problem());
  const auto output = parse_quantity(options.output, sensor->law.output_dimension);
  if (!output) return session.refuse(output.problem());
  const std::string& quantity = sensor->part->quantities.front().quantity;
  const Unit* unit = &base_unit(dimension_of(quantity));
  if (!options.unit.empty()) {
    const Unit* wanted = unit_by_ucum(options.unit);
    if (!wanted || wanted->dimension != unit->dimension) return session.refuse({fmt::format("\"{}\" is no unit of {}", options.unit, quantity), "a UCUM code of that quantity"});
    unit = wanted;
  }
  const auto value = sensor->link.inverse(output->base);
  Json answer = {{"ok", static_cast<bool>(value)}, {"readings", Json::array()}, {"faults", Json::array()}};
  if (value) {
    Json reading = {{"quantity", quantity}, {"value", unit->from_base(*value)}, {"unit", unit->ucum}};
    if (const std::string& kind = sensor->part->quantities.front().kind; !kind.empty()) reading["kind"] = kind;
    answer["readings"].push_back(std::move(reading));
  } else {
    answer["faults"].push_back({{"code", "out-of-range"}, {"message", to_text(value.problem())}});
  }
  if (options.json) return print_json(answer);
  if (value)
    std::cout << fmt::format("{:.6g} {}\n", unit->from_base(*value), unit->symbol);
  else
    std::cout << to_text(value.problem()) << "\n";
}

CLI::App* add_common(CLI::App& program, const char* name, const char* what, Options& options) {
  auto* command = program.add_subcommand(name, what);
  command->add_option("--part", options.part, "id or marking")->required();
  command->add_option("--setting", options.settings, "KEY=VALUE, over the part's own")->take_all()->allow_extra_args(false);
  command->add_flag("--json", options.json, "as JSON");
  return command;
}

}  // namespace

void add_forward(CLI::App& program, Session& session) {
  auto options = std::make_shared<Options>();
  auto* command = add_common(program, "forward", "What a sensor puts out", *options);
  command->add_option("--at", options->at, "QUANTITY=VALUE UNIT")->required()->take_all()->allow_extra_args(false);
  command->callback([options, &session] { run_forward(session, *options); });
}

void add_inverse(CLI::App& program, Session& session) {
  auto options = std::make_shared<Options>();
  auto* command = add_common(program, "inverse", "What an output of a sensor means", *options);
  command->add_option("--output", options->output, "VALUE UNIT of the sensor's output")->required();
  command->add_option("--unit", options->unit, "UCUM code of the reading");
  command->callback([options, &session] { run_inverse(session, *options); });
}

}  // namespace fair_gauge::cli
