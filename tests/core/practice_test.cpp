// Mistakes made on purpose: what they show was worked out here from the field's own formulas; those that are made are
// found again; a practice case can be solved by what it measures.
#include <gmock/gmock.h>

#include <cmath>

#include "demo.h"
#include "diagnose/diagnose.h"
#include "diagnose/practice.h"

namespace fair_gauge::practice_test {

using ::testing::Contains;
using ::testing::HasSubstr;

std::shared_ptr<const Bench> shared_demo() { return std::make_shared<const Bench>(demo_bench()); }
std::shared_ptr<const Catalogue> shared_catalogue() { return {std::shared_ptr<void>(), &shipped_parts()}; }

MadeMistake made(const std::string& channel, const std::string& code) {
  auto one = MadeMistake::of_code(shared_demo(), shared_catalogue(), channel, code);
  EXPECT_TRUE(one) << channel << " " << code << ": " << (one ? "" : to_text(one.problem()));
  return std::move(*one);
}

TEST(MadeMistake, OfTheWorldGivesAnotherRawNumber) {
  // The thermistor's fixed resistor of 8.2 kΩ sits below the pin, the bench says above. At 25 °C, which its correction
  // of −0.2 °C reads from 25.2 °C: 10 kΩ · exp(3950 · (1/298.35 − 1/298.15)) = 9911.6 Ω, 4096 · 8200/18111.6 = 1854.4.
  const MadeMistake side = made("substrate", "resistor-side");
  EXPECT_TRUE(side.is_of_world());
  const double ohm = 10e3 * std::exp(3950 * (1 / 298.35 - 1 / 298.15)), raw = 4096 * 8200 / (8200 + ohm);
  ASSERT_TRUE(side.raw_for(25));
  EXPECT_NEAR(*side.raw_for(25), raw, 0.51);
  // The firmware takes that for a resistor above: R = 8200 · raw/(4096 − raw), 33.8 °C.
  const double code = std::round(raw), taken = 8200 * code / (4096 - code);
  EXPECT_NEAR(side.shows(code), 1 / (1 / 298.15 + std::log(taken / 10e3) / 3950) - 273.15 - 0.2, 0.01);
}

TEST(MadeMistake, OfTheArithmeticShowsAnotherNumber) {
  // (2048 · 3.3/4096 − 0.5) · 100 = 115 °C; in °F 239; without its offset 165; ten times too large 1150.
  for (const auto& [code, shown] :
       {std::pair{"unit-fahrenheit", 239.0}, {"offset-forgotten", 165.0}, {"unit-kelvin", 388.15}}) {
    const MadeMistake one = made("spawn_fridge", code);
    EXPECT_FALSE(one.is_of_world()) << code;
    EXPECT_NEAR(one.shows(2048), shown, 0.02) << code;
    EXPECT_NEAR(*one.raw_for(5), (0.5 + 0.05) / 3.3 * 4096, 0.51) << code;  // the world is as it should be
  }
}

TEST(MadeMistake, StatesLeaveNoTruth) {
  const MadeMistake open = made("substrate", "disconnected");
  EXPECT_TRUE(open.is_state());
  EXPECT_EQ(*open.raw_for(10), *open.raw_for(40));
  EXPECT_EQ(*open.raw_for(10), 4095);  // the fixed resistor pulls the pin up
  const MadeMistake skipped = made("room", "not-ready");
  EXPECT_EQ(*skipped.raw_for(20), 0x80000);
}

TEST(MadeMistake, UnknownOnesAreSaidWithThoseThereAre) {
  const auto none = MadeMistake::of_code(shared_demo(), shared_catalogue(), "substrate", "gremlins");
  ASSERT_FALSE(none);
  EXPECT_THAT(none.problem().expected, HasSubstr("resistor-side"));
  EXPECT_FALSE(MadeMistake::of_code(shared_demo(), shared_catalogue(), "nobody", "divisor"));
}

// The wrong chain that is made is found again: listed as a cause, alone or with its equals.
TEST(MadeMistake, IsFoundAgain) {
  const Bench demo = demo_bench();
  const double places[] = {0.6, 0.2, 0.85};
  for (const char* channel :
       {"substrate", "spawn_fridge", "compost_probe", "steamer", "room", "room_pressure", "grow_light", "rack"})
    for (const double place : places) {
      if (is_sanitized && (channel != std::string("substrate") || place != places[0])) continue;
      const Channel& known = *find_by_id(demo.channels, channel);
      const double truth = known.wanted.from + place * (known.wanted.to - known.wanted.from);
      const auto all = MadeMistake::all(shared_demo(), shared_catalogue(), channel, truth);
      ASSERT_TRUE(all) << channel;
      std::set<std::string> looked_at;
      for (const MadeMistake& one : *all) {
        if (one.needs_number() || !looked_at.insert(one.code()).second) continue;
        const auto raw = one.raw_for(truth);
        if (!raw) continue;
        const double shown = one.shows(*raw), right = one.believed().shown->from_base(truth);
        const double allowed = known.tolerance / std::abs(one.believed().shown->scale);
        if (!std::isfinite(shown) || std::abs(shown - right) < allowed) continue;
        Question question{.raw = *raw, .expected = Range{right - allowed, right + allowed}};
        question.shown = std::round(shown * 1000) / 1000;
        question.decimals = 3;
        const auto found = diagnose(demo, shipped_parts(), channel, question);
        ASSERT_TRUE(found) << channel << " " << one.code();
        std::vector<std::string> codes;
        for (const Cause& cause : found->causes) codes.push_back(cause.code);
        EXPECT_THAT(codes, Contains(one.code())) << channel << " at " << truth << " shows " << shown;
      }
    }
}

TEST(Practice, IsDrawnAgainByItsSeedAndSolvedByMeasuring) {
  for (const PracticeLevel level : {PracticeLevel::plain, PracticeLevel::tangled}) {
    if (is_sanitized && level == PracticeLevel::tangled) continue;
    auto first = PracticeCase::draw(shared_demo(), shared_catalogue(), "substrate", level, 7);
    auto second = PracticeCase::draw(shared_demo(), shared_catalogue(), "substrate", level, 7);
    ASSERT_TRUE(first && second);
    EXPECT_EQ(first->made().code(), second->made().code());
    EXPECT_EQ(first->shown({}), second->shown({}));
    EXPECT_NE(first->shown({}), first->reference({})) << "it can be seen";
    for (const PracticeProbe& probe : first->probes()) EXPECT_FALSE(first->measure(probe.id, {}).empty()) << probe.id;
    const int measured = first->measurements();
    EXPECT_EQ(static_cast<std::size_t>(measured), first->probes().size());
    first->measure("raw", {});
    EXPECT_EQ(first->measurements(), measured) << "asked twice, counted once";
    EXPECT_THAT(first->choices(), Contains(first->made().code()));
    const PracticeVerdict right = first->name(first->made().code());
    EXPECT_TRUE(right.right);
    EXPECT_FALSE(right.equal);
    EXPECT_FALSE(right.words.empty());
    EXPECT_FALSE(right.fix.empty());
    EXPECT_FALSE(first->name("no such thing").right);
  }
}

TEST(Practice, MetersTellAMistakeOfTheWorldFromOneOfTheArithmetic) {
  // Over many draws: where the arithmetic is wrong the pin has the volts that the bench expects there.
  int of_arithmetic = 0, of_world = 0;
  for (std::uint64_t seed = 1; seed <= (is_sanitized ? 3 : 12); ++seed) {
    auto one = PracticeCase::draw(shared_demo(), shared_catalogue(), "spawn_fridge", PracticeLevel::plain, seed);
    ASSERT_TRUE(one) << seed;
    if (one->made().is_state()) continue;
    const std::string pin = one->measure("pin", {});
    const double celsius =
        std::stod(one->reference({}).starts_with("−") ? "-" + one->reference({}).substr(3) : one->reference({}));
    const double millivolts = pin.find("mV") != std::string::npos ? std::stod(pin) : 1000 * std::stod(pin);
    EXPECT_NEAR(millivolts, 500 + 10 * celsius, 6) << one->made().words();
    one->made().is_of_world() ? ++of_world : ++of_arithmetic;
  }
  EXPECT_GT(of_arithmetic, 0);
}

TEST(Practice, WorksOnEveryChannelOfTheDemonstration) {
  const Bench demo = demo_bench();
  for (const Channel& channel : demo.channels) {
    if (is_sanitized && channel.id != "substrate" && channel.id != "room") continue;
    auto one = PracticeCase::draw(shared_demo(), shared_catalogue(), channel.id, PracticeLevel::doubtful, 3);
    ASSERT_TRUE(one) << channel.id << ": " << (one ? "" : to_text(one.problem()));
    for (const PracticeProbe& probe : one->probes())
      EXPECT_FALSE(one->measure(probe.id, {}).empty()) << channel.id << " " << probe.id;
    EXPECT_TRUE(one->name(one->made().code()).right) << channel.id;
    EXPECT_GT(one->choices().size(), 5u) << channel.id;
  }
}

// Warmed by hand, a thermistor whose resistor sits on the other side falls; swapped, one of another beta is right
// again.
TEST(Practice, AHandAndAnotherSpecimenTellToo) {
  std::set<std::string> seen;
  for (std::uint64_t seed = 1; seed < (is_sanitized ? 4 : 30) && seen.size() < 2; ++seed) {
    auto one = PracticeCase::draw(shared_demo(), shared_catalogue(), "substrate", PracticeLevel::plain, seed);
    ASSERT_TRUE(one);
    const std::string code = one->made().code(), warm = one->measure("warm", {}), swap = one->measure("swap", {});
    if (code == "resistor-side" && one->made().is_of_world()) {
      EXPECT_THAT(warm, HasSubstr("it falls"));
      EXPECT_THAT(swap, HasSubstr("still"));
      seen.insert(code);
    }
    if (code == "beta" && one->made().is_of_world()) {
      EXPECT_THAT(warm, HasSubstr("it rises"));
      ASSERT_TRUE(swap.starts_with("shown "));
      EXPECT_NEAR(std::stod(swap.substr(6)), std::stod(one->reference({})), 0.03) << "within a step";
      seen.insert(code);
    }
  }
  EXPECT_TRUE(is_sanitized || !seen.empty());
}

// A converter at its end stays there, whatever the decimals of its reading are.
TEST(Practice, AnInputThatIsOpenStaysWhereItIs) {
  auto bench = std::make_shared<Bench>();
  bench->rails = {{.id = "5v", .voltage = {.nominal_v = 5}}};
  bench->converters = {{.id = "adc", .bits = 10, .reference_rail = "5v"}};
  bench->devices = {{.id = "air", .part = "LM35", .converter = "adc"}};
  bench->channels = {{.id = "t", .device = "air", .wanted = {5, 50}, .tolerance = 3, .unit = "Cel"}};
  int met = 0;
  for (std::uint64_t seed = 1; seed < 40; ++seed) {
    auto one = PracticeCase::draw(bench, shared_catalogue(), "t", PracticeLevel::plain, seed);
    ASSERT_TRUE(one) << to_text(one.problem());
    if (!one->made().is_state()) continue;
    EXPECT_THAT(one->measure("warm", {}), HasSubstr("it stays")) << one->made().code() << " of seed " << seed;
    ++met;
  }
  EXPECT_GT(met, 0);
}

TEST(Practice, ABenchWithoutTheChannelIsSaid) {
  EXPECT_FALSE(PracticeCase::draw(std::make_shared<const Bench>(), shared_catalogue(), "t", PracticeLevel::plain, 1));
}

}  // namespace fair_gauge::practice_test
