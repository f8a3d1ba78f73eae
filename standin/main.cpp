// fair-gauge-stand-in: opens a pseudo-terminal, prints its path, and sends raw counts as a board would.
#include <fcntl.h>
#include <fmt/format.h>
#include <poll.h>
#include <stdlib.h>
#include <termios.h>
#include <unistd.h>

#include <algorithm>
#include <cerrno>
#include <chrono>
#include <csignal>
#include <cstdio>
#include <cstring>
#include <exception>
#include <iostream>
#include <string_view>
#include <thread>

#include "bench/bench_file.h"
#include "board.h"
#include "command_line.h"
#include "digital/encoder.h"
#include "digital/line_capture.h"
#include "files/file.h"
#include "parts/catalogue.h"

namespace {

using namespace fair_gauge;
using namespace fair_gauge::standin;
using Clock = std::chrono::steady_clock;

struct Options {
  std::string bench = data_folder() + "/demo/fernhollow.fairgauge.json";
  std::vector<std::string> channels, faults;
  double rate = 2;
  std::uint64_t seed = 1;
  double start = 0;
  int baud = 115200;
  int garble_every = 0;
  int pause_after = 0;
  double pause_seconds = 3;
  int lines = 0;
  std::string link;
  std::string capture;
  LineForm form = LineForm::named;
};

volatile std::sig_atomic_t stop_wanted = 0;

int baud_of(speed_t speed) {
  constexpr std::pair<speed_t, int> table[] = {
      {B1200, 1200},   {B2400, 2400},     {B4800, 4800},     {B9600, 9600},     {B19200, 19200},   {B38400, 38400},
      {B57600, 57600}, {B115200, 115200}, {B230400, 230400}, {B460800, 460800}, {B921600, 921600}, {B1000000, 1000000}};
  for (const auto& [code, baud] : table)
    if (code == speed) return baud;
  return 0;
}

// A pseudo-terminal whose other end the window opens like a serial port.
class Line {
 public:
  Line() : master_(::posix_openpt(O_RDWR | O_NOCTTY | O_CLOEXEC)) {
    if (master_ < 0 || ::grantpt(master_) != 0 || ::unlockpt(master_) != 0) return;
    path_ = ::ptsname(master_);
    termios settings{};
    ::tcgetattr(master_, &settings);
    ::cfmakeraw(&settings);
    ::tcsetattr(master_, TCSANOW, &settings);
    ::fcntl(master_, F_SETFL, O_NONBLOCK);
    ::close(::open(path_.c_str(),
                   O_RDWR | O_NOCTTY | O_CLOEXEC));  // only after a first listener has gone is "nobody there" reported
  }
  Line(const Line&) = delete;
  Line& operator=(const Line&) = delete;
  ~Line() {
    if (master_ >= 0) ::close(master_);
  }
  const std::string& path() const { return path_; }

  /// Whether somebody has the other end open.
  bool heard() const {
    pollfd state{master_, POLLOUT, 0};
    ::poll(&state, 1, 0);
    return !(state.revents & POLLHUP);
  }
  /// Sends at `baud`; a listener set to another speed hears noise.
  void send(const std::string& text, int baud) const {
    termios settings{};
    const int listener = ::tcgetattr(master_, &settings) == 0 ? baud_of(::cfgetospeed(&settings)) : 0;
    const std::string bytes = listener > 0 && listener != baud ? at_other_speed(text, baud, listener) : text;
    [[maybe_unused]] const ssize_t sent =
        ::write(master_, bytes.data(), bytes.size());  // a listener that does not read loses lines, as with a board
  }

