// Logs as they are converted, reviewed, filtered, switched and recorded; the first byte chooses the channel.
#include <cstddef>
#include <cstdint>
#include <cstdlib>
#include <filesystem>
#include <fstream>
#include <string>

#include "bench/bench_file.h"
#include "fuzz/targets.h"
#include "stream/log_convert.h"
#include "stream/recording_events.h"
#include "stream/review.h"
#include "stream/switching.h"

namespace {

using namespace fair_gauge;

struct World {
  World() {
    const Catalogue catalogue = load_catalogue();
    const auto bench = load_bench(std::string(FAIR_GAUGE_SOURCE) + "/data/demo/fernhollow.fairgauge.json");
    if (!bench || !::mkdtemp(folder.data())) std::abort();
    for (const Channel& channel : bench->bench.channels)
      if (auto chain = build_chain(bench->bench, catalogue, channel.id)) chains.push_back(std::move(*chain));
  }
  ~World() { std::filesystem::remove_all(folder); }
  World(const World&) = delete;
  World& operator=(const World&) = delete;
  std::vector<Chain> chains;
  std::string folder = (std::filesystem::temp_directory_path() / "fair-gauge-fuzz-XXXXXX").string();
};

const World& world() {
  static const World made;
  return made;
}

}  // namespace

int fuzz_logs(const std::uint8_t* bytes, std::size_t size) {
  if (size == 0) return 0;
  const Chain& chain = world().chains[bytes[0] % world().chains.size()];
  const std::string_view text(reinterpret_cast<const char*>(bytes) + 1, size - 1);
  std::string out;
  LogConverter converter(chain, "", 2, *chain.shown, [&](std::string_view piece) { out += piece; });
  if (!converter.take(text.substr(0, text.size() / 2)) && !converter.take(text.substr(text.size() / 2)))
    (void)converter.finish();
  const std::string path = world().folder + "/log.csv";
  std::ofstream(path, std::ios::binary) << text;
  std::ofstream(events_path(path), std::ios::binary) << text;
  (void)read_events(path);
  const auto log = read_channel_log(path, chain);
  if (!log) return 0;
  (void)review_log(*log, chain, {});
  (void)switch_on_log(*log, {.goal = 20, .band = 1}, {-10, 60});
  return 0;
}
