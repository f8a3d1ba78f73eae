#include "handoff/reading_plan.h"

#include <fmt/format.h>

#include <algorithm>
#include <cctype>
#include <cmath>
#include <span>

#include "chain/converter_part.h"
#include "digital/decoder.h"
#include "digital/registers.h"
#include "language/translation.h"
#include "wiring/bus_scan.h"

namespace fair_gauge {
namespace {

constexpr int longest_wait_ms = 65535;

std::optional<std::uint8_t> address_of(const std::string& text) {
  if (!text.starts_with("0x")) return std::nullopt;
  const auto byte = read_hex(text.substr(2));
  return byte && byte->size() == 1 ? std::optional(byte->front()) : std::nullopt;
}

// Up to the next millisecond, and one more: a tick of the controller's clock may have begun already.
int whole_ms(double seconds) {
  return static_cast<int>(std::clamp(std::ceil(seconds * 1000 - 1e-9) + 1, 1.0, double{longest_wait_ms}));
}

class Planner {
 public:
  // Blocks that are wanted, each with its place in what is handed over.
  Planner(const Device& device, const Part& part, std::span<const PlannedBlock> blocks)
      : device_(device),
        part_(part),
        layout_(part.bytes),
        blocks_(blocks),
        registers_(registers_of(part.bytes, device.settings, device.registers)) {}

  std::optional<Problem> run(ReadingPlan& plan) {
    for (const ReadingStep& step : layout_.sequence)
      if (!step.set.empty())
        if (auto problem = take_fields(step)) return problem;
    for (std::size_t r = 0; r < registers_.size(); ++r) known_[layout_.registers[r].address] = registers_[r];
    add_identity(plan);
    add_registers(plan);
    for (const ReadingStep& step : layout_.sequence) {
      auto& steps = step.once ? plan.begin : plan.each;
      if (auto problem = add(step, steps)) return problem;
    }
    return std::nullopt;
  }

  static std::optional<Problem> add_trimming(std::span<const PlannedBlock> blocks, ReadingPlan& plan) {
    for (const PlannedBlock& block : blocks) {
      if (!address_of(block.name))
        return Problem{translated("the trimming of this part is not read as one block ({})", block.name),
                       translated("trimming that is compiled in")};
      plan.trimming.push_back(block_read(block));
      plan.trimming_bytes += block.bytes;
    }
    return std::nullopt;
  }

 private:
  std::size_t register_named(const std::string& name) const {
    const auto found = std::ranges::find(layout_.registers, name, &PartRegister::name);
    return static_cast<std::size_t>(found - layout_.registers.begin());
  }

  bool is_set_by_bench(const PartRegister& reg) const {
    return device_.registers.contains(reg.address) ||
           std::ranges::any_of(layout_.settings, [&](const PartSetting& setting) {
             return device_.settings.contains(setting.key) && !setting.sets.empty() &&
                    std::ranges::find(reg.fields, setting.sets, &RegisterField::name) != reg.fields.end();
           });
  }

  // The conversion takes as long as the registers that the sequence writes ask for.
  std::optional<Problem> take_fields(const ReadingStep& step) {
    const std::size_t r = register_named(step.set);
    if (r == registers_.size()) return Problem{translated("the part has no register \"{}\"", step.set), ""};
    const PartRegister& reg = layout_.registers[r];
    const bool set = is_set_by_bench(reg);
    for (const auto* fields : {&step.usual, &step.fields}) {
      if (fields == &step.usual && set) continue;
      for (const auto& [name, number] : *fields) {
        const auto field = std::ranges::find(reg.fields, name, &RegisterField::name);
        if (field == reg.fields.end()) return Problem{translated("{} has no field \"{}\"", step.set, name), ""};
        registers_[r] = with_field(*field, registers_[r], static_cast<unsigned>(number));
      }
    }
    return std::nullopt;
  }

  static std::vector<std::uint8_t> value_bytes(const PartRegister& reg, unsigned value, bool low_first) {
    std::vector<std::uint8_t> bytes;
    for (int bit = reg.bits - 8; bit >= 0; bit -= 8) bytes.push_back(static_cast<std::uint8_t>(value >> bit));
    if (low_first) std::ranges::reverse(bytes);
    return bytes;
  }

