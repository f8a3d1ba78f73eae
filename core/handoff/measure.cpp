#include "handoff/measure.h"
#include "language/translation.h"

#include <fmt/format.h>
#include <fmt/ranges.h>
#include <unistd.h>

#include <algorithm>
#include <array>
#include <cstdio>
#include <cstdlib>
#include <filesystem>
#include <fstream>
#include <map>
#include <mutex>

namespace fair_gauge {
namespace {

namespace fs = std::filesystem;

bool is_there(const std::string& program) {
  const char* path = std::getenv("PATH");
  std::string folders = path ? path : "";
  for (std::size_t from = 0; from <= folders.size();) {
    const std::size_t to = std::min(folders.find(':', from), folders.size());
    if (access((folders.substr(from, to - from) + "/" + program).c_str(), X_OK) == 0) return true;
    from = to + 1;
  }
  return false;
}

// What a command prints; nothing if it fails. The words are our own: paths of a temporary folder and constants.
std::optional<std::string> output_of(const std::string& command) {
  FILE* pipe = popen((command + " 2>/dev/null").c_str(), "r");  // NOLINT(cert-env33-c): nothing of the user's is in it
  if (!pipe) return std::nullopt;
  std::string text;
  std::array<char, 4096> block;
  for (std::size_t got = 0; (got = fread(block.data(), 1, block.size(), pipe)) > 0;) text.append(block.data(), got);
  return pclose(pipe) == 0 ? std::optional(text) : std::nullopt;
}

// A folder that goes when it is left.
class Workshop {
 public:
  Workshop() {
    std::string pattern = fs::temp_directory_path() / "fair-gauge-XXXXXX";
    if (mkdtemp(pattern.data())) folder_ = pattern;
  }
  ~Workshop() {
    std::error_code ignored;
    if (!folder_.empty()) fs::remove_all(folder_, ignored);
  }
  Workshop(const Workshop&) = delete;
  Workshop& operator=(const Workshop&) = delete;
  bool is_open() const { return !folder_.empty(); }
  std::string path(const std::string& name) const { return folder_ + "/" + name; }
  void write(const std::string& name, const std::string& text) const { std::ofstream(path(name)) << text; }

