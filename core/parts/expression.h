// A curve that somebody typed: y of x, with named numbers. Reads it once, computes it often.
#pragma once

#include <map>
#include <memory>
#include <string>

#include "quantity/result.h"

namespace fair_gauge {

class Expression {
 public:
  /// Reads an expression of `x` and the names in `numbers`: + − × ÷ ^, brackets, ln, exp, sqrt and the like.
  /// A decimal comma is understood. \returns what is not understood, with its column
  static Result<Expression> read(const std::string& text, const std::map<std::string, double>& numbers = {});

  /// The value at x; not a number where there is none.
  double at(double x) const;

 private:
  struct Curve;
  explicit Expression(std::shared_ptr<Curve> curve) : curve_(std::move(curve)) {}
  std::shared_ptr<Curve> curve_;
};

}  // namespace fair_gauge
