// The bench: all that a person sets up and saves, as plain comparable values. Numbers are in base units; a field's
// name says its unit where the type does not. Reading and writing the file lives in bench_file.h.
#pragma once

#include <map>
#include <optional>
#include <string>
#include <vector>

#include "files/unknown_keys.h"
#include "quantity/enum_names.h"
#include "quantity/quantity.h"
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
  UnknownKeys unknown;

  double best_v() const { return measured_v.value_or(nominal_v); }
  /// Relative; what temperature adds to what it is now.
  double drift_half_width() const { return drift_per_kelvin * drift_span_k; }
  double relative_half_width() const {
    return (measured_v ? meter_uncertainty : tolerance) + drift_per_kelvin * drift_span_k;
  }
  bool operator==(const KnownVoltage&) const = default;
};

/// A supply rail that devices and references share.
struct Rail {
  std::string id;
  std::string name;
  KnownVoltage voltage;
  UnknownKeys unknown;

  bool operator==(const Rail&) const = default;
};

enum class CodeConvention { steps, codes };  ///< one step is reference / 2^n, or reference / (2^n − 1)
enum class Rounding { nearest, truncate };   ///< first transition at half a step, or at one step
enum class Justification {
  right,
  left,
  scaled
};  ///< the code as it is, shifted up, or shifted up and filled with its own top bits

/// How a converter with parallel outputs is told to begin and says that it is done.
struct Handshake {
  double clock_ohm = 0;         ///< R of its own clock; 0 → it is fed with one
  double clock_farad = 0;       ///< C of it
  double period_per_rc = 1;     ///< period of that clock ÷ R·C
  double rc_tolerance = 0.15;   ///< relative half-width of R·C, 5 % and 10 % together
  double fed_hz = 0;            ///< clock that it is fed with, before it is divided
  int divided_by = 1;           ///< on the way to it
  double clock_minimum_hz = 0;  ///< that its sheet allows; 0 → not stated
  double clock_maximum_hz = 0;  ///< 0 → not stated
  int clocks_minimum = 0;       ///< of its clock from the start to ready
  int clocks_maximum = 0;       ///< 0 → not stated
  double start_s = 0;           ///< shortest start pulse
  double access_s = 0;          ///< from the read pulse to valid outputs, longest
  double reset_s = 0;           ///< from the read or start pulse until ready is taken back, longest
  bool interrupts = false;      ///< ready calls the firmware; false → it is asked again and again
  UnknownKeys unknown;

  bool operator==(const Handshake&) const = default;
};

enum class Polarity { unipolar, bipolar };  ///< codes from 0, or from −2^(n−1) for inputs of both signs

struct Converter {
  std::string id;
  std::string name;
  std::string part;  ///< of the catalogue, whose bytes bring its codes; empty → the controller's own
  int address = 0;   ///< of that part on a two-wire bus; 0 → its first
  std::map<std::string, double> settings;  ///< of that part, over its own: its input, its rate
  int bits = 12;
  std::string reference_rail;     ///< id of the rail that is the reference; empty → `reference`
  KnownVoltage reference;         ///< of its own, where no rail is named
  double span_per_reference = 1;  ///< full span ÷ reference: 2 for a half-reference pin, 0.5 for a bridge converter
  double gain = 1;                ///< of its programmable amplifier
  Polarity polarity = Polarity::unipolar;
  CodeConvention convention = CodeConvention::steps;
  Rounding rounding = Rounding::nearest;
  Justification justification = Justification::right;
  int register_bits = 0;               ///< width that left-justified or scaled readings are given in; 0 → bits
  double noise_lsb = 0.5;              ///< rms, in steps
  double inl_lsb = 1;                  ///< half-width, in steps
  double offset_lsb = 0;               ///< half-width, in steps
  double gain_error = 0;               ///< relative half-width
  double input_ohm = 0;                ///< load on the source; 0 → none worth counting
  double sample_farad = 0;             ///< sampling capacitor; 0 → not stated
  double acquisition_s = 0;            ///< time it is connected to the source; 0 → not stated
  std::optional<Handshake> handshake;  ///< of one with parallel outputs, a start and a ready line
  UnknownKeys unknown;

