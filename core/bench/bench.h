// The bench: all that a person sets up and saves, as plain comparable values. Numbers are in base units; a field's
// name says its unit where the type does not. Reading and writing the file lives in bench_file.h.
#pragma once

#include <map>
#include <optional>
#include <string>
#include <vector>

#include "files/json_fields.h"
#include "quantity/unit.h"

namespace fair_gauge {

/// A voltage as it is known: by its label, or by a meter.
struct KnownVoltage {
  double nominal_v = 3.3;
  double tolerance = 0.02;           ///< relative half-width around nominal
  std::optional<double> measured_v;  ///< read with a meter
  double meter_uncertainty = 0.005;  ///< relative half-width of the meter
  Json unknown = Json::object();

  double best_v() const { return measured_v.value_or(nominal_v); }
  double relative_half_width() const { return measured_v ? meter_uncertainty : tolerance; }
  bool operator==(const KnownVoltage&) const = default;
  template <class Self, class Visit>
  static void fields(Self& self, Visit&& visit) {
    visit("nominal_v", self.nominal_v, {.least = 0.01, .most = 1000, .required = true});
    visit("tolerance", self.tolerance, {.least = 0, .most = 1});
    visit("measured_v", self.measured_v, {.least = 0.01, .most = 1000});
    visit("meter_uncertainty", self.meter_uncertainty, {.least = 0, .most = 1});
  }
};

/// A supply rail that devices and references share.
struct Rail {
  std::string id;
  std::string name;
  KnownVoltage voltage;
  Json unknown = Json::object();

  bool operator==(const Rail&) const = default;
  template <class Self, class Visit>
  static void fields(Self& self, Visit&& visit) {
    visit("id", self.id, {.required = true});
    visit("name", self.name);
    visit("voltage", self.voltage, {.required = true});
  }
};

enum class CodeConvention { steps,
                            codes };  ///< one step is reference / 2^n, or reference / (2^n − 1)
enum class Rounding { nearest,
                      truncate };  ///< first transition at half a step, or at one step
enum class Justification { right,
                           left,
                           scaled };  ///< the code as it is, shifted up, or shifted up and filled with its own top bits

struct Converter {
  std::string id;
  std::string name;
  int bits = 12;
  std::string reference_rail;  ///< id of the rail that is the reference; empty → `reference`
  KnownVoltage reference;      ///< of its own, where no rail is named
  CodeConvention convention = CodeConvention::steps;
  Rounding rounding = Rounding::nearest;
  Justification justification = Justification::right;
  int register_bits = 0;   ///< width that left-justified or scaled readings are given in; 0 → bits
  double noise_lsb = 0.5;  ///< rms, in steps
  double inl_lsb = 1;      ///< half-width, in steps
  double offset_lsb = 0;   ///< half-width, in steps
  double gain_error = 0;   ///< relative half-width
  Json unknown = Json::object();

  int reported_bits() const { return justification == Justification::right || register_bits < bits ? bits : register_bits; }
  bool operator==(const Converter&) const = default;
  template <class Self, class Visit>
  static void fields(Self& self, Visit&& visit) {
    visit("id", self.id, {.required = true});
    visit("name", self.name);
    visit("bits", self.bits, {.least = 1, .most = 32, .required = true});
    visit("reference_rail", self.reference_rail);
    visit("reference", self.reference);
    visit("convention", self.convention);
    visit("rounding", self.rounding);
    visit("justification", self.justification);
    visit("register_bits", self.register_bits, {.least = 0, .most = 32});
    visit("noise_lsb", self.noise_lsb, {.least = 0, .most = 1e6});
    visit("inl_lsb", self.inl_lsb, {.least = 0, .most = 1e6});
    visit("offset_lsb", self.offset_lsb, {.least = 0, .most = 1e6});
    visit("gain_error", self.gain_error, {.least = 0, .most = 1});
  }
};

enum class FrontEndKind { direct,
                          divider };
enum class Position { top,
                      bottom };  ///< of the fixed resistor: between supply and pin, or between pin and ground

/// What stands between a sensor and the converter's pin.
struct FrontEnd {
  FrontEndKind kind = FrontEndKind::direct;
  double fixed_ohm = 10e3;
  double fixed_tolerance = 0.01;  ///< relative half-width
  Position position = Position::top;
  std::string rail;  ///< that feeds the divider
  Json unknown = Json::object();