  // "ctrl_meas: osrs_t ×1, mode once".
  static std::string meaning(const PartRegister& reg, unsigned value) {
    std::string words = reg.name + ":";
    for (const RegisterField& field : reg.fields)
      words += fmt::format(" {} = {} ({}),", field.name, field_value(field, value),
                           field_meaning(field, field_value(field, value)));
    words.pop_back();  // the last comma, or the colon of a register without fields
    return words;
  }

  BoardStep register_write(const PartRegister& reg, unsigned value, bool low_first,
                           const std::vector<std::uint8_t>& before = {}) const {
    BoardStep step{.kind = BoardStep::Kind::write, .what = meaning(reg, value)};
    constexpr int writes = 0x80;  // on a four-wire bus bit 7 of the address tells a write
    if (const auto address = address_of(reg.address))
      step.bytes.push_back(static_cast<std::uint8_t>(*address | (part_.interface == Interface::spi ? writes : 0)));
    for (const std::uint8_t byte : before) step.bytes.push_back(byte);
    for (const std::uint8_t byte : value_bytes(reg, value, low_first)) step.bytes.push_back(byte);
    return step;
  }

  void add_identity(ReadingPlan& plan) const {
    if (layout_.identity.empty() || layout_.identity.front().values.size() != 1) return;
    const PartIdentity& identity = layout_.identity.front();
    const auto address = address_of(identity.address);
    if (!address || identity.bits > 16) return;
    const auto all = static_cast<std::uint32_t>((1u << identity.bits) - 1);
    const auto mask = identity.mask > 0 ? static_cast<std::uint32_t>(identity.mask) : all;
    plan.begin.push_back({.kind = BoardStep::Kind::check,
                          .bytes = {*address},
                          .mask = mask,
                          .value = static_cast<std::uint32_t>(identity.values.front()) & mask,
                          .count = identity.bits / 8,
                          .status = reading_wrong_part,
                          .what = "who it says it is"});
  }

  bool is_written_later(const PartRegister& reg) const {
    return std::ranges::any_of(layout_.sequence, [&](const ReadingStep& step) {
      const auto first = step.write.empty() ? std::nullopt : address_of("0x" + step.write.front().substr(0, 2));
      return step.set == reg.name || (first && step.write.front().size() > 2 && first == address_of(reg.address));
    });
  }

  // Registers that are not as after power-on, in the file's order, and read back; those of the sequence are written by
  // it.
  void add_registers(ReadingPlan& plan) const {
    const auto power_on = power_on_values(layout_);
    for (std::size_t r = 0; r < registers_.size(); ++r) {
      const PartRegister& reg = layout_.registers[r];
      if (registers_[r] == power_on[r] || is_written_later(reg)) continue;
      const BoardStep written = register_write(reg, registers_[r], false);
      plan.begin.push_back(written);
      const auto from = address_of(reg.read_address.empty() ? reg.address : reg.read_address);
      if (!from) continue;
      plan.begin.push_back({.kind = BoardStep::Kind::check,
                            .bytes = {*from},
                            .mask = registers_[r] ^ power_on[r],
                            .value = registers_[r] & (registers_[r] ^ power_on[r]),
                            .count = reg.bits / 8,
                            .status = reading_not_kept,
                            .what = fmt::format("{} kept it", reg.name)});
    }
  }

  std::optional<Problem> add(const ReadingStep& step, std::vector<BoardStep>& steps) {
    if (!step.write.empty() || !step.computed.empty()) return add_write(step, steps);
    if (!step.set.empty()) {
      const std::size_t r = register_named(step.set);
      unsigned value = registers_[r];  // of several steps that set it, each its own fields
      for (const auto& [name, number] : step.fields)
        value = with_field(*std::ranges::find(layout_.registers[r].fields, name, &RegisterField::name), value,
                           static_cast<unsigned>(number));
      steps.push_back(
          register_write(layout_.registers[r], value, step.low_first,
                         step.before.empty() ? std::vector<std::uint8_t>() : read_hex(step.before).value_or({})));
    } else if (step.conversion) {
      if (const double seconds = conversion_time(part_, device_.settings, known_); seconds > 0)
        steps.push_back({.kind = BoardStep::Kind::wait, .ms = whole_ms(seconds), .what = "the longest conversion"});
    } else if (step.wait_s > 0) {
      steps.push_back({.kind = BoardStep::Kind::wait, .ms = whole_ms(step.wait_s), .what = "as the sheet asks"});
    } else if (!step.until.empty()) {
      const auto address = address_of(step.until);
      if (!address) return Problem{translated("\"{}\" is no address", step.until), translated("0x and two digits")};
      const double seconds = std::max(conversion_time(part_, device_.settings, known_), 0.1);
      steps.push_back({.kind = BoardStep::Kind::until,
                       .bytes = {*address},
                       .ms = whole_ms(2 * seconds),
                       .mask = 1u << step.bit,
                       .value = static_cast<std::uint32_t>(step.is) << step.bit,
                       .what = layout_.ready});
    } else if (!step.read.empty()) {
      const auto block = std::ranges::find(blocks_, step.read, &PlannedBlock::name);
      if (block == blocks_.end()) return std::nullopt;  // not needed for this quantity
      auto read = block_read(*block);
      if (!step.from.empty()) read.bytes = read_hex(step.from).value_or({});
      steps.push_back(std::move(read));
    }
    return std::nullopt;
  }

