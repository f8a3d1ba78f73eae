#include "bench/bench_file.h"

#include <fmt/format.h>

#include <set>

#include "bench/bench_json.h"
#include "files/file.h"

namespace fair_gauge {
namespace {

constexpr const char* version_key = "fair_gauge_bench";

template <class T>
void check_ids(const std::vector<T>& items, const char* list, const JsonDocument& document,
               std::vector<Problem>& problems) {
  std::set<std::string> seen;
  for (std::size_t i = 0; i < items.size(); ++i)
    if (!seen.insert(items[i].id).second)
      problems.push_back({fmt::format("the id \"{}\" is used twice in {}", items[i].id, list),
                          "an id of its own for each", document.place_of(fmt::format("/{}/{}/id", list, i))});
}

template <class T>
void check_name(const std::vector<T>& items, const std::string& id, const std::string& pointer, const char* what,
                const JsonDocument& document, std::vector<Problem>& problems) {
  if (find_by_id(items, id)) return;
  std::string known;
  for (const T& item : items)
    if (known.size() < 80) known += (known.empty() ? "one of " : ", ") + item.id;
  problems.push_back({fmt::format("there is no {} \"{}\"", what, id),
                      known.empty() ? fmt::format("a {} of that id", what) : known, document.place_of(pointer)});
}

}  // namespace

std::vector<Problem> reference_problems(const Bench& bench, const JsonDocument& document) {
  std::vector<Problem> problems;
  check_ids(bench.rails, "rails", document, problems);
  check_ids(bench.converters, "converters", document, problems);
  check_ids(bench.buses, "buses", document, problems);
  for (std::size_t i = 0; i < bench.buses.size(); ++i)
    if (const auto& rail = bench.buses[i].rail; !rail.empty())
      check_name(bench.rails, rail, fmt::format("/buses/{}/rail", i), "rail", document, problems);
  check_ids(bench.devices, "devices", document, problems);
  check_ids(bench.channels, "channels", document, problems);
  for (std::size_t i = 0; i < bench.converters.size(); ++i)
    if (const auto& rail = bench.converters[i].reference_rail; !rail.empty())
      check_name(bench.rails, rail, fmt::format("/converters/{}/reference_rail", i), "rail", document, problems);
  for (std::size_t i = 0; i < bench.devices.size(); ++i) {
    const Device& device = bench.devices[i];
    if (!device.converter.empty())
      check_name(bench.converters, device.converter, fmt::format("/devices/{}/converter", i), "converter", document,
                 problems);
    if (!device.front_end.rail.empty())
      check_name(bench.rails, device.front_end.rail, fmt::format("/devices/{}/front_end/rail", i), "rail", document,
                 problems);
  }
  for (std::size_t i = 0; i < bench.channels.size(); ++i) {
    const Channel& channel = bench.channels[i];
    check_name(bench.devices, channel.device, fmt::format("/channels/{}/device", i), "device", document, problems);
    if (!(channel.wanted.from < channel.wanted.to))
      problems.push_back({fmt::format("the wanted range of \"{}\" ends before it begins", channel.id), "from below to",
                          document.place_of(fmt::format("/channels/{}/wanted", i))});
    if (!unit_by_ucum(channel.unit))
      problems.push_back({fmt::format("\"{}\" is no unit", channel.unit), "a UCUM code such as Cel, %, hPa or lx",
                          document.place_of(fmt::format("/channels/{}/unit", i))});
  }
  return problems;
}

Result<LoadedBench> bench_from_text(std::string text, const std::string& file) {
  const auto document = parse_json(std::move(text), file);
  if (!document) return document.problem();
  const Json& root = document->value;
  if (!root.is_object() || !root.contains(version_key))
    return Problem{"this is no bench of Fair Gauge",
                   fmt::format("an object with \"{}\": {}", version_key, bench_format_version), document->place_of("")};
  const Json& version = root[version_key];
  if (!version.is_number_integer() || version.get<double>() < 1)
    return Problem{"the version is not a whole number", "1 or more",
                   document->place_of(fmt::format("/{}", version_key))};
  if (version.get<double>() > bench_format_version)
    return Problem{fmt::format("the bench was written by a newer program (format {})", version.dump()),
                   fmt::format("format {} or older: update Fair Gauge, or save it there in the older format",
                               bench_format_version),
                   document->place_of(fmt::format("/{}", version_key))};
  if (const auto channels = root.find("channels");
      channels != root.end() && channels->is_array() && channels->size() > most_channels)
    return Problem{fmt::format("the bench has {} channels", channels->size()), fmt::format("{} at most", most_channels),
                   document->place_of(fmt::format("/channels/{}", most_channels))};

  LoadedBench loaded;
  Json fields = root;
  fields.erase(version_key);
  read_bench(*document, fields, loaded.bench, loaded.problems);
  for (Problem& problem : reference_problems(loaded.bench, *document)) loaded.problems.push_back(std::move(problem));
  return loaded;
}

Result<LoadedBench> load_bench(const std::string& path) {
  auto text = read_file(path, 16u << 20);
  if (!text) return text.problem();
  return bench_from_text(std::move(*text), path);
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
