#include "handoff/handoff.h"

#include <fmt/format.h>

#include <algorithm>
#include <cmath>
#include <set>
#include <tuple>

#include "handoff/packer.h"
#include "handoff/reading_plan.h"
#include "handoff/write_filter.h"
#include "language/translation.h"
#include "quantity/number_format.h"
#include "stream/filters.h"
#include "truth/error_budget.h"

namespace fair_gauge {

std::int64_t usual_per_unit(double uncertainty) {
  std::int64_t per_unit = 1;
  while (0.5 / static_cast<double>(per_unit) > uncertainty / 5 && per_unit < 1'000'000'000) per_unit *= 10;
  return per_unit;
}

std::string form_name(HandoffForm form) {
  return form == HandoffForm::integer ? "integer" : form == HandoffForm::table ? "table" : "float";
}

void Packer::take_side(const Chain& side, std::function<Result<Chain>(double)> at) {
  side_ = &side;
  chain_beside_ = std::move(at);
}

Result<Handoff> Packer::pack() {
  const double uncertainty = smallest_uncertainty(chain_);
  HandoffCode& code = handoff_.code;
  code.per_unit = request_.per_unit > 0 ? request_.per_unit : usual_per_unit(uncertainty);
  code.name = c_identifier(chain_.channel.id);
  code.channel_name = called(chain_.channel);
  code.unit = chain_.shown->ucum;
  code.trimming_loaded = request_.trimming_loaded;
  HandoffReport& report = handoff_.report;
  report.channel = chain_.channel.id;
  report.language = request_.language == Language::c ? "c" : "python";
  report.unit = chain_.shown->ucum;
  report.per_unit = code.per_unit;
  report.source = chain_fingerprint(chain_);
  report.allowed_error = uncertainty / 10;
  if (code.name != chain_.channel.id)
    report.notes.push_back(translated("\"{}\" is no name in C: it is called {}", chain_.channel.id, code.name));
  allowed_steps_ = 0.5 + uncertainty / 10 * static_cast<double>(code.per_unit);
  code.comments.push_back(fmt::format("{}, {}", code.channel_name, enum_name(chain_.channel.quantity)));
  if (chain_.channel.switching && !chain_.derived)
    code.switching = switch_codes(chain_, rule_of(*chain_.channel.switching, *chain_.shown));
  if (chain_.channel.switching && !chain_.channel.switching->schedule.empty())
    report.notes.push_back(translated("its goal changes over the day: compare the value with the goal of the time"));
  const auto problem = chain_.derived                       ? of_readings()
                       : chain_.channel.arrives_converted() ? of_arrived()
                       : chain_.decoder                     ? of_bytes()
                       : side_                              ? of_number_and_side()
                                                            : of_number();
  if (problem) return *problem;
  if (request_.is_cancelled && request_.is_cancelled()) return cancelled();
  if (auto unlike = finish()) return *unlike;
  handoff_.files[code.name + "_report.json"] = report_json(report);
  return std::move(handoff_);
}

std::optional<Problem> Packer::finish() {
  HandoffReport& report = handoff_.report;
  const HandoffCode& code = handoff_.code;
  if (report.worst_error_wanted > report.allowed_error + 0.5 / static_cast<double>(code.per_unit))
    report.notes.push_back(translated("its error is more than a tenth of the channel's uncertainty"));
  if (report.allowed_error > 50 * report.worst_error && code.per_unit > 1)
    report.notes.push_back(translated("finer than the channel's uncertainty asks for: fewer steps a unit would do"));
  std::string vectors = code.side ? "raw,status,value,side\n" : "raw,status,value\n";
  for (const HandoffVector& vector : handoff_.vectors)
    vectors += fmt::format("{},{},{}{}\n", vector.raw, static_cast<int>(vector.status),
                           vector.value ? fmt::format("{}", *vector.value) : "",
                           vector.side ? fmt::format(",{}", *vector.side) : "");
  handoff_.files[code.name + "_vectors.csv"] = std::move(vectors);
  if (chain_.channel.filter)
    if (auto unlike = add_filter(*chain_.channel.filter)) return *unlike;
  if (request_.language == Language::python) {
    handoff_.files[code.name + ".py"] = write_python(code);
    return std::nullopt;
  }
  const auto [header, source] = write_c(code);
  // Worst cycles and equal results: over the vectors, with a reading and without.
  std::vector<HandoffCall> calls;
  for (const HandoffVector& vector : handoff_.vectors) {
    HandoffCall call{.input = {}, .status = vector.status, .value = vector.value.value_or(0)};
    if (!code.bytes) {
      const std::string number = fmt::format("{}UL", static_cast<std::uint32_t>(std::stoll(vector.raw)));
      call.input = vector.side ? fmt::format("{{{},{}}}", number, *vector.side) : number;
    } else {
      for (std::size_t at = 0; at + 1 < vector.raw.size(); at += 2)
        call.input += (at == 0 ? "{0x" : ",0x") + vector.raw.substr(at, 2);
      call.input += "}";
    }
    calls.push_back(std::move(call));
  }
  if (!request_.in_simulator) calls.clear();
  const bool in_float = report.form == "float";
  report.cost = measure_handoff(code.name, header, source, std::move(calls), arguments_of(code), in_float ? 1 : 0,
                                code.trimming_loaded ? code.bytes->trimming_bytes : std::vector<std::uint8_t>());
  if (report.cost && report.cost->differing > 0 && !in_float)
    return Problem{translated("{} of {} results are others in the simulator of the 8-bit controller",
                              report.cost->differing, report.cost->compared),
                   translated("a hand-over that could be proven")};
  if (report.cost && report.cost->compared > 0)
    report.notes.push_back(
        in_float
            ? translated("{} of {} results are within a step in the simulator of the 8-bit controller",
                         report.cost->compared - report.cost->differing, report.cost->compared)
            : translated("{} results are the same in the simulator of the 8-bit controller", report.cost->compared));
  if (report.cost) report.measured_on = measuring_tools();
  constexpr int worth_saying = 100;
  if (report.cost && report.cost->library_bytes >= worth_saying)
    report.notes.push_back(translated("{} bytes more of the compiler's library, where nothing else uses them yet",
                                      report.cost->library_bytes));
  constexpr int ram_there = 2048;  // of the controller that it is measured on
  if (report.cost && report.cost->ram_bytes > ram_there)
    report.notes.push_back(translated(
        "its tables take {} bytes of RAM, an 8-bit controller like the one it is measured on has {}: it does "
        "not fit there",
        report.cost->ram_bytes, ram_there));
  handoff_.files[code.name + ".h"] = header;
  handoff_.files[code.name + ".c"] = source;
  return std::nullopt;
}

std::optional<Problem> Packer::add_filter(const KeptFilter& filter) {
  const std::string name = handoff_.code.name;
  std::vector<std::string>& notes = handoff_.report.notes;
  notes.push_back(translated("its filter stands beside it: {}", filter_words(filter)));
  if (request_.language == Language::python) {
    handoff_.files[name + "_filter.py"] = write_filter_python(filter);
    return std::nullopt;
  }
  const auto [header, source] = write_filter_c(name, filter);
  handoff_.files[name + "_filter.h"] = header, handoff_.files[name + "_filter.c"] = source;
  const auto cost = measure_filter(filter, header, source);
  if (cost && cost->differing > 0)
    return Problem{translated("{} of {} filtered values are others in the simulator of the 8-bit controller",
                              cost->differing, cost->compared),
                   translated("a hand-over that could be proven")};
  if (cost && cost->compared > 0)
    notes.push_back(
        translated("the filter takes {} bytes of flash, {} of RAM, at most {} cycles; {} filtered values "
                   "are the same in the simulator",
                   cost->flash_bytes, cost->ram_bytes, cost->cycles_worst, cost->compared));
  return std::nullopt;
}

std::optional<HandoffCost> Packer::measure_filter(const KeptFilter& filter, const std::string& header,
                                                  const std::string& source) const {
  std::vector<std::int32_t> values;
  for (const HandoffVector& vector : handoff_.vectors)
    if (vector.value) values.push_back(*vector.value);
  if (values.empty()) return std::nullopt;
  // As a log of them is filtered, in real numbers; one after the other, far apart.
  constexpr std::size_t count = 200, apart = 7919;
  ChannelLog log;
  for (std::size_t i = 0; i < count; ++i)
    log.rows.push_back({.reading = static_cast<double>(values[i * apart % values.size()])});
  const Filtered expected = filter_log(log, {filter.kind, static_cast<std::size_t>(filter.length), filter.weight});
  std::vector<HandoffCall> calls;
  for (std::size_t i = 0; i < count; ++i) {
    const auto value = static_cast<std::int32_t>(log.rows[i].reading);
    calls.push_back({.input = fmt::format("{}UL", static_cast<std::uint32_t>(value)),
                     .status = HandoffStatus::ok,
                     .value = static_cast<std::int32_t>(std::llround(expected.values[i]))});
  }
  // In the shape of a conversion, with a state of its own.
  const std::string name = handoff_.code.name + "_filter",
                    declared = fmt::format("uint8_t {}_convert(uint32_t raw, int32_t *value)", name);
  const std::string body = fmt::format("{} {{ static {}_state state; *value = {}(&state, (int32_t)raw); return 0; }}\n",
                                       declared, name, name);
  // The state of an exponential filter is rounded on the way.
  const int slack = filter.kind == FilterKind::exponential ? 1 : 0;
  return measure_handoff(name, header + declared + ";\n", source + body, std::move(calls), HandoffArguments::number,
                         slack);
}

HandoffArguments Packer::arguments_of(const HandoffCode& code) {
  return code.bytes  ? HandoffArguments::bytes
         : code.side ? HandoffArguments::number_and_side
                     : HandoffArguments::number;
}

std::string step_words(std::int64_t per_unit) { return per_unit == 1 ? "1" : fmt::format("1/{}", per_unit); }

std::string c_identifier(std::string_view id) {
  static const std::set<std::string_view> keywords = {
      "auto",   "break",    "case",     "char",     "const", "continue", "default", "do",     "double",
      "else",   "enum",     "extern",   "float",    "for",   "goto",     "if",      "inline", "int",
      "long",   "register", "restrict", "return",   "short", "signed",   "sizeof",  "static", "struct",
      "switch", "typedef",  "union",    "unsigned", "void",  "volatile", "while"};
  std::string name;
  for (const char c : id) {
    const auto byte = static_cast<unsigned char>(c);
    if ((byte & 0xC0) == 0x80) continue;  // the rest of a character that has one _ already
    name += byte < 0x80 && (std::isalnum(byte) || c == '_') ? c : '_';
  }
  if (name.empty() || std::isdigit(static_cast<unsigned char>(name.front()))) name = "_" + name;
  if (keywords.contains(name)) name += "_";
  return name;
}

// What it was built of, as text, put through a well-known hash.
std::string chain_fingerprint(const Chain& chain) {
  std::string text = fmt::format("{} {} {} {}", chain.part_id, enum_name(chain.channel.quantity), chain.channel.unit,
                                 chain.channel.device);
  auto [low, high] = raw_range(chain);
  double steps = 1;
  if (!chain.derived && chain.channel.arrives_converted()) {
    const SideInput input = arriving_input(chain);
    low = input.lowest, high = input.highest, steps = static_cast<double>(input.per_unit);
  }
  for (int i = 0; i <= 16; ++i)
    text += fmt::format(
        " {:.12g}",
        exact_reading(chain, (static_cast<double>(low) + static_cast<double>(high - low) * i / 16) / steps));
  if (chain.channel.filter) text += filter_words(*chain.channel.filter);
  for (const auto& [block, bytes] : chain.trimming) text += block + to_hex(bytes);
  std::uint64_t hash = 14695981039346656037ULL;  // FNV-1a
  for (const char c : text) hash = (hash ^ static_cast<unsigned char>(c)) * 1099511628211ULL;
  return fmt::format("{:016x}", hash);
}

Result<Handoff> hand_over(const Bench& bench, const Catalogue& catalogue, const HandoffRequest& request) {
  const auto chain = build_chain(bench, catalogue, request.channel);
  if (!chain) return chain.problem();
  if (chain->derived) return Packer(*chain, request).pack();
  if (chain->channel.arrives_converted()) {
    const bool as_it_is = chain->channel.correction.empty() && chain->channel.arriving_unit() == chain->shown->ucum;
    if (as_it_is)
      return Problem{translated("\"{}\" arrives converted already, and nothing is added to it", request.channel),
                     translated("a correction of it (Correct), or a channel whose raw number arrives")};
    return Packer(*chain, request).pack();
  }
  const Device* device = find_by_id(bench.devices, chain->channel.device);
  if (!chain->decoder && device && !device->side_inputs.empty()) {
    if (device->side_inputs.size() > 1)
      return Problem{translated("\"{}\" needs the readings of several other channels", request.channel),
                     translated("a chain that takes one other reading")};
    const std::string other = device->side_inputs.begin()->second;
    const auto side = build_chain(bench, catalogue, other);
    if (!side) return side.problem();
    Packer packer(*chain, request);
    packer.take_side(*side, [&](double reading) {
      return build_chain(bench, catalogue, request.channel, {{other, reading}});
    });
    return packer.pack();
  }
  Chain whole = *chain;
  // Trimming that is loaded later is tried with the part's example where the bench has none.
  if (whole.decoder && request.trimming_loaded)
    for (const ByteBlock& block : whole.decoder->part().bytes.blocks)
      if (block.role == "trimming" && Decoder::find_block(whole.trimming, block).empty())
        if (const auto example = read_hex(block.example)) whole.trimming[block.name] = *example;
  auto done = Packer(whole, request).pack();
  if (done && request.reading) {
    auto files = reading_files(bench, catalogue, request, done->code);
    if (files)
      done->files.merge(*files);
    else
      done->report.notes.push_back(translated("how it is read is not written: {}", to_text(files.problem())));
  }
  return done;
}

}  // namespace fair_gauge
