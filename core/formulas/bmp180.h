// Air pressure and temperature from trimmed raw words: the parts that print BMP180 and BMP085. The sheet gives the
// integer form alone.
#pragma once

#include <cstdint>
#include <optional>

#include "formulas/recorder.h"

namespace fair_gauge::formulas::bmp180 {

/// Each word within 16 bits, with or without its sign as the sheet has it; wider, so that a word read the other way
/// round can be tried too.
struct Trimming {
  std::int32_t AC1 = 0, AC2 = 0, AC3 = 0;
  std::int32_t AC4 = 0, AC5 = 0, AC6 = 0;
  std::int32_t B1 = 0, B2 = 0, MB = 0, MC = 0, MD = 0;
};

/// \param UT  16 bits
/// \returns tenths of a degree, and B5 for the pressure; nothing where the formula divides by zero
/// \source data sheet, figure 4; check: AC5 32757, AC6 23153, MC −8711, MD 2868, UT 27898 → 150 (15.0 °C), B5 2399
template <Recorder R>
std::optional<std::int32_t> temperature(const Trimming& c, std::int32_t UT, std::int32_t& B5, R&& record) {
  const std::int64_t X1 = ((static_cast<std::int64_t>(UT) - c.AC6) * c.AC5) >> 15;
  if (X1 + c.MD == 0) return std::nullopt;
  const std::int64_t X2 = (static_cast<std::int64_t>(c.MC) * 2048) / (X1 + c.MD);
  B5 = static_cast<std::int32_t>(X1 + X2);
  const std::int32_t T = (B5 + 8) >> 4;
  record("X1", static_cast<double>(X1), "(UT − AC6)·AC5/2¹⁵");
  record("X2", static_cast<double>(X2), "MC·2¹¹/(X1 + MD)");
  record("B5", B5, "X1 + X2");
  record("T", T, "(B5 + 8)/2⁴, in 0.1 °C");
  return T;
}

/// \param UP   16 + oss bits, already shifted right by 8 − oss
/// \param oss  oversampling 0…3
/// \returns pascals; nothing where the formula divides by zero
/// \source data sheet, figure 4; check: the sheet's trimming, UP 23843, oss 0, B5 2399 → 69964 Pa
/// (69965 stands in some editions: one unit of the last place by their rounding of negative numbers)
template <Recorder R>
std::optional<std::int32_t> pressure(const Trimming& c, std::int32_t UP, int oss, std::int32_t B5, R&& record) {
  const std::int64_t B6 = static_cast<std::int64_t>(B5) - 4000;
  std::int64_t X1 = (c.B2 * ((B6 * B6) >> 12)) >> 11;
  std::int64_t X2 = (c.AC2 * B6) >> 11;
  std::int64_t X3 = X1 + X2;
  const std::int64_t B3 = (((static_cast<std::int64_t>(c.AC1) * 4 + X3) * (1 << oss)) + 2) / 4;
  record("B6", static_cast<double>(B6), "B5 − 4000");
  record("B3", static_cast<double>(B3), "(((AC1·4 + (B2·(B6²/2¹²))/2¹¹ + AC2·B6/2¹¹) << oss) + 2)/4");
  X1 = (c.AC3 * B6) >> 13;
  X2 = (c.B1 * ((B6 * B6) >> 12)) >> 16;
  X3 = (X1 + X2 + 2) >> 2;
  const auto B4 =
      static_cast<std::uint32_t>((static_cast<std::int64_t>(c.AC4) * static_cast<std::uint32_t>(X3 + 32768)) >> 15);
  const auto B7 = static_cast<std::uint32_t>((static_cast<std::uint32_t>(UP) - static_cast<std::uint32_t>(B3)) *
                                             static_cast<std::uint32_t>(50000 >> oss));
  record("B4", B4, "AC4·((AC3·B6/2¹³ + B1·(B6²/2¹²)/2¹⁶ + 2)/2² + 32768)/2¹⁵");
  record("B7", B7, "(UP − B3)·(50000 >> oss)");
  if (B4 == 0) return std::nullopt;
  std::int64_t p =
      B7 < 0x80000000U ? (static_cast<std::int64_t>(B7) * 2) / B4 : (static_cast<std::int64_t>(B7) / B4) * 2;
  record("p_raw", static_cast<double>(p), "B7·2/B4");
  X1 = (p >> 8) * (p >> 8);
  X1 = (X1 * 3038) >> 16;
  X2 = (-7357 * p) >> 16;
  p = p + ((X1 + X2 + 3791) >> 4);
  record("p", static_cast<double>(p), "p_raw + ((p_raw/2⁸)²·3038/2¹⁶ − 7357·p_raw/2¹⁶ + 3791)/2⁴");
  return static_cast<std::int32_t>(p);
}

}  // namespace fair_gauge::formulas::bmp180
