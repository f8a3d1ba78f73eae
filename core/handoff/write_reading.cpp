#include <fmt/format.h>

#include <algorithm>

#include "handoff/c_words.h"
#include "handoff/reading_plan.h"

namespace fair_gauge {
namespace {

using Kind = BoardStep::Kind;

std::string upper_hex(std::uint8_t byte) { return fmt::format("0x{:02X}", byte); }

std::string hex_list(const std::vector<std::uint8_t>& bytes) {
  std::string list;
  for (const std::uint8_t byte : bytes) list += (list.empty() ? "" : ", ") + upper_hex(byte);
  return list;
}

// On one line, and nothing that would end a comment.
std::string comment_text(std::string text) {
  std::erase_if(text, [](char c) { return static_cast<unsigned char>(c) < ' ' || c == '*' || c == '\\'; });
  return text;
}

bool uses(const std::vector<BoardStep>& steps, Kind kind) {
  return std::ranges::any_of(steps, [&](const BoardStep& step) { return step.kind == kind; });
}

// How the steps talk over each line: what the board has to bring, and what is made of it.
struct LineWords {
  std::string_view name;          // of the line
  std::string_view c_board;       // declarations of what the maker writes
  std::string_view c_helpers;     // line_put and line_get made of them
  std::string_view python_board;  // the same as comments and functions
  std::string_view python_helpers;
};

constexpr LineWords two_wire = {"two-wire bus",
                                R"(/* What only your board knows; each returns 1 if the part answered, else 0. */
uint8_t board_write(uint8_t device, const uint8_t *bytes, uint8_t count);
/* `count` bytes after `commands` bytes of command and a repeated start; 0 commands: at once. */
uint8_t board_read(uint8_t device, const uint8_t *command, uint8_t commands, uint8_t *bytes, uint8_t count);
void board_wait_ms(uint16_t ms);
)",
                                "",
                                R"(# The board is yours: write(address, bytes) -> True if the part answered,
# read(address, command, count) -> bytes after that command and a repeated start, or None,
# and wait_ms(ms).
)",
                                ""};

constexpr LineWords one_wire = {
    "one-wire line",
    R"(/* What only your board knows. A reset holds the line low for 480 us; 1 if a part answered in the time after it. */
uint8_t board_reset(void);
/* The least bit of each byte first. */
void board_send(const uint8_t *bytes, uint8_t count);
void board_receive(uint8_t *bytes, uint8_t count);
void board_wait_ms(uint16_t ms);
)",
    R"(
static uint8_t line_put(const uint8_t *bytes, uint8_t count) {{
  static const uint8_t select[] = {{{1}}};
  if (!board_reset()) return 0;
  board_send(select, {2});
  board_send(bytes, count);
  return 1;
}}
)",
    R"(# The board is yours: reset() -> True if a part answered in the time after 480 us of low,
# send(bytes) and receive(count) -> bytes, the least bit of each first, and wait_ms(ms).
)",
    R"(

def _write(board, data):
    if not board.reset():
        return False
    board.send(SELECT + data)
    return True


def _read(board, command, count):
    return board.receive(count) if _write(board, command) else None
)"};
constexpr std::string_view one_wire_read = R"(
static uint8_t line_get(const uint8_t *command, uint8_t commands, uint8_t *bytes, uint8_t count) {
  if (!line_put(command, commands)) return 0;
  board_receive(bytes, count);
  return 1;
}
)";

constexpr LineWords four_wire = {"four-wire bus",
                                 R"(/* What only your board knows. 1 pulls the part's select pin low, 0 lets it go. */
void board_select(uint8_t on);
/* Sends `count` bytes from `out` (zeros where it is 0) while as many come into `in` (none are kept where it is 0). */
void board_transfer(const uint8_t *out, uint8_t *in, uint8_t count);
void board_wait_ms(uint16_t ms);
)",
                                 R"(
static uint8_t line_put(const uint8_t *bytes, uint8_t count) {{
  board_select(1);
  board_transfer(bytes, 0, count);
  board_select(0);
  return 1;
}}
)",
                                 R"(# The board is yours: select(on) pulls the part's select pin low or lets it go,
