#include "line_input.h"

#include <fcntl.h>
#include <fmt/format.h>
#include <poll.h>
#include <termios.h>
#include <unistd.h>

#include <cerrno>
#include <chrono>
#include <csignal>
#include <cstring>
#include <optional>

namespace fair_gauge::cli {
namespace {

volatile std::sig_atomic_t told_to_end = 0;

std::optional<speed_t> speed_of(int baud) {
  constexpr std::pair<int, speed_t> speeds[] = {
      {1200, B1200},   {2400, B2400},     {4800, B4800},     {9600, B9600},     {19200, B19200},   {38400, B38400},
      {57600, B57600}, {115200, B115200}, {230400, B230400}, {460800, B460800}, {921600, B921600}, {1000000, B1000000}};
  for (const auto& [number, speed] : speeds)
    if (number == baud) return speed;
  return std::nullopt;
}

}  // namespace

double now() { return std::chrono::duration<double>(std::chrono::system_clock::now().time_since_epoch()).count(); }

LineInput::~LineInput() {
  if (number_ > STDIN_FILENO) ::close(number_);
}

Result<LineInput> LineInput::open(const std::string& port, int baud, const std::string& path) {
  LineInput input;
  if (port.empty()) {
    input.number_ = path == "-" ? STDIN_FILENO : ::open(path.c_str(), O_RDONLY | O_CLOEXEC);
    if (input.number_ < 0)
      return Problem{fmt::format("reading failed: {}", std::strerror(errno)),
                     "a file that can be read",
                     {.file = path},
                     ProblemKind::file};
    return input;
  }
  const auto speed = speed_of(baud);
  if (!speed) return Problem{fmt::format("{} is no usual line speed", baud), "9600 or 115200, for example"};
  input.is_line_ = true;
  input.number_ = ::open(port.c_str(), O_RDONLY | O_NOCTTY | O_NONBLOCK | O_CLOEXEC);
  termios line{};
  if (input.number_ < 0 || ::tcgetattr(input.number_, &line) != 0)
    return Problem{fmt::format("opening the line failed: {}", std::strerror(errno)),
                   "a serial line",
                   {.file = port},
                   ProblemKind::file};
  ::cfmakeraw(&line);
  ::cfsetispeed(&line, *speed);
  ::cfsetospeed(&line, *speed);
  line.c_cflag |= CLOCAL | CREAD;
  ::tcsetattr(input.number_, TCSANOW, &line);
  return input;
}

void LineInput::read(double seconds, const std::function<void(const SerialLine&)>& take,
                     const std::function<bool()>& idle) {
  struct sigaction end {};
  end.sa_handler = [](int) { told_to_end = 1; };
  for (const int signal : {SIGINT, SIGTERM}) ::sigaction(signal, &end, nullptr);
  SerialText text(!is_line_);
  bool first = is_line_, open = true;
  const double began = now();
  while (open && !told_to_end && (seconds <= 0 || now() - began < seconds)) {
    pollfd waits{number_, POLLIN, 0};
    const int ready = ::poll(&waits, 1, 200);
    char buffer[1 << 16];
    std::string_view arrived;
    if (ready > 0) {
      const ssize_t count = ::read(number_, buffer, sizeof buffer);
      if (count > 0) arrived = {buffer, static_cast<std::size_t>(count)};
      if (count == 0 || (count < 0 && errno != EAGAIN && errno != EINTR)) open = false;
    }
    std::string last;  // of a file without a last line end
    if (!open && !is_line_) last = "\n";
    for (const std::string_view piece : {arrived, std::string_view(last)})
      for (const SerialLine& line : text.take(piece)) {
        if (std::exchange(first, false)) continue;
        if (line.items.empty() && !line.problem) continue;  // a header
        take(line);
      }
    noise_ = text.is_noise();
    if (!idle()) break;
  }
}

}  // namespace fair_gauge::cli
