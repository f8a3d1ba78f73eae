// decode: bytes or counts of a digital part → readings; one at a time, as JSON lines, or as columns of raw numbers.
#include <fmt/compile.h>
#include <fmt/format.h>

#include <charconv>
#include <cmath>
#include <fstream>
#include <future>
#include <iostream>
#include <memory>
#include <thread>

#include "chain/links.h"
#include "command.h"

namespace fair_gauge::cli {
namespace {

struct DecodeOptions {
  std::string part;
  std::vector<std::string> settings;
  std::string math = "float";
  std::string registers, frame, count, batch;
  bool trace = false;
  bool json = false;
};

// Numbers as JSON writes them: shortest that reads back the same.
void append_number(std::string& out, double value) {
  fmt::format_to(std::back_inserter(out), FMT_COMPILE("{}"), value);
}

// Four decimals, more than any of these parts resolves: a column of readings, not a last digit.
// \returns where the next character goes; at most 24 are written
char* write_decimals(char* to, double value) {
  if (std::abs(value) > 1e14) return std::to_chars(to, to + 24, value, std::chars_format::scientific, 6).ptr;
  const auto scaled = static_cast<std::int64_t>(value * 1e4 + (value < 0 ? -0.5 : 0.5));
  const fmt::format_int whole(std::abs(scaled / 10000));
  auto rest = static_cast<int>(std::abs(scaled % 10000));
  if (scaled < 0) *to++ = '-';
  to = std::copy_n(whole.data(), whole.size(), to);
  *to = '.';
  for (int i = 4; i > 0; --i, rest /= 10) to[i] = static_cast<char>('0' + rest % 10);
  return to + 5;
}

void append_text(std::string& out, std::string_view text) {
  out += Json(text).dump(-1, ' ', false, Json::error_handler_t::replace);
}

// One decoded answer as a line of JSON.
void append_json(std::string& out, const Decoded& decoded, bool with_trace) {
  out += decoded.ok() ? R"({"ok":true,"readings":[)" : R"({"ok":false,"readings":[)";
  for (const DigitalReading& reading : decoded.readings) {
    if (&reading != &decoded.readings.front()) out += ',';
    out += R"({"quantity":")";
    out += enum_name(reading.quantity->quantity);
    out += R"(","value":)";
    append_number(out, reading.value);
    out += R"(,"unit":")";
    out += base_unit(reading.quantity->quantity).ucum;
    if (reading.quantity->kind != PressureKind::none)
      out.append(R"(","kind":")").append(enum_name(reading.quantity->kind));
    out += R"("})";
  }
  out += R"(],"faults":[)";
  for (const DigitalFault& fault : decoded.faults) {
    if (&fault != &decoded.faults.front()) out += ',';
    out.append(R"({"code":")").append(fault.code).append(R"(","message":)");
    append_text(out, fault.message);
    out += '}';
  }
  out += ']';
  if (!decoded.statuses.empty())
    out.append(R"(,"statuses":)").append(Json(decoded.statuses).dump(-1, ' ', false, Json::error_handler_t::replace));
  if (with_trace) {
    out += R"(,"trace":[)";
    for (const TraceEntry& entry : decoded.trace) {
      if (&entry != &decoded.trace.front()) out += ',';
      out += R"({"symbol":)";
      append_text(out, entry.symbol);
      out += R"(,"value":)";
      if (std::isfinite(entry.value))
        append_number(out, entry.value);
      else
        out += "null";
      out += R"(,"note":)";
      append_text(out, entry.note);
      out += '}';
    }
    out += ']';
  }
  out += "}\n";
}

