#include "handoff/own_arithmetic.h"

#include <fmt/format.h>

#include <algorithm>
#include <cctype>
#include <charconv>
#include <cmath>
#include <limits>

#include "language/translation.h"
#include "quantity/letters.h"

namespace fair_gauge {
namespace {

constexpr std::size_t most_nodes = 200, most_depth = 60;

// The number that a word of this type stands for.
template <class Number>
WideInteger exact(const Number& number) {
  return number.type.is_unsigned ? static_cast<WideInteger>(static_cast<std::uint64_t>(number.whole))
                                 : static_cast<WideInteger>(number.whole);
}

int strength(const std::string& sign) {
  if (sign == "*" || sign == "/" || sign == "%") return 6;
  if (sign == "+" || sign == "-") return 5;
  if (sign == "<<" || sign == ">>") return 4;
  return sign == "&" ? 3 : sign == "^" ? 2 : sign == "|" ? 1 : 0;
}

}  // namespace

// Takes a line apart, by recursive descent.
class OwnLineReader {
 public:
  OwnLineReader(const std::string& line, int int_bits, std::int64_t lowest, std::int64_t largest)
      : line_(line), int_bits_(int_bits), lowest_(lowest), largest_(largest) {
    read_.line_ = line;
    read_.int_bits_ = int_bits;
  }

  Result<OwnArithmetic> read() {
    const auto target = skip_target();
    space();
    read_.begin_ = at_;
    auto root = expression(1, 0);
    if (!root) return root.problem();
    read_.end_ = read_.nodes_[*root].span.to;
    space();
    if (at_ < line_.size() && line_[at_] == ';') ++at_;
    space();
    if (at_ < line_.size()) return expected(translated("an operation, or the end of the line"));
    if (target) root = add({.does = Does::cast, .type = *target, .inside = {*root}, .span = read_.expression()});
    if (read_.inputs().empty())
      return Problem{translated("the line has no name in it"), translated("the raw number or the volts by a name")};
    return std::move(read_);
  }

 private:
  using Does = OwnArithmetic::Does;
  using Node = OwnArithmetic::Node;

  void space() {
    while (at_ < line_.size() && std::isspace(static_cast<unsigned char>(line_[at_]))) ++at_;
  }
  Problem expected(const std::string& what) const {
    const std::string seen =
        at_ < line_.size() ? fmt::format("\"{}\"", line_.substr(at_, 12)) : translated("the line's end");
    return {translated("at character {}: {}", at_ + 1, seen), what};
  }
  std::size_t add(Node node) {
    read_.nodes_.push_back(std::move(node));
    return read_.nodes_.size() - 1;
  }
  std::string word() {
    space();
    std::size_t end = at_;
    while (end < line_.size() && (std::isalnum(static_cast<unsigned char>(line_[end])) || line_[end] == '_')) ++end;
    return line_.substr(at_, end - at_);
  }

  // The words of a type, taken only if they are one.
  std::optional<CType> type() {
    const std::size_t before = at_;
    CType found{.bits = 0};
    bool any = false, is_short = false;
    int longs = 0;
    for (std::string next = word(); !next.empty(); next = word()) {
      static constexpr std::pair<const char*, CType> fixed[] = {
          {"int8_t", {false, false, 8}},   {"uint8_t", {false, true, 8}},   {"int16_t", {false, false, 16}},
          {"uint16_t", {false, true, 16}}, {"int32_t", {false, false, 32}}, {"uint32_t", {false, true, 32}},
          {"int64_t", {false, false, 64}}, {"uint64_t", {false, true, 64}}, {"byte", {false, true, 8}},
          {"float", {true, false, 32}},    {"double", {true, false, 64}},   {"char", {false, false, 8}},
          {"word", {false, true, 16}}};
      const auto* known = std::ranges::find_if(fixed, [&](const auto& each) { return next == each.first; });
      if (known != std::end(fixed)) {
        const bool was_unsigned = found.is_unsigned;
        found = known->second;
        found.is_unsigned |= was_unsigned;
      } else if (next == "unsigned") {
        found.is_unsigned = true;
      } else if (next == "long") {
        ++longs;
      } else if (next == "short") {
        is_short = true;
      } else if (next != "int" && next != "signed" && next != "const" && next != "auto") {
        break;
      }
      any = true;
      at_ += next.size();
      space();
    }
    if (!any) {
      at_ = before;
      return std::nullopt;
    }
    if (found.bits == 0) found.bits = longs > 1 ? 64 : longs == 1 ? 32 : is_short ? 16 : int_bits_;
    return found;
  }

