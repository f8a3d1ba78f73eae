// Written with muParser, whose exceptions end here.
#include "parts/expression.h"

#include <fmt/format.h>
#include <muParser.h>

#include <algorithm>
#include <cmath>

namespace fair_gauge {

struct Expression::Curve {
  double x = 0;
  mu::Parser parser;
};

Result<Expression> Expression::read(const std::string& text, const std::map<std::string, double>& numbers) {
  constexpr std::size_t longest = 2000;
  if (text.size() > longest) return Problem{"the expression is too long", fmt::format("{} characters at most", longest)};
  std::string plain;
  for (std::size_t i = 0; i < text.size(); ++i) {  // signs as documents print them
    const std::string_view rest = std::string_view(text).substr(i);
    if (rest.starts_with("−"))
      plain += '-', i += 2;
    else if (rest.starts_with("×") || rest.starts_with("·"))
      plain += '*', i += 1;
    else if (rest.starts_with("÷"))
      plain += '/', i += 1;
    else if (text[i] == ',' && i > 0 && i + 1 < text.size() && std::isdigit(static_cast<unsigned char>(text[i - 1])) && std::isdigit(static_cast<unsigned char>(text[i + 1])))
      plain += '.';
    else
      plain += text[i];
  }
  auto curve = std::make_shared<Curve>();
  try {
    curve->parser.DefineVar("x", &curve->x);
    for (const auto& [name, value] : numbers) curve->parser.DefineConst(name, value);
    curve->parser.SetExpr(plain);
    curve->parser.Eval();
  } catch (const mu::Parser::exception_type& error) {
    return Problem{fmt::format("the expression \"{}\" is not understood: {}", text.substr(0, 60), error.GetMsg()), "a formula of x such as 0.5 + 0.01*x", {.column = static_cast<int>(error.GetPos()) + 1}};
  }
  return Expression(std::move(curve));
}

double Expression::at(double x) const {
  curve_->x = x;
  try {
    return curve_->parser.Eval();
  } catch (const mu::Parser::exception_type&) {
    return std::nan("");
  }
}

}  // namespace fair_gauge