void print_words(const Decoded& decoded, bool with_trace) {
  for (const DigitalReading& reading : decoded.readings)
    std::cout << fmt::format("{:<26} {:.6g} {}\n", enum_name(reading.quantity->quantity), reading.value,
                             base_unit(reading.quantity->quantity).symbol);
  for (const DigitalFault& fault : decoded.faults) std::cout << fmt::format("{}: {}\n", fault.code, fault.message);
  for (const std::string& status : decoded.statuses) std::cout << status << "\n";
  if (with_trace)
    for (const TraceEntry& entry : decoded.trace)
      std::cout << fmt::format("  {:<14} {:<22.12g} {}\n", entry.symbol, entry.value, entry.note);
}

// ---- a batch of JSON lines ----

constexpr std::size_t longest_line = 1 << 20;

// What stands in the place of a line that could not be understood.
bool refuse_line(std::string& out, const std::string& why) {
  out += R"({"ok":false,"error":)";
  append_text(out, why);
  out += "}\n";
  return false;
}

// Why a line is not even tried; null if it may be.
const char* unfit(std::string_view line) {
  if (line.size() > longest_line) return "the line is too long; a megabyte at most";
  return nests_too_deep(line) ? "values are nested too deep" : nullptr;
}

// A part that counts pulses is a transfer, not a layout.
class PulseDecoder {
 public:
  static Result<PulseDecoder> make(const Part& part, bool trace) {
    auto law = transfer_law(part, {});
    if (!law) return law.problem();
    return PulseDecoder(part, std::move(*law), trace);
  }

  Decoded decode(double count) const {
    Decoded decoded;
    const auto value = link_.inverse(count);
    if (value)
      decoded.readings.push_back({quantity_, *value});
    else
      decoded.faults.push_back({count <= 0 ? "no-response" : "out-of-range", to_text(value.problem())});
    if (trace_) decoded.trace = {{"count", count, "pulses"}};
    if (trace_ && has_simple_equation_)
      decoded.trace.push_back({"T_simple", count / 4096 * 256 - 50, "count/4096·256 − 50, the simple equation"});
    return decoded;
  }

  // \returns false if the line could not be understood
  bool line(const char* begin, const char* end, std::string& out) const {
    if (const char* why = unfit({begin, end})) return refuse_line(out, why);
    const Json json = Json::parse(begin, end, nullptr, false);
    if (json.is_discarded()) return refuse_line(out, "this is no JSON");
    const auto count = json.is_object() ? json.find("count") : json.end();
    if (count == json.end() || !count->is_number_integer())
      return refuse_line(out, "a count was expected, a whole number");
    append_json(out, decode(count->get<double>()), trace_);
    return true;
  }

 private:
  PulseDecoder(const Part& part, TransferLaw law, bool trace)
      : quantity_(&part.quantities.front()),
        link_({.law = std::move(law), .range = part.quantities.front()}),
        has_simple_equation_(part.id == "pulse-count-two-wire"),
        trace_(trace) {}

  const PartQuantity* quantity_;
  SensorLink link_;
  bool has_simple_equation_;
  bool trace_;
};

// Decodes line after line; the settings of a line that brings its own are made ready once.
class LineDecoder {
 public:
  LineDecoder(const Part& part, std::map<std::string, double> settings, Math math, bool trace, Decoder decoder)
      : part_(part), settings_(std::move(settings)), math_(math), trace_(trace), usual_(std::move(decoder)) {}

