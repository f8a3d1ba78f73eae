// A part as its file in data/parts describes it. Numbers are in base units of the quantity.
#pragma once

#include <limits>
#include <map>
#include <string>
#include <utility>
#include <vector>

#include "files/unknown_keys.h"
#include "parts/byte_layout.h"
#include "quantity/enum_names.h"
#include "quantity/unit.h"

namespace fair_gauge {

enum class AccuracyOf {
  reading,
  span,
  points
};  ///< per cent of the reading, of the span, or in the quantity's own units
enum class Basis { typical, maximum };

/// One line of a data sheet's accuracy table.
struct AccuracyBand {
  double from = 0;
  double to = 0;
  double value = 0;           ///< half-width: base units for points, a fraction otherwise
  double and_of_reading = 0;  ///< added to it for every unit of |reading|: 0.30 °C + 0.005·|t|
  double zero_offset = 0;     ///< added to it until the specimen's zero has been taken; as value
  AccuracyOf of = AccuracyOf::points;
  Basis basis = Basis::maximum;
  std::string grade;
  std::string conditions;
  UnknownKeys unknown;

  bool operator==(const AccuracyBand&) const = default;
};

/// One thing a part measures.
struct PartQuantity {
  std::string quantity;  ///< temperature, humidity, pressure, illuminance
  std::string kind;      ///< of a pressure: absolute, gauge, differential or vacuum
  double minimum = 0;    ///< of the specified range
  double maximum = 0;
  double resolution = 0;  ///< of the part itself; 0 for an analog part
  std::vector<AccuracyBand> accuracy;
  UnknownKeys unknown;

  bool operator==(const PartQuantity&) const = default;
};

/// How the quantity becomes the part's output: a word of the vocabulary and its numbers.
struct Transfer {
  std::string type;
  std::string variant;  ///< of a type with kinds: the letter of a thermocouple
  std::map<std::string, double> numbers;
  std::vector<std::vector<double>> table;  ///< rows of quantity, output, quantity ascending; for type table
  std::string expression;                  ///< of x, the quantity; for type expression
  UnknownKeys unknown;

  bool operator==(const Transfer&) const = default;
};

struct SupplyLimits {
  double minimum_v = 0;
  double maximum_v = 0;
  double current_a = 0;  ///< at rest, or all the time if the part knows no rest
  double active_a = 0;   ///< while it measures; 0 → as at rest
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

struct Part {
  std::string id;
  std::string name;                   ///< our own plain description
  std::vector<std::string> markings;  ///< what is printed on packages it fits
  std::string interface;              ///< voltage, ratiometric, resistance, …
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
  double start_s = 0;          ///< from power to the first conversion; 0 → not stated
  double period_s = 0;  ///< shortest between readings where that is more than a conversion; 0 → as fast as it converts
  double sink_a = 0;    ///< that its open-drain outputs pull down for sure; 0 → 3 mA
  std::string package;  ///< what one holds in the hand
  std::string size;     ///< of its body
  std::string medium;   ///< what may touch it
  std::string senses;   ///< what it takes the temperature of: air, contact, own chip; empty → not settled
  std::string pins;     ///< order of the pins or pads, where boards differ
  std::vector<std::string> cautions;
  std::vector<Mistake> mistakes;
  std::vector<std::string> unsettled;  ///< figures that are left out or not sure, each with its reason
  std::string source;                  ///< where the numbers come from
  UnknownKeys unknown;

  bool operator==(const Part&) const = default;
  bool is_digital() const { return !bytes.blocks.empty(); }
  /// The quantity of that name, or null.
  const PartQuantity* measures(std::string_view quantity) const;
};

std::span<const EnumName<AccuracyOf>> enum_names(AccuracyOf);
std::span<const EnumName<Basis>> enum_names(Basis);

}  // namespace fair_gauge
