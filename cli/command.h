// What the commands share: exit codes, how problems are said, and how each command is added to the program.
#pragma once

#include <map>
#include <optional>
#include <string>
#include <vector>

#include "bench/bench.h"
#include "command_line.h"
#include "digital/decoder.h"
#include "files/json_document.h"
#include "parts/catalogue.h"
#include "quantity/result.h"
#include "quantity/unit.h"

namespace fair_gauge::cli {

enum ExitCode { done = 0, wrong_usage = 2, bad_input = 3, no_file = 4 };

/// What the whole program knows while a command runs.
class Session {
 public:
  int exit_code = done;

  /// The parts, read when they are first asked for; what is wrong with their files is said on standard error then.
  Catalogue& catalogue();
  /// Only the files that hold the parts of a channel and of those that it needs, where nothing was read yet.
  void read_parts_of(const Bench& bench, const std::string& channel);

  /// Says a problem on standard error and sets the exit code.
  void refuse(const Problem& problem, ExitCode code = bad_input);
  /// Says a problem on standard error and goes on.
  static void say(const Problem& problem);

 private:
  void read_parts(const std::vector<std::string>& only);
  std::optional<Catalogue> catalogue_;
};

// Each adds its command to the program; the command runs when the words are read.
void add_arithmetic(Command& program, Session& session);
void add_diagnose(Command& program, Session& session);
void add_handoff(Command& program, Session& session);
void add_decode(Command& program, Session& session);
void add_parts(Command& program, Session& session);
void add_forward(Command& program, Session& session);
void add_inverse(Command& program, Session& session);
void add_convert(Command& program, Session& session);
void add_simulate(Command& program, Session& session);
void add_budget(Command& program, Session& session);
void add_check(Command& program, Session& session);
void add_fit(Command& program, Session& session);
void add_bus(Command& program, Session& session);
void add_choose(Command& program, Session& session);
void add_sketch(Command& program, Session& session);
void add_size(Command& program, Session& session);
void add_board(Command& program, Session& session);
void add_record(Command& program, Session& session);
void add_listen(Command& program, Session& session);
void add_review(Command& program, Session& session);
void add_filter(Command& program, Session& session);
void add_switch(Command& program, Session& session);

/// A text for the terminal: without control characters, which a file may hold.
std::string plain_text(std::string text);

/// Prints one JSON value on a line, numbers unrounded.
void print_json(Json value);
/// A number; null where it is none, which JSON cannot hold.
Json number_or_null(double value);

/// "KEY=VALUE" texts as settings; values as people write them, or names of the part's choices (mode=altimeter).
Result<std::map<std::string, double>> parse_settings(const std::vector<std::string>& texts, const Part* part = nullptr);

/// "ADDR=HEX;ADDR=HEX" as blocks of bytes.
Result<ByteBlocks> parse_registers(const std::string& text);

/// The part an id or marking names.
Result<const Part*> find_part(Session& session, const std::string& name);

/// The channel's chain from a bench file.
struct ChannelRequest {
  std::string bench;
  std::string channel;
};

/// True if a message is about reading or writing, not about what stood in the file.
bool is_file_problem(const Problem& problem);

}  // namespace fair_gauge::cli
