// Readings of a channel that needs other channels' readings, where those are known too: in the other columns of its
// log, or in what came beside it.
#pragma once

#include <map>
#include <memory>
#include <string>
#include <string_view>
#include <vector>

#include "chain/chain.h"
#include "stream/day_dose.h"
#include "stream/log_cell.h"
#include "stream/log_time.h"

namespace fair_gauge {

/// One channel, read in the order of time. What another channel read last holds until it reads again, or fails.
class RowChains {
 public:
  /// \param chain  of the channel, as built without knowing the others
  RowChains(const Bench& bench, const Catalogue& catalogue, const Chain& chain);

  /// Finds the others' columns. \param names  of the log's header
  /// \returns a problem where the channel is worked out from one that the log does not have
  /// \param form  of its times
  std::optional<Problem> begin(const std::vector<std::string_view>& names, TimeForm form = TimeForm::seconds);
  /// Whether the others' readings come with this channel's: any column of theirs was found.
  bool is_beside() const { return is_beside_; }

  /// The same for another thread, begun as this one was; it knows nothing of the others yet.
  std::unique_ptr<RowChains> another() const;
  /// Whether each of the others had a cell since nothing was known of them: what is known then hangs on no row before.
  bool has_seen_all() const;

  /// One row of such a log. \param column  of this channel
  LogCell read(const std::vector<std::string_view>& cells, std::size_t column);

  /// The channels whose readings this one needs, and those that they need.
  std::vector<std::string> needs() const;
  /// What one of them sent. \param raw  its raw number
  void know(const std::string& channel, double raw);
  /// Nothing is known of the others again, nor of the day. \param before  what the day had until then
  void forget(const DayDose& before = {});
  /// The reading of this channel's raw number beside what is known, base units. \param seconds  since 1970 UTC, of what
  /// comes together over a day
  Result<double> reading(double raw, double seconds = 0);
  /// Whether it comes together over a day: readings then need their time.
  bool accumulates() const { return derived_ && derived_->setup().quantity->accumulates; }
  const DayDose& day() const { return day_; }

 private:
  struct Other {
    std::string id, line_name;
    std::unique_ptr<RowChains> reader;
    double grain;  // readings closer than this are one: far below what they are off by
    std::optional<std::size_t> column = {};
    std::optional<double> now = {};
    bool is_seen = false;  // a cell of it
  };
  struct Beside {
    Chain chain;
    CellReader cells;
    mutable CellMemory known{512};
    explicit Beside(Chain built) : chain(std::move(built)), cells(chain) {}
    LogCell read(std::string_view cell) const;
  };
  RowChains(const Bench& bench, const Catalogue& catalogue, const Chain& chain, int depth);
  Result<double> derived_from(double first, double seconds);
  const Beside* beside();  // null where it cannot be built

  Bench bench_;
  Catalogue catalogue_;
  std::unique_ptr<const Beside> own_;  // as it is built without knowing the others
  std::shared_ptr<const DerivedLink> derived_;
  std::unique_ptr<RowChains> first_;  // of a derived one: its first input
  std::string channel_, beside_id_;
  std::vector<Other> others_;  // that it needs itself
  DayDose day_;                // of a derived one that accumulates
  TimePlaces time_;
  TimeForm time_form_ = TimeForm::seconds;
  std::vector<std::string> names_;  // of the log's header
  std::map<std::vector<double>, std::unique_ptr<const Beside>> known_;
  bool is_beside_ = false;
};

}  // namespace fair_gauge