# transfer(bytes) -> as many bytes that came meanwhile, and wait_ms(ms).
)",
                                 R"(

def _write(board, data):
    board.select(True)
    board.transfer(data)
    board.select(False)
    return True


def _read(board, command, count):
    board.select(True)
    if command:
        board.transfer(command)
    got = board.transfer(bytes(count))
    board.select(False)
    return got
)"};
constexpr std::string_view four_wire_read = R"(
static uint8_t line_get(const uint8_t *command, uint8_t commands, uint8_t *bytes, uint8_t count) {
  board_select(1);
  if (commands > 0) board_transfer(command, 0, commands);
  board_transfer(0, bytes, count);
  board_select(0);
  return 1;
}
)";

constexpr LineWords single_wire = {"single wire",
                                   R"(/* What only your board knows. 0 pulls the line low, 1 lets it go. */
void board_line(uint8_t level);
/* Waits as long as the line has this level: us, 0 if it does not have it, or has it for more than 200 us. */
uint16_t board_level_us(uint8_t level);
void board_wait_ms(uint16_t ms);
)",
                                   R"(
/* Forty bits by how long each is high: longer than its low is a 1. Nothing else may interrupt it. */
static uint8_t frame(uint8_t *bytes, uint8_t count, uint16_t low_ms) {{
  uint8_t i, bit;
  board_line(0);
  board_wait_ms(low_ms);
  board_line(1);
  (void)board_level_us(1); /* until the part takes the line */
  if (!board_level_us(0) || !board_level_us(1)) return 0;
  for (i = 0; i < count; ++i) {{
    bytes[i] = 0;
    for (bit = 0; bit < 8; ++bit) {{
      const uint16_t low = board_level_us(0), high = board_level_us(1);
      if (!low || !high) return 0;
      bytes[i] = (uint8_t)((bytes[i] << 1) | (high > low ? 1 : 0));
    }}
  }}
  return 1;
}}
)",
                                   R"(# The board is yours: line(level) pulls the line low (0) or lets it go (1),
# level_us(level) -> us for which the line keeps this level, 0 if it does not have it
# or has it for more than 200 us, and wait_ms(ms).
)",
                                   R"(

def _frame(board, count, low_ms):
    """Bits by how long each is high: longer than its low is a 1."""
    board.line(0)
    board.wait_ms(low_ms)
    board.line(1)
    board.level_us(1)  # until the part takes the line
    if not board.level_us(0) or not board.level_us(1):
        return None
    data = bytearray(count)
    for i in range(8 * count):
        low = board.level_us(0)
        high = board.level_us(1)
        if not low or not high:
            return None
        data[i // 8] = data[i // 8] << 1 | (high > low)
    return bytes(data)
)"};

constexpr LineWords clock_and_data = {"clock and data line",
                                      R"(/* What only your board knows. 1 while the part's data line is high. */
uint8_t board_data(void);
void board_clock(uint8_t level);
void board_wait_ms(uint16_t ms);
)",
                                      R"(
/* Each bit while the clock is high, the greatest first. Nothing else may interrupt it. */
static uint8_t clock_in(uint8_t *bytes, uint8_t count, uint8_t clocks, uint16_t ms) {{
  uint8_t i, level;
  while (board_data()) {{
    if (ms == 0) return {0}_NOT_READY;
    --ms;
    board_wait_ms(1);
  }}
  for (i = 0; i < clocks; ++i) {{
    board_clock(1);
    level = board_data() ? 1 : 0;
    board_clock(0);
    if (i < 8 * count) bytes[i / 8] = (uint8_t)(i % 8 ? (bytes[i / 8] << 1) | level : level);
  }}
  return {0}_OK;
}}
)",
                                      R"(# The board is yours: data() -> whether the part's data line is high,
# clock(level) and wait_ms(ms).
)",
                                      R"(

