// The reference function of a thermocouple, or its inverse, as handed-over code has it: points and straight lines
// between them, in floating point. It can run itself exactly as the written code will.
#pragma once

#include <cstdint>
#include <string>
#include <string_view>
#include <utility>
#include <vector>

#include "handoff/error_bound.h"
#include "quantity/result.h"

namespace fair_gauge {

enum class Language { c, python };

struct ReferenceTable {
  std::string name;      ///< "volts_k" of °C, "celsius_k" of volts
  std::vector<float> x;  ///< of the argument, rising; beyond them the outer lines go on
  std::vector<float> y;  ///< °C or volts, rising
  double worst = 0;      ///< that a line is off the function between its ends, as y

  /// True of the names that this file knows.
  static bool is_name(std::string_view name);

  template <class Number>
  Number at(Number argument) const;
  /// The real function over a range, and how far what is computed may be from it. \param roundoff  of an operation
  Bounded at(const Bounded& argument, double roundoff) const;
  /// Temperatures that the function knows, °C.
  std::pair<double, double> temperatures() const;

  /// The function in a language: C99, or Python.
  std::string write(Language language) const;

 private:
  template <class Number>
  std::size_t line_at(Number argument) const;
};

/// \param name       one that `is_name` holds for
/// \param tolerance  that lines may be off the function: kelvins of what is read in the end, > 0
/// \returns few points that hold it; a problem where more than 1024 would be needed. Volts are tabled for cold
/// junctions from −150 to 150 °C, temperatures over the whole of the type
Result<ReferenceTable> reference_table(std::string_view name, double tolerance);

}  // namespace fair_gauge
