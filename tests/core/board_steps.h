// The steps of a reading as a test writes them down.
#pragma once

#include <fmt/format.h>

#include <string>
#include <vector>

#include "handoff/reading_plan.h"

namespace fair_gauge {

/// "w bytes", "t ms", "u register bit-mask value", "r command > count", "x bytes that go out while as many come in".
inline std::string passes(const std::vector<BoardStep>& steps) {
  std::string text;
  for (const BoardStep& step : steps) {
    std::string hex;
    for (const std::uint8_t byte : step.bytes) hex += fmt::format(" {:02X}", byte);
    using Kind = BoardStep::Kind;
    text += (text.empty() ? "" : "|") + (step.kind == Kind::write      ? "w" + hex
                                         : step.kind == Kind::exchange ? "x" + hex
                                         : step.kind == Kind::wait     ? fmt::format("t {}", step.ms)
                                         : step.kind == Kind::until
                                             ? fmt::format("u{} {:02X} {:02X}", hex, step.mask, step.value)
                                             : fmt::format("r{} > {}", hex, step.count));
  }
  return text;
}

}  // namespace fair_gauge
