#include "wiring/bus_check.h"

#include <fmt/format.h>

#include <algorithm>
#include <cmath>

#include "language/translation.h"
#include "quantity/number_format.h"
#include "wiring/cut_list.h"

namespace fair_gauge {
namespace {

constexpr double usual_sink_a = 3e-3, low_output_v = 0.4, leakage_a = 10e-6;
constexpr double weak_pull_ohm =
    20e3;  // from here on a resistor is weak for any bus: the controller's own are 20 to 50 kΩ

std::string volts(double v) { return fmt::format("{:.2f} V", v); }

// Resistors to several rails act as one to one voltage.
Pull pull_of(const Bench& bench, const Bus& bus, double supply_v) {
  double conductance = 0, current = 0;
  for (const PullUp& pull_up : bus.pull_ups) {
    double to = supply_v;
    if (pull_up.to == "ground") to = 0;
    if (const Rail* rail = find_by_id(bench.rails, pull_up.to)) to = rail->voltage.best_v();
    conductance += 1 / pull_up.ohm;
    current += to / pull_up.ohm;
  }
  if (conductance <= 0) return {};
  return {current / conductance, 1 / conductance};
}

// The class of speed whose limits hold: those of the next faster one in the specification.
double class_of_speed(double hertz) {
  for (const double known : {100e3, 400e3, 1e6})
    if (hertz <= known * 1.001) return known;
  return hertz;
}

std::string list_of(const std::vector<std::string>& names) {
  std::string words;
  for (std::size_t i = 0; i < names.size(); ++i)
    words += (i == 0 ? "" : i + 1 < names.size() ? ", " : translated(" and ")) + names[i];
  return words;
}

class Check {
 public:
  Check(const Bench& bench, const Catalogue& catalogue, const Bus& bus) : bench_(bench), bus_(with_runs(bench, bus)) {
    check_.bus = &bus;
    check_.members = members_of(bench, catalogue, bus);
  }

  Result<BusCheck> run() {
    const Rail* rail = find_by_id(bench_.rails, bus_.rail);
    if (!rail)
      return Problem{translated("the bus \"{}\" is fed by no rail", bus_.id), translated("a rail of the bench")};
    check_.supply_v = rail->voltage.best_v();
    add_load();
    const auto size = window();
    if (!size) return size.problem();
    check_.size = *size;
    check_.pull = pull_of(bench_, bus_, check_.supply_v);
    find_levels();
    say_pull_ups();
    say_window();
    say_levels();
    say_supplies();
    if (bus_.kind == BusKind::one_wire) say_one_wire();
    if (bus_.kind == BusKind::alert) say_alert();
    if (bus_.kind == BusKind::single_wire && check_.members.size() > 1)
      fault(translated("{} sensors on one single-wire line answer at the same time: each needs a line of its own",
                       check_.members.size()));
    std::ranges::stable_sort(check_.findings, std::greater{}, &Finding::severity);
    return std::move(check_);
  }

 private:
  void note(std::string words) { check_.findings.push_back({Severity::note, std::move(words)}); }
  void warn(std::string words) { check_.findings.push_back({Severity::warning, std::move(words)}); }
  void fault(std::string words) { check_.findings.push_back({Severity::fault, std::move(words)}); }

  // A one-wire part's input is at least this, whatever a bench says of its devices in general.
  double one_wire_farad() const { return std::max(bus_.device_farad, 25e-12); }
  // Arms from one point echo, so that the line is slower than its capacitance alone.
  double cable_farad_per_m() const {
    return bus_.kind == BusKind::one_wire && bus_.star ? 1.5 * bus_.farad_per_m : bus_.farad_per_m;
  }

  void say_alert() {
    note(translated(
        "an alert line falls when a part pulls it: wait for the falling edge; with several parts on it, ask each "
        "which one it was"));
    for (const BusMember& member : check_.members)
      if (member.device->bus.empty() || member.device->bus == bus_.id)
        warn(translated("{} hangs on no bus beside this line: nobody can ask it why it fell, nor let it go",
                        name_of(bench_, *member.device)));
    for (const Pin& pin : bench_.board.pins)
      if (pin.uses == bus_.id && !pin.interrupt)
        note(translated("pin {} calls no interrupt, as far as the bench knows: the firmware has to look at it",
                        pin.name));
  }

