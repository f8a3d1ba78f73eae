// The hand-over in C99: no heap, no floating point but in the float form, right where int has 16 bits.
#include <fmt/format.h>

#include <algorithm>
#include <cmath>
#include <limits>
#include <set>
#include <span>
#include <utility>

#include "digital/checks.h"
#include "handoff/c_words.h"
#include "handoff/handoff.h"

namespace fair_gauge {
namespace {

std::string upper(std::string text) {
  for (char& c : text) c = static_cast<char>(std::toupper(static_cast<unsigned char>(c)));
  return text;
}

std::string unsigned_number(std::uint64_t number, int word = 32) { return fmt::format("UINT{}_C({})", word, number); }
std::string float_number(double number) {
  std::string text = fmt::format("{}", static_cast<float>(number));
  if (text.find_first_of(".e") == std::string::npos) text += ".0";
  return text + "f";
}

int decimals_of(std::int64_t per_unit) {
  int decimals = 0;
  for (; per_unit >= 10; per_unit /= 10) ++decimals;
  return decimals;
}

class CWriter {
 public:
  explicit CWriter(const HandoffCode& code) : code_(code) {}

  std::string header() const {
    const std::string& name = code_.name;
    std::string text = fmt::format("/* {}: raw numbers to steps of {} {}. */\n", code_.channel_name,
                                   step_words(code_.per_unit), unit_in_comment(code_.unit));
    text += fmt::format("#ifndef {0}_H\n#define {0}_H\n\n#include <stdint.h>\n\n", upper(name));
    text += fmt::format(
        "#define {}_PER_UNIT INT32_C({})\n#define {}_UNIT \"{}\"\n\n/* What {}_convert returns; on a fault the value "
        "is left "
        "alone. */\n",
        name, code_.per_unit, name, code_.unit, name);
    for (int status = 0; status <= static_cast<int>(HandoffStatus::underflow); ++status)
      text += fmt::format("#define {}_{} {}\n", name, handoff_status_name(static_cast<HandoffStatus>(status)), status);
    text += "\n" + switching_macros();
    if (code_.bytes) {
      for (const PlannedBlock& block : code_.bytes->blocks)
        text += fmt::format("/* bytes[{}] to bytes[{}]: {} */\n", block.at, block.at + block.bytes - 1, block.name);
      if (code_.trimming_loaded) {
        text += "/* The specimen's trimming, once, before the first reading: */\n";
        for (const PlannedBlock& block : code_.bytes->trimming_blocks)
          text += fmt::format("/* bytes[{}] to bytes[{}]: {} */\n", block.at, block.at + block.bytes - 1, block.name);
        text += fmt::format("uint8_t {}_load_trimming(const uint8_t *bytes);\n", name);
      }
      text += fmt::format("uint8_t {}_convert(const uint8_t *bytes, int32_t *value);\n", name);
    } else {
      if (code_.is_signed) text += "/* A raw number with a sign comes as its two's complement in 32 bits. */\n";
      if (code_.input) text += input_comment("raw", *code_.input);
      if (code_.side) text += input_comment("side", *code_.side);
      text += fmt::format("uint8_t {}_convert({});\n", name, arguments_of_number());
    }
    text += fmt::format(
        "/* Sign, digits, {} decimal{}; size counts the closing zero. Returns the length, 0 if it does not fit. */\n",
        decimals_of(code_.per_unit), decimals_of(code_.per_unit) == 1 ? "" : "s");
    text += fmt::format("uint8_t {}_text(int32_t value, char *text, uint8_t size);\n\n#endif\n", name);
    return text;
  }

  std::string source() {
    std::string text = fmt::format("#include \"{}.h\"\n", code_.name);
    if (uses_float()) text += "#include <math.h>\n";
    text += "\n";
    for (const std::string& comment : code_.comments) text += "/* " + comment + " */\n";
    text += code_.bytes ? from_bytes() : from_number();
    text += text_function();
    return text;
  }