  bool operator==(const FrontEnd&) const = default;
  template <class Self, class Visit>
  static void fields(Self& self, Visit&& visit) {
    visit("kind", self.kind);
    visit("fixed_ohm", self.fixed_ohm, {.least = 1e-3, .most = 1e9});
    visit("fixed_tolerance", self.fixed_tolerance, {.least = 0, .most = 1});
    visit("position", self.position);
    visit("rail", self.rail);
  }
};

/// A part as it is built in: which one, how it is set, and where it sits.
struct Device {
  std::string id;
  std::string part;                        ///< part id or marking
  std::map<std::string, double> settings;  ///< over the part's own
  std::string converter;
  FrontEnd front_end;
  std::string serial;
  Json unknown = Json::object();

  bool operator==(const Device&) const = default;
  template <class Self, class Visit>
  static void fields(Self& self, Visit&& visit) {
    visit("id", self.id, {.required = true});
    visit("part", self.part, {.required = true});
    visit("settings", self.settings);
    visit("converter", self.converter);
    visit("front_end", self.front_end);
    visit("serial", self.serial);
  }
};

/// A range in base units of the channel's quantity.
struct Range {
  double from = 0;
  double to = 0;
  Json unknown = Json::object();

  bool contains(double value) const { return value >= from && value <= to; }
  bool operator==(const Range&) const = default;
  template <class Self, class Visit>
  static void fields(Self& self, Visit&& visit) {
    visit("from", self.from, {.required = true});
    visit("to", self.to, {.required = true});
  }
};

/// reference − reading = Σ coefficients[k] · (reading − origin)^k, in base units.
struct Correction {
  std::vector<double> coefficients;  ///< empty → no correction
  double origin = 0;
  double standard_uncertainty = 0;  ///< of the corrected reading, from points and reference
  std::string note;                 ///< how it was found, for the strip
  Json unknown = Json::object();

  bool operator==(const Correction&) const = default;
  template <class Self, class Visit>
  static void fields(Self& self, Visit&& visit) {
    visit("coefficients", self.coefficients);
    visit("origin", self.origin);
    visit("standard_uncertainty", self.standard_uncertainty, {.least = 0});
    visit("note", self.note);
  }
};

enum class PressureKind { none,
                          absolute,
                          gauge,
                          differential,
                          vacuum };

struct Channel {
  std::string id;
  std::string name;
  std::string place;  ///< where it sits, in a few words
  std::string device;
  std::string quantity = "temperature";
  PressureKind kind = PressureKind::none;
  Range wanted{0, 50};
  std::optional<Range> plausible;
  double tolerance = 1;  ///< allowed error ±, in base difference units
  double period_s = 2;
  Correction correction;
  std::string unit = "Cel";  ///< UCUM code of the shown unit
  std::string line_name;     ///< its name on the serial line; empty → its id
  std::vector<std::string> cautions;
  Json unknown = Json::object();

  const std::string& name_on_line() const { return line_name.empty() ? id : line_name; }
  bool operator==(const Channel&) const = default;
  template <class Self, class Visit>
  static void fields(Self& self, Visit&& visit) {
    visit("id", self.id, {.required = true});
    visit("name", self.name);
    visit("place", self.place);
    visit("device", self.device, {.required = true});
    visit("quantity", self.quantity);
    visit("kind", self.kind);
    visit("wanted", self.wanted);
    visit("plausible", self.plausible);
    visit("tolerance", self.tolerance, {.least = 1e-12});
    visit("period_s", self.period_s, {.least = 1e-3, .most = 1e7});
    visit("correction", self.correction);
    visit("unit", self.unit);
    visit("line_name", self.line_name);
    visit("cautions", self.cautions);
  }
};

struct Bench {
  std::string name;
  std::string place;
  std::vector<Rail> rails;
  std::vector<Converter> converters;
  std::vector<Device> devices;
  std::vector<Channel> channels;
  Json unknown = Json::object();

  bool operator==(const Bench&) const = default;
  template <class Self, class Visit>
  static void fields(Self& self, Visit&& visit) {
    visit("name", self.name);
    visit("place", self.place);
    visit("rails", self.rails);
    visit("converters", self.converters);
    visit("devices", self.devices);
    visit("channels", self.channels);
  }
};

std::span<const EnumName<CodeConvention>> enum_names(CodeConvention);
std::span<const EnumName<Rounding>> enum_names(Rounding);
std::span<const EnumName<Justification>> enum_names(Justification);
std::span<const EnumName<FrontEndKind>> enum_names(FrontEndKind);
std::span<const EnumName<Position>> enum_names(Position);
std::span<const EnumName<PressureKind>> enum_names(PressureKind);

/// The item with this id, or null.
template <class T>
auto find_by_id(T& items, std::string_view id) -> decltype(items.data()) {
  for (auto& item : items)
    if (item.id == id) return &item;
  return nullptr;
}

/// The reference a converter measures against: its rail's voltage or its own.
const KnownVoltage& reference_of(const Bench& bench, const Converter& converter);

}  // namespace fair_gauge