  // `t =`, `int t =`, `return`: what the result becomes, if it says so.
  std::optional<CType> skip_target() {
    space();
    const std::size_t before = at_;
    const bool is_auto = line_.compare(at_, 5, "auto ") == 0;
    auto target = type();
    if (is_auto) target.reset();
    const std::string name = word();
    if (name == "return") {
      at_ += name.size();
      return std::nullopt;
    }
    std::size_t end = at_ + name.size();
    while (end < line_.size() && std::isspace(static_cast<unsigned char>(line_[end]))) ++end;
    if (!name.empty() && end < line_.size() && line_[end] == '=' &&
        (end + 1 == line_.size() || line_[end + 1] != '=')) {
      at_ = end + 1;
      return target;
    }
    at_ = before;
    return std::nullopt;
  }

  std::string sign() {
    space();
    for (const char* each : {"<<", ">>"})
      if (line_.compare(at_, 2, each) == 0) return each;
    if (at_ < line_.size() && std::string("+-*/%&|^").find(line_[at_]) != std::string::npos) return {line_[at_]};
    return {};
  }

  Result<std::size_t> expression(int least, std::size_t depth) {
    if (depth > most_depth || read_.nodes_.size() > most_nodes)
      return Problem{translated("the line nests too deep"), translated("a shorter one")};
    auto left = single(depth + 1);
    if (!left) return left;
    for (std::string next = sign(); strength(next) >= least; next = sign()) {
      at_ += next.size();
      auto right = expression(strength(next) + 1, depth + 1);
      if (!right) return right;
      const auto& nodes = read_.nodes_;
      left = add({.does = Does::binary,
                  .sign = next,
                  .inside = {*left, *right},
                  .span = {nodes[*left].span.from, nodes[*right].span.to}});
    }
    return left;
  }

  Result<std::size_t> single(std::size_t depth) {
    space();
    if (at_ >= line_.size()) return expected(translated("a number, a name or a parenthesis"));
    if (depth > most_depth) return Problem{translated("the line nests too deep"), translated("a shorter one")};
    const std::size_t from = at_;
    const char first = line_[at_];
    if (first == '-' || first == '+' || first == '~') {
      ++at_;
      auto inside = single(depth + 1);
      if (!inside || first == '+') return inside;
      return add({.does = first == '-' ? Does::negate : Does::complement,
                  .inside = {*inside},
                  .span = {from, read_.nodes_[*inside].span.to}});
    }
    if (first == '(') {
      ++at_;
      if (const auto to = type()) {
        space();
        if (at_ >= line_.size() || line_[at_] != ')')
          return expected(translated("a closing parenthesis behind the type"));
        ++at_;
        auto inside = single(depth + 1);
        if (!inside) return inside;
        return add(
            {.does = Does::cast, .type = *to, .inside = {*inside}, .span = {from, read_.nodes_[*inside].span.to}});
      }
      auto inside = expression(1, depth + 1);
      if (!inside) return inside;
      if (const auto closed = close()) return *closed;
      read_.nodes_[*inside].span = {from, at_};
      return inside;
    }
    if (std::isdigit(static_cast<unsigned char>(first)) || first == '.') return number();
    const std::string name = word();
    if (name.empty()) return expected(translated("a number, a name or a parenthesis"));
    at_ += name.size();
    space();
    if (at_ < line_.size() && line_[at_] == '(') return call(name, from, depth);
    const std::string plain = small_letters(name);
    Node node{.does = Does::raw, .span = {from, from + name.size()}};
    if (plain == "v" || plain == "volts" || plain == "voltage") node.does = Does::volts;
    if (plain == "mv" || plain == "millivolts") node.does = Does::millivolts;
    if (node.does != Does::raw) {
      read_.uses_volts_ = true;
      node.type = {.floating = true};
    } else {
      if (!raw_name_.empty() && raw_name_ != name)
        return Problem{translated("two names, \"{}\" and \"{}\": one raw number cannot be both", raw_name_, name),
                       translated("numbers for all but one of them")};
      raw_name_ = name;
      node.type.bits = int_bits_;
      const WideInteger most = (static_cast<WideInteger>(1) << (int_bits_ - 1)) - 1;
      if (largest_ > most && lowest_ >= 0 && largest_ <= 2 * most + 1)
        node.type.is_unsigned = true;
      else if (largest_ > most || lowest_ < -most - 1)
        node.type.bits = 32;
    }
    return add(node);
  }

