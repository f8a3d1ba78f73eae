// record: lines as a board sends them → a CSV of raw numbers that grows while they come.
#include <fcntl.h>
#include <fmt/format.h>
#include <poll.h>
#include <termios.h>
#include <unistd.h>

#include <cerrno>
#include <chrono>
#include <cmath>
#include <csignal>
#include <cstring>
#include <iostream>
#include <memory>

#include "channel_chain.h"
#include "files/file.h"
#include "stream/recorder.h"

namespace fair_gauge::cli {
namespace {

struct RecordOptions {
  std::string bench, port, input, output;
  int baud = 115200;
  double seconds = 0;
};

volatile std::sig_atomic_t told_to_end = 0;

double now() { return std::chrono::duration<double>(std::chrono::system_clock::now().time_since_epoch()).count(); }

// A descriptor that is closed with its owner.
struct Input {
  int number = -1;
  bool line = false;
  Input() = default;
  Input(Input&& other) noexcept : number(std::exchange(other.number, -1)), line(other.line) {}
  Input& operator=(Input&&) = delete;
  ~Input() {
    if (number > STDIN_FILENO) ::close(number);
  }
};

std::optional<speed_t> speed_of(int baud) {
  constexpr std::pair<int, speed_t> speeds[] = {
      {1200, B1200},   {2400, B2400},     {4800, B4800},     {9600, B9600},     {19200, B19200},   {38400, B38400},
      {57600, B57600}, {115200, B115200}, {230400, B230400}, {460800, B460800}, {921600, B921600}, {1000000, B1000000}};
  for (const auto& [number, speed] : speeds)
    if (number == baud) return speed;
  return std::nullopt;
}

Result<Input> open_input(const RecordOptions& options) {
  Input input;
  if (options.port.empty()) {
    input.number = options.input == "-" ? STDIN_FILENO : ::open(options.input.c_str(), O_RDONLY | O_CLOEXEC);
    if (input.number < 0)
      return Problem{fmt::format("reading failed: {}", std::strerror(errno)),
                     "a file that can be read",
                     {.file = options.input},
                     ProblemKind::file};
    return input;
  }
  const auto speed = speed_of(options.baud);
  if (!speed) return Problem{fmt::format("{} is no usual line speed", options.baud), "9600 or 115200, for example"};
  input.line = true;
  input.number = ::open(options.port.c_str(), O_RDONLY | O_NOCTTY | O_NONBLOCK | O_CLOEXEC);
  termios line{};
  if (input.number < 0 || ::tcgetattr(input.number, &line) != 0)
    return Problem{fmt::format("opening the line failed: {}", std::strerror(errno)),
                   "a serial line",
                   {.file = options.port},
                   ProblemKind::file};
  ::cfmakeraw(&line);
  ::cfsetispeed(&line, *speed);
  ::cfsetospeed(&line, *speed);
  line.c_cflag |= CLOCAL | CREAD;
  ::tcsetattr(input.number, TCSANOW, &line);
  return input;
}

void run_record(Session& session, const RecordOptions& options) {
  if (options.port.empty() == options.input.empty())
    return session.refuse({"a recording needs one source", "--port PATH or --input FILE"}, wrong_usage);
  const auto bench = open_bench(session, options.bench);
  if (!bench) return;
  if (options.output == options.bench || options.output == options.input)
    return session.refuse({"the output is a file that is being read", "a file of its own"});
  auto input = open_input(options);
  if (!input) return session.refuse(input.problem(), no_file);
  auto recorder = Recorder::open(*bench, session.catalogue, options.output);
  if (!recorder) return session.refuse(recorder.problem());

  struct sigaction end {};
  end.sa_handler = [](int) { told_to_end = 1; };
  for (const int signal : {SIGINT, SIGTERM}) ::sigaction(signal, &end, nullptr);

  SerialText text(!input->line);
  bool first = input->line;  // what comes first on a line may be the end of one
  std::uint64_t left_out = 0;
  std::map<std::string, std::uint64_t> reasons;
  std::optional<Problem> fault;
  const double began = now();
  bool open = true;
  while (open && !told_to_end && !fault && (options.seconds <= 0 || now() - began < options.seconds)) {
    pollfd waits{input->number, POLLIN, 0};
    const int ready = ::poll(&waits, 1, 200);
    char buffer[1 << 16];
    std::string_view arrived;
    if (ready > 0) {
      const ssize_t count = ::read(input->number, buffer, sizeof buffer);
      if (count > 0) arrived = {buffer, static_cast<std::size_t>(count)};
      if (count == 0 || (count < 0 && errno != EAGAIN && errno != EINTR)) open = false;
    }
    std::string last;  // of a file without a last line end
    if (!open && !input->line) last = "\n";
    for (const std::string_view piece : {arrived, std::string_view(last)})
      for (const SerialLine& line : text.take(piece)) {
        if (std::exchange(first, false)) continue;
        if (line.items.empty() && !line.problem) continue;  // a header
        if (!line.problem && recorder->take(line, now())) continue;
        ++left_out;
        const std::string why = line.problem ? to_text(*line.problem) : "it names no channel of the recording";
        if (reasons.size() < 20 || reasons.contains(why)) ++reasons[why];
      }
    fault = recorder->tick(now());
  }
  if (!fault) fault = recorder->finish();
  if (left_out > 0) {
    std::cerr << fmt::format("{} line{} could not be read and {} left out\n", left_out, left_out == 1 ? "" : "s",
                             left_out == 1 ? "was" : "were");
    for (const auto& [why, count] : reasons) std::cerr << fmt::format("  {} × {}\n", count, plain_text(why));
  }
  for (const auto& [name, count] : recorder->strangers())
    std::cerr << fmt::format("  \"{}\" came {} times and is no column\n", plain_text(name.substr(0, 60)), count);
  if (fault) session.refuse(*fault, no_file);
}

}  // namespace

void add_record(Command& program, Session& session) {
  auto options = std::make_shared<RecordOptions>();
  Command command = program.add("record", "Record raw numbers as a board sends them",
                                [options, &session] { run_record(session, *options); });
  command.option("--bench", options->bench, "bench file", Presence::required);
  command.option("--port", options->port, "serial line");
  command.option("--baud", options->baud, "its speed; default 115200");
  command.option("--input", options->input, "file of lines, - for standard input");
  command.option("--seconds", options->seconds, "how long; default until the end or a signal", {1e-3, 1e9});
  command.option("--output", options->output, "CSV to begin or to go on with", Presence::required);
}

}  // namespace fair_gauge::cli
