// The hand-over in Python, for CPython and the small interpreters of controllers.
#include <fmt/format.h>

#include <algorithm>

#include "digital/checks.h"
#include "formulas/ms56xx.h"
#include "handoff/c_words.h"
#include "handoff/handoff.h"

namespace fair_gauge {
namespace {

class PythonWriter {
 public:
  explicit PythonWriter(const HandoffCode& code) : code_(code) {}

  std::string write() const {
    std::string text = fmt::format("# {}: raw numbers to steps of {} {}.\n", code_.channel_name,
                                   step_words(code_.per_unit), unit_in_comment(code_.unit));
    if (code_.input) text += fmt::format("# raw: {}.\n", code_.input->words());
    for (const std::string& comment : code_.comments) text += "# " + comment + "\n";
    if (uses_math()) text += "import math\n";
    text += fmt::format("\nPER_UNIT = {}\nUNIT = \"{}\"\n\n", code_.per_unit, code_.unit);
    for (int status = 0; status <= static_cast<int>(HandoffStatus::underflow); ++status)
      text += fmt::format("{} = {}\n", handoff_status_name(static_cast<HandoffStatus>(status)), status);
    text += "\n";
    text += code_.bytes ? from_bytes() : from_number();
    return text + text_function();
  }

 private:
  bool uses_math() const {
    return code_.fields_formula || code_.arithmetic.form == HandoffForm::floating || has_condition();
  }
  bool has_condition() const {
    return code_.bytes && std::ranges::any_of(code_.bytes->states,
                                              [](const PlannedState& state) { return state.condition.has_value(); });
  }
  // A reading in steps of the result.
  std::string in_steps(const std::string& reading) const {
    return code_.per_unit == 1 ? reading : fmt::format("{} * {}", reading, code_.per_unit);
  }
  static std::string status(HandoffStatus which) { return std::string(handoff_status_name(which)); }

  std::string tables() const {
    if (code_.arithmetic.form != HandoffForm::table) return "";
    return fmt::format(
        "# Points of the curve: raw numbers from the first with a reading, and steps of the result.\n_POINTS = "
        "({},)\n_STEPS = ({},)\n\n",
        fmt::join(code_.arithmetic.table.x, ", "), fmt::join(code_.arithmetic.table.y, ", "));
  }

  std::string arithmetic() const {
    const Arithmetic& arithmetic = code_.arithmetic;
    std::string text =
        fmt::format("    if raw < {}:\n        return (LOW, None)\n    if raw > {}:\n        return (HIGH, None)\n",
                    arithmetic.first, arithmetic.last);
    if (arithmetic.form == HandoffForm::integer && arithmetic.polynomial) {
      const PolynomialArithmetic& of = *arithmetic.polynomial;
      text += of.from_top ? fmt::format("    x = {} - raw\n", arithmetic.last)
                          : fmt::format("    x = raw - {}\n", bracket(arithmetic.first));
      text += fmt::format("    value = {}\n", of.coefficients.front());
      for (std::size_t k = 1; k < of.coefficients.size(); ++k)
        text += fmt::format("    value = {} {} (value * x >> {})\n", of.coefficients[k], of.falls[k - 1] ? "-" : "+",
                            of.shifts[k - 1]);
      text += fmt::format("    value = (value >> {}) + {}\n", of.shift, bracket(of.lift));
    } else if (arithmetic.form == HandoffForm::integer) {
      const LinearArithmetic& linear = arithmetic.linear;
      text += fmt::format("    value = (({} {} (raw - {}) * {}) >> {}) + {}\n", linear.addend, linear.falls ? "-" : "+",
                          bracket(arithmetic.first), linear.multiplier, linear.shift, bracket(linear.lift));
    } else if (arithmetic.form == HandoffForm::table && arithmetic.table.x.size() > 1) {
      text += fmt::format(
          "    x = raw - {}\n    low = 0\n    high = {}\n    while high - low > 1:\n        middle = (low + high) // "
          "2\n        if x >= _POINTS[middle]:\n            low = middle\n        else:\n            high = middle\n"
          "    across = _POINTS[high] - _POINTS[low]\n    along = x - _POINTS[low]\n    up = _STEPS[high] - "
          "_STEPS[low]\n    if up >= 0:\n        value = _STEPS[low] + (along * up + across // 2) // across\n    "
          "else:\n        value = _STEPS[low] - (along * -up + across // 2) // across\n",
          bracket(arithmetic.first), arithmetic.table.x.size() - 1);
    } else if (arithmetic.form == HandoffForm::table) {
      text += "    value = _STEPS[0]\n";
    } else {
      const auto lines = arithmetic.floating->formula.write(Language::python);
      for (const auto& [symbol, expression] : lines) text += fmt::format("    {} = {}\n", symbol, expression);
      text += fmt::format("    value = math.floor({} + 0.5)\n", in_steps(lines.back().symbol));
    }
    if (arithmetic.held_within)
      text += fmt::format("    value = min(max(value, {}), {})\n", arithmetic.held_within->first,
                          arithmetic.held_within->second);
    return text;
  }
  static std::string bracket(std::int64_t number) {
    return number < 0 ? fmt::format("({})", number) : fmt::format("{}", number);
  }

