// Errors as values: what went wrong, where, and what was expected instead.
// Exceptions are left to bugs; nothing a user or a file can do throws across a core function.
#pragma once

#include <cassert>
#include <string>
#include <utility>
#include <variant>

namespace fair_gauge {

/// Where in a text something stands. Line and column count from 1; 0 means "not known".
struct Place {
  std::string file;
  int line = 0;
  int column = 0;

  bool operator==(const Place&) const = default;
};

enum class ProblemKind {
  content,  ///< of what was given
  file,     ///< of reading or writing it
};

/// One fault of an input, in words for the person who made it.
struct Problem {
  std::string wrong;     ///< what is wrong, no full stop
  std::string expected;  ///< what was expected instead; empty if nothing useful can be said
  Place place = {};
  ProblemKind kind = ProblemKind::content;

  bool operator==(const Problem&) const = default;
};

/// "FILE:LINE:COLUMN: what is wrong; what was expected", with as many of the parts as exist.
std::string to_text(const Problem& problem);

/// A value, or the reason why there is none.
template <class T>
class [[nodiscard]] Result {
 public:
  Result(T value) : content_(std::move(value)) {}
  Result(Problem problem) : content_(std::move(problem)) {}

  explicit operator bool() const { return content_.index() == 0; }
  const T& operator*() const& { return value(); }
  T& operator*() & { return value(); }
  T&& operator*() && { return std::move(value()); }
  const T* operator->() const { return &value(); }
  T* operator->() { return &value(); }

  const T& value() const {
    assert(*this);
    return std::get<0>(content_);
  }
  T& value() {
    assert(*this);
    return std::get<0>(content_);
  }
  T value_or(T other) const { return *this ? value() : std::move(other); }
  const Problem& problem() const {
    assert(!*this);
    return std::get<1>(content_);
  }

 private:
  std::variant<T, Problem> content_;
};

}  // namespace fair_gauge