 private:
  // Compared with the raw number, after its faults were looked at: those switch off.
  std::string switching_macros() const {
    std::string text;
    for (const auto& [word, limit] : {std::pair{"ON", code_.switching.on}, {"OFF", code_.switching.off}}) {
      if (!limit) continue;
      const bool is_negative = code_.is_signed || limit->code < 0;
      text += fmt::format(
          "#define {}_{}_CODE {}\n", code_.name, word,
          is_negative ? fmt::format("INT32_C({:.0f})", limit->code) : fmt::format("UINT32_C({:.0f})", limit->code));
      text += fmt::format("#define {0}_IS_{1}(raw) (({2})(raw) {3} {0}_{1}_CODE)\n", code_.name, word,
                          is_negative ? "int32_t" : "uint32_t", limit->compare);
    }
    if (text.empty()) return text;
    return "/* Switching by the raw number of a reading without a fault; between the two nothing changes, on a fault "
           "it goes "
           "off. */\n" +
           text + "\n";
  }
  bool uses_float() const {
    return code_.fields_formula || code_.arithmetic.form == HandoffForm::floating || has_condition();
  }
  bool has_condition() const {
    return code_.bytes && std::ranges::any_of(code_.bytes->states,
                                              [](const PlannedState& state) { return state.condition.has_value(); });
  }
  std::string status(HandoffStatus which) const { return status_word(code_, which); }
  // A reading in steps of the result.
  std::string in_steps(const std::string& reading) const {
    return code_.per_unit == 1 ? reading : fmt::format("{} * {}.0f", reading, code_.per_unit);
  }

  std::string arguments_of_number() const {
    return code_.side ? "uint32_t raw, int32_t *value, int32_t side" : "uint32_t raw, int32_t *value";
  }
  static std::string input_comment(const char* argument, const SideInput& of) {
    return fmt::format("/* {}: {}. */\n", argument, of.words());
  }

  // Of one number, named raw: its range, then the arithmetic.
  std::string tables() const {
    const Arithmetic& arithmetic = code_.arithmetic;
    if (arithmetic.form != HandoffForm::table) return "";
    const TableArithmetic& table = arithmetic.table;
    const bool narrow_x = table.x.back() < 65536;
    const bool narrow_y = std::ranges::all_of(table.y, [](std::int32_t y) { return y >= -32768 && y <= 32767; });
    const auto list = [](const char* type, const char* what, const auto& values) {
      return fmt::format("static const {} {}[{}] = {{\n  {}}};\n", type, what, values.size(), in_lines(values));
    };
    return "/* Points of the curve: raw numbers from the first with a reading, and steps of the result. */\n" +
           list(narrow_x ? "uint16_t" : "uint32_t", "points", table.x) +
           list(narrow_y ? "int16_t" : "int32_t", "steps", table.y) + "\n";
  }
  // Numbers of a table, several to a line. A decimal constant is as wide as it needs to be, wherever int has 16 bits.
  static std::string in_lines(const auto& values) {
    constexpr std::size_t width = 76;
    std::string text, line;
    for (const auto& value : values) {
      const std::string number = fmt::format("{}", value);
      if (!line.empty() && line.size() + number.size() + 2 > width) text += std::exchange(line, {}) + ",\n  ";
      line += (line.empty() ? "" : ", ") + number;
    }
    return text + line;
  }