  std::optional<Problem> add_write(const ReadingStep& step, std::vector<BoardStep>& steps) const {
    std::size_t which = 0;
    std::string what = layout_.start;
    if (step.by.empty() && !step.computed.empty()) return add_computed(step, std::move(what), steps);
    if (!step.by.empty()) {
      const auto setting = std::ranges::find(layout_.settings, step.by, &PartSetting::key);
      if (setting == layout_.settings.end()) return Problem{translated("the part has no setting {}", step.by), ""};
      const auto given = device_.settings.find(step.by);
      const double value = given == device_.settings.end() ? setting->default_value : given->second;
      if (!step.computed.empty()) return add_computed(step, fmt::format("{} {:g}", step.by, value), steps);
      which = static_cast<std::size_t>(std::ranges::find(setting->choices, value, &SettingChoice::value) -
                                       setting->choices.begin());
      if (which >= step.write.size()) return Problem{translated("{} has no choice {}", step.by, value), ""};
      what = setting->choices[which].name.empty() ? fmt::format("{} {:g}", step.by, value)
                                                  : fmt::format("{} {}", step.by, setting->choices[which].name);
    }
    auto bytes = step.write[which].empty() ? Result<std::vector<std::uint8_t>>(std::vector<std::uint8_t>())
                                           : read_hex(step.write[which]);
    if (!bytes) return bytes.problem();
    steps.push_back({.kind = BoardStep::Kind::write,
                     .bytes = std::move(*bytes),
                     .unanswered = step.unanswered,
                     .what = std::move(what)});
    return std::nullopt;
  }

  std::optional<Problem> add_computed(const ReadingStep& step, std::string what, std::vector<BoardStep>& steps) const {
    BoardStep sent{.kind = step.read.empty() ? BoardStep::Kind::write : BoardStep::Kind::exchange,
                   .count = static_cast<int>(step.computed.size()),
                   .what = std::move(what)};
    for (const std::string& expression : step.computed) {
      const auto value = value_by_registers(layout_, registers_, expression, device_.settings);
      if (!value) return value.problem();
      if (!(*value >= 0 && *value < 255.5))
        return Problem{translated("\"{}\" gives {:g}", expression, *value), translated("a byte, 0 to 255")};
      sent.bytes.push_back(static_cast<std::uint8_t>(std::lround(*value)));
    }
    steps.push_back(std::move(sent));
    return std::nullopt;
  }

  static BoardStep block_read(const PlannedBlock& block) {
    BoardStep step{.kind = BoardStep::Kind::read,
                   .count = block.bytes,
                   .at = block.at,
                   .what = fmt::format("block {}", block.name)};
    if (const auto address = address_of(block.name)) step.bytes = {*address};
    return step;
  }