  // \returns false if the line could not be understood
  bool line(const char* begin, const char* end, std::string& out) {
    try {
      if (std::all_of(begin, end, [](char c) { return c == ' ' || c == '\t'; }))
        return refuse_line(out, "the line is empty");
      if (const char* why = unfit({begin, end})) return refuse_line(out, why);
      const Json json = Json::parse(begin, end);
      if (!json.is_object()) return refuse_line(out, "a JSON object was expected");
      Decoder* decoder = &usual_;
      if (const auto own = json.find("settings"); own != json.end()) {
        auto made = with_settings(*own);
        if (!made) return refuse_line(out, to_text(made.problem()));
        decoder = *made;
      }
      const Tracing tracing = trace_ ? Tracing::on : Tracing::off;
      if (const auto count = json.find("count"); count != json.end()) {
        if (!count->is_number()) return refuse_line(out, "count is no number");
        append_json(out, decoder->decode_count(count->get<double>(), tracing), trace_);
        return true;
      }
      for (auto& [name, bytes] : blocks_) bytes.clear();
      const auto frame = json.find("frame"), registers = json.find("registers");
      if (frame != json.end()) {
        if (const auto fault = take("frame", *frame)) return refuse_line(out, *fault);
      } else if (registers != json.end() && registers->is_object()) {
        for (const auto& [name, hex] : registers->items())
          if (const auto fault = take(name, hex)) return refuse_line(out, *fault);
      } else {
        return refuse_line(out, "one of registers, frame and count was expected");
      }
      append_json(out, decoder->decode(blocks_, tracing), trace_);
      return true;
    } catch (const Json::exception& error) {
      return refuse_line(out, fmt::format("this is no JSON: {}", error.what()));
    }
  }

 private:
  std::optional<std::string> take(const std::string& name, const Json& hex) {
    if (!hex.is_string()) return name + ": a text of hexadecimal bytes was expected";
    const auto bytes = read_hex(hex.get_ref<const std::string&>());
    if (!bytes) return name + ": " + to_text(bytes.problem());
    if (blocks_.size() > 40) blocks_.clear();
    blocks_[name] = *bytes;
    return std::nullopt;
  }
  Result<Decoder*> with_settings(const Json& own) {
    const std::string key = own.dump(-1, ' ', false, Json::error_handler_t::replace);
    if (const auto known = others_.find(key); known != others_.end()) return &known->second;
    std::map<std::string, double> settings = settings_;
    if (!own.is_object()) return Problem{"settings is no object", "an object of settings"};
    for (const auto& [name, value] : own.items()) {
      const auto named =
          value.is_string() ? value_of_choice(part_, name, value.get_ref<const std::string&>()) : std::nullopt;
      if (!named && !value.is_number())
        return Problem{fmt::format("the setting {} is no number", name), "a number or the name of a choice"};
      settings[name] = named ? *named : value.get<double>();
    }
    auto made = Decoder::make(part_, settings, math_);
    if (!made) return made.problem();
    if (others_.size() > 1000) others_.clear();
    return &others_.emplace(key, std::move(*made)).first->second;
  }

  const Part& part_;
  std::map<std::string, double> settings_;
  Math math_;
  bool trace_;
  Decoder usual_;
  std::map<std::string, Decoder> others_;
  ByteBlocks blocks_;
};

// ---- a batch of raw columns ----

// CSV whose columns are fields of the layout, the others as in the given or example bytes: out come the readings alone.
class ColumnDecoder {
 public:
  ColumnDecoder(Decoder decoder, const ByteBlocks& blocks)
      : decoder_(std::move(decoder)), fields_(decoder_.places().size()) {
    const ByteLayout& layout = decoder_.part().bytes;
    for (std::size_t i = 0; i < layout.fields.size(); ++i) {
      const auto block = std::ranges::find(layout.blocks, layout.fields[i].block, &ByteBlock::name);
      auto value = decoder_.places()[i].value(Decoder::find_block(blocks, *block));
      given_.push_back(value.has_value());
      if (!value) value = decoder_.places()[i].value(*read_hex(block->example));
      fields_[i] = static_cast<double>(value.value_or(0));
    }
    readings_.resize(layout.readings.size());
  }

  std::optional<Problem> read_header(std::string_view line) {
    for (std::size_t at = 0; at <= line.size();) {
      const std::size_t end = std::min(line.find(',', at), line.size());
      const auto field = decoder_.field(line.substr(at, end - at));
      if (!field)
        return Problem{fmt::format("\"{}\" is no field of the part", line.substr(at, end - at)),
                       "a header of field names such as adc_T,adc_P",
                       {.line = 1, .column = static_cast<int>(at) + 1}};
      columns_.push_back(*field);
      given_[*field] = true;
      at = end + 1;
    }
    lacking_ = decoder_.lacking(given_, &missing_);
    return std::nullopt;
  }