  std::optional<Problem> close() {
    space();
    if (at_ >= line_.size() || line_[at_] != ')') return expected(translated("a closing parenthesis"));
    ++at_;
    return std::nullopt;
  }

  Result<std::size_t> call(const std::string& name, std::size_t from, std::size_t depth) {
    const std::size_t wants = name == "pow" ? 2 : 1;
    if (name != "log" && name != "exp" && name != "sqrt" && name != "pow" && name != "logf" && name != "expf" &&
        name != "sqrtf") {
      at_ = from;
      return expected(translated("log, exp, sqrt or pow"));
    }
    ++at_;
    Node node{.does = Does::call, .sign = name.back() == 'f' ? name.substr(0, name.size() - 1) : name};
    while (node.inside.size() < wants) {
      auto inside = expression(1, depth + 1);
      if (!inside) return inside;
      node.inside.push_back(*inside);
      space();
      if (node.inside.size() == wants) break;
      if (at_ >= line_.size() || line_[at_] != ',') return expected(translated("a comma"));
      ++at_;
    }
    if (const auto closed = close()) return *closed;
    node.span = {from, at_};
    return add(node);
  }

  Result<std::size_t> number() {
    const std::size_t from = at_;
    Node node;
    const bool is_hex = line_.compare(at_, 2, "0x") == 0 || line_.compare(at_, 2, "0X") == 0;
    std::uint64_t whole = 0;
    const char* const begin = line_.data() + at_ + (is_hex ? 2 : 0);
    const char* const end = line_.data() + line_.size();
    const auto read_whole = std::from_chars(begin, end, whole, is_hex ? 16 : 10);
    const auto read_real = std::from_chars(line_.data() + at_, end, node.value);
    const bool floats = !is_hex && (read_real.ec != std::errc() || read_real.ptr > read_whole.ptr);
    if (floats ? read_real.ec != std::errc() : read_whole.ec != std::errc())
      return expected(translated("a number that fits in 64 bits"));
    at_ = static_cast<std::size_t>((floats ? read_real.ptr : read_whole.ptr) - line_.data());
    node.type = {.floating = floats, .bits = floats ? 64 : int_bits_};
    node.whole = floats ? 0 : whole;
    int longs = 0;
    while (at_ < line_.size() && std::isalpha(static_cast<unsigned char>(line_[at_]))) {
      const char suffix = static_cast<char>(std::tolower(static_cast<unsigned char>(line_[at_])));
      if (suffix == 'f' && floats) {
        node.type.bits = 32;
      } else if (suffix == 'u' && !floats) {
        node.type.is_unsigned = true;
      } else if (suffix == 'l') {
        ++longs;
      } else {
        return expected(translated("an operation behind the number"));
      }
      ++at_;
    }
    if (!node.type.floating) {
      if (longs > 0) node.type.bits = longs > 1 ? 64 : 32;
      const auto fits = [&] {
        const int bits = node.type.bits - (node.type.is_unsigned ? 0 : 1);
        return bits >= 64 || whole < std::uint64_t{1} << bits;
      };
      // As C tries the types for a number: a hexadecimal one may become unsigned before it becomes longer.
      while (!fits() && (node.type.bits < 64 || (is_hex && !node.type.is_unsigned))) {
        if (is_hex && !node.type.is_unsigned)
          node.type.is_unsigned = true;
        else
          node.type = {.is_unsigned = node.type.is_unsigned && !is_hex, .bits = node.type.bits == 16 ? 32 : 64};
      }
      if (!fits()) return expected(translated("a number that fits in 64 bits"));
    }
    node.span = {from, at_};
    return add(node);
  }

