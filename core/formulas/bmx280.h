// Air pressure, temperature and humidity from trimmed raw words: the parts that print BMP280 and BME280.
// Floating-point form and integer form (pressure in 64 bits), as the data sheet gives them.
#pragma once

#include <algorithm>
#include <cstdint>

#include "formulas/recorder.h"

namespace fair_gauge::formulas::bmx280 {

/// Each word within the bits and with the sign that the sheet gives it; wider, so that a word read the other way round
/// can be tried too.
struct Trimming {
  std::int32_t dig_T1 = 0;
  std::int32_t dig_T2 = 0, dig_T3 = 0;
  std::int32_t dig_P1 = 0;
  std::int32_t dig_P2 = 0, dig_P3 = 0, dig_P4 = 0, dig_P5 = 0, dig_P6 = 0, dig_P7 = 0, dig_P8 = 0, dig_P9 = 0;
  std::int32_t dig_H1 = 0;
  std::int32_t dig_H2 = 0;
  std::int32_t dig_H3 = 0;
  std::int32_t dig_H4 = 0, dig_H5 = 0;
  std::int32_t dig_H6 = 0;
};

/// Temperature and the carried-over term that pressure and humidity need. It must come from the same conversion.
/// \param adc_T  20 bits
/// \returns °C; t_fine is 5120 times as much
/// \source data sheet, section 8.1 (floating point)
/// check: T1 27504, T2 26435, T3 −1000, adc_T 519888 → 25.08 °C, t_fine 128422
template <Recorder R>
double temperature(const Trimming& c, std::int32_t adc_T, double& t_fine, R&& record) {
  const double var1 = (adc_T / 16384.0 - c.dig_T1 / 1024.0) * c.dig_T2;
  const double far = adc_T / 131072.0 - c.dig_T1 / 8192.0;
  const double var2 = far * far * c.dig_T3;
  t_fine = var1 + var2;
  record("var1", var1, "(adc_T/16384 − dig_T1/1024)·dig_T2");
  record("var2", var2, "(adc_T/131072 − dig_T1/8192)²·dig_T3");
  record("t_fine", t_fine, "var1 + var2");
  record("T", t_fine / 5120.0, "t_fine/5120");
  return t_fine / 5120.0;
}

/// Temperature by the integer form.
/// \returns hundredths of a degree; t_fine for the others
/// \source data sheet, section 4.2.3; check: as above → 2508, t_fine 128422
template <Recorder R>
std::int32_t temperature_integer(const Trimming& c, std::int32_t adc_T, std::int32_t& t_fine, R&& record) {
  const std::int64_t var1 =
      ((((adc_T >> 3) - (static_cast<std::int32_t>(c.dig_T1) << 1))) * static_cast<std::int64_t>(c.dig_T2)) >> 11;
  const std::int64_t near = (adc_T >> 4) - static_cast<std::int32_t>(c.dig_T1);
  const std::int64_t var2 = (((near * near) >> 12) * c.dig_T3) >> 14;
  t_fine = static_cast<std::int32_t>(var1 + var2);
  const std::int32_t T = (t_fine * 5 + 128) >> 8;
  record("var1", static_cast<double>(var1), "(((adc_T>>3) − (dig_T1<<1))·dig_T2) >> 11");
  record("var2", static_cast<double>(var2), "(((((adc_T>>4) − dig_T1)²) >> 12)·dig_T3) >> 14");
  record("t_fine", t_fine, "var1 + var2");
  record("T", T, "(t_fine·5 + 128) >> 8, in 0.01 °C");
  return T;
}

/// Pressure.
/// \param adc_P   20 bits
/// \param t_fine  of the same conversion
/// \returns pascals; 0 where the formula would divide by zero
/// \source data sheet, section 8.1; check: the sheet's trimming, adc_P 415148, t_fine 128422 → 100653.27 Pa
template <Recorder R>
double pressure(const Trimming& c, std::int32_t adc_P, double t_fine, R&& record) {
  double var1 = t_fine / 2.0 - 64000.0;
  record("p_var1", var1, "t_fine/2 − 64000");
  double var2 = var1 * var1 * c.dig_P6 / 32768.0;
  var2 = var2 + var1 * c.dig_P5 * 2.0;
  var2 = var2 / 4.0 + c.dig_P4 * 65536.0;
  record("p_var2", var2, "(p_var1²·dig_P6/32768 + p_var1·dig_P5·2)/4 + dig_P4·65536");
  var1 = (c.dig_P3 * var1 * var1 / 524288.0 + c.dig_P2 * var1) / 524288.0;
  var1 = (1.0 + var1 / 32768.0) * c.dig_P1;
  record("p_scale", var1, "(1 + (dig_P3·p_var1²/524288 + dig_P2·p_var1)/524288/32768)·dig_P1");
  if (var1 == 0.0) return 0;
  double p = 1048576.0 - adc_P;
  p = (p - var2 / 4096.0) * 6250.0 / var1;
  record("p_raw", p, "(1048576 − adc_P − p_var2/4096)·6250/p_scale");
  var1 = c.dig_P9 * p * p / 2147483648.0;
  var2 = p * c.dig_P8 / 32768.0;
  p = p + (var1 + var2 + c.dig_P7) / 16.0;
  record("P", p, "p_raw + (dig_P9·p_raw²/2147483648 + p_raw·dig_P8/32768 + dig_P7)/16");
  return p;
}

// Products of impossible trimming may pass 64 bits: unsigned arithmetic wraps as the part's controller would.
constexpr std::int64_t times(std::int64_t a, std::int64_t b) {
  return static_cast<std::int64_t>(static_cast<std::uint64_t>(a) * static_cast<std::uint64_t>(b));
}
constexpr std::int64_t plus(std::int64_t a, std::int64_t b) {
  return static_cast<std::int64_t>(static_cast<std::uint64_t>(a) + static_cast<std::uint64_t>(b));
}

/// Pressure by the 64-bit integer form.
/// \returns pascals times 256; 0 where the formula would divide by zero
/// \source data sheet, section 4.2.3; check: as above → 25767233 (100653.25 Pa)
template <Recorder R>
std::uint32_t pressure_integer(const Trimming& c, std::int32_t adc_P, std::int32_t t_fine, R&& record) {
  std::int64_t var1 = static_cast<std::int64_t>(t_fine) - 128000;
  record("p_var1", static_cast<double>(var1), "t_fine − 128000");
  std::int64_t var2 = times(times(var1, var1), c.dig_P6);
  var2 = plus(var2, times(times(var1, c.dig_P5), 131072));
  var2 = plus(var2, times(c.dig_P4, std::int64_t{1} << 35));
  record("p_var2", static_cast<double>(var2), "p_var1²·dig_P6 + ((p_var1·dig_P5)<<17) + (dig_P4<<35)");
  var1 = plus(times(times(var1, var1), c.dig_P3) >> 8, times(times(var1, c.dig_P2), 4096));
  var1 = times(plus(std::int64_t{1} << 47, var1), c.dig_P1) >> 33;
  record("p_scale", static_cast<double>(var1),
         "((1<<47) + ((p_var1²·dig_P3)>>8) + ((p_var1·dig_P2)<<12))·dig_P1 >> 33");
  if (var1 == 0) return 0;
  std::int64_t p = 1048576 - adc_P;
  p = times(plus(times(p, std::int64_t{1} << 31), -var2), 3125) / var1;
  record("p_raw", static_cast<double>(p), "((((1048576 − adc_P)<<31) − p_var2)·3125)/p_scale");
  var1 = times(times(c.dig_P9, p >> 13), p >> 13) >> 25;
  var2 = times(c.dig_P8, p) >> 19;
  p = plus(plus(plus(p, var1), var2) >> 8, static_cast<std::int64_t>(c.dig_P7) * 16);
  record("P", static_cast<double>(p), "((p_raw + p_var1' + p_var2') >> 8) + (dig_P7<<4), in 1/256 Pa");
  return static_cast<std::uint32_t>(p);
}

/// Relative humidity.
/// \param adc_H  16 bits
/// \returns % of relative humidity, held within 0…100 as the sheet does
/// \source data sheet of the three-quantity part, section 8.1
template <Recorder R>
double humidity(const Trimming& c, std::int32_t adc_H, double t_fine, R&& record) {
  const double off = t_fine - 76800.0;
  record("h_off", off, "t_fine − 76800");
  double h = (adc_H - (c.dig_H4 * 64.0 + c.dig_H5 / 16384.0 * off)) *
             (c.dig_H2 / 65536.0 * (1.0 + c.dig_H6 / 67108864.0 * off * (1.0 + c.dig_H3 / 67108864.0 * off)));
  record("h_raw", h,
         "(adc_H − (dig_H4·64 + dig_H5/16384·h_off))·dig_H2/65536·(1 + dig_H6/67108864·h_off·(1 + "
         "dig_H3/67108864·h_off))");
  h = h * (1.0 - c.dig_H1 * h / 524288.0);
  record("H", h, "h_raw·(1 − dig_H1·h_raw/524288)");
  return std::clamp(h, 0.0, 100.0);
}

/// Relative humidity by the integer form.
/// \returns % of relative humidity times 1024
/// \source data sheet of the three-quantity part, section 4.2.3
template <Recorder R>
std::uint32_t humidity_integer(const Trimming& c, std::int32_t adc_H, std::int32_t t_fine, R&& record) {
  // In 64 bits, equal to the sheet's 32 bits wherever those do not overflow; what impossible trimming makes wraps.
  std::int64_t v = static_cast<std::int64_t>(t_fine) - 76800;
  record("h_off", static_cast<double>(v), "t_fine − 76800");
  const std::int64_t left =
      (((static_cast<std::int64_t>(adc_H) << 14) - (static_cast<std::int64_t>(c.dig_H4) * (1 << 20)) - c.dig_H5 * v) +
       16384) >>
      15;
  const std::int64_t right =
      plus(times((times((v * c.dig_H6) >> 10, ((v * c.dig_H3) >> 11) + 32768) >> 10) + 2097152, c.dig_H2), 8192) >> 14;
  v = times(left, right);
  record("h_raw", static_cast<double>(v),
         "((((adc_H<<14) − (dig_H4<<20) − dig_H5·h_off) + 16384)>>15)·(((((((h_off·dig_H6)>>10)·(((h_off·dig_H3)>>11) "
         "+ 32768))>>10) + 2097152)·dig_H2 + 8192)>>14)");
  v = plus(v, -(times(times(v >> 15, v >> 15) >> 7, c.dig_H1) >> 4));
  v = std::clamp<std::int64_t>(v, 0, 419430400);
  record("H", static_cast<double>(v >> 12),
         "h_raw − (((((h_raw>>15)²)>>7)·dig_H1)>>4), within 0…419430400, >> 12, in 1/1024 %");
  return static_cast<std::uint32_t>(v >> 12);
}

}  // namespace fair_gauge::formulas::bmx280
