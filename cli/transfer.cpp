// forward and inverse: what a sensor puts out for a quantity, and what an output meant.
#include <fmt/format.h>

#include <cmath>
#include <iostream>
#include <memory>

#include "chain/links.h"
#include "command.h"
#include "digital/encoder.h"
#include "quantity/quantity_text.h"

namespace fair_gauge::cli {
namespace {

struct TransferOptions {
  std::string part;
  std::vector<std::string> settings;
  std::vector<std::string> at;
  std::string registers;
  std::string output;
  std::string unit;
  bool json = false;
};

// A sensor ready to be asked for one of its quantities: its law within its range.
struct Sensor {
  PartQuantity quantity;
  TransferLaw law;
  SensorLink link;
};

// A second quantity beside the measured one is a setting: the air's temperature, the cold junction's.
std::string setting_of_side(Quantity quantity) {
  return quantity == Quantity::cold_junction_temperature ? "cold_junction" : std::string(enum_name(quantity));
}

// The words before the equals sign as a quantity that the part measures, or null.
const PartQuantity* quantity_named(const Part& part, std::string_view name) {
  const auto quantity = enum_by_name<Quantity>(name);
  return quantity ? part.measures(*quantity) : nullptr;
}

Result<Sensor> sensor_of(const Part& part, const PartQuantity& quantity,
                         const std::map<std::string, double>& settings) {
  Part asked = part;
  asked.quantities = {quantity};
  auto law = transfer_law(asked, settings);
  if (!law) return law.problem();
  SensorLink link({.law = *law, .range = quantity});
  return Sensor{quantity, std::move(*law), std::move(link)};
}

struct Given {
  const PartQuantity* quantity = nullptr;
  double value = 0;
  std::map<std::string, double> settings;
};

Result<Given> read_given(const Part& part, const TransferOptions& options) {
  auto settings = parse_settings(options.settings);
  if (!settings) return settings.problem();
  Given given{.settings = std::move(*settings)};
  for (const std::string& text : options.at) {
    const auto equals = text.find('=');
    const std::string name = text.substr(0, equals);
    if (equals == std::string::npos)
      return Problem{fmt::format("\"{}\" names no quantity", text),
                     fmt::format("{}=VALUE UNIT", enum_name(part.quantities.front().quantity))};
    const PartQuantity* quantity = given.quantity ? nullptr : quantity_named(part, name);
    const auto value =
        parse_quantity(text.substr(equals + 1), quantity ? dimension_of(quantity->quantity) : Dimension::temperature);
    if (!value) return value.problem();
    if (quantity) {
      given.quantity = quantity;
      given.value = value->base;
    } else if (const auto side = enum_by_name<Quantity>(name); side && dimension_of(*side) == Dimension::temperature) {
      given.settings[setting_of_side(*side)] = value->base;
    } else {
      return Problem{fmt::format("the part does not measure \"{}\"", name),
                     std::string(enum_name(part.quantities.front().quantity))};
    }
  }
  if (!given.quantity)
    return Problem{"no value is given",
                   fmt::format("--at '{}=VALUE UNIT'", enum_name(part.quantities.front().quantity))};
  return given;
}

// Bytes that a digital part would send, by blocks.
void run_forward_bytes(Session& session, const Part& part, const TransferOptions& options) {
  const auto settings = parse_settings(options.settings, &part);
  if (!settings) return session.refuse(settings.problem());
  auto decoder = Decoder::make(part, *settings);
  if (!decoder) return session.refuse(decoder.problem());
  const auto given = parse_registers(options.registers);
  if (!given) return session.refuse(given.problem());
  std::map<Quantity, double> wanted;
  for (const std::string& text : options.at) {
    const auto equals = text.find('=');
    const PartQuantity* quantity = equals == std::string::npos ? nullptr : quantity_named(part, text.substr(0, equals));
    if (!quantity)
      return session.refuse({fmt::format("\"{}\" names no quantity of the part", text),
                             fmt::format("{}=VALUE UNIT", enum_name(part.quantities.front().quantity))});
    const auto value = parse_quantity(text.substr(equals + 1), dimension_of(quantity->quantity));
    if (!value) return session.refuse(value.problem());
    wanted[quantity->quantity] = value->base;
  }
  const auto bytes = encode(*decoder, wanted, *given);
  if (!bytes) return session.refuse(bytes.problem());
  Json answer = Json::object();
  if (bytes->size() == 1 && bytes->contains("frame")) {
    answer["frame"] = to_hex(bytes->at("frame"));
  } else {
    for (const auto& [name, block] : *bytes) answer["registers"][name] = to_hex(block);
  }
  if (options.json) return print_json(answer);
  for (const auto& [name, block] : *bytes) std::cout << fmt::format("{:<12} {}\n", name, to_hex(block));
}

void run_forward(Session& session, const TransferOptions& options) {
  const auto part = find_part(session, options.part);
  if (!part) return session.refuse(part.problem());
  if ((*part)->is_digital()) return run_forward_bytes(session, **part, options);
  const auto given = read_given(**part, options);
  if (!given) return session.refuse(given.problem());
  const auto sensor = sensor_of(**part, *given->quantity, given->settings);
  if (!sensor) return session.refuse(sensor.problem());
  const auto output = sensor->link.forward(given->value);
  if (!output) return session.refuse(output.problem());
  const bool pulses = sensor->law.output_dimension == Dimension::number;
  const Unit& unit = base_unit(sensor->law.output_dimension);
  if (options.json)
    print_json(pulses ? Json{{"count", static_cast<std::int64_t>(std::llround(*output))}}
                      : Json{{"output", {{"value", *output}, {"unit", unit.ucum}}}});
  else
    std::cout << (pulses ? fmt::format("{} pulses", std::llround(*output)) : with_prefix(*output, unit.symbol, 6))
              << "\n";
}

// What the output is written in: of a loop, also its current.
Result<double> output_of(const std::string& text, const Sensor& sensor, const Part& part,
                         const std::map<std::string, double>& settings) {
  const auto output = parse_quantity(text, sensor.law.output_dimension);
  if (output) return output->base;
  const auto amperes = part.transfer.type == "current-loop" ? parse_quantity(text, Dimension::current) : output;
  if (!amperes) return output.problem();
  return amperes->base * (settings.contains("shunt") ? settings.at("shunt") : part.transfer.numbers.at("shunt"));
}

void run_inverse(Session& session, const TransferOptions& options) {
  const auto part = find_part(session, options.part);
  if (!part) return session.refuse(part.problem());
  if ((*part)->is_digital())
    return session.refuse({fmt::format("\"{}\" answers with bytes", (*part)->id), "decode --part " + (*part)->id});
  const auto settings = parse_settings(options.settings);
  if (!settings) return session.refuse(settings.problem());
  const PartQuantity* quantity = &(*part)->quantities.front();
  const Unit* unit = &base_unit(quantity->quantity);
  if (!options.unit.empty()) {
    const Unit* wanted = unit_by_ucum(options.unit);
    const PartQuantity* other = wanted ? quantity_named(**part, dimension_name(wanted->dimension)) : nullptr;
    if (!other)
      return session.refuse({fmt::format("\"{}\" is no unit of {}", options.unit, enum_name(quantity->quantity)),
                             "a UCUM code of that quantity"});
    quantity = other;
    unit = wanted;
  }
  const auto sensor = sensor_of(**part, *quantity, *settings);
  if (!sensor) return session.refuse(sensor.problem());
  const auto output = output_of(options.output, *sensor, **part, *settings);
  if (!output) return session.refuse(output.problem());
  const auto value = sensor->link.inverse(*output);
  Json answer = {{"ok", static_cast<bool>(value)}, {"readings", Json::array()}, {"faults", Json::array()}};
  if (value) {
    Json reading = {
        {"quantity", enum_name(quantity->quantity)}, {"value", unit->from_base(*value)}, {"unit", unit->ucum}};
    if (quantity->kind != PressureKind::none) reading["kind"] = enum_name(quantity->kind);
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

Command add_common(Command& program, const char* name, const char* what, TransferOptions& options,
                   std::function<void()> run) {
  Command command = program.add(name, what, std::move(run));
  command.option("--part", options.part, "id or marking", Presence::required);
  command.option("--setting", options.settings, "KEY=VALUE, over the part's own");
  command.flag("--json", options.json, "as JSON");
  return command;
}

}  // namespace

void add_forward(Command& program, Session& session) {
  auto options = std::make_shared<TransferOptions>();
  Command command = add_common(program, "forward", "What a sensor puts out", *options,
                               [options, &session] { run_forward(session, *options); });
  command.option("--at", options->at, "QUANTITY=VALUE UNIT", Presence::required);
  command.option("--registers", options->registers, "trimming bytes of a digital part: ADDR=HEX;ADDR=HEX");
}

void add_inverse(Command& program, Session& session) {
  auto options = std::make_shared<TransferOptions>();
  Command command = add_common(program, "inverse", "What an output of a sensor means", *options,
                               [options, &session] { run_inverse(session, *options); });
  command.option("--output", options->output, "VALUE UNIT of the sensor's output", Presence::required);
  command.option("--unit", options->unit, "UCUM code of the reading");
}

}  // namespace fair_gauge::cli