  std::string header() const {
    std::string line;
    for (const ByteReading& reading : decoder_.part().bytes.readings)
      line += fmt::format("{}{}_{}", line.empty() ? "" : ",", enum_name(reading.quantity),
                          base_unit(reading.quantity).ucum);
    return line + "\n";
  }

  /// What the columns and the given bytes leave out, in words.
  const std::vector<DigitalFault>& missing() const { return missing_; }

  // \returns false for a line whose numbers are not understood; it keeps its place with empty values
  bool line(const char* at, const char* end, std::string& out) {
    bool good = true;
    for (std::size_t i = 0; good && i < columns_.size(); ++i) {
      std::int64_t number = 0;
      const bool negative = at < end && *at == '-';
      const char* digit = at + negative;
      const char* first = digit;
      while (digit < end && *digit >= '0' && *digit <= '9' && digit - first < 15)
        number = number * 10 + (*digit++ - '0');
      good = digit > first && (digit == end ? i + 1 == columns_.size() : *digit == ',');
      fields_[columns_[i]] = static_cast<double>(negative ? -number : number);
      at = digit + 1;
    }
    if (good) decoder_.read_row(fields_, lacking_, readings_);
    char text[8 * 25];
    char* to = text;
    for (std::size_t r = 0; r < readings_.size(); ++r) {
      if (good && std::isfinite(readings_[r])) to = write_decimals(to, readings_[r]);
      *to++ = r + 1 < readings_.size() ? ',' : '\n';
    }
    out.append(text, to);
    return good;
  }

 private:
  Decoder decoder_;
  std::vector<double> fields_;
  std::vector<bool> given_;  // which of them are known
  std::uint32_t lacking_ = 0;
  std::vector<DigitalFault> missing_;
  std::vector<double> readings_;
  std::vector<std::size_t> columns_;
};

constexpr std::size_t piece_size = 1 << 19;

// Gives the lines of a stream to the workers, a run of lines to each at a time, and writes what they say in order.
// \param workers  each has bool line(const char* begin, const char* end, std::string& out), false for a line not
// understood \returns how many lines were not understood
template <class Worker>
std::int64_t each_line(std::istream& input, std::vector<Worker>& workers) {
  std::int64_t bad = 0;
  std::string block;
  const auto work = [](Worker& worker, std::string_view lines) {
    std::pair<std::string, std::int64_t> done;
    done.first.reserve(2 * lines.size());
    for (std::size_t at = 0; at < lines.size();) {
      const std::size_t end = std::min(lines.find('\n', at), lines.size());
      const std::size_t last = end > at && lines[end - 1] == '\r' ? end - 1 : end;
      if (!worker.line(lines.data() + at, lines.data() + last, done.first)) ++done.second;
      at = end + 1;
    }
    return done;
  };
  while (input) {
    const std::size_t held = block.size();
    block.resize(held + piece_size * workers.size());
    input.read(block.data() + held, static_cast<std::streamsize>(piece_size * workers.size()));
    block.resize(held + static_cast<std::size_t>(input.gcount()));
    const std::size_t whole = input ? block.rfind('\n') + 1 : block.size();  // npos + 1 is 0: no line has ended yet
    std::vector<std::future<std::pair<std::string, std::int64_t>>> pieces;
    for (std::size_t at = 0, w = 0; at < whole; ++w) {
      const std::size_t share = std::min(whole, at + whole / workers.size() + 1);
      const std::size_t end = w + 1 == workers.size() ? whole : std::min(block.find('\n', share), whole - 1) + 1;
      pieces.push_back(
          std::async(std::launch::async, work, std::ref(workers[w]), std::string_view(block).substr(at, end - at)));
      at = end;
    }
    for (auto& piece : pieces) {
      const auto [out, not_understood] = piece.get();
      std::cout.write(out.data(), static_cast<std::streamsize>(out.size()));
      bad += not_understood;
    }
    block.erase(0, whole);
    if (block.size() > longest_line) block.resize(longest_line + 1);  // too long already: the rest is not held
  }
  return bad;
}

