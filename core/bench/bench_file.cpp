#include "bench/bench_file.h"

#include <fmt/format.h>

#include <algorithm>
#include <map>
#include <set>

#include "bench/bench_json.h"
#include "files/file.h"
#include "language/translation.h"

namespace fair_gauge {
namespace {

constexpr const char* version_key = "fair_gauge_bench";

constexpr std::size_t most_named = 100;  // faults with their place; the place of thousands nobody waits for

// Collects the faults of a bench's names.
class References {
 public:
  References(const Bench& bench, const JsonDocument& document) : bench_(bench), document_(document) {}

  template <class T>
  void ids(const std::vector<T>& items, const char* list) {
    std::set<std::string> seen;
    for (std::size_t i = 0; i < items.size(); ++i)
      if (!seen.insert(items[i].id).second)
        add(fmt::format("/{}/{}/id", list, i), translated("the id \"{}\" is used twice in {}", items[i].id, list),
            translated("an id of its own for each"));
  }
  /// An empty name is none.
  template <class T>
  void name(const std::vector<T>& items, const std::string& id, const std::string& pointer, const char* what) {
    if (id.empty() || find_by_id(items, id)) return;
    std::string known;
    for (const T& item : items)
      if (known.size() < 80) known += (known.empty() ? translated("one of ") : ", ") + item.id;
    add(pointer, translated("there is no {} \"{}\"", translated(what), id),
        known.empty() ? translated("a {} of that id", translated(what)) : known);
  }
  void add(const std::string& pointer, std::string wrong, std::string expected) {
    const bool early = found_.size() < most_named;
    found_.push_back({pointer, {std::move(wrong), std::move(expected), early ? document_.place_of(pointer) : Place{}}});
  }
  void device(const Device& device, const std::string& at) {
    name(bench_.converters, device.converter, at + "/converter", to_translate("converter"));
    name(bench_.rails, device.front_end.rail, at + "/front_end/rail", to_translate("rail"));
    name(bench_.rails, device.rail, at + "/rail", to_translate("rail"));
    name(bench_.buses, device.bus, at + "/bus", to_translate("bus"));
    name(bench_.buses, device.alert, at + "/alert", to_translate("alert line"));
    for (const auto& [setting, channel] : device.side_inputs)
      name(bench_.channels, channel, fmt::format("{}/side_inputs/{}", at, setting), to_translate("channel"));
  }
  void channel(const Channel& channel, const std::string& at) {
    if (channel.derived) {
      name(bench_.channels, channel.derived->of, at + "/derived/of", to_translate("channel"));
      name(bench_.channels, channel.derived->beside, at + "/derived/beside", to_translate("channel"));
    } else if (channel.device.empty() && !channel.arrives_converted())
      add(at + "/device", translated("the channel names no device"),
          translated("the id of a device, or \"arrives\" where the number is a value already"));
    else
      name(bench_.devices, channel.device, at + "/device", to_translate("device"));
    if (!(channel.wanted.from < channel.wanted.to))
      add(at + "/wanted", translated("the wanted range of \"{}\" ends before it begins", channel.id),
          translated("from below to"));
    const Unit* unit = unit_by_ucum(channel.unit);
    if (!unit)
      add(at + "/unit", translated("\"{}\" is no unit", channel.unit),
          translated("a UCUM code such as Cel, %, hPa or lx"));
    if (const Unit* arriving = unit_by_ucum(channel.arriving_unit());
        channel.arrives_converted() && unit && (!arriving || arriving->dimension != unit->dimension))
      add(at + "/arrives/unit",
          translated("\"{}\" is no unit of {}", channel.arriving_unit(), translated_name(channel.quantity)),
          translated("a unit of the channel's quantity, such as Cel or [degF]"));
    if (circular(channel))
      add(at + "/device", translated("its side inputs lead back to itself"), translated("side inputs without a loop"));
    table(channel.correction, at + "/correction");
  }
  void own_part(const OwnPart& part, const std::string& at) {
    for (std::size_t i = 0; i < part.figures.size(); ++i) {
      const OwnFigure& figure = part.figures[i];
      const bool both = figure.from && figure.to;
      if ((figure.from || figure.to) && !(both && *figure.from < *figure.to))
        add(fmt::format("{}/figures/{}", at, i),
            both ? translated("the own range of \"{}\" ends before it begins", part.part)
                 : translated("the own range of \"{}\" has one end only", part.part),
            translated("from below to"));
    }
    if (part.supply_minimum_v > 0 && part.supply_maximum_v > 0 && part.supply_minimum_v > part.supply_maximum_v)
      add(at + "/supply_minimum_v",
          translated("the own supply of \"{}\" begins at {:g} V and ends at {:g} V", part.part, part.supply_minimum_v,
                     part.supply_maximum_v),
          translated("a minimum below the maximum"));
  }
  std::vector<FaultAt> found() && { return std::move(found_); }

