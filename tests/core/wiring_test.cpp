// Buses: pull-ups and levels against calculations by hand, addresses against brute force, scans, time and energy.
#include <fmt/format.h>
#include <gmock/gmock.h>

#include <cmath>
#include <functional>
#include <random>
#include <set>

#include "demo.h"
#include "files/markup.h"
#include "wiring/address_plan.h"
#include "wiring/bus_check.h"
#include "wiring/bus_scan.h"
#include "wiring/cycle_plan.h"
#include "wiring/wiring_list.h"

namespace fair_gauge::wiring_test {

using testing::Contains;
using testing::ElementsAre;
using testing::HasSubstr;

std::vector<std::string> words_of(const BusCheck& check, Severity severity) {
  std::vector<std::string> words;
  for (const Finding& finding : check.findings)
    if (finding.severity == severity) words.push_back(finding.words);
  return words;
}

struct Wired {
  Bench bench = demo_bench();
  Bus& bus = bench.buses[0];

  Wired() {
    Rail& five = bench.rails.emplace_back();
    five.id = "5v";
    five.voltage.nominal_v = 5;
  }
  void pull(std::initializer_list<PullUp> pull_ups) { bus.pull_ups = pull_ups; }
  BusCheck check() {
    auto checked = check_bus(bench, shipped_parts(), bus);
    EXPECT_TRUE(checked) << checked.problem().wrong;
    return *checked;
  }
};

PullUp to(double ohm, const std::string& rail = "", const std::string& where = "a board") {
  PullUp pull_up;
  pull_up.ohm = ohm;
  pull_up.to = rail;
  pull_up.where = where;
  return pull_up;
}

// ---- pull-ups and levels ----

TEST(BusCheck, ThreeBoardsTogetherAreJudgedAsOneResistor) {
  Wired wired;
  // 20 pF board, 2 devices of 10 pF, 1.2 m of 60 pF/m: 112 pF. 300 ns ÷ (0.8473 · 3333 Ω) = 106 pF.
  wired.bus.speed_hz = 400e3;
  const BusCheck check = wired.check();
  EXPECT_NEAR(check.capacitance_f, 112e-12, 1e-15);
  EXPECT_NEAR(*check.size.existing_ohm, 10e3 / 3, 0.01);
  EXPECT_EQ(check.size.verdict, PullUpVerdict::too_weak);
  wired.bus.cable_m = 1.0;  // 100 pF
  EXPECT_EQ(wired.check().size.verdict, PullUpVerdict::good);
  EXPECT_THAT(words_of(wired.check(), Severity::note), Contains(HasSubstr("106 pF")));
  EXPECT_FALSE(wired.check().has_fault());
}

TEST(BusCheck, LowLevelAndEdgeFollowFromTheResistors) {
  Wired wired;
  const BusCheck check = wired.check();
  // An output of 0.4 V at 3 mA is 133.3 Ω: 3.3 V · 133.3 ÷ (133.3 + 3333.3) = 0.1269 V, less the leakage's part.
  EXPECT_NEAR(check.low_v, 0.1269, 0.004);
  EXPECT_NEAR(check.margin_low_v, 0.3 * 3.3 - check.low_v, 1e-12);
  // After one time constant the line has made 63.2 % of its way.
  const double tau = *check.pull.ohm * check.capacitance_f;
  EXPECT_NEAR(check.volts_after(tau), check.low_v + (check.pull.open_v - check.low_v) * 0.63212, 1e-4);
}

TEST(BusCheck, WrongPullUpsAreFoundAndMoveTheLine) {
  Wired wired;
  wired.pull({});
  EXPECT_THAT(words_of(wired.check(), Severity::fault), Contains(HasSubstr("never becomes high")));
  EXPECT_EQ(wired.check().volts_after(1), wired.check().low_v);
  wired.pull({to(10e3), to(10e3), to(10e3, "ground", "the light sensor's board")});
  // Two up, one down: two thirds of 3.3 V are 2.2 V, 2.31 V would be needed.
  EXPECT_NEAR(wired.check().pull.open_v, 2.2, 0.07);
  EXPECT_THAT(words_of(wired.check(), Severity::fault), Contains(HasSubstr("goes to ground")));
  EXPECT_THAT(words_of(wired.check(), Severity::fault), Contains(HasSubstr("is needed to be read as high")));
  wired.pull({to(10e3), to(10e3, "5v")});
  // Half way between 3.3 and 5 V.
  EXPECT_NEAR(wired.check().pull.open_v, 4.15, 0.11);
  EXPECT_THAT(words_of(wired.check(), Severity::fault), Contains(HasSubstr("the controller's pin bears 3.60 V")));
  wired.pull({to(1e3), to(1e3, "", "the board with the display")});
  EXPECT_THAT(words_of(wired.check(), Severity::fault),
              Contains(HasSubstr("Without the 1 kΩ of a board it is 1 kΩ: in the window")));
  wired.pull({to(45e3, "", "the controller's own")});
  EXPECT_THAT(words_of(wired.check(), Severity::fault), Contains(HasSubstr("too weak")));
}

TEST(BusCheck, AtOneMegahertzASinkOfThreeMilliampereLeavesNoWindow) {
  Wired wired;
  wired.bus.speed_hz = 1e6;
  wired.bus.cable_m = 3;  // 220 pF: 120 ns ÷ (0.8473 · 220 pF) = 644 Ω, below (3.3 − 0.4) V ÷ 3 mA = 967 Ω
  EXPECT_EQ(wired.check().size.verdict, PullUpVerdict::impossible);
  EXPECT_NEAR(wired.check().size.maximum_ohm, 644, 1);
  EXPECT_NEAR(wired.check().size.minimum_ohm, 967, 1);
  wired.bus.cable_m = 7;  // 460 pF at 100 kHz: more than the 400 pF of the specification
  wired.bus.speed_hz = 100e3;
  EXPECT_EQ(wired.check().size.verdict, PullUpVerdict::impossible);
}

TEST(BusCheck, SuppliesOfTheDevicesAreHeldAgainstTheBus) {
  Wired wired;
  find_by_id(wired.bench.devices, "air_sensor")->rail = "5v";  // bears 3.6 V
  EXPECT_THAT(words_of(wired.check(), Severity::fault), Contains(HasSubstr("Room and 2 more (3.60 V at the most)")));
  EXPECT_THAT(words_of(wired.check(), Severity::fault), Contains(HasSubstr("3.50 V is needed to be read as high")));
  wired.bus.level_shift = true;
  EXPECT_THAT(words_of(wired.check(), Severity::fault),
              testing::Not(Contains(HasSubstr("is needed to be read as high"))));
  wired.bus.rail = "nowhere";
  EXPECT_FALSE(check_bus(wired.bench, shipped_parts(), wired.bus));
}

TEST(BusCheck, OtherLinesHaveTheirOwnRules) {
  Wired wired;
  Bus& wire = wired.bench.buses[1];
  wire.parasite = true;
  auto check = *check_bus(wired.bench, shipped_parts(), wire);
  EXPECT_THAT(words_of(check, Severity::fault), Contains(HasSubstr("85 °C")));
  wire.strong_pull_up = true;
  check = *check_bus(wired.bench, shipped_parts(), wire);
  EXPECT_FALSE(check.has_fault());
  EXPECT_THAT(words_of(check, Severity::warning), Contains(HasSubstr("100 °C")));
  wire.star = true;
  EXPECT_THAT(words_of(*check_bus(wired.bench, shipped_parts(), wire), Severity::warning), Contains(HasSubstr("echo")));
  Bus line;
  line.id = "dht";
  line.kind = BusKind::single_wire;
  line.rail = "3v3";
  line.pull_ups = {to(10e3)};
  wired.bench.buses.push_back(line);
  for (const char* id : {"one", "two"}) {
    Device& device = wired.bench.devices.emplace_back();
    device.id = id;
    device.part = "humid-single";
    device.bus = "dht";
  }
  EXPECT_THAT(words_of(*check_bus(wired.bench, shipped_parts(), wired.bench.buses.back()), Severity::fault),
              Contains(HasSubstr("answer at the same time")));
  wired.bench.buses.back().kind = BusKind::alert;
  EXPECT_THAT(words_of(*check_bus(wired.bench, shipped_parts(), wired.bench.buses.back()), Severity::note),
              Contains(HasSubstr("falling edge")));
  // Two that hang on it and on nothing else cannot be asked; one that has a bus can.
  EXPECT_THAT(words_of(*check_bus(wired.bench, shipped_parts(), wired.bench.buses.back()), Severity::warning),
              Contains(HasSubstr("nobody can ask it")));
  wired.bench.devices.resize(wired.bench.devices.size() - 2);
  Device& on_bus = *std::ranges::find_if(wired.bench.devices, [](const Device& each) { return !each.bus.empty(); });
  on_bus.alert = "dht";
  wired.bench.board.pins = {{.name = "D2", .interrupt = true, .uses = "dht"}, {.name = "D5"}};
  check = *check_bus(wired.bench, shipped_parts(), wired.bench.buses.back());
  ASSERT_EQ(check.members.size(), 1u);
  EXPECT_EQ(check.members[0].device, &on_bus);
  EXPECT_THAT(words_of(check, Severity::warning), Not(Contains(HasSubstr("nobody can ask it"))));
  EXPECT_THAT(words_of(check, Severity::note), Not(Contains(HasSubstr("calls no interrupt"))));
  wired.bench.board.pins[0].uses.clear(), wired.bench.board.pins[1].uses = "dht";
  EXPECT_THAT(words_of(*check_bus(wired.bench, shipped_parts(), wired.bench.buses.back()), Severity::note),
              Contains(HasSubstr("pin D5 calls no interrupt")));
}

// ---- addresses ----

// The fewest changes over all assignments, tried one after another; −1 if there is none.
int fewest_changes(const std::vector<AddressWish>& wishes, std::size_t at, std::set<int>& taken) {
  if (at == wishes.size()) return 0;
  int best = -1;
  for (const int address : wishes[at].possible) {
    if (!taken.insert(address).second) continue;
    const int rest = fewest_changes(wishes, at + 1, taken);
    if (rest >= 0 && (best < 0 || rest + (address != wishes[at].now) < best)) best = rest + (address != wishes[at].now);
    taken.erase(address);
  }
  return best;
}

TEST(AddressPlan, ChangesAsFewAsBruteForceFinds) {
  std::mt19937 random(7);
  int solvable = 0, impossible = 0;
  for (int round = 0; round < 400; ++round) {
    std::vector<AddressWish> wishes(2 + random() % 5);
    for (AddressWish& wish : wishes) {
      std::set<int> possible;
      for (unsigned i = 0; i < 1 + random() % 4; ++i) possible.insert(0x48 + static_cast<int>(random() % 6));
      wish.possible.assign(possible.begin(), possible.end());
      wish.now = wish.possible[random() % wish.possible.size()];
    }
    std::set<int> none;
    const int fewest = fewest_changes(wishes, 0, none);
    const AddressPlan plan = plan_addresses(wishes);
    EXPECT_EQ(plan.needs_multiplexer, fewest < 0);
    if (fewest >= 0) {
      ++solvable;
      EXPECT_TRUE(plan.solved);
      EXPECT_EQ(plan.changes, fewest);
    } else {
      ++impossible;
    }
    // Whatever the plan: nobody shares an address with the trunk or with his own branch, and it is one he can have.
    for (std::size_t i = 0; i < wishes.size(); ++i) {
      if (plan.places[i].address == 0) continue;
      EXPECT_THAT(wishes[i].possible, Contains(plan.places[i].address));
      for (std::size_t j = 0; j < i; ++j) {
        const bool together =
            plan.places[i].branch == plan.places[j].branch || plan.places[i].branch == 0 || plan.places[j].branch == 0;
        EXPECT_FALSE(together && plan.places[i].address == plan.places[j].address) << i << " and " << j;
      }
    }
    EXPECT_TRUE(plan.solved) << "eight branches are enough for six devices";
  }
  EXPECT_GT(solvable, 50);
  EXPECT_GT(impossible, 50);
}

TEST(AddressPlan, NineOfOneKindAreTooManyForEightBranches) {
  std::vector<AddressWish> wishes(8, {"light", {0x29}, 0x29});
  EXPECT_TRUE(plan_addresses(wishes, {0x70}).solved);
  wishes.push_back(wishes.front());
  EXPECT_FALSE(plan_addresses(wishes, {0x70}).solved);
  EXPECT_FALSE(plan_addresses({{"reserved", {0x70}, 0x70}}, {0x70}).solved);
}

TEST(AddressPlan, ConflictsOfABenchCountTheTrunkWithEveryBranch) {
  Bench bench = demo_bench();
  EXPECT_TRUE(address_conflicts(bench, bench.buses[0]).empty());
  Device twin = *find_by_id(bench.devices, "light_sensor");
  twin.id = "second_light";
  bench.devices.push_back(twin);
  ASSERT_EQ(address_conflicts(bench, bench.buses[0]).size(), 1u);
  EXPECT_THAT(address_conflicts(bench, bench.buses[0])[0].devices, ElementsAre("light_sensor", "second_light"));
  bench.devices.back().branch = 2;  // the first still answers on every branch
  EXPECT_EQ(address_conflicts(bench, bench.buses[0]).size(), 1u);
  find_by_id(bench.devices, "light_sensor")->branch = 1;
  EXPECT_TRUE(address_conflicts(bench, bench.buses[0]).empty());
}

// Any bus that can be typed is judged or refused with words; what is judged is finite and obeys the divider.
TEST(BusCheck, EveryBusThatCanBeTypedIsJudgedOrRefusedWithWords) {
  int judged = 0;
  Wired wired;
  const std::string own_rail = wired.bus.rail;
  for (const BusKind kind : {BusKind::two_wire, BusKind::one_wire, BusKind::single_wire, BusKind::alert})
    for (const double hz : {100e3, 400e3, 1e6, 0.0, -5.0, 1e12})
      for (const double metres : {0.0, 0.2, 1000.0})
        for (const std::string rail : {"", "5v", "no such rail"})
          for (const double ohm : {0.0, 1.0, 4700.0, 1e7}) {
            wired.bus.kind = kind, wired.bus.speed_hz = hz, wired.bus.cable_m = metres;
            wired.bus.rail = rail.empty() ? own_rail : rail;
            wired.bus.pull_ups.clear();
            if (ohm > 0) wired.bus.pull_ups.push_back(to(ohm));
            const auto check = check_bus(wired.bench, shipped_parts(), wired.bus);
            const std::string which =
                fmt::format("kind {} at {} Hz, {} m, rail '{}', {} Ω", static_cast<int>(kind), hz, metres, rail, ohm);
            EXPECT_NE(static_cast<bool>(check),
                      rail == "no such rail" || (kind == BusKind::two_wire && (hz <= 0 || hz > 1e6)))
                << which;
            if (!check) {
              EXPECT_FALSE(check.problem().wrong.empty()) << which;
              continue;
            }
            ++judged;
            for (const double number :
                 {check->capacitance_f, check->sink_a, check->low_v, check->low_a, check->pull.open_v, check->period_s,
                  check->size.minimum_ohm, check->size.maximum_ohm, check->volts_after(1e-6)})
              EXPECT_TRUE(std::isfinite(number) && number >= 0) << which;
            EXPECT_LE(check->low_v, check->supply_v) << which;
            EXPECT_LE(check->volts_after(1e-6), check->volts_after(2e-6) + 1e-12) << which;
            EXPECT_EQ(check->pull.ohm.has_value(), ohm > 0) << which;
          }
  EXPECT_GT(judged, 200);
}

// ---- scans ----

TEST(BusScan, IsReadFromGridsAndLists) {
  const std::string grid =
      "     0  1  2  3  4  5  6  7  8  9  a  b  c  d  e  f\n00:          -- -- -- -- -- -- -- -- -- -- -- -- --\n"
      "20: -- -- -- -- -- -- -- -- -- 29 -- -- -- -- -- --\n70: -- -- -- -- -- -- 76 --\n";
  const auto addresses = [](const std::string& text) {
    std::vector<int> found;
    const auto hits = read_address_scan(text);
    if (!hits) return found;
    for (const ScanHit& hit : *hits) found.push_back(hit.address);
    return found;
  };
  EXPECT_THAT(addresses(grid), ElementsAre(0x29, 0x76));
  EXPECT_THAT(addresses("device found at 0x76 !\ndevice found at 0x29 !\ndone"), ElementsAre(0x29, 0x76));
  EXPECT_THAT(addresses("[0x76, 0x29, 0x76]"), ElementsAre(0x29, 0x76));
  EXPECT_THAT(addresses("76 29."), ElementsAre(0x29, 0x76));
  EXPECT_THAT(addresses("0x76 29"), ElementsAre(0x29, 0x76));
  EXPECT_THAT(addresses("at 76: yes\nat 29!"), ElementsAre(0x29, 0x76));
  // As interpreters and sketches print them, with the decimal number beside it or alone, and with other numbers about.
  EXPECT_THAT(addresses("[41, 118]"), ElementsAre(0x29, 0x76));
  EXPECT_THAT(addresses("bus 5 has [41, 118], 12 ms"), ElementsAre(0x29, 0x76));
  EXPECT_THAT(addresses("[info] 3 asked\n[info] 0x29 answers"), ElementsAre(0x29));
  EXPECT_THAT(addresses("found 60 (0x3C)\nfound 118 (0x76)\n2 found in 12 ms"), ElementsAre(0x3C, 0x76));
  EXPECT_THAT(addresses("60 (0x3C)"), ElementsAre(0x3C));
  EXPECT_THAT(addresses("decimal: 41 | hexadecimal: 0x29"), ElementsAre(0x29));
  EXPECT_EQ(read_address_scan("0x76 D0=60")->front().registers.at("0xD0"), 0x60u);
  EXPECT_FALSE(read_address_scan("nothing answered"));
}

TEST(BusScan, IsHeldAgainstThePlan) {
  const Bench bench = demo_bench();
  const auto match = [&](const std::string& text) {
    std::map<std::string, std::string> words;
    for (const ScanMatch& each : match_addresses(bench, shipped_parts(), bench.buses[0], *read_address_scan(text)))
      words[each.what] = each.words;
    return words;
  };
  auto words = match("0x29 0x77");
  EXPECT_THAT(words["0x76"], HasSubstr("does not answer, but 0x77 does"));
  EXPECT_THAT(words["0x77"], HasSubstr("nothing is planned there: probably"));
  words = match("0x29 0x76 D0=58");
  EXPECT_THAT(words["0x76"], HasSubstr("0x58, which is not"));
  EXPECT_THAT(words["0x76"], HasSubstr("BMP280"));
  EXPECT_THAT(match("0x29 0x76 D0=60")["0x76"], HasSubstr("the part that was planned"));
}

TEST(BusScan, SerialsAreReadInWhateverShapeAndChecked) {
  // 02 1C B8 01 00 00 00 has the CRC A2 (application note on one-wire CRCs).
  for (const char* text :
       {"021CB801000000A2", "02 1C B8 01 00 00 00 A2", "02-1c-b8-01-00-00-00-a2",
        "0x02, 0x1C, 0xB8, 0x01, 0x00, 0x00, 0x00, 0xA2", "ROM = 02:1C:B8:01:00:00:00:A2", "02.1CB801000000",
        "02 1C B8 01 00 00 00 reads 23.5",
        // Without the zero of a byte, with a number before it or a reading behind it; as Linux names it.
        "ROM = 2 1C B8 1 0 0 0 A2", "Sensor 1: 02 1C B8 1 0 0 0 A2", "12: 02 1C B8 01 00 00 00 A2 23.5",
        "12: 021CB801000000A2 23.5", "02-00000001b81c", "02-00000001b81c/temperature"}) {
    const auto hits = read_serial_scan(text);
    ASSERT_TRUE(hits) << text;
    EXPECT_EQ(hits->front().serial, "021CB801000000A2") << text;
    EXPECT_TRUE(hits->front().checked) << text;
  }
  EXPECT_FALSE(read_serial_scan("021CB801000000A3")->front().checked);
  EXPECT_FALSE(read_serial_scan("no sensors"));
  EXPECT_FALSE(read_serial_scan("a bad face, 28 A1 C4 at 23.5"));
  EXPECT_EQ(serial_of("28-0000000bc4a1"), "28A1C40B000000DC");
  EXPECT_EQ(serial_of("blue dot"), "blue dot");
  EXPECT_EQ(read_serial_scan("28A1C40B000000DC\n284F9D0B00000080\n28A1C40B000000DC")->size(), 2u);
}

TEST(BusScan, SerialsFoundAreIdentityTheirOrderIsNot) {
  const Bench bench = demo_bench();
  const auto matches =
      match_serials(bench, bench.buses[1],
                    *read_serial_scan("28E2310C00000002\n28A1C40B000000DC\n021CB801000000A2\n021CB801000000A3"));
  const auto of = [&](const std::string& what) { return *std::ranges::find(matches, what, &ScanMatch::what); };
  EXPECT_EQ(of("28E2310C00000002").device, "rack_probe_top");
  EXPECT_EQ(of("284F9D0B00000080").severity, Severity::fault);  // the middle one is missing
  EXPECT_THAT(of("021CB801000000A2").words, HasSubstr("says nothing of where it is"));
  EXPECT_THAT(of("021CB801000000A3").words, HasSubstr("CRC"));
}

TEST(BusScan, TheWarmedSensorStandsOut) {
  const std::map<std::string, double> before = {{"a", 20.0}, {"b", 20.1}, {"c", 19.9}};
  EXPECT_EQ(warmed_one(before, {{"a", 20.1}, {"b", 24.0}, {"c", 20.0}}), "b");
  EXPECT_EQ(warmed_one(before, {{"a", 20.1}, {"b", 20.3}, {"c", 20.0}}), std::nullopt);
  EXPECT_EQ(warmed_one(before, {{"a", 23.8}, {"b", 24.0}, {"c", 20.0}}), std::nullopt);
}

// ---- time and energy ----

TEST(CyclePlan, ConversionsRunTogetherAndTheLineIsHeldOneAfterAnother) {
  const Bench bench = demo_bench();
  const CyclePlan plan = plan_cycle(bench, shipped_parts());
  std::map<std::string, std::vector<std::pair<double, double>>> held;
  double longest = 0;
  for (const DeviceTimes& device : plan.devices) {
    longest = std::max(longest, device.conversion_s);
    for (const SequenceStep& step : device.steps)
      if (step.lane == SequenceLane::line) held[device.bus].emplace_back(step.from_s, step.to_s);
  }
  for (auto& [bus, times] : held) {
    std::ranges::sort(times);
    for (std::size_t i = 1; i < times.size(); ++i) EXPECT_GE(times[i].first, times[i - 1].second - 1e-12) << bus;
  }
  EXPECT_NEAR(longest, 0.75, 1e-9);      // the rack's probes at 12 bits
  EXPECT_LT(plan.cycle_s, 0.75 + 0.06);  // three of them together, not 2.25 s
}

TEST(CyclePlan, CountsTheChargeOfACycle) {
  Bench bench;
  bench.power = {};
  bench.power.battery_ah = 2;
  bench.power.awake_a = 30e-3;
  bench.power.sleep_a = 20e-6;
  bench.power.period_s = 60;
  bench.power.overhead_s = 0.6;
  const CyclePlan plan = plan_cycle(bench, shipped_parts());
  // 30 mA for 1 % of the time and 20 µA for the rest: 319.8 µA; 1.6 Ah last 5003 h.
  EXPECT_NEAR(plan.average_a, 319.8e-6, 1e-9);
  EXPECT_NEAR(plan.battery_days, 1.6 / 319.8e-6 / 24, 0.01);
}

// What counts is the time between readings: a part alone holds its line for all of a cycle that is little but that.
TEST(CyclePlan, ALineIsBusyByHowOftenItIsWanted) {
  Bench bench;
  bench.rails = {{.id = "3v3", .voltage = {.nominal_v = 3.3}}};
  bench.buses = {{.id = "bus", .rail = "3v3", .speed_hz = 100e3}};
  bench.devices = {{.id = "d", .part = "TMP102", .bus = "bus", .rail = "3v3"}};
  bench.channels = {{.id = "t", .device = "d", .quantity = Quantity::temperature, .wanted = {0, 50}, .period_s = 1}};
  const auto finds = [&] {
    return std::ranges::any_of(plan_cycle(bench, shipped_parts()).findings, [](const Finding& each) {
      return each.words.find("a line is held") != std::string::npos;
    });
  };
  EXPECT_FALSE(finds());
  // Address, pointer, address and two bytes are 5 · 9 clocks of 10 µs.
  bench.channels.front().period_s = 0.7e-3;
  EXPECT_TRUE(finds());
  // The controller's own converter is no line.
  bench = {};
  bench.rails = {{.id = "3v3", .voltage = {.nominal_v = 3.3}}};
  bench.converters.push_back({.id = "adc", .reference_rail = "3v3"});
  bench.devices = {{.id = "d", .part = "TMP36", .converter = "adc"}};
  bench.channels = {{.id = "t", .device = "d", .quantity = Quantity::temperature, .wanted = {0, 50}, .period_s = 1}};
  EXPECT_FALSE(finds());
}

TEST(CyclePlan, AsksNoPartFasterThanItCanAnswer) {
  Bench bench = demo_bench();
  Device& slow = bench.devices.emplace_back();
  slow.id = "old_humidity";
  slow.part = "humid-single";
  slow.rail = "3v3";
  Channel channel = bench.channels.front();
  channel.id = "old";
  channel.device = slow.id;
  channel.quantity = Quantity::humidity;
  channel.period_s = 1;
  bench.channels.push_back(channel);
  std::vector<std::string> words;
  for (const Finding& finding : plan_cycle(bench, shipped_parts()).findings) words.push_back(finding.words);
  EXPECT_THAT(words, Contains(HasSubstr("Substrate core is asked every 1 s, it can answer every 2 s")));
}

// ---- the list of wires ----

TEST(WiringList, HasEveryConductorAndFindsMisleadingColours) {
  const WiringList list = wiring_list(demo_bench(), shipped_parts());
  std::map<std::string, int> conductors;
  for (const WireRow& row : list.rows) ++conductors[row.device];
  EXPECT_GE(conductors["air_sensor"], 4);
  EXPECT_EQ(conductors["block_thermistor"], 2);
  std::vector<std::string> words;
  for (const Finding& finding : list.findings) words.push_back(finding.words);
  EXPECT_THAT(words, Contains(HasSubstr("Rack, top: the ground is green")));
  EXPECT_THAT(words, Contains(HasSubstr("follow the wire, not the colour")));
  const std::string csv = wiring_csv(list);
  EXPECT_EQ(static_cast<std::size_t>(std::ranges::count(csv, '\n')), list.rows.size() + 1);
  EXPECT_THAT(wiring_html(list, demo_bench()), HasSubstr("Take care"));
}

TEST(Markup, EscapesWhateverItIsGiven) {
  EXPECT_EQ(csv_row({"a", "b,c", "say \"so\"", "two\nlines"}), "a,\"b,c\",\"say \"\"so\"\"\",\"two\nlines\"\r\n");
  EXPECT_EQ(html_escaped("<b> & \"c\""), "&lt;b&gt; &amp; &quot;c&quot;");
  EXPECT_THAT(html_table({"<x>"}, {{"1 < 2"}}), HasSubstr("<td>1 &lt; 2</td>"));
}

// What a part's own lines are: one that is told something has a data in, one that reads an element has its wires.
TEST(WiringList, HasTheLinesOfEachPart) {
  const auto conductors = [](Bench bench) {
    std::vector<std::string> all;
    for (const WireRow& row : wiring_list(bench, shipped_parts()).rows) all.push_back(row.conductor + " → " + row.to);
    return all;
  };
  const auto of = [&](const std::string& part) {
    Bench bench;
    bench.devices = {{.id = "one", .part = part}};
    return conductors(bench);
  };
  EXPECT_THAT(of("MAX31855"), ElementsAre("supply → 4 VCC", "ground → 1 GND", "clock → 5 SCK", "data out → 7 SO",
                                          "select → 6 CS", "element plus → 3 T+", "element minus → 2 T−"));
  EXPECT_THAT(of("MAX31865"),
              testing::IsSupersetOf({"data in → 14 SDI", "element plus → 8 FORCE+, 10 RTDIN+",
                                     "element minus → 11 RTDIN−, 12 FORCE−", "ground → 13 GND2, 18 DGND, 19 GND1"}));
  // The bridge converter has two lines, and a pin that chooses its rate: one row for both ways to tie it.
  EXPECT_THAT(of("HX711"), ElementsAre("supply → 3 AVDD, 16 DVDD", "ground → 5 AGND", "clock → 11 PD_SCK",
                                       "data out → 12 DOUT", "RATE → RATE"));
  EXPECT_THAT(of("DS18B20"), ElementsAre("supply → 3 supply", "ground → 1 ground", "data → 2 data"));
  EXPECT_TRUE(of("die-diode").empty()) << "it sits inside the controller";
  // A converter of its own has wires too; that of the controller has none.
  Bench bench;
  bench.rails = {{.id = "5v", .name = "5 V", .voltage = {.nominal_v = 5}}};
  bench.buses = {{.id = "bus", .name = "Bus", .rail = "5v"}};
  bench.converters = {{.id = "adc", .reference_rail = "5v"}, {.id = "fine", .part = "ADS1115"}};
  EXPECT_THAT(conductors(bench), testing::IsSupersetOf({"clock → 10 SCL", "data → 9 SDA"}));
  EXPECT_EQ(conductors(bench).size(), 4u);
  // Fed by its data line, its supply pin goes to ground.
  bench.buses = {{.id = "line", .kind = BusKind::one_wire, .rail = "5v", .parasite = true}};
  bench.devices = {{.id = "one", .part = "DS18B20", .bus = "line"}};
  EXPECT_THAT(wiring_list(bench, shipped_parts()).rows.front().from, HasSubstr("ground"));
}

TEST(WiringList, ThermocoupleColoursFollowTheirOwnStandard) {
  Bench bench;
  bench.devices = {{.id = "one", .part = "MAX31855", .wires = {{"element minus", "red"}, {"clock", "red"}}}};
  std::string words;
  for (const Finding& each : wiring_list(bench, shipped_parts()).findings) words += each.words + "\n";
  EXPECT_THAT(words, HasSubstr("clock is red"));
  EXPECT_THAT(words, testing::Not(HasSubstr("minus is red")));
}

// Boards with the same chip have their pads in another order: as they are printed, they are counted.
TEST(WiringList, GoesToThePadsOfTheMakersBoard) {
  Bench bench;
  bench.buses = {{.id = "bus", .name = "Bus"}};
  bench.devices = {{.id = "room", .part = "BME280", .bus = "bus", .pads = "SDA scl Gnd 3V3 SDO CSB"}};
  const auto to = [&](const std::string& conductor) {
    for (const WireRow& row : wiring_list(bench, shipped_parts()).rows)
      if (row.conductor == conductor) return row.to;
    return std::string("no such conductor");
  };
  EXPECT_EQ(to("clock"), "2 scl");
  EXPECT_EQ(to("supply"), "4 3V3");
  EXPECT_EQ(to("ground"), "3 Gnd");
  EXPECT_EQ(to("data"), "1 SDA");
  const auto said = [&](const std::string& words) {
    const auto list = wiring_list(bench, shipped_parts());
    return std::ranges::any_of(list.findings,
                               [&](const Finding& each) { return each.words.find(words) != each.words.npos; });
  };
  EXPECT_TRUE(said("pads in their order: 1 SDA, 2 scl, 3 Gnd, 4 3V3, 5 SDO, 6 CSB"));
  EXPECT_FALSE(said("no pad of its board"));
  bench.devices[0].pads = "SDA GND 3V3";
  EXPECT_TRUE(said("no pad of its board is known for its clock: SDA GND 3V3"));
}

}  // namespace fair_gauge::wiring_test
