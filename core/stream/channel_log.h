// The readings of one channel out of a log, row by row, in the channel's unit: what review, filters and switching
// judge.
#pragma once

#include <cstdint>
#include <functional>
#include <optional>
#include <string>
#include <vector>

#include "chain/chain.h"
#include "stream/log_cell.h"
#include "stream/log_dialect.h"
#include "stream/row_chains.h"

namespace fair_gauge {

inline constexpr double gap_periods = 2.5;  ///< times further apart are a gap

/// One row of data.
struct LogReading {
  std::uint32_t row = 0;    ///< of the log's rows of data, from 1
  std::uint16_t fault = 0;  ///< of the part's own: place in ChannelLog::faults, from 1; 0 → none
  bool empty = false;       ///< nothing stands in the cell
  bool is_timed = true;     ///< false → its time cannot be read: `seconds` are those of the row before it
  double seconds = 0;       ///< of its time; rows one period of the channel apart where no row has one
  double raw = 0;           ///< not a number where the cell holds none
  double reading = 0;       ///< in the channel's unit; not a number where there is none

  bool is_good() const { return reading == reading; }
};

struct ChannelLog {
  std::vector<LogReading> rows;
  std::size_t all_rows = 0;                                 ///< of the log, where `rows` are only some of them
  std::vector<std::pair<std::string, std::string>> faults;  ///< code and words of those that occur
  std::string from, to;  ///< times of the first and last row as written; empty → the log has none
  bool has_time = false;
  bool has_header = true;
  std::size_t lines_above = 0;  ///< its heading or, without one, its rows: comments, names of a logger, empty ones
  bool is_shared = false;       ///< it has columns beside the time and this channel's
  std::size_t untimed = 0;      ///< rows whose time cannot be read; all of them → has_time is false
  double period_s = 0;          ///< usual: the median difference of neighbouring times that are not as good as the same
  LogDialect dialect;           ///< as it was read
  bool was_utf16 = false;
};

/// Hands every line of a log to `take`, without its line end, in order; ends early where it returns false.
/// \param path  "-" is standard input
/// \returns a problem where the file cannot be read or a line is longer than 1 MB
std::optional<Problem> for_each_line(const std::string& path, const std::function<bool(std::string_view)>& take);

/// Where the columns of a log are.
struct LogHeader {
  bool is_row = false;  ///< there is none: the first line is a row of numbers, its time before the raw number
  char separator = ',';
  TimeForm time_form = TimeForm::seconds;
  std::size_t column = 0;
  bool is_shared = false;  ///< with columns of others
  TimePlaces time;
};
/// What the column of a channel's raw numbers may be called: its id, what it is called on the line, "counts".
std::vector<std::string> column_names(const Chain& chain);
/// The column that has one of the names, the first of them if it can; with large and small letters as written, else
/// without regard to them.
std::optional<std::size_t> column_named(const std::vector<std::string_view>& heading,
                                        const std::vector<std::string>& names);
/// Gives rows their seconds and the log its usual period, once they have been read.
/// \param period_s  of the channel, where the log says none
void settle_times(ChannelLog& log, double period_s);
/// What is to be said of how it was understood: without a header, times that cannot be read.
std::vector<std::string> remarks_on(const ChannelLog& log);

/// The rows that are this channel's own in a log that it shares with quicker ones: those with something in their cell,
/// where the empty ones stand evenly between them. Nothing → all are.
std::optional<ChannelLog> own_rows(const ChannelLog& log);

/// Told from time to time while a log is read, on the thread that reads: the rows so far, whose period is not known
/// yet, and which share of the file they are, 0 to 1. \returns false to stop reading
using LogProgress = std::function<bool(const ChannelLog& so_far, double share)>;

/// A file is read by as many threads as there are cores.
/// \param choice  what somebody says of how it is written
/// \param beside  for a channel that needs others' readings: it is read with those of its row, by one thread
/// \returns the rows, which column is missing, or that it was stopped
Result<ChannelLog> read_channel_log(const std::string& path, const Chain& chain, const std::string& column = "",
                                    const LogProgress& progress = {}, RowChains* beside = nullptr,
                                    const LogChoice& choice = {});

/// Raw numbers that came, each with its seconds, in the order of time.
using CameRaws = std::vector<std::pair<double, double>>;

/// The same of raw numbers that came one after the other. \param others  what came meanwhile of the channels that this
/// one needs, by id, for `beside` \param clock  when their seconds begin, since 1970 UTC
ChannelLog log_of_raws(const Chain& chain, const CameRaws& came, RowChains* beside = nullptr,
                       const std::map<std::string, CameRaws>& others = {}, double clock = 0);

/// The standard deviation of what is another at every reading, from differences of neighbours, so that slow drift is
/// none; single steps and spikes far beyond the others do not count. In the unit of the values; 0 for fewer than three.
double noise_of(const std::vector<double>& neighbouring_differences);

/// What of that noise a signal that swings over several readings does not explain. What is another at every reading
/// makes neighbouring differences opposite, by half their variance; what swings slowly makes them alike: the difference
/// of two of them has six times the variance of the former and hardly any of the latter.
double noise_beside_swings(const std::vector<double>& neighbouring_differences);

}  // namespace fair_gauge