def _clock_in(board, count, clocks, ms):
    """Each bit while the clock is high, the greatest first. Nothing else may interrupt it."""
    while board.data():
        if ms == 0:
            return None
        ms -= 1
        board.wait_ms(1)
    number = 0
    for i in range(clocks):
        board.clock(1)
        level = 1 if board.data() else 0
        board.clock(0)
        if i < 8 * count:
            number = number << 1 | level
    return number.to_bytes(count, 'big')
)"};

const LineWords& words_of(Interface line) {
  switch (line) {
    case Interface::one_wire: return one_wire;
    case Interface::spi: return four_wire;
    case Interface::single_wire: return single_wire;
    case Interface::serial_bridge: return clock_and_data;
    default: return two_wire;
  }
}

// ---- C ----

// The beginning of a call that writes or reads, up to its bytes.
std::string c_call(const ReadingPlan& plan, std::string_view what) {
  return plan.line == Interface::i2c ? fmt::format("board_{}({}_ADDRESS, ", what, plan.name)
                                     : fmt::format("line_{}(", what == "write" ? "put" : "get");
}

std::string c_step(const ReadingPlan& plan, const BoardStep& step, std::string_view into) {
  const std::string& name = plan.name;
  const std::string comment = step.what.empty() ? "" : "  /* " + comment_text(step.what) + " */\n";
  const std::string silent = fmt::format("return {}_NO_RESPONSE", name);
  const std::string from = step.bytes.empty() ? "0, 0" : fmt::format("from, {}", step.bytes.size());
  const std::string command =
      step.bytes.empty() ? "" : fmt::format("static const uint8_t from[] = {{{}}};\n    ", hex_list(step.bytes));
  const auto written = [&](const std::string& bytes) {
    const std::string call = c_call(plan, "write") + bytes + ")";
    return step.unanswered ? "(void)" + call + ";" : fmt::format("if (!{}) {};", call, silent);
  };
  switch (step.kind) {
    case Kind::write:
      if (step.bytes.empty()) return comment + "  " + written("0, 0") + "\n";
      return comment + fmt::format("  {{\n    static const uint8_t to[] = {{{}}};\n    {}\n  }}\n",
                                   hex_list(step.bytes), written(fmt::format("to, {}", step.bytes.size())));
    case Kind::wait: return comment + fmt::format("  board_wait_ms({});\n", step.ms);
    case Kind::until:
      return comment + fmt::format("  status = wait_until({}, {}, {}, {});\n  if (status != {}_OK) return status;\n",
                                   upper_hex(step.bytes.front()), upper_hex(static_cast<std::uint8_t>(step.mask)),
                                   upper_hex(static_cast<std::uint8_t>(step.value)), step.ms, name);
    case Kind::read:
      return comment + fmt::format("  {{\n    {}if (!{}{}, {} + {}, {})) {};\n  }}\n", command, c_call(plan, "read"),
                                   from, into, step.at, step.count, silent);
    case Kind::exchange:
      return comment + fmt::format(
                           "  {{\n    static const uint8_t to[] = {{{}}};\n    board_select(1);\n    "
                           "board_transfer(to, {} + {}, {});\n    board_select(0);\n  }}\n",
                           hex_list(step.bytes), into, step.at, step.count);
    case Kind::frame:
      return comment + fmt::format("  if (!frame({}, {}, {})) {};\n", into, step.count, step.ms, silent);
    case Kind::clock:
      return comment + fmt::format("  status = clock_in({}, {}, {}, {});\n  if (status != {}_OK) return status;\n",
                                   into, step.count, step.value, step.ms, name);
    case Kind::check:
      return comment +
             fmt::format("  status = check({}, {}, 0x{:X}, 0x{:X}, {});\n  if (status != {}_OK) return status;\n",
                         upper_hex(step.bytes.front()), step.count, step.mask, step.value,
                         step.status == reading_wrong_part ? name + "_WRONG_PART" : name + "_NOT_KEPT", name);
  }
  return "";
}

std::string c_steps(const ReadingPlan& plan, const std::vector<BoardStep>& steps, std::string_view into) {
  std::string text;
  for (const BoardStep& step : steps) text += c_step(plan, step, into);
  return text;
}

std::string_view c_handed_over(const ReadingPlan& plan) { return plan.number ? "uint32_t *raw" : "uint8_t *bytes"; }