  int reported_bits() const {
    return justification == Justification::right || register_bits < bits ? bits : register_bits;
  }
  bool operator==(const Converter&) const = default;
};

enum class FrontEndKind {
  direct,
  divider,        ///< a resistive sensor with one fixed resistor
  load,           ///< a current through a resistor to ground
  level_divider,  ///< two resistors that lower a voltage
  amplifier,      ///< voltage to voltage, gain and offset
  transimpedance
};                                    ///< current to voltage by an amplifier
enum class Position { top, bottom };  ///< of the fixed resistor: between supply and pin, or between pin and ground
enum class AmplifierKind { non_inverting, inverting, difference, bridge };

/// What stands between a sensor and the converter's pin.
struct FrontEnd {
  FrontEndKind kind = FrontEndKind::direct;
  double fixed_ohm = 10e3;            ///< of a divider, a load or a transimpedance stage
  double fixed_tolerance = 0.01;      ///< relative half-width of every resistor here
  double fixed_drift_per_kelvin = 0;  ///< relative, its temperature coefficient: 100 ppm/K is 1e-4
  double fixed_drift_span_k = 15;     ///< how far the board's temperature may be from 25 °C
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
  UnknownKeys unknown;

  /// Relative, tolerance and temperature together.
  double fixed_drift_half_width() const { return fixed_drift_per_kelvin * fixed_drift_span_k; }
  double fixed_half_width() const { return fixed_tolerance + fixed_drift_per_kelvin * fixed_drift_span_k; }
  bool operator==(const FrontEnd&) const = default;
};

/// A part as it is built in: which one, how it is set, and where it sits.
struct Device {
  std::string id;
  std::string part;                        ///< part id or marking
  std::map<std::string, double> settings;  ///< over the part's own
  std::map<std::string, double>
      registers;  ///< address → what is written to it; one that is missing → as after power-on
  std::map<std::string, std::string>
      side_inputs;  ///< setting → channel that knows it now: the cold junction's temperature
  std::string converter;
  FrontEnd front_end;
  std::string serial;         ///< 16 hex digits on one wire, else as it stands on the part
  std::string grade;          ///< of the part's accuracy; empty → the first its sheet lists
  std::string element;        ///< part that is connected to a converter of finished readings; empty → its usual one
  std::string element_grade;  ///< of that part's accuracy
  std::string bus;            ///< of a digital part: two-wire, one-wire, … by the bench's own name
  std::string alert;          ///< line that it pulls down beside its bus, by the bench's own name
  int address = 0;            ///< on a two-wire bus
  std::string rail;           ///< that feeds a digital part; empty → its bus's
  int branch = 0;             ///< of the bus's multiplexer, from 1; 0 → before it
  std::string place;          ///< where this specimen sits, in a few words
  std::string pads;           ///< of the board or package it is on, in their order: "VIN GND SCL SDA"; empty → as the
                              ///< part's file has its package
  std::map<std::string, std::string> wires;     ///< conductor → the colour or mark it has here
  std::map<std::string, std::string> trimming;  ///< block → hex bytes that this specimen holds
  UnknownKeys unknown;

  bool operator==(const Device&) const = default;
};

/// A range in base units of the channel's quantity.
struct Range {
  double from = 0;
  double to = 0;
  UnknownKeys unknown;

  bool contains(double value) const { return value >= from && value <= to; }
  bool operator==(const Range&) const = default;
};

/// Where a correction is carried out.
enum class CorrectionPlace {
  physical,  ///< here, on the reading
  raw,       ///< here, on the raw number
  part,      ///< in the part's own offset register: what arrives is corrected already
  firmware
};  ///< in the firmware: what arrives is corrected already