  // Statements that set `result` from `x` (uint32_t, from the first raw number with a reading) or from `number`.
  std::string arithmetic() const {
    const Arithmetic& arithmetic = code_.arithmetic;
    std::string text;
    if (arithmetic.form == HandoffForm::integer && arithmetic.polynomial) {
      text += polynomial(*arithmetic.polynomial);
    } else if (arithmetic.form == HandoffForm::integer) {
      const LinearArithmetic& linear = arithmetic.linear;
      const std::string word = linear.word_bits == 64 ? "uint64_t" : "uint32_t";
      const std::string product = fmt::format("{} * {}", linear.word_bits == 64 ? "(uint64_t)x" : "x",
                                              unsigned_number(linear.multiplier, linear.word_bits));
      const std::string addend = unsigned_number(linear.addend, linear.word_bits);
      text += fmt::format(
          "  /* The sum is never below zero, so that the shift is defined; {} is put back after it. */\n", linear.lift);
      text += fmt::format("  const {} sum = {};\n", word,
                          linear.falls ? addend + " - " + product : addend + " + " + product);
      text += fmt::format("  int32_t result = (int32_t)(sum >> {}) + {};\n", linear.shift, signed_number(linear.lift));
    } else if (arithmetic.form == HandoffForm::table) {
      const std::size_t count = arithmetic.table.x.size();
      if (count == 1) return "  int32_t result = steps[0];\n  (void)x;\n  (void)points;\n";
      const std::string word = arithmetic.table.word_bits == 64 ? "uint64_t" : "uint32_t";
      text += fmt::format(
          "  uint16_t low = 0, high = {1};\n  while (high - low > 1) {{\n    const uint16_t middle = (uint16_t)((low + "
          "high) / 2);\n"
          "    if (x >= points[middle]) low = middle; else high = middle;\n  }}\n"
          "  const uint32_t across = (uint32_t)points[high] - points[low];\n  const int32_t from = steps[low], to = "
          "steps[high];\n"
          "  const {0} along = ({0})(x - points[low]);\n  int32_t result;\n"
          "  if (to >= from) result = from + (int32_t)((along * (uint32_t)(to - from) + across / 2) / across);\n"
          "  else result = from - (int32_t)((along * (uint32_t)(from - to) + across / 2) / across);\n",
          "WORD", count - 1);
      for (std::size_t at = 0; (at = text.find("WORD", at)) != std::string::npos;) text.replace(at, 4, word);
    } else {
      const auto lines = arithmetic.floating->formula.write(Language::c, {{"raw", "number"}});
      for (const auto& [symbol, expression] : lines)
        text += fmt::format("  const float {} = {};\n", symbol, expression);
      text += fmt::format("  int32_t result = (int32_t)floorf({} + 0.5f);\n", in_steps(lines.back().symbol));
    }
    if (arithmetic.held_within)
      text += fmt::format("  if (result < {0}) result = {0};\n  if (result > {1}) result = {1};\n",
                          signed_number(arithmetic.held_within->first), signed_number(arithmetic.held_within->second));
    return text;
  }

  // Horner's scheme: no sum falls below zero, so that each shift is defined.
  std::string polynomial(const PolynomialArithmetic& of) const {
    const int word = of.word_bits;
    const std::string type = word == 64 ? "uint64_t" : "uint32_t";
    std::string text = fmt::format(
        "  /* A polynomial of the {}th power, the highest first. No sum falls below zero; {} is put back at the end. "
        "*/\n",
        of.coefficients.size() - 1, of.lift);
    std::string x = "x";
    if (of.from_top) {
      x = "down";
      text += fmt::format("  const uint32_t down = {} - x; /* from the last with a reading */\n",
                          unsigned_number(static_cast<std::uint64_t>(code_.arithmetic.last - code_.arithmetic.first)));
    }
    text += fmt::format("  {} sum = {};\n", type, unsigned_number(of.coefficients.front(), word));
    for (std::size_t k = 1; k < of.coefficients.size(); ++k)
      text += fmt::format("  sum = {} {} ((sum * {}) >> {});\n", unsigned_number(of.coefficients[k], word),
                          of.falls[k - 1] ? "-" : "+", x, of.shifts[k - 1]);
    return text + fmt::format("  int32_t result = (int32_t)(sum >> {}) + {};\n", of.shift, signed_number(of.lift));
  }

  // The range of raw numbers that are a reading. `raw` is a uint32_t, two's complement where it has a sign.
  std::string range_check(bool with_sign) const {
    const Arithmetic& arithmetic = code_.arithmetic;
    const auto first = static_cast<std::uint32_t>(arithmetic.first), last = static_cast<std::uint32_t>(arithmetic.last);
    std::string text;
    if (with_sign) {
      // Compared with the sign's bit turned, so that the order is that of the numbers.
      text += fmt::format("  if ((raw ^ UINT32_C(0x80000000)) < UINT32_C({})) return {};\n", first ^ 0x80000000U,
                          status(HandoffStatus::low));
      text += fmt::format("  if ((raw ^ UINT32_C(0x80000000)) > UINT32_C({})) return {};\n", last ^ 0x80000000U,
                          status(HandoffStatus::high));
    } else {
      if (first > 0) text += fmt::format("  if (raw < UINT32_C({})) return {};\n", first, status(HandoffStatus::low));
      if (last < 0xFFFFFFFFU)
        text += fmt::format("  if (raw > UINT32_C({})) return {};\n", last, status(HandoffStatus::high));
    }
    if (arithmetic.form == HandoffForm::floating)
      text += with_sign
                  ? "  const float number = raw & UINT32_C(0x80000000) ? -(float)(UINT32_C(0) - raw) : (float)raw;\n"
                  : "  const float number = (float)raw;\n";
    else
      text += fmt::format("  const uint32_t x = raw - UINT32_C({}); /* from the first with a reading */\n", first);
    return text;
  }

