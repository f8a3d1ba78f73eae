// What a digital part sends and is told, as data: blocks of bytes, fields in them, checks, states, settings, registers.
// Reading bytes by it lives in core/digital.
#pragma once

#include <cstdint>
#include <map>
#include <optional>
#include <string>
#include <vector>

#include "files/unknown_keys.h"
#include "quantity/enum_names.h"
#include "quantity/quantity.h"

namespace fair_gauge {

/// Bytes that are read in one go, named by their start address ("0x88") or by what they are ("prom", "frame").
struct ByteBlock {
  std::string name;
  int bytes = 0;
  std::string role;         ///< trimming, data or status
  std::string example;      ///< hex; our own made-up trimming words
  bool optional = false;    ///< may be missing without a fault
  int shorter = 0;          ///< a shorter length that is allowed too; 0 → none
  std::string also;         ///< another name it may be given by
  double conversion_s = 0;  ///< longest, of what it holds, where that has a conversion of its own; 0 → not stated
  UnknownKeys unknown;

  bool operator==(const ByteBlock&) const = default;
};

enum class FieldSign {
  none,
  twos,  ///< two's complement
  magnitude
};  ///< first bit is the sign, the others the size

/// A number among the bytes of a block.
struct ByteField {
  std::string name;  ///< the data sheet's own symbol
  std::string block;
  std::string
      bits;  ///< most significant first: "1 0" whole bytes, "3[7:0] 4[3:0]" bits of bytes; "-1" is the last byte
  FieldSign sign = FieldSign::none;
  std::string role;  ///< trimming, data, flag, check
  std::string note;
  UnknownKeys unknown;

  bool operator==(const ByteField&) const = default;
};

/// Redundant bytes that prove the others.
struct ByteCheck {
  std::string kind;  ///< a name in core/digital/checks.h
  std::string block;
  int from = 0;                   ///< first byte it covers
  int to = 0;                     ///< last byte it covers
  int at = 0;                     ///< where the check stands
  std::string before;             ///< hex; sent before the block and covered too: addresses and command
  std::vector<Quantity> touches;  ///< quantities that are not to be trusted if it fails; empty → all
  UnknownKeys unknown;

  bool operator==(const ByteCheck&) const = default;
};

/// A value of a field or step that is no reading but says something of the part.
struct ByteState {
  std::string field;
  std::vector<double> equals;  ///< any of these
  std::string fault;           ///< code of the fault; empty → a status worth knowing, no fault
  std::string says;
  std::vector<Quantity> touches;
  UnknownKeys unknown;

  bool operator==(const ByteState&) const = default;
};

/// A named value on the way from the fields to the readings, by an expression of fields, settings and earlier steps.
struct ByteStep {
  std::string symbol;
  std::string expression;
  UnknownKeys unknown;

  bool operator==(const ByteStep&) const = default;
};

/// A reading: scale · field + offset, or an expression of fields, settings and steps, or what the coded formula gives.
struct ByteReading {
  Quantity quantity = Quantity::temperature;
  std::string field;       ///< the raw number it follows from; solved for on the way back
  double scale = 1;        ///< base units for one of the field
  double offset = 0;       ///< base units
  std::string expression;  ///< instead of scale and offset
  bool clamps = false;     ///< to the quantity's range, as the sheet tells
  std::string only;        ///< an expression that is 0 where this reading is not given: altitude in another mode
  std::string beside;      ///< another field whose every value is tried on the way back: an exponent, a remainder
  std::string truly;       ///< the step that tells what the world is when the part reads this: a known bend left in
  std::string tied;        ///< another field that follows this one on the way back
  double share = 0;        ///< how much of this one the tied one is
  UnknownKeys unknown;

  bool operator==(const ByteReading&) const = default;
};

/// One of the values a setting or a register field may have.
struct SettingChoice {
  double value = 0;
  std::string name;  ///< as typed; empty → the number itself
  std::string means;
  int clocks = 0;  ///< of a part that is only clocked: so many in all choose it for the next reading; 0 → none do
  UnknownKeys unknown;

