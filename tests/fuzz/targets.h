// What random inputs are fed into. Each takes any bytes, and returns whatever they are; a fault ends the program.
#pragma once

#include <cstddef>
#include <cstdint>

int fuzz_bytes(const std::uint8_t* bytes, std::size_t size);      ///< a reading's bytes, into every part
int fuzz_byte_text(const std::uint8_t* bytes, std::size_t size);  ///< bytes as people paste them
int fuzz_capture(const std::uint8_t* bytes, std::size_t size);    ///< line captures
int fuzz_files(const std::uint8_t* bytes, std::size_t size);      ///< bench and part files
int fuzz_logs(const std::uint8_t* bytes, std::size_t size);       ///< logs, converted and judged
int fuzz_words(const std::uint8_t* bytes, std::size_t size);      ///< formulas, own arithmetic, logbooks
