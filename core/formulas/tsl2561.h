// Illuminance from a full-spectrum and an infrared channel: the part that prints TSL2561, in both packages.
#pragma once

#include <array>
#include <cmath>
#include <cstdint>

#include "formulas/recorder.h"

namespace fair_gauge::formulas::tsl2561 {

enum class Package {
  t,  ///< T, FN and CL
  cs
};  ///< chip scale

/// Channels scaled to gain 16 and 402 ms, the nominal the sheet's lines are given for.
struct Channels {
  double ch0 = 0, ch1 = 0;
  double ratio = 0;  ///< of the counts themselves, before rounding has scaled them: it chooses between lines that do
                     ///< not meet; 0 without light
};

/// \param ms  integration time; a nominal 402 gives the counts themselves
inline Channels scaled(double ch0, double ch1, double gain, double ms) {
  const double scale = 402.0 / ms * 16.0 / gain;
  return {ch0 * scale, ch1 * scale, ch0 > 0 ? ch1 / ch0 : 0};
}

/// Illuminance by the simple piecewise lines.
/// \returns lx
/// \source data sheet, "calculating lux", empirical formulas
template <Recorder R>
double lux(const Channels& channels, Package package, R&& record) {
  struct Piece {
    double up_to, a, b;
  };
  // The first piece has a power of the ratio, the others are straight.
  static constexpr std::array<std::array<Piece, 4>, 2> pieces = {
      {{{{0.50, 0.0304, 0.062}, {0.61, 0.0224, 0.031}, {0.80, 0.0128, 0.0153}, {1.30, 0.00146, 0.00112}}},
       {{{0.52, 0.0315, 0.0593}, {0.65, 0.0229, 0.0291}, {0.80, 0.0157, 0.0180}, {1.30, 0.00338, 0.00260}}}}};
  const auto [ch0, ch1, ratio] = channels;
  record("CH0'", ch0, "CH0 at gain 16 and 402 ms");
  record("CH1'", ch1, "CH1 at gain 16 and 402 ms");
  record("ratio", ratio, "CH1/CH0");
  const auto& table = pieces[package == Package::cs];
  for (std::size_t i = 0; i < table.size(); ++i) {
    if (ratio > table[i].up_to) continue;
    const double result =
        i == 0 ? table[i].a * ch0 - table[i].b * ch0 * std::pow(ratio, 1.4) : table[i].a * ch0 - table[i].b * ch1;
    record("lux", result, i == 0 ? "a·CH0 − b·CH0·ratio^1.4" : "a·CH0 − b·CH1, by the piece of this ratio");
    return result;
  }
  record("lux", 0, "0 beyond a ratio of 1.30");
  return 0;
}

/// Illuminance by the integer code.
/// \param gain 1 or 16, \param ms 13.7, 101 or 402
/// \returns whole lx
/// \source data sheet, "simplified lux calculation"
template <Recorder R>
std::uint32_t lux_integer(std::uint32_t CH0, std::uint32_t CH1, double gain, double ms, Package package, R&& record) {
  struct Piece {
    std::uint32_t k, b, m;
  };
  static constexpr std::array<Piece, 7> t = {{{0x40, 0x1f2, 0x1be},
                                              {0x80, 0x214, 0x2d1},
                                              {0xc0, 0x23f, 0x37b},
                                              {0x100, 0x270, 0x3fe},
                                              {0x138, 0x16f, 0x1fc},
                                              {0x19a, 0xd2, 0xfb},
                                              {0x29a, 0x18, 0x12}}};
  static constexpr std::array<Piece, 7> cs = {{{0x43, 0x204, 0x1ad},
                                               {0x85, 0x228, 0x2c1},
                                               {0xc8, 0x253, 0x363},
                                               {0x10a, 0x282, 0x3df},
                                               {0x14d, 0x177, 0x1dd},
                                               {0x19a, 0x101, 0x127},
                                               {0x29a, 0x37, 0x2b}}};
  std::uint64_t scale = ms < 50 ? 0x7517 : ms < 200 ? 0xfe7 : 1 << 10;
  if (gain < 16) scale <<= 4;
  const std::uint64_t channel0 = (CH0 * scale) >> 10, channel1 = (CH1 * scale) >> 10;
  const std::uint64_t ratio1 = channel0 ? (channel1 << 10) / channel0 : 0;
  const std::uint64_t ratio = (ratio1 + 1) >> 1;
  record("channel0", static_cast<double>(channel0), "CH0·scale >> 10");
  record("channel1", static_cast<double>(channel1), "CH1·scale >> 10");
  record("ratio", static_cast<double>(ratio), "((channel1 << 10)/channel0 + 1) >> 1");
  std::int64_t b = 0, m = 0;
  for (const Piece& piece : package == Package::cs ? cs : t) {
    if (ratio > piece.k) continue;
    b = piece.b;
    m = piece.m;
    break;
  }
  std::int64_t temp = static_cast<std::int64_t>(channel0) * b - static_cast<std::int64_t>(channel1) * m;
  if (temp < 0) temp = 0;
  temp += 1 << 13;
  record("temp", static_cast<double>(temp), "channel0·b − channel1·m + 2¹³");
  record("lux", static_cast<double>(temp >> 14), "temp >> 14");
  return static_cast<std::uint32_t>(temp >> 14);
}

}  // namespace fair_gauge::formulas::tsl2561
