// Properties that must hold for any input: nothing crashes, nothing is lost, what goes out comes back.
#include <fmt/format.h>
#include <gtest/gtest.h>
#include <algorithm>

#include <cmath>
#include <random>

#include "demo.h"
#include "quantity/number_format.h"
#include "quantity/quantity_text.h"
#include "stream/log_convert.h"
#include "stream/serial_text.h"
#include "truth/error_budget.h"

namespace fair_gauge::property_test {

const int rounds = is_sanitized ? 100 : 400;

// Text that looks like what files hold, with anything mixed in.
std::string any_text(std::mt19937& random, std::size_t longest) {
  static const std::string alphabet = "0123456789,;.:-+eExkMµΩ \t\r\n\"'{}[]abcnulltrue\xff\x00\x80";
  std::string text(random() % (longest + 1), ' ');
  for (char& c : text) c = alphabet[random() % alphabet.size()];
  return text;
}

TEST(AnyText, IsReadAsAQuantityOrRefusedWithAReason) {
  std::mt19937 random(1);
  for (int i = 0; i < 20 * rounds; ++i) {
    const auto dimension = static_cast<Dimension>(random() % 14);
    const auto quantity = parse_quantity(any_text(random, 12), dimension);
    if (quantity) {
      EXPECT_TRUE(std::isfinite(quantity->base));
      EXPECT_EQ(quantity->written->dimension, dimension);
    } else {
      EXPECT_FALSE(quantity.problem().wrong.empty());
      EXPECT_GE(quantity.problem().place.column, 1);
    }
  }
}

TEST(WrittenNumbers, ReadBackAsTheyWere) {
  std::mt19937 random(2);
  std::uniform_real_distribution<double> exponent(-11, 10), mantissa(1, 10);
  for (int i = 0; i < 20 * rounds; ++i) {
    const double number = (random() % 2 ? 1 : -1) * mantissa(random) * std::pow(10, exponent(random));
    for (const char* mark : {".", ","}) {
      const auto again = parse_quantity(with_prefix(number, "V", 9, {.decimal_mark = mark}), Dimension::voltage);
      ASSERT_TRUE(again) << with_prefix(number, "V", 9, {.decimal_mark = mark});
      EXPECT_NEAR(again->base, number, 1e-7 * std::abs(number));
    }
    const double rounded = std::round(number * 100) / 100;
    if (std::abs(rounded) > 1e9) continue;
    EXPECT_NEAR(*parse_number(fixed(rounded, 2)), rounded, 1e-9 * std::max(1.0, std::abs(rounded)));
  }
}

TEST(Units, GoToTheBaseAndBack) {
  for (const Unit& unit : all_units())
    for (const double number : {-40.0, 0.0, 1.0, 98.6, 1e5})
      EXPECT_NEAR(unit.from_base(unit.to_base(number)), number, 1e-9 * std::max(1.0, std::abs(number))) << unit.ucum;
  // Fixed points from outside: −40 °F is −40 °C, 0 K is −273.15 °C, 29.92 inHg is 101 320.8 Pa, 1 psi is 6894.757 Pa.
  EXPECT_NEAR(unit_by_ucum("[degF]")->to_base(-40), -40, 1e-12);
  EXPECT_NEAR(unit_by_ucum("K")->to_base(0), -273.15, 1e-12);
  EXPECT_NEAR(unit_by_ucum("[in_i'Hg]")->to_base(29.92), 101320.8, 0.1);
  EXPECT_NEAR(unit_by_ucum("[psi]")->to_base(1), 6894.757, 1e-3);
}

TEST(AnyLog, KeepsItsRowsWhateverTheyHold) {
  std::mt19937 random(3);
  const Chain chain = demo_chain("substrate");
  for (int i = 0; i < rounds; ++i) {
    std::string log = "time,counts\n";
    const int rows = static_cast<int>(random() % 30);
    for (int row = 0; row < rows; ++row) {
      std::string line = random() % 3 ? fmt::format("{},{}", row, random() % 5000) : any_text(random, 20);
      std::erase(line, '\n');
      log += line + (random() % 4 ? "\n" : "\r\n");
    }
    std::string out;
    LogConverter converter(chain, "", 2, *chain.shown, [&](std::string_view text) { out += text; });
    for (std::size_t at = 0; at < log.size();) {
      const std::size_t size = 1 + random() % 40;
      ASSERT_FALSE(converter.take(std::string_view(log).substr(at, size)));
      at += size;
    }
    ASSERT_FALSE(converter.finish());
    EXPECT_EQ(std::ranges::count(out, '\n'), std::ranges::count(log, '\n'));
    std::uint64_t failed = 0;
    for (const auto& [why, reason] : converter.summary().failed) failed += reason.count;
    EXPECT_EQ(converter.summary().converted + failed, converter.summary().rows);
  }
}

TEST(AnyBytesOnALine, GiveLinesThatAreReadOrRefused) {
  std::mt19937 random(4);
  SerialText reader;
  for (int i = 0; i < 10 * rounds; ++i)
    for (const SerialLine& line : reader.take(any_text(random, 60))) EXPECT_TRUE(line.problem || line.text.size() > 0);
}

TEST(AnyBenchFile, MutatedAtWillIsReadOrRefused) {
  std::mt19937 random(5);
  const std::string good = bench_to_text(demo_bench());
  for (int i = 0; i < rounds; ++i) {
    std::string text = good;
    for (int change = 0; change < 3; ++change) {
      const std::size_t at = random() % text.size();
      switch (random() % 3) {
        case 0: text[at] = static_cast<char>(random()); break;
        case 1: text.erase(at, random() % 20); break;
        case 2: text.insert(at, any_text(random, 8)); break;
      }
    }
    const auto loaded = bench_from_text(text, "mutated");
    if (!loaded) continue;
    for (const Channel& channel : loaded->bench.channels) {  // whatever was read can be worked with
      const auto chain = build_chain(loaded->bench, shipped_parts(), channel.id);
      if (chain) (void)error_budget(*chain, channel.wanted.from);
    }
    EXPECT_EQ(bench_from_text(bench_to_text(loaded->bench), "again")->bench, loaded->bench);
  }
}

TEST(EveryDemonstrationChannel, RoundTripsWithinHalfAStepOverItsWantedRange) {
  for (const Channel& channel : demo_bench().channels) {
    const Chain chain = demo_chain(channel.id);
    for (int i = 1; i < 100; ++i) {
      const double world = channel.wanted.from + (channel.wanted.to - channel.wanted.from) * i / 100;
      const auto raw = raw_for(chain, world);
      ASSERT_TRUE(raw) << channel.id << " at " << world << ": " << to_text(raw.problem());
      EXPECT_NEAR(*read_raw(chain, *raw), world, 0.55 * step_at(chain, world)) << channel.id;
    }
  }
}

}  // namespace fair_gauge::property_test
