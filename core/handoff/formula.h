// An expression of numbers and named values, as part files and laws hold them: run in float or double, written in C or
// Python.
#pragma once

#include <map>
#include <memory>
#include <optional>
#include <set>
#include <span>
#include <string>
#include <string_view>
#include <vector>

#include "handoff/reference_table.h"
#include "quantity/result.h"

namespace fair_gauge {

/// One named value on the way to a result.
struct FormulaStep {
  std::string symbol;
  std::string expression;
};

/// Steps, the last of which is the result.
class Formula {
 public:
  /// \returns the formula, or what of it is not understood
  static Result<Formula> read(const std::vector<FormulaStep>& steps);

  /// Says that all inputs are whole numbers, as fields of bytes are. A power of two of such is then exact in every
  /// library, not one of a function that another one rounds otherwise.
  void take_whole_inputs() { has_whole_inputs_ = true; }

  /// The reference functions of thermocouples that it names.
  std::set<std::string> reference_functions() const;
  /// Makes tables of them; without, what they give is not a number. \param tolerance  kelvins that they may be off
  /// \returns why it cannot
  std::optional<Problem> tabulate(double tolerance);
  const std::vector<ReferenceTable>& tables() const { return tables_; }

  /// Makes the formula ready to run with these names as its inputs; others are not a number.
  void bind(const std::vector<std::string>& inputs);
  /// The result, every operation rounded to Number (float, double). \param values  of the bound inputs, in order
  template <class Number>
  Number run(std::span<const double> values) const;

  /// The real result and how far the floating-point one may be from it, over whole ranges of inputs.
  /// \param roundoff  of an operation
  Bounded run(std::span<const Bounded> values, double roundoff) const;

  /// Names that are used but not defined by a step.
  std::vector<std::string> inputs() const;

  struct Line {
    std::string symbol, expression;
  };
  /// The steps as lines of a program, the last of them the result. \param names  what a name is called there; others
  /// stay as they are
  std::vector<Line> write(Language language, const std::map<std::string, std::string>& names = {}) const;

  struct Node;

 private:
  std::vector<std::pair<std::string, std::shared_ptr<const Node>>> steps_;
  // The same as operations on a row of numbers: the inputs, then one of each operation.
  struct Operation {
    char what;
    std::size_t a = 0, b = 0, c = 0;  // places of what it takes; `b` of a reference function its table
    double number = 0;
  };
  std::size_t place_of(const Node& node, std::map<std::string, std::size_t>& places);
  std::vector<Operation> operations_;
  std::vector<ReferenceTable> tables_;
  bool has_whole_inputs_ = false;
  using NodePointer = std::shared_ptr<const Node>;
  /// Powers of two whose exponent is a whole number.
  std::vector<NodePointer> exact_powers() const;
  std::size_t bound_ = 0;
};

}  // namespace fair_gauge