// The code among the bytes, as two's complement in 32 bits where it has a sign.
std::string c_number(const FieldPlace& place) {
  std::string text = fmt::format("  *raw = {};\n", bits_as_number(place.runs(), place.bits(), Language::c));
  if (place.least() < 0 && place.bits() < 32)
    text += fmt::format("  if (*raw & UINT32_C(0x{:X})) *raw |= UINT32_C(0x{:X}); /* negative */\n",
                        1u << (place.bits() - 1), ~0u << place.bits());
  return text;
}

constexpr std::string_view c_until = R"(
/* Reads a register until these bits have this value. */
static uint8_t wait_until(uint8_t from, uint8_t mask, uint8_t value, uint16_t ms) {{
  uint8_t is;
  for (;;) {{
    if (!{1}&from, 1, &is, 1)) return {0}_NO_RESPONSE;
    if ((is & mask) == value) return {0}_OK;
    if (ms == 0) return {0}_NOT_READY;
    --ms;
    board_wait_ms(1);
  }}
}}
)";

constexpr std::string_view c_check = R"(
/* Whether these bits of a register have this value. */
static uint8_t check(uint8_t from, uint8_t count, uint16_t mask, uint16_t value, uint8_t otherwise) {{
  uint8_t is[2];
  uint16_t number;
  if (!{1}&from, 1, is, count)) return {0}_NO_RESPONSE;
  number = is[0];
  if (count > 1) number = (uint16_t)((uint16_t)(number << 8) | is[1]);
  return (number & mask) == value ? (uint8_t){0}_OK : otherwise;
}}
)";

// ---- Python ----

std::string py_bytes(const std::vector<std::uint8_t>& bytes) {
  return fmt::format("bytes(({}))", hex_list(bytes) + (bytes.empty() ? "" : ","));
}

std::string py_call(const ReadingPlan& plan, std::string_view what) {
  return plan.line == Interface::i2c ? fmt::format("board.{}(ADDRESS, ", what) : fmt::format("_{}(board, ", what);
}

std::string py_step(const ReadingPlan& plan, const BoardStep& step) {
  const std::string comment = step.what.empty() ? "" : "    # " + comment_text(step.what) + "\n";
  switch (step.kind) {
    case Kind::write:
      if (step.unanswered) return comment + fmt::format("    {}{})\n", py_call(plan, "write"), py_bytes(step.bytes));
      return comment + fmt::format("    if not {}{}):\n        return (NO_RESPONSE, None)\n", py_call(plan, "write"),
                                   py_bytes(step.bytes));
    case Kind::wait: return comment + fmt::format("    board.wait_ms({})\n", step.ms);
    case Kind::until:
      return comment + fmt::format(
                           "    status = _wait_until(board, {}, {}, {}, {})\n    if status != OK:\n        return "
                           "(status, None)\n",
                           upper_hex(step.bytes.front()), upper_hex(static_cast<std::uint8_t>(step.mask)),
                           upper_hex(static_cast<std::uint8_t>(step.value)), step.ms);
    case Kind::read:
      return comment + fmt::format(
                           "    got = {}{}, {})\n    if got is None:\n        return "
                           "(NO_RESPONSE, None)\n    data[{}:{}] = got\n",
                           py_call(plan, "read"), py_bytes(step.bytes), step.count, step.at, step.at + step.count);
    case Kind::exchange:
      return comment +
             fmt::format("    board.select(True)\n    data[{}:{}] = board.transfer({})\n    board.select(False)\n",
                         step.at, step.at + step.count, py_bytes(step.bytes));
    case Kind::frame:
      return comment + fmt::format(
                           "    got = _frame(board, {}, {})\n    if got is None:\n        return (NO_RESPONSE, "
                           "None)\n    data[:] = got\n",
                           step.count, step.ms);
    case Kind::clock:
      return comment + fmt::format(
                           "    got = _clock_in(board, {}, {}, {})\n    if got is None:\n        return (NOT_READY, "
                           "None)\n{}",
                           step.count, step.value, step.ms, step.at < 0 ? "" : "    data[:] = got\n");
    case Kind::check:
      return comment + fmt::format(
                           "    status = _check(board, {}, {}, 0x{:X}, 0x{:X}, {})\n    if status != OK:\n        "
                           "return (status, None)\n",
                           upper_hex(step.bytes.front()), step.count, step.mask, step.value,
                           step.status == reading_wrong_part ? "WRONG_PART" : "NOT_KEPT");
  }
  return "";
}

