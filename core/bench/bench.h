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
  double drift_per_kelvin = 0;       ///< relative, of its temperature coefficient
  double drift_span_k = 15;          ///< how far the board's temperature may be from where it was measured
  Json unknown = Json::object();

  double best_v() const { return measured_v.value_or(nominal_v); }
  double relative_half_width() const { return (measured_v ? meter_uncertainty : tolerance) + drift_per_kelvin * drift_span_k; }
  bool operator==(const KnownVoltage&) const = default;
  template <class Self, class Visit>
  static void fields(Self& self, Visit&& visit) {
    visit("nominal_v", self.nominal_v, {.least = 0.01, .most = 1000, .required = true});
    visit("tolerance", self.tolerance, {.least = 0, .most = 1});
    visit("measured_v", self.measured_v, {.least = 0.01, .most = 1000});
    visit("meter_uncertainty", self.meter_uncertainty, {.least = 0, .most = 1});
    visit("drift_per_kelvin", self.drift_per_kelvin, {.least = 0, .most = 1});
    visit("drift_span_k", self.drift_span_k, {.least = 0, .most = 200});
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

enum class Polarity { unipolar,
                      bipolar };  ///< codes from 0, or from −2^(n−1) for inputs of both signs

struct Converter {
  std::string id;
  std::string name;
  int bits = 12;
  std::string reference_rail;     ///< id of the rail that is the reference; empty → `reference`
  KnownVoltage reference;         ///< of its own, where no rail is named
  double span_per_reference = 1;  ///< full span ÷ reference: 2 for a half-reference pin, 0.5 for a bridge converter
  double gain = 1;                ///< of its programmable amplifier
  Polarity polarity = Polarity::unipolar;
  CodeConvention convention = CodeConvention::steps;
  Rounding rounding = Rounding::nearest;
  Justification justification = Justification::right;
  int register_bits = 0;     ///< width that left-justified or scaled readings are given in; 0 → bits
  double noise_lsb = 0.5;    ///< rms, in steps
  double inl_lsb = 1;        ///< half-width, in steps
  double offset_lsb = 0;     ///< half-width, in steps
  double gain_error = 0;     ///< relative half-width
  double input_ohm = 0;      ///< load on the source; 0 → none worth counting
  double sample_farad = 0;   ///< sampling capacitor; 0 → not stated
  double acquisition_s = 0;  ///< time it is connected to the source; 0 → not stated
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
    visit("span_per_reference", self.span_per_reference, {.least = 1e-3, .most = 1e3});
    visit("gain", self.gain, {.least = 1e-3, .most = 1e4});
    visit("polarity", self.polarity);
    visit("convention", self.convention);
    visit("rounding", self.rounding);
    visit("justification", self.justification);
    visit("register_bits", self.register_bits, {.least = 0, .most = 32});
    visit("noise_lsb", self.noise_lsb, {.least = 0, .most = 1e6});
    visit("inl_lsb", self.inl_lsb, {.least = 0, .most = 1e6});
    visit("offset_lsb", self.offset_lsb, {.least = 0, .most = 1e6});
    visit("gain_error", self.gain_error, {.least = 0, .most = 1});
    visit("input_ohm", self.input_ohm, {.least = 0});
    visit("sample_farad", self.sample_farad, {.least = 0, .most = 1});
    visit("acquisition_s", self.acquisition_s, {.least = 0, .most = 100});
  }
};

enum class FrontEndKind { direct,
                          divider,           ///< a resistive sensor with one fixed resistor
                          load,              ///< a current through a resistor to ground
                          level_divider,     ///< two resistors that lower a voltage
                          amplifier,         ///< voltage to voltage, gain and offset
                          transimpedance };  ///< current to voltage by an amplifier
enum class Position { top,
                      bottom };  ///< of the fixed resistor: between supply and pin, or between pin and ground
enum class AmplifierKind { non_inverting,
                           inverting,
                           difference,
                           bridge };