  // The head of a conversion of two numbers, and what is outside of them.
  std::string head_of_both() const {
    const SurfaceArithmetic& surface = *code_.surface;
    return fmt::format(
               "def convert(raw, side):\n    \"\"\"Raw number, reading of {} in steps of {} {} -> (status, steps or "
               "None).\"\"\"\n",
               code_.side->channel, step_words(code_.side->per_unit), unit_in_comment(code_.side->unit)) +
           fmt::format(
               "    if raw < {}:\n        return (LOW, None)\n    if raw > {}:\n        return (HIGH, None)\n"
               "    if side < {} or side > {}:\n        return (OUT_OF_RANGE, None)\n",
               surface.first, surface.last, surface.side.front(), surface.side.back());
  }
  // What is beyond the readings at the end.
  std::string limits_of_both() const {
    const SurfaceArithmetic& surface = *code_.surface;
    return fmt::format(
        "    if value < {}:\n        return ({}, None)\n    if value > {}:\n        return ({}, None)\n"
        "    return (OK, value)\n\n\n",
        surface.lowest, surface.falls ? "HIGH" : "LOW", surface.highest, surface.falls ? "LOW" : "HIGH");
  }
  std::string from_surface() const {
    const SurfaceArithmetic& surface = *code_.surface;
    if (surface.floating) {
      std::string text = head_of_both();
      const auto lines = surface.floating->formula.write(Language::python);
      const std::string deep = surface.has_gaps ? "        " : "    ";
      if (surface.has_gaps) text += "    try:\n";
      for (const auto& [symbol, expression] : lines) text += fmt::format("{}{} = {}\n", deep, symbol, expression);
      text += fmt::format("{}value = math.floor({} + 0.5)\n", deep, in_steps(lines.back().symbol));
      if (surface.has_gaps) text += "    except (ArithmeticError, ValueError):\n        return (OUT_OF_RANGE, None)\n";
      return text + limits_of_both();
    }
    const auto list = [](const auto& values, std::size_t from, std::size_t count) {
      std::string text;
      for (std::size_t i = from; i < from + count; ++i) text += fmt::format("{}, ", values[i]);
      return "(" + text + ")";
    };
    std::string rows;
    for (std::size_t row = 0; row < surface.side.size(); ++row)
      rows += "    " + list(surface.y, row * surface.x.size(), surface.x.size()) + ",\n";
    std::string text = fmt::format(
        "# Joints: raw numbers from the first with a reading, steps of the side, and the result at each pair in\n# "
        "1/{} "
        "of a step above {}.\n_POINTS = {}\n_SIDES = {}\n_STEPS = (\n{})\n\n\n",
        1 << surface_fraction_bits, surface.lift, list(surface.x, 0, surface.x.size()),
        list(surface.side, 0, surface.side.size()), rows);
    text +=
        "def _between(a, b, along, across):\n    if b >= a:\n        return a + ((b - a) * along + across // 2) // "
        "across\n    return a - ((a - b) * along + across // 2) // across\n\n\n"
        "def _stretch(joints, at):\n    low = 0\n    high = len(joints) - 1\n    while high - low > 1:\n        middle "
        "= "
        "(low + high) // 2\n        if at >= joints[middle]:\n            low = middle\n        else:\n            "
        "high "
        "= middle\n    return low\n\n\n";
    text += head_of_both();
    text += fmt::format(
        "    x = raw - {}\n"
        "    left = _stretch(_POINTS, x)\n    above = _stretch(_SIDES, side)\n"
        "    deep = side - _SIDES[above]\n    depth = _SIDES[above + 1] - _SIDES[above]\n"
        "    first = _between(_STEPS[above][left], _STEPS[above + 1][left], deep, depth)\n"
        "    last = _between(_STEPS[above][left + 1], _STEPS[above + 1][left + 1], deep, depth)\n"
        "    value = ((_between(first, last, x - _POINTS[left], _POINTS[left + 1] - _POINTS[left]) + {}) >> {}) + "
        "{}\n",
        bracket(surface.first), 1 << (surface_fraction_bits - 1), surface_fraction_bits, bracket(surface.lift));
    return text + limits_of_both();
  }

