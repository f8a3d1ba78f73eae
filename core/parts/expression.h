// A curve that somebody typed: y of x, with named numbers. Reads it once, computes it often.
#pragma once

#include <map>
#include <memory>
#include <span>
#include <string>
#include <vector>

#include "quantity/result.h"

namespace fair_gauge {

class Expression {
 public:
  /// Reads an expression of `x` and the names in `numbers`: + − × ÷ ^, brackets, ln, exp, sqrt and the like.
  /// A decimal comma is understood. \returns what is not understood, with its column
  static Result<Expression> read(const std::string& text, const std::map<std::string, double>& numbers = {});

  /// Reads an expression of these variables alone, besides functions and numbers. `floor`, `trunc` and comparisons are
  /// understood, and the reference functions of thermocouples: `volts_k` of °C and `celsius_k` of volts against 0 °C,
  /// and so for the other letters. \param variables  where each name's value lies when `value` is called; they must
  /// outlive the expression
  static Result<Expression> read(const std::string& text, const std::map<std::string, double*>& variables);

  /// Reads an expression of these variables, whose values `at` is given in this order.
  static Result<Expression> read_of(const std::vector<std::string>& variables, const std::string& text);

  /// The value with the variables as they are now; not a number where there is none.
  double value() const;

  /// Names of the variables that it uses.
  std::vector<std::string> uses() const;

  /// The value at x; not a number where there is none. May be called from several threads at once, value() may not.
  double at(double x) const { return at(std::span(&x, 1)); }
  double at(std::span<const double> values) const;

 private:
  struct Curve;
  explicit Expression(std::shared_ptr<Curve> curve) : curve_(std::move(curve)) {}
  std::shared_ptr<Curve> curve_;
};

/// Signs as documents print them (−, ×, ÷, a decimal comma) as those of a keyboard.
std::string plain_signs(const std::string& text);

/// The expression with names of it put in otherwise: 2 * x of {x: "(t + 1)"} → 2 * (t + 1).
std::string with_names(const std::string& expression, const std::map<std::string, std::string>& names);

}  // namespace fair_gauge
