// The formulas that are too much for an expression: what each needs, what it gives, and its pure function.
#pragma once

#include <functional>
#include <map>
#include <span>
#include <string>
#include <string_view>
#include <vector>

#include "quantity/quantity.h"

namespace fair_gauge {

enum class Math {
  floating,  ///< the sheet's floating-point form
  integer
};  ///< its integer form bit for bit, where it gives one

struct TraceEntry {
  std::string symbol;  ///< the data sheet's own
  double value = 0;
  std::string note;       ///< how it came about, in the sheet's symbols
  bool is_field = false;  ///< taken from the bytes as it stands there
};

struct FormulaInput {
  std::span<const double> fields;    ///< in the order of the formula's list
  std::span<const double> settings;  ///< in the order of the formula's list
  Math math = Math::floating;
  std::vector<TraceEntry>* trace = nullptr;  ///< null → not recorded
};

struct CodedFormula {
  std::string_view name;
  std::vector<std::string_view> fields;
  std::vector<std::string_view> settings;
  struct Reading {
    Quantity quantity;
    std::vector<std::string_view> needs;  ///< beginnings of the names of the fields that it needs
  };
  std::vector<Reading> readings;
  /// Fills one value a reading, base units; not a number where the sheet's formula has none.
  void (*evaluate)(const FormulaInput& input, std::span<double> readings);
};

/// A line of a formula with the numbers of its symbols put in: "var1 + var2" → "109554 + 13.67".
std::string with_numbers(const std::string& line, const std::map<std::string, double>& known);

/// The formula of that name, or null.
const CodedFormula* coded_formula(std::string_view name);

}  // namespace fair_gauge