  void add_load() {
    const double each = bus_.kind == BusKind::one_wire ? one_wire_farad() : bus_.device_farad;
    const auto sensors = static_cast<double>(check_.members.size());
    check_.load = {{translated("controller and board"), bus_.board_farad},
                   {translated("{} devices", check_.members.size()), each * sensors},
                   {translated("{:g} m of cable", bus_.cable_m), bus_.cable_m * cable_farad_per_m()}};
    for (const LoadShare& share : check_.load) check_.capacitance_f += share.farad;
    check_.sink_a = bus_.kind == BusKind::one_wire ? 4e-3 : usual_sink_a;
    if (bus_.kind == BusKind::two_wire && bus_.speed_hz > 400e3 * 1.001) check_.sink_a = 20e-3;
    for (const BusMember& member : check_.members)
      if (member.part && member.part->sink_a > 0) check_.sink_a = std::min(check_.sink_a, member.part->sink_a);
  }

  Result<PullUpSize> window() {
    std::vector<double> existing;
    for (const PullUp& pull_up : bus_.pull_ups)
      if (pull_up.to.empty() || pull_up.to == bus_.rail) existing.push_back(pull_up.ohm);
    const ResistorChoice resistors{.drawer_ohm = bench_.drawer_ohm};
    const double farad = std::max(check_.capacitance_f, 1e-12);
    switch (bus_.kind) {
      case BusKind::two_wire: {
        TwoWireWish wish{.supply_v = check_.supply_v,
                         .speed_hz = class_of_speed(bus_.speed_hz),
                         .capacitance_f = farad,
                         .existing_ohm = existing,
                         .resistors = resistors};
        const bool fast = wish.speed_hz > 400e3;
        for (const BusMember& member : check_.members)
          if (const PartInterface* bus = member.part ? member.part->on(Interface::i2c) : nullptr;
              bus && bus->maximum_hz > 0 && bus_.speed_hz > bus->maximum_hz * 1.001)
            fault(translated("{} goes up to {}, the bus runs at {}", name_of(bench_, *member.device),
                             with_prefix(bus->maximum_hz, "Hz", 3), with_prefix(bus_.speed_hz, "Hz", 3)));
        // Above 400 kHz the specification asks for 20 mA: a part that does not promise it sinks 3 mA.
        for (const BusMember& member : check_.members)
          if (fast && member.part && member.part->sink_a <= 0) check_.sink_a = usual_sink_a;
        if (fast || check_.supply_v > 2)
          wish.sink_a = check_.sink_a;
        else
          check_.sink_a = 2e-3;
        return size_two_wire(wish);
      }
      case BusKind::one_wire: {
        return size_one_wire({.supply_v = check_.supply_v,
                              .sensors = std::max(1, static_cast<int>(check_.members.size())),
                              .cable_m = bus_.cable_m,
                              .parasite = bus_.parasite,
                              .farad_per_m = cable_farad_per_m(),
                              .sensor_farad = one_wire_farad(),
                              .board_farad = bus_.board_farad,
                              .existing_ohm = existing,
                              .resistors = resistors});
      }
      case BusKind::single_wire:
        return size_open_drain({.supply_v = check_.supply_v,
                                .sink_a = check_.sink_a,
                                .capacitance_f = farad,
                                .edge_s = 3e-6,
                                .existing_ohm = existing,
                                .resistors = resistors});
      case BusKind::alert:
        return size_open_drain({.supply_v = check_.supply_v,
                                .sink_a = check_.sink_a,
                                .capacitance_f = farad,
                                .edge_s = 10e-6,
                                .existing_ohm = existing,
                                .resistors = resistors});
    }
    return Problem{translated("a bus of an unknown kind"), translated("two-wire, one-wire, single-wire or alert")};
  }

  // The output that pulls down is a resistance of its own: 0.4 V at the current it promises.
  void find_levels() {
    const double low_output = check_.supply_v <= 2 ? 0.2 * check_.supply_v : low_output_v;
    const double output_ohm = low_output / check_.sink_a;
    const bool one_wire = bus_.kind == BusKind::one_wire;
    check_.low_limit_v = one_wire ? 0.8 : 0.3 * check_.supply_v;
    check_.high_limit_v = one_wire ? 2.2 : 0.7 * check_.supply_v;
    if (!bus_.level_shift)
      for (const BusMember& member : check_.members)
        if (!one_wire && member.supply_v > check_.supply_v)
          check_.high_limit_v = std::max(check_.high_limit_v, 0.7 * member.supply_v);
    check_.period_s = bus_.kind == BusKind::two_wire   ? 1 / bus_.speed_hz
                      : bus_.kind == BusKind::one_wire ? 60e-6
                                                       : 100e-6;
    if (!check_.pull.ohm) return;
    const double leak_v = leakage_a * static_cast<double>(check_.members.size()) * *check_.pull.ohm;
    check_.pull.open_v = std::max(0.0, check_.pull.open_v - leak_v);
    check_.low_v = check_.pull.open_v * output_ohm / (output_ohm + *check_.pull.ohm);
    check_.low_a = (check_.pull.open_v - check_.low_v) / *check_.pull.ohm;
    check_.margin_low_v = check_.low_limit_v - check_.low_v;
    check_.margin_high_v = check_.pull.open_v - check_.high_limit_v;
  }

