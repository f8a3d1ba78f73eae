#include "bench/board_presets.h"

#include <fmt/format.h>

#include <algorithm>
#include <cctype>
#include <filesystem>

#include "bench/bench_file.h"
#include "bench/bench_things.h"
#include "language/translation.h"

namespace fair_gauge {
std::vector<BoardPreset> load_board_presets(const std::vector<std::string>& folders, std::vector<Problem>* problems) {
  std::vector<BoardPreset> presets;
  for (const std::string& folder : folders) {
    const bool ships = folder == folders.front();
    std::vector<std::filesystem::path> files;
    std::error_code none;
    for (const auto& entry : std::filesystem::directory_iterator(folder, none))
      if (entry.path().extension() == ".json") files.push_back(entry.path());
    std::ranges::sort(files);
    for (const auto& file : files) {
      auto loaded = load_bench(file.string(), ships ? Texts::in_language : Texts::as_written);
      if (!loaded || !loaded->problems.empty()) {
        if (problems) problems->push_back(loaded ? loaded->problems.front() : loaded.problem());
        continue;
      }
      BoardPreset preset{file.stem().string(), std::move(loaded->bench)};
      preset.bench.devices.clear();
      preset.bench.channels.clear();
      std::erase_if(presets, [&](const BoardPreset& other) { return other.id == preset.id; });
      presets.push_back(std::move(preset));
    }
  }
  return presets;
}

Bench bench_of_preset(const BoardPreset& preset, std::string name) {
  Bench bench = preset.bench;
  bench.board.preset = preset.id;
  bench.name = std::move(name);
  return bench;
}

bool has_no_board(const Bench& bench) { return bench.rails.empty() && bench.converters.empty() && bench.buses.empty(); }

void take_board(Bench& bench, const BoardPreset& preset) {
  bench.board = preset.bench.board;
  bench.board.preset = preset.id;
  bench.rails = preset.bench.rails;
  bench.converters = preset.bench.converters;
  bench.buses = preset.bench.buses;
}

Result<std::string> save_board_preset(const Bench& bench, const std::string& name, const std::string& folder) {
  std::string id;
  for (const char c : name) {
    const auto letter = static_cast<unsigned char>(c);
    if (letter < 0x80 && std::isalnum(letter))
      id += static_cast<char>(std::tolower(letter));
    else if (!id.empty() && id.back() != '-')
      id += '-';
  }
  while (id.ends_with('-')) id.pop_back();
  if (id.empty())
    return Problem{translated("the board has no name"),
                   translated("what it is in plain words, such as 10-bit controller, 5 V")};
  const std::filesystem::path path = std::filesystem::path(folder) / (id + ".json");
  std::error_code error;
  if (std::filesystem::exists(path, error))
    return Problem{
        translated("a board of that name is kept already"), translated("another name"), {.file = path.string()}};
  std::filesystem::create_directories(folder, error);
  Bench kept{.board = bench.board, .rails = bench.rails, .converters = bench.converters, .buses = bench.buses};
  kept.board.preset = id;
  kept.board.name = name;
  for (Rail& rail : kept.rails) rail.voltage.measured_v.reset();
  for (Converter& converter : kept.converters) converter.reference.measured_v.reset();
  for (Pin& pin : kept.board.pins)
    if (!find_by_id(kept.buses, pin.uses)) pin.uses.clear(), pin.carries.clear();
  if (const auto saved = save_bench(kept, path.string()); !saved) return saved.problem();
  return path.string();
}

std::vector<std::string> lacks_of(const Bench& bench, const Channel& channel) {
  std::vector<std::string> lacks;
  if (channel.derived)
    for (const std::string& id : {channel.derived->of, channel.derived->beside})
      if (!id.empty() && !find_by_id(bench.channels, id))
        lacks.push_back(translated("the channel \"{}\", from which it is worked out, is gone", id));
  if (lacks_sensor(channel)) lacks.push_back(translated("it has no sensor: choose one"));
  const Device* device = find_by_id(bench.devices, channel.device);
  if (!channel.device.empty() && !device)
    lacks.push_back(translated("its sensor \"{}\" is not on the bench", channel.device));
  if (!(channel.wanted.to > channel.wanted.from))
    lacks.push_back(translated("its wanted range is empty: from where to where is it to read?"));
  if (!(channel.tolerance > 0)) lacks.push_back(translated("nothing says how far it may be off"));
  if (!device) return lacks;
  if (!device->converter.empty() && !find_by_id(bench.converters, device->converter))
    lacks.push_back(translated("the converter \"{}\" of its sensor is gone", device->converter));
  if (!device->front_end.rail.empty() && !find_by_id(bench.rails, device->front_end.rail))
    lacks.push_back(translated("the rail \"{}\" that feeds its sensor is gone", device->front_end.rail));
  if (!device->bus.empty() && !find_by_id(bench.buses, device->bus))
    lacks.push_back(translated("the bus \"{}\" of its sensor is gone", device->bus));
  const Bus* line = find_by_id(bench.buses, device->alert);
  if (!device->alert.empty() && !line)
    lacks.push_back(translated("the alert line \"{}\" of its sensor is gone", device->alert));
  if (line && line->kind != BusKind::alert)
    lacks.push_back(translated("its sensor's alert output ends at \"{}\", which is no alert line but {}", line->id,
                               translated_name(line->kind)));
  for (const Pin& pin : bench.board.pins)
    if (pin.uses == device->id && !pin.reads.empty() && !device->converter.empty() && pin.reads != device->converter)
      lacks.push_back(translated("it ends at pin {}, which another converter reads", pin.name));
  return lacks;
}

}  // namespace fair_gauge