  const Device& device_;
  const Part& part_;
  const ByteLayout& layout_;
  std::span<const PlannedBlock> blocks_;
  std::vector<unsigned> registers_;      // as the reading has them
  std::map<std::string, double> known_;  // the same by address
};

}  // namespace

namespace {

// What the line asks for besides its steps.
void add_line_words(const Bench& bench, const Device& device, const Part& part, ReadingPlan& plan) {
  if (plan.address == 0 && !part.addresses.empty()) {
    plan.address = part.addresses.front().address;
    plan.remarks.push_back("The bench says no address: this is the part's first.");
  }
  if (part.interface == Interface::one_wire) {
    constexpr std::uint8_t match = 0x55, skip = 0xCC;
    const auto serial = read_hex(serial_of(device.serial));
    plan.select = {skip};
    if (serial && serial->size() == 8) {
      plan.select = {match};
      plan.select.insert(plan.select.end(), serial->begin(), serial->end());
    } else {
      plan.remarks.push_back("The bench knows no serial: this works while the part is alone on its line.");
    }
    if (const Bus* bus = find_by_id(bench.buses, device.bus); bus && bus->parasite)
      plan.remarks.push_back("The data line feeds the part: hold it high by its switch while board_wait_ms runs.");
  }
  const PartInterface* line = part.on(part.interface);
  if (part.interface == Interface::spi && line) {
    std::string words;
    for (const double mode : line->modes) words += fmt::format("{}{:g}", words.empty() ? "Mode " : " or ", mode);
    if (line->maximum_hz > 0) words += fmt::format(", {:g} MHz at most", line->maximum_hz / 1e6);
    if (!words.empty()) plan.remarks.push_back(words + ".");
  }
  if (part.interface == Interface::single_wire) {
    if (part.period_s > 0)
      plan.remarks.push_back(fmt::format("Not sooner than {:g} s after the last reading.", part.period_s));
    plan.remarks.push_back("It answers with what it measured the last time.");
  }
}

// A converter that goes on by itself: its bits are clocked out, and the clocks after them choose the gain of the next.
Result<ReadingPlan> plan_clocked(const Converter& converter, const Part& part, const HandoffCode& code) {
  const ByteLayout& layout = part.bytes;
  const auto gain = std::ranges::find(layout.settings, "gain", &PartSetting::key);
  const auto choice = gain == layout.settings.end()
                          ? std::vector<SettingChoice>::const_iterator()
                          : std::ranges::find(gain->choices, converter.gain, &SettingChoice::value);
  if (gain == layout.settings.end() || choice == gain->choices.end() || choice->clocks == 0)
    return Problem{
        translated("the file of {} does not tell how many clocks choose gain {:g}", part.name, converter.gain),
        translated("a gain that it has")};
  ReadingPlan plan{.name = code.name, .channel_name = code.channel_name, .line = part.interface};
  plan.number = code_place(part, converter.bits);
  if (!plan.number) return Problem{translated("the file of {} does not tell where its code lies", part.name), ""};
  plan.bytes = layout.blocks.front().bytes;
  const std::map<std::string, double> settings = {{"gain", converter.gain}};
  const double conversion = conversion_time(part, settings);
  const double settling = figure_of(part, settings, "settling", {}, {}).value_or(conversion);
  BoardStep step{
      .kind = BoardStep::Kind::clock,
      .ms = whole_ms(std::max(settling, conversion)),
      .value = static_cast<std::uint32_t>(choice->clocks),
      .count = plan.bytes,
      .at = -1,
      .what = fmt::format("thrown away: its {} clocks choose gain {:g} for the next", choice->clocks, converter.gain)};
  plan.begin = {step, {.kind = BoardStep::Kind::wait, .ms = whole_ms(settling), .what = "until that has settled"}};
  step.at = 0;
  step.what = fmt::format("{} bits, and gain {:g} again", 8 * plan.bytes, converter.gain);
  plan.each = {step};
  std::string how = layout.start;
  if (!how.empty()) how.front() = static_cast<char>(std::toupper(static_cast<unsigned char>(how.front())));
  plan.remarks.push_back(how + ".");
  return plan;
}

// What the converter of the bench is as settings of its part: gain, bits, full scale, reference, and its own beside.
Result<Device> as_device(const Bench& bench, const Converter& converter, const Part& part) {
  const double reference = reference_of(bench, converter).best_v();
  const std::map<std::string, double> known = {
      {"gain", converter.gain},
      {"bits", converter.bits},
      {"reference", reference},
      {"full_scale", reference * converter.span_per_reference / converter.gain}};
  Device device{.id = converter.id, .part = part.id, .settings = converter.settings, .address = converter.address};
  for (const PartSetting& setting : part.bytes.settings) {
    if (const auto found = known.find(setting.key); found != known.end()) device.settings[setting.key] = found->second;
    const auto given = device.settings.find(setting.key);
    if (given == device.settings.end() || setting.choices.empty()) continue;
    constexpr double near = 0.02;  // a reference as it was measured is still the choice
    const auto choice = std::ranges::find_if(setting.choices, [&](const SettingChoice& each) {
      return std::abs(each.value - given->second) <= near * std::abs(each.value);
    });
    if (choice == setting.choices.end())
      return Problem{translated("{} has no {} {:g}", part.name, setting.key, given->second),
                     translated("a choice that its file lists")};
    given->second = choice->value;
  }
  return device;
}

// A converter that is a part of its own on a bus.
Result<ReadingPlan> plan_converter(const Bench& bench, const Converter& converter, const Part& part,
                                   const HandoffCode& code) {
  if (converter.justification != Justification::right)
    return Problem{translated("the code of {} is handed over as it is", part.name),
                   translated("a converter that reports it as it is")};
  auto device = as_device(bench, converter, part);
  if (!device) return device.problem();
  const ByteBlock& block = part.bytes.blocks.front();
  ReadingPlan plan{.name = code.name,
                   .channel_name = code.channel_name,
                   .line = part.interface,
                   .address = device->address,
                   .bytes = block.bytes};
  plan.number = code_place(part, converter.bits);
  if (!plan.number)
    return Problem{translated("{} has no code of {} bits", part.name, converter.bits),
                   translated("as many bits as the part has")};
  add_line_words(bench, *device, part, plan);
  const std::vector<PlannedBlock> blocks = {{.name = block.name, .bytes = block.bytes}};
  if (auto problem = Planner(*device, part, blocks).run(plan)) return *problem;
  return plan;
}

}  // namespace

Result<ReadingPlan> plan_reading(const Bench& bench, const Catalogue& catalogue, const std::string& channel_id,
                                 const HandoffCode& code) {
  const Channel* channel = find_by_id(bench.channels, channel_id);
  const Device* device = channel ? find_by_id(bench.devices, channel->device) : nullptr;
  const Part* part = device ? catalogue.find(device->part) : nullptr;
  const Converter* converter = device ? find_by_id(bench.converters, device->converter) : nullptr;
  const Part* own = converter && !code.bytes ? catalogue.find(converter->part) : nullptr;
  if (own && !own->bytes.blocks.empty()) {
    if (own->interface == Interface::serial_bridge) return plan_clocked(*converter, *own, code);
    if (!own->bytes.sequence.empty()) return plan_converter(bench, *converter, *own, code);
  }
  if (!part || !code.bytes)
    return Problem{translated("the raw number of this channel is no block of bytes"),
                   translated("a digital part on a two-wire bus")};
  const bool single = part->interface == Interface::single_wire && part->bytes.start_low_s > 0;
  if (!single && part->interface != Interface::i2c && part->interface != Interface::one_wire &&
      part->interface != Interface::spi)
    return Problem{translated("how a part on a {} line is read is not written", translated_name(part->interface)),
                   translated("a digital part on a two-wire, one-wire, four-wire or single-wire line")};
  if (!single && part->bytes.sequence.empty())
    return Problem{part->bytes.start.empty()
                       ? translated("the file of {} does not tell step by step how it is read", part->name)
                       : translated("the file of {} does not tell step by step how it is read; its sheet says: {}",
                                    part->name, part->bytes.start),
                   translated("a part with a sequence")};
  ReadingPlan plan{
      .name = code.name, .channel_name = code.channel_name, .line = part->interface, .address = device->address};
  add_line_words(bench, *device, *part, plan);
  for (const PlannedBlock& block : code.bytes->blocks) plan.bytes += block.bytes;
  if (device->branch > 0)
    plan.remarks.push_back(
        fmt::format("It hangs behind branch {} of a multiplexer: choose that first.", device->branch));
  if (single)
    plan.each.push_back({.kind = BoardStep::Kind::frame,
                         .ms = std::max(1, static_cast<int>(std::ceil(part->bytes.start_low_s * 1000 - 1e-9))),
                         .count = plan.bytes,
                         .what = "held low, and let go"});
  else if (auto problem = Planner(*device, *part, code.bytes->blocks).run(plan))
    return *problem;
  if (!single && code.trimming_loaded)
    if (auto problem = Planner::add_trimming(code.bytes->trimming_blocks, plan)) return *problem;
  return plan;
}

Result<std::map<std::string, std::string>> reading_files(const Bench& bench, const Catalogue& catalogue,
                                                         const HandoffRequest& request, const HandoffCode& code) {
  const auto plan = plan_reading(bench, catalogue, request.channel, code);
  if (!plan) return plan.problem();
  if (request.language == Language::python)
    return std::map<std::string, std::string>{{code.name + "_read.py", write_reading_python(*plan)}};
  auto [header, source] = write_reading_c(*plan);
  return std::map<std::string, std::string>{{code.name + "_read.h", std::move(header)},
                                            {code.name + "_read.c", std::move(source)}};
}

}  // namespace fair_gauge