  void say_pull_ups() {
    if (bus_.pull_ups.empty())
      return fault(translated("nothing pulls the line up: it never becomes high. Add a resistor to the supply"));
    for (const PullUp& pull_up : bus_.pull_ups) {
      const std::string which = translated("{} of {}", with_prefix(pull_up.ohm, "Ω", 3),
                                           pull_up.where.empty() ? translated("an unnamed place") : pull_up.where);
      const Rail* rail = find_by_id(bench_.rails, pull_up.to);
      if (pull_up.to == "ground") {
        fault(
            translated("{} goes to ground: it holds the line low and divides it with the others. Take it off, or bring "
                       "it to the supply",
                       which));
      } else if (rail && rail->id != bus_.rail) {
        const double to = rail->voltage.best_v();
        if (std::abs(to - check_.supply_v) > 0.3)
          (to > check_.supply_v
               ? fault(translated(
                     "{} goes to {}: the line rises to {}, above the {} of the bus. Bring it to the bus's own supply",
                     which, volts(to), volts(check_.pull.open_v), volts(check_.supply_v)))
               : warn(translated("{} goes to {}, the bus is fed with {}: the line does not rise all the way", which,
                                 volts(to), volts(check_.supply_v))));
      } else if (!pull_up.to.empty() && !rail) {
        warn(translated("{} goes to \"{}\", which is no rail of this bench", which, pull_up.to));
      } else if (pull_up.ohm >= weak_pull_ohm) {
        note(translated(
            "{} is weak, like the controller's own pull-up: good for a short line at rest, seldom for a bus", which));
      }
    }
    if (bus_.pull_ups.size() > 1) note(pull_ups_in_words(bus_));
  }

  void say_window() {
    const PullUpSize& size = check_.size;
    const bool judged = size.existing_ohm.has_value();
    if (!judged && !bus_.pull_ups.empty()) fault(translated("none of the resistors pulls to the bus's own supply"));
    for (const std::string& reason : size.reasons) note(reason);
    if (!judged) return;
    if (size.verdict == PullUpVerdict::too_strong)
      fault(translated("too strong: {} together, {} at the least", with_prefix(*size.existing_ohm, "Ω", 3),
                       with_prefix(size.minimum_ohm, "Ω", 3)) +
            strongest_to_remove());
    if (size.verdict == PullUpVerdict::too_weak)
      fault(translated("too weak: {} together, {} at the most", with_prefix(*size.existing_ohm, "Ω", 3),
                       with_prefix(size.maximum_ohm, "Ω", 3)));
    if (size.verdict == PullUpVerdict::impossible) fault(translated("no resistor does for this line as it is"));
  }

  // The first board without whose resistor the rest lies in the window.
  std::string strongest_to_remove() const {
    for (const PullUp& off : bus_.pull_ups) {
      double rest = 0;
      for (const PullUp& other : bus_.pull_ups)
        if (&other != &off && (other.to.empty() || other.to == bus_.rail)) rest += 1 / other.ohm;
      if (rest > 0 && 1 / rest >= check_.size.minimum_ohm && 1 / rest <= check_.size.maximum_ohm)
        return translated(". Without the {} of {} it is {}: in the window", with_prefix(off.ohm, "Ω", 3), off.where,
                          with_prefix(1 / rest, "Ω", 3));
    }
    return "";
  }

  void say_levels() {
    if (!check_.pull.ohm) return;
    if (check_.margin_low_v < 0)
      fault(translated("pulled down, the line stays at {}: {} or less is read as low", volts(check_.low_v),
                       volts(check_.low_limit_v)));
    if (check_.margin_high_v < 0)
      fault(translated("let go, the line reaches {}: {} is needed to be read as high", volts(check_.pull.open_v),
                       volts(check_.high_limit_v)));
    const double bears = bus_.pin_most_v > 0 ? bus_.pin_most_v : check_.supply_v + 0.3;
    if (check_.pull.open_v > bears)
      fault(translated("the line rises to {}, the controller's pin bears {}: a level shifter, or pull-ups to {}",
                       volts(check_.pull.open_v), volts(bears), volts(check_.supply_v)));
  }