  std::string from_number() const {
    if (code_.surface) return from_surface();
    return tables() + "def convert(raw):\n    \"\"\"Raw number -> (status, steps or None).\"\"\"\n" + arithmetic() +
           "    return (OK, value)\n\n\n";
  }

  static std::string name_of(const PlannedField& field) { return "f_" + c_identifier(field.name); }

  static std::string extracted(const PlannedField& field, const std::string& name) {
    std::string text = fmt::format("    {} = {}\n", name, bits_as_number(field.runs, field.bits, Language::python));
    const std::int64_t top = std::int64_t{1} << (field.bits - 1);
    if (field.sign == FieldSign::twos)
      text += fmt::format("    if {0} & {1}:\n        {0} -= {2}\n", name, top, 2 * top);
    if (field.sign == FieldSign::magnitude)
      text += fmt::format("    if {0} & {1}:\n        {0} = {1} - {0}\n", name, top);
    return text;
  }

  std::string checks() const {
    std::string text;
    for (const PlannedCheck& check : code_.bytes->checks) {
      const std::string part = fmt::format("data[{}:{}]", check.from, check.to + 1);
      std::string fails;
      if (check.kind == "not-all-ones")
        fails = fmt::format("all(b == 255 for b in {})", part);
      else if (check.kind == "not-all-zeros")
        fails = fmt::format("all(b == 0 for b in {})", part);
      else if (check.kind == "crc16-a001")
        fails = fmt::format("_crc16({}) != data[{}] | (data[{}] << 8)", part, check.at, check.at + 1);
      else if (check.kind == "sum8")
        fails = fmt::format("(sum({}) & 255) != data[{}]", part, check.at);
      else if (check.kind == "crc8-onewire")
        fails = fmt::format("_crc8_low_first({}) != data[{}]", part, check.at);
      else if (check.kind == "crc8-07")
        fails = fmt::format("_crc8_07({}, {}) != data[{}]", part, crc8_of_before({.before = check.before}), check.at);
      else
        fails = fmt::format("_crc8({}, {}) != data[{}]", part, check.kind == "crc8-ff" ? 255 : 0, check.at);
      text += fmt::format("    if {}:\n        return ({}, None)\n", fails, status(check.status));
    }
    return text;
  }

  std::string check_functions() const {
    std::string text;
    const auto has = [&](const char* kind) {
      return std::ranges::any_of(code_.bytes->checks, [&](const PlannedCheck& check) { return check.kind == kind; });
    };
    if (has("crc8-ff") || has("crc8-00"))
      text +=
          "def _crc8(data, crc):\n    for byte in data:\n        crc ^= byte\n        for _ in range(8):\n            "
          "crc = ((crc << 1) ^ 0x31) & 255 if crc & 128 else (crc << 1) & 255\n    return crc\n\n\n";
    if (has("crc8-07"))
      text +=
          "def _crc8_07(data, crc):\n    for byte in data:\n        crc ^= byte\n        for _ in range(8):\n          "
          "  "
          "crc = ((crc << 1) ^ 7) & 255 if crc & 128 else (crc << 1) & 255\n    return crc\n\n\n";
    if (has("crc8-onewire"))
      text +=
          "def _crc8_low_first(data):\n    crc = 0\n    for byte in data:\n        crc ^= byte\n        for _ in "
          "range(8):\n            crc = (crc >> 1) ^ 0x8C if crc & 1 else crc >> 1\n    return crc\n\n\n";
    if (has("crc16-a001"))
      text +=
          "def _crc16(data):\n    crc = 0xFFFF\n    for byte in data:\n        crc ^= byte\n        for _ in "
          "range(8):\n            crc = (crc >> 1) ^ 0xA001 if crc & 1 else crc >> 1\n    return crc\n\n\n";
    return text;
  }

