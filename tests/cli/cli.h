// The command line run as a program, for tests.
#pragma once

#include <gmock/gmock.h>
#include <sys/stat.h>
#include <sys/wait.h>
#include "../built.h"

#include <array>
#include <cstdio>
#include <filesystem>
#include <fstream>
#include <nlohmann/json.hpp>

namespace fair_gauge::cli_test {

using nlohmann::json;
using testing::HasSubstr;

struct Ran {
  int code;
  std::string out;
  std::string error;
};

inline const std::string demo = std::string(FAIR_GAUGE_SOURCE) + "/data/demo/fernhollow.fairgauge.json";

inline std::string temporary(const std::string& name, const std::string& content = "") {
  const auto path = std::filesystem::temp_directory_path() / ("fair-gauge-cli-" + std::to_string(::getpid()) + name);
  if (!content.empty()) std::ofstream(path) << content;
  return path.string();
}

/// All that a file holds.
inline std::string content_of(const std::string& path) {
  std::ifstream file(path);
  return {std::istreambuf_iterator<char>(file), {}};
}

/// Runs it with these words and this standard input.
inline Ran run(const std::string& words, const std::string& input = "") {
  const std::string errors = temporary(".err"), given = temporary(".in", input.empty() ? " " : input);
  FILE* pipe = ::popen(
      (std::string(fair_gauge::built::command_line) + " " + words + " < " + given + " 2> " + errors).c_str(), "r");
  Ran result;
  std::array<char, 4096> block;
  for (std::size_t got; (got = std::fread(block.data(), 1, block.size(), pipe)) > 0;)
    result.out.append(block.data(), got);
  const int status = ::pclose(pipe);
  result.code = WIFEXITED(status) ? WEXITSTATUS(status) : -1;
  result.error = content_of(errors);
  std::filesystem::remove(errors);
  std::filesystem::remove(given);
  return result;
}

}  // namespace fair_gauge::cli_test