/// reference − reading = Σ coefficients[k] · (reading − origin)^k, or straight between the points of a table; base
/// units.
struct Correction {
  std::vector<double> coefficients;  ///< empty and no table → no correction
  double origin = 0;
  std::vector<std::vector<double>> table;       ///< rows of reading, correction; readings rising
  std::vector<std::vector<double>> covariance;  ///< of the coefficients; empty → standard_uncertainty everywhere
  double standard_uncertainty = 0;              ///< of the corrected reading, from points and reference
  double dof = 0;                               ///< degrees of freedom of that; 0 → not counted
  std::optional<Range> covered;                 ///< readings between which there were points
  CorrectionPlace placed = CorrectionPlace::physical;
  std::string on;             ///< day of the calibration, 2026-11-24
  std::string reference;      ///< what it was compared with
  double drift_per_year = 0;  ///< half-width, base difference units, since that day
  std::string note;           ///< how it was found, for the strip
  UnknownKeys unknown;

  bool empty() const { return coefficients.empty() && table.empty(); }
  bool operator==(const Correction&) const = default;
};

/// Something that may be off and that no sheet tells: where the sensor sits, hysteresis, the display's last digit.
struct UncertaintyContribution {
  std::string name;
  double half_width = 0;  ///< base difference units, rectangular
  UnknownKeys unknown;

  bool operator==(const UncertaintyContribution&) const = default;
};

/// How a channel behaves in the simulated environment, base units; what is not given follows from the wanted range.
struct SimulatedCourse {
  std::optional<double> base;
  std::optional<double> swing;   ///< over a day
  std::optional<double> ripple;  ///< over seconds
  UnknownKeys unknown;

  bool operator==(const SimulatedCourse&) const = default;
};

/// A goal from a time of day on, every day.
struct ScheduledGoal {
  double at_s = 0;  ///< seconds after midnight, by the clock of the readings: UTC
  double goal = 0;
  UnknownKeys unknown;

  bool operator==(const ScheduledGoal&) const = default;
};

/// What a rule switches in, to try it: a thermal mass that loses its heat to the outside.
struct SwitchedRoom {
  double outside = 10;         ///< around it, base units
  double power_w = 100;        ///< of what heats or cools, while it is on
  double loss_w_per_k = 4;     ///< to the outside
  double mass_j_per_k = 40e3;  ///< heat that it holds
  UnknownKeys unknown;

  bool operator==(const SwitchedRoom&) const = default;
};

/// Two-point switching by a channel's reading, in base units.
struct SwitchingRule {
  bool heats = true;  ///< on below goal − band and off above goal + band; false → a cooler, the other way round
  double goal = 0;
  double band = 0;  ///< half-width, a difference
  double minimum_on_s = 0;
  double minimum_off_s = 0;
  double every_s = 0;                   ///< between two looks; 0 → every reading
  std::vector<ScheduledGoal> schedule;  ///< by their times; empty → the goal holds all day
  double stale_s = 0;                   ///< without a good reading for so long it goes to its safe state; 0 → at once
  bool safe_on = false;                 ///< that state: something that has to run while nobody knows
  std::optional<double> shutdown_above;  ///< once the reading is, all is off until somebody begins anew
  std::optional<SwitchedRoom> room;      ///< that it is tried in; nothing → nobody has described one
  UnknownKeys unknown;

  bool operator==(const SwitchingRule&) const = default;
};

enum class FilterKind { mean, median, exponential };

/// What firmware does to the readings before anybody sees them.
struct KeptFilter {
  FilterKind kind = FilterKind::mean;
  int length = 1;     ///< readings of the window, 1…64, of mean and median
  double weight = 1;  ///< of a new reading, 1/4096…1, of exponential
  UnknownKeys unknown;

  bool operator==(const KeptFilter&) const = default;
};

enum class ArrivesAs { raw, value };

/// In which form a channel's number arrives. A value was converted before: by a library, a meter, another program.
struct Arrival {
  ArrivesAs as = ArrivesAs::value;
  std::string unit;  ///< UCUM code of a value; empty → the channel's shown unit
  int decimals = 1;  ///< of a value; what is beyond them was rounded away
  UnknownKeys unknown;

