// A span of a log as a file that others read: CSV with W3C table metadata beside it, SenML, or a page to be printed.
#pragma once

#include <string>

#include "stream/channel_log.h"
#include "stream/review.h"
#include "stream/span_figures.h"

namespace fair_gauge {

struct LogSpan {
  const Chain& chain;
  const ChannelLog& log;
  std::size_t from = 0, to = 0;  ///< places of rows, the last not included
  bool is_dated = false;         ///< seconds are since 1970; else since the first row, or before now
};

/// Columns time, the channel's id (raw number or bytes' number) and ID_UNIT (reading, with one decimal more than the
/// budget justifies); empty where there is none. `convert`, `review` and Watch read it again. \param path  NAME.csv;
/// the description is written to NAME.csv-metadata.json \returns the rows written
Result<std::size_t> export_csv(const LogSpan& span, const std::string& path);

/// One record a row with a reading, in the base unit of the quantity; rows without are left out.
/// \returns the records written
/// \source RFC 8428 (SenML): a time below 2^28 is relative to now, so one without a date is that before the last row
Result<std::size_t> export_senml(const LogSpan& span, const std::string& path);

/// What a page about a span says besides its rows.
struct SpanPage {
  std::string title, place;  ///< of the bench
  std::string origin;        ///< of the rows: a file's name, or the session
  std::string picture;       ///< PNG in base 64; empty → none
  std::string on;            ///< day, ISO 8601
};

/// Picture, figures of the span beside those of all of it, time above and below the wanted range, and its events.
/// \param review  of the whole log \returns HTML
std::string span_html(const LogSpan& span, const Review& review, const SpanPage& page);

}  // namespace fair_gauge
