// What the families of mistakes share while the rows of one channel are put together. Inside this room only.
#pragma once

#include <algorithm>
#include <cmath>
#include <string>
#include <vector>

#include "diagnose/mistakes.h"
#include "language/translation.h"
#include "quantity/number_format.h"

namespace fair_gauge::mistake_rows {

inline constexpr double usual_volts[] = {1.024, 1.1, 1.2, 1.25, 1.8, 2.048, 2.5, 2.56, 3.0, 3.3, 4.096, 5.0};

inline bool same(double a, double b) { return std::abs(a - b) <= 1e-9 * std::max(std::abs(a), std::abs(b)); }
inline std::string volts(double value) { return with_prefix(value, "V"); }

/// The channel that is asked about, and the rows found for it so far.
class Rows {
 public:
  Rows(const Bench& bench, const Catalogue& catalogue, const Chain& chain, const Firmware& right,
       std::span<const std::string_view> only, std::vector<Wrong>& rows)
      : bench_(bench),
        catalogue_(catalogue),
        chain_(chain),
        right_(right),
        only_(only),
        device_(right.bench.devices.empty() ? no_device() : right.bench.devices.front()),
        part_(catalogue.find(device_.part) ? *catalogue.find(device_.part) : no_part()),
        rows_(rows) {}

 protected:
  /// What the firmware takes for true, and how it stands if that is what is there: "is taken as 4, it is 2" and "is 4,
  /// the bench says 2". Without the second the first serves both.
  struct Told {
    Told(std::string by_firmware, std::string by_bench = {})
        : words(std::move(by_firmware)), truly(std::move(by_bench)) {}
    Told(const char* either) : words(either) {}
    std::string words, truly;
  };
  /// Whether rows of any of these codes are asked for: for families that are long to put together.
  bool wants(std::initializer_list<std::string_view> codes) const {
    return only_.empty() || std::ranges::any_of(codes, [this](std::string_view code) {
             return std::ranges::find(only_, code) != only_.end();
           });
  }
  void add(Wrong row) {
    if (!wants({row.code})) return;
    rows_.push_back(std::move(row));
  }

  // Of a value that arrives and of which nobody knows the part.
  static const Device& no_device() {
    static const Device none;
    return none;
  }
  static const Part& no_part() {
    static const Part none;
    return none;
  }

  const Bench& bench_;
  const Catalogue& catalogue_;
  const Chain& chain_;
  const Firmware& right_;
  std::span<const std::string_view> only_;
  const Device& device_;
  const Part& part_;
  std::vector<Wrong>& rows_;
};

/// Of a chain with a converter or a counter: bytes of the code, reference, front end, law, part.
void add_analog(const Rows& ground);
/// Of a part that answers with bytes: how they are put together, trimming, settings, part.
void add_digital(const Rows& ground);

}  // namespace fair_gauge::mistake_rows
