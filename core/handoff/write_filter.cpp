#include "handoff/write_filter.h"

#include <fmt/format.h>

#include <algorithm>
#include <cctype>
#include <cmath>

namespace fair_gauge {
namespace {

// The state of an exponential filter is kept so many times as large, its weight is so many parts of one: differences of
// 32-bit values stay within 64 bits.
constexpr int finer = 4096;

int parts_of(const KeptFilter& filter) {
  return std::clamp(static_cast<int>(std::lround(filter.weight * finer)), 1, finer);
}

std::string with(std::string text, std::string_view word, const std::string& by) {
  for (auto at = text.find(word); at != std::string::npos; at = text.find(word, at + by.size()))
    text.replace(at, word.size(), by);
  return text;
}

// To the nearest, halves away from zero.
constexpr std::string_view c_nearest = R"(static int64_t nearest(int64_t sum, int64_t parts) {
  return sum < 0 ? -((parts / 2 - sum) / parts) : (sum + parts / 2) / parts;
}

)";

constexpr std::string_view c_window = R"(  state->last[state->next] = value;
  state->next = (uint8_t)((state->next + 1) % LENGTH);
  if (state->count < LENGTH) ++state->count;
)";

std::string c_body(const KeptFilter& filter) {
  switch (filter.kind) {
    case FilterKind::mean:
      return "  int64_t sum = 0;\n  uint8_t i;\n" + std::string(c_window) +
             R"(  for (i = 0; i < state->count; ++i) sum += state->last[i];
  return (int32_t)nearest(sum, state->count);
)";
    case FilterKind::median:
      return "  int32_t sorted[LENGTH];\n  uint8_t i, at;\n" + std::string(c_window) +
             R"(  for (i = 0; i < state->count; ++i) {
    for (at = i; at > 0 && sorted[at - 1] > state->last[i]; --at) sorted[at] = sorted[at - 1];
    sorted[at] = state->last[i];
  }
  at = (uint8_t)(state->count / 2);
  if (state->count % 2) return sorted[at];
  return (int32_t)nearest((int64_t)sorted[at - 1] + sorted[at], 2);
)";
    case FilterKind::exponential:
      return R"(  const int64_t now = (int64_t)value * FINER;
  if (state->begun)
    state->kept += nearest((now - state->kept) * PARTS, FINER);
  else
    state->kept = now;
  state->begun = 1;
  return (int32_t)nearest(state->kept, FINER);
)";
  }
  return "";
}

std::string with_numbers(std::string text, const KeptFilter& filter) {
  text = with(std::move(text), "LENGTH", fmt::format("{}", filter.length));
  text = with(std::move(text), "FINER", fmt::format("{}", finer));
  return with(std::move(text), "PARTS", fmt::format("{}", parts_of(filter)));
}

}  // namespace

std::string filter_words(const KeptFilter& filter) {
  if (filter.kind != FilterKind::exponential) return fmt::format("{} of {}", enum_name(filter.kind), filter.length);
  const double share = 1 / filter.weight;
  return std::abs(share - std::round(share)) < 1e-9 ? fmt::format("exponential, 1/{:.0f} of each", share)
                                                    : fmt::format("exponential, {:.4g} of each", filter.weight);
}

std::pair<std::string, std::string> write_filter_c(const std::string& name, const KeptFilter& filter) {
  std::string upper = name;
  std::ranges::transform(upper, upper.begin(), [](unsigned char c) { return static_cast<char>(std::toupper(c)); });
  std::string header = R"(/* WORDS */
#ifndef UPPER_FILTER_H
#define UPPER_FILTER_H

#include <stdint.h>

/* Zero, {0}, before the first reading and after a fault. */
typedef struct {
)";
  header += filter.kind == FilterKind::exponential ? "  int64_t kept; /* FINER times as large */\n  uint8_t begun;\n"
                                                   : "  int32_t last[LENGTH];\n  uint8_t count, next;\n";
  header += R"(} NAME_filter_state;

/* Takes a value that NAME_convert gave without a fault; returns the filtered one. */
int32_t NAME_filter(NAME_filter_state *state, int32_t value);

#endif
)";
  std::string source = "#include \"NAME_filter.h\"\n\n" + std::string(c_nearest) +
                       "int32_t NAME_filter(NAME_filter_state *state, int32_t value)\n{\n" + c_body(filter) + "}\n";
  header = with(with_numbers(std::move(header), filter), "WORDS", filter_words(filter));
  source = with_numbers(std::move(source), filter);
  for (std::string* text : {&header, &source}) *text = with(with(std::move(*text), "UPPER", upper), "NAME", name);
  return {header, source};
}

std::string write_filter_python(const KeptFilter& filter) {
  std::string text = R"(# WORDS


def nearest(total, parts):
    return -((parts // 2 - total) // parts) if total < 0 else (total + parts // 2) // parts


class Filter:
    """Takes values that convert gave without a fault; a new one is begun after a fault."""

)";
  if (filter.kind == FilterKind::exponential)
    text += R"(    def __init__(self):
        self.kept = None

    def take(self, value):
        now = value * FINER
        if self.kept is None:
            self.kept = now
        else:
            self.kept += nearest((now - self.kept) * PARTS, FINER)
        return nearest(self.kept, FINER)
)";
  else
    text += R"(    def __init__(self):
        self.last = []

    def take(self, value):
        self.last = (self.last + [value])[-LENGTH:]
)";
  if (filter.kind == FilterKind::mean) text += "        return nearest(sum(self.last), len(self.last))\n";
  if (filter.kind == FilterKind::median)
    text += R"(        ordered = sorted(self.last)
        middle = len(ordered) // 2
        if len(ordered) % 2:
            return ordered[middle]
        return nearest(ordered[middle - 1] + ordered[middle], 2)
)";
  return with(with_numbers(std::move(text), filter), "WORDS", filter_words(filter));
}

}  // namespace fair_gauge
