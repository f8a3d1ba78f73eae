// A part as its file in data/parts describes it. Numbers are in base units of the quantity.
#pragma once

#include <limits>
#include <map>
#include <optional>
#include <string>
#include <string_view>
#include <utility>
#include <vector>

#include "files/unknown_keys.h"
#include "parts/byte_layout.h"
#include "parts/interface.h"
#include "quantity/enum_names.h"
#include "quantity/quantity.h"

namespace fair_gauge {

enum class AccuracyOf {
  reading,
  span,
  points,
  numbers  ///< of the transfer, each by its own share: 1 % of R25, 1 % of B
};  ///< per cent of the reading, of the span, in the quantity's own units, or what the law's numbers may be off by
enum class Basis { typical, maximum };

/// Readings of another quantity between which a line of a sheet's table holds.
struct BandBeside {
  Quantity quantity = Quantity::temperature;
  double from = 0;  ///< base units
  double to = 0;
  UnknownKeys unknown;

  bool operator==(const BandBeside&) const = default;
};

/// Grade of an accuracy that the person has typed.
inline constexpr std::string_view own_grade = "own figure";

/// One line of a data sheet's accuracy table.
struct AccuracyBand {
  double from = 0;
  double to = 0;
  double value = 0;  ///< half-width: base units for points, a fraction otherwise
  double below = 0;  ///< how far it may read too low where that is another figure than value; 0 → as value
  std::map<std::string, double> numbers;  ///< of the transfer, how far each may be off, as a share; for of numbers
  std::vector<BandBeside> beside;  ///< where it holds, by other quantities: humidity at 20 to 40 °C; empty → everywhere
  double and_of_reading = 0;       ///< added to it for every unit of |reading|: 0.30 °C + 0.005·|t|
  double zero_offset = 0;  ///< added to it until the specimen's zero has been taken; base units for points, a fraction
                           ///< of the span otherwise
  AccuracyOf of = AccuracyOf::points;
  Basis basis = Basis::maximum;
  std::string grade;
  std::string conditions;
  UnknownKeys unknown;

  bool operator==(const AccuracyBand&) const = default;
};

/// One thing a part measures.
struct PartQuantity {
  Quantity quantity = Quantity::temperature;
  PressureKind kind = PressureKind::none;  ///< of a pressure; none → not stated
  double minimum = 0;                      ///< of the specified range
  double maximum = 0;
  double resolution = 0;      ///< of the part itself; 0 for an analog part
  double answers_beyond = 0;  ///< how far outside its range it still answers; 0 → a tenth of the range
  std::vector<AccuracyBand> accuracy;
  UnknownKeys unknown;

  /// How far outside its range a reading may be before the bytes cannot be right, base units.
  double slack() const { return answers_beyond > 0 ? answers_beyond : 0.1 * (maximum - minimum); }
  bool operator==(const PartQuantity&) const = default;
};

/// What one number of a part's own formula is.
struct NumberName {
  std::string number;  ///< as the formula has it
  std::string name;    ///< for people
  std::string unit;    ///< UCUM code; empty → a plain number, whose unit stands in the name if it has one
  std::string means;
  UnknownKeys unknown;

  bool operator==(const NumberName&) const = default;
};

/// How the quantity becomes the part's output: a word of the vocabulary and its numbers.
struct Transfer {
  std::string type;
  std::string variant;  ///< of a type with kinds: the letter of a thermocouple
  std::map<std::string, double> numbers;
  std::vector<std::vector<double>> table;  ///< rows of quantity, output, quantity ascending; for type table
  std::string expression;                  ///< of x, the quantity; for type expression
  std::string simple;             ///< of x, the output: a short formula of the sheet's own that only comes near
  std::vector<NumberName> named;  ///< the numbers of an expression that a specimen may have of its own
  UnknownKeys unknown;

  bool operator==(const Transfer&) const = default;
};

enum class CurrentOf {
  shutdown,    ///< asleep or on standby: nothing is measured until it is woken or told
  idle,        ///< awake, nothing measured
  converting,  ///< while one conversion runs
  average      ///< over conversions and what lies between them
};

/// What a part draws in one of its states.
struct PartCurrent {
  CurrentOf of = CurrentOf::converting;
  double typical_a = 0;  ///< 0 → not stated
  double maximum_a = 0;  ///< 0 → not stated
  double every_s = 0;    ///< of an average: one measurement each so many seconds; 0 → as it runs by itself
  std::string conditions;
  UnknownKeys unknown;

  /// What a sum of currents takes: the typical figure, and the maximum where only that is stated.
  double usual_a() const { return typical_a > 0 ? typical_a : maximum_a; }
  bool operator==(const PartCurrent&) const = default;
};

/// How a part comes to rest between conversions.
enum class Rest {
  by_itself,  ///< after each conversion
  when_told,  ///< by a register or command; until then it goes on
  never       ///< it draws the same all the time
};

/// What a part bears around it without being sealed in.
enum class Bears {
  dry,   ///< no condensation
  damp,  ///< condensation now and then
  wet    ///< standing in it
};

struct SupplyLimits {
  double minimum_v = 0;
  double maximum_v = 0;
  std::vector<PartCurrent> currents;
  Rest rest = Rest::never;
  UnknownKeys unknown;