 private:
  int master_;
  std::string path_;
};

std::vector<BoardChannel> channels_of(const Options& options) {
  const auto loaded = load_bench(options.bench);
  if (!loaded) {
    std::cerr << to_text(loaded.problem()) << "\n";
    return {};
  }
  // They live as long as the devices that ask them for their surroundings.
  const auto catalogue = std::make_shared<const Catalogue>(load_catalogue());
  const auto bench = std::make_shared<const Bench>(loaded->bench);
  std::vector<BoardChannel> channels;
  const auto faults = injected_faults(bench, catalogue, options.faults);
  if (!faults) {
    std::cerr << to_text(faults.problem()) << "\n";
    return {};
  }
  for (const Channel& channel : bench->channels) {
    if (!options.channels.empty() && std::ranges::find(options.channels, channel.id) == options.channels.end())
      continue;
    auto chain = build_chain(*bench, *catalogue, channel.id);
    if (!chain) {
      std::cerr << channel.id << ": " << to_text(chain.problem()) << "\n";
      continue;
    }
    const auto surroundings = [=, seed = options.seed](double seconds) {
      return chain_at(*bench, *catalogue, channel, seed, seconds);
    };
    const auto found = faults->find(channel.id);
    const auto fault = found == faults->end() ? nullptr : found->second;
    channels.push_back({channel.id, EnvironmentCourse(channel, options.seed),
                        fault ? fault->device(std::move(*chain), options.seed, surroundings)
                              : SimulatedDevice(std::move(*chain), options.seed, surroundings),
                        channel.arrives_converted() ? std::string(unit_by_ucum(channel.arriving_unit())->symbol) : "",
                        channel.name_on_line(), fault});
  }
  return channels;
}

// A recording of the lines of the first channel's part as it answers once, as a value change dump.
int write_capture(const Options& options) {
  const auto loaded = load_bench(options.bench);
  const Catalogue catalogue = load_catalogue();
  const Channel* channel =
      loaded && !options.channels.empty() ? find_by_id(loaded->bench.channels, options.channels.front()) : nullptr;
  const Device* device = channel ? find_by_id(loaded->bench.devices, channel->device) : nullptr;
  const Part* part = device ? catalogue.find(device->part) : nullptr;
  if (!part) {
    std::cerr << "--capture needs --channel with a channel of the bench\n";
    return 2;
  }
  std::vector<LineTrace> lines;
  if (part->interface == Interface::pulse_count) {
    auto chain = build_chain(loaded->bench, catalogue, channel->id);
    if (chain)
      lines = {
          record_pulses(static_cast<int>(SimulatedDevice(std::move(*chain), options.seed)
                                             .answer(EnvironmentCourse(*channel, options.seed).at(options.start))))};
  } else if (auto decoder = Decoder::make(*part, device->settings)) {
    ByteBlocks trimming;
    for (const auto& [block, hex] : device->trimming)
      if (const auto bytes = read_hex(hex)) trimming[block] = *bytes;
    std::map<Quantity, double> wanted;  // of every channel that this device feeds
    for (const Channel& each : loaded->bench.channels)
      if (each.device == device->id) wanted[each.quantity] = EnvironmentCourse(each, options.seed).at(options.start);
    const auto blocks = encode(*decoder, wanted, trimming);
    std::vector<std::uint8_t> data;
    for (const ByteBlock& block : part->bytes.blocks)
      if (blocks && block.role == "data")
        data.insert(data.end(), blocks->at(block.name).begin(), blocks->at(block.name).end());
    if (part->interface == Interface::single_wire)
      lines = {record_single_wire(data)};
    else if (part->interface == Interface::one_wire)
      lines = {record_one_wire(data)};
    else
      lines = record_two_wire(device->address, data);
  }
  if (lines.empty()) {
    std::cerr << channel->id << " is read by a converter: it has no line to record\n";
    return 3;
  }
  auto file = OutputFile::open(options.capture, {options.bench});
  if (file) file->write(write_vcd(lines));
  const auto written = file ? file->commit() : Result<std::size_t>(file.problem());
  if (!written) std::cerr << to_text(written.problem()) << "\n";
  return written ? 0 : 4;
}

int run(const Options& options) {
  if (!options.capture.empty()) return write_capture(options);
  auto channels = channels_of(options);
  if (channels.empty()) return 3;
  const Line line;
  if (line.path().empty()) {
    std::cerr << "no pseudo-terminal could be opened\n";
    return 4;
  }
  if (!options.link.empty()) {
    // A link that an earlier run left is replaced; nothing else is.
    char target[64] = {};
    if (::readlink(options.link.c_str(), target, sizeof target - 1) > 0 &&
        std::string_view(target).starts_with("/dev/pts/"))
      ::unlink(options.link.c_str());
    if (::symlink(line.path().c_str(), options.link.c_str()) != 0) {
      std::cerr << options.link << ": the link could not be made: " << std::strerror(errno) << "\n";
      return 4;
    }
  }
  std::cout << line.path() << std::endl;

  const auto loaded = load_bench(options.bench);
  const Catalogue catalogue = load_catalogue();
  SimulatedLine bytes = loaded ? SimulatedLine(loaded->bench, catalogue) : SimulatedLine();
  std::mt19937_64 random(options.seed);
  bool header_due = options.form == LineForm::csv;
  bool starting = true;
  int sent = 0;
  double time = options.start;
  for (auto next = Clock::now(); !stop_wanted;
       next += std::chrono::duration_cast<Clock::duration>(std::chrono::duration<double>(1 / options.rate))) {
    std::this_thread::sleep_until(next);
    time += 1 / options.rate;
    if (!line.heard()) {
      header_due = options.form == LineForm::csv;
      starting = true;
      continue;
    }
    if (std::exchange(starting, false))
      continue;  // a board that is opened starts anew; the listener sets its speed meanwhile
    if (std::exchange(header_due, false)) line.send(header_of(channels), options.baud);
    std::string text = line_at(channels, options.form, time, &bytes);
    ++sent;
    if (options.garble_every > 0 && sent % options.garble_every == 0) text = garbled(text, random);
    if (text != "\r\n") line.send(text, options.baud);  // where nothing answered nothing is said
    if (options.pause_after > 0 && sent == options.pause_after)
      next += std::chrono::duration_cast<Clock::duration>(std::chrono::duration<double>(options.pause_seconds));
    if (options.lines > 0 && sent == options.lines) break;  // hangs up: the line closes with this program
  }
  if (!options.link.empty()) ::unlink(options.link.c_str());
  return 0;
}

int serve(int count, char** words) {
  std::signal(SIGINT, [](int) { stop_wanted = 1; });
  std::signal(SIGTERM, [](int) { stop_wanted = 1; });
  cli::Command program(
      "A board that is not there: raw counts over a pseudo-terminal, for trying and testing Fair Gauge.");
  Options options;
  const std::map<std::string, LineForm> forms = {{"named", LineForm::named}, {"csv", LineForm::csv},
                                                 {"bare", LineForm::bare},   {"hex", LineForm::hex},
                                                 {"bytes", LineForm::bytes}, {"words", LineForm::words}};
  std::string form = "named";
  program.option("--bench", options.bench, "bench whose channels are sent; default the demonstration bench");
  program.option("--channel", options.channels, "only these channels");
  program.option("--rate", options.rate, "lines a second", {0.01, 1000});
  program.choice("--form", form, {"named", "csv", "bare", "hex", "bytes", "words"}, "how lines are written");
  program.option("--seed", options.seed, "of the simulation");
  program.option("--start", options.start, "seconds after midnight at the first line");
  program.option("--baud", options.baud, "speed of the board; a listener at another speed hears noise");
  program.option("--fault", options.faults,
                 "NAME@CHANNEL: what is wrong with it, by the names that simulate of fair-gauge-cli has");
  program.option("--garble", options.garble_every, "spoil every N-th line");
  program.option("--pause-after", options.pause_after, "fall silent once after N lines");
  program.option("--pause", options.pause_seconds, "for how many seconds");
  program.option("--hang-up-after", options.lines, "close the line after N lines");
  program.option("--link", options.link, "make this a link to the pseudo-terminal, so that its name stays");
  program.option("--capture", options.capture, "write a recording of the channel's line as VCD to this file, and end");
  if (const int read = program.parse(count, words); read != 0) return read > 0 ? 0 : 2;
  options.form = forms.at(form);
  return run(options);
}

}  // namespace

int main(int count, char** words) try {
  return serve(count, words);
} catch (const std::exception& error) {  // out of memory, at most
  std::fputs(error.what(), stderr);
  return 4;
}
