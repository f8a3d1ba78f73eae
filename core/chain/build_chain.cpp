// Bench → chain. Which links a channel needs and in which order stands here and in build_*.cpp, and nowhere else.
#include <fmt/format.h>

#include <algorithm>
#include <cmath>

#include "chain/builder.h"
#include "language/translation.h"

namespace fair_gauge {
Result<Chain> Builder::build() {
  const Channel& channel = chain_.channel;
  chain_.base = &base_unit(channel.quantity);
  chain_.shown = unit_by_ucum(channel.unit, chain_.base->dimension);
  if (!chain_.shown)
    return Problem{translated("\"{}\" is no unit of {}", channel.unit, translated_name(channel.quantity)),
                   translated("a unit such as {}", chain_.base->ucum)};
  chain_.also = channel.also_unit.empty() ? nullptr : unit_by_ucum(channel.also_unit, chain_.base->dimension);
  if (!channel.also_unit.empty() && !chain_.also)
    return Problem{translated("\"{}\" is no unit of {}", channel.also_unit, translated_name(channel.quantity)),
                   translated("a unit such as {}, or none", chain_.base->ucum)};
  if (channel.derived) return build_derived(*channel.derived);
  if (channel.arrives_converted()) return build_arriving();
  if (channel.device.empty())
    return Problem{translated("nobody has said yet which sensor makes its numbers"),
                   translated("a part on the bench that they belong to")};
  device_ = find_by_id(bench_.devices, channel.device);
  if (!device_)
    return Problem{translated("there is no device \"{}\"", channel.device), translated("one of the bench's devices")};
  part_ = catalogue_.find(device_->part);
  if (!part_)
    return Problem{translated("there is no part \"{}\" in the catalogue", device_->part),
                   translated("an id or marking that `parts` lists")};
  quantity_ = part_->measures(channel.quantity);
  if (!quantity_)
    return Problem{translated("\"{}\" does not measure {}", part_->name, translated_name(channel.quantity)),
                   translated("a quantity of the part")};
  if (part_->is_digital()) return build_digital();
  Result<TransferLaw> law = law_of_device();
  if (!law) return law.problem();
  if (const auto problem = check_front_end(*law)) return *problem;
  pulses_ = law->output_dimension == Dimension::number;
  converter_ = find_by_id(bench_.converters, device_->converter);
  if (!converter_ && !pulses_)
    return Problem{translated("\"{}\" is connected to no converter", device_->id),
                   translated("a converter of the bench")};

  chain_.part_id = part_->id;
  chain_.kelvin_per_watt = part_->kelvin_per_watt;
  add_reading_links();
  add_sensor(*law);
  if (pulses_) {
    add_pulse_counter(*law);
  } else {
    add_front_end(*law);
    add_converter();
  }
  add_reading_stages(*law);
  return std::move(chain_);
}

std::size_t Builder::add_link(LinkPointer link) {
  chain_.links.push_back(std::move(link));
  return chain_.links.size();
}

void Builder::add_stage(StageName name, std::string caption, const Unit& unit, std::size_t node) {
  chain_.stages.push_back({name, std::move(caption), &unit, node});
}

void Builder::add_reading_links() {
  chain_.world_node = add_link(std::make_shared<UnitLink>(*chain_.shown));
  chain_.compensated_node = chain_.world_node;
  add_stage(StageName::world, chain_.channel.place, *chain_.base, chain_.world_node);
  const Channel& channel = chain_.channel;
  if (channel.correction.empty() && channel.contributions.empty()) return;
  Correction here = channel.correction;
  if (here.placed != CorrectionPlace::physical)
    here.coefficients.clear(), here.table.clear();  // done before it arrives here, or on the raw number
  chain_.compensated_node = add_link(std::make_shared<CorrectionLink>(
      std::move(here), std::string(difference_symbol(*chain_.base)), channel.contributions, channel.due_days));
}

// Where what the points and the reference left takes the place of what the sheet says of the part. An offset says
// nothing of the slope away from its points; other models follow it, and their covariance says how well.
std::optional<Range> Builder::proven() const {
  const Correction& correction = chain_.channel.correction;
  // What it is off by at rest is taken off as by a calibration at one point; only a curve knows more.
  if (rest_ && correction.coefficients.size() <= 1 && correction.table.empty()) return Range{*rest_, *rest_};
  if (correction.standard_uncertainty <= 0 || correction.empty()) return std::nullopt;
  if (correction.coefficients.size() == 1 && correction.covered) return correction.covered;
  constexpr double everywhere = std::numeric_limits<double>::infinity();
  return Range{-everywhere, everywhere};
}

void Builder::add_raw_correction() {
  Correction correction = chain_.channel.correction;
  if (correction.placed != CorrectionPlace::raw || correction.empty()) return;
  correction.standard_uncertainty = correction.drift_per_year = 0;  // counted once, on the reading
  correction.covariance.clear();
  chain_.raw_node = add_link(std::make_shared<CorrectionLink>(std::move(correction), ""));
}

// Whether a line of the sheet holds where the bench is: where another channel of the device measures what the line
// asks for, anywhere in its wanted range; else a line that asks for nothing, or the first that does.
bool Builder::holds_here(const AccuracyBand& band, const std::vector<AccuracyBand>& all) const {
  return std::ranges::all_of(band.beside, [&](const BandBeside& beside) {
    const auto channel = std::ranges::find_if(bench_.channels, [&](const Channel& each) {
      return each.device == device_->id && each.quantity == beside.quantity;
    });
    if (channel != bench_.channels.end()) return channel->wanted.from <= beside.to && channel->wanted.to >= beside.from;
    const auto first = std::ranges::find_if(all, [](const AccuracyBand& each) { return !each.beside.empty(); });
    return first->beside == band.beside;
  });
}

// What a part promises in the grade that the bench has. A correction has taken its zero.
PartQuantity Builder::of_grade(PartQuantity range, const std::string& wanted) const {
  if (!chain_.channel.correction.empty())
    for (AccuracyBand& band : range.accuracy) band.zero_offset = 0;
  const auto is_of = [](const std::string& grade) {
    return [&grade](const AccuracyBand& band) { return band.grade == grade; };
  };
  if (range.accuracy.empty()) return range;
  const std::string grade = std::ranges::any_of(range.accuracy, is_of(wanted)) ? wanted : range.accuracy.front().grade;
  std::erase_if(range.accuracy, [&](const AccuracyBand& band) { return band.grade != grade; });
  const std::vector<AccuracyBand> all = range.accuracy;
  std::erase_if(range.accuracy, [&](const AccuracyBand& band) { return !holds_here(band, all); });
  return range;
}

// A converter of finished readings is as good as what is connected to it.
Result<std::optional<PartQuantity>> Builder::accuracy_of_element() const {
  const std::string& id = device_->element.empty() ? part_->element.part : device_->element;
  if (id.empty() || chain_.channel.quantity != part_->quantities.front().quantity) return std::optional<PartQuantity>();
  const Part* element = catalogue_.find(id);
  const PartQuantity* quantity = element ? element->measures(chain_.channel.quantity) : nullptr;
  if (!quantity)
    return Problem{translated("\"{}\", connected to \"{}\", is no {} part of the catalogue", id, device_->id,
                              translated_name(chain_.channel.quantity)),
                   translated("the id of a thermocouple or a platinum element")};
  return std::optional(
      of_grade(*quantity, device_->element_grade.empty() ? part_->element.grade : device_->element_grade));
}

void Builder::add_shown_stages() {
  const Correction& correction = chain_.channel.correction;
  if (!correction.empty())
    add_stage(StageName::corrected, correction.note.empty() ? translated("by calibration") : correction.note,
              *chain_.base, chain_.world_node);
  add_stage(StageName::shown,
            chain_.shown == chain_.base ? translated("as read") : translated("in {}", chain_.shown->symbol),
            *chain_.shown, 0);
}

Result<Chain> build_chain(const Bench& bench, const Catalogue& catalogue, std::string_view channel_id,
                          const SideValues& beside) {
  const Channel* channel = find_by_id(bench.channels, channel_id);
  if (!channel) {
    std::string known;
    for (const Channel& other : bench.channels)
      if (known.size() < 100) known += (known.empty() ? translated("one of ") : ", ") + other.id;
    return Problem{translated("there is no channel \"{}\"", channel_id),
                   known.empty() ? translated("a bench with channels") : known};
  }
  return Builder(bench, catalogue, *channel, beside).build();
}

}  // namespace fair_gauge