 private:
  bool circular(const Channel& start) const {
    std::set<std::string> seen;
    std::vector<std::string> next = {start.id};
    while (!next.empty()) {
      const std::string id = next.back();
      next.pop_back();
      const Channel* channel = find_by_id(bench_.channels, id);
      const Device* device = channel ? find_by_id(bench_.devices, channel->device) : nullptr;
      if (channel && channel->derived)
        for (const std::string& other : {channel->derived->of, channel->derived->beside}) {
          if (other == start.id) return true;
          if (!other.empty() && seen.insert(other).second) next.push_back(other);
        }
      if (!device) continue;
      for (const auto& [setting, other] : device->side_inputs) {
        if (setting == enum_name(channel->quantity)) continue;  // what the device says of itself
        if (other == start.id && id != other) return true;
        if (seen.insert(other).second) next.push_back(other);
      }
    }
    return false;
  }
  void table(const Correction& correction, const std::string& at) {
    for (std::size_t i = 0; i < correction.table.size(); ++i)
      if (correction.table[i].size() != 2)
        return add(fmt::format("{}/table/{}", at, i), translated("a row of the correction's table is not two numbers"),
                   translated("reading, correction"));
    for (std::size_t i = 1; i < correction.table.size(); ++i)
      if (!(correction.table[i - 1][0] < correction.table[i][0]))
        return add(fmt::format("{}/table/{}", at, i), translated("the readings of the correction's table do not rise"),
                   translated("readings in rising order"));
  }

