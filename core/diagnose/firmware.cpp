#include "diagnose/firmware.h"

#include <fmt/format.h>

#include <algorithm>
#include <array>
#include <cmath>

#include "language/translation.h"

namespace fair_gauge {

Bench bench_of_channel(const Bench& bench, const std::string& channel_id) {
  Bench own;
  own.rails = bench.rails;
  const Channel* channel = find_by_id(bench.channels, channel_id);
  if (!channel) return own;
  own.channels = {*channel};
  const Device* device = find_by_id(bench.devices, channel->device);
  if (!device) return own;
  own.devices = {*device};
  own.devices.front().wires.clear();
  own.channels.front().cautions.clear();
  if (const Converter* converter = find_by_id(bench.converters, device->converter)) own.converters = {*converter};
  return own;
}

namespace {

// Blocks of a raw number alone: its own bytes, and nothing of what else the part sends.
ByteBlocks blocks_of_raw(const Chain& chain, double raw) {
  ByteBlocks blocks = chain.trimming;
  if (!chain.bytes) return blocks;
  auto block = chain.bytes->block(raw);
  const Part& part = chain.decoder->part();
  for (const ByteBlock& each : part.bytes.blocks) {
    if (each.name == chain.bytes->block_name()) {
      if (const auto example = read_hex(each.example)) {
        block = *example;
        chain.bytes->put(block, raw);
      }
      if (each.shorter > 0) block.resize(static_cast<std::size_t>(each.shorter));
    }
    // What the formula needs besides, as the chain itself takes it: the part's example.
    if (each.name != chain.bytes->block_name() && !blocks.contains(each.name) && !blocks.contains(each.also))
      if (const auto example = read_hex(each.example)) blocks[each.name] = *example;
  }
  blocks[chain.bytes->block_name()] = block;
  return blocks;
}

// As the chain takes it: what the part's example has.
std::optional<double> tied_share(const Chain& chain) {
  const ByteLayout& layout = chain.decoder->part().bytes;
  const auto reading = std::ranges::find(layout.readings, chain.channel.quantity, &ByteReading::quantity);
  if (reading->tied.empty()) return std::nullopt;
  const auto in_example = [&](const std::string& name) {
    const std::size_t field = *chain.decoder->field(name);
    const auto block = std::ranges::find(layout.blocks, layout.fields[field].block, &ByteBlock::name);
    const auto example = read_hex(block->example);
    return example ? static_cast<double>(chain.decoder->places()[field].value(*example).value_or(0)) : 0.0;
  };
  const double own = in_example(reading->field);
  return own > 0 ? in_example(reading->tied) / own : reading->share;
}

std::string line_of(const TraceLine& line) {
  return line.note.empty() ? fmt::format("{} = {}", line.expression, line.result)
                           : fmt::format("{} = {} ({})", line.expression, line.result, line.note);
}

}  // namespace

RawInput raw_input(const Chain& chain, double raw) {
  RawInput input{.raw = raw};
  if (chain.decoder) input.blocks = blocks_of_raw(chain, raw), input.tied_share = tied_share(chain);
  return input;
}

bool Firmware::errs_in_bench_alone() const {
  return !decoder && correction == 1 && !forgets_fraction_of_volts && division == Division::exact && !field &&
         on_raw.empty() && !law && on_value.empty() && on_shown.empty();
}

std::optional<double> Firmware::decoded(const Chain& chain, Record* record) const {
  const std::shared_ptr<const Decoder>& used = decoder ? decoder : chain.decoder;
  const ByteLayout& layout = used->part().bytes;
  const auto reading = std::ranges::find(layout.readings, chain.channel.quantity, &ByteReading::quantity);
  if (reading == layout.readings.end()) return std::nullopt;
  std::vector<double> fields;
  for (std::size_t i = 0; i < layout.fields.size(); ++i) {
    const auto block = std::ranges::find(layout.blocks, layout.fields[i].block, &ByteBlock::name);
    const auto value = used->places()[i].value(Decoder::find_block(input.blocks, *block));
    if (!value && (layout.fields[i].role == "trimming" || layout.fields[i].name == reading->field)) return std::nullopt;
    fields.push_back(static_cast<double>(value.value_or(0)));
  }
  const std::size_t own_field = *used->field(reading->field);
  if (field) fields[own_field] = *field;
  if (input.tied_share && !reading->tied.empty())
    fields[*used->field(reading->tied)] = *input.tied_share * fields[own_field];
  std::array<double, Decoder::most_readings> values;
  std::vector<TraceEntry> trace;
  used->evaluate(fields, values, record ? &trace : nullptr);
  const double value = values[static_cast<std::size_t>(reading - layout.readings.begin())];
  if (record) {
    record->stages[StageName::raw] = fields[own_field];
    std::vector<std::string>& lines = record->lines;
    std::map<std::string, double> known;
    for (std::size_t i = 0; i < fields.size(); ++i) known[layout.fields[i].name] = fields[i];
    lines.push_back(fmt::format("{} = {:.0f}", reading->field, known[reading->field]));
    const auto own = std::ranges::find(trace, value, &TraceEntry::value);
    if (own != trace.end()) trace.erase(own + 1, trace.end());
    for (const TraceEntry& entry : trace) {
      const std::string put_in = with_numbers(entry.note, known);
      known[entry.symbol] = entry.value;
      if (&entry + 3 > &trace.back())
        lines.push_back(fmt::format("{} = {} = {:.7g}", entry.symbol, put_in, entry.value));
    }
  }
  return value;
}

std::optional<double> Firmware::compensated(const Chain& chain, Record* record) const {
  if (chain.decoder) return decoded(chain, record);
  return inwards(chain, chain.compensated_node, record);
}

std::optional<double> Firmware::volts(const Catalogue& catalogue) const {
  const auto chain = build_chain(bench, catalogue, channel);
  if (!chain || chain->decoder || chain->converter->counts_pulses()) return std::nullopt;
  const double value = inwards(*chain, chain->converter_node - 1, nullptr);
  return std::isfinite(value) ? std::optional(value) : std::nullopt;
}

// From the raw number to a node before the correction.
double Firmware::inwards(const Chain& chain, std::size_t to_node, Record* record) const {
  double value = input.raw;
  for (const auto& step : on_raw) value = step(value);
  if (record) {
    record->lines.push_back(translated("raw number {:.10g}", value));
    record->nodes[chain.raw_node] = value;
  }
  for (std::size_t i = chain.raw_node; i > to_node && std::isfinite(value); --i) {
    const Link* link = chain.links[i - 1].get();
    const double outer = value;
    const bool is_sensor = dynamic_cast<const SensorLink*>(link) != nullptr;
    value = is_sensor && law ? law(outer) : link->inverse_continuous(outer);
    if (link == chain.converter.get() && !chain.converter->counts_pulses()) {
      if (division == Division::whole_quotient)
        value = std::floor(outer * chain.converter->step_v() / chain.converter->span_v()) * chain.converter->span_v();
      if (division == Division::whole_millivolt_steps)
        value = outer * std::floor(chain.converter->step_v() * 1000) / 1000;
      if (forgets_fraction_of_volts) value = std::trunc(value * 1000) / 1000;
    }
    if (!record) continue;
    record->nodes[i - 1] = value;
    if (is_sensor && law)
      record->lines.push_back(
          translated("the sensor gives {:.6g}, taken as {:.6g} {}", outer, value, chain.base->symbol));
    else
      for (const TraceLine& line : link->explain(outer, {})) record->lines.push_back(line_of(line));
  }
  return value;
}

double Firmware::walk(const Catalogue& catalogue, Record* record) const {
  std::optional<Result<Chain>> own;
  if (!built && !own.emplace(build_chain(bench, catalogue, channel))) return std::nan("");
  const Chain* const chain = built ? built : &own->value();
  const auto reached = compensated(*chain, record);
  if (!reached || !std::isfinite(*reached)) return std::nan("");
  double value = *reached;
  for (const auto& step : on_value) value = step(value);
  const double before_correction = value;
  for (std::size_t i = chain->compensated_node; i > chain->world_node; --i) {
    const double by = chain->links[i - 1]->inverse_continuous(value) - value;
    const double before = value;
    value += by * std::min(correction, 1);
    if (correction == 2) value += chain->links[i - 1]->inverse_continuous(value) - value;
    if (record && by != 0)
      record->lines.push_back(translated("{:.6g} {} corrected to {:.6g}", before, chain->base->symbol, value));
  }
  double shown = chain->shown->from_base(value);
  std::vector<OnShown> steps = on_shown;
  std::ranges::stable_sort(steps, {}, &OnShown::order);
  for (const OnShown& each : steps) {
    const double before = shown;
    shown = each.step(shown);
    if (record) record->lines.push_back(translated("{:.7g} becomes {:.7g}", before, shown));
  }
  if (!record) return shown;
  for (const Stage& stage : chain->stages) {
    if (stage.name == StageName::compensated) record->stages[stage.name] = before_correction;
    if (stage.name == StageName::corrected) record->stages[stage.name] = value;
    if (stage.name == StageName::shown) record->stages[stage.name] = shown;
    const bool is_inside = stage.node > chain->compensated_node;
    if (const auto node = record->nodes.find(stage.node); is_inside && node != record->nodes.end())
      record->stages[stage.name] = node->second;
  }
  return shown;
}

double Firmware::shows(const Catalogue& catalogue) const { return walk(catalogue, nullptr); }

std::vector<std::string> Firmware::arithmetic(const Catalogue& catalogue) const {
  Record record;
  walk(catalogue, &record);
  return std::move(record.lines);
}

std::map<StageName, double> Firmware::stages(const Catalogue& catalogue) const {
  Record record;
  walk(catalogue, &record);
  std::erase_if(record.stages, [](const auto& stage) { return !std::isfinite(stage.second); });
  return std::move(record.stages);
}

}  // namespace fair_gauge