  bool operator==(const Arrival&) const = default;
};

/// Instead of a derived quantity's id, where the formula is typed.
inline constexpr std::string_view typed_formula = "formula";

/// What a channel without a sensor of its own is worked out from.
struct DerivedFrom {
  std::string as;                ///< id of a derived quantity: "dew-point", or typed_formula
  std::string of;                ///< channel of its first input, whose raw number is this channel's too
  std::string beside;            ///< channel of its second input; empty → `number`, or there is none
  std::optional<double> number;  ///< the second input typed, base units: a height
  int at_rest = 0;      ///< of so many readings number is the mean, that the first input took while nothing was
                        ///< on it; 0 → number is of another origin
  std::string formula;  ///< where it is one's own, of `a` and `b`, the inputs in base units
  UnknownKeys unknown;

  bool is_own_formula() const { return as == typed_formula; }
  bool operator==(const DerivedFrom&) const = default;
};

/// What was last given to firmware.
struct HandedOver {
  std::string source;  ///< fingerprint of the chain then
  std::string on;      ///< day, ISO 8601
  UnknownKeys unknown;

  bool operator==(const HandedOver&) const = default;
};

/// How a sensor inside a chip warms itself, as it was recorded; base difference units.
struct WarmUp {
  double rise = 0;             ///< after it was switched on, in the end
  double time_constant_s = 0;  ///< of that
  double under_load = 0;       ///< that it rises more while the chip works as hard as it ever will; 0 → not recorded
  std::string on;              ///< day, ISO 8601
  UnknownKeys unknown;

  bool operator==(const WarmUp&) const = default;
};

/// What the part itself is to compare the reading with, base units as this bench corrects it; nothing → no limit.
struct OwnLimits {
  std::optional<double> upper, lower;
  UnknownKeys unknown;

  bool operator==(const OwnLimits&) const = default;
};

struct Channel {
  std::string id;
  std::string name;
  std::string place;   ///< where it sits, in a few words
  std::string device;  ///< may be empty where the number arrives as a value and nobody knows the part behind it
  std::optional<Arrival> arrives;      ///< nothing → a raw number, or bytes
  std::optional<DerivedFrom> derived;  ///< worked out from other channels; it has no device then
  Quantity quantity = Quantity::temperature;
  PressureKind kind = PressureKind::none;
  Range wanted{0, 50};
  std::optional<Range> plausible;
  double tolerance = 1;  ///< allowed error ±, in base difference units
  double period_s = 2;
  Correction correction;
  std::vector<UncertaintyContribution> contributions;
  double due_days = 0;       ///< between calibrations; 0 → none is due
  std::string unit = "Cel";  ///< UCUM code of the shown unit
  std::string also_unit;     ///< of a second one that stands beside it; empty → none
  std::string line_name;     ///< its name on the serial line; empty → its id
  std::vector<std::string> cautions;
  std::optional<SwitchingRule> switching;  ///< what hangs on its reading
  std::optional<KeptFilter> filter;        ///< of its readings, in firmware
  std::optional<WarmUp> warm_up;           ///< of a sensor inside a chip
  std::optional<OwnLimits> limits;         ///< in the part's own registers
  std::optional<HandedOver> handed_over;
  std::optional<SimulatedCourse> simulation;
  UnknownKeys unknown;

  const std::string& name_on_line() const { return line_name.empty() ? id : line_name; }
  bool is_derived() const { return derived.has_value(); }
  /// Whether it hangs on the reading of that channel.
  bool is_derived_from(std::string_view channel) const {
    return derived && (derived->of == channel || derived->beside == channel);
  }
  /// The channel whose raw number is read: its own, or that of what it is worked out from.
  const std::string& raw_channel() const { return derived ? derived->of : id; }
  bool arrives_converted() const { return arrives && arrives->as == ArrivesAs::value; }
  const std::string& arriving_unit() const { return arrives && !arrives->unit.empty() ? arrives->unit : unit; }
  bool operator==(const Channel&) const = default;
};