  static std::string is_any(const std::string& name, const PlannedState& state) {
    if (state.equals.size() == 1) return fmt::format("{} == {}", name, state.equals.front());
    return fmt::format("{} in ({})", name, fmt::join(state.equals, ", "));
  }

  std::string states() const {
    std::string text;
    for (const PlannedState& state : code_.bytes->states) {
      std::string of;
      if (state.condition) {
        std::map<std::string, std::string> names;
        for (const PlannedField& field : code_.bytes->fields) names[field.name] = name_of(field);
        const auto lines = state.condition->write(Language::python, names);
        for (const auto& [symbol, expression] : lines) text += fmt::format("    {} = {}\n", symbol, expression);
        of = lines.back().symbol;
      } else {
        const PlannedField& field = *std::ranges::find(code_.bytes->fields, state.field, &PlannedField::name);
        if (field.trimming) continue;
        of = name_of(field);
      }
      text += fmt::format("    if {}:\n        return ({}, None)\n", is_any(of, state), status(state.status));
    }
    return text;
  }

  std::string from_bytes() const {
    const BytePlan& plan = *code_.bytes;
    const bool single = !code_.fields_formula && !code_.sheet;
    std::string text = check_functions();
    if (code_.fields_formula)
      for (const ReferenceTable& table : code_.fields_formula->tables()) text += table.write(Language::python);
    std::string trimmed;
    for (const PlannedField& field : plan.fields)
      if (field.trimming)
        trimmed += code_.trimming_loaded ? fmt::format("{} = 0\n", name_of(field))
                                         : fmt::format("{} = {}\n", name_of(field), field.value);
    if (!trimmed.empty()) text += "# Trimming of the specimen.\n" + trimmed;
    if (code_.trimming_loaded) {
      text += "_loaded = False\n\n\ndef load_trimming(data):\n";
      std::string names = "    global _loaded";
      std::string body;
      for (const PlannedBlock& block : plan.trimming_blocks)
        if (block.bytes > 1)
          body += fmt::format(
              "    if all(b == 0 for b in data[{0}:{1}]) or all(b == 255 for b in data[{0}:{1}]):\n        return "
              "NO_RESPONSE\n",
              block.at, block.at + block.bytes);
      std::string set;
      for (const PlannedField& field : plan.fields) {
        if (!field.trimming) continue;
        names += ", " + name_of(field);
        body += extracted(field, "w_" + name_of(field));
        set += fmt::format("    {0} = w_{0}\n", name_of(field));
      }
      for (const PlannedState& state : plan.states) {
        if (state.condition) continue;
        const PlannedField& field = *std::ranges::find(plan.fields, state.field, &PlannedField::name);
        if (!field.trimming) continue;
        body +=
            fmt::format("    if {}:\n        return {}\n", is_any("w_" + name_of(field), state), status(state.status));
      }
      text += names + "\n" + body + set + "    _loaded = True\n    return OK\n\n\n";
    } else if (!trimmed.empty()) {
      text += "\n\n";
    }
    text += tables() +
            "def convert(data):\n    \"\"\"Bytes of the data blocks, one after the other -> (status, steps or "
            "None).\"\"\"\n";
    if (code_.trimming_loaded) text += "    if not _loaded:\n        return (NOT_READY, None)\n";
    text += checks();
    for (const PlannedField& field : plan.fields)
      if (!field.trimming) text += extracted(field, name_of(field));
    text += states();
    if (single) {
      const PlannedField& own = *std::ranges::find(plan.fields, plan.own, &PlannedField::name);
      text += fmt::format("    raw = {}\n", name_of(own)) + arithmetic();
    } else if (code_.fields_formula) {
      std::map<std::string, std::string> names;
      for (const PlannedField& field : plan.fields) names[field.name] = name_of(field);
      const auto lines = code_.fields_formula->write(Language::python, names);
      for (const auto& [symbol, expression] : lines) text += fmt::format("    {} = {}\n", symbol, expression);
      const std::string& last = lines.back().symbol;
      text += fmt::format(
          "    if not {0} >= {1}:\n        return (LOW, None)\n    if not {0} <= {2}:\n        return (HIGH, None)\n",
          last, code_.lowest, code_.highest);
      text += fmt::format("    value = math.floor({} + 0.5)\n", in_steps(last));
    } else {
      text += sheet();
    }
    return text + "    return (OK, value)\n\n\n";
  }

