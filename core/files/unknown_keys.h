// Keys of a JSON object that this version does not know, kept as text so that they survive a round trip.
#pragma once

#include <string>

namespace fair_gauge {

struct UnknownKeys {
  std::string text;  ///< a JSON object; empty → there are none

  bool operator==(const UnknownKeys&) const = default;
};

}  // namespace fair_gauge