  // A formula of the raw number and the side.
  std::string from_formula_of_both() const {
    const SurfaceArithmetic& surface = *code_.surface;
    std::string text =
        fmt::format("uint8_t {}_convert({})\n{{\n", code_.name, arguments_of_number()) + range_check(code_.is_signed);
    text += side_check();
    const auto lines = surface.floating->formula.write(Language::c, {{"raw", "number"}, {"side", "(float)side"}});
    for (const auto& [symbol, expression] : lines) text += fmt::format("  const float {} = {};\n", symbol, expression);
    text += fmt::format("  const float result = floorf({} + 0.5f);\n", in_steps(lines.back().symbol));
    if (surface.has_gaps)
      text += fmt::format("  if (!isfinite(result)) return {};\n", status(HandoffStatus::out_of_range));
    text +=
        fmt::format("  if (!(result >= {})) return {};\n  if (!(result <= {})) return {};\n",
                    float_number(surface.lowest), status(surface.falls ? HandoffStatus::high : HandoffStatus::low),
                    float_number(surface.highest), status(surface.falls ? HandoffStatus::low : HandoffStatus::high));
    return text + fmt::format("  *value = (int32_t)result;\n  return {};\n}}\n\n", status(HandoffStatus::ok));
  }
  std::string side_check() const {
    const SurfaceArithmetic& surface = *code_.surface;
    return fmt::format("  if (side < {} || side > {}) return {};\n", signed_number(surface.side.front()),
                       signed_number(surface.side.back()), status(HandoffStatus::out_of_range));
  }

  // Joints over the raw number and the side; lines between them both ways.
  std::string from_surface() const {
    const SurfaceArithmetic& surface = *code_.surface;
    if (surface.floating) return from_formula_of_both();
    const bool narrow_x = surface.x.back() < 65536;
    const bool narrow_y = std::ranges::all_of(surface.y, [](std::uint32_t y) { return y < 65536; });
    std::string text = fmt::format(
        "/* Joints: raw numbers from the first with a reading, steps of the side, and the result at each pair in\n   "
        "1/{} of a step above {}. */\n",
        1 << surface_fraction_bits, surface.lift);
    text += fmt::format("static const {} points[{}] = {{\n  {}}};\n", narrow_x ? "uint16_t" : "uint32_t",
                        surface.x.size(), in_lines(surface.x));
    text += fmt::format("static const int32_t sides[{}] = {{\n  {}}};\n", surface.side.size(), in_lines(surface.side));
    text += fmt::format("static const {} steps[{}][{}] = {{\n", narrow_y ? "uint16_t" : "uint32_t", surface.side.size(),
                        surface.x.size());
    for (std::size_t row = 0; row < surface.side.size(); ++row)
      text +=
          fmt::format("  {{{}}}{}\n", in_lines(std::span(surface.y).subspan(row * surface.x.size(), surface.x.size())),
                      row + 1 < surface.side.size() ? "," : "");
    text += "};\n\n";
    const std::string word = surface.word_bits == 64 ? "uint64_t" : "uint32_t";
    text += fmt::format(
        "static uint32_t between(uint32_t a, uint32_t b, {0} along, uint32_t across)\n{{\n"
        "  if (b >= a) return a + (uint32_t)(((b - a) * along + across / 2) / across);\n"
        "  return a - (uint32_t)(((a - b) * along + across / 2) / across);\n}}\n\n",
        word);
    text +=
        fmt::format("uint8_t {}_convert({})\n{{\n", code_.name, arguments_of_number()) + range_check(code_.is_signed);
    text += side_check();
    const auto search = [](const char* low, const char* high, std::size_t last, const char* what, const char* in) {
      return fmt::format(
          "  uint16_t {0} = 0, {1} = {2};\n  while ({1} - {0} > 1) {{\n    const uint16_t middle = (uint16_t)(({0} + "
          "{1}) / 2);\n    if ({3} >= {4}[middle]) {0} = middle; else {1} = middle;\n  }}\n",
          low, high, last, what, in);
    };
    text += search("left", "right", surface.x.size() - 1, "x", "points");
    text += search("above", "below", surface.side.size() - 1, "side", "sides");
    text +=
        "  const uint32_t deep = (uint32_t)(side - sides[above]), depth = (uint32_t)(sides[below] - sides[above]);\n"
        "  const uint32_t from = between(steps[above][left], steps[below][left], deep, depth);\n"
        "  const uint32_t to = between(steps[above][right], steps[below][right], deep, depth);\n"
        "  const uint32_t sum = between(from, to, x - points[left], (uint32_t)points[right] - points[left]);\n";
    text += fmt::format("  const int32_t result = (int32_t)((sum + {}U) >> {}) + {};\n",
                        1 << (surface_fraction_bits - 1), surface_fraction_bits, signed_number(surface.lift));
    const HandoffStatus less = surface.falls ? HandoffStatus::high : HandoffStatus::low;
    const HandoffStatus more = surface.falls ? HandoffStatus::low : HandoffStatus::high;
    text += fmt::format("  if (result < {}) return {};\n  if (result > {}) return {};\n", signed_number(surface.lowest),
                        status(less), signed_number(surface.highest), status(more));
    return text + fmt::format("  *value = result;\n  return {};\n}}\n\n", status(HandoffStatus::ok));
  }

