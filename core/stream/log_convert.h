// Logs of raw numbers, as CSV, converted row by row while they stream through. Memory does not grow with the file.
#pragma once

#include <cstdint>
#include <map>
#include <optional>
#include <string>
#include <string_view>
#include <vector>

#include "chain/chain.h"

namespace fair_gauge {

/// Every reading of a chain, computed once: the text to append for each raw number of a converter up to 16 bits, and
/// the chain itself for any other number.
class ReadingTable {
 public:
  /// \param decimals  of the readings, 0…12
  /// \param unit      of the readings
  ReadingTable(const Chain& chain, int decimals, const Unit& unit);

  /// ",24.79" for a raw number, or "," where there is no reading.
  std::string_view cell(std::uint32_t raw) const;
  /// The same for a number in between codes, as averages are. The text lives until the next call.
  std::string_view cell_between(double raw);
  /// Why a raw number has no reading.
  Problem why(double raw) const;
  std::uint32_t size() const { return static_cast<std::uint32_t>(entries_.size()); }

 private:
  struct Entry {
    char length;
    char text[23];  // a comma, a sign, digits; longer readings do not occur within a part's range
  };
  Entry make(double raw) const;

  const Chain& chain_;
  int decimals_;
  const Unit& unit_;
  std::vector<Entry> entries_;
  Entry other_{};
};

/// What became of a log.
struct ConvertSummary {
  std::uint64_t rows = 0;
  std::uint64_t converted = 0;
  struct Reason {
    std::uint64_t count = 0;
    std::vector<std::uint64_t> first_lines;  ///< at most ten
  };
  std::map<std::string, Reason> failed;  ///< by the sentence that says why
  std::vector<std::string> remarks;      ///< on the file as a whole
};

/// Converts a log block by block.
class LogConverter {
 public:
  /// \param column  wanted by the user; empty → the channel's id, then "counts", then the only numeric choice
  LogConverter(const Chain& chain, std::string column, int decimals, const Unit& unit);

  /// Takes the next block of the file and appends what can be said of it to `out`. Blocks may end anywhere.
  /// \returns a problem if the file cannot be converted at all (its column is missing)
  std::optional<Problem> take(std::string_view block, std::string& out);

  /// Ends the file: the last line may have no line end.
  std::optional<Problem> finish(std::string& out);

  const ConvertSummary& summary() const { return summary_; }

 private:
  std::optional<Problem> take_header(std::string_view line, std::string& out);
  void take_rows(std::string_view lines, std::string& out);
  void take_row(const char* line, const char* end, std::string& out);
  void take_other_row(std::string_view line, std::string& out);
  void fail(const Problem& problem);

  ReadingTable table_;
  std::string channel_id_;
  std::string wanted_;
  std::string heading_;
  ConvertSummary summary_;
  std::string rest_;  // a line whose end has not come yet
  bool started_ = false;
  char separator_ = ',';
  std::size_t column_ = 0;
  std::uint64_t line_ = 0;
};

/// Decimals that the uncertainty of a chain justifies in the middle of its wanted range, in a unit.
int justified_decimals(const Chain& chain, const Unit& unit);

}  // namespace fair_gauge
