// The registers that tell a part how to measure: choose meanings and get bytes, or give bytes and get meanings.
#pragma once

#include <cstdint>
#include <map>
#include <optional>
#include <span>
#include <string>
#include <vector>

#include "parts/part.h"
#include "quantity/result.h"

namespace fair_gauge {

/// Bits of a register field, "7:5" or "3". \returns nothing if the text is not understood
struct FieldBits {
  int high = 0;
  int low = 0;
};
std::optional<FieldBits> field_bits(const RegisterField& field);

/// The field's number in a register's value.
unsigned field_value(const RegisterField& field, unsigned value);
/// The register's value with the field set to a number; the other bits stay as they are.
unsigned with_field(const RegisterField& field, unsigned value, unsigned number);
/// What the number means, or "reserved".
std::string field_meaning(const RegisterField& field, unsigned number);

/// Bits of the register that no field names: they are to stay as the part had them.
unsigned reserved_bits(const PartRegister& reg);

/// What changes some bits of a register and leaves the others as they are: (value & keep) | set.
struct RegisterMasks {
  unsigned keep = 0;                ///< the AND mask
  unsigned set = 0;                 ///< the OR mask
  std::vector<std::string> fields;  ///< that it changes, from the left
};
/// Of all fields, and all bits that no field names, in which two values of a register differ.
RegisterMasks masks_between(const PartRegister& reg, unsigned from, unsigned to);

/// A limit as the part stores it: rounded to its own step, towards the safe side.
enum class LimitSide {
  upper,  ///< rounded down: the alert comes no later than wished
  lower
};  ///< rounded up
struct StoredLimit {
  std::vector<std::uint8_t> bytes;  ///< most significant first
  double value = 0;                 ///< what the stored bytes mean
};
/// \returns the stored limit, or which limits can be stored
Result<StoredLimit> store_limit(const LimitLayout& layout, double value, LimitSide side);

/// A figure of a part as its registers are set.
struct RegisterFigure {
  std::string name;
  std::string unit;
  std::string role;  ///< conversion, period, current, noise, resolution, or empty
  std::optional<Quantity> quantity;
  double value = 0;
};

/// What follows from the registers together.
struct Composition {
  std::vector<RegisterFigure> figures;
  std::vector<std::string> warnings;  ///< what does not go together, in words
  /// The figure of that role, or nothing.
  std::optional<double> of_role(std::string_view role) const;
};

/// \param values    one number a register, in the layout's order
/// \param settings  over the layout's usual ones
/// \returns the figures and warnings; or the expression of the layout that is not understood
Result<Composition> compose(const ByteLayout& layout, std::span<const unsigned> values,
                            const std::map<std::string, double>& settings = {});

/// The value of an expression of settings and register fields.
Result<double> value_by_registers(const ByteLayout& layout, std::span<const unsigned> values,
                                  const std::string& expression, const std::map<std::string, double>& settings = {});

/// The registers of a device or controller: after power-on, with what the bench sets of them.
std::vector<unsigned> registers_of(const ByteLayout& layout, const std::map<std::string, double>& settings,
                                   const std::map<std::string, double>& registers);

/// What a setting is when the registers hold these values; nothing if it sets no field of them, or one of no choice.
std::optional<double> setting_by_registers(const Part& part, const PartSetting& setting,
                                           std::span<const unsigned> values);

/// The registers as they are after power-on.
std::vector<unsigned> power_on_values(const ByteLayout& layout);

/// The longest conversion of a part as its registers are after power-on and as the bench's settings change them, or as
/// its file tells; seconds, 0 → none of its own.
double conversion_time(const Part& part, const std::map<std::string, double>& settings,
                       const std::map<std::string, double>& registers = {});

/// The one choice of a setting or register field, the others as usual, with which a conversion is shortest.
struct QuickestChoice {
  double seconds;
  std::string words;  ///< "repeatability low", "R 9 bits"
};
/// \returns nothing where no choice is quicker than the usual ones
std::optional<QuickestChoice> quickest_choice(const Part& part);

/// A figure of that role as the bench's settings and registers make it, base units; nothing if the part's file has none
/// for them.
/// \param registers  address → value, over those after power-on
/// \param quantity   of a noise or resolution; nothing → of the first figure of that role
std::optional<double> figure_of(const Part& part, const std::map<std::string, double>& settings, std::string_view role,
                                std::optional<Quantity> quantity = {},
                                const std::map<std::string, double>& registers = {});

/// A text of hexadecimal digits as a register's value. \returns the value, or why it is none
Result<unsigned> read_register(const PartRegister& reg, std::string_view text);
std::string write_register(const PartRegister& reg, unsigned value);

}  // namespace fair_gauge
