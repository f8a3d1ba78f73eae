// Asks which mistake explains a number, and says what the answer was.
#pragma once

#include <fmt/format.h>
#include <gtest/gtest.h>

#include <cmath>

#include "demo.h"
#include "diagnose/diagnose.h"

namespace fair_gauge::diagnose_test {

inline std::string listed(const Diagnosis& diagnosis) {
  std::string all;
  for (const Cause& cause : diagnosis.causes)
    all += fmt::format("{} {:.2f} ({}); ", cause.code, cause.share, cause.gives.value_or(std::nan("")));
  return all + fmt::format(" right {}", diagnosis.right.value_or(std::nan("")));
}

inline Diagnosis ask(const Bench& bench, const std::string& channel, double raw, std::optional<double> shown,
                     int decimals = 2, std::optional<Range> expected = std::nullopt) {
  const auto answer =
      diagnose(bench, shipped_parts(), channel,
               {.raw = raw, .bytes = {}, .registers = {}, .shown = shown, .decimals = decimals, .expected = expected});
  EXPECT_TRUE(answer) << (answer ? "" : to_text(answer.problem()));
  return answer ? *answer : Diagnosis{};
}

inline double rounded_to(double value, int decimals) {
  const double factor = std::pow(10.0, decimals);
  return std::round(value * factor) / factor;
}

// A part that answers with bytes, its quantity the channel "t".
inline Bench bytes_bench(const std::string& part, Quantity quantity, const std::string& unit) {
  Bench bench;
  bench.devices = {{.id = "device", .part = part}};
  Channel channel{.id = "t", .device = "device", .quantity = quantity, .wanted = {0, 50}, .tolerance = 1, .unit = unit};
  if (quantity == Quantity::pressure) channel.kind = PressureKind::absolute, channel.wanted = {90000, 110000};
  bench.channels = {channel};
  return bench;
}

}  // namespace fair_gauge::diagnose_test