std::string py_steps(const ReadingPlan& plan, const std::vector<BoardStep>& steps) {
  std::string text;
  for (const BoardStep& step : steps) text += py_step(plan, step);
  return text;
}

constexpr std::string_view py_until = R"(

def _wait_until(board, start, mask, value, ms):
    """Reads a register until these bits have this value."""
    while True:
        got = {}bytes((start,)), 1)
        if got is None:
            return NO_RESPONSE
        if got[0] & mask == value:
            return OK
        if ms == 0:
            return NOT_READY
        ms -= 1
        board.wait_ms(1)
)";

constexpr std::string_view py_check = R"(

def _check(board, start, count, mask, value, otherwise):
    """Whether these bits of a register have this value."""
    got = {}bytes((start,)), count)
    if got is None:
        return NO_RESPONSE
    number = 0
    for byte in got:
        number = number << 8 | byte
    return OK if number & mask == value else otherwise
)";

}  // namespace

std::pair<std::string, std::string> write_reading_c(const ReadingPlan& plan) {
  const std::string& name = plan.name;
  std::string guard = name;
  std::ranges::transform(guard, guard.begin(), [](unsigned char c) { return static_cast<char>(std::toupper(c)); });
  const LineWords& line = words_of(plan.line);
  std::string header = fmt::format(
      "/* {}: how one reading is made over the {}. */\n#ifndef {}_READ_H\n#define "
      "{}_READ_H\n\n#include <stdint.h>\n\n#include \"{}.h\"\n\n",
      comment_text(plan.channel_name), line.name, guard, guard, name);
  for (const std::string& remark : plan.remarks) header += "/* " + comment_text(remark) + " */\n";
  if (plan.line == Interface::i2c)
    header += fmt::format("#define {}_ADDRESS 0x{:02X} /* 7 bits */\n", name, plan.address);
  if (!plan.number) header += fmt::format("#define {}_BYTES {}\n", name, plan.bytes);
  header += fmt::format("\n{}\n", line.c_board);
  header += fmt::format(
      "/* Besides the statuses of {0}_convert. */\n#define {0}_NOT_KEPT {1} /* a register did not keep "
      "what was written */\n#define {0}_WRONG_PART {2} /* another part answers at this address */\n\n"
      "/* Once, when the part has its supply: settings, read back. Returns {0}_OK or why not. */\n"
      "uint8_t {0}_begin(void);\n"
      "/* One reading: {3} for {0}_convert. Returns {0}_OK or why not. */\n"
      "uint8_t {0}_read({4});\n\n#endif\n",
      name, reading_not_kept, reading_wrong_part, plan.number ? "the raw number" : fmt::format("{}_BYTES bytes", name),
      c_handed_over(plan));
  std::vector<BoardStep> all = plan.begin;
  all.insert(all.end(), plan.each.begin(), plan.each.end());
  std::string source = fmt::format("#include \"{}_read.h\"\n", name);
  // Only what is used: a part that is never written to has no line_put.
  const bool reads = uses(all, Kind::read) || uses(all, Kind::until) || uses(all, Kind::check);
  const bool writes = uses(all, Kind::write);
  if (plan.line == Interface::single_wire || plan.line == Interface::one_wire ||
      plan.line == Interface::serial_bridge || writes)
    source += fmt::format(fmt::runtime(line.c_helpers), name, hex_list(plan.select), plan.select.size());
  if (reads && plan.line == Interface::one_wire) source += one_wire_read;
  if (reads && plan.line == Interface::spi) source += four_wire_read;
  if (uses(all, Kind::until)) source += fmt::format(c_until, name, c_call(plan, "read"));
  if (uses(all, Kind::check)) source += fmt::format(c_check, name, c_call(plan, "read"));
  const auto function = [&](std::string_view head, const std::vector<BoardStep>& steps, std::string body) {
    const bool has_status = uses(steps, Kind::until) || uses(steps, Kind::check) || uses(steps, Kind::clock);
    return fmt::format("\n{} {{\n{}{}}}\n", head, has_status ? "  uint8_t status;\n" : "", body);
  };
  const std::string end_of_reading = fmt::format("  return {}_OK;\n", name);
  const std::string own = plan.number ? fmt::format("  uint8_t bytes[{}];\n", plan.bytes) : "";
  std::string end = end_of_reading, load = uses(plan.begin, Kind::clock) ? own : "";
  if (!plan.trimming.empty()) {
    load = fmt::format("  uint8_t trimming[{}];\n", plan.trimming_bytes);
    end = c_steps(plan, plan.trimming, "trimming") + fmt::format("  return {}_load_trimming(trimming);\n", name);
  }
  source += function(fmt::format("uint8_t {}_begin(void)", name), plan.begin,
                     load + c_steps(plan, plan.begin, "bytes") + end);
  source +=
      function(fmt::format("uint8_t {}_read({})", name, c_handed_over(plan)), plan.each,
               own + c_steps(plan, plan.each, "bytes") + (plan.number ? c_number(*plan.number) : "") + end_of_reading);
  return {std::move(header), std::move(source)};
}

