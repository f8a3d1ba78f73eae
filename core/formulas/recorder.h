// How a formula tells its intermediate values: a callable that costs nothing when nobody listens.
#pragma once

#include <concepts>

namespace fair_gauge::formulas {

/// Takes a symbol of the data sheet, its value, and the line that gave it, in the sheet's own symbols.
template <class R>
concept Recorder = std::invocable<R, const char*, double, const char*>;

/// Nobody listens.
struct Unrecorded {
  constexpr void operator()(const char*, double, const char*) const {}
};

}  // namespace fair_gauge::formulas