  std::string scaled(const std::string& number) const {
    const SheetArithmetic& sheet = *code_.sheet;
    return fmt::format(
        "    value = ({} * {} + {}) >> {}\n    if value < {}:\n        return (LOW, None)\n    if value > {}:\n        "
        "return (HIGH, None)\n",
        number, bracket(sheet.multiplier), bracket(sheet.addend), sheet.shift, sheet.lowest, sheet.highest);
  }

  // Division that cuts towards zero, as the sheets' C has it, is _cut.
  std::string sheet() const {
    const std::string& formula = code_.sheet->formula;
    const Quantity quantity = code_.sheet->quantity;
    const bool temperature = quantity == Quantity::temperature;
    const std::string cut =
        "    def cut(a, b):\n        q = abs(a) // abs(b)\n        return q if (a < 0) == (b < 0) else -q\n";
    if (formula == "bmp280" || formula == "bme280") {
      std::string text =
          "    t1 = (((f_adc_T >> 3) - (f_dig_T1 * 2)) * f_dig_T2) >> 11\n    near_t = (f_adc_T >> 4) - f_dig_T1\n    "
          "t2 = (((near_t * near_t) >> 12) * f_dig_T3) >> 14\n    t_fine = t1 + t2\n";
      if (temperature) return text + scaled("((t_fine * 5 + 128) >> 8)");
      if (quantity == Quantity::pressure)
        return text + cut +
               "    p1 = t_fine - 128000\n    p2 = p1 * p1 * f_dig_P6 + p1 * f_dig_P5 * 131072 + f_dig_P4 * "
               "34359738368\n    p1 = ((p1 * p1 * f_dig_P3) >> 8) + p1 * f_dig_P2 * 4096\n    p1 = ((140737488355328 + "
               "p1) * f_dig_P1) >> 33\n    if p1 == 0:\n        return (NO_RESPONSE, None)\n"
               "    p = 1048576 - f_adc_P\n    p = cut((p * 2147483648 - p2) * 3125, p1)\n    p1 = (f_dig_P9 * (p >> "
               "13) * (p >> 13)) >> 25\n    p2 = (f_dig_P8 * p) >> 19\n    p = (((p + p1 + p2) >> 8) + f_dig_P7 * 16) "
               "& 0xFFFFFFFF\n" +
               scaled("p");
      return text +
             "    h = t_fine - 76800\n    left = ((f_adc_H * 16384) - (f_dig_H4 * 1048576) - f_dig_H5 * h + 16384) >> "
             "15\n    right = ((((((h * f_dig_H6) >> 10) * (((h * f_dig_H3) >> 11) + 32768)) >> 10) + 2097152) * "
             "f_dig_H2 + 8192) >> 14\n"
             "    h = left * right\n    h -= ((((h >> 15) * (h >> 15)) >> 7) * f_dig_H1) >> 4\n    h = min(max(h, 0), "
             "419430400)\n" +
             scaled("(h >> 12)");
    }
    if (formula == "bmp180") {
      std::string text = cut +
                         "    x1 = ((f_UT - f_AC6) * f_AC5) >> 15\n    if x1 + f_MD == 0:\n        return "
                         "(NO_RESPONSE, None)\n    b5 = x1 + cut(f_MC * 2048, x1 + f_MD)\n";
      if (temperature) return text + scaled("((b5 + 8) >> 4)");
      return text +
             fmt::format(
                 "    b6 = b5 - 4000\n    a = (f_B2 * ((b6 * b6) >> 12)) >> 11\n    b = (f_AC2 * b6) >> 11\n    b3 = "
                 "cut(((f_AC1 * 4 + a + b) * {}) + 2, 4)\n    a = (f_AC3 * b6) >> 13\n    b = (f_B1 * ((b6 * b6) >> "
                 "12)) >> 16\n"
                 "    b4 = ((f_AC4 * ((((a + b + 2) >> 2) + 32768) & 0xFFFFFFFF)) >> 15) & 0xFFFFFFFF\n    b7 = "
                 "(((f_UP >> {}) - b3) * {}) & 0xFFFFFFFF\n    if b4 == 0:\n        return (NO_RESPONSE, None)\n"
                 "    p = (b7 * 2) // b4 if b7 < 0x80000000 else (b7 // b4) * 2\n    a = (((p >> 8) * (p >> 8)) * "
                 "3038) >> 16\n    b = (-7357 * p) >> 16\n    p = p + ((a + b + 3791) >> 4)\n",
                 1 << code_.oversampling, 8 - code_.oversampling, 50000 >> code_.oversampling) +
             scaled("p");
    }
    return cut + ms56(*formulas::ms56xx::kind_of(formula), temperature);
  }