  bool operator==(const SupplyLimits&) const = default;
};

/// A usual mistake with a part and what it looks like.
struct Mistake {
  std::string what;
  std::string shows;
  std::string code;   ///< of `diagnose`: which row of its table this is; empty → no wrong number tells it
  std::string value;  ///< what becomes of a right value x, base units, where no row of the table makes it
  UnknownKeys unknown;

  bool operator==(const Mistake&) const = default;
};

/// What is connected to a converter that gives finished readings: its error is no part of the converter's own.
struct PartElement {
  std::string part;   ///< id of the catalogue: a thermocouple, a platinum element
  std::string grade;  ///< of that part's accuracy; empty → the first it lists
  UnknownKeys unknown;

  bool operator==(const PartElement&) const = default;
};

/// A bus that a part can be on.
struct PartInterface {
  Interface kind = Interface::i2c;
  double maximum_hz = 0;                     ///< of its clock; 0 → not stated
  std::vector<double> modes;                 ///< of a four-wire bus: 0 to 3
  std::string write;                         ///< how a write is told from a read, and what else the first byte says
  std::string wires;                         ///< what else is to be done with its pins
  std::map<std::string, std::string> lines;  ///< clock, data in, data out, select → the part's pin
  UnknownKeys unknown;

  bool operator==(const PartInterface&) const = default;
};

/// The pins of one package.
struct PartPinout {
  std::string package;
  std::string view;               ///< how it is held: "flat side towards you, legs down, from the left"
  std::vector<std::string> pins;  ///< in the order of their numbers, by the sheet's names
  std::string twin;               ///< what looks the same and has them another way round
  UnknownKeys unknown;

  bool operator==(const PartPinout&) const = default;
};

struct Part {
  std::string id;
  std::string name;                   ///< our own plain description
  std::vector<std::string> markings;  ///< what is printed on packages it fits
  std::string protocol;               ///< how it talks, where that tells it from its neighbours: "frames with a check"
  Interface interface = Interface::voltage;
  std::vector<PartInterface> interfaces;  ///< buses it can be on, the usual one first; empty → not stated
  std::vector<PartQuantity> quantities;
  Transfer transfer;                   ///< of an analog part; its type is empty for a digital one
  ByteLayout bytes;                    ///< of a digital part; no blocks for an analog one
  std::vector<PartAddress> addresses;  ///< on a two-wire bus
  SupplyLimits supply;
  PartElement element;         ///< that is usually connected; no part → it senses by itself
  double kelvin_per_watt = 0;  ///< self-heating in still air; 0 → not stated
  double response_s = 0;       ///< time constant in still air; 0 → not stated
  double conversion_s = 0;     ///< longest; 0 → none of its own
  double source_ohm = 0;       ///< output resistance
  double load_ohm = 0;         ///< least that may hang on its output; 0 → not stated
  double headroom_v = 0;       ///< of a two-terminal current part: least voltage over it; 0 → not stated
  double load_f = 0;           ///< most capacitance that its output drives; 0 → not stated
  double start_s = 0;          ///< from power to the first conversion; 0 → not stated
  double period_s = 0;  ///< shortest between readings where that is more than a conversion; 0 → as fast as it converts
  double sink_a = 0;    ///< that its open-drain outputs pull down for sure; 0 → 3 mA
  std::string package;  ///< what one holds in the hand
  std::string size;     ///< of its body
  std::string medium;   ///< what may touch it, in words
  Bears bears = Bears::dry;
  std::string senses;  ///< what it takes the temperature of: air, contact, own chip; empty → not settled
  std::string pins;    ///< what to know of them where boards differ
  std::vector<PartPinout> pinouts;
  std::vector<std::string> excludes;  ///< errors that its accuracy leaves out
  std::vector<std::string> cautions;
  std::vector<Mistake> mistakes;
  std::vector<std::string> unsettled;  ///< figures that are left out or not sure, each with its reason
  std::string source;                  ///< where the numbers come from
  UnknownKeys unknown;

  bool operator==(const Part&) const = default;
  bool is_digital() const { return !bytes.blocks.empty(); }
  /// What it says of that quantity, or null.
  const PartQuantity* measures(Quantity quantity) const;
  /// Its entry of that bus, or null.
  const PartInterface* on(Interface kind) const;
  /// What it draws in that state, amperes; nothing if its file does not say.
  std::optional<double> current(CurrentOf of) const;
  /// What it draws between conversions once it rests as it can, amperes; nothing if its file does not say.
  std::optional<double> resting_a() const;
  /// What it draws while it measures, amperes; nothing if its file does not say.
  std::optional<double> converting_a() const;
};

std::span<const EnumName<AccuracyOf>> enum_names(AccuracyOf);
std::span<const EnumName<Basis>> enum_names(Basis);
std::span<const EnumName<CurrentOf>> enum_names(CurrentOf);
std::span<const EnumName<Rest>> enum_names(Rest);
std::span<const EnumName<Bears>> enum_names(Bears);

}  // namespace fair_gauge
