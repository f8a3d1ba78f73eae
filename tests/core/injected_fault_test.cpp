// Faults put on the simulated bench on purpose: who they reach, what arrives then, and that bytes that were spoilt on
// the way no longer pass their check.
#include <gmock/gmock.h>

#include "board.h"
#include "demo.h"
#include "diagnose/injected_fault.h"

namespace fair_gauge::injected_fault_test {

using ::testing::Contains;
using ::testing::Each;
using ::testing::ElementsAre;
using ::testing::Field;
using ::testing::HasSubstr;
using ::testing::IsSupersetOf;
using ::testing::Not;

std::shared_ptr<const Bench> shared_demo() { return std::make_shared<const Bench>(demo_bench()); }
std::shared_ptr<const Catalogue> shared_catalogue() { return {std::shared_ptr<void>(), &shipped_parts()}; }

InjectedFault fault(const std::string& channel, const std::string& name) {
  auto made = InjectedFault::of_name(shared_demo(), shared_catalogue(), channel, name);
  EXPECT_TRUE(made) << name << ": " << (made ? "" : to_text(made.problem()));
  return std::move(*made);
}

std::vector<std::string> names(const std::string& channel) {
  std::vector<std::string> all;
  const auto choices = InjectedFault::choices(shared_demo(), shared_catalogue(), channel);
  for (const auto& each : *choices) {
    EXPECT_FALSE(each.words.empty()) << each.name;
    all.push_back(each.name);
  }
  return all;
}

TEST(InjectedFault, EachChannelHasItsOwn) {
  EXPECT_THAT(names("substrate"), IsSupersetOf({"open", "short", "stuck", "resistor-side", "unit-fahrenheit"}));
  EXPECT_THAT(names("substrate"), Not(Contains("no-pull-up")));  // it is on no bus
  EXPECT_THAT(names("room"),
              IsSupersetOf({"stuck", "missing", "spikes", "no-pull-up", "no-response", "trimming-order", "not-ready"}));
  EXPECT_THAT(names("room"), Not(testing::AnyOf(Contains("open"), Contains("short"))));  // it has no leads
  EXPECT_THAT(names("room"), Not(Contains("checksum-ignored")));                         // its part sends no check
  EXPECT_THAT(names("rack"), IsSupersetOf({"no-pull-up", "checksum-ignored"}));
  const auto none = InjectedFault::of_name(shared_demo(), shared_catalogue(), "room", "gremlins");
  ASSERT_FALSE(none);
  EXPECT_THAT(none.problem().expected, HasSubstr("no-pull-up"));
  EXPECT_FALSE(InjectedFault::choices(shared_demo(), shared_catalogue(), "nobody"));
}

// Every one of every channel can be made, and answers: a number, or nothing.
TEST(InjectedFault, EveryChoiceCanBePutIn) {
  for (const char* channel : {"rack", "substrate", "compost_probe", "filter", "fan_plate", "room_pressure"}) {
    if (is_sanitized && channel != std::string("rack")) continue;
    for (const std::string& name : names(channel)) {
      const InjectedFault one = fault(channel, name);
      SimulatedDevice device = one.device(demo_chain(channel), 1);
      const Channel known = demo_chain(channel).channel;
      const auto answer = one.answer(device, (known.wanted.from + known.wanted.to) / 2);
      EXPECT_TRUE(!answer || std::isfinite(*answer)) << channel << " " << name;
      if (name == "no-response") {
        EXPECT_FALSE(answer) << channel;
      }
    }
  }
}

TEST(InjectedFault, ABusWithoutPullUpsIsDumbForAllOnIt) {
  // By the bench file: the air part and the light part share the two-wire bus of the shed, whoever else hangs on it.
  const Bench bench = demo_bench();
  const std::string bus = find_by_id(bench.devices, find_by_id(bench.channels, "room")->device)->bus;
  std::vector<std::string> on_it;
  for (const Channel& each : bench.channels)
    if (const Device* device = find_by_id(bench.devices, each.device); device && device->bus == bus)
      on_it.push_back(each.id);
  ASSERT_GE(on_it.size(), 3u);
  EXPECT_EQ(fault("room", "no-pull-up").channels(), on_it);
  EXPECT_THAT(fault("room", "no-response").channels(), ElementsAre("room"));
}

// An open thermistor below its fixed resistor leaves the pin at the supply: 4095 of 12 bits, whatever the temperature.
TEST(InjectedFault, AnOpenLeadIsTheEndOfTheRange) {
  const InjectedFault open = fault("substrate", "open");
  SimulatedDevice device = open.device(demo_chain("substrate"), 1);
  for (const double truth : {5.0, 25.0, 45.0}) EXPECT_EQ(open.answer(device, truth), 4095);
}

// One bit of sixteen is turned, so that the number is 8192 off, and the check says so.
TEST(InjectedFault, ATurnedBitNoLongerPassesTheCheck) {
  const Bench bench = demo_bench();
  const InjectedFault turned = fault("rack", "checksum-ignored");
  SimulatedDevice device = turned.device(demo_chain("rack"), 1), honest(demo_chain("rack"), 1);
  const double was = honest.answer(20), is = *turned.answer(device, 20);
  EXPECT_EQ(std::abs(is - was), 8192);
  SimulatedLine line(bench, shipped_parts());
  auto block = line.bytes("rack", is);
  const auto decoder = Decoder::make(shipped_parts().share("one-wire-temperature"));
  const std::string name = demo_chain("rack").bytes->block_name();
  EXPECT_THAT(decoder->decode({{name, block}}).faults, Not(Contains(Field(&DigitalFault::code, "checksum"))));
  turned.spoil(block);
  EXPECT_THAT(decoder->decode({{name, block}}).faults, Contains(Field(&DigitalFault::code, "checksum")));
}

TEST(InjectedFault, AreAskedForByNameAndChannel) {
  const auto faults =
      injected_faults(shared_demo(), shared_catalogue(), {"stuck@substrate", "unit-fahrenheit@spawn_fridge"});
  ASSERT_TRUE(faults);
  EXPECT_EQ(faults->size(), 2u);
  EXPECT_FALSE(faults->at("substrate")->is_of_arithmetic());
  EXPECT_TRUE(faults->at("spawn_fridge")->is_of_arithmetic());
  for (const char* wrong : {"stuck", "stuck@nobody", "gremlins@room", "@"})
    EXPECT_FALSE(injected_faults(shared_demo(), shared_catalogue(), {wrong})) << wrong;
}

// The board leaves out who does not answer; without names its place stays.
TEST(InjectedFault, TheBoardSaysNothingForASilentChannel) {
  using namespace standin;
  const auto channels = [](bool first) {
    std::vector<BoardChannel> all;
    for (const char* id : {"substrate", "board"})
      all.push_back({id, EnvironmentCourse(demo_chain(id).channel, 1), SimulatedDevice(demo_chain(id), 1), "", "",
                     (id == std::string("substrate")) == first
                         ? std::make_shared<const InjectedFault>(fault(id, "no-response"))
                         : nullptr});
    return all;
  };
  auto first = channels(true), second = channels(false);
  EXPECT_THAT(line_at(first, LineForm::named, 0), testing::MatchesRegex("board:[0-9]+\r\n"));
  EXPECT_THAT(line_at(second, LineForm::named, 0), testing::MatchesRegex("substrate:[0-9]+\r\n"));
  EXPECT_THAT(line_at(first, LineForm::csv, 0), testing::MatchesRegex(",[0-9]+\r\n"));
  EXPECT_THAT(line_at(second, LineForm::csv, 0), testing::MatchesRegex("[0-9]+,\r\n"));
}

}  // namespace fair_gauge::injected_fault_test
