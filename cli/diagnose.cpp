// diagnose: which usual mistake explains this number.
#include "diagnose/diagnose.h"
#include "diagnose/next_measurement.h"

#include <fmt/format.h>

#include <cmath>
#include <iostream>
#include <memory>

#include "channel_chain.h"
#include "quantity/quantity_text.h"

namespace fair_gauge::cli {
namespace {

struct DiagnoseOptions {
  std::string bench, channel, raw, bytes, registers, shown, expected, from, to;
  std::vector<std::string> measured, also;
  bool json = false;
};

// A number of the channel's unit, or one with its own unit.
Result<double> in_unit(const std::string& text, const Chain& chain, const char* option) {
  if (const auto plain = parse_number(text); plain && std::isfinite(*plain)) return *plain;
  const auto value = parse_quantity(text, chain.base->dimension, chain.shown);
  if (!value || !std::isfinite(value->base))
    return Problem{fmt::format("{}: \"{}\" is no {}", option, text, enum_name(chain.channel.quantity)),
                   fmt::format("a number, in {}", chain.shown->symbol)};
  return chain.shown->from_base(value->base);
}

// Digits behind the mark, as they were typed.
int decimals_of(const std::string& text) {
  const auto mark = text.find_first_of(".,");
  int digits = 0;
  for (auto at = mark;
       at != std::string::npos && ++at < text.size() && std::isdigit(static_cast<unsigned char>(text[at]));)
    ++digits;
  return digits;
}

Result<Question> question_of(const DiagnoseOptions& options, const Chain& chain) {
  Question question;
  if (!options.raw.empty()) {
    const auto raw = parse_quantity(options.raw, Dimension::number);
    if (!raw || !std::isfinite(raw->base))
      return Problem{fmt::format("--raw: \"{}\" is no number", options.raw),
                     "the raw number that a log's column holds"};
    question.raw = raw->base;
  }
  if (!options.bytes.empty()) {
    auto bytes = read_hex(options.bytes);
    if (!bytes) return Problem{"--bytes: " + bytes.problem().wrong, bytes.problem().expected, bytes.problem().place};
    question.bytes = std::move(*bytes);
  }
  if (!options.registers.empty()) {
    auto blocks = parse_registers(options.registers);
    if (!blocks)
      return Problem{"--registers: " + blocks.problem().wrong, blocks.problem().expected, blocks.problem().place};
    question.registers = std::move(*blocks);
  }
  if (!options.shown.empty()) {
    const auto shown = in_unit(options.shown, chain, "--shown");
    if (!shown) return shown.problem();
    question.shown = *shown;
    question.decimals = decimals_of(options.shown);
  }
  if (!options.expected.empty()) {
    const auto expected = in_unit(options.expected, chain, "--expected");
    if (!expected) return expected.problem();
    const double tolerance = chain.channel.tolerance / std::abs(chain.shown->scale);
    question.expected = Range{*expected - tolerance, *expected + tolerance};
  }
  if (options.from.empty() != options.to.empty())
    return Problem{"only one end of what is expected is given", "--expected-from and --expected-to together"};
  if (!options.from.empty()) {
    const auto from = in_unit(options.from, chain, "--expected-from"), to = in_unit(options.to, chain, "--expected-to");
    if (!from) return from.problem();
    if (!to) return to.problem();
    if (*from > *to) return Problem{"--expected-from is above --expected-to", "the lower end first"};
    question.expected = Range{*from, *to};
  }
  for (const std::string& each : options.measured) {
    const auto mark = each.find('=');
    const std::string id = each.substr(0, mark), value = mark == std::string::npos ? "" : each.substr(mark + 1);
    const auto measured = measured_value(id, value);
    if (!measured) return Problem{"--measured: " + measured.problem().wrong, measured.problem().expected};
    question.measured.push_back({id, *measured});
  }
  for (const std::string& each : options.also) {
    const auto mark = each.find('=');
    const auto raw = parse_number(each.substr(0, mark));
    const std::string value = mark == std::string::npos ? "" : each.substr(mark + 1);
    if (!raw || value.empty())
      return Problem{fmt::format("--also: \"{}\" is no pair", each), "RAW=VALUE, as in 1873=24.6"};
    const auto number = in_unit(value, chain, "--also");
    if (!number) return number.problem();
    question.also.push_back({*raw, *number, decimals_of(value)});
  }
  return question;
}

void run_diagnose(Session& session, const DiagnoseOptions& options) {
  if (options.shown.empty() && options.expected.empty() && options.from.empty() && options.to.empty())
    return session.refuse({"neither what is shown nor what is expected is given", "--shown, --expected, or both"},
                          wrong_usage);
  const auto bench = open_bench(session, options.bench);
  if (!bench) return;
  const auto chain = build_chain(*bench, session.catalogue(), options.channel);
  if (!chain) {
    Problem problem = chain.problem();
    problem.place.file = options.bench;
    return session.refuse(problem);
  }
  const auto question = question_of(options, *chain);
  if (!question) return session.refuse(question.problem());
  const auto diagnosis = diagnose(*bench, session.catalogue(), options.channel, *question);
  if (!diagnosis) return session.refuse(diagnosis.problem());
  const auto known = [](const std::optional<double>& value) {
    return value && std::isfinite(*value) ? Json(*value) : Json(nullptr);
  };
  if (options.json) {
    Json causes = Json::array();
    for (const Cause& cause : diagnosis->causes) {
      causes.push_back({{"code", cause.code},
                        {"words", cause.words},
                        {"gives", known(cause.gives)},
                        {"share", cause.share},
                        {"arithmetic", cause.arithmetic},
                        {"fix", cause.fix},
                        {"next", cause.next}});
      if (!cause.of_part.empty()) causes.back()["of_part"] = cause.of_part;
    }
    Json measure = Json::array();
    for (const NextMeasurement& next : diagnosis->next) {
      Json foretold = Json::array();
      for (std::size_t i = 0; i < next.predicted.size(); ++i)
        foretold.push_back({{"code", diagnosis->causes[i].code}, {"value", known(next.predicted[i])}});
      measure.push_back({{"id", next.id},
                         {"words", next.words},
                         {"unit", next.unit},
                         {"information", next.information},
                         {"foretold", foretold}});
      if (next.id == "second") measure.back()["raw"] = next.raw;
    }
    return print_json({{"causes", causes},
                       {"right", known(diagnosis->right)},
                       {"verdict", diagnosis->verdict},
                       {"measure", measure},
                       {"also_usual", diagnosis->also_usual}});
  }
  const std::string_view unit = chain->shown->symbol;
  if (diagnosis->right) std::cout << fmt::format("The bench reads {:.6g} {}.\n", *diagnosis->right, unit);
  std::cout << plain_text(diagnosis->verdict) << "\n";
  if (!diagnosis->next.empty()) std::cout << fmt::format("measure next: {}\n", diagnosis->next.front().words);
  for (const Cause& cause : diagnosis->causes) {
    std::cout << fmt::format("\n{:3.0f} %  {}: {}\n", cause.share * 100, cause.code, plain_text(cause.words));
    if (cause.gives) std::cout << fmt::format("       gives {:.6g} {}\n", *cause.gives, unit);
    for (const std::string& line : cause.arithmetic) std::cout << "       " << plain_text(line) << "\n";
    if (!cause.of_part.empty()) std::cout << "       usual with this part: " << plain_text(cause.of_part) << "\n";
    std::cout << "       mend it: " << plain_text(cause.fix)
              << "\n       tell it from others: " << plain_text(cause.next) << "\n";
  }
  for (const std::string& usual : diagnosis->also_usual)
    std::cout << "also usual with this part: " << plain_text(usual) << "\n";
}

}  // namespace

void add_diagnose(Command& program, Session& session) {
  auto options = std::make_shared<DiagnoseOptions>();
  Command command = program.add("diagnose", "Which usual mistake explains this number",
                                [options, &session] { run_diagnose(session, *options); });
  command.option("--bench", options->bench, "bench file", Presence::required);
  command.option("--channel", options->channel, "id of the channel", Presence::required);
  command.option("--raw", options->raw, "the raw number, as a log's column holds it");
  command.option("--bytes", options->bytes, "HEX: the data blocks one after the other");
  command.option("--registers", options->registers, "ADDR=HEX;ADDR=HEX");
  command.some_of({"--raw", "--bytes", "--registers"}, 1);
  command.option("--shown", options->shown, "what the firmware shows, its digits as they stand");
  command.option("--expected", options->expected, "what it ought to be, give or take the channel's tolerance");
  command.option("--expected-from", options->from, "or between this");
  command.option("--expected-to", options->to, "and this");
  command.option("--measured", options->measured,
                 "ID=VALUE: what was measured since, as in pin=1.23V (pin, reference, supply, volts, sensor, fixed, "
                 "identity, number, setting-NAME)");
  command.option(
      "--also", options->also,
      "RAW=VALUE: another raw number, with what is shown for it, or without --shown with what it ought to be");
  command.not_both("--expected", "--expected-from");
  command.not_both("--expected", "--expected-to");
  command.flag("--json", options->json, "as JSON");
}

}  // namespace fair_gauge::cli
