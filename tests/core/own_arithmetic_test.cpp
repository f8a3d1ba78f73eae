// Somebody's own line: run as a C compiler runs it, and wrong by what is worked out here by hand.
#include <gmock/gmock.h>

#include <fmt/format.h>
#include <cstdio>
#include <filesystem>
#include <fstream>
#include <random>

#include "demo.h"
#include "handoff/own_arithmetic.h"

namespace fair_gauge::own_arithmetic_test {

using testing::HasSubstr;

double run16(const std::string& line, double raw, double volts = 0) {
  const auto own = OwnArithmetic::read(line, 16, 0, 1023);
  EXPECT_TRUE(own) << line << ": " << (own ? "" : to_text(own.problem()));
  return own ? own->run(raw, volts).value : std::nan("");
}

TEST(OwnLine, IsRunInWordsOfSixteenBits) {
  // 42 · 782 = 32844 does not fit in 16 bits: 32844 − 65536 = −32692, ÷ 1000 = −32, − 250 = −282.
  EXPECT_EQ(run16("t = adc * 782 / 1000 - 250", 41), 41 * 782 / 1000 - 250);
  EXPECT_EQ(run16("t = adc * 782 / 1000 - 250", 42), -282);
  EXPECT_EQ(run16("int t = adc * 782L / 1000 - 250;", 42), -218);  // 32.844 cut to 32
  EXPECT_EQ(run16("(long)adc * 782 / 1000 - 250", 42), -218);
  EXPECT_EQ(run16("(float)adc * 782 / 1000 - 250", 42), static_cast<float>(-217.156));
  EXPECT_EQ(run16("return adc * 5;", 1000), 5000);
  EXPECT_EQ(run16("uint8_t x = adc;", 300), 44);
  EXPECT_EQ(run16("-7 / 2 + adc - adc", 0), -3) << "towards zero";
  EXPECT_EQ(run16("-7 >> 1 + adc * 0", 0), -4) << "a shift towards minus infinity, and + before it";
  EXPECT_EQ(run16("0x7FFF + adc", 1), -32768);
  EXPECT_EQ(run16("0xFFFF + adc", 1), 0) << "a hexadecimal number is unsigned before it is long";
  EXPECT_EQ(run16("65535 + adc", 1), 65536) << "a decimal one becomes long";
  EXPECT_EQ(run16("40000u - adc - 40001u", 0), 65535);
  EXPECT_EQ(run16("(v - 0.5) * 100", 0, 0.75), 25);
  EXPECT_EQ(run16("mV / 10 - 50", 0, 0.75), 25);
  EXPECT_FLOAT_EQ(static_cast<float>(run16("1/(log(adc/1000.0)/3950+1/298.15)-273.15", 1000)), 25.0F);
  EXPECT_TRUE(std::isnan(run16("100 / adc", 0)));
  EXPECT_EQ(run16("0xFFFFFFFFFFFFFFFFULL / 0x8000000000000000ULL + adc", 0), 1);
  EXPECT_EQ(OwnArithmetic::read("adc * 782", 16, 0, 1023)->run(42, 0).overflow.has_value(), true);
  EXPECT_EQ(OwnArithmetic::read("adc * 782", 32, 0, 1023)->run(42, 0).overflow.has_value(), false);
  // A code of 16 bits is an unsigned int there: 60000 · 2 = 120000 − 65536.
  EXPECT_EQ(OwnArithmetic::read("adc * 2", 16, 0, 65535)->run(60000, 0).value, 54464);
}

TEST(OwnLine, SaysWhatItDoesNotUnderstand) {
  const auto wrong = [](const std::string& line) {
    const auto own = OwnArithmetic::read(line, 16, 0, 1023);
    return own ? std::string("read") : to_text(own.problem());
  };
  EXPECT_THAT(wrong("(adc + "), HasSubstr("at character 8"));
  EXPECT_THAT(wrong("adc * 3.3.1"), HasSubstr("at character"));
  EXPECT_THAT(wrong("adc + map(adc)"), HasSubstr("log, exp, sqrt or pow"));
  EXPECT_THAT(wrong("adc + b"), HasSubstr("two names"));
  EXPECT_THAT(wrong("3 + 4"), HasSubstr("no name"));
  EXPECT_THAT(wrong(""), HasSubstr("a name"));
  EXPECT_THAT(wrong("adc + 99999999999999999999"), HasSubstr("64 bits"));
  EXPECT_THAT(wrong(std::string(100'000, '(')), HasSubstr("too deep"));
  EXPECT_THAT(wrong(std::string(100'000, '-') + "adc"), HasSubstr("too deep"));
}

// Lines drawn at random, compiled by the machine's own compiler.
TEST(OwnLine, IsWhatACompilerMakesOfIt) {
  std::mt19937 random(11);
  const auto any = [&](auto... words) {
    const std::vector<std::string> all{words...};
    return all[random() % all.size()];
  };
  std::function<std::string(int)> piece = [&](int depth) -> std::string {
    if (depth == 0 || random() % 4 == 0)
      return any("adc", "adc", "adc", fmt::format("{}", random() % 3000), fmt::format("{}", random() % 9 + 1), "0x1F",
                 "70000", "3u", "2.5", "0.125f", "1000ULL");
    const std::string sign = any("+", "-", "*", "+", "-", "*", "/");
    return fmt::format("{}({} {} {})", any("", "", "-", "(long)", "(uint16_t)", "(int8_t)", "(unsigned)", "(double)"),
                       piece(depth - 1), sign, piece(depth - 1));
  };
  constexpr int lines = 150, places = 9;
  std::vector<std::string> drawn;
  std::string code = "#include <stdint.h>\n#include <stdio.h>\n#define long int\n";
  while (static_cast<int>(drawn.size()) < lines) {
    std::string line = piece(3);
    const auto own = OwnArithmetic::read(line, 32, 0, 4095);
    if (!own) continue;
    // What C leaves open (a number that fits no word, a division by zero) cannot be compared.
    bool defined = true;
    for (int i = 0; i < places; ++i) {
      const auto outcome = own->run(i * 511, 0);
      defined = defined && !outcome.overflow && std::isfinite(outcome.value);
    }
    // `long` has 32 bits on the controllers that are meant, 64 here.
    if (!defined || line.find("ULL") != std::string::npos) continue;
    code += fmt::format("static double f{}(int adc) {{ return (double)({}); }}\n", drawn.size(), line);
    drawn.push_back(line);
  }
  code += "int main(void) {\n";
  for (int i = 0; i < lines; ++i)
    code += fmt::format("  for (int i = 0; i < {}; ++i) printf(\"%.17g\\n\", f{}(i * 511));\n", places, i);
  code += "}\n";
  const std::string base = testing::TempDir() + fmt::format("fair-gauge-own-{}", getpid());
  std::ofstream(base + ".c") << code;
  // `long` is made the 32 bits that it has on the controllers.
  ASSERT_EQ(std::system(fmt::format("gcc -w -o {0} {0}.c && {0} > {0}.txt", base).c_str()), 0);
  std::ifstream results(base + ".txt");
  for (const std::string& line : drawn)
    for (int i = 0; i < places; ++i) {
      double compiled = 0;
      results >> compiled;
      EXPECT_DOUBLE_EQ(OwnArithmetic::read(line, 32, 0, 4095)->run(i * 511, 0).value, compiled)
          << line << " at " << i * 511;
    }
  for (const char* ending : {"", ".c", ".txt"}) std::filesystem::remove(base + ending);
}

// TMP36 on 12 bits of 3.3 V: t = (code · 3300 / 4096 − 500) / 10.
OwnVerdict judged(const std::string& line, int bits = 16) {
  const Chain chain = demo_chain("spawn_fridge");
  const auto verdict = check_own_arithmetic(chain, line, bits);
  EXPECT_TRUE(verdict) << line << (verdict ? "" : to_text(verdict.problem()));
  return verdict ? *verdict : OwnVerdict{};
}

TEST(OwnVerdictTest, SaysHowFarOffWhereAndWhatWouldMendIt) {
  EXPECT_TRUE(judged("(v - 0.5) * 100").is_exact_enough());
  const OwnVerdict off = judged("(v - 0.4) * 100");
  EXPECT_FALSE(off.is_exact_enough());
  EXPECT_NEAR(off.worst_wanted, 10, 0.001);  // a tenth of a volt is ten degrees
  EXPECT_NEAR(off.gives - off.right, 10, 0.001);
  ASSERT_FALSE(off.mends.empty());
  const auto words_of = [](const OwnVerdict& verdict) {
    std::string all;
    for (const auto& mend : verdict.mends) all += mend.words + "\n" + mend.line + "\n";
    return all;
  };
  EXPECT_THAT(words_of(off), HasSubstr("write 0.5 where 0.4 stands"));
  EXPECT_THAT(words_of(off), HasSubstr("take 10 off at the end"));
  // One step is 3300 / 4096 = 0.806 mV. Readings begin at −40 °C, 100 mV, code 124.1: from the first on, 806 times the
  // code does not fit 16 bits (32767 / 806 = 40.7), and fits a long.
  const std::string line = "t = adc * 806 / 1000 - 500";
  const OwnVerdict narrow = judged(line);
  EXPECT_GT(narrow.overflows, 1000);
  EXPECT_EQ(narrow.per_unit, 10);
  EXPECT_EQ(narrow.first_overflow, 125);
  EXPECT_THAT(narrow.overflow_in, HasSubstr("adc *"));
  EXPECT_THAT(words_of(narrow), HasSubstr("(long)adc"));
  EXPECT_EQ(judged(line, 32).overflows, 0);
  for (const OwnVerdict& verdict : {off, narrow})
    for (const auto& mend : verdict.mends)
      EXPECT_LE(judged(mend.line).worst_wanted, verdict.worst_wanted / 2) << mend.line;
}

TEST(OwnVerdictTest, WhatHasNoSingleRawNumberIsRefused) {
  for (const char* channel : {"room", "compost_probe"}) {
    const auto verdict = check_own_arithmetic(demo_chain(channel), "raw * 2", 16);
    EXPECT_FALSE(verdict) << channel;
  }
  const auto no_volts = check_own_arithmetic(demo_chain("rack"), "v * 2", 16);
  ASSERT_FALSE(no_volts);
  EXPECT_THAT(to_text(no_volts.problem()), HasSubstr("no volts"));
  EXPECT_TRUE(check_own_arithmetic(demo_chain("rack"), "raw * 0.0625", 16)->is_exact_enough());
}

}  // namespace fair_gauge::own_arithmetic_test
