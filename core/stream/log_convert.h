// Logs of raw numbers, as CSV, converted row by row while they stream through. Memory does not grow with the file.
#pragma once

#include <cstdint>
#include <functional>
#include <map>
#include <memory>
#include <optional>
#include <string>
#include <string_view>
#include <vector>

#include "chain/chain.h"
#include "stream/log_cell.h"
#include "stream/row_chains.h"

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
  /// The same for a cell that holds bytes; nothing where it does not. \param problem  why they are no reading
  std::optional<std::string_view> cell_of_bytes(std::string_view text, std::optional<Problem>& problem);
  /// The same for a reading in base units, worked out elsewhere.
  std::string_view cell_of_reading(double base);
  /// Why a raw number has no reading.
  Problem why(double raw) const;
  std::uint32_t size() const { return static_cast<std::uint32_t>(entries_.size()); }
  /// Bytes that may be read from where a cell begins.
  static constexpr std::size_t longest_cell = 31;

 private:
  struct Entry {
    char length;
    char text[longest_cell];  // a comma, a sign, digits; a longer one is said to be too long
  };
  Entry make(double raw) const;
  Entry entry_of(double base) const;

  const Chain& chain_;
  CellReader cells_;
  int decimals_;
  const Unit& unit_;
  std::vector<Entry> entries_;
  struct Remembered {
    double raw = std::numeric_limits<double>::quiet_NaN();
    Entry entry{};
  };
  std::vector<Remembered> remembered_ = std::vector<Remembered>(4096);  // of raw numbers beyond the entries
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
  std::map<std::string, Reason> failed;  ///< by the sentence that says why; of many sentences the later ones together
  std::vector<std::uint64_t> first_failed;  ///< lines without a reading, at most twenty
  std::uint64_t failures = 0;
  std::vector<std::string> remarks;  ///< on the file as a whole
};

/// Converts a log block by block.
class LogConverter {
 public:
  /// Takes text of the converted log as it is ready. Called with at most 64 KB at a time.
  using Sink = std::function<void(std::string_view)>;

  /// \param column  wanted by the user; empty → the channel's id, then "counts", then the only numeric choice
  /// \param beside  for a channel that needs others' readings: it is read with those of its row; null → as `chain` has
  /// it
  LogConverter(const Chain& chain, std::string column, int decimals, const Unit& unit, Sink sink,
               std::unique_ptr<RowChains> beside = nullptr);

  /// Takes the next block of the file. Blocks may end anywhere.
  /// \returns a problem if the file cannot be converted at all (its column is missing)
  std::optional<Problem> take(std::string_view block);

  /// Ends the file: the last line may have no line end.
  std::optional<Problem> finish();

  const ConvertSummary& summary() const { return summary_; }

 private:
  std::optional<Problem> take_block(std::string_view block);
  std::optional<Problem> begin(bool is_end);
  std::optional<Problem> take_header(std::string_view line, bool is_row);
  void take_rows(std::string_view lines);
  const char* take_plain_rows(const char* at, const char* stop);
  void take_other_row(std::string_view line);
  // What is put behind a row, with a comma before it: "," where it has no reading.
  std::string_view read_other(const std::vector<std::string_view>& fields);
  std::string_view read_beside(const std::vector<std::string_view>& fields);
  void fail(const Problem& problem);
  void put(std::string_view text);
  void flush();

  ReadingTable table_;
  Sink sink_;
  std::unique_ptr<RowChains> beside_;
  std::unique_ptr<char[]> ready_;  // rows put together, not yet in the sink
  std::size_t used_ = 0;
  std::vector<std::string> columns_;  // that may hold the raw numbers
  std::string wanted_;
  std::string heading_;
  ConvertSummary summary_;
  std::string rest_;                    // a line whose end has not come yet
  std::vector<std::string> beginning_;  // lines held until the heading among them is found
  bool started_ = false;
  bool quotes_ = false;  // whether the block holds any
  char separator_ = ',';
  std::size_t column_ = 0;
  std::uint64_t line_ = 0;
};

/// Decimals that the uncertainty of a chain justifies in the middle of its wanted range, in a unit.
int justified_decimals(const Chain& chain, const Unit& unit);

}  // namespace fair_gauge