enum class BusKind { two_wire, one_wire, single_wire, alert };  ///< open-drain line that several parts pull down

/// A resistor that is there: on the controller's board, on a sensor's board, or in the wiring.
struct PullUp {
  std::string where;
  double ohm = 4700;
  std::string to;  ///< rail it goes to; empty → the bus's own, "ground" → a mistake that is drawn
  UnknownKeys unknown;

  bool operator==(const PullUp&) const = default;
};

/// Conductors that digital parts share. Devices name it in their `bus`, an alert line also in their `alert`.
struct Bus {
  std::string id;
  std::string name;
  BusKind kind = BusKind::two_wire;
  std::string rail;              ///< the controller's side is fed by
  double speed_hz = 100e3;       ///< of a two-wire bus
  double cable_m = 0.2;          ///< all of it together
  double farad_per_m = 60e-12;   ///< of the cable; a flat ribbon about 50 pF, a twisted shielded pair about 100 pF
  double board_farad = 20e-12;   ///< of the controller's pin and board
  double device_farad = 10e-12;  ///< of each device's pin
  std::vector<PullUp> pull_ups;
  bool parasite = false;        ///< one-wire parts fed by the data line
  bool strong_pull_up = false;  ///< the controller feeds them through a switch while they convert
  bool star = false;            ///< several long arms from one point
  bool level_shift = false;     ///< between the controller and parts of another rail
  double pin_most_v = 0;        ///< that the controller's pin bears; 0 → its supply and 0.3 V
  int multiplexer_address = 0;  ///< 0 → there is none
  UnknownKeys unknown;

  bool operator==(const Bus&) const = default;
};

/// Whether a part's bytes come over that bus, or the part pulls that alert line down.
bool hangs_on(const Device& device, std::string_view bus);

/// A pin of the controller, by the maker's own name.
struct Pin {
  std::string name;        ///< "A0", "26", "third from the left"
  std::string reads;       ///< converter that reads its voltage; empty → it cannot
  bool interrupt = false;  ///< can call the firmware
  double most_v = 0;       ///< that it bears; 0 → its supply
  std::string uses;        ///< device or bus of which a conductor ends here; empty → free
  std::string carries;     ///< which conductor: clock, data, signal; empty → the only one
  UnknownKeys unknown;

  bool operator==(const Pin&) const = default;
};

enum class CableKind { flat_ribbon, twisted_pair, shielded_pair, round_cable, single_wires };

/// A run of cable, as it is cut.
struct CableRun {
  std::string name;  ///< from where to where
  double metres = 1;
  double slack_m = 0.1;  ///< that is cut longer
  CableKind kind = CableKind::flat_ribbon;
  int conductors = 3;
  std::string bus;        ///< that it is part of; empty → of none
  std::string connector;  ///< at its ends, with the order of its conductors
  UnknownKeys unknown;

  double cut_m() const { return metres + slack_m; }
  bool operator==(const CableRun&) const = default;
};

enum class AccessoryKind { display, lamp, potentiometer, relay, other };

/// What hangs on the board beside the sensors. Nothing of it is computed but the resistor of a lamp.
struct Accessory {
  std::string name;
  AccessoryKind kind = AccessoryKind::other;
  std::string pins;      ///< of the controller, by the maker's names
  double current_a = 0;  ///< while it is on
  double forward_v = 0;  ///< of a lamp; 0 → it needs no resistor, or nobody knows
  std::string rail;      ///< that feeds it
  UnknownKeys unknown;

  bool operator==(const Accessory&) const = default;
};

/// The controller's board.
struct Board {
  std::string preset;  ///< that it came from
  std::string name;    ///< in plain words
  std::string note;    ///< what to know of it
  std::vector<Pin> pins;
  std::string controller;                   ///< id of its registers' description; empty → none is chosen
  double clock_hz = 0;                      ///< that it runs at; 0 → as the description has it
  std::map<std::string, double> registers;  ///< address → what is written to it; missing → as after power-on
  UnknownKeys unknown;