  void say_supplies() {
    std::vector<std::string> above, below, other;
    for (const BusMember& member : check_.members) {
      if (!member.part) {
        warn(translated("\"{}\" is a part the catalogue does not know", name_of(bench_, *member.device)));
        continue;
      }
      const SupplyLimits& limits = member.part->supply;
      if (limits.maximum_v > 0 && member.supply_v > limits.maximum_v)
        above.push_back(translated("{} ({} at the most)", name_of(bench_, *member.device), volts(limits.maximum_v)));
      if (limits.minimum_v > 0 && member.supply_v < limits.minimum_v)
        below.push_back(translated("{} ({} at the least)", name_of(bench_, *member.device), volts(limits.minimum_v)));
      if (!bus_.level_shift && std::abs(member.supply_v - check_.supply_v) > 0.3)
        other.push_back(fmt::format("{} ({})", name_of(bench_, *member.device), volts(member.supply_v)));
    }
    if (!above.empty())
      fault(translated(
          "fed with more than it bears as a bare chip: {}. A board with its own regulator may bear it: read the print",
          list_of(above)));
    if (!below.empty()) fault(translated("fed with too little: {}", list_of(below)));
    if (!other.empty())
      warn(translated(
          "fed with another voltage than the bus: {}. Their levels must fit {}, or a level shifter stands between",
          list_of(other), volts(check_.supply_v)));
    if (bus_.level_shift)
      note(translated(
          "the level shifter brings pull-ups of its own on both sides, usually 10 kΩ: count them among those of the "
          "boards"));
  }

  void say_one_wire() {
    if (bus_.star && bus_.cable_m > 5)
      warn(
          translated("long arms from one point echo: run the cable past the sensors one after another, each arm a few "
                     "centimetres"));
    if (bus_.cable_m > 30)
      warn(translated("{:g} m of cable: use a twisted pair and a driver with controlled edges", bus_.cable_m));
    if (check_.size.rise_s)
      note(
          translated("recovery between bits: the line needs {} to be read as high again, so the controller pauses "
                     "that long or longer",
                     with_prefix(std::max(1e-6, *check_.size.rise_s), "s", 3)));
    if (bus_.parasite && !bus_.strong_pull_up)
      fault(translated(
          "sensors fed by the data line convert only while a transistor holds it up: without the strong pull-up they "
          "answer 85 °C"));
    if (bus_.parasite)
      warn(translated("fed by the data line: not above 100 °C, and nobody may talk on it while they convert"));
    if (!bus_.parasite)
      note(translated(
          "with a supply conductor of their own the sensors convert at the same time, each within its own time (750 ms "
          "at 12 bits)"));
  }

  const Bench& bench_;
  const Bus bus_;  // with the runs of the cut list
  BusCheck check_;
};

}  // namespace

bool BusCheck::has_fault() const {
  return std::ranges::any_of(findings, [](const Finding& finding) { return finding.severity == Severity::fault; });
}

double BusCheck::volts_after(double seconds) const {
  if (!pull.ohm || seconds <= 0) return low_v;
  return pull.open_v + (low_v - pull.open_v) * std::exp(-seconds / (*pull.ohm * capacitance_f));
}

std::vector<BusMember> members_of(const Bench& bench, const Catalogue& catalogue, const Bus& bus) {
  std::vector<BusMember> members;
  const Rail* of_bus = find_by_id(bench.rails, bus.rail);
  for (const Device& device : bench.devices) {
    if (!hangs_on(device, bus.id)) continue;
    const Rail* own = find_by_id(bench.rails, device.rail);
    members.push_back({&device, catalogue.find(device.part),
                       own      ? own->voltage.best_v()
                       : of_bus ? of_bus->voltage.best_v()
                                : 0});
  }
  return members;
}

std::string pull_ups_in_words(const Bus& bus) {
  std::string words;
  double conductance = 0;
  for (const PullUp& pull_up : bus.pull_ups) {
    words += translated("{}{} of {}", words.empty() ? "" : ", ", with_prefix(pull_up.ohm, "Ω", 3),
                        pull_up.where.empty() ? translated("an unnamed place") : pull_up.where);
    conductance += 1 / pull_up.ohm;
  }
  if (bus.pull_ups.size() > 1) words += translated(": {} together", with_prefix(1 / conductance, "Ω", 3));
  return words;
}

Result<BusCheck> check_bus(const Bench& bench, const Catalogue& catalogue, const Bus& bus) {
  if (bus.kind == BusKind::two_wire && !(bus.speed_hz > 0))
    return Problem{translated("a bus at {} Hz carries nothing", bus.speed_hz),
                   translated("a speed above 0: 100k, 400k or 1M")};
  return Check(bench, catalogue, bus).run();
}

}  // namespace fair_gauge
