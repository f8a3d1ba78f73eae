#include "handoff/line_sketch.h"

#include <fmt/format.h>

#include <algorithm>
#include <cmath>
#include <vector>

#include "chain/chain.h"
#include "digital/registers.h"

namespace fair_gauge {
namespace {

struct Source {
  std::string name;
  std::uint32_t period_ms = 1000;
  std::size_t bytes = 0;  ///< of the block; 0 → a number
  std::string comment;
};

struct Plan {
  std::vector<Source> sources;
  std::vector<std::string> left_out;
};

// On one line, and nothing that would end a comment or a text.
std::string harmless(const std::string& text) {
  std::string plain;
  for (const char each : text)
    if (static_cast<unsigned char>(each) >= ' ' && each != '"' && each != '\\' && each != '*') plain += each;
  return plain;
}

std::string place_of(const Bench& bench, const Device& device, const Converter* converter) {
  for (const Pin& pin : bench.board.pins)
    if (pin.uses == device.id) return fmt::format("pin {}, ", pin.name);
  if (converter && !converter->name.empty()) return converter->name + ", ";
  return "";
}

Plan plan(const Bench& bench, const Catalogue& catalogue) {
  Plan plan;
  for (const Channel& channel : bench.channels) {
    const std::string name = called(channel);
    if (channel.derived) continue;
    if (channel.arrives_converted()) {
      plan.left_out.push_back(fmt::format("{}: its value arrives converted; send \"{}:\", the value and its unit", name,
                                          channel.name_on_line()));
      continue;
    }
    const Device* device = find_by_id(bench.devices, channel.device);
    const auto chain = build_chain(bench, catalogue, channel.id);
    if (!device || !chain) {
      plan.left_out.push_back(fmt::format("{}: {}", name, chain ? "it has no sensor" : chain.problem().wrong));
      continue;
    }
    Source source{.name = channel.name_on_line(),
                  .period_ms = static_cast<std::uint32_t>(std::clamp(channel.period_s * 1000, 10.0, 3.6e6))};
    const Converter* converter = find_by_id(bench.converters, device->converter);
    if (chain->bytes) {
      const Bus* bus = find_by_id(bench.buses, device->bus);
      source.bytes = chain->bytes->block(0).size();
      source.comment = fmt::format("{}{}{}block {}, {} bytes", bus ? called(*bus) + ", " : "",
                                   device->address ? fmt::format("address 0x{:02X}, ", device->address) : "",
                                   device->serial.empty() ? "" : "serial " + device->serial + ", ",
                                   chain->bytes->block_name(), source.bytes);
    } else {
      const Part* part = catalogue.find(device->part);
      const bool has_gate = part && part->transfer.numbers.contains("gate");
      source.comment =
          fmt::format("{}{}", place_of(bench, *device, converter),
                      !chain->converter->counts_pulses()
                          ? fmt::format("code of {} bits", converter ? converter->reported_bits() : 12)
                      : has_gate ? fmt::format("pulses counted for {:g} s", conversion_time(*part, device->settings))
                                 : "pulses of one conversion");
    }
    source.comment = name + ": " + source.comment;
    // One frame may hold the numbers of several channels.
    const auto same = std::ranges::find(plan.sources, source.name, &Source::name);
    if (same == plan.sources.end())
      plan.sources.push_back(std::move(source));
    else
      same->comment += "; " + source.comment;
  }
  return plan;
}

constexpr const char* c_head = R"(#include <stdint.h>

/* Yours to fill in. */
uint32_t now_ms(void);         /* milliseconds since the start; may begin again at 0 */
void put_letter(char letter);  /* sends one letter over the serial line */
int32_t read_number(uint8_t source);                                /* the code, or the pulses, of sources[source] */
uint8_t read_bytes(uint8_t source, uint8_t *bytes, uint8_t size);   /* 1 if so many came, 0 if nothing answers */

)";

constexpr const char* c_tail = R"(
static void put_text(const char *text)
{
  while (*text) put_letter(*text++);
}

static void put_number(int32_t number)
{
  char digits[11];
  uint8_t count = 0;
  uint32_t left = number < 0 ? (uint32_t)0 - (uint32_t)number : (uint32_t)number;
  if (number < 0) put_letter('-');
  do {
    digits[count++] = (char)('0' + (char)(left % 10));
    left /= 10;
  } while (left > 0);
  while (count > 0) put_letter(digits[--count]);
}

static void put_byte(uint8_t byte)
{
  static const char hex[] = "0123456789ABCDEF";
  put_letter(hex[byte >> 4]);
  put_letter(hex[byte & 15]);
}

/* Call it again and again. */
void send_what_is_due(void)
{
  uint8_t bytes[MOST_BYTES];
  uint8_t i, k;
  for (i = 0; i < SOURCES; ++i) {
    const uint32_t now = now_ms();
    if ((int32_t)(now - due[i]) < 0) continue;
    due[i] = now + sources[i].period_ms;
    if (sources[i].bytes == 0) {
      put_text(sources[i].name);
      put_letter(':');
      put_number(read_number(i));
      put_letter('\n');
    } else if (read_bytes(i, bytes, sources[i].bytes)) {
      put_text(sources[i].name);
      put_text(":x");
      for (k = 0; k < sources[i].bytes; ++k) put_byte(bytes[k]);
      put_letter('\n');
    }
  }
}
)";

