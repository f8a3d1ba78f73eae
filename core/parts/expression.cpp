// Written with muParser, whose exceptions end here.
#include "parts/expression.h"

#include <fmt/format.h>
#include <muParser.h>

#include <algorithm>
#include <cmath>
#include <mutex>
#include <optional>
#include <vector>

#include "formulas/thermocouple.h"
#include "language/translation.h"

namespace fair_gauge {

struct Expression::Curve {
  std::vector<double> given;  // what `at` is given
  std::mutex guard;           // the parser computes on a stack of its own
  mu::Parser parser;
};

std::string plain_signs(const std::string& text) {
  std::string plain;
  std::vector<bool> calls;  // of each open bracket: whether a function's name stands before it
  const bool semicolons = text.find(';') != std::string::npos;  // who parts arguments so has commas for decimals
  for (std::size_t i = 0; i < text.size(); ++i) {
    if (text[i] == '(') calls.push_back(i > 0 && std::isalnum(static_cast<unsigned char>(text[i - 1])));
    if (text[i] == ')' && !calls.empty()) calls.pop_back();
    const bool parts_arguments = std::ranges::find(calls, true) != calls.end();  // max(1,2) has two, not 1.2
    const std::string_view rest = std::string_view(text).substr(i);
    if (rest.starts_with("−"))
      plain += '-', i += 2;
    else if (rest.starts_with("×") || rest.starts_with("·"))
      plain += '*', i += 1;
    else if (rest.starts_with("÷"))
      plain += '/', i += 1;
    else if (text[i] == ',' && (semicolons || !parts_arguments) && i > 0 && i + 1 < text.size() &&
             std::isdigit(static_cast<unsigned char>(text[i - 1])) &&
             std::isdigit(static_cast<unsigned char>(text[i + 1])))
      plain += '.';
    else if (text[i] == ';' && parts_arguments)
      plain += ',';
    else
      plain += text[i];
  }
  return plain;
}

std::string with_names(const std::string& expression, const std::map<std::string, std::string>& names) {
  const auto is_word = [](char c) { return std::isalnum(static_cast<unsigned char>(c)) || c == '_' || c == '.'; };
  std::string put_in;
  for (std::size_t i = 0; i < expression.size();) {
    std::size_t end = i;
    while (end < expression.size() && is_word(expression[end])) ++end;
    if (end == i) {
      put_in += expression[i++];
      continue;
    }
    const std::string word = expression.substr(i, end - i);
    const auto name = names.find(word);
    put_in += name == names.end() ? word : name->second;
    i = end;
  }
  return put_in;
}

namespace {

double floor_of(double value) { return std::floor(value); }
double trunc_of(double value) { return std::trunc(value); }

template <char... letters>
void define_thermocouples(mu::Parser& parser) {
  const auto name = [](const char* function, char letter) {
    return std::string(function) + static_cast<char>(letter - 'A' + 'a');
  };
  (parser.DefineFun(
       name("volts_", letters), +[](double celsius) { return formulas::thermocouple_volts(letters, celsius); }),
   ...);
  (parser.DefineFun(
       name("celsius_", letters),
       +[](double volts) {
         // The sum of a part's own reading and its cold junction: its voltage is against 0 °C already.
         return formulas::thermocouple_celsius(letters, volts, 0);
       }),
   ...);
}

// What muParser found wrong, in our own words.
std::string words_of(const mu::Parser::exception_type& error) {
  std::string token = error.GetToken();
  while (token.ends_with(' ')) token.pop_back();
  switch (error.GetCode()) {
    case mu::ecUNASSIGNABLE_TOKEN:
      return !token.empty() && std::isalpha(static_cast<unsigned char>(token.front()))
                 ? translated("nothing is called \"{}\" here", token)
                 : translated("\"{}\" means nothing in it", token);
    case mu::ecUNEXPECTED_EOF: return translated("it ends before its last value");
    case mu::ecMISSING_PARENS: return translated("a closing bracket is missing");
    case mu::ecUNEXPECTED_PARENS: return translated("a bracket does not belong there");
    case mu::ecUNEXPECTED_OPERATOR: return translated("a value is missing before \"{}\"", token);
    case mu::ecUNEXPECTED_VAL:
    case mu::ecUNEXPECTED_VAR:
    case mu::ecUNEXPECTED_FUN: return translated("an operator is missing before \"{}\"", token);
    case mu::ecTOO_FEW_PARAMS: return translated("\"{}\" is given too few values", token);
    case mu::ecTOO_MANY_PARAMS: return translated("\"{}\" is given too many values", token);
    case mu::ecEMPTY_EXPRESSION: return translated("it is empty");
    default: break;
  }
  std::string why = error.GetMsg();
  while (why.ends_with('.')) why.pop_back();
  return why;
}

// Sets the parser up and tries it once; the problem if it does not work.
template <class Define>
std::optional<Problem> prepare(mu::Parser& parser, const std::string& text, const char* example, Define define) {
  constexpr std::size_t longest = 2000;
  if (text.size() > longest)
    return Problem{translated("the expression is too long"), translated("{} characters at most", longest)};
  try {
    define(parser);
    parser.DefineFun("floor", floor_of);
    parser.DefineFun("trunc", trunc_of);
    if (text.find("volts_") != std::string::npos || text.find("celsius_") != std::string::npos)
      define_thermocouples<'B', 'E', 'J', 'K', 'N', 'R', 'S', 'T'>(parser);
    parser.SetExpr(plain_signs(text));
    parser.Eval();
  } catch (const mu::Parser::exception_type& error) {
    return Problem{translated("the expression \"{}\" is not understood: {}", text.substr(0, 60), words_of(error)),
                   example,
                   {.column = static_cast<int>(error.GetPos()) + 1}};
  }
  return std::nullopt;
}

}  // namespace

Result<Expression> Expression::read(const std::string& text, const std::map<std::string, double>& numbers) {
  auto curve = std::make_shared<Curve>();
  curve->given.resize(1);
  const auto problem =
      prepare(curve->parser, text, translated("a formula of x such as 0.5 + 0.01*x"), [&](mu::Parser& parser) {
        parser.DefineVar("x", curve->given.data());
        for (const auto& [name, value] : numbers) parser.DefineConst(name, value);
      });
  return problem ? Result<Expression>(*problem) : Expression(std::move(curve));
}

Result<Expression> Expression::read(const std::string& text, const std::map<std::string, double*>& variables) {
  auto curve = std::make_shared<Curve>();
  const auto problem =
      prepare(curve->parser, text, translated("an expression of the layout's fields, settings and steps"),
              [&](mu::Parser& parser) {
                for (const auto& [name, at] : variables) parser.DefineVar(name, at);
              });
  return problem ? Result<Expression>(*problem) : Expression(std::move(curve));
}

Result<Expression> Expression::read_of(const std::vector<std::string>& variables, const std::string& text) {
  auto curve = std::make_shared<Curve>();
  curve->given.resize(variables.size());
  const std::string example =
      variables.empty() ? translated("a number, or a formula of numbers")
                        : translated("a formula of {}, such as {}", fmt::join(variables, translated(" and ")),
                                     variables.size() > 1 ? fmt::format("({} + {})/2", variables[0], variables[1])
                                                          : fmt::format("2*{} + 1", variables[0]));
  const auto problem = prepare(curve->parser, text, example.c_str(), [&](mu::Parser& parser) {
    for (std::size_t i = 0; i < variables.size(); ++i) parser.DefineVar(variables[i], &curve->given[i]);
  });
  return problem ? Result<Expression>(*problem) : Expression(std::move(curve));
}

double Expression::at(std::span<const double> values) const {
  const std::lock_guard lock(curve_->guard);
  std::ranges::copy(values.first(std::min(values.size(), curve_->given.size())), curve_->given.begin());
  return value();
}

double Expression::value() const {
  try {
    return curve_->parser.Eval();
  } catch (const mu::Parser::exception_type&) {
    return std::nan("");
  }
}

std::vector<std::string> Expression::uses() const {
  std::vector<std::string> names;
  for (const auto& [name, at] : curve_->parser.GetUsedVar()) names.push_back(name);
  return names;
}

}  // namespace fair_gauge
