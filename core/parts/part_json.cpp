// The fields of a part's file, with what each must be.
#include "parts/part_json.h"

#include "files/json_fields.h"

namespace fair_gauge {

template <>
struct Fields<ByteBlock> {
  static void list(auto& self, auto&& visit) {
    visit("name", self.name, {.required = true});
    visit("bytes", self.bytes, {.minimum = 1, .maximum = 64, .required = true});
    visit("role", self.role);
    visit("example", self.example);
    visit("optional", self.optional);
    visit("shorter", self.shorter, {.minimum = 0, .maximum = 64});
    visit("also", self.also);
    visit("conversion_s", self.conversion_s, {.minimum = 0});
  }
};

template <>
struct Fields<ByteField> {
  static void list(auto& self, auto&& visit) {
    visit("name", self.name, {.required = true});
    visit("block", self.block, {.required = true});
    visit("bits", self.bits, {.required = true});
    visit("sign", self.sign);
    visit("role", self.role);
    visit("note", self.note, {.words = true});
  }
};

template <>
struct Fields<ByteCheck> {
  static void list(auto& self, auto&& visit) {
    visit("kind", self.kind, {.required = true});
    visit("block", self.block, {.required = true});
    visit("from", self.from, {.minimum = 0, .maximum = 63});
    visit("to", self.to, {.minimum = 0, .maximum = 63});
    visit("at", self.at, {.minimum = 0, .maximum = 63});
    visit("before", self.before);
    visit("touches", self.touches);
  }
};

template <>
struct Fields<ByteState> {
  static void list(auto& self, auto&& visit) {
    visit("field", self.field, {.required = true});
    visit("equals", self.equals, {.required = true});
    visit("fault", self.fault);
    visit("says", self.says, {.required = true, .words = true});
    visit("touches", self.touches);
  }
};

template <>
struct Fields<ByteStep> {
  static void list(auto& self, auto&& visit) {
    visit("symbol", self.symbol, {.required = true});
    visit("expression", self.expression, {.required = true});
  }
};

template <>
struct Fields<ByteReading> {
  static void list(auto& self, auto&& visit) {
    visit("quantity", self.quantity, {.required = true});
    visit("field", self.field, {.required = true});
    visit("scale", self.scale);
    visit("offset", self.offset);
    visit("expression", self.expression);
    visit("clamps", self.clamps);
    visit("only", self.only);
    visit("beside", self.beside);
    visit("truly", self.truly);
    visit("tied", self.tied);
    visit("share", self.share);
  }
};

template <>
struct Fields<SettingChoice> {
  static void list(auto& self, auto&& visit) {
    visit("value", self.value, {.required = true});
    visit("name", self.name);
    visit("means", self.means, {.words = true});
    visit("clocks", self.clocks, {.minimum = 0, .maximum = 255});
  }
};

template <>
struct Fields<PartSetting> {
  static void list(auto& self, auto&& visit) {
    visit("key", self.key, {.required = true});
    visit("usual", self.default_value, {.required = true});
    visit("unit", self.unit);
    visit("least", self.minimum);
    visit("most", self.maximum);
    visit("choices", self.choices);
    visit("sets", self.sets);
    visit("fact", self.is_fact);
    visit("means", self.means, {.words = true});
  }
};

template <>
struct Fields<RegisterField> {
  static void list(auto& self, auto&& visit) {
    visit("name", self.name, {.required = true});
    visit("bits", self.bits, {.required = true});
    visit("choices", self.choices);
    visit("means", self.means, {.words = true});
  }
};

template <>
struct Fields<PartRegister> {
  static void list(auto& self, auto&& visit) {
    visit("address", self.address, {.required = true});
    visit("read_address", self.read_address);
    visit("name", self.name, {.required = true});
    visit("bits", self.bits, {.minimum = 8, .maximum = 16});
    visit("power_on", self.power_on, {.minimum = 0, .maximum = 65535});
    visit("fields", self.fields);
  }
};

template <>
struct Fields<PartAddress> {
  static void list(auto& self, auto&& visit) {
    visit("address", self.address, {.minimum = 0, .maximum = 127, .required = true});
    visit("pins", self.pins, {.words = true});
  }
};

template <>
struct Fields<AlarmLayout> {
  static void list(auto& self, auto&& visit) {
    visit("on", self.on);
    visit("window", self.window);
    visit("latched", self.latched);
    visit("interrupt", self.interrupt);
    visit("active_high", self.active_high);
    visit("faults", self.faults);
    visit("hysteresis", self.hysteresis);
    visit("whole", self.whole, {.minimum = 0});
    visit("equality", self.equality);
    visit("pin", self.pin);
    visit("tells", self.tells, {.words = true});
    visit("cleared_by", self.cleared_by, {.words = true});
  }
};

template <>
struct Fields<LimitLayout> {
  static void list(auto& self, auto&& visit) {
    visit("quantity", self.quantity);
    visit("unit", self.unit);
    visit("address", self.address, {.words = true});
    visit("bits", self.bits, {.minimum = 8, .maximum = 32, .required = true});
    visit("low_bit", self.low_bit, {.minimum = 0, .maximum = 31});
    visit("number_bits", self.number_bits, {.minimum = 1, .maximum = 32, .required = true});
    visit("most_exponent", self.most_exponent, {.minimum = 0, .maximum = 31});
    visit("form", self.form);
    visit("step", self.step, {.minimum = 1e-9, .required = true});
    visit("zero", self.zero);
    visit("compared", self.compared, {.words = true});
    visit("alarm", self.alarm);
  }
};

template <>
struct Fields<PartIdentity> {
  static void list(auto& self, auto&& visit) {
    visit("address", self.address, {.required = true});
    visit("bits", self.bits, {.minimum = 8, .maximum = 32});
    visit("mask", self.mask, {.minimum = 0, .maximum = 4294967295.0});
    visit("values", self.values, {.required = true});
    visit("says", self.says, {.words = true});
  }
};

template <>
struct Fields<InterfaceStrap> {
  static void list(auto& self, auto&& visit) {
    visit("pin", self.pin, {.required = true});
    visit("tied", self.tied, {.required = true, .words = true});
    visit("means", self.means, {.required = true, .words = true});
    visit("address", self.address, {.minimum = 0, .maximum = 127});
  }
};

template <>
struct Fields<PartCommand> {
  static void list(auto& self, auto&& visit) {
    visit("name", self.name, {.required = true, .words = true});
    visit("bytes", self.bytes, {.required = true});
    visit("takes_s", self.takes_s, {.minimum = 0});
    visit("means", self.means, {.words = true});
  }
};

template <>
struct Fields<ForbiddenSetting> {
  static void list(auto& self, auto&& visit) {
    visit("when", self.when, {.required = true});
    visit("says", self.says, {.required = true, .words = true});
  }
};

template <>
struct Fields<SettingFigure> {
  static void list(auto& self, auto&& visit) {
    visit("name", self.name, {.required = true});  // expressions name it so, in whatever language it is shown
    visit("unit", self.unit, {.required = true});
    visit("expression", self.expression, {.required = true});
    visit("role", self.role);
    visit("quantity", self.quantity);
  }
};

template <>
struct Fields<ReadingStep> {
  static void list(auto& self, auto&& visit) {
    visit("once", self.once);
    visit("write", self.write);
    visit("by", self.by);
    visit("computed", self.computed);
    visit("unanswered", self.unanswered);
    visit("set", self.set);
    visit("fields", self.fields);
    visit("usual", self.usual);
    visit("before", self.before);
    visit("low_first", self.low_first);
    visit("conversion", self.conversion);
    visit("wait_s", self.wait_s, {.minimum = 0});
    visit("until", self.until);
    visit("bit", self.bit, {.minimum = 0, .maximum = 7});
    visit("is", self.is, {.minimum = 0, .maximum = 1});
    visit("read", self.read);
    visit("from", self.from);
  }
};

template <>
struct Fields<ByteLayout> {
  static void list(auto& self, auto&& visit) {
    visit("blocks", self.blocks);
    visit("fields", self.fields);
    visit("checks", self.checks);
    visit("states", self.states);
    visit("formula", self.formula);
    visit("steps", self.steps);
    visit("readings", self.readings);
    visit("settings", self.settings);
    visit("registers", self.registers);
    visit("limits", self.limits);
    visit("offset", self.offset);
    visit("identity", self.identity);
    visit("straps", self.straps);
    visit("commands", self.commands);
    visit("forbidden", self.forbidden);
    visit("figures", self.figures);
    visit("sequence", self.sequence);
    visit("start", self.start, {.words = true});
    visit("start_low_s", self.start_low_s, {.minimum = 0});
    visit("ready", self.ready, {.words = true});
  }
};

template <>
struct Fields<BandBeside> {
  static void list(auto& self, auto&& visit) {
    visit("quantity", self.quantity, {.required = true});
    visit("from", self.from, {.required = true});
    visit("to", self.to, {.required = true});
  }
};

template <>
struct Fields<AccuracyBand> {
  static void list(auto& self, auto&& visit) {
    visit("from", self.from, {.required = true});
    visit("to", self.to, {.required = true});
    visit("value", self.value, {.minimum = 0});
    visit("below", self.below, {.minimum = 0});
    visit("numbers", self.numbers);
    visit("beside", self.beside);
    visit("and_of_reading", self.and_of_reading, {.minimum = 0});
    visit("zero_offset", self.zero_offset, {.minimum = 0});
    visit("of", self.of, {.required = true});
    visit("basis", self.basis, {.required = true});
    visit("grade", self.grade);
    visit("conditions", self.conditions, {.words = true});
  }
};

template <>
struct Fields<PartElement> {
  static void list(auto& self, auto&& visit) {
    visit("part", self.part, {.required = true});
    visit("grade", self.grade);
  }
};

template <>
struct Fields<PartQuantity> {
  static void list(auto& self, auto&& visit) {
    visit("quantity", self.quantity, {.required = true});
    visit("kind", self.kind);
    visit("minimum", self.minimum, {.required = true});
    visit("maximum", self.maximum, {.required = true});
    visit("resolution", self.resolution, {.minimum = 0});
    visit("answers_beyond", self.answers_beyond, {.minimum = 0});
    visit("accuracy", self.accuracy);
  }
};

template <>
struct Fields<NumberName> {
  static void list(auto& self, auto&& visit) {
    visit("number", self.number, {.required = true});
    visit("name", self.name, {.required = true, .words = true});
    visit("unit", self.unit);
    visit("means", self.means, {.words = true});
  }
};

template <>
struct Fields<Transfer> {
  static void list(auto& self, auto&& visit) {
    visit("type", self.type, {.required = true});
    visit("variant", self.variant);
    visit("numbers", self.numbers);
    visit("table", self.table);
    visit("expression", self.expression);
    visit("simple", self.simple);
    visit("named", self.named);
  }
};

template <>
struct Fields<PartCurrent> {
  static void list(auto& self, auto&& visit) {
    visit("of", self.of, {.required = true});
    visit("typical_a", self.typical_a, {.minimum = 0});
    visit("maximum_a", self.maximum_a, {.minimum = 0});
    visit("every_s", self.every_s, {.minimum = 0});
    visit("conditions", self.conditions, {.words = true});
  }
};

template <>
struct Fields<PartInterface> {
  static void list(auto& self, auto&& visit) {
    visit("kind", self.kind, {.required = true});
    visit("maximum_hz", self.maximum_hz, {.minimum = 0});
    visit("modes", self.modes);
    visit("write", self.write, {.words = true});
    visit("wires", self.wires);
    visit("lines", self.lines);
  }
};

template <>
struct Fields<PartPinout> {
  static void list(auto& self, auto&& visit) {
    visit("package", self.package, {.required = true, .words = true});
    visit("view", self.view, {.words = true});
    visit("pins", self.pins, {.required = true});
    visit("twin", self.twin, {.words = true});
  }
};

template <>
struct Fields<SupplyLimits> {
  static void list(auto& self, auto&& visit) {
    visit("minimum_v", self.minimum_v, {.minimum = 0});
    visit("maximum_v", self.maximum_v, {.minimum = 0});
    visit("currents", self.currents);
    visit("rest", self.rest);
  }
};

template <>
struct Fields<Mistake> {
  static void list(auto& self, auto&& visit) {
    visit("what", self.what, {.required = true, .words = true});
    visit("shows", self.shows, {.words = true});
    visit("code", self.code);
    visit("value", self.value);
  }
};

template <>
struct Fields<Part> {
  static void list(auto& self, auto&& visit) {
    visit("id", self.id, {.required = true});
    visit("name", self.name, {.required = true, .words = true});
    visit("markings", self.markings);
    visit("protocol", self.protocol, {.words = true});
    visit("interface", self.interface, {.required = true});
    visit("interfaces", self.interfaces);
    visit("quantities", self.quantities, {.required = true});
    visit("transfer", self.transfer);
    visit("bytes", self.bytes);
    visit("addresses", self.addresses);
    visit("supply", self.supply);
    visit("element", self.element);
    visit("kelvin_per_watt", self.kelvin_per_watt, {.minimum = 0});
    visit("response_s", self.response_s, {.minimum = 0});
    visit("conversion_s", self.conversion_s, {.minimum = 0});
    visit("source_ohm", self.source_ohm, {.minimum = 0});
    visit("load_ohm", self.load_ohm, {.minimum = 0});
    visit("headroom_v", self.headroom_v, {.minimum = 0});
    visit("load_f", self.load_f, {.minimum = 0});
    visit("start_s", self.start_s, {.minimum = 0});
    visit("period_s", self.period_s, {.minimum = 0});
    visit("sink_a", self.sink_a, {.minimum = 0});
    visit("package", self.package, {.words = true});
    visit("size", self.size, {.words = true});
    visit("medium", self.medium, {.words = true});
    visit("bears", self.bears);
    visit("senses", self.senses);
    visit("pins", self.pins, {.words = true});
    visit("pinouts", self.pinouts);
    visit("excludes", self.excludes, {.words = true});
    visit("cautions", self.cautions, {.words = true});
    visit("mistakes", self.mistakes);
    visit("unsettled", self.unsettled, {.words = true});
    visit("source", self.source, {.required = true, .words = true});
  }
};

template <>
struct Fields<Controller> {
  static void list(auto& self, auto&& visit) {
    visit("id", self.id, {.required = true});
    visit("name", self.name, {.required = true, .words = true});
    visit("markings", self.markings);
    visit("clock_hz", self.clock_hz, {.minimum = 0, .maximum = 1e10});
    visit("registers", self.layout.registers, {.required = true});
    visit("forbidden", self.layout.forbidden);
    visit("figures", self.layout.figures);
    visit("cautions", self.cautions, {.words = true});
    visit("source", self.source, {.required = true, .words = true});
  }
};

void read_part(const JsonDocument& document, const Json& json, const std::string& pointer, Part& part,
               std::vector<Problem>& problems, Texts texts) {
  JsonReader reader(document, problems);
  if (texts == Texts::in_language) reader.translate_words();
  reader.read(json, part, pointer);
}

Json part_json(const Part& part) { return to_json_value(part); }

void read_controller(const JsonDocument& document, const Json& json, const std::string& pointer, Controller& controller,
                     std::vector<Problem>& problems, Texts texts) {
  JsonReader reader(document, problems);
  if (texts == Texts::in_language) reader.translate_words();
  reader.read(json, controller, pointer);
}

Json controller_json(const Controller& controller) { return to_json_value(controller); }

}  // namespace fair_gauge
