// A channel whose number was converted before it came.
#include <fmt/format.h>

#include <algorithm>
#include <cmath>

#include "chain/builder.h"
#include "language/translation.h"

namespace fair_gauge {

// A number that was converted before it came. Behind it stands the sensor with its circuit where the bench knows
// both, the part where it knows that, and else what nobody states.
Result<Chain> Builder::build_arriving() {
  const Channel& channel = chain_.channel;
  const Unit* unit = unit_by_ucum(channel.arriving_unit());
  if (!unit || unit->dimension != chain_.base->dimension)
    return Problem{translated("\"{}\" is no unit of {}", channel.arriving_unit(), translated_name(channel.quantity)),
                   translated("a unit such as {}", chain_.base->ucum)};
  if (channel.correction.placed == CorrectionPlace::raw && !channel.correction.empty())
    return Problem{translated("a value that arrives converted has no raw number to correct"),
                   translated("a correction of the reading")};
  device_ = channel.device.empty() ? nullptr : find_by_id(bench_.devices, channel.device);
  if (!channel.device.empty() && !device_)
    return Problem{translated("there is no device \"{}\"", channel.device),
                   translated("one of the bench's devices, or none")};
  part_ = device_ ? catalogue_.find(device_->part) : nullptr;
  if (device_ && !part_)
    return Problem{translated("there is no part \"{}\" in the catalogue", device_->part),
                   translated("an id or marking that `parts` lists")};
  quantity_ = part_ ? part_->measures(channel.quantity) : nullptr;
  if (part_ && !quantity_)
    return Problem{translated("\"{}\" does not measure {}", part_->name, translated_name(channel.quantity)),
                   translated("a quantity of the part")};
  const std::string form = translated("in {}, {}", unit->symbol, decimals_words(channel.arrives->decimals));
  if (part_ && !part_->is_digital() && find_by_id(bench_.converters, device_->converter))
    return build_behind(*unit, form);
  if (part_) chain_.part_id = part_->id;
  add_reading_links();
  add_link(
      part_ ? std::make_shared<ReadingLink>(translated("part accuracy"), of_grade(*quantity_, device_->grade), proven())
            : std::make_shared<ReadingLink>(translated("whatever measures it"),
                                            PartQuantity{.quantity = channel.quantity}, proven()));
  add_link(std::make_shared<ArrivingUnitLink>(*unit, channel.arrives->decimals));
  Converter counter;  // of the last decimal
  counter.bits = 53;
  counter.polarity = Polarity::bipolar;
  counter.noise_lsb = counter.inl_lsb = 0;
  chain_.converter = std::make_shared<ConverterLink>(
      ConverterLink::Setup{.converter = counter, .reference = {std::exp2(counter.bits - 1), 0, ""}, .counts = "steps"});
  chain_.converter_node = add_link(chain_.converter);
  chain_.raw_node = add_link(std::make_shared<DecimalsLink>(channel.arrives->decimals));
  add_stage(StageName::raw, translated("as it arrives, {}", form), *unit, chain_.raw_node);
  add_stage(StageName::compensated, translated("by other firmware"), *chain_.base, chain_.compensated_node);
  add_shown_stages();
  return std::move(chain_);
}

std::string Builder::decimals_words(int decimals) {
  return decimals == 0   ? std::string(translated("whole numbers"))
         : decimals == 1 ? std::string(translated("one decimal"))
                         : translated("{} decimals", decimals);
}

// The chain from the world to the code as for a code that arrives, then what the firmware made of that code.
Result<Chain> Builder::build_behind(const Unit& unit, const std::string& form) {
  const int decimals = chain_.channel.arrives->decimals;
  Channel coded = chain_.channel;
  coded.arrives.reset();
  coded.contributions.push_back(
      {.name = translated("decimals that arrive"), .half_width = 0.5 * std::pow(10.0, -decimals) * unit.scale});
  auto built = Builder(bench_, catalogue_, coded, beside_, depth_).build();
  if (!built) return built;
  built->channel = chain_.channel;
  chain_ = std::move(*built);
  chain_.bytes.reset();
  chain_.links.resize(chain_.converter_node);
  std::erase_if(chain_.stages,
                [](const Stage& stage) { return stage.name == StageName::bytes || stage.name == StageName::raw; });
  const auto after = std::ranges::find(chain_.stages, StageName::compensated, &Stage::name);
  const std::vector<LinkPointer> between(chain_.links.begin() + static_cast<std::ptrdiff_t>(chain_.compensated_node),
                                         chain_.links.end());
  const auto node = add_link(std::make_shared<FirmwareLink>(FirmwareLink::Setup{
      between, &unit, decimals, chain_.converter->lowest_code(), chain_.converter->largest_code()}));
  chain_.raw_node = node;
  chain_.stages.insert(after, {StageName::raw, translated("as it arrives, {}", form), &unit, node});
  std::ranges::find(chain_.stages, StageName::compensated, &Stage::name)->caption = translated("by other firmware");
  return std::move(chain_);
}

}  // namespace fair_gauge