  // Second order as each part of this family has it.
  std::string ms56(const formulas::ms56xx::Kind& kind, bool temperature) const {
    const auto divided = [&](const std::string& number, int shift) {
      return kind.floors ? fmt::format("(({}) >> {})", number, shift)
                         : fmt::format("cut({}, {})", number, std::int64_t{1} << shift);
    };
    const auto part = [](int factor, const char* of, int shift) {
      return fmt::format("{} * {}", factor, of) + (shift > 0 ? fmt::format(" // {}", std::int64_t{1} << shift) : "");
    };
    std::string text = fmt::format("    d_t = f_D2 - f_C5 * 256\n    temp = 2000 + {}\n", divided("d_t * f_C6", 23));
    if (temperature)
      return text +
             fmt::format("    t2 = {} if temp < 2000 else {}\n", part(kind.t2_factor, "d_t * d_t", kind.t2_shift),
                         kind.warm_t2_factor > 0 ? part(kind.warm_t2_factor, "d_t * d_t", kind.warm_t2_shift) : "0") +
             scaled("(temp - t2)");
    text += fmt::format("    off = f_C2 * {} + {}\n    sens = f_C1 * {} + {}\n    off2 = {}\n    sens2 = 0\n",
                        1 << kind.off_shift, divided("f_C4 * d_t", kind.off_slope_shift), 1 << kind.sens_shift,
                        divided("f_C3 * d_t", kind.sens_slope_shift),
                        kind.warm_off2 ? "(temp - 2000) * (temp - 2000) // 16" : "0");
    text += fmt::format(
        "    if temp < 2000:\n        below = (temp - 2000) * (temp - 2000)\n        off2 = {}\n        sens2 = {}\n"
        "        if temp < -1500:\n            cold = (temp + 1500) * (temp + 1500)\n            off2 += {}\n",
        part(kind.off2_factor, "below", kind.off2_shift), part(kind.sens2_factor, "below", kind.sens2_shift),
        part(kind.cold_off2, "cold", 0));
    if (kind.cold_sens2 > 0)
      text += fmt::format("            sens2 += {}\n", part(kind.cold_sens2, "cold", kind.cold_sens2_shift));
    return text +
           fmt::format("    off -= off2\n    sens -= sens2\n    p = {} * {}\n",
                       divided(divided("f_D1 * sens", 21) + " - off", kind.p_shift), kind.p_pascals) +
           scaled("p");
  }

  std::string text_function() const {
    int decimals = 0;
    for (std::int64_t rest = code_.per_unit; rest >= 10; rest /= 10) ++decimals;
    if (decimals == 0) return "def text(value):\n    return str(value)\n";
    return fmt::format(
        "def text(value):\n    digits = str(abs(value))\n    while len(digits) < {0}:\n        digits = \"0\" + "
        "digits\n    return (\"-\" if value < 0 else \"\") + digits[:-{1}] + \".\" + digits[-{1}:]\n",
        decimals + 1, decimals);
  }

  const HandoffCode& code_;
};

}  // namespace

std::string write_python(const HandoffCode& code) { return PythonWriter(code).write(); }

}  // namespace fair_gauge
