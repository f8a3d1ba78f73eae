// How a controller makes one reading of a digital part over its line: what is written, waited for, polled and read, as
// the part's file tells it and the bench sets it.
#pragma once

#include <cstdint>
#include <string>
#include <vector>

#include "bench/bench.h"
#include "digital/byte_field.h"
#include "handoff/handoff.h"
#include "parts/catalogue.h"

namespace fair_gauge {

struct BoardStep {
  enum class Kind {
    write,     ///< bytes; where `unanswered` nobody acknowledges them
    wait,      ///< ms
    until,     ///< one byte from `bytes` has `value` under `mask`; `ms` at most
    read,      ///< `count` bytes, from `bytes` where there are some, to `at` of what is handed over
    check,     ///< `count` bytes from `bytes` have `value` under `mask`, else `status`
    frame,     ///< `count` bytes of a single wire that is held low for `ms` first
    exchange,  ///< on a four-wire bus: `bytes` go out while as many come in, to `at`
    clock,     ///< `count` bytes by `value` clocks, once the data line has fallen, within `ms`; kept where `at` is 0
  };
  Kind kind = Kind::write;
  std::vector<std::uint8_t> bytes;
  int ms = 0;  ///< 1…65535
  std::uint32_t mask = 0, value = 0;
  int count = 0;
  int at = 0;
  int status = 0;
  bool unanswered = false;
  std::string what;  ///< for the comment
};

/// What the reading may return besides the statuses of its conversion.
inline constexpr int reading_not_kept = 32, reading_wrong_part = 33;

struct ReadingPlan {
  std::string name;  ///< as C allows it
  std::string channel_name;
  Interface line = Interface::i2c;    ///< or one_wire, spi, single_wire, serial_bridge
  int address = 0;                    ///< on a two-wire bus, 7 bits
  std::vector<std::uint8_t> select;   ///< on a one-wire line: what is sent after a reset
  std::vector<BoardStep> begin;       ///< once after power-on
  std::vector<BoardStep> trimming;    ///< reads into the bytes that are loaded; empty → it is compiled in
  std::vector<BoardStep> each;        ///< for every reading
  int bytes = 0, trimming_bytes = 0;  ///< that are handed over
  std::optional<FieldPlace> number;   ///< of a converter: where its code lies in the bytes; handed over as 32 bits
  std::vector<std::string> remarks;   ///< what the maker has to see to
};

/// \param code  of the hand-over of the same channel
/// \returns the plan; a problem where the channel is no digital part on such a line, nor read by a converter that is a
/// part of its own, where the file of either does not tell how it is read, the converter has no such range or setting,
/// or the trimming is not read block by block
Result<ReadingPlan> plan_reading(const Bench& bench, const Catalogue& catalogue, const std::string& channel,
                                 const HandoffCode& code);

/// NAME_read.h and NAME_read.c: C99, no heap, no state; three to five functions of the board are the maker's.
std::pair<std::string, std::string> write_reading_c(const ReadingPlan& plan);
/// NAME_read.py: the same, the board an object with the same methods.
std::string write_reading_python(const ReadingPlan& plan);

/// The files of either language by their names, or the problem of the plan.
Result<std::map<std::string, std::string>> reading_files(const Bench& bench, const Catalogue& catalogue,
                                                         const HandoffRequest& request, const HandoffCode& code);

}  // namespace fair_gauge