  std::string from_number() const {
    if (code_.surface) return from_surface();
    return tables() + fmt::format("uint8_t {}_convert({})\n{{\n", code_.name, arguments_of_number()) +
           range_check(code_.is_signed) + arithmetic() +
           fmt::format("  *value = result;\n  return {};\n}}\n\n", status(HandoffStatus::ok));
  }

  // ---- bytes ----

  static std::string field_name(const PlannedField& field) { return c_identifier(field.name); }

  // The field's number as a uint32_t, two's complement where it has a sign.
  std::string extracted(const PlannedField& field, const std::string& name, const std::string& indent) const {
    std::string text =
        fmt::format("{}uint32_t {} = {};\n", indent, name, bits_as_number(field.runs, field.bits, Language::c));
    if (field.bits < 32 || field.sign == FieldSign::magnitude) {
      const std::uint32_t top = 1U << (field.bits - 1);
      if (field.sign == FieldSign::twos)
        text += fmt::format("{}if ({} & UINT32_C({})) {} |= UINT32_C({}); /* its sign */\n", indent, name, top, name,
                            static_cast<std::uint32_t>(~(2 * top - 1)));
      if (field.sign == FieldSign::magnitude)
        text +=
            fmt::format("{0}if ({1} & UINT32_C({2})) {1} = UINT32_C(0) - ({1} - UINT32_C({2})); /* sign and size */\n",
                        indent, name, top);
    }
    return text;
  }
  // Whether the number is that of one field alone, which is called raw then.
  bool of_one_field() const { return !code_.fields_formula && !code_.sheet; }
  std::string called(const PlannedField& field) const {
    return of_one_field() && field.name == code_.bytes->own ? "raw" : field_name(field);
  }
  // What a formula calls the fields.
  std::map<std::string, std::string> as_floats() const {
    std::map<std::string, std::string> names;
    for (const PlannedField& field : code_.bytes->fields)
      names[field.name] = field.trimming || (field.sign == FieldSign::none && field.bits < 32)
                              ? "(float)" + called(field)
                              : fmt::format("(float)to_signed({})", called(field));
    return names;
  }

