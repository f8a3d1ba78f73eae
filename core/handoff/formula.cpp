#include "handoff/formula.h"

#include <fmt/format.h>

#include <algorithm>
#include <array>
#include <charconv>
#include <cmath>
#include <set>

#include "language/translation.h"

namespace fair_gauge {

struct Formula::Node {
  std::string what;  // an operator, a function, a name; empty → a number
  double number = 0;
  std::vector<std::shared_ptr<const Node>> of;
};

namespace {

using NodePointer = std::shared_ptr<const Formula::Node>;

NodePointer node(std::string what, std::vector<NodePointer> of = {}, double number = 0) {
  return std::make_shared<const Formula::Node>(Formula::Node{std::move(what), number, std::move(of)});
}

struct FunctionName {
  std::string_view name, c, python;
};
constexpr std::array functions = {FunctionName{"ln", "logf", "math.log"},
                                  FunctionName{"log", "logf", "math.log"},
                                  FunctionName{"log10", "log10f", "math.log10"},
                                  FunctionName{"exp", "expf", "math.exp"},
                                  FunctionName{"sqrt", "sqrtf", "math.sqrt"},
                                  FunctionName{"floor", "floorf", "math.floor"},
                                  FunctionName{"abs", "fabsf", "abs"},
                                  FunctionName{"min", "fminf", "min"},
                                  FunctionName{"max", "fmaxf", "max"}};

// Levels from the weakest: ?:, ||, &&, comparison, sum, product, sign, power.
class Reader {
 public:
  explicit Reader(std::string_view text) : text_(text) {}

  Result<NodePointer> read() {
    NodePointer whole = choice();
    skip();
    if (!whole || at_ < text_.size())
      return Problem{translated("\"{}\" is not understood from character {} on", text_, at_ + 1),
                     translated("an expression of numbers, names, + − · / ^, comparisons and functions")};
    return whole;
  }

 private:
  void skip() {
    while (at_ < text_.size() && text_[at_] == ' ') ++at_;
  }
  bool take(std::string_view word) {
    skip();
    if (text_.substr(at_, word.size()) != word) return false;
    at_ += word.size();
    return true;
  }
  NodePointer choice() {
    NodePointer condition = either();
    if (!condition || !take("?")) return condition;
    NodePointer yes = choice();
    if (!yes || !take(":")) return nullptr;
    NodePointer no = choice();
    return no ? node("?", {condition, yes, no}) : nullptr;
  }
  template <class Below>
  NodePointer chain(std::initializer_list<std::string_view> words, Below below) {
    NodePointer left = below();
    while (left) {
      const auto word = std::find_if(words.begin(), words.end(), [&](std::string_view each) { return take(each); });
      if (word == words.end()) break;
      NodePointer right = below();
      left = right ? joined(*word, std::move(left), std::move(right)) : nullptr;
    }
    return left;
  }
  // Times one and plus nothing are not done: what is left is the same number.
  static NodePointer joined(std::string_view word, NodePointer left, NodePointer right) {
    const auto is_number = [](const NodePointer& each, double number) {
      return each->what.empty() && each->number == number;
    };
    if (word == "*" && is_number(left, 1)) return right;
    if (word == "+" && is_number(left, 0)) return right;
    if ((word == "*" || word == "/") && is_number(right, 1)) return left;
    if ((word == "+" || word == "-") && is_number(right, 0)) return left;
    return node(std::string(word), {std::move(left), std::move(right)});
  }
  NodePointer either() {
    return chain({"||"}, [this] { return both(); });
  }
  NodePointer both() {
    return chain({"&&"}, [this] { return comparison(); });
  }
  NodePointer comparison() {
    return chain({"==", "!=", "<=", ">=", "<", ">"}, [this] { return sum(); });
  }
  NodePointer sum() {
    return chain({"+", "-"}, [this] { return product(); });
  }
  NodePointer product() {
    return chain({"*", "/"}, [this] { return sign(); });
  }
  NodePointer sign() {
    if (take("-")) {
      NodePointer of = sign();
      if (of && of->what.empty()) return node("", {}, -of->number);
      return of ? node("-", {of}) : nullptr;
    }
    take("+");
    return power();
  }
  NodePointer power() {
    NodePointer base = atom();
    if (!base || !take("^")) return base;
    NodePointer exponent = sign();
    return exponent ? node("^", {base, exponent}) : nullptr;
  }
  NodePointer atom() {
    skip();
    if (at_ >= text_.size()) return nullptr;
    if (take("(")) {
      NodePointer inside = choice();
      return inside && take(")") ? inside : nullptr;
    }
    const auto is_letter = [](char c) { return std::isalpha(static_cast<unsigned char>(c)) || c == '_'; };
    if (is_letter(text_[at_])) {
      const std::size_t from = at_;
      while (at_ < text_.size() && (is_letter(text_[at_]) || std::isdigit(static_cast<unsigned char>(text_[at_]))))
        ++at_;
      const std::string name(text_.substr(from, at_ - from));
      if (!take("(")) return node(name);
      if (std::ranges::find(functions, name, &FunctionName::name) == functions.end() && !ReferenceTable::is_name(name))
        return nullptr;
      std::vector<NodePointer> of;
      do {
        of.push_back(choice());
        if (!of.back()) return nullptr;
      } while (take(",") || take(";"));
      return take(")") ? node(name + "()", std::move(of)) : nullptr;
    }
    double number = 0;
    const auto [end, error] = std::from_chars(text_.data() + at_, text_.data() + text_.size(), number);
    if (error != std::errc{}) return nullptr;
    at_ = static_cast<std::size_t>(end - text_.data());
    return node("", {}, number);
  }

