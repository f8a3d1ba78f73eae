// A chain and a decoder are shared between threads: each works on its own scratch, none sees another's. Run under the
// thread sanitizer too.
#include <cstring>
#include <thread>

#include "demo.h"
#include "digital/encoder.h"
#include "truth/monte_carlo.h"

namespace fair_gauge::threads_test {

// Runs `work` in four threads at once and returns what each of them found.
template <class Work>
auto in_four_threads(Work work) {
  std::vector<decltype(work())> found(4);
  std::vector<std::thread> threads;
  for (auto& each : found) threads.emplace_back([&] { each = work(); });
  for (std::thread& thread : threads) thread.join();
  return found;
}

// Equal to the last bit, not-a-number included.
bool same(const std::vector<double>& a, const std::vector<double>& b) {
  return a.size() == b.size() && std::memcmp(a.data(), b.data(), a.size() * sizeof(double)) == 0;
}

TEST(Threads, ShareADecoder) {
  for (const Part& part : shipped_parts().parts()) {
    if (!part.is_digital()) continue;
    const auto decoder = Decoder::make(part);
    ASSERT_TRUE(decoder) << part.id;
    const auto blocks = encode(*decoder, {});
    ASSERT_TRUE(blocks) << part.id;
    const auto read = [&] {
      std::vector<double> values;
      for (int i = 0; i < 20; ++i) {
        ByteBlocks turned = *blocks;
        auto& bytes = turned.rbegin()->second;
        bytes[static_cast<std::size_t>(i) % bytes.size()] ^= static_cast<std::uint8_t>(i);
        const Decoded decoded = decoder->decode(turned, Tracing::on);
        values.push_back(static_cast<double>(decoded.faults.size()));
        for (const DigitalReading& reading : decoded.readings) values.push_back(reading.value);
      }
      return values;
    };
    const auto alone = read();
    for (const auto& found : in_four_threads(read)) EXPECT_TRUE(same(found, alone)) << part.id;
  }
}

TEST(Threads, ShareAChain) {
  const Bench bench = demo_bench();
  for (const Channel& channel : bench.channels) {
    const Chain chain = demo_chain(channel.id, bench);
    const auto walk = [&] {
      std::vector<double> values;
      for (int i = 0; i <= 10; ++i) {
        const double world = channel.wanted.from + (channel.wanted.to - channel.wanted.from) * i / 10;
        const auto raw = raw_for(chain, world);
        values.push_back(raw.value_or(-1));
        values.push_back(raw ? read_raw(chain, *raw).value_or(-1) : -1);
      }
      return values;
    };
    const auto alone = walk();
    for (const auto& found : in_four_threads(walk)) EXPECT_TRUE(same(found, alone)) << channel.id;
  }
}

TEST(Threads, DrawSpecimensWhileTheChainIsSolved) {
  for (const char* id : {"substrate", "room", "grow_light", "compost_probe"}) {
    const Chain chain = demo_chain(id);
    const double middle = (chain.channel.wanted.from + chain.channel.wanted.to) / 2;
    const auto drawn = [&] {
      const auto result = monte_carlo(chain, middle, 4000, 7);
      return result ? std::vector{result->mean, result->standard} : std::vector<double>{};
    };
    const auto alone = drawn();
    std::thread solving([&] {
      for (int i = 0; i < 200; ++i) (void)evaluate(chain, {StageName::world, middle});
    });
    for (const auto& found : in_four_threads(drawn)) EXPECT_TRUE(same(found, alone)) << id;
    solving.join();
  }
}

// A catalogue that is read anew leaves those alone who hold a part of the old one.
TEST(Threads, APartOutlivesItsCatalogue) {
  auto catalogue = std::make_unique<Catalogue>();
  ASSERT_TRUE(catalogue->add_folder(std::string(FAIR_GAUGE_SOURCE) + "/data/parts").empty());
  const auto chain = build_chain(demo_bench(), *catalogue, "room");
  ASSERT_TRUE(chain);
  const double raw = *raw_for(*chain, 21), before = *read_raw(*chain, raw);
  const PartPointer held = catalogue->share("BME280");
  const std::string name = held->name;
  ASSERT_TRUE(catalogue
                  ->add(R"({"parts": [{"id": ")" + held->id +
                            R"(", "name": "another", "interface": "voltage", "source": "s",
      "transfer": {"type": "linear", "numbers": {"slope": 0.01, "offset": 0}},
      "quantities": [{"quantity": "temperature", "minimum": 0, "maximum": 50}]}]})",
                        "mine")
                  .empty());
  EXPECT_EQ(catalogue->find(held->id)->name, "another");
  catalogue.reset();
  EXPECT_EQ(held->name, name);
  EXPECT_EQ(*read_raw(*chain, raw), before);
}

}  // namespace fair_gauge::threads_test
