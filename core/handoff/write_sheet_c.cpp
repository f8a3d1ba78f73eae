// The sheets' compensation formulas in whole numbers, as C.
#include <fmt/format.h>

#include "formulas/ms56xx.h"
#include "handoff/c_words.h"

namespace fair_gauge {
namespace {

class SheetWriter {
 public:
  explicit SheetWriter(const HandoffCode& code) : code_(code) {}

  std::string write() const {
    const std::string& formula = code_.sheet->formula;
    return formula == "bmp280" || formula == "bme280" ? compensated_air() : formula == "bmp180" ? bmp180() : ms56();
  }

 private:
  // Steps from the sheet's number, 64 bits; the shift is made on what is not below zero.
  std::string scaled(const std::string& number) const {
    const SheetArithmetic& sheet = *code_.sheet;
    return fmt::format(
        "  {{\n    const int64_t sum = (int64_t){} * {} + {};\n    const int64_t steps = sum >= 0 ? sum / INT64_C({}) "
        ": "
        "-((-sum + INT64_C({})) / INT64_C({}));\n"
        "    if (steps < INT64_C({})) return {};\n    if (steps > INT64_C({})) return {};\n    *value = "
        "(int32_t)steps;\n  }}\n",
        number, signed_number(sheet.multiplier, 64), signed_number(sheet.addend, 64), std::int64_t{1} << sheet.shift,
        (std::int64_t{1} << sheet.shift) - 1, std::int64_t{1} << sheet.shift, sheet.lowest, status(HandoffStatus::low),
        sheet.highest, status(HandoffStatus::high));
  }

  bool is_temperature() const { return code_.sheet->quantity == Quantity::temperature; }
  std::string status(HandoffStatus which) const { return status_word(code_, which); }

  std::string compensated_air() const {
    std::string text;
    text =
        "  /* The sheet's integer form. */\n  const int32_t t = to_signed(adc_T);\n"
        "  const int64_t t1 = ((int64_t)((t >> 3) - ((int32_t)dig_T1 * 2)) * dig_T2) >> 11;\n"
        "  const int64_t near_t = (t >> 4) - (int32_t)dig_T1;\n"
        "  const int64_t t2 = (((near_t * near_t) >> 12) * dig_T3) >> 14;\n  const int32_t t_fine = (int32_t)(t1 + "
        "t2);\n";
    if (is_temperature()) return text + scaled("((t_fine * 5 + 128) >> 8)");
    if (code_.sheet->quantity == Quantity::pressure)
      return text +
             "  int64_t p1 = (int64_t)t_fine - 128000;\n  int64_t p2 = p1 * p1 * dig_P6;\n  p2 += p1 * dig_P5 * "
             "131072;\n  p2 += (int64_t)dig_P4 * INT64_C(34359738368);\n"
             "  p1 = ((p1 * p1 * dig_P3) >> 8) + p1 * dig_P2 * 4096;\n  p1 = ((INT64_C(140737488355328) + p1) * "
             "dig_P1) >> "
             "33;\n"
             "  if (p1 == 0) return " +
             status(HandoffStatus::no_response) +
             ";\n"
             "  int64_t p = 1048576 - to_signed(adc_P);\n  p = ((p * INT64_C(2147483648) - p2) * 3125) / p1;\n"
             "  p1 = ((int64_t)dig_P9 * (p >> 13) * (p >> 13)) >> 25;\n  p2 = ((int64_t)dig_P8 * p) >> 19;\n"
             "  p = ((p + p1 + p2) >> 8) + (int64_t)dig_P7 * 16;\n" +
             scaled("(uint32_t)p");
    return text +
           "  int64_t h = (int64_t)t_fine - 76800;\n"
           "  const int64_t left = ((((int64_t)to_signed(adc_H) * 16384) - ((int64_t)dig_H4 * 1048576) - "
           "(int64_t)dig_H5 * h) + 16384) >> 15;\n"
           "  const int64_t right = ((((((h * dig_H6) >> 10) * (((h * dig_H3) >> 11) + 32768)) >> 10) + 2097152) * "
           "dig_H2 + 8192) >> 14;\n"
           "  h = left * right;\n  h -= ((((h >> 15) * (h >> 15)) >> 7) * dig_H1) >> 4;\n"
           "  if (h < 0) h = 0;\n  if (h > 419430400) h = 419430400;\n" +
           scaled("(h >> 12)");
  }

