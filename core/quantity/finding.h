// What a check found, in a sentence, and how grave it is.
#pragma once

#include <string>

namespace fair_gauge {

enum class Severity {
  note,     ///< worth knowing
  warning,  ///< works today, perhaps not tomorrow
  fault
};  ///< does not work, or harms a part

struct Finding {
  Severity severity = Severity::note;
  std::string words;
};

}  // namespace fair_gauge