  std::string_view text_;
  std::size_t at_ = 0;
};

std::string number_text(double number, Language language) {
  std::string text =
      language == Language::c ? fmt::format("{}", static_cast<float>(number)) : fmt::format("{}", number);
  if (text.find_first_of(".en") == std::string::npos) text += ".0";
  return language == Language::c ? text + "f" : text;
}

bool is_comparison(std::string_view what) {
  return what == "==" || what == "!=" || what == "<" || what == ">" || what == "<=" || what == ">=";
}
bool is_logical(std::string_view what) { return what == "&&" || what == "||" || is_comparison(what); }

// True where a node is a whole number if all its inputs are. \param steps  whether each step is one
bool is_whole(const Formula::Node& node, const std::map<std::string, bool>& steps) {
  if (node.what.empty()) return node.number == std::floor(node.number);
  if (node.of.empty()) {
    const auto step = steps.find(node.what);
    return step == steps.end() || step->second;
  }
  if (node.what == "floor()" || is_logical(node.what)) return true;
  if (node.what != "+" && node.what != "-" && node.what != "*" && node.what != "?") return false;
  const auto from = node.of.begin() + (node.what == "?" ? 1 : 0);
  return std::all_of(from, node.of.end(), [&](const NodePointer& each) { return is_whole(*each, steps); });
}

void collect_powers(const NodePointer& node, const std::map<std::string, bool>& steps,
                    std::vector<NodePointer>& powers) {
  if (node->what == "^" && node->of[0]->what.empty() && node->of[0]->number == 2 && is_whole(*node->of[1], steps))
    powers.push_back(node);
  for (const NodePointer& each : node->of) collect_powers(each, steps, powers);
}

struct Writing {
  Language language;
  const std::map<std::string, std::string>& names;
  const std::vector<NodePointer>& exact_powers;
};

// How closely what is written of a node holds together, in both languages: sums least.
enum class Binding { sum, product, sign, atom };

Binding binding_of(const Formula::Node& node) {
  if (node.what.empty()) return node.number < 0 ? Binding::sign : Binding::atom;
  if (node.of.size() == 1 && node.what == "-") return Binding::sign;
  if (node.what == "+" || node.what == "-") return Binding::sum;
  return node.what == "*" || node.what == "/" ? Binding::product : Binding::atom;
}

std::string write_node(const Formula::Node& node, const Writing& writing);

// In parentheses where it would not hold together otherwise. An operation of the same rank keeps them on the right:
// every result is rounded where the formula rounds it.
std::string write_operand(const Formula::Node& node, const Writing& writing, Binding least) {
  const std::string text = write_node(node, writing);
  return binding_of(node) < least ? "(" + text + ")" : text;
}

std::string write_operation(const Formula::Node& node, const Writing& writing) {
  const Binding own = binding_of(node);
  const Binding closer = own == Binding::sum ? Binding::product : Binding::atom;
  const Formula::Node& right = *node.of.back();
  if (own == Binding::sign) return "-" + write_operand(right, writing, Binding::atom);
  const std::string left = write_operand(*node.of.front(), writing, own);
  if (own == Binding::sum && right.what.empty() && right.number < 0)
    return fmt::format("{} {} {}", left, node.what == "+" ? "-" : "+", number_text(-right.number, writing.language));
  return fmt::format("{} {} {}", left, node.what, write_operand(right, writing, closer));
}

// As what is asked, true or false. \param around  the && or || that it stands in
std::string write_logical(const Formula::Node& node, const Writing& writing, std::string_view around = "") {
  const bool c = writing.language == Language::c;
  const std::string& what = node.what;
  if (is_comparison(what))
    return fmt::format("{} {} {}", write_node(*node.of[0], writing), what, write_node(*node.of[1], writing));
  if (!is_logical(what)) return write_node(node, writing) + (c ? " != 0.0f" : " != 0");
  const std::string text = fmt::format("{} {} {}", write_logical(*node.of[0], writing, what),
                                       c              ? what
                                       : what == "||" ? "or"
                                                      : "and",
                                       write_logical(*node.of[1], writing, what));
  return around.empty() || around == what ? text : "(" + text + ")";
}

std::string write_node(const Formula::Node& node, const Writing& writing) {
  const auto& [language, names, exact_powers] = writing;
  if (node.what.empty()) return number_text(node.number, language);
  if (node.of.empty()) {
    const auto name = names.find(node.what);
    return name == names.end() ? node.what : name->second;
  }
  const auto of = [&](std::size_t i) { return write_node(*node.of[i], writing); };
  const auto tight = [&](std::size_t i) { return write_operand(*node.of[i], writing, Binding::atom); };
  const bool c = language == Language::c;
  const std::string& what = node.what;
  if (what == "?")
    return c ? fmt::format("({} ? {} : {})", write_logical(*node.of[0], writing), of(1), of(2))
             : fmt::format("({} if {} else {})", of(1), write_logical(*node.of[0], writing), of(2));
  if (is_logical(what))
    return c ? fmt::format("({} ? 1.0f : 0.0f)", write_logical(node, writing))
             : fmt::format("(1 if {} else 0)", write_logical(node, writing));
  if (c && std::ranges::any_of(exact_powers, [&](const NodePointer& each) { return each.get() == &node; }))
    return fmt::format("ldexpf(1.0f, (int){})", tight(1));
  if (what == "^") return c ? fmt::format("powf({}, {})", of(0), of(1)) : fmt::format("({} ** {})", tight(0), tight(1));
  if (what.ends_with("()")) {
    const auto function =
        std::ranges::find(functions, std::string_view(what).substr(0, what.size() - 2), &FunctionName::name);
    std::string text(function == functions.end() ? std::string_view(what).substr(0, what.size() - 2)
                     : c                         ? function->c
                                                 : function->python);
    for (std::size_t i = 0; i < node.of.size(); ++i) text += (i == 0 ? "(" : ", ") + of(i);
    return text + ")";
  }
  return write_operation(node, writing);
}

void collect(const Formula::Node& node, std::set<std::string>& names) {
  if (!node.what.empty() && node.of.empty()) names.insert(node.what);
  for (const NodePointer& each : node.of) collect(*each, names);
}

void collect_tables(const Formula::Node& node, std::set<std::string>& names) {
  if (node.what.ends_with("()") && ReferenceTable::is_name(std::string_view(node.what).substr(0, node.what.size() - 2)))
    names.insert(node.what.substr(0, node.what.size() - 2));
  for (const NodePointer& each : node.of) collect_tables(*each, names);
}

}  // namespace

std::set<std::string> Formula::reference_functions() const {
  std::set<std::string> names;
  for (const auto& [symbol, whole] : steps_) collect_tables(*whole, names);
  return names;
}

std::optional<Problem> Formula::tabulate(double tolerance) {
  tables_.clear();
  for (const std::string& name : reference_functions()) {
    auto table = reference_table(name, tolerance);
    if (!table) return table.problem();
    tables_.push_back(std::move(*table));
  }
  return std::nullopt;
}

Result<Formula> Formula::read(const std::vector<FormulaStep>& steps) {
  Formula formula;
  for (const FormulaStep& step : steps) {
    auto whole = Reader(step.expression).read();
    if (!whole) return whole.problem();
    formula.steps_.emplace_back(step.symbol, *whole);
  }
  return formula;
}

// What each operation is called in the row: operators by themselves, functions by a letter.
static char letter_of(const std::string& what) {
  constexpr std::array<std::pair<std::string_view, char>, 20> letters = {
      {{"?", '?'},     {"||", '|'},     {"&&", '&'},      {"+", '+'},     {"-", '-'},     {"*", '*'},    {"/", '/'},
       {"^", '^'},     {"==", '='},     {"!=", '!'},      {"<=", 'l'},    {">=", 'g'},    {"<", '<'},    {">", '>'},
       {"exp()", 'e'}, {"sqrt()", 'q'}, {"floor()", 'f'}, {"abs()", 'a'}, {"min()", 'm'}, {"max()", 'M'}}};
  for (const auto& [name, letter] : letters)
    if (name == what) return letter;
  return what == "log10()" ? 't' : 'n';  // ln
}

std::size_t Formula::place_of(const Node& node, std::map<std::string, std::size_t>& places) {
  if (!node.what.empty() && node.of.empty())
    if (const auto known = places.find(node.what); known != places.end()) return known->second;
  Operation operation{.what = 'c', .number = node.what.empty() ? node.number : std::nan("")};
  if (!node.of.empty()) {
    operation.a = place_of(*node.of[0], places);
    if (node.of.size() > 1) operation.b = place_of(*node.of[1], places);
    if (node.of.size() > 2) operation.c = place_of(*node.of[2], places);
    operation.what = node.of.size() == 1 && node.what == "-" ? '~' : letter_of(node.what);
    if (operation.what == '^' &&
        std::ranges::any_of(exact_powers(), [&](const NodePointer& each) { return each.get() == &node; }))
      operation.what = '2';
    const auto table =
        std::ranges::find_if(tables_, [&](const ReferenceTable& each) { return each.name + "()" == node.what; });
    if (table != tables_.end())
      operation.what = 'r', operation.b = static_cast<std::size_t>(table - tables_.begin());
    else if (ReferenceTable::is_name(std::string_view(node.what).substr(0, node.what.size() - 2)))
      operation = {.what = 'c', .number = std::nan("")};  // nobody has made its table
  }
  operations_.push_back(operation);
  return bound_ + operations_.size() - 1;
}

std::vector<Formula::NodePointer> Formula::exact_powers() const {
  std::vector<NodePointer> powers;
  if (!has_whole_inputs_) return powers;
  std::map<std::string, bool> whole_steps;
  for (const auto& [symbol, whole] : steps_) {
    collect_powers(whole, whole_steps, powers);
    whole_steps[symbol] = is_whole(*whole, whole_steps);
  }
  return powers;
}

void Formula::bind(const std::vector<std::string>& inputs) {
  operations_.clear();
  bound_ = inputs.size();
  std::map<std::string, std::size_t> places;
  for (std::size_t i = 0; i < inputs.size(); ++i) places[inputs[i]] = i;
  for (const auto& [symbol, whole] : steps_) {
    // The last operation is the result, so a step that is only a name is an operation too.
    const std::size_t place = place_of(*whole, places);
    operations_.push_back({.what = 'p', .a = place});
    places[symbol] = bound_ + operations_.size() - 1;
  }
}

template <class Number>
Number Formula::run(std::span<const double> values) const {
  std::array<Number, 256> few;
  std::vector<Number> many;
  Number* row = few.data();
  if (bound_ + operations_.size() > few.size()) many.resize(bound_ + operations_.size()), row = many.data();
  for (std::size_t i = 0; i < bound_; ++i) row[i] = static_cast<Number>(i < values.size() ? values[i] : std::nan(""));
  std::size_t at = bound_;
  for (const Operation& operation : operations_) {
    const Number a = operation.what == 'c' ? 0 : row[operation.a];
    const Number b = operation.what == 'r' ? 0 : row[operation.b];
    Number& to = row[at++];
    switch (operation.what) {
      case 'c': to = static_cast<Number>(operation.number); break;
      case 'p': to = a; break;
      case '~': to = -a; break;
      case '?': to = a != 0 ? b : row[operation.c]; break;
      case '|': to = a != 0 || b != 0; break;
      case '&': to = a != 0 && b != 0; break;
      case '+': to = a + b; break;
      case '-': to = a - b; break;
      case '*': to = a * b; break;
      case '/': to = a / b; break;
      case '^': to = std::pow(a, b); break;
      case '2': to = std::ldexp(Number{1}, static_cast<int>(b)); break;
      case '=': to = a == b; break;
      case '!': to = a != b; break;
      case 'l': to = a <= b; break;
      case 'g': to = a >= b; break;
      case '<': to = a < b; break;
      case '>': to = a > b; break;
      case 'e': to = std::exp(a); break;
      case 'q': to = std::sqrt(a); break;
      case 'f': to = std::floor(a); break;
      case 'r': to = tables_[operation.b].at(a); break;
      case 'a': to = std::abs(a); break;
      case 'm': to = std::min(a, b); break;
      case 'M': to = std::max(a, b); break;
      case 't': to = std::log10(a); break;
      default: to = std::log(a); break;
    }
  }
  return at > 0 ? row[at - 1] : 0;
}
template float Formula::run<float>(std::span<const double>) const;
template double Formula::run<double>(std::span<const double>) const;

std::vector<std::string> Formula::inputs() const {
  std::set<std::string> used, defined;
  for (const auto& [symbol, whole] : steps_) {
    std::set<std::string> here;
    collect(*whole, here);
    for (const std::string& name : here)
      if (!defined.contains(name)) used.insert(name);
    defined.insert(symbol);
  }
  return {used.begin(), used.end()};
}

std::vector<Formula::Line> Formula::write(Language language, const std::map<std::string, std::string>& names) const {
  std::vector<Line> lines;
  const auto powers = exact_powers();
  for (const auto& [symbol, whole] : steps_) {
    const auto name = names.find(symbol);
    std::string text = write_node(*whole, {language, names, powers});
    const bool is_wrapped =
        whole->what == "?" || is_logical(whole->what) || (whole->what == "^" && language == Language::python);
    if (is_wrapped) text = text.substr(1, text.size() - 2);
    lines.push_back({name == names.end() ? symbol : name->second, std::move(text)});
  }
  // What only calls the line before it something else is left out.
  while (lines.size() > 1 && steps_[lines.size() - 1].second->what == steps_[lines.size() - 2].first) lines.pop_back();
  return lines;
}

}  // namespace fair_gauge
