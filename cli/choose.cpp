// choose: the catalogue ranked for a need.
#include <fmt/format.h>

#include <iostream>
#include <memory>

#include "bench/bench_file.h"
#include "channel_chain.h"
#include "choose/shortlist.h"
#include "command.h"
#include "files/file.h"
#include "quantity/quantity_text.h"

namespace fair_gauge::cli {
namespace {

struct ChooseOptions {
  std::string need;
  std::string bench;
  std::map<std::string, std::string> words;
  std::vector<std::string> interfaces;
  bool own_only = false;
  int most = 0;
  bool json = false;
};

template <class E>
bool take_name(const std::string& word, E& into) {
  for (const auto& [value, name] : enum_names(into))
    if (name == word) {
      into = value;
      return true;
    }
  return false;
}

// The need from its file, then what the options say over it.
Result<Need> need_of(const ChooseOptions& options) {
  Need need;
  if (!options.need.empty()) {
    auto text = read_file(options.need, 1u << 20);
    if (!text) return text.problem();
    auto read = need_from_text(std::move(*text), options.need);
    if (!read) return read.problem();
    need = std::move(*read);
  }
  const auto& words = options.words;
  const auto has = [&](const char* name) { return words.contains(name) && !words.at(name).empty(); };
  if (has("quantity")) {
    const auto quantity = enum_by_name<Quantity>(words.at("quantity"));
    if (!quantity)
      return Problem{"--quantity: \"" + words.at("quantity") + "\" is no quantity",
                     "temperature, humidity, pressure or illuminance"};
    need.quantity = *quantity;
  }
  const Dimension dimension = dimension_of(need.quantity);
  const Dimension difference = dimension == Dimension::temperature ? Dimension::temperature_difference : dimension;
  struct Number {
    const char* name;
    Dimension dimension;
    double* into;
  };
  for (const Number& number :
       {Number{"from", dimension, &need.from}, Number{"to", dimension, &need.to},
        Number{"allowed", difference, &need.allowed}, Number{"resolution", difference, &need.resolution},
        Number{"period", Dimension::time, &need.period_s}, Number{"cable", Dimension::length, &need.cable_m}}) {
    if (!has(number.name)) continue;
    const auto read = parse_quantity(words.at(number.name), number.dimension);
    if (!read) return Problem{fmt::format("--{}: {}", number.name, read.problem().wrong), read.problem().expected};
    *number.into = read->base;
  }
  if (has("kind") && !take_name(words.at("kind"), need.kind))
    return Problem{"--kind: \"" + words.at("kind") + "\" is no kind of pressure",
                   "absolute, gauge, differential or vacuum"};
  if (has("place") && !take_name(words.at("place"), need.place))
    return Problem{"--place: \"" + words.at("place") + "\" is no place", "indoors, humid, surface or liquid"};
  if (has("use") && !take_name(words.at("use"), need.use))
    return Problem{"--use: \"" + words.at("use") + "\" is no use", "display or control"};
  if (!options.interfaces.empty()) need.interfaces.clear();
  for (const std::string& name : options.interfaces) {
    const auto interface = enum_by_name<Interface>(name);
    if (!interface) return Problem{"--interface: \"" + name + "\" is no interface", "one that `parts` names: i2c"};
    need.interfaces.push_back(*interface);
  }
  if (options.own_only) need.own_only = true;
  if (const auto problem = need_problem(need)) return *problem;
  return need;
}

const char* name_of(ReasonKind kind) {
  return kind == ReasonKind::good ? "good" : kind == ReasonKind::costs ? "costs" : "rules-out";
}

Json json_of(const Candidate& candidate, const Need& need) {
  Json reasons = Json::array();
  for (const Reason& reason : candidate.reasons)
    reasons.push_back({{"kind", name_of(reason.kind)}, {"words", reason.words}, {"points", reason.points}});
  Json json = {{"id", candidate.part->id},
               {"name", candidate.part->name},
               {"markings", candidate.part->markings},
               {"ruled_out", candidate.ruled_out()}};
  if (!candidate.errors.empty()) {
    json["unit"] = base_unit(need.quantity).ucum;
    json["worst_expanded"] = candidate.worst;
    json["worst_at"] = candidate.worst_at;
    json["typical_expanded"] = candidate.typical;
    json["used"] = candidate.used(need.allowed);
    json["resolution"] = candidate.step;
    json["span_used"] = candidate.span_used;
    json["points"] = candidate.points;
    json["effort"] = Json::array();
    for (const Effort& effort : candidate.trial.effort) json["effort"].push_back(effort.words);
  }
  json["fastest_s"] = candidate.fastest_s;
  json["reasons"] = std::move(reasons);
  return json;
}

void run_choose(Session& session, const ChooseOptions& options) {
  const auto need = need_of(options);
  if (!need) return session.refuse(need.problem(), is_file_problem(need.problem()) ? no_file : bad_input);
  Bench bench;
  if (!options.bench.empty()) {
    auto loaded = load_with_figures(session, options.bench);
    if (!loaded) return session.refuse(loaded.problem(), is_file_problem(loaded.problem()) ? no_file : bad_input);
    bench = std::move(loaded->bench);
  } else {  // an ordinary controller
    Rail& rail = bench.rails.emplace_back();
    rail.id = "3v3";
    rail.name = "3.3 V rail";
    Converter& converter = bench.converters.emplace_back();
    converter.id = "adc";
    converter.reference_rail = rail.id;
    converter.noise_lsb = 1;
    converter.inl_lsb = converter.offset_lsb = 2;
  }
  auto candidates = shortlist(bench, session.catalogue(), *need);
  if (options.most > 0 && candidates.size() > static_cast<std::size_t>(options.most))
    candidates.resize(static_cast<std::size_t>(options.most));
  if (options.json) {
    Json list = Json::array();
    for (const Candidate& candidate : candidates) list.push_back(json_of(candidate, *need));
    return print_json(list);
  }
  const std::string unit(difference_symbol(base_unit(need->quantity)));
  for (const Candidate& candidate : candidates) {
    if (candidate.ruled_out())
      std::cout << fmt::format(
          "   –      {} ({})\n", candidate.part->name,
          candidate.part->markings.empty() ? candidate.part->id : candidate.part->markings.front());
    else
      std::cout << fmt::format(
          "{:>5.0f}  ±{:<8.3g} {} {} ({})\n", candidate.points, candidate.worst, unit, candidate.part->name,
          candidate.part->markings.empty() ? candidate.part->id : candidate.part->markings.front());
    for (const Reason& reason : candidate.reasons)
      if (reason.kind != ReasonKind::good || !candidate.ruled_out())
        std::cout << fmt::format("          {}\n", reason.words);
  }
}

}  // namespace

void add_choose(Command& program, Session& session) {
  auto options = std::make_shared<ChooseOptions>();
  Command command =
      program.add("choose", "The catalogue ranked for a need", [options, &session] { run_choose(session, *options); });
  command.option("--need", options->need, "file with the need");
  command.option("--bench", options->bench, "bench whose rails, converters and buses are used");
  for (const char* name :
       {"quantity", "kind", "from", "to", "allowed", "resolution", "period", "cable", "place", "use"})
    command.option(std::string("--") + name, options->words[name]);
  command.option("--interface", options->interfaces,
                 "an interface that is free, as `parts` names it; may be given again");
  command.flag("--own-only", options->own_only, "only what lies in the drawer");
  command.option("--most", options->most, "so many at the most", {1, 1000});
  command.flag("--json", options->json, "as JSON");
}

}  // namespace fair_gauge::cli
