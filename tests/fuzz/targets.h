// What random inputs are fed into. Each takes any bytes, and returns 0 whatever they are; a fault ends the program.
#pragma once

#include <cstddef>
#include <cstdint>
#include <map>
#include <string>

using FuzzTarget = int (*)(const std::uint8_t* bytes, std::size_t size);

int fuzz_bytes(const std::uint8_t* bytes, std::size_t size);      ///< a reading's bytes, into every part
int fuzz_byte_text(const std::uint8_t* bytes, std::size_t size);  ///< bytes as people paste them
int fuzz_capture(const std::uint8_t* bytes, std::size_t size);    ///< line captures
int fuzz_files(const std::uint8_t* bytes, std::size_t size);      ///< bench, part, board and controller files
int fuzz_logs(const std::uint8_t* bytes, std::size_t size);       ///< logs, converted and judged
int fuzz_words(const std::uint8_t* bytes, std::size_t size);      ///< formulas, own arithmetic, logbooks

/// All of them by name.
inline const std::map<std::string, FuzzTarget>& fuzz_targets() {
  static const std::map<std::string, FuzzTarget> all = {{"bytes", fuzz_bytes},     {"byte_text", fuzz_byte_text},
                                                        {"capture", fuzz_capture}, {"files", fuzz_files},
                                                        {"logs", fuzz_logs},       {"words", fuzz_words}};
  return all;
}
