// A folder of its own for tests that write files and run commands in it; it goes with the test.
#pragma once

#include <gtest/gtest.h>

#include <cstdio>
#include <cstdlib>
#include <filesystem>
#include <fstream>
#include <string>

/// The text with every `word` of it exchanged.
inline std::string replaced(std::string text, const std::string& word, const std::string& what) {
  for (auto at = text.find(word); at != std::string::npos; at = text.find(word, at + what.size()))
    text.replace(at, word.size(), what);
  return text;
}

class ScratchFolder : public ::testing::Test {
 protected:
  ScratchFolder() {
    std::string pattern = std::filesystem::temp_directory_path() / "fair-gauge-test-XXXXXX";
    EXPECT_TRUE(mkdtemp(pattern.data()));
    folder_ = pattern;
  }
  ~ScratchFolder() override { std::filesystem::remove_all(folder_); }

  /// What a command says there, its errors too.
  std::string shell(const std::string& command) const {
    FILE* pipe = popen(("cd " + folder_.string() + " && (" + command + ") 2>&1").c_str(), "r");
    std::string text;
    char block[512];
    while (fgets(block, sizeof block, pipe)) text += block;
    pclose(pipe);
    return text;
  }
  void write(const std::string& name, const std::string& text) const { std::ofstream(folder_ / name) << text; }

  std::filesystem::path folder_;
};
