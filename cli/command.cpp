#include "command.h"

#include <fmt/format.h>

#include <cmath>

#include <algorithm>
#include <cstdio>
#include <iostream>
#include <set>

#include "quantity/quantity_text.h"

namespace fair_gauge::cli {

void Session::read_parts(const std::vector<std::string>& only) {
  std::vector<Problem> problems;
  catalogue_ = load_catalogue(&problems, only);
  for (const Problem& problem : problems) std::cerr << to_text(problem) << "\n";
  if (catalogue_->parts().empty()) exit_code = no_file;
}

Catalogue& Session::catalogue() {
  if (!catalogue_) read_parts({});
  return *catalogue_;
}

void Session::read_parts_of(const Bench& bench, const std::string& id) {
  if (catalogue_) return;
  std::set<std::string> names, seen = {id};
  std::vector<std::string> next = {id};
  while (!next.empty()) {
    const Channel* channel = find_by_id(bench.channels, next.back());
    next.pop_back();
    if (!channel) continue;
    const auto needs = [&](const std::string& other) {
      if (seen.insert(other).second) next.push_back(other);
    };
    if (channel->derived) needs(channel->derived->of), needs(channel->derived->beside);
    const Device* device = find_by_id(bench.devices, channel->device);
    if (!device) continue;
    names.insert({device->part, device->element});
    if (const Converter* converter = find_by_id(bench.converters, device->converter)) names.insert(converter->part);
    for (const auto& [setting, other] : device->side_inputs) needs(other);
  }
  names.erase("");
  read_parts({names.begin(), names.end()});
}

void Session::refuse(const Problem& problem, ExitCode code) {
  say(problem);
  exit_code = code;
}

void Session::say(const Problem& problem) { std::cerr << plain_text(to_text(problem)) << "\n"; }

std::string plain_text(std::string text) {
  for (char& c : text)
    if (static_cast<unsigned char>(c) < 32 || c == 127) c = '?';
  return text;
}

namespace {

void drop_minus_zeros(Json& value) {
  if (value.is_number_float() && value.get<double>() == 0) value = 0.0;
  if (value.is_structured())
    for (Json& each : value) drop_minus_zeros(each);
}

}  // namespace

Json number_or_null(double value) { return std::isfinite(value) ? Json(value) : Json(nullptr); }

void print_json(Json value) {
  drop_minus_zeros(value);
  std::cout << value.dump(-1, ' ', false, Json::error_handler_t::replace) << "\n";
}

namespace {

// What settings are, by their names: a value with the unit of something else is refused, not read as a number.
constexpr std::pair<std::string_view, Dimension> kinds_of_settings[] = {{"cold_junction", Dimension::temperature},
                                                                        {"temperature", Dimension::temperature},
                                                                        {"r25", Dimension::resistance},
                                                                        {"r10", Dimension::resistance},
                                                                        {"r0", Dimension::resistance},
                                                                        {"shunt", Dimension::resistance},
                                                                        {"nominal", Dimension::resistance},
                                                                        {"supply", Dimension::voltage},
                                                                        {"excitation", Dimension::voltage}};

Result<QuantityValue> value_of_setting(std::string_view key, const std::string& value) {
  const auto known = std::ranges::find(kinds_of_settings, key, &std::pair<std::string_view, Dimension>::first);
  if (known != std::end(kinds_of_settings)) return parse_quantity(value, known->second);
  if (key == "beta" && value.ends_with('K'))
    return parse_quantity(value.substr(0, value.size() - 1), Dimension::number);
  auto number = parse_quantity(value, Dimension::number);
  if (number) return number;
  auto with_unit = parse_quantity_any(value);
  return with_unit ? with_unit : number;
}

}  // namespace

Result<std::map<std::string, double>> parse_settings(const std::vector<std::string>& texts, const Part* part) {
  std::map<std::string, double> settings;
  for (const std::string& text : texts) {
    const auto equals = text.find('=');
    if (equals == std::string::npos || equals == 0)
      return Problem{fmt::format("\"{}\" is no setting", text), "KEY=VALUE"};
    const std::string value = text.substr(equals + 1);
    if (const auto named = part ? value_of_choice(*part, text.substr(0, equals), value) : std::nullopt) {
      settings[text.substr(0, equals)] = *named;
      continue;
    }
    const auto number = value_of_setting(text.substr(0, equals), value);
    if (!number)
      return Problem{fmt::format("{}: {}", text.substr(0, equals), number.problem().wrong), number.problem().expected};
    settings[text.substr(0, equals)] = number->base;
  }
  return settings;
}

Result<ByteBlocks> parse_registers(const std::string& text) {
  ByteBlocks blocks;
  for (std::size_t at = 0; at < text.size();) {
    const std::size_t end = std::min(text.find(';', at), text.size());
    const std::string word = text.substr(at, end - at);
    const auto equals = word.find('=');
    if (equals == std::string::npos || equals == 0)
      return Problem{
          fmt::format("\"{}\" names no registers", word), "ADDR=HEX;ADDR=HEX", {.column = static_cast<int>(at) + 1}};
    const auto bytes = read_hex(std::string_view(word).substr(equals + 1));
    if (!bytes)
      return Problem{bytes.problem().wrong,
                     bytes.problem().expected,
                     {.column = static_cast<int>(at + equals) + 1 + bytes.problem().place.column}};
    blocks[word.substr(0, equals)] = *bytes;
    at = end + 1;
  }
  return blocks;
}

Result<const Part*> find_part(Session& session, const std::string& name) {
  if (const Part* part = session.catalogue().find(name)) return part;
  std::string near;
  for (const Part* part : session.catalogue().suggest(name))
    if (near.size() < 80) near += (near.empty() ? "one of " : ", ") + part->id;
  return Problem{fmt::format("there is no part \"{}\"", name),
                 near.empty() ? "an id or marking that `parts` lists" : near};
}

bool is_file_problem(const Problem& problem) { return problem.kind == ProblemKind::file; }

}  // namespace fair_gauge::cli