  bool operator==(const SettingChoice&) const = default;
};

/// How the part was told to measure, as far as the bytes cannot tell it themselves.
struct PartSetting {
  std::string key;
  double default_value = 0;  ///< at power-on, or the one that is used as a rule
  double minimum = 0;
  double maximum = 0;
  std::vector<SettingChoice> choices;  ///< empty → any number from minimum to maximum
  std::string unit;                    ///< of such a number, by UCUM; empty → a plain one
  std::string sets;                    ///< register field whose choices, in the same order, it stands for
  bool is_fact = false;                ///< how the specimen or its wiring is; else it may be chosen
  std::string means;
  UnknownKeys unknown;

  bool operator==(const PartSetting&) const = default;
};

/// Some bits of a register that is written.
struct RegisterField {
  std::string name;
  std::string bits;  ///< "7:5", or "3"
  std::vector<SettingChoice> choices;
  std::string means;
  UnknownKeys unknown;

  bool operator==(const RegisterField&) const = default;
};

/// A register that tells the part how to measure.
struct PartRegister {
  std::string address;
  std::string read_address;  ///< where it is read; empty → where it is written
  std::string name;
  int bits = 8;
  double power_on = 0;
  std::vector<RegisterField> fields;
  UnknownKeys unknown;

  bool operator==(const PartRegister&) const = default;
};

/// An address on a two-wire bus and the pins that select it.
struct PartAddress {
  int address = 0;
  std::string pins;
  UnknownKeys unknown;

  bool operator==(const PartAddress&) const = default;
};

enum class LimitForm {
  twos,      ///< two's complement
  positive,  ///< without a sign
  floating   ///< a mantissa with a binary exponent above it
};

/// Whether a reading equal to the limit trips it.
enum class AlarmEquality { none, upper, both };

/// How a part compares and what its output does, as expressions of its register fields; empty → the usual.
struct AlarmLayout {
  std::string on;           ///< 0 → it does not compare; usually 1
  std::string window;       ///< 1 → trips on either side; usually 0: released below the lower limit
  std::string latched;      ///< 1 → stays until it is cleared
  std::string interrupt;    ///< 1 → calls at every change of side, until it is cleared
  std::string active_high;  ///< of its pin
  std::string faults;       ///< readings in a row until it trips; usually 1
  std::string hysteresis;   ///< compared units, on the way down
  double whole = 0;         ///< steps to which the reading is cut first, compared units; 0 → none
  AlarmEquality equality = AlarmEquality::none;  ///< what a reading that equals a limit does
  std::string pin;                               ///< empty → it has none
  std::string tells;                             ///< how it says so without a pin
  std::string cleared_by;                        ///< "a read of 0x01"
  UnknownKeys unknown;

  bool operator==(const AlarmLayout&) const = default;
};

/// How a part keeps its alert limits: their own step is not always that of the reading.
struct LimitLayout {
  std::optional<Quantity> quantity;  ///< what is limited; nothing → the first that the part measures
  std::string unit;                  ///< of step where it is no quantity's base unit: counts; empty → the quantity's
  std::string address;               ///< of the register, or of the first of several
  int bits = 16;                     ///< of the whole register
  int low_bit = 0;                   ///< where its number begins
  int number_bits = 16;              ///< of it, the mantissa's if it has an exponent
  int most_exponent = 0;             ///< of the binary exponent above the mantissa; for form floating
  LimitForm form = LimitForm::twos;
  double step = 1;                   ///< base units, or of unit
  double zero = 0;                   ///< what the number 0 stands for, in the same
  std::string compared;              ///< what the part compares, and what clears the alert
  std::optional<AlarmLayout> alarm;  ///< how it does; nothing → nobody has described it
  UnknownKeys unknown;

  bool operator==(const LimitLayout&) const = default;
};

/// A register by which a part says who it is.
struct PartIdentity {
  std::string address;
  int bits = 8;
  double mask = 0;             ///< bits that tell the part, the others its revision; 0 → all of them
  std::vector<double> values;  ///< any of these is this part, under the mask
  std::string says;            ///< what else the answer tells: other versions, what shares it
  UnknownKeys unknown;

  /// Whether that answer is this part's, of whichever revision.
  bool is_of(std::uint32_t answer) const;

  bool operator==(const PartIdentity&) const = default;
};

/// A pin that settles how the part is talked to, and what else it may not be left to chance for.
struct InterfaceStrap {
  std::string pin;
  std::string tied;  ///< to what
  std::string means;
  int address = 0;  ///< that it selects so; 0 → it is tied so whatever the address
  UnknownKeys unknown;

