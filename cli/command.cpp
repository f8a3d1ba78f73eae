#include "command.h"

#include <fmt/format.h>

#include <cstdio>
#include <iostream>

#include "quantity/quantity_text.h"

namespace fair_gauge::cli {

void Session::refuse(const Problem& problem, ExitCode code) {
  std::cerr << to_text(problem) << "\n";
  exit_code = code;
}

void print_json(const Json& value) { std::cout << value.dump(-1, ' ', false, Json::error_handler_t::replace) << "\n"; }

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
    auto number = parse_quantity(value, Dimension::number);
    if (!number) {
      const auto with_unit = parse_quantity_any(value);
      if (!with_unit)
        return Problem{fmt::format("{}: {}", text.substr(0, equals), number.problem().wrong),
                       number.problem().expected};
      number = with_unit;
    }
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

Result<const Part*> find_part(const Session& session, const std::string& name) {
  if (const Part* part = session.catalogue.find(name)) return part;
  std::string near;
  for (const Part* part : session.catalogue.search(name))
    if (near.size() < 80) near += (near.empty() ? "one of " : ", ") + part->id;
  return Problem{fmt::format("there is no part \"{}\"", name),
                 near.empty() ? "an id or marking that `parts` lists" : near};
}

bool is_file_problem(const Problem& problem) { return problem.kind == ProblemKind::file; }

}  // namespace fair_gauge::cli