/// What stands between a sensor and the converter's pin.
struct FrontEnd {
  FrontEndKind kind = FrontEndKind::direct;
  double fixed_ohm = 10e3;        ///< of a divider, a load or a transimpedance stage
  double fixed_tolerance = 0.01;  ///< relative half-width of every resistor here
  Position position = Position::top;
  std::string rail;          ///< that feeds the divider, or the sensor where its output follows its supply
  int wires = 0;             ///< to a resistive sensor: 2, 3 or 4; 0 → leads that need no thought
  double lead_ohm = 0;       ///< of one lead
  double top_ohm = 10e3;     ///< of a level divider
  double bottom_ohm = 20e3;  ///< of a level divider
  AmplifierKind amplifier = AmplifierKind::non_inverting;
  double gain = 1;            ///< size of it; an inverting amplifier turns the sign
  double offset_v = 0;        ///< added at the amplifier's output
  double offset_error_v = 0;  ///< half-width, at the amplifier's output
  double input_ohm = 1e3;     ///< the resistor the gain is set against
  double lowest_v = 0;        ///< the amplifier's output reaches from here
  double highest_v = 0;       ///< to here; 0 → not stated
  double filter_ohm = 0;      ///< before the pin; 0 → no filter
  double filter_farad = 0;
  Json unknown = Json::object();

  bool operator==(const FrontEnd&) const = default;
  template <class Self, class Visit>
  static void fields(Self& self, Visit&& visit) {
    visit("kind", self.kind);
    visit("fixed_ohm", self.fixed_ohm, {.least = 1e-3, .most = 1e9});
    visit("fixed_tolerance", self.fixed_tolerance, {.least = 0, .most = 1});
    visit("position", self.position);
    visit("rail", self.rail);
    visit("wires", self.wires, {.least = 0, .most = 4});
    visit("lead_ohm", self.lead_ohm, {.least = 0, .most = 1e4});
    visit("top_ohm", self.top_ohm, {.least = 1e-3, .most = 1e9});
    visit("bottom_ohm", self.bottom_ohm, {.least = 1e-3, .most = 1e9});
    visit("amplifier", self.amplifier);
    visit("gain", self.gain, {.least = 1e-6, .most = 1e6});
    visit("offset_v", self.offset_v, {.least = -1e3, .most = 1e3});
    visit("offset_error_v", self.offset_error_v, {.least = 0, .most = 1e3});
    visit("input_ohm", self.input_ohm, {.least = 1e-3, .most = 1e9});
    visit("lowest_v", self.lowest_v, {.least = -1e3, .most = 1e3});
    visit("highest_v", self.highest_v, {.least = -1e3, .most = 1e3});
    visit("filter_ohm", self.filter_ohm, {.least = 0, .most = 1e9});
    visit("filter_farad", self.filter_farad, {.least = 0, .most = 1});
  }
};

/// A part as it is built in: which one, how it is set, and where it sits.
struct Device {
  std::string id;
  std::string part;                                ///< part id or marking
  std::map<std::string, double> settings;          ///< over the part's own
  std::map<std::string, std::string> side_inputs;  ///< setting → channel that knows it now: the cold junction's temperature
  std::string converter;
  FrontEnd front_end;
  std::string serial;                           ///< 16 hex digits on one wire, else as it stands on the part
  std::string grade;                            ///< of the part's accuracy; empty → the first its sheet lists
  std::string bus;                              ///< of a digital part: two-wire, one-wire, … by the bench's own name
  int address = 0;                              ///< on a two-wire bus
  std::map<std::string, std::string> trimming;  ///< block → hex bytes that this specimen holds
  Json unknown = Json::object();

  bool operator==(const Device&) const = default;
  template <class Self, class Visit>
  static void fields(Self& self, Visit&& visit) {
    visit("id", self.id, {.required = true});
    visit("part", self.part, {.required = true});
    visit("settings", self.settings);
    visit("side_inputs", self.side_inputs);
    visit("converter", self.converter);
    visit("front_end", self.front_end);
    visit("serial", self.serial);
    visit("grade", self.grade);
    visit("bus", self.bus);
    visit("address", self.address, {.least = 0, .most = 127});
    visit("trimming", self.trimming);
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
  std::vector<double> drawer_ohm;  ///< resistors at hand, picked from where any are listed
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
    visit("drawer_ohm", self.drawer_ohm, {.least = 1e-3, .most = 1e9});
  }
};

std::span<const EnumName<CodeConvention>> enum_names(CodeConvention);
std::span<const EnumName<Rounding>> enum_names(Rounding);
std::span<const EnumName<Justification>> enum_names(Justification);
std::span<const EnumName<FrontEndKind>> enum_names(FrontEndKind);
std::span<const EnumName<Position>> enum_names(Position);
std::span<const EnumName<AmplifierKind>> enum_names(AmplifierKind);
std::span<const EnumName<Polarity>> enum_names(Polarity);
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