// What comes in line by line: a file, or standard input.
struct BatchInput {
  std::ifstream file;
  std::istream* stream = nullptr;  // null where it could not be opened
};

bool open_batch(Session& session, const std::string& path, BatchInput& input) {
  input.stream = &std::cin;
  if (path == "-") return true;
  input.file.open(path, std::ios::binary);
  input.stream = &input.file;
  if (!input.file) session.refuse({"the file could not be opened", "a file of JSON lines", {.file = path}}, no_file);
  return static_cast<bool>(input.file);
}

void end_batch(Session& session, const std::string& path, std::istream& input, std::int64_t bad) {
  if (input.bad()) return session.refuse({"reading failed", "", {.file = path}}, no_file);
  if (bad > 0) session.refuse({fmt::format("{} lines could not be understood", bad), "", {.file = path}});
}

void run_pulse_batch(Session& session, const Part& part, const DecodeOptions& options) {
  const auto decoder = PulseDecoder::make(part, options.trace);
  if (!decoder) return session.refuse(decoder.problem());
  BatchInput input;
  if (!open_batch(session, options.batch, input)) return;
  std::vector<PulseDecoder> workers(1, *decoder);
  const std::int64_t bad = each_line(*input.stream, workers);
  end_batch(session, options.batch, *input.stream, bad);
}

void run_batch(Session& session, const Part& part, const DecodeOptions& options,
               const std::map<std::string, double>& settings, const ByteBlocks& blocks) {
  BatchInput opened;
  if (!open_batch(session, options.batch, opened)) return;
  std::istream& input = *opened.stream;
  const Math math = options.math == "integer" ? Math::integer : Math::floating;
  const bool as_json = (input >> std::ws).peek() == '{' || input.peek() == std::char_traits<char>::eof();
  const unsigned threads = std::clamp(std::thread::hardware_concurrency(), 1u, 8u);
  std::int64_t bad = 0;
  if (as_json) {
    std::vector<LineDecoder> workers;
    for (unsigned i = 0; i < threads; ++i)
      workers.emplace_back(part, settings, math, options.trace, *Decoder::make(part, settings, math));
    bad = each_line(input, workers);
  } else {
    std::string header(longest_line, '\0');
    input.getline(header.data(), static_cast<std::streamsize>(header.size()));
    if (input.fail() && !input.eof())
      return session.refuse({"the header is too long", "a megabyte at most", {.file = options.batch, .line = 1}});
    header.resize(static_cast<std::size_t>(input.gcount() - (input.eof() ? 0 : 1)));
    if (header.ends_with('\r')) header.pop_back();
    std::vector<ColumnDecoder> workers;
    for (unsigned i = 0; i < threads; ++i) {
      workers.emplace_back(*Decoder::make(part, settings, math), blocks);
      if (auto problem = workers.back().read_header(header)) {
        problem->place.file = options.batch;
        return session.refuse(*problem);
      }
    }
    for (const DigitalFault& fault : workers.front().missing())
      std::cerr << fault.code << ": " << fault.message << "\n";
    std::cout << workers.front().header();
    bad = each_line(input, workers);
  }
  end_batch(session, options.batch, input, bad);
}

// ---- one answer ----

std::optional<double> whole_number(const std::string& text) {
  std::int64_t number = 0;
  const auto [at, error] = std::from_chars(text.data(), text.data() + text.size(), number);
  return error == std::errc{} && at == text.data() + text.size() ? std::optional(static_cast<double>(number))
                                                                 : std::nullopt;
}