  const Bench& bench_;
  const JsonDocument& document_;
  std::vector<FaultAt> found_;
};

std::vector<Correction*> corrections_of(Bench& bench) {
  std::vector<Correction*> all;
  for (Channel& channel : bench.channels) all.push_back(&channel.correction);
  return all;
}

// The channels that hang on a faulty place: their own, or one of the things that they are built from.
void find_faulty_channels(LoadedBench& loaded, const std::vector<FaultAt>& faults) {
  const Bench& bench = loaded.bench;
  std::map<std::string, const Problem*, std::less<>> by_thing;  // "/devices/2" → its first fault
  for (const FaultAt& fault : faults) {
    const auto list = fault.pointer.find('/', 1),
               item = list == std::string::npos ? list : fault.pointer.find('/', list + 1);
    by_thing.emplace(fault.pointer.substr(0, item), &fault.problem);
  }
  const auto thing = [&](const char* list, const auto& items, const std::string& id) -> const Problem* {
    const auto* found = find_by_id(items, id);
    if (const auto whole = by_thing.find(std::string("/") + list); whole != by_thing.end()) return whole->second;
    const auto fault = found ? by_thing.find(fmt::format("/{}/{}", list, found - items.data())) : by_thing.end();
    return fault == by_thing.end() ? nullptr : fault->second;
  };
  for (const Channel& channel : bench.channels) {
    const Problem* why = thing("channels", bench.channels, channel.id);
    const Device* device = find_by_id(bench.devices, channel.device);
    const Converter* converter = device ? find_by_id(bench.converters, device->converter) : nullptr;
    if (!why) why = thing("devices", bench.devices, channel.device);
    if (!why && device) why = thing("rails", bench.rails, device->front_end.rail);
    if (!why && converter) why = thing("converters", bench.converters, converter->id);
    if (!why && converter) why = thing("rails", bench.rails, converter->reference_rail);
    if (why) loaded.faulty_channels.emplace(channel.id, *why);
  }
  for (const Channel& channel : bench.channels)
    for (const Channel& input : bench.channels)
      if (channel.is_derived_from(input.id))
        if (const auto fault = loaded.faulty_channels.find(input.id); fault != loaded.faulty_channels.end())
          loaded.faulty_channels.emplace(channel.id, Problem(fault->second));
}

}  // namespace

std::vector<FaultAt> reference_problems(const Bench& bench, const JsonDocument& document) {
  References references(bench, document);
  references.ids(bench.rails, "rails");
  references.ids(bench.converters, "converters");
  references.ids(bench.buses, "buses");
  references.ids(bench.devices, "devices");
  references.ids(bench.channels, "channels");
  for (std::size_t i = 0; i < bench.buses.size(); ++i)
    references.name(bench.rails, bench.buses[i].rail, fmt::format("/buses/{}/rail", i), to_translate("rail"));
  for (std::size_t i = 0; i < bench.converters.size(); ++i)
    references.name(bench.rails, bench.converters[i].reference_rail, fmt::format("/converters/{}/reference_rail", i),
                    to_translate("rail"));
  for (std::size_t i = 0; i < bench.board.pins.size(); ++i)
    references.name(bench.converters, bench.board.pins[i].reads, fmt::format("/board/pins/{}/reads", i),
                    to_translate("converter"));
  for (std::size_t i = 0; i < bench.cables.size(); ++i)
    references.name(bench.buses, bench.cables[i].bus, fmt::format("/cables/{}/bus", i), to_translate("bus"));
  for (std::size_t i = 0; i < bench.accessories.size(); ++i)
    references.name(bench.rails, bench.accessories[i].rail, fmt::format("/accessories/{}/rail", i),
                    to_translate("rail"));
  for (std::size_t i = 0; i < bench.devices.size(); ++i)
    references.device(bench.devices[i], fmt::format("/devices/{}", i));
  for (std::size_t i = 0; i < bench.channels.size(); ++i)
    references.channel(bench.channels[i], fmt::format("/channels/{}", i));
  for (std::size_t i = 0; i < bench.own_parts.size(); ++i)
    references.own_part(bench.own_parts[i], fmt::format("/own_parts/{}", i));
  return std::move(references).found();
}

Result<LoadedBench> bench_from_text(std::string text, const std::string& file, Texts texts) {
  const auto document = parse_json(std::move(text), file);
  if (!document) return document.problem();
  const Json& root = document->value;
  if (!root.is_object() || !root.contains(version_key))
    return Problem{translated("this is no bench of Fair Gauge"),
                   translated("an object with \"{}\": {}", version_key, bench_format_version), document->place_of("")};
  const Json& version = root[version_key];
  if (!version.is_number_integer() || version.get<double>() < 1)
    return Problem{translated("the version is not a whole number"), translated("1 or more"),
                   document->place_of(fmt::format("/{}", version_key))};
  if (version.get<double>() > bench_format_version)
    return Problem{
        translated("the bench was written by a newer program (format {})", version.dump()),
        translated("format {} or older: update Fair Gauge, or save it there in the older format", bench_format_version),
        document->place_of(fmt::format("/{}", version_key))};
  if (const auto channels = root.find("channels");
      channels != root.end() && channels->is_array() && channels->size() > most_channels)
    return Problem{translated("the bench has {} channels", channels->size()), translated("{} at most", most_channels),
                   document->place_of(fmt::format("/channels/{}", most_channels))};

  LoadedBench loaded;
  Json fields = root;
  fields.erase(version_key);
  const auto pointers = read_bench(*document, fields, loaded.bench, loaded.problems, loaded.warnings, texts);
  std::vector<FaultAt> faults;
  for (std::size_t i = 0; i < pointers.size(); ++i) faults.push_back({pointers[i], loaded.problems[i]});
  for (FaultAt& fault : reference_problems(loaded.bench, *document)) {
    loaded.problems.push_back(fault.problem);
    faults.push_back(std::move(fault));
  }
  for (Correction* correction : corrections_of(loaded.bench))
    if (std::ranges::any_of(correction->table, [](const auto& row) { return row.size() != 2; }))
      correction->table.clear();
  find_faulty_channels(loaded, faults);
  for (Problem& twice : duplicate_keys(*document)) loaded.warnings.push_back(std::move(twice));
  return loaded;
}

Result<LoadedBench> load_bench(const std::string& path, Texts texts) {
  auto text = read_file(path, 16u << 20);
  if (!text) return text.problem();
  return bench_from_text(std::move(*text), path, texts);
}

std::string bench_to_text(const Bench& bench) {
  Json root = Json::object();
  root[version_key] = bench_format_version;
  root.update(bench_json(bench));
  return root.dump(2, ' ', false, Json::error_handler_t::replace) + "\n";
}

Result<std::size_t> save_bench(const Bench& bench, const std::string& path) {
  return write_file(path, bench_to_text(bench));
}

}  // namespace fair_gauge