  std::string check_functions() const {
    std::set<std::string> kinds;
    for (const PlannedCheck& check : code_.bytes->checks) kinds.insert(check.kind);
    std::string text;
    const auto crc8 = [&](const char* name, const char* first) {
      return fmt::format(
          "/* CRC-8, polynomial 0x31, {1} to begin with. */\nstatic uint8_t {0}(const uint8_t *bytes, uint8_t "
          "count)\n{{\n  uint8_t crc = {1};\n"
          "  while (count-- > 0) {{\n    crc ^= *bytes++;\n    for (uint8_t bit = 0; bit < 8; ++bit) crc = "
          "(uint8_t)(crc & 0x80 ? (crc << 1) ^ 0x31 : crc << 1);\n  }}\n  return crc;\n}}\n\n",
          name, first);
    };
    if (kinds.contains("crc8-ff")) text += crc8("crc8_ff", "0xFF");
    if (kinds.contains("crc8-00")) text += crc8("crc8_00", "0x00");
    if (kinds.contains("crc8-07"))
      text +=
          "/* CRC-8, polynomial 0x07; crc: that of the addresses and the command before. */\nstatic uint8_t "
          "crc8_07(const uint8_t *bytes, uint8_t count, uint8_t crc)\n{\n  while (count-- > 0) {\n    crc ^= "
          "*bytes++;\n    for (uint8_t bit = 0; bit < 8; ++bit) crc = (uint8_t)(crc & 0x80 ? (crc << 1) ^ 0x07 : crc "
          "<< "
          "1);\n  }\n  return crc;\n}\n\n";
    if (kinds.contains("crc8-onewire"))
      text +=
          "/* CRC-8 of one-wire, least significant bit first. */\nstatic uint8_t crc8_onewire(const uint8_t *bytes, "
          "uint8_t count)\n{\n  uint8_t crc = 0;\n"
          "  while (count-- > 0) {\n    crc ^= *bytes++;\n    for (uint8_t bit = 0; bit < 8; ++bit) crc = "
          "(uint8_t)(crc & 1 ? (crc >> 1) ^ 0x8C : crc >> 1);\n  }\n  return crc;\n}\n\n";
    if (kinds.contains("sum8"))
      text +=
          "static uint8_t sum8(const uint8_t *bytes, uint8_t count)\n{\n  uint8_t sum = 0;\n  while (count-- > 0) sum "
          "= (uint8_t)(sum + *bytes++);\n  return sum;\n}\n\n";
    if (kinds.contains("crc16-a001"))
      text +=
          "/* CRC-16, polynomial 0xA001, least significant bit first. */\nstatic uint16_t crc16_a001(const uint8_t "
          "*bytes, uint8_t count)\n{\n  uint16_t crc = 0xFFFF;\n"
          "  while (count-- > 0) {\n    crc ^= *bytes++;\n    for (uint8_t bit = 0; bit < 8; ++bit) crc = "
          "(uint16_t)(crc & 1 ? (crc >> 1) ^ 0xA001 : crc >> 1);\n  }\n  return crc;\n}\n\n";
    if (kinds.contains("not-all-ones") || kinds.contains("not-all-zeros"))
      text +=
          "static uint8_t all_are(const uint8_t *bytes, uint8_t count, uint8_t what)\n{\n  while (count-- > 0)\n    if "
          "(*bytes++ != what) return 0;\n  return 1;\n}\n\n";
    return text;
  }

  std::string checks() const {
    std::string text;
    for (const PlannedCheck& check : code_.bytes->checks) {
      const std::string where = fmt::format("bytes + {}, {}", check.from, check.to - check.from + 1);
      std::string fails;
      if (check.kind == "not-all-ones" || check.kind == "not-all-zeros")
        fails = fmt::format("all_are({}, {})", where, check.kind == "not-all-ones" ? "0xFF" : "0x00");
      else if (check.kind == "crc16-a001")
        fails = fmt::format("crc16_a001({0}) != (uint16_t)(bytes[{1}] | ((uint16_t)bytes[{2}] << 8))", where, check.at,
                            check.at + 1);
      else if (check.kind == "crc8-07")
        fails = fmt::format("crc8_07({}, 0x{:02X}) != bytes[{}]", where, crc8_of_before({.before = check.before}),
                            check.at);
      else
        fails = fmt::format("{}({}) != bytes[{}]",
                            check.kind == "crc8-ff"   ? "crc8_ff"
                            : check.kind == "crc8-00" ? "crc8_00"
                            : check.kind == "sum8"    ? "sum8"
                                                      : "crc8_onewire",
                            where, check.at);
      text += fmt::format("  if ({}) return {};\n", fails, status(check.status));
    }
    return text;
  }

