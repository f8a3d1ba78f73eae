#include <fmt/format.h>

#include <algorithm>

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

// ---- C ----

std::string c_step(const ReadingPlan& plan, const BoardStep& step, std::string_view into) {
  const std::string& name = plan.name;
  const std::string comment = step.what.empty() ? "" : "  /* " + comment_text(step.what) + " */\n";
  const std::string silent = fmt::format("return {}_NO_RESPONSE", name);
  const std::string from = step.bytes.empty() ? "0, 0" : fmt::format("from, {}", step.bytes.size());
  const std::string command =
      step.bytes.empty() ? "" : fmt::format("static const uint8_t from[] = {{{}}};\n    ", hex_list(step.bytes));
  switch (step.kind) {
    case Kind::write:
      if (step.bytes.empty()) return comment + fmt::format("  if (!board_write({}_ADDRESS, 0, 0)) {};\n", name, silent);
      return comment + fmt::format(
                           "  {{\n    static const uint8_t to[] = {{{}}};\n    if (!board_write({}_ADDRESS, to, "
                           "{})) {};\n  }}\n",
                           hex_list(step.bytes), name, step.bytes.size(), silent);
    case Kind::wait: return comment + fmt::format("  board_wait_ms({});\n", step.ms);
    case Kind::until:
      return comment + fmt::format("  status = wait_until({}, {}, {}, {});\n  if (status != {}_OK) return status;\n",
                                   upper_hex(step.bytes.front()), upper_hex(static_cast<std::uint8_t>(step.mask)),
                                   upper_hex(static_cast<std::uint8_t>(step.value)), step.ms, name);
    case Kind::read:
      return comment + fmt::format("  {{\n    {}if (!board_read({}_ADDRESS, {}, {} + {}, {})) {};\n  }}\n", command,
                                   name, from, into, step.at, step.count, silent);
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

constexpr std::string_view c_until = R"(
/* Reads a register until these bits have this value. */
static uint8_t wait_until(uint8_t from, uint8_t mask, uint8_t value, uint16_t ms) {{
  uint8_t is;
  for (;;) {{
    if (!board_read({0}_ADDRESS, &from, 1, &is, 1)) return {0}_NO_RESPONSE;
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
  if (!board_read({0}_ADDRESS, &from, 1, is, count)) return {0}_NO_RESPONSE;
  number = is[0];
  if (count > 1) number = (uint16_t)((uint16_t)(number << 8) | is[1]);
  return (number & mask) == value ? (uint8_t){0}_OK : otherwise;
}}
)";

// ---- Python ----

std::string py_bytes(const std::vector<std::uint8_t>& bytes) {
  return fmt::format("bytes(({}))", hex_list(bytes) + (bytes.empty() ? "" : ","));
}

std::string py_step(const BoardStep& step) {
  const std::string comment = step.what.empty() ? "" : "    # " + comment_text(step.what) + "\n";
  switch (step.kind) {
    case Kind::write:
      return comment + fmt::format("    if not board.write(ADDRESS, {}):\n        return (NO_RESPONSE, None)\n",
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
                           "    got = board.read(ADDRESS, {}, {})\n    if got is None:\n        return "
                           "(NO_RESPONSE, None)\n    data[{}:{}] = got\n",
                           py_bytes(step.bytes), step.count, step.at, step.at + step.count);
    case Kind::check:
      return comment + fmt::format(
                           "    status = _check(board, {}, {}, 0x{:X}, 0x{:X}, {})\n    if status != OK:\n        "
                           "return (status, None)\n",
                           upper_hex(step.bytes.front()), step.count, step.mask, step.value,
                           step.status == reading_wrong_part ? "WRONG_PART" : "NOT_KEPT");
  }
  return "";
}

std::string py_steps(const std::vector<BoardStep>& steps) {
  std::string text;
  for (const BoardStep& step : steps) text += py_step(step);
  return text;
}

constexpr std::string_view py_until = R"(

def _wait_until(board, start, mask, value, ms):
    """Reads a register until these bits have this value."""
    while True:
        got = board.read(ADDRESS, bytes((start,)), 1)
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
    got = board.read(ADDRESS, bytes((start,)), count)
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
  std::string header = fmt::format(
      "/* {}: how one reading is made over the two-wire bus. */\n#ifndef {}_READ_H\n#define "
      "{}_READ_H\n\n#include <stdint.h>\n\n#include \"{}.h\"\n\n",
      comment_text(plan.channel_name), guard, guard, name);
  for (const std::string& remark : plan.remarks) header += "/* " + comment_text(remark) + " */\n";
  header += fmt::format(
      "#define {0}_ADDRESS 0x{1:02X} /* 7 bits */\n#define {0}_BYTES {2}\n\n"
      "/* What only your board knows; each returns 1 if the part answered, else 0. */\n"
      "uint8_t board_write(uint8_t device, const uint8_t *bytes, uint8_t count);\n"
      "/* `count` bytes after `commands` bytes of command and a repeated start; 0 commands: at once. */\n"
      "uint8_t board_read(uint8_t device, const uint8_t *command, uint8_t commands, uint8_t *bytes, "
      "uint8_t count);\n"
      "void board_wait_ms(uint16_t ms);\n\n"
      "/* Besides the statuses of {0}_convert. */\n#define {0}_NOT_KEPT {3} /* a register did not keep "
      "what was written */\n#define {0}_WRONG_PART {4} /* another part answers at this address */\n\n"
      "/* Once, when the part has its supply: settings, read back. Returns {0}_OK or why not. */\n"
      "uint8_t {0}_begin(void);\n"
      "/* One reading: {0}_BYTES bytes for {0}_convert. Returns {0}_OK or why not. */\n"
      "uint8_t {0}_read(uint8_t *bytes);\n\n#endif\n",
      name, plan.address, plan.bytes, reading_not_kept, reading_wrong_part);
  std::vector<BoardStep> all = plan.begin;
  all.insert(all.end(), plan.each.begin(), plan.each.end());
  std::string source = fmt::format("#include \"{}_read.h\"\n", name);
  if (uses(all, Kind::until)) source += fmt::format(c_until, name);
  if (uses(all, Kind::check)) source += fmt::format(c_check, name);
  const auto function = [&](std::string_view head, const std::vector<BoardStep>& steps, std::string body) {
    const bool has_status = uses(steps, Kind::until) || uses(steps, Kind::check);
    return fmt::format("\n{} {{\n{}{}}}\n", head, has_status ? "  uint8_t status;\n" : "", body);
  };
  std::string end = fmt::format("  return {}_OK;\n", name), load;
  if (!plan.trimming.empty()) {
    load = fmt::format("  uint8_t trimming[{}];\n", plan.trimming_bytes);
    end = c_steps(plan, plan.trimming, "trimming") + fmt::format("  return {}_load_trimming(trimming);\n", name);
  }
  source += function(fmt::format("uint8_t {}_begin(void)", name), plan.begin,
                     load + c_steps(plan, plan.begin, "bytes") + end);
  source += function(fmt::format("uint8_t {}_read(uint8_t *bytes)", name), plan.each,
                     c_steps(plan, plan.each, "bytes") + fmt::format("  return {}_OK;\n", name));
  return {std::move(header), std::move(source)};
}

std::string write_reading_python(const ReadingPlan& plan) {
  std::string text = fmt::format(
      "# {}: how one reading is made over the two-wire bus.\n"
      "# The board is yours: write(address, bytes) -> True if the part answered,\n"
      "# read(address, command, count) -> bytes after that command and a repeated start, or "
      "None,\n# and wait_ms(ms).\n",
      comment_text(plan.channel_name));
  for (const std::string& remark : plan.remarks) text += "# " + comment_text(remark) + "\n";
  text += fmt::format(
      "\nADDRESS = 0x{:02X}  # 7 bits\nBYTES = {}\n\nOK = 0\nNOT_READY = {}\nNO_RESPONSE = {}\nNOT_KEPT = "
      "{}  # a register did not keep what was written\nWRONG_PART = {}  # another part answers at this "
      "address\n",
      plan.address, plan.bytes, static_cast<int>(HandoffStatus::not_ready),
      static_cast<int>(HandoffStatus::no_response), reading_not_kept, reading_wrong_part);
  std::vector<BoardStep> all = plan.begin;
  all.insert(all.end(), plan.each.begin(), plan.each.end());
  if (uses(all, Kind::until)) text += py_until;
  if (uses(all, Kind::check)) text += py_check;
  text +=
      "\n\ndef begin(board):\n    \"\"\"Once, when the part has its supply -> (status, trimming for load_trimming or "
      "None).\"\"\"\n" +
      py_steps(plan.begin);
  if (plan.trimming.empty())
    text += "    return (OK, None)\n";
  else
    text += fmt::format("    data = bytearray({})\n", plan.trimming_bytes) + py_steps(plan.trimming) +
            "    return (OK, bytes(data))\n";
  text += fmt::format(
              "\n\ndef read(board):\n    \"\"\"One reading -> (status, bytes for convert or None).\"\"\"\n    data = "
              "bytearray({})\n",
              plan.bytes) +
          py_steps(plan.each) + "    return (OK, bytes(data))\n";
  return text;
}

}  // namespace fair_gauge