  std::string bmp180() const {
    std::string text;
    text =
        "  /* The sheet's integer form. */\n  const int64_t x1 = (((int64_t)to_signed(UT) - AC6) * AC5) >> 15;\n"
        "  if (x1 + MD == 0) return " +
        status(HandoffStatus::no_response) +
        ";\n"
        "  const int32_t b5 = (int32_t)(x1 + ((int64_t)MC * 2048) / (x1 + MD));\n";
    if (is_temperature()) return text + scaled("((b5 + 8) >> 4)");
    const auto oss = code_.oversampling;
    return text +
           fmt::format(
               "  const int64_t b6 = (int64_t)b5 - 4000;\n  int64_t a = ((int64_t)B2 * ((b6 * b6) >> 12)) >> 11;\n  "
               "int64_t b = ((int64_t)AC2 * b6) >> 11;\n"
               "  const int64_t b3 = ((((int64_t)AC1 * 4 + a + b) * {0}) + 2) / 4;\n  a = ((int64_t)AC3 * b6) >> "
               "13;\n  b = ((int64_t)B1 * ((b6 * b6) >> 12)) >> 16;\n"
               "  const uint32_t b4 = (uint32_t)(((int64_t)AC4 * (uint32_t)(((a + b + 2) >> 2) + 32768)) >> 15);\n"
               "  const uint32_t b7 = ((uint32_t)(to_signed(UP) >> {1}) - (uint32_t)b3) * UINT32_C({2});\n  if (b4 "
               "== 0) "
               "return {3};\n"
               "  int64_t p = b7 < UINT32_C(0x80000000) ? ((int64_t)b7 * 2) / b4 : ((int64_t)b7 / b4) * 2;\n  a = "
               "(((p >> 8) "
               "* (p >> 8)) * 3038) >> 16;\n  b = (-7357 * p) >> 16;\n"
               "  p = p + ((a + b + 3791) >> 4);\n",
               1 << oss, 8 - oss, 50000 >> oss, status(HandoffStatus::no_response)) +
           scaled("p");
  }

  // Second order as each part of this family has it.
  std::string ms56() const {
    const formulas::ms56xx::Kind& kind = *formulas::ms56xx::kind_of(code_.sheet->formula);
    const auto power = [](int shift) { return fmt::format("INT64_C({})", std::int64_t{1} << shift); };
    // Towards zero, or downwards where the sheet's example is.
    const auto divided = [&](const std::string& number, int shift) {
      return kind.floors ? fmt::format("(({}) >> {})", number, shift) : fmt::format("({}) / {}", number, power(shift));
    };
    const auto part = [&](int factor, const char* of, int shift) {
      return fmt::format("{} * {}", factor, of) + (shift > 0 ? " / " + power(shift) : "");
    };
    std::string text = fmt::format(
        "  /* The sheet's integer form, second order included. */\n  const int64_t d_t = (int64_t)to_signed(D2) - "
        "(int64_t)C5 * 256;\n  const int64_t temp = 2000 + {};\n",
        divided("d_t * C6", 23));
    const bool temperature = is_temperature();
    if (temperature) {
      text += kind.warm_t2_factor > 0
                  ? fmt::format("  int64_t t2 = {} * d_t * d_t / {};\n", kind.warm_t2_factor, power(kind.warm_t2_shift))
                  : "  int64_t t2 = 0;\n";
      return text +
             fmt::format("  if (temp < 2000) t2 = {} * d_t * d_t / {};\n", kind.t2_factor, power(kind.t2_shift)) +
             scaled("(temp - t2)");
    }
    text += fmt::format("  int64_t off = (int64_t)C2 * {} + {};\n  int64_t sens = (int64_t)C1 * {} + {};\n",
                        power(kind.off_shift), divided("(int64_t)C4 * d_t", kind.off_slope_shift),
                        power(kind.sens_shift), divided("(int64_t)C3 * d_t", kind.sens_slope_shift));
    text += kind.warm_off2 ? "  int64_t off2 = (temp - 2000) * (temp - 2000) / 16, sens2 = 0;\n"
                           : "  int64_t off2 = 0, sens2 = 0;\n";
    text += fmt::format(
        "  if (temp < 2000) {{\n    const int64_t below = (temp - 2000) * (temp - 2000);\n    off2 = {};\n    sens2 = "
        "{};\n    if (temp < -1500) {{\n      const int64_t cold = (temp + 1500) * (temp + 1500);\n      off2 += {};\n",
        part(kind.off2_factor, "below", kind.off2_shift), part(kind.sens2_factor, "below", kind.sens2_shift),
        part(kind.cold_off2, "cold", 0));
    if (kind.cold_sens2 > 0)
      text += fmt::format("      sens2 += {};\n", part(kind.cold_sens2, "cold", kind.cold_sens2_shift));
    return text +
           fmt::format("    }}\n  }}\n  off -= off2;\n  sens -= sens2;\n  const int64_t p = {} * {};\n",
                       divided(divided("(int64_t)to_signed(D1) * sens", 21) + " - off", kind.p_shift), kind.p_pascals) +
           scaled("p");
  }

  const HandoffCode& code_;
};

}  // namespace

std::string write_sheet_c(const HandoffCode& code) { return SheetWriter(code).write(); }

}  // namespace fair_gauge
