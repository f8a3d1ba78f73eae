#include "sizing/parallel_converter.h"

#include <fmt/format.h>

#include <cmath>

#include "language/translation.h"
#include "quantity/number_format.h"

namespace fair_gauge {
namespace {

bool has_own_clock(const Handshake& handshake) { return handshake.clock_ohm > 0 && handshake.clock_farad > 0; }

// 0 → there is none.
double clock_of(const Handshake& handshake) {
  if (has_own_clock(handshake)) return 1 / (handshake.period_per_rc * handshake.clock_ohm * handshake.clock_farad);
  return handshake.divided_by > 0 ? handshake.fed_hz / handshake.divided_by : 0;
}

std::vector<HandshakeStep> steps_of(const Handshake& handshake, double longest_s) {
  using enum HandshakeStep::Lane;
  const double begun = handshake.start_s, done = begun + longest_s, out = done + handshake.access_s;
  const double taken_back = done + std::max(handshake.access_s, handshake.reset_s);
  return {
      {start, translated("start pulse"), 0, begun},
      {converts, "converts", begun, done},
      {ready,
       handshake.interrupts ? translated("ready: calls the firmware") : translated("ready: asked for until it comes"),
       done, taken_back},
      {read, translated("read: outputs valid at its end"), done, out}};
}

}  // namespace

int least_divider(const Handshake& handshake) {
  if (has_own_clock(handshake) || handshake.fed_hz <= 0 || handshake.clock_maximum_hz <= 0) return 0;
  const double divider = std::ceil(handshake.fed_hz / handshake.clock_maximum_hz - 1e-9);
  if (handshake.clock_minimum_hz > 0 && handshake.fed_hz / std::max(1.0, divider) < handshake.clock_minimum_hz)
    return 0;
  return static_cast<int>(std::max(1.0, divider));
}

Result<HandshakePlan> plan_handshake(const Handshake& handshake) {
  HandshakePlan plan{.clock_hz = clock_of(handshake)};
  if (!(plan.clock_hz > 0))
    return Problem{translated("nothing gives the converter a clock"),
                   translated("R and C of its own, or a clock that it is fed with")};
  const auto say = [&](Severity severity, std::string words) { plan.findings.push_back({severity, std::move(words)}); };
  const auto hertz = [](double value) { return with_prefix(value, "Hz", 3); };
  const double spread = has_own_clock(handshake) ? handshake.rc_tolerance : 0;
  const double slow = 1 / (1 + spread), fast = 1 / (1 - spread);
  if (handshake.clock_maximum_hz > 0 && plan.clock_hz > handshake.clock_maximum_hz) {
    const int divider = least_divider(handshake);
    say(Severity::fault, translated("its clock of {} is above the {} of its sheet: codes come out wrong{}",
                                    hertz(plan.clock_hz), hertz(handshake.clock_maximum_hz),
                                    divider > 1 ? translated("; divided by {} it is right", divider) : ""));
  } else if (handshake.clock_maximum_hz > 0 && plan.clock_hz * fast > handshake.clock_maximum_hz) {
    say(Severity::warning, translated("with small parts its clock comes to {}, above the {} of its sheet: a larger R",
                                      hertz(plan.clock_hz * fast), hertz(handshake.clock_maximum_hz)));
  }
  if (handshake.clock_minimum_hz > 0 && plan.clock_hz * slow < handshake.clock_minimum_hz)
    say(plan.clock_hz < handshake.clock_minimum_hz ? Severity::fault : Severity::warning,
        translated("its clock {} {}, below the {} of its sheet: the code drifts while it is made",
                   plan.clock_hz < handshake.clock_minimum_hz ? translated("is") : translated("may come down to"),
                   hertz(plan.clock_hz < handshake.clock_minimum_hz ? plan.clock_hz : plan.clock_hz * slow),
                   hertz(handshake.clock_minimum_hz)));
  if (handshake.clocks_maximum <= 0) {
    say(Severity::note, translated("how many clocks a conversion takes is not stated: wait for ready"));
    return plan;
  }
  plan.shortest_s = handshake.clocks_minimum / plan.clock_hz;
  plan.longest_s = handshake.clocks_maximum / (plan.clock_hz * slow);
  plan.reading_s = handshake.start_s + plan.longest_s + handshake.access_s;
  plan.steps = steps_of(handshake, plan.longest_s);
  say(Severity::note,
      handshake.interrupts
          ? translated("the controller is free for the {} of a conversion; read in the call, for reading takes ready "
                       "back",
                       with_prefix(plan.longest_s, "s", 3))
          : translated("asking holds the controller for up to {} each reading; give up after twice that, or a missing "
                       "converter stops the firmware",
                       with_prefix(plan.longest_s, "s", 3)));
  say(Severity::note, translated("a start pulse while it converts begins anew: the old conversion is lost"));
  return plan;
}

std::vector<HalfReference> half_references(double supply_v, int bits, std::span<const double> pin_volts) {
  std::vector<HalfReference> rows;
  const auto add = [&](double pin_v) {
    rows.push_back({pin_v, 2 * pin_v, 2 * pin_v / std::exp2(bits), 2 * pin_v > supply_v * (1 + 1e-9)});
  };
  add(supply_v / 2);
  for (const double volts : pin_volts) add(volts);
  return rows;
}

}  // namespace fair_gauge
