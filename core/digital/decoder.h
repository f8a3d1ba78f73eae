// Bytes of a digital part → readings, by its layout: fields, checks, states, formula or steps, readings.
#pragma once

#include <map>
#include <memory>
#include <optional>
#include <string>
#include <vector>

#include "digital/byte_field.h"
#include "digital/coded_formula.h"
#include "parts/part.h"
#include "quantity/result.h"

namespace fair_gauge {

/// Blocks by their name or start address as it was given, "0x88", "0X88", "prom", "frame".
using ByteBlocks = std::map<std::string, std::vector<std::uint8_t>>;

struct DigitalReading {
  const PartQuantity* quantity;  ///< of the part
  double value = 0;              ///< base units, not rounded
};

struct DigitalFault {
  std::string code;     ///< of the contract: checksum, saturated, not-ready, …
  std::string message;  ///< what it means and what to do
};

/// What its code is called beside a number, in the language in force: "power-on value", "no answer".
std::string fault_words(std::string_view code);

struct Decoded {
  std::vector<DigitalReading> readings;  ///< those that no fault touches
  std::vector<DigitalFault> faults;
  std::vector<std::string> statuses;  ///< worth knowing, no fault
  std::vector<TraceEntry> trace;      ///< if asked for: fields, then intermediate values
  bool ok() const { return faults.empty(); }
  /// The reading of that quantity, or null.
  const DigitalReading* reading(Quantity quantity) const;
};

enum class Tracing { off, on };

/// A part's layout made ready to decode many times. Immutable: copies share it, also between threads.
class Decoder {
 public:
  /// Layouts with more are refused.
  static constexpr std::size_t most_fields = 60, most_readings = 8;

  /// \param part      digital
  /// \param settings  over the part's usual ones; a name or value it does not know is a problem
  /// \returns the decoder, or the fault of the layout or of the settings
  static Result<Decoder> make(std::shared_ptr<const Part> part, const std::map<std::string, double>& settings = {},
                              Math math = Math::floating);
  /// The same for a part that outlives the decoder.
  static Result<Decoder> make(const Part& part, const std::map<std::string, double>& settings = {},
                              Math math = Math::floating);

  /// What these bytes mean. Never fails: what is wrong with them stands in the faults.
  Decoded decode(const ByteBlocks& blocks, Tracing tracing = Tracing::off) const;
  /// What a count means that stands for the part's raw number.
  Decoded decode_count(double count, Tracing tracing = Tracing::off) const;

  /// The readings of these raw numbers, in the order of the layout's readings; not a number where there is none.
  /// No checks, no states: for solving and for fast columns of raw values.
  void evaluate(std::span<const double> fields, std::span<double> readings,
                std::vector<TraceEntry>* trace = nullptr) const;

  /// Which readings cannot be given when only some of the layout's fields are known, a bit each; a field that is
  /// neither data nor trimming (a flag, a check) is none that is missed. \param faults  takes what is missing, in
  /// words; may be null
  std::uint32_t lacking(const std::vector<bool>& given, std::vector<DigitalFault>* faults = nullptr) const;

  /// evaluate() with its checks, for columns of raw numbers: not a number where a field is beyond its bits, says
  /// something else than a reading, or is missing. \param lacking  as lacking() tells
  void read_row(std::span<const double> fields, std::uint32_t lacking, std::span<double> readings) const;

  /// Whether that one of the layout's readings is given at all with these settings: a pressure, not in altimeter mode.
  bool gives(std::size_t reading) const;

  /// The block that is one number in two parts (mantissa and exponent), which a count stands for as a whole.
  std::optional<std::size_t> register_block() const;

  const Part& part() const;
  const std::vector<FieldPlace>& places() const;
  /// Index of the layout's field of that name; nothing if there is none.
  std::optional<std::size_t> field(std::string_view name) const;
  /// The bytes of a block among those given, by its name, its other name, or its address within a longer run; empty if
  /// missing.
  static std::span<const std::uint8_t> find_block(const ByteBlocks& blocks, const ByteBlock& wanted);
  /// Whether these hold all that the maker stored in the specimen; true of a part that has nothing stored.
  static bool hold_trimming(const ByteBlocks& blocks, const ByteLayout& layout);
  /// The settings in force.
  const std::map<std::string, double>& settings() const;

 private:
  struct Plan;
  struct Scratch;
  class Lease;
  class PlansInUse;
  explicit Decoder(std::shared_ptr<const Plan> plan) : plan_(std::move(plan)) {}
  std::shared_ptr<const Plan> plan_;
};

/// The raw number of a quantity when the bytes are the whole block that it lies in; nothing for another length.
std::optional<double> raw_of_block(const Part& part, Quantity quantity, std::span<const std::uint8_t> bytes);

/// The value behind a name that a setting's choices have, as in mode=altimeter; nothing if there is no such name.
std::optional<double> value_of_choice(const Part& part, std::string_view key, std::string_view name);

/// "1A2B", "0x1A 0x2B" and the like → bytes. \returns bytes, or the first place that is no hexadecimal digit
Result<std::vector<std::uint8_t>> read_hex(std::string_view text);
std::string to_hex(std::span<const std::uint8_t> bytes);

}  // namespace fair_gauge