  std::string states(bool of_trimming) const {
    std::string text;
    for (const PlannedState& state : code_.bytes->states) {
      if (state.condition) {
        if (of_trimming) continue;
        const auto lines = state.condition->write(Language::c, as_floats());
        text += "  {\n";
        for (const auto& [symbol, expression] : lines)
          text += fmt::format("    const float {} = {};\n", symbol, expression);
        for (const std::int64_t equal : state.equals)
          text += fmt::format("    if ({} == {}.0f) return {};\n", lines.back().symbol, equal, status(state.status));
        text += "  }\n";
        continue;
      }
      const PlannedField& field = *std::ranges::find(code_.bytes->fields, state.field, &PlannedField::name);
      if (field.trimming != of_trimming) continue;
      std::string any;
      for (const std::int64_t equal : state.equals)
        any += fmt::format("{}{} == UINT32_C({})", any.empty() ? "" : " || ", called(field),
                           static_cast<std::uint32_t>(equal));
      text += fmt::format("  if ({}) return {};\n", any, status(state.status));
    }
    return text;
  }

  std::string trimming() const {
    std::string text;
    for (const PlannedField& field : code_.bytes->fields) {
      if (!field.trimming) continue;
      if (code_.trimming_loaded)
        text += fmt::format("static int32_t {};\n", field_name(field));
      else
        text += fmt::format("#define {} {}\n", field_name(field), signed_number(field.value));
    }
    if (text.empty()) return "";
    text = (code_.trimming_loaded ? "/* Trimming of the specimen, as it was loaded. */\n"
                                  : "/* Trimming of this specimen. */\n") +
           text;
    if (!code_.trimming_loaded) return text + "\n";
    text += "static uint8_t is_loaded;\n\n";
    text += fmt::format("uint8_t {}_load_trimming(const uint8_t *bytes)\n{{\n", code_.name);
    for (const PlannedBlock& block : code_.bytes->trimming_blocks)
      if (block.bytes > 1)
        text += fmt::format("  if (is_all(bytes + {}, {}, 0x00) || is_all(bytes + {}, {}, 0xFF)) return {};\n",
                            block.at, block.bytes, block.at, block.bytes, status(HandoffStatus::no_response));
    text += "  {\n";
    std::string taken;
    for (const PlannedField& field : code_.bytes->fields) {
      if (!field.trimming) continue;
      const std::string raw = "word_" + field_name(field);
      text += extracted(field, raw, "    ");
      taken += fmt::format("    {} = to_signed({});\n", field_name(field), raw);
    }
    for (const PlannedState& state : code_.bytes->states) {
      if (state.condition) continue;
      const PlannedField& field = *std::ranges::find(code_.bytes->fields, state.field, &PlannedField::name);
      if (!field.trimming) continue;
      for (const std::int64_t equal : state.equals)
        text += fmt::format("    if (word_{} == UINT32_C({})) return {};\n", field_name(field),
                            static_cast<std::uint32_t>(equal), status(state.status));
    }
    text += taken + "  }\n  is_loaded = 1;\n" + fmt::format("  return {};\n}}\n\n", status(HandoffStatus::ok));
    return "static uint8_t is_all(const uint8_t *bytes, uint8_t count, uint8_t what)\n{\n  while (count-- > 0)\n    if "
           "(*bytes++ != what) return 0;\n  return 1;\n}\n\n" +
           text;
  }