constexpr const char* python_tail = R"(
def send_what_is_due(now_ms, read_number, read_bytes, put_text):
    """Call it again and again with the milliseconds since the start.
    read_number(name) gives the code or the pulses, read_bytes(name, size) the bytes or None, put_text(text) sends."""
    for name, period_ms, size in SOURCES:
        if now_ms < due.get(name, 0):
            continue
        due[name] = now_ms + period_ms
        if size == 0:
            put_text("%s:%d\n" % (name, read_number(name)))
            continue
        data = read_bytes(name, size)
        if data is not None:
            put_text("%s:x%s\n" % (name, "".join("%02X" % byte for byte in data)))
)";

std::string in_c(const Bench& bench, const Plan& plan) {
  std::string text = fmt::format("/* {}: raw numbers, one line each: name:code, bytes as name:x1A2B. */\n",
                                 harmless(bench.name.empty() ? "bench" : bench.name));
  for (const std::string& each : plan.left_out) text += fmt::format("/* Left out. {} */\n", harmless(each));
  if (plan.sources.empty()) return text + "/* Nothing to send yet: no channel has a raw number. */\n";
  text += c_head;
  std::size_t most = 1;
  for (const Source& each : plan.sources) most = std::max(most, each.bytes);
  text += fmt::format("enum {{ SOURCES = {}, MOST_BYTES = {} }};\n\n", plan.sources.size(), most);
  text +=
      "static const struct {\n  const char *name;\n  uint32_t period_ms;\n  uint8_t bytes; /* 0: a number */\n"
      "} sources[SOURCES] = {\n";
  for (const Source& each : plan.sources)
    text += fmt::format("  {{\"{}\", {}, {}}}, /* {} */\n", harmless(each.name), each.period_ms, each.bytes,
                        harmless(each.comment));
  return text + "};\nstatic uint32_t due[SOURCES];\n" + c_tail;
}

std::string in_python(const Bench& bench, const Plan& plan) {
  std::string text = fmt::format("# {}: raw numbers, one line each: name:code, bytes as name:x1A2B.\n",
                                 harmless(bench.name.empty() ? "bench" : bench.name));
  for (const std::string& each : plan.left_out) text += fmt::format("# Left out. {}\n", harmless(each));
  if (plan.sources.empty()) return text + "# Nothing to send yet: no channel has a raw number.\n";
  text += "\n# Name on the line, milliseconds between readings, bytes (0: a number).\nSOURCES = [\n";
  for (const Source& each : plan.sources)
    text += fmt::format("    (\"{}\", {}, {}),  # {}\n", harmless(each.name), each.period_ms, each.bytes,
                        harmless(each.comment));
  return text + "]\ndue = {}\n\n" + python_tail;
}

}  // namespace

std::string line_sketch(const Bench& bench, const Catalogue& catalogue, Language language) {
  const Plan sources = plan(bench, catalogue);
  return language == Language::c ? in_c(bench, sources) : in_python(bench, sources);
}

}  // namespace fair_gauge
