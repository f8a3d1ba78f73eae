// What needs doing next on a bench, the most pressing first.
#pragma once

#include <string>
#include <vector>

#include "bench/bench.h"
#include "parts/catalogue.h"
#include "quantity/finding.h"

namespace fair_gauge {

enum class ToDoKind {
  channel,      ///< cannot be read
  error,        ///< over its allowed error
  calibration,  ///< due, or never done
  handoff,      ///< firmware was given an older chain
  bus
};  ///< as it is wired

struct ToDo {
  ToDoKind kind = ToDoKind::channel;
  Severity severity = Severity::warning;
  std::string id;  ///< of the channel or bus
  std::string words;
  std::string figure;  ///< what it buys, or how soon
};

/// \param today  days since 1970-01-01
std::vector<ToDo> to_do(const Bench& bench, const Catalogue& catalogue, int today);

/// Days until the next calibration of a channel, negative if it is overdue; nothing if none is asked for.
std::optional<int> days_until_due(const Channel& channel, int today);

}  // namespace fair_gauge
