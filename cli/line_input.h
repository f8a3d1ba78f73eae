// What a board sends, from a serial line, a file or standard input, read line by line until it ends or a signal comes.
#pragma once

#include <functional>
#include <string>
#include <utility>

#include "stream/serial_text.h"

namespace fair_gauge::cli {

/// Seconds since 1970.
double now();

/// A descriptor that is closed with its owner.
class LineInput {
 public:
  /// \param port  a serial line; empty → `input`, a file or "-" for standard input
  static Result<LineInput> open(const std::string& port, int baud, const std::string& input);
  LineInput(LineInput&& other) noexcept : number_(std::exchange(other.number_, -1)), is_line_(other.is_line_) {}
  LineInput& operator=(LineInput&&) = delete;
  ~LineInput();

  bool is_line() const { return is_line_; }

  /// Hands over line by line what comes, the first one of a serial line left out: it may be the end of one.
  /// \param seconds  how long; 0 → until the end, SIGINT or SIGTERM
  /// \param take     a line that is no header
  /// \param idle     called a few times a second; ends the reading where it returns false
  void read(double seconds, const std::function<void(const SerialLine&)>& take, const std::function<bool()>& idle);

  /// Whether most of what came is no text.
  bool is_noise() const { return noise_; }

 private:
  LineInput() = default;
  int number_ = -1;
  bool is_line_ = false, noise_ = false;
};

}  // namespace fair_gauge::cli
