// The fields of a bench's file, with what each must be.
#include "bench/bench_json.h"

#include "files/json_fields.h"

namespace fair_gauge {

template <>
struct Fields<KnownVoltage> {
  static void list(auto& self, auto&& visit) {
    visit("nominal_v", self.nominal_v, {.minimum = 0.01, .maximum = 1000, .required = true});
    visit("tolerance", self.tolerance, {.minimum = 0, .maximum = 1});
    visit("measured_v", self.measured_v, {.minimum = 0.01, .maximum = 1000});
    visit("meter_uncertainty", self.meter_uncertainty, {.minimum = 0, .maximum = 1});
    visit("drift_per_kelvin", self.drift_per_kelvin, {.minimum = 0, .maximum = 1});
    visit("drift_span_k", self.drift_span_k, {.minimum = 0, .maximum = 200});
  }
};

template <>
struct Fields<Rail> {
  static void list(auto& self, auto&& visit) {
    visit("id", self.id, {.required = true});
    visit("name", self.name, {.words = true});
    visit("voltage", self.voltage, {.required = true});
  }
};

template <>
struct Fields<Handshake> {
  static void list(auto& self, auto&& visit) {
    visit("clock_ohm", self.clock_ohm, {.minimum = 0, .maximum = 1e9});
    visit("clock_farad", self.clock_farad, {.minimum = 0, .maximum = 1});
    visit("period_per_rc", self.period_per_rc, {.minimum = 0.01, .maximum = 100});
    visit("rc_tolerance", self.rc_tolerance, {.minimum = 0, .maximum = 0.5});
    visit("fed_hz", self.fed_hz, {.minimum = 0, .maximum = 1e10});
    visit("divided_by", self.divided_by, {.minimum = 1, .maximum = 65536});
    visit("clock_minimum_hz", self.clock_minimum_hz, {.minimum = 0, .maximum = 1e10});
    visit("clock_maximum_hz", self.clock_maximum_hz, {.minimum = 0, .maximum = 1e10});
    visit("clocks_minimum", self.clocks_minimum, {.minimum = 0, .maximum = 1e6});
    visit("clocks_maximum", self.clocks_maximum, {.minimum = 0, .maximum = 1e6});
    visit("start_s", self.start_s, {.minimum = 0, .maximum = 1});
    visit("access_s", self.access_s, {.minimum = 0, .maximum = 1});
    visit("reset_s", self.reset_s, {.minimum = 0, .maximum = 1});
    visit("interrupts", self.interrupts);
  }
};

template <>
struct Fields<Converter> {
  static void list(auto& self, auto&& visit) {
    visit("id", self.id, {.required = true});
    visit("name", self.name, {.words = true});
    visit("part", self.part);
    visit("address", self.address, {.minimum = 0, .maximum = 127});
    visit("settings", self.settings);
    visit("bits", self.bits, {.minimum = 1, .maximum = 32, .required = true});
    visit("reference_rail", self.reference_rail);
    visit("reference", self.reference);
    visit("span_per_reference", self.span_per_reference, {.minimum = 1e-3, .maximum = 1e3});
    visit("gain", self.gain, {.minimum = 1e-3, .maximum = 1e4});
    visit("polarity", self.polarity);
    visit("convention", self.convention);
    visit("rounding", self.rounding);
    visit("justification", self.justification);
    visit("register_bits", self.register_bits, {.minimum = 0, .maximum = 32});
    visit("noise_lsb", self.noise_lsb, {.minimum = 0, .maximum = 1e6});
    visit("inl_lsb", self.inl_lsb, {.minimum = 0, .maximum = 1e6});
    visit("offset_lsb", self.offset_lsb, {.minimum = 0, .maximum = 1e6});
    visit("gain_error", self.gain_error, {.minimum = 0, .maximum = 1});
    visit("input_ohm", self.input_ohm, {.minimum = 0});
    visit("sample_farad", self.sample_farad, {.minimum = 0, .maximum = 1});
    visit("handshake", self.handshake);
    visit("acquisition_s", self.acquisition_s, {.minimum = 0, .maximum = 100});
  }
};

template <>
struct Fields<FrontEnd> {
  static void list(auto& self, auto&& visit) {
    visit("kind", self.kind);
    visit("fixed_ohm", self.fixed_ohm, {.minimum = 1e-3, .maximum = 1e9});
    visit("fixed_tolerance", self.fixed_tolerance, {.minimum = 0, .maximum = 1});
    visit("fixed_drift_per_kelvin", self.fixed_drift_per_kelvin, {.minimum = 0, .maximum = 1});
    visit("fixed_drift_span_k", self.fixed_drift_span_k, {.minimum = 0, .maximum = 200});
    visit("position", self.position);
    visit("rail", self.rail);
    visit("wires", self.wires, {.minimum = 0, .maximum = 4});
    visit("lead_ohm", self.lead_ohm, {.minimum = 0, .maximum = 1e4});
    visit("top_ohm", self.top_ohm, {.minimum = 1e-3, .maximum = 1e9});
    visit("bottom_ohm", self.bottom_ohm, {.minimum = 1e-3, .maximum = 1e9});
    visit("amplifier", self.amplifier);
    visit("gain", self.gain, {.minimum = 1e-6, .maximum = 1e6});
    visit("offset_v", self.offset_v, {.minimum = -1e3, .maximum = 1e3});
    visit("offset_error_v", self.offset_error_v, {.minimum = 0, .maximum = 1e3});
    visit("input_ohm", self.input_ohm, {.minimum = 1e-3, .maximum = 1e9});
    visit("lowest_v", self.lowest_v, {.minimum = -1e3, .maximum = 1e3});
    visit("highest_v", self.highest_v, {.minimum = -1e3, .maximum = 1e3});
    visit("filter_ohm", self.filter_ohm, {.minimum = 0, .maximum = 1e9});
    visit("filter_farad", self.filter_farad, {.minimum = 0, .maximum = 1});
  }
};

template <>
struct Fields<Device> {
  static void list(auto& self, auto&& visit) {
    visit("id", self.id, {.required = true});
    visit("part", self.part, {.required = true});
    visit("settings", self.settings);
    visit("registers", self.registers);
    visit("side_inputs", self.side_inputs);
    visit("converter", self.converter);
    visit("front_end", self.front_end);
    visit("serial", self.serial);
    visit("grade", self.grade);
    visit("element", self.element);
    visit("element_grade", self.element_grade);
    visit("bus", self.bus);
    visit("alert", self.alert);
    visit("address", self.address, {.minimum = 0, .maximum = 127});
    visit("rail", self.rail);
    visit("branch", self.branch, {.minimum = 0, .maximum = 8});
    visit("place", self.place, {.words = true});
    visit("pads", self.pads);
    visit("wires", self.wires);
    visit("trimming", self.trimming);
  }
};

template <>
struct Fields<Range> {
  static void list(auto& self, auto&& visit) {
    visit("from", self.from, {.required = true});
    visit("to", self.to, {.required = true});
  }
};

template <>
struct Fields<Correction> {
  static void list(auto& self, auto&& visit) {
    visit("coefficients", self.coefficients);
    visit("origin", self.origin);
    visit("table", self.table);
    visit("covariance", self.covariance);
    visit("standard_uncertainty", self.standard_uncertainty, {.minimum = 0});
    visit("dof", self.dof, {.minimum = 0});
    visit("covered", self.covered);
    visit("placed", self.placed);
    visit("on", self.on);
    visit("reference", self.reference, {.words = true});
    visit("drift_per_year", self.drift_per_year, {.minimum = 0});
    visit("note", self.note, {.words = true});
  }
};

template <>
struct Fields<UncertaintyContribution> {
  static void list(auto& self, auto&& visit) {
    visit("name", self.name, {.required = true, .words = true});
    visit("half_width", self.half_width, {.minimum = 0, .required = true});
  }
};

template <>
struct Fields<SimulatedCourse> {
  static void list(auto& self, auto&& visit) {
    visit("base", self.base);
    visit("swing", self.swing);
    visit("ripple", self.ripple);
  }
};

template <>
struct Fields<ScheduledGoal> {
  static void list(auto& self, auto&& visit) {
    visit("at_s", self.at_s, {.minimum = 0, .maximum = 86399, .required = true});
    visit("goal", self.goal, {.required = true});
  }
};

template <>
struct Fields<SwitchedRoom> {
  static void list(auto& self, auto&& visit) {
    visit("outside", self.outside, {.minimum = -1e6, .maximum = 1e6});
    visit("power_w", self.power_w, {.minimum = 0, .maximum = 1e9});
    visit("loss_w_per_k", self.loss_w_per_k, {.minimum = 1e-9, .maximum = 1e9});
    visit("mass_j_per_k", self.mass_j_per_k, {.minimum = 1e-9, .maximum = 1e12});
  }
};

template <>
struct Fields<SwitchingRule> {
  static void list(auto& self, auto&& visit) {
    visit("heats", self.heats);
    visit("goal", self.goal, {.required = true});
    visit("band", self.band, {.minimum = 0});
    visit("minimum_on_s", self.minimum_on_s, {.minimum = 0, .maximum = 1e7});
    visit("minimum_off_s", self.minimum_off_s, {.minimum = 0, .maximum = 1e7});
    visit("every_s", self.every_s, {.minimum = 0, .maximum = 1e7});
    visit("schedule", self.schedule);
    visit("stale_s", self.stale_s, {.minimum = 0, .maximum = 1e7});
    visit("safe_on", self.safe_on);
    visit("shutdown_above", self.shutdown_above);
    visit("room", self.room);
  }
};

template <>
struct Fields<Arrival> {
  static void list(auto& self, auto&& visit) {
    visit("as", self.as, {.required = true});
    visit("unit", self.unit);
    visit("decimals", self.decimals, {.minimum = 0, .maximum = 9});
  }
};

template <>
struct Fields<KeptFilter> {
  static void list(auto& self, auto&& visit) {
    visit("kind", self.kind, {.required = true});
    visit("length", self.length, {.minimum = 1, .maximum = 64});
    visit("weight", self.weight, {.minimum = 1.0 / 4096, .maximum = 1});
  }
};

template <>
struct Fields<DerivedFrom> {
  static void list(auto& self, auto&& visit) {
    visit("as", self.as, {.required = true});
    visit("of", self.of, {.required = true});
    visit("beside", self.beside);
    visit("number", self.number);
    visit("at_rest", self.at_rest, {.minimum = 0, .maximum = 1e6});
    visit("formula", self.formula);
  }
};

template <>
struct Fields<HandedOver> {
  static void list(auto& self, auto&& visit) {
    visit("source", self.source, {.required = true});
    visit("on", self.on);
  }
};

template <>
struct Fields<WarmUp> {
  static void list(auto& self, auto&& visit) {
    visit("rise", self.rise, {.required = true});
    visit("time_constant_s", self.time_constant_s, {.minimum = 0, .required = true});
    visit("under_load", self.under_load);
    visit("on", self.on);
  }
};

template <>
struct Fields<OwnLimits> {
  static void list(auto& self, auto&& visit) {
    visit("upper", self.upper);
    visit("lower", self.lower);
  }
};

template <>
struct Fields<Channel> {
  static void list(auto& self, auto&& visit) {
    visit("id", self.id, {.required = true});
    visit("name", self.name, {.words = true});
    visit("place", self.place, {.words = true});
    visit("device", self.device);
    visit("arrives", self.arrives);
    visit("derived", self.derived);
    visit("quantity", self.quantity);
    visit("kind", self.kind);
    visit("wanted", self.wanted);
    visit("plausible", self.plausible);
    visit("tolerance", self.tolerance, {.minimum = 1e-12});
    visit("period_s", self.period_s, {.minimum = 1e-3, .maximum = 1e7});
    visit("correction", self.correction);
    visit("doubts", self.contributions);
    visit("due_days", self.due_days, {.minimum = 0, .maximum = 36500});
    visit("unit", self.unit);
    visit("also_unit", self.also_unit);
    visit("line_name", self.line_name);
    visit("cautions", self.cautions, {.words = true});
    visit("switching", self.switching);
    visit("filter", self.filter);
    visit("warm_up", self.warm_up);
    visit("limits", self.limits);
    visit("handed_over", self.handed_over);
    visit("simulation", self.simulation);
  }
};

template <>
struct Fields<PullUp> {
  static void list(auto& self, auto&& visit) {
    visit("where", self.where, {.words = true});
    visit("ohm", self.ohm, {.minimum = 1, .maximum = 1e7, .required = true});
    visit("to", self.to);
  }
};

template <>
struct Fields<Bus> {
  static void list(auto& self, auto&& visit) {
    visit("id", self.id, {.required = true});
    visit("name", self.name, {.words = true});
    visit("kind", self.kind);
    visit("rail", self.rail);
    visit("speed_hz", self.speed_hz, {.minimum = 1e3, .maximum = 5e6});
    visit("cable_m", self.cable_m, {.minimum = 0, .maximum = 1000});
    visit("farad_per_m", self.farad_per_m, {.minimum = 0, .maximum = 1e-8});
    visit("board_farad", self.board_farad, {.minimum = 0, .maximum = 1e-8});
    visit("device_farad", self.device_farad, {.minimum = 0, .maximum = 1e-8});
    visit("pull_ups", self.pull_ups);
    visit("parasite", self.parasite);
    visit("strong_pull_up", self.strong_pull_up);
    visit("star", self.star);
    visit("level_shift", self.level_shift);
    visit("pin_most_v", self.pin_most_v, {.minimum = 0, .maximum = 100});
    visit("multiplexer_address", self.multiplexer_address, {.minimum = 0, .maximum = 127});
  }
};

template <>
struct Fields<PowerPlan> {
  static void list(auto& self, auto&& visit) {
    visit("battery_ah", self.battery_ah, {.minimum = 0, .maximum = 1e5});
    visit("awake_a", self.awake_a, {.minimum = 0, .maximum = 100});
    visit("sleep_a", self.sleep_a, {.minimum = 0, .maximum = 100});
    visit("period_s", self.period_s, {.minimum = 1e-3, .maximum = 1e7});
    visit("overhead_s", self.overhead_s, {.minimum = 0, .maximum = 1e5});
  }
};

template <>
struct Fields<OwnFigure> {
  static void list(auto& self, auto&& visit) {
    visit("quantity", self.quantity, {.required = true});
    visit("accuracy", self.accuracy, {.minimum = 0, .maximum = 1e9});
    visit("from", self.from);
    visit("to", self.to);
  }
};

template <>
struct Fields<OwnPart> {
  static void list(auto& self, auto&& visit) {
    visit("part", self.part, {.required = true});
    visit("price", self.price, {.minimum = 0, .maximum = 1e9});
    visit("in_drawer", self.in_drawer, {.minimum = 0, .maximum = 1e6});
    visit("figures", self.figures);
    visit("supply_minimum_v", self.supply_minimum_v, {.minimum = 0, .maximum = 1000});
    visit("supply_maximum_v", self.supply_maximum_v, {.minimum = 0, .maximum = 1000});
    visit("note", self.note, {.words = true});
  }
};

template <>
struct Fields<Pin> {
  static void list(auto& self, auto&& visit) {
    visit("name", self.name, {.required = true});
    visit("reads", self.reads);
    visit("interrupt", self.interrupt);
    visit("most_v", self.most_v, {.minimum = 0});
    visit("uses", self.uses);
    visit("carries", self.carries);
  }
};

template <>
struct Fields<CableRun> {
  static void list(auto& self, auto&& visit) {
    visit("name", self.name, {.words = true});
    visit("metres", self.metres, {.minimum = 0, .maximum = 1000});
    visit("slack_m", self.slack_m, {.minimum = 0, .maximum = 100});
    visit("kind", self.kind);
    visit("conductors", self.conductors, {.minimum = 1, .maximum = 100});
    visit("bus", self.bus);
    visit("connector", self.connector, {.words = true});
  }
};

template <>
struct Fields<Accessory> {
  static void list(auto& self, auto&& visit) {
    visit("name", self.name, {.words = true});
    visit("kind", self.kind);
    visit("pins", self.pins);
    visit("current_a", self.current_a, {.minimum = 0, .maximum = 100});
    visit("forward_v", self.forward_v, {.minimum = 0, .maximum = 100});
    visit("rail", self.rail);
  }
};

template <>
struct Fields<Board> {
  static void list(auto& self, auto&& visit) {
    visit("preset", self.preset);
    visit("name", self.name, {.words = true});
    visit("note", self.note, {.words = true});
    visit("pins", self.pins);
    visit("controller", self.controller);
    visit("clock_hz", self.clock_hz, {.minimum = 0, .maximum = 1e10});
    visit("registers", self.registers);
  }
};

template <>
struct Fields<Bench> {
  static void list(auto& self, auto&& visit) {
    visit("name", self.name);
    visit("place", self.place, {.words = true});
    visit("board", self.board);
    visit("rails", self.rails);
    visit("converters", self.converters);
    visit("buses", self.buses);
    visit("devices", self.devices);
    visit("channels", self.channels);
    visit("power", self.power);
    visit("cables", self.cables);
    visit("accessories", self.accessories);
    visit("own_parts", self.own_parts);
    visit("drawer_ohm", self.drawer_ohm, {.minimum = 1e-3, .maximum = 1e9});
  }
};

std::vector<std::string> read_bench(const JsonDocument& document, const Json& root, Bench& bench,
                                    std::vector<Problem>& problems, std::vector<Problem>& warnings, Texts texts) {
  JsonReader reader(document, problems, &warnings);
  if (texts == Texts::in_language) reader.translate_words();
  reader.read(root, bench, "");
  return reader.pointers();
}

Json bench_json(const Bench& bench) { return to_json_value(bench); }

}  // namespace fair_gauge
