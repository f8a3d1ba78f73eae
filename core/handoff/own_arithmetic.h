// Somebody's own arithmetic, one line of it as it stands in their firmware: read, run as C does it in words of 16 or
// 32 bits, and held against the exact chain over the raw numbers.
#pragma once

#include <cstdint>
#include <functional>
#include <optional>
#include <string>
#include <vector>

#include "chain/chain.h"

namespace fair_gauge {

/// Wider than every word that is run.
__extension__ using WideInteger = __int128;

/// A number's type as C has it.
struct CType {
  bool floating = false;
  bool is_unsigned = false;
  int bits = 32;

  bool operator==(const CType&) const = default;
};

/// One line of arithmetic: `t = adc * 782 / 1000 - 250`, `(v - 0.5) * 100`, `int t = (long)raw * 625 >> 7;`. It has
/// numbers, + − * / % << >> & | ^ ~ and parentheses, casts to C's types, and log, exp, sqrt and pow. `v`, `volts` and
/// `voltage` are volts at the converter's pin, `mv` and `millivolts` thousandths of them; any other name is the raw
/// number.
class OwnArithmetic {
 public:
  /// \param int_bits  16 or 32: of C's int on that controller; where it is 16 a long has 32 and all that floats is
  /// single \param lowest, largest  raw numbers that come: they decide whether the raw number is an int, unsigned, long
  /// \returns a problem that says at which character what was expected
  static Result<OwnArithmetic> read(const std::string& line, int int_bits, std::int64_t lowest, std::int64_t largest);

  struct Outcome {
    double value = 0;                     ///< not a number after a division by zero and the like
    std::optional<std::size_t> overflow;  ///< place of the first operation whose result did not fit its word
  };
  /// \param volts  at the pin; looked at only where the line uses them
  Outcome run(double raw, double volts) const;

  bool uses_volts() const { return uses_volts_; }

  /// Characters of the line.
  struct Span {
    std::size_t from = 0, to = 0;
  };
  /// Where the raw number or the volts are named.
  std::vector<Span> inputs() const;
  /// Where numbers stand.
  std::vector<Span> constants() const;
  /// All that is worked out: behind an equals sign and before a semicolon.
  Span expression() const { return {begin_, end_}; }
  /// The operation at a place that an outcome named.
  std::string operation(std::size_t place) const;

 private:
  friend class OwnLineReader;
  enum class Does { number, raw, volts, millivolts, negate, complement, cast, binary, call };
  struct Node {
    Does does = Does::number;
    std::string sign;         ///< of a binary operation or a function
    CType type;               ///< of a number, a cast, the raw number
    double value = 0;         ///< of a number that floats
    std::uint64_t whole = 0;  ///< of another one
    std::vector<std::size_t> inside;
    Span span;
  };
  struct Number {
    CType type;
    double real = 0;         ///< where it floats
    std::int64_t whole = 0;  ///< else
  };
  struct Run;
  Number walk(std::size_t at, Run& run) const;
  Number binary(const std::string& sign, Number a, Number b, std::size_t at, Run& run) const;
  Number fit(WideInteger whole, CType type, std::size_t at, Run& run) const;
  Number convert(Number number, CType type, std::size_t at, Run& run) const;
  Number floating(double value, int bits = 64) const;
  CType promoted(CType type) const;

  std::string line_;
  int int_bits_ = 32;
  std::vector<Node> nodes_;  // the last is the whole
  bool uses_volts_ = false;
  std::size_t begin_ = 0, end_ = 0;
};

/// What running somebody's line over the raw numbers has shown, in the channel's unit.
struct OwnVerdict {
  std::int64_t per_unit = 1;  ///< steps of its result in one unit: as asked, or the power of ten that fits best
  double worst = 0;           ///< |line − exact| over the raw numbers with a reading
  std::int64_t at_raw = 0;    ///< of the worst
  double worst_wanted = 0;    ///< within the wanted range
  std::int64_t at_wanted = 0;
  double gives = 0, right = 0;  ///< there
  double allowed = 0;           ///< a tenth of the smallest expanded uncertainty over the wanted range
  std::int64_t codes = 0;       ///< raw numbers that were run
  bool exhaustive = true;       ///< false → evenly spread ones of more than a million
  std::int64_t overflows = 0;   ///< raw numbers at which an operation's result did not fit its word
  std::int64_t first_overflow = 0;
  std::string overflow_in;   ///< the operation
  std::int64_t without = 0;  ///< raw numbers at which the line gives no number
  struct Mend {
    std::string words;
    std::string line;
    double worst_wanted = 0;
  };
  std::vector<Mend> mends;  ///< single changes that make it at least three times better, the best first; at most three

  bool is_exact_enough() const { return worst_wanted <= allowed && overflows == 0 && without == 0; }
};

/// \param per_unit  0 → the power of ten up to 10 000 that fits best
/// \returns a problem where the line is not understood, or where no raw number alone makes the reading: several fields,
/// another channel, a value that arrives converted
Result<OwnVerdict> check_own_arithmetic(const Chain& chain, const std::string& line, int int_bits,
                                        std::int64_t per_unit = 0, const std::function<bool()>& is_cancelled = {});

/// A verdict in sentences, the most important first.
std::vector<std::string> own_verdict_words(const OwnVerdict& verdict, const Unit& shown);

}  // namespace fair_gauge
