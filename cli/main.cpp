// fair-gauge-cli: the same core as the window, for scripts. One file a command; this one only puts them together.
#include <cstdio>
#include <exception>
#include <iostream>

#include "command.h"

namespace {

int run_program(int count, char** words) {
  using namespace fair_gauge::cli;
  Command program("Fair Gauge: from raw counts and bytes to physical units whose error is known.");
  Session session;
  for (const auto add :
       {add_arithmetic, add_bus,     add_choose,   add_decode, add_fit,    add_parts,    add_forward, add_handoff,
        add_inverse,    add_convert, add_simulate, add_budget, add_check,  add_diagnose, add_size,    add_sketch,
        add_board,      add_record,  add_listen,   add_review, add_filter, add_switch})
    add(program, session);
  std::ios::sync_with_stdio(false);
  const int parsed = program.parse(count, words);
  if (parsed < 0) return wrong_usage;
  std::cout.flush();
  if (!std::cout) {
    std::cerr << "writing to standard output failed\n";
    return no_file;
  }
  return parsed > 0 ? done : session.exit_code;
}

}  // namespace

int main(int count, char** words) try {
  return run_program(count, words);
} catch (const std::exception& error) {  // out of memory, at most
  std::fputs(error.what(), stderr);
  return fair_gauge::cli::no_file;
}