  const std::string& line_;
  int int_bits_;
  std::int64_t lowest_, largest_;
  std::size_t at_ = 0;
  std::string raw_name_;
  OwnArithmetic read_;
};

Result<OwnArithmetic> OwnArithmetic::read(const std::string& line, int int_bits, std::int64_t lowest,
                                          std::int64_t largest) {
  return OwnLineReader(line, int_bits, lowest, largest).read();
}

std::vector<OwnArithmetic::Span> OwnArithmetic::inputs() const {
  std::vector<Span> spans;
  for (const Node& node : nodes_)
    if (node.does == Does::raw || node.does == Does::volts || node.does == Does::millivolts) spans.push_back(node.span);
  return spans;
}

std::vector<OwnArithmetic::Span> OwnArithmetic::constants() const {
  std::vector<Span> spans;
  for (const Node& node : nodes_)
    if (node.does == Does::number) spans.push_back(node.span);
  return spans;
}

std::string OwnArithmetic::operation(std::size_t place) const {
  const Span span = nodes_[place].span;
  return line_.substr(span.from, span.to - span.from);
}

struct OwnArithmetic::Run {
  double raw, volts;
  std::optional<std::size_t> overflow;
};

CType OwnArithmetic::promoted(CType type) const {
  if (type.floating || type.bits >= int_bits_) return type;
  return {.bits = int_bits_};  // every shorter one fits in an int
}

// Single precision where it was asked for, and on controllers whose double is a float.
OwnArithmetic::Number OwnArithmetic::floating(double value, int bits) const {
  const bool single = int_bits_ == 16 || bits == 32;
  return {
      {.floating = true, .bits = single ? 32 : 64}, single ? static_cast<double>(static_cast<float>(value)) : value, 0};
}

// Into a word; what does not fit wraps, as on every controller, and is noticed.
OwnArithmetic::Number OwnArithmetic::fit(WideInteger whole, CType type, std::size_t at, Run& run) const {
  const WideInteger span = static_cast<WideInteger>(1) << type.bits;
  const WideInteger least = type.is_unsigned ? 0 : -span / 2;
  WideInteger wrapped = (whole - least) % span;
  if (wrapped < 0) wrapped += span;
  wrapped += least;
  if (wrapped != whole && !run.overflow) run.overflow = at;
  return {type, 0, static_cast<std::int64_t>(wrapped)};
}

OwnArithmetic::Number OwnArithmetic::convert(Number number, CType type, std::size_t at, Run& run) const {
  if (type.floating) {
    const double value = number.type.floating ? number.real : static_cast<double>(exact(number));
    return floating(value, type.bits);
  }
  if (!number.type.floating) return fit(exact(number), type, at, run);
  if (std::isnan(number.real)) return number;
  const double whole = std::trunc(number.real);
  if (!(std::abs(whole) < 1e18)) {
    if (!run.overflow) run.overflow = at;
    return {type, 0, 0};
  }
  return fit(static_cast<WideInteger>(whole), type, at, run);
}

OwnArithmetic::Number OwnArithmetic::binary(const std::string& sign, Number a, Number b, std::size_t at,
                                            Run& run) const {
  const auto none = floating(std::nan(""));
  if (a.type.floating || b.type.floating) {
    const int bits = std::max(a.type.floating ? a.type.bits : 0, b.type.floating ? b.type.bits : 0);
    const CType common{.floating = true, .bits = bits};
    const double x = convert(a, common, at, run).real, y = convert(b, common, at, run).real;
    if (sign == "+") return floating(x + y, bits);
    if (sign == "-") return floating(x - y, bits);
    if (sign == "*") return floating(x * y, bits);
    if (sign == "/") return y == 0 ? none : floating(x / y, bits);
    return none;  // C has no remainder, shift or mask of what floats
  }
  a.type = promoted(a.type), b.type = promoted(b.type);
  if (sign == "<<" || sign == ">>") {
    if (b.whole < 0 || b.whole >= a.type.bits) return none;
    const WideInteger factor = static_cast<WideInteger>(1) << b.whole;
    if (sign == "<<") return fit(exact(a) * factor, a.type, at, run);
    WideInteger down = exact(a) / factor;
    if (exact(a) < 0 && exact(a) % factor != 0) --down;  // shifts of a sign go towards minus infinity
    return fit(down, a.type, at, run);
  }
  CType common{.bits = std::max(a.type.bits, b.type.bits)};
  common.is_unsigned =
      (a.type.is_unsigned && a.type.bits == common.bits) || (b.type.is_unsigned && b.type.bits == common.bits);
  const WideInteger left = exact(fit(exact(a), common, at, run)), right = exact(fit(exact(b), common, at, run));
  if (sign == "+") return fit(left + right, common, at, run);
  if (sign == "-") return fit(left - right, common, at, run);
  if (sign == "*") {
    WideInteger product = 0;
    const bool too_wide = __builtin_mul_overflow(left, right, &product);  // of two that fill 64 bits
    if (too_wide && !run.overflow) run.overflow = at;
    return fit(too_wide ? 0 : product, common, at, run);
  }
  if (sign == "&") return fit(left & right, common, at, run);
  if (sign == "|") return fit(left | right, common, at, run);
  if (sign == "^") return fit(left ^ right, common, at, run);
  if (right == 0) return none;
  return fit(sign == "/" ? left / right : left % right, common, at, run);
}

OwnArithmetic::Number OwnArithmetic::walk(std::size_t at, Run& run) const {
  const Node& node = nodes_[at];
  switch (node.does) {
    case Does::number:
      return node.type.floating ? floating(node.value, node.type.bits)
                                : Number{node.type, 0, static_cast<std::int64_t>(node.whole)};
    case Does::raw: return fit(static_cast<WideInteger>(run.raw), node.type, at, run);
    case Does::volts: return floating(run.volts);
    case Does::millivolts: return floating(1000 * run.volts);
    case Does::cast: return convert(walk(node.inside[0], run), node.type, at, run);
    case Does::negate: {
      const Number inside = walk(node.inside[0], run);
      if (inside.type.floating) return floating(-inside.real, inside.type.bits);
      return fit(-exact(inside), promoted(inside.type), at, run);
    }
    case Does::complement: {
      const Number inside = walk(node.inside[0], run);
      if (inside.type.floating) return floating(std::nan(""));
      return {promoted(inside.type), 0, ~inside.whole};
    }
    case Does::binary: return binary(node.sign, walk(node.inside[0], run), walk(node.inside[1], run), at, run);
    case Does::call: {
      const auto value = [&](std::size_t i) {
        return convert(walk(node.inside[i], run), {.floating = true, .bits = 64}, at, run).real;
      };
      if (node.sign == "log") return floating(std::log(value(0)));
      if (node.sign == "exp") return floating(std::exp(value(0)));
      if (node.sign == "sqrt") return floating(std::sqrt(value(0)));
      return floating(std::pow(value(0), value(1)));
    }
  }
  return {};
}

OwnArithmetic::Outcome OwnArithmetic::run(double raw, double volts) const {
  Run run{raw, volts, {}};
  const Number result = walk(nodes_.size() - 1, run);
  const double value = result.type.floating ? (std::isfinite(result.real) ? result.real : std::nan(""))
                                            : static_cast<double>(result.whole);
  return {value, run.overflow};
}

}  // namespace fair_gauge