std::string write_reading_python(const ReadingPlan& plan) {
  const LineWords& line = words_of(plan.line);
  std::string text = fmt::format("# {}: how one reading is made over the {}.\n{}", comment_text(plan.channel_name),
                                 line.name, line.python_board);
  for (const std::string& remark : plan.remarks) text += "# " + comment_text(remark) + "\n";
  text += "\n";
  if (plan.line == Interface::i2c) text += fmt::format("ADDRESS = 0x{:02X}  # 7 bits\n", plan.address);
  if (plan.line == Interface::one_wire) text += fmt::format("SELECT = {}\n", py_bytes(plan.select));
  text += fmt::format(
      "BYTES = {}\n\nOK = 0\nNOT_READY = {}\nNO_RESPONSE = {}\nNOT_KEPT = "
      "{}  # a register did not keep what was written\nWRONG_PART = {}  # another part answers at this "
      "address\n",
      plan.bytes, static_cast<int>(HandoffStatus::not_ready), static_cast<int>(HandoffStatus::no_response),
      reading_not_kept, reading_wrong_part);
  text += line.python_helpers;
  std::vector<BoardStep> all = plan.begin;
  all.insert(all.end(), plan.each.begin(), plan.each.end());
  if (uses(all, Kind::until)) text += fmt::format(py_until, py_call(plan, "read"));
  if (uses(all, Kind::check)) text += fmt::format(py_check, py_call(plan, "read"));
  text +=
      "\n\ndef begin(board):\n    \"\"\"Once, when the part has its supply -> (status, trimming for load_trimming or "
      "None).\"\"\"\n" +
      py_steps(plan, plan.begin);
  if (plan.trimming.empty())
    text += "    return (OK, None)\n";
  else
    text += fmt::format("    data = bytearray({})\n", plan.trimming_bytes) + py_steps(plan, plan.trimming) +
            "    return (OK, bytes(data))\n";
  text += fmt::format(
              "\n\ndef read(board):\n    \"\"\"One reading -> (status, {} for convert or None).\"\"\"\n    data = "
              "bytearray({})\n",
              plan.number ? "the raw number" : "bytes", plan.bytes) +
          py_steps(plan, plan.each);
  if (!plan.number) return text + "    return (OK, bytes(data))\n";
  text += fmt::format("    number = {}\n", bits_as_number(plan.number->runs(), plan.number->bits(), Language::python));
  if (plan.number->least() >= 0) return text + "    return (OK, number)\n";
  const std::int64_t top = std::int64_t{1} << (plan.number->bits() - 1);
  return text + fmt::format("    return (OK, number - {} if number >= {} else number)\n", 2 * top, top);
}

}  // namespace fair_gauge