void run_pulses(Session& session, const Part& part, const DecodeOptions& options) {
  const auto decoder = PulseDecoder::make(part, options.trace);
  if (!decoder) return session.refuse(decoder.problem());
  const Decoded decoded = decoder->decode(whole_number(options.count).value_or(std::nan("")));
  if (!options.json) return print_words(decoded, options.trace);
  std::string line;
  append_json(line, decoded, options.trace);
  std::cout << line;
}

void run_decode(Session& session, const DecodeOptions& options) {
  const auto part = find_part(session, options.part);
  if (!part) return session.refuse(part.problem());
  const bool counted = !options.count.empty();
  if (counted && !whole_number(options.count))
    return session.refuse({fmt::format("--count: \"{}\" is no whole number", options.count), "a whole number"});
  if ((*part)->interface == Interface::pulse_count && counted) return run_pulses(session, **part, options);
  if ((*part)->interface == Interface::pulse_count && !options.batch.empty())
    return run_pulse_batch(session, **part, options);
  if (!(*part)->is_digital())
    return session.refuse(
        {fmt::format("\"{}\" does not answer with bytes", (*part)->id), "inverse --part " + (*part)->id});
  const auto settings = parse_settings(options.settings, *part);
  if (!settings) return session.refuse(settings.problem());
  auto decoder = Decoder::make(**part, *settings, options.math == "integer" ? Math::integer : Math::floating);
  if (!decoder) return session.refuse(decoder.problem());
  auto blocks = parse_registers(options.registers);
  if (!blocks)
    return session.refuse(
        {"--registers: " + blocks.problem().wrong, blocks.problem().expected, blocks.problem().place});
  if (!options.batch.empty()) return run_batch(session, **part, options, *settings, *blocks);
  if (!options.frame.empty()) {
    const auto frame = read_hex(options.frame);
    if (!frame)
      return session.refuse({"--frame: " + frame.problem().wrong, frame.problem().expected, frame.problem().place});
    (*blocks)["frame"] = *frame;
  }
  if (const auto& asked = (*part)->bytes.blocks; !options.frame.empty() && !asked.empty())
    if (const auto wanted = static_cast<std::size_t>(asked.front().bytes); (*blocks)["frame"].size() > wanted)
      std::cerr << fmt::format("--frame: {} bytes, of which this part answers with {}: those behind are not read\n",
                               (*blocks)["frame"].size(), wanted);
  const Tracing tracing = options.trace ? Tracing::on : Tracing::off;
  const Decoded decoded =
      counted ? decoder->decode_count(*whole_number(options.count), tracing) : decoder->decode(*blocks, tracing);
  if (!options.json) return print_words(decoded, options.trace);
  std::string line;
  append_json(line, decoded, options.trace);
  std::cout << line;
}

}  // namespace

void add_decode(Command& program, Session& session) {
  auto options = std::make_shared<DecodeOptions>();
  Command command = program.add("decode", "What the bytes or the count of a digital part mean",
                                [options, &session] { run_decode(session, *options); });
  command.option("--part", options->part, "id or marking", Presence::required);
  command.option("--setting", options->settings, "KEY=VALUE");
  command.choice("--math", options->math, {"float", "integer"}, "the sheet's form");
  command.option("--registers", options->registers, "ADDR=HEX;ADDR=HEX");
  command.option("--frame", options->frame, "HEX, in the order over the wire");
  command.option("--count", options->count, "pulses, or the converter's number");
  command.option("--batch", options->batch, "a file of JSON lines, or of raw columns as CSV; - is standard input");
  command.some_of({"--registers", "--frame", "--count", "--batch"}, 2);
  command.not_both("--frame", "--registers");
  command.flag("--trace", options->trace, "every intermediate value");
  command.flag("--json", options->json, "as JSON");
}

}  // namespace fair_gauge::cli