 private:
  std::string folder_;
};

// Of the argument, in bytes.
std::size_t bytes_of(const HandoffCall& call) {
  return static_cast<std::size_t>(std::count(call.input.begin(), call.input.end(), ',')) + 1;
}

// As many as the program's memory holds beside the code, spread over all of them.
std::vector<HandoffCall> that_fit(std::vector<HandoffCall> calls, HandoffArguments arguments) {
  constexpr std::size_t most = 1024, room = 16'000, of_result = 5;
  if (calls.empty()) return calls;
  const std::size_t argument = arguments == HandoffArguments::bytes ? bytes_of(calls.front()) : 8;
  const std::size_t count = std::min({calls.size(), most, room / (argument + of_result)});
  std::vector<HandoffCall> kept;
  for (std::size_t i = 0; i < count; ++i) kept.push_back(std::move(calls[i * calls.size() / count]));
  return kept;
}

// Timer 1 counts every cycle, from nothing for every call, so that its own overflow is met by none that is short; an
// empty function of the same shape tells what the frame around costs.
std::string harness(const std::string& name, const std::vector<HandoffCall>& calls, HandoffArguments arguments,
                    int slack, const std::vector<std::uint8_t>& trimming) {
  std::string text = fmt::format(
      "#include <avr/io.h>\n#include <avr/sleep.h>\n#include <avr/interrupt.h>\n#include <avr/pgmspace.h>\n#include "
      "\"{}.h\"\n"
      "volatile int32_t value;\nstatic volatile uint16_t overflows;\nISR(TIMER1_OVF_vect) {{ ++overflows; }}\n"
      "static void put(char c) {{ while (!(UCSR0A & (1 << UDRE0))) {{}} UDR0 = c; }}\n"
      "static void number(uint32_t n, char after) {{ char d[11]; uint8_t i = 0; do {{ d[i++] = (char)('0' + n % 10); n "
      "/= 10; }} "
      "while (n); while (i) put(d[--i]); put(after); }}\n"
      "static void begin(void) {{ TCNT1 = 0; overflows = 0; }}\n"
      "static uint32_t now(void) {{ uint8_t s = SREG; cli(); uint16_t t = TCNT1; uint16_t o = overflows; if ((TIFR1 & "
      "(1 << TOV1)) && t < 0x8000) ++o; SREG = s; return ((uint32_t)o << 16) | t; }}\n",
      name);
  const bool with_bytes = arguments == HandoffArguments::bytes;
  const bool with_side = arguments == HandoffArguments::number_and_side;
  const std::string more = with_side ? ", side" : "";
  text += fmt::format(
      "uint8_t __attribute__((noinline)) nothing({}in, int32_t *out{}) {{ __asm__ volatile(\"\" :: \"r\"(in), "
      "\"r\"(out){} : \"memory\"); return 0; }}\n",
      with_bytes ? "const uint8_t *" : "uint32_t ", with_side ? ", int32_t side" : "",
      with_side ? ", \"r\"(side)" : "");
  // The inputs stay in the program's memory, so that there may be many.
  const auto length = bytes_of(calls.front());
  text += with_bytes  ? fmt::format("static const uint8_t inputs[][{}] PROGMEM = {{", length)
          : with_side ? "static const uint32_t inputs[][2] PROGMEM = {"
                      : "static const uint32_t inputs[] PROGMEM = {";
  for (const HandoffCall& call : calls) text += call.input + ",";
  text += "};\nstatic const int32_t values[] PROGMEM = {";
  for (const HandoffCall& call : calls) text += fmt::format("{}L,", call.value);
  text += "};\nstatic const uint8_t statuses[] PROGMEM = {";
  for (const HandoffCall& call : calls) text += fmt::format("{},", static_cast<int>(call.status));
  const std::string load = trimming.empty() ? "" : fmt::format("  {}_load_trimming(trimming);\n", name);
  if (!trimming.empty()) text += fmt::format("}};\nstatic const uint8_t trimming[] = {{{}", fmt::join(trimming, ","));
  text += fmt::format(
      "}};\nint main(void) {{\n  uint16_t differing = 0; uint32_t worst = 0;\n{1}  UCSR0B = 1 << TXEN0; TIMSK1 = 1 << "
      "TOIE1; TCCR1B = 1; "
      "sei();\n"
      "  for (uint16_t i = 0; i < {0}; ++i) {{\n    int32_t out = 0;\n",
      calls.size(), load);
  text += with_bytes  ? fmt::format("    uint8_t in[{0}]; memcpy_P(in, inputs[i], {0});\n", length)
          : with_side ? "    const uint32_t in = pgm_read_dword(inputs[i]);\n"
                        "    const int32_t side = (int32_t)pgm_read_dword(inputs[i] + 1);\n"
                      : "    const uint32_t in = pgm_read_dword(inputs + i);\n";
  text += fmt::format(
      "    begin(); nothing(in, &out{1}); const uint32_t frame = now();\n"
      "    begin(); uint8_t status = {0}_convert(in, &out{1}); const uint32_t took = now() - frame + 9; value = out;\n"
      "    if (took > worst) worst = took;\n"
      "    int32_t off = out - (int32_t)pgm_read_dword(values + i);\n"
      "    if (status != pgm_read_byte(statuses + i) || (status == 0 && (off < -{2} || off > {2}))) ++differing;\n  "
      "}}\n"
      "  put('Q'); number(worst, ','); number(differing, '\\n');\n"
      "  cli(); sleep_enable(); sleep_cpu();\n  return 0;\n}}\n",
      name, more, slack);
  return text;
}

// Text and data of an object file or a program.
std::optional<int> flash_of(const std::string& file) {
  const auto sizes = output_of("avr-size -B " + file);
  int text = 0, data = 0;
  if (!sizes || std::sscanf(sizes->c_str(), "%*[^\n]\n%d %d", &text, &data) != 2) return std::nullopt;
  return text + data;
}

// A program that does nothing but call NAME_convert, without the object file that has it.
std::optional<int> flash_around(const Workshop& workshop, const std::string& compiler, const std::string& caller,
                                const std::string& object) {
  const std::string program = workshop.path("whole.elf");
  if (!output_of(compiler + caller + " " + object + " -lm -o " + program)) return std::nullopt;
  const auto whole = flash_of(program), own = flash_of(object);
  return whole && own ? std::optional(*whole - *own) : std::nullopt;
}

// What the linker adds to a program for this object file beside what it adds for one that does nothing.
int library_of(const Workshop& workshop, const std::string& compiler, const std::string& name,
               const std::string& object, HandoffArguments arguments) {
  const bool with_bytes = arguments == HandoffArguments::bytes;
  const bool with_side = arguments == HandoffArguments::number_and_side;
  const std::string caller = workshop.path("caller.c"), stub = workshop.path("stub.c");
  const std::string declared =
      fmt::format("uint8_t {}_convert({}raw, int32_t *value{})", name, with_bytes ? "const uint8_t *" : "uint32_t ",
                  with_side ? ", int32_t side" : "");
  workshop.write("caller.c",
                 fmt::format("#include <stdint.h>\n{};\nvolatile uint32_t raw; volatile int32_t value;\n"
                             "int main(void) {{ int32_t out; {}_convert({}, &out{}); value = out; }}\n",
                             declared, name, with_bytes ? "(const uint8_t *)&raw" : "raw", with_side ? ", value" : ""));
  const auto with_it = flash_around(workshop, compiler, caller, object);
  // The other is the same for every name.
  static std::mutex guard;
  static std::map<HandoffArguments, std::optional<int>> known;
  const std::lock_guard lock(guard);
  if (!known.contains(arguments)) {
    workshop.write(
        "stub.c", fmt::format("#include <stdint.h>\n{} {{ *value = (int32_t)(uintptr_t)raw; return 0; }}\n", declared));
    const std::string nothing = workshop.path("stub.o");
    known[arguments] = output_of(compiler + "-c " + stub + " -o " + nothing)
                           ? flash_around(workshop, compiler, caller, nothing)
                           : std::nullopt;
  }
  const auto& without_it = known[arguments];
  return with_it && without_it ? std::max(*with_it - *without_it, 0) : 0;
}

}  // namespace

std::string measuring_tools() {
  if (!is_there("avr-gcc") || !is_there("avr-size")) return "";
  return is_there("simavr") ? to_translate("an 8-bit controller, compiled for size, cycles counted in its simulator")
                            : to_translate("an 8-bit controller, compiled for size");
}

std::optional<HandoffCost> measure_handoff(const std::string& name, const std::string& header,
                                           const std::string& source, std::vector<HandoffCall> calls,
                                           HandoffArguments arguments, int slack,
                                           const std::vector<std::uint8_t>& trimming) {
  if (measuring_tools().empty()) return std::nullopt;
  const Workshop workshop;
  if (!workshop.is_open()) return std::nullopt;
  workshop.write(name + ".h", header);
  workshop.write(name + ".c", source);
  const std::string for_controller = std::string("avr-gcc -mmcu=") + measured_controller + " -Os ",
                    compiler = for_controller + "-std=c99 ", object = workshop.path(name + ".o");
  if (!output_of(compiler + "-c " + workshop.path(name + ".c") + " -o " + object)) return std::nullopt;
  const auto sizes = output_of("avr-size -B " + object);
  int text = 0, data = 0, zeroed = 0;
  if (!sizes || std::sscanf(sizes->c_str(), "%*[^\n]\n%d %d %d", &text, &data, &zeroed) != 3) return std::nullopt;
  HandoffCost cost{.flash_bytes = text + data, .ram_bytes = data + zeroed, .cycles_worst = 0};
  // Constant tables are copied to the memory of this controller when it starts; they count as text of an object file.
  if (const auto sections = output_of("avr-size -A " + object)) {
    for (std::size_t at = sections->find(".rodata"); at != std::string::npos; at = sections->find(".rodata", at + 7)) {
      int size = 0;
      if (std::sscanf(sections->c_str() + at, "%*s %d", &size) == 1) cost.ram_bytes += size;
    }
  }
  if (calls.empty()) return cost;
  cost.library_bytes = library_of(workshop, compiler, name, object, arguments);
  if (!is_there("simavr")) return cost;
  calls = that_fit(std::move(calls), arguments);
  workshop.write("harness.c", harness(name, calls, arguments, slack, trimming));
  const std::string program = workshop.path("harness.elf");
  if (!output_of(for_controller + "-std=gnu99 -I" + workshop.path("") + " " + workshop.path("harness.c") + " " +
                 object + " -lm -o " + program))
    return cost;
  const auto printed =
      output_of(std::string("(timeout 60 simavr -m ") + measured_controller + " -f 16000000 " + program + " 2>&1)");
  if (!printed) return cost;
  // The simulator writes its line in colours.
  int worst = 0, differing = 0;
  if (const auto at = printed->find('Q');
      at != std::string::npos && std::sscanf(printed->c_str() + at, "Q%d,%d", &worst, &differing) == 2) {
    cost.cycles_worst = worst;
    cost.compared = static_cast<int>(calls.size());
    cost.differing = differing;
  }
  return cost;
}

}  // namespace fair_gauge
