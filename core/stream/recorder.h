// A recording: raw numbers with their time of arrival, appended to a CSV with W3C table metadata beside it.
#pragma once

#include <cstdint>
#include <map>
#include <optional>
#include <string>
#include <vector>

#include "bench/bench.h"
#include "chain/chain.h"
#include "stream/serial_text.h"

namespace fair_gauge {

/// Which columns a new file gets.
enum class RecordedColumns {
  named,  ///< of the channels that were named in the first second; a later name is a stranger
  all     ///< of every channel of the bench, so that a slow one has its place too
};

/// Appends rows to one file. Nothing of the file is ever written over but a last row that has no line end.
class Recorder {
 public:
  /// \returns the recorder; a problem where the file holds something else: another header, or none
  static Result<Recorder> open(const Bench& bench, const Catalogue& catalogue, const std::string& path,
                               RecordedColumns wanted = RecordedColumns::named);

  /// Takes a line that arrived. \param seconds  since 1970; \returns false if it named no channel of the recording
  bool take(const SerialLine& line, double seconds);
  /// Writes what is in hand, at the latest once a second. \param seconds  now; \returns why it could not be written
  std::optional<Problem> tick(double seconds);
  /// Begins the file if nothing did, and writes all that is in hand.
  std::optional<Problem> finish();

  std::uint64_t rows() const { return rows_; }
  /// Bytes that wait to be written.
  std::size_t waiting() const { return ready_.size(); }
  /// Names that came and are no column, each with how often.
  const std::map<std::string, std::uint64_t>& strangers() const { return strangers_; }

 private:
  struct Column {
    std::string id, line_name, unit, quantity;
    bool bytes = false;
    Channel channel = {};
  };
  struct Row {
    double seconds;
    std::vector<std::pair<std::string, std::string>> cells;  // name on the line, text
  };
  Recorder() = default;
  std::optional<Problem> begin();
  std::optional<Problem> write_metadata() const;
  void put(const Row& row);
  std::optional<Problem> flush();

  std::string path_;
  RecordedColumns wanted_ = RecordedColumns::named;
  std::vector<Column> known_;    // of the bench, in its order
  std::vector<Column> columns_;  // of the file
  std::vector<Row> waiting_;
  std::string ready_;
  bool begun_ = false;
  double first_ = 0, last_ = 0, flushed_ = 0;
  std::uint64_t rows_ = 0;
  std::map<std::string, std::uint64_t> strangers_;
};

}  // namespace fair_gauge