  bool operator==(const InterfaceStrap&) const = default;
};

/// Something that the part is told besides a conversion.
struct PartCommand {
  std::string name;    ///< reset, heater on, …
  std::string bytes;   ///< as the sheet writes them
  double takes_s = 0;  ///< before the part listens again; 0 → at once, or not stated
  std::string means;
  UnknownKeys unknown;

  bool operator==(const PartCommand&) const = default;
};

/// Register fields that do not go together.
struct ForbiddenSetting {
  std::string when;  ///< an expression of register fields that is not 0 where the part does not do as told
  std::string says;
  UnknownKeys unknown;

  bool operator==(const ForbiddenSetting&) const = default;
};

/// A figure that follows from the register fields: a conversion time, a current, a resolution.
struct SettingFigure {
  std::string name;
  std::string unit;        ///< as it is written after the number: s, A, Pa, °C
  std::string expression;  ///< of register fields, settings and earlier figures
  std::string role;        ///< conversion, settling, period, current, noise, resolution: where other sums need it
  std::optional<Quantity> quantity;  ///< of a noise (one standard deviation) or resolution; nothing → the first
  UnknownKeys unknown;

  bool operator==(const SettingFigure&) const = default;
};

/// One step of a reading: exactly one of write, computed, set, wait, until and read; computed and read together are
/// exchanged on a four-wire bus.
struct ReadingStep {
  bool once = false;                  ///< after power-on, not for every reading
  std::vector<std::string> write;     ///< hex bytes, "" → the address alone; several → one for each choice of `by`
  std::string by;                     ///< the setting that chooses among them
  std::vector<std::string> computed;  ///< expressions of settings and register fields, one for each byte
  bool unanswered = false;            ///< nobody acknowledges what is written: it only wakes the part
  std::string set;                    ///< name of a register: it is written as the bench has it, with these:
  std::map<std::string, double> fields;  ///< of its fields, whatever the bench says
  std::map<std::string, double> usual;   ///< of its fields, where the bench does not set the register
  std::string before;                    ///< hex bytes between that register's address and its value
  bool low_first = false;                ///< the bytes of a wider register, low one first
  bool conversion = false;               ///< waits as long as a conversion can take as the part is set
  double wait_s = 0;
  std::string until;  ///< address of a register that is read until
  int bit = 0;        ///< this bit
  int is = 0;         ///< has this value
  std::string read;   ///< name of a block; one that is an address is read from there
  std::string from;   ///< hex bytes that are sent before it, where its name is no address
  UnknownKeys unknown;

  bool operator==(const ReadingStep&) const = default;
};

struct ByteLayout {
  std::vector<ByteBlock> blocks;
  std::vector<ByteField> fields;
  std::vector<ByteCheck> checks;
  std::vector<ByteState> states;
  std::string formula;          ///< name of a coded formula; empty → steps and readings alone
  std::vector<ByteStep> steps;  ///< in the order they are worked out
  std::vector<ByteReading> readings;
  std::vector<PartSetting> settings;
  std::vector<PartRegister> registers;
  std::vector<LimitLayout> limits;
  std::optional<LimitLayout> offset;  ///< a register that the part adds to its result
  std::vector<PartIdentity> identity;
  std::vector<InterfaceStrap> straps;
  std::vector<PartCommand> commands;
  std::vector<ForbiddenSetting> forbidden;
  std::vector<SettingFigure> figures;
  std::vector<ReadingStep> sequence;  ///< how a reading is made; empty → not told
  double start_low_s = 0;             ///< how long the controller holds a single wire low to begin; 0 → not stated
  std::string start;  ///< how a conversion is begun, in the sheet's words: "write 0xF4", "command 0x2C 0x06"
  std::string ready;  ///< how the part tells that it is done
  UnknownKeys unknown;

  bool operator==(const ByteLayout&) const = default;
};

std::span<const EnumName<FieldSign>> enum_names(FieldSign);
std::span<const EnumName<LimitForm>> enum_names(LimitForm);
std::span<const EnumName<AlarmEquality>> enum_names(AlarmEquality);

}  // namespace fair_gauge
