// A channel that is worked out from others: the chain of its first input, with one link more.
#include <fmt/format.h>

#include <algorithm>
#include <array>
#include <cctype>
#include <cmath>

#include "chain/builder.h"
#include "language/translation.h"
#include "parts/expression.h"

namespace fair_gauge {
namespace {

// Held against its own reading at rest.
bool is_tared(const DerivedFrom& from, const DerivedQuantity& quantity) {
  return quantity.inputs.size() > 1 && from.at_rest > 0 && from.beside.empty();
}

}  // namespace

// What a derived channel may not have, and what it must.
std::optional<Problem> Builder::fault_of_derived(const DerivedFrom& from, const DerivedQuantity& quantity) const {
  const Channel& channel = chain_.channel;
  if (quantity.quantity != channel.quantity)
    return Problem{translated("a {} is a {}, not a {}", quantity.name, translated_name(quantity.quantity),
                              translated_name(channel.quantity)),
                   fmt::format("\"quantity\": \"{}\"", enum_name(quantity.quantity))};
  if (!channel.correction.empty())
    return Problem{translated("what is worked out has no correction of its own"),
                   translated("a correction of what it is worked out from")};
  if (!channel.device.empty() || channel.arrives)
    return Problem{translated("a channel that is worked out has no sensor of its own"),
                   translated("neither \"device\" nor \"arrives\"")};
  const bool second = quantity.inputs.size() > 1;
  if (is_tared(from, quantity) && quantity.inputs.front() != quantity.inputs.back())
    return Problem{
        translated("the second input of the {} is no {}", quantity.name, translated_name(quantity.inputs.front())),
        translated("\"at_rest\" only where both inputs are of one kind")};
  if (second && from.beside.empty() && !from.number)
    return Problem{
        translated("the {} takes a second input, {}", quantity.name, translated_name(quantity.inputs.back())),
        translated("a channel in \"beside\", or a \"number\"")};
  return std::nullopt;
}

std::optional<Problem> Builder::lacks_absolute(const DerivedFrom& from, const DerivedQuantity& quantity) const {
  for (const std::string& id : from.is_own_formula() ? std::vector<std::string>() : std::vector{from.of, from.beside})
    if (const Channel* input = find_by_id(bench_.channels, id);
        input && input->kind != PressureKind::none && input->kind != PressureKind::absolute &&
        !(is_tared(from, quantity) && quantity.quantity == quantity.inputs.front()))
      return Problem{translated("\"{}\" is no absolute pressure", id), translated("channels of absolute pressure")};
  return std::nullopt;
}

// The chain of its first input, with one link more at the world's end.
Result<Chain> Builder::build_derived(const DerivedFrom& from) {
  const Channel& channel = chain_.channel;
  const auto follows = what_follows(bench_, from, channel.quantity);
  if (!follows) return follows.problem();
  const std::shared_ptr<const DerivedQuantity>& quantity = *follows;
  if (auto problem = fault_of_derived(from, *quantity)) return *problem;
  const bool second = quantity->inputs.size() > 1, tared = is_tared(from, *quantity);
  auto first = input_chain(from.of, quantity->inputs.front(), tared ? from.number : std::nullopt);
  if (!first) return first.problem();
  if (auto problem = lacks_absolute(from, *quantity)) return *problem;
  DerivedLink::Setup setup{.quantity = quantity,
                           .first_symbol = std::string(first->base->symbol),
                           .symbol = std::string(chain_.base->symbol)};
  const Range& wanted = first->channel.wanted;
  const double span = wanted.to - wanted.from;
  setup.from = wanted.from - span, setup.to = wanted.to + span;
  if (first->base->dimension == Dimension::humidity)
    setup.from = std::max(setup.from, 0.1), setup.to = std::min(setup.to, 100.0);
  if (first->base->dimension == Dimension::pressure && first->channel.kind == PressureKind::absolute)
    setup.from = std::max(setup.from, 1.0);
  chain_.inputs.push_back(std::make_shared<const Chain>(*first));
  chain_.side_channels = first->side_channels;
  if (second) {
    setup.beside_symbol = std::string(base_unit(quantity->inputs.back()).symbol);
    std::shared_ptr<const Chain> beside;
    if (from.beside.empty()) {
      const auto seen = quantity->accumulates ? beside_.find(channel.id) : beside_.end();
      setup.beside = seen == beside_.end() ? *from.number : seen->second;
      if (tared) beside = chain_.inputs.front();
    } else {
      auto chain = input_chain(from.beside, quantity->inputs.back());
      if (!chain) return chain.problem();
      chain_.side_channels.push_back(from.beside);
      setup.beside_name = chain->channel.name.empty() ? from.beside : chain->channel.name;
      // Until it has a reading it is taken where it is wanted; a log knows better (stream/row_chains.h).
      const auto now = beside_.find(from.beside);
      setup.beside = now != beside_.end() ? now->second : (chain->channel.wanted.from + chain->channel.wanted.to) / 2;
      beside = std::make_shared<const Chain>(std::move(*chain));
    }
    chain_.inputs.push_back(std::move(beside));
  }
  const std::string caption = !second                 ? translated("from {}", from.of)
                              : quantity->accumulates ? translated("over {:.3g} h", setup.beside / 3600)
                              : tared ? translated("at rest {:.6g} {}", setup.beside, setup.beside_symbol)
                                      : translated("beside {:.4g} {}", setup.beside, setup.beside_symbol);
  add_reading_links();
  const std::size_t here = chain_.compensated_node;
  chain_.derived = std::make_shared<DerivedLink>(std::move(setup));
  const std::size_t shift = add_link(chain_.derived) - first->world_node;
  for (std::size_t i = first->world_node; i < first->links.size(); ++i) add_link(first->links[i]);
  for (const Stage& stage : first->stages)
    if (stage.name != StageName::world && stage.name != StageName::shown)
      chain_.stages.push_back({stage.name, stage.caption, stage.unit, stage.node + shift});
  chain_.compensated_node = first->compensated_node + shift;
  chain_.converter_node = first->converter_node + shift;
  chain_.raw_node = first->raw_node + shift;
  chain_.converter = first->converter;
  chain_.bytes = first->bytes;
  chain_.part_id = first->part_id;
  if (first->channel.arrives_converted()) {
    chain_.channel.arrives = first->channel.arrives;
    chain_.channel.arrives->unit = first->channel.arriving_unit();
  }
  add_stage(StageName::derived, caption, *chain_.base, here);
  add_shown_stages();
  return std::move(chain_);
}

Result<std::shared_ptr<const DerivedQuantity>> what_follows(const Bench& bench, const DerivedFrom& from,
                                                            Quantity quantity) {
  using Follows = std::shared_ptr<const DerivedQuantity>;
  if (!from.is_own_formula()) {
    if (const DerivedQuantity* known = derived_quantity(from.as)) return Follows(Follows(), known);  // the table stays
    std::string known = translated("one of {}", std::string(typed_formula));
    for (const DerivedQuantity& each : derived_quantities()) known += ", " + each.id;
    return Problem{translated("\"{}\" is nothing that can be worked out", from.as), known};
  }
  if (from.of.empty()) return Problem{translated("nothing is chosen for a"), translated("a channel of the bench")};
  std::vector<std::string> names = {"a"};
  std::vector<Quantity> inputs;
  if (!from.beside.empty()) names.push_back("b");
  for (const std::string& id : {from.of, from.beside})
    if (const Channel* input = find_by_id(bench.channels, id)) inputs.push_back(input->quantity);
  if (inputs.size() < names.size())
    return Problem{translated("there is no channel \"{}\" to work it out from",
                              find_by_id(bench.channels, from.of) ? from.beside : from.of),
                   translated("a channel of the bench")};
  if (from.of == from.beside)
    return Problem{translated("a and b are the same channel"), translated("two channels, or a formula of a alone")};
  const auto read = Expression::read_of(names, from.formula);
  if (!read) return read.problem();
  const auto uses = read->uses();
  for (const std::string& name : names)
    if (std::ranges::find(uses, name) == uses.end())
      return Problem{translated("the formula \"{}\" does not use {}", from.formula.substr(0, 60), name),
                     translated("a formula of {}", fmt::join(names, translated(" and ")))};
  return Follows(std::make_shared<const DerivedQuantity>(
      DerivedQuantity{std::string(typed_formula),
                      "formula",
                      quantity,
                      inputs,
                      [formula = *read](std::span<const double> values) { return formula.at(values); },
                      from.formula,
                      {{"formula", plain_signs(from.formula)}}}));
}

Result<Chain> Builder::input_chain(const std::string& id, Quantity quantity, std::optional<double> rest) const {
  const Channel* input = find_by_id(bench_.channels, id);
  if (!input)
    return Problem{translated("there is no channel \"{}\" to work it out from", id),
                   translated("a channel of the bench")};
  if (input->derived)
    return Problem{translated("\"{}\" is worked out itself", id), translated("a channel that is measured")};
  if (input->quantity != quantity)
    return Problem{translated("\"{}\" reads {}", id, translated_name(input->quantity)),
                   translated("a channel of {}", translated_name(quantity))};
  if (depth_ >= 2)
    return Problem{translated("channels hang on each other in a circle"), translated("inputs without a loop")};
  Builder builder(bench_, catalogue_, *input, beside_, depth_ + 1);
  builder.rest_ = rest;
  return builder.build();
}

Channel new_derived_channel(const Bench& bench, const DerivedQuantity& quantity, const DerivedFrom& from) {
  const auto wanted_of = [&](const std::string& id) {
    const Channel* input = find_by_id(bench.channels, id);
    return input ? input->wanted : Range{from.number.value_or(0), from.number.value_or(0)};
  };
  const Range one = wanted_of(from.of), other = wanted_of(from.beside);
  Channel channel;
  channel.name = quantity.name;
  channel.name.front() = static_cast<char>(std::toupper(static_cast<unsigned char>(channel.name.front())));
  channel.id = quantity.id;
  std::ranges::replace(channel.id, '-', '_');
  for (int number = 2; find_by_id(bench.channels, channel.id); ++number)
    channel.id = fmt::format("{}_{}", channel.id.substr(0, quantity.id.size()), number);
  channel.derived = from;
  channel.quantity = quantity.quantity;
  channel.unit = base_unit(quantity.quantity).ucum;
  channel.wanted = {std::numeric_limits<double>::infinity(), -std::numeric_limits<double>::infinity()};
  for (const double first : {one.from, one.to})
    for (const double second : {other.from, other.to})
      if (const double value = quantity.function(std::array{first, second}); std::isfinite(value))
        channel.wanted = {std::min(channel.wanted.from, value), std::max(channel.wanted.to, value)};
  if (!(channel.wanted.from < channel.wanted.to)) channel.wanted = {0, 1};
  const Channel* first = find_by_id(bench.channels, from.of);
  if (first) channel.place = first->place, channel.period_s = first->period_s;
  if (first && first->quantity == quantity.quantity) channel.unit = first->unit;
  return channel;
}

}  // namespace fair_gauge
