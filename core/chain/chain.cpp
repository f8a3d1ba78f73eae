// Evaluation of chains. How a bench becomes a chain lives in build_*.cpp.
#include "chain/chain.h"

#include <algorithm>
#include <cmath>

#include "language/translation.h"

namespace fair_gauge {
namespace {

using Nodes = std::vector<std::optional<StageValue>>;

void walk_outwards(const Chain& chain, Nodes& nodes, std::size_t from, std::size_t to) {
  for (std::size_t i = from; i < to; ++i) nodes[i + 1] = *nodes[i] ? chain.links[i]->forward(**nodes[i]) : *nodes[i];
}

void walk_inwards(const Chain& chain, Nodes& nodes, std::size_t from, std::size_t to) {
  for (std::size_t i = from; i > to; --i)
    nodes[i - 1] = *nodes[i] ? chain.links[i - 1]->inverse(**nodes[i]) : *nodes[i];
}

bool reads_back(StageName name) {
  return name == StageName::compensated || name == StageName::corrected || name == StageName::derived ||
         name == StageName::shown;
}

}  // namespace

std::string_view stage_title(StageName name) {
  switch (name) {
    case StageName::world: return translated("World");
    case StageName::sensor: return translated("Sensor");
    case StageName::front_end: return translated("Front end");
    case StageName::converter: return translated("Converter");
    case StageName::bytes: return translated("Bytes");
    case StageName::raw: return translated("Raw");
    case StageName::compensated: return translated("Compensated");
    case StageName::corrected: return translated("Corrected");
    case StageName::derived: return translated("Worked out");
    case StageName::shown: return translated("Shown");
  }
  return "";
}

const Stage* Chain::stage(StageName name) const {
  for (const Stage& stage : stages)
    if (stage.name == name) return &stage;
  return nullptr;
}

const Stage* Chain::code_stage() const {
  return stage(StageName::converter) ? stage(StageName::converter) : stage(StageName::raw);
}

int more_decimals(const Unit& shown, const Unit& also) {
  // A twentieth of a decade is no digit: 1 °C is 1.8 °F, 1 hPa is 0.75 mmHg.
  return static_cast<int>(std::ceil(std::log10(also.scale / shown.scale) - 0.05));
}

std::vector<StageValue> evaluate(const Chain& chain, const Anchor& anchor) {
  const Stage* held = chain.stage(anchor.stage);
  if (!held)
    return std::vector<StageValue>(chain.stages.size(), Problem{translated("this chain has no such stage"), ""});
  const std::size_t nodes = chain.links.size() + 1;
  Nodes world(nodes);
  world[held->node] = StageValue(anchor.value);
  walk_outwards(chain, world, held->node, nodes - 1);
  walk_inwards(chain, world, held->node, 0);

  Nodes reading = world;
  if (held->node < chain.converter_node && !reads_back(anchor.stage))
    walk_inwards(chain, reading, chain.channel.arrives_converted() ? chain.raw_node : chain.converter_node, 0);

  std::vector<StageValue> values;
  for (const Stage& stage : chain.stages) values.push_back(*(reads_back(stage.name) ? reading : world)[stage.node]);
  return values;
}

double raw_from_bytes(const Chain& chain, double number) {
  const bool below_zero = chain.converter->lowest_code() < 0 && number > chain.converter->largest_code();
  return below_zero ? number + 2 * chain.converter->lowest_code() : number;
}

Result<double> read_raw(const Chain& chain, double raw) {
  Nodes nodes(chain.links.size() + 1);
  nodes[chain.raw_node] = StageValue(raw);
  walk_inwards(chain, nodes, chain.raw_node, chain.world_node);
  return *nodes[chain.world_node];
}

Result<double> raw_for(const Chain& chain, double world) {
  Nodes nodes(chain.links.size() + 1);
  nodes[chain.world_node] = StageValue(world);
  walk_outwards(chain, nodes, chain.world_node, chain.raw_node);
  return *nodes[chain.raw_node];
}

double mean_raw_for(const Chain& chain, double world) {
  double raw = world;
  for (std::size_t i = chain.world_node; i < chain.raw_node; ++i) raw = chain.links[i]->forward_off(raw, {});
  return raw;
}

double read_mean_raw(const Chain& chain, double raw) {
  double world = raw;
  for (std::size_t i = chain.raw_node; i > chain.world_node; --i) world = chain.links[i - 1]->inverse_continuous(world);
  return world;
}

double step_at(const Chain& chain, double world) {
  if (chain.derived) {
    const double first = chain.derived->forward_off(world, {});
    return step_at(*chain.inputs.front(), first) * std::abs(chain.derived->slope_by_first(first));
  }
  double code = world;
  for (std::size_t i = chain.world_node; i < chain.converter_node; ++i) code = chain.links[i]->forward_off(code, {});
  double low = code - 0.5, high = code + 0.5;
  for (std::size_t i = chain.converter_node; i > chain.world_node; --i) {
    low = chain.links[i - 1]->inverse_continuous(low);
    high = chain.links[i - 1]->inverse_continuous(high);
  }
  const Channel& channel = chain.channel;
  if (!channel.arrives_converted()) return std::abs(high - low);
  const double decimal = std::pow(10.0, -channel.arrives->decimals) * unit_by_ucum(channel.arriving_unit())->scale;
  return std::max(std::abs(high - low), decimal);
}

std::vector<StageTrace> explain(const Chain& chain, double raw, const NumberStyle& style) {
  std::vector<StageTrace> traces;
  double outer = raw;
  for (std::size_t i = chain.raw_node; i > 0; --i) {
    const auto inner = chain.links[i - 1]->inverse(outer);
    if (!inner) break;
    StageName name = StageName::shown;
    if (i > chain.converter_node)
      name = StageName::raw;
    else if (i == chain.converter_node)
      name = StageName::converter;
    else if (i == chain.compensated_node + 1)
      name = StageName::compensated;
    else if (i > chain.compensated_node)
      name = StageName::front_end;
    else if (chain.derived && chain.links[i - 1] == chain.derived)
      name = StageName::derived;
    else if (i == chain.compensated_node && i > chain.world_node)
      name = StageName::corrected;
    if (name != StageName::shown || chain.shown != chain.base)
      traces.push_back({name, chain.links[i - 1]->explain(outer, style)});
    outer = *inner;
  }
  return traces;
}

}  // namespace fair_gauge