  std::string from_bytes() const {
    const BytePlan& plan = *code_.bytes;
    std::string body;
    for (const PlannedField& field : plan.fields)
      if (!field.trimming) body += extracted(field, called(field), "  ");
    body += states(false);
    std::string finish;
    if (of_one_field()) {
      const PlannedField& own = *std::ranges::find(plan.fields, plan.own, &PlannedField::name);
      finish = range_check(own.sign != FieldSign::none) + arithmetic() + "  *value = result;\n";
    } else if (code_.fields_formula) {
      const auto lines = code_.fields_formula->write(Language::c, as_floats());
      for (const auto& [symbol, expression] : lines)
        finish += fmt::format("  const float {} = {};\n", symbol, expression);
      const std::string& last = lines.back().symbol;
      finish += fmt::format("  if (!({0} >= {1})) return {2};\n  if (!({0} <= {3})) return {4};\n", last,
                            float_number(code_.lowest), status(HandoffStatus::low), float_number(code_.highest),
                            status(HandoffStatus::high));
      finish += fmt::format("  *value = (int32_t)floorf({} + 0.5f);\n", in_steps(last));
    } else {
      finish = write_sheet_c(code_);
    }
    const std::string trimmed = trimming();
    std::string text = check_functions();
    if ((trimmed + body + finish).find("to_signed(") != std::string::npos)
      text +=
          "static int32_t to_signed(uint32_t number)\n{\n  return number & UINT32_C(0x80000000) ? "
          "-(int32_t)(UINT32_C(0xFFFFFFFF) - "
          "number) - 1 : (int32_t)number;\n}\n\n";
    text += trimmed + tables();
    if (code_.fields_formula)
      for (const ReferenceTable& table : code_.fields_formula->tables()) text += table.write(Language::c);
    text += fmt::format("uint8_t {}_convert(const uint8_t *bytes, int32_t *value)\n{{\n", code_.name);
    if (code_.trimming_loaded) text += fmt::format("  if (!is_loaded) return {};\n", status(HandoffStatus::not_ready));
    text += checks() + body + finish + fmt::format("  return {};\n}}\n\n", status(HandoffStatus::ok));
    return text;
  }

  std::string text_function() const {
    const int decimals = decimals_of(code_.per_unit);
    std::string text = fmt::format(
        "uint8_t {}_text(int32_t value, char *text, uint8_t size)\n{{\n  char digits[14];\n  uint8_t count = 0, length "
        "= 0;\n"
        "  uint32_t left = value < 0 ? UINT32_C(0) - (uint32_t)value : (uint32_t)value;\n  do {{\n",
        code_.name);
    if (decimals > 0) text += fmt::format("    if (count == {}) digits[count++] = '.';\n", decimals);
    text += fmt::format(
        "    digits[count++] = (char)('0' + (char)(left % 10));\n    left /= 10;\n  }} while (left > 0{});\n",
        decimals > 0 ? fmt::format(" || count < {}", decimals + 2) : "");
    text +=
        "  if (value < 0) digits[count++] = '-';\n  if (size == 0 || count > (uint8_t)(size - 1)) return 0;\n  while "
        "(count > 0) text[length++] = digits[--count];\n  text[length] = '\\0';\n  return length;\n}\n";
    return text;
  }

  const HandoffCode& code_;
};

}  // namespace

std::string bits_as_number(std::span<const BitRun> runs, int bits, Language language) {
  const bool c = language == Language::c;
  std::string text;
  for (const BitRun& run : runs) {
    const int width = run.high - run.low + 1;
    bits -= width;
    std::string piece = fmt::format("{}[{}]", c ? "(uint32_t)bytes" : "data", run.byte);
    if (run.low > 0) piece = fmt::format("({} >> {})", piece, run.low);
    if (width < 8) piece = fmt::format("({} & {}{})", piece, (1 << width) - 1, c ? "U" : "");
    if (bits > 0) piece = fmt::format("({} << {})", piece, bits);
    text += (text.empty() ? "" : " | ") + piece;
  }
  return text;
}

std::string signed_number(std::int64_t number, int word) {
  const std::int64_t least =
      word == 64 ? std::numeric_limits<std::int64_t>::min() : std::numeric_limits<std::int32_t>::min();
  if (number == least) return fmt::format("(-INT{}_C({}) - 1)", word, -(number + 1));
  return number < 0 ? fmt::format("(-INT{}_C({}))", word, -number) : fmt::format("INT{}_C({})", word, number);
}

std::string unit_in_comment(std::string_view ucum) {
  return ucum == "Cel" ? "degC" : ucum == "[degF]" ? "degF" : std::string(ucum);
}

std::string status_word(const HandoffCode& code, HandoffStatus status) {
  return fmt::format("{}_{}", code.name, handoff_status_name(status));
}

std::pair<std::string, std::string> write_c(const HandoffCode& code) {
  CWriter writer(code);
  return {writer.header(), writer.source()};
}

}  // namespace fair_gauge