  bool operator==(const Board&) const = default;
};

/// What feeds the board when nobody is there.
struct PowerPlan {
  double battery_ah = 0;    ///< 0 → no battery
  double awake_a = 20e-3;   ///< of the controller while it is awake
  double sleep_a = 10e-6;   ///< of all but the sensors while it sleeps
  double period_s = 60;     ///< between cycles
  double overhead_s = 0.1;  ///< awake beside the sensors' own times
  UnknownKeys unknown;

  bool operator==(const PowerPlan&) const = default;
};

/// What a person holds of a part instead of its sheet: of another seller, or of an own measurement.
struct OwnFigure {
  Quantity quantity = Quantity::temperature;
  double accuracy = 0;         ///< half-width over the whole range, base units; 0 → as the sheet says
  std::optional<double> from;  ///< of the range, base units; both or neither
  std::optional<double> to;
  UnknownKeys unknown;

  bool operator==(const OwnFigure&) const = default;
};

/// What the user knows of a part: its price, whether it is in the drawer, what counts instead of its sheet.
struct OwnPart {
  std::string part;
  double price = 0;  ///< in whatever money; 0 → not entered
  int in_drawer = 0;
  std::vector<OwnFigure> figures;
  double supply_minimum_v = 0;  ///< 0 → as the sheet says
  double supply_maximum_v = 0;
  std::string note;  ///< where the figures come from
  UnknownKeys unknown;

  bool has_figures() const { return !figures.empty() || supply_minimum_v > 0 || supply_maximum_v > 0; }
  bool operator==(const OwnPart&) const = default;
};

struct Bench {
  std::string name;
  std::string place;
  Board board;
  std::vector<Rail> rails;
  std::vector<Converter> converters;
  std::vector<Bus> buses;
  std::vector<Device> devices;
  std::vector<Channel> channels;
  PowerPlan power;
  std::vector<CableRun> cables;
  std::vector<Accessory> accessories;
  std::vector<OwnPart> own_parts;
  std::vector<double> drawer_ohm;  ///< resistors at hand, picked from where any are listed
  UnknownKeys unknown;

  bool operator==(const Bench&) const = default;
};

std::span<const EnumName<CodeConvention>> enum_names(CodeConvention);
std::span<const EnumName<Rounding>> enum_names(Rounding);
std::span<const EnumName<Justification>> enum_names(Justification);
std::span<const EnumName<FrontEndKind>> enum_names(FrontEndKind);
std::span<const EnumName<Position>> enum_names(Position);
std::span<const EnumName<AmplifierKind>> enum_names(AmplifierKind);
std::span<const EnumName<Polarity>> enum_names(Polarity);
std::span<const EnumName<CorrectionPlace>> enum_names(CorrectionPlace);
std::span<const EnumName<ArrivesAs>> enum_names(ArrivesAs);
std::span<const EnumName<FilterKind>> enum_names(FilterKind);
std::span<const EnumName<BusKind>> enum_names(BusKind);
std::span<const EnumName<CableKind>> enum_names(CableKind);
std::span<const EnumName<AccessoryKind>> enum_names(AccessoryKind);

/// The item with this id, or null.
template <class T>
auto find_by_id(T& items, std::string_view id) -> decltype(items.data()) {
  for (auto& item : items)
    if (item.id == id) return &item;
  return nullptr;
}

/// The name of a channel, bus, supply or converter; its id where it has none.
template <class T>
const std::string& called(const T& thing) {
  return thing.name.empty() ? thing.id : thing.name;
}

/// What people call a device: the names of its channels, or of the first with how many more it has where all of them
/// are too long; its id where it has no channel with a name.
std::string name_of(const Bench& bench, const Device& device);

/// The reference a converter measures against: its rail's voltage or its own.
const KnownVoltage& reference_of(const Bench& bench, const Converter& converter);

}  // namespace fair_gauge
