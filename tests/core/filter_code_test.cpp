// Filters as firmware: what is written is compiled and run over made-up series, and held against the same filter as it
// judges logs, which works with floating numbers in another way; C and Python say the same.
#include <gmock/gmock.h>

#include <fmt/format.h>

#include <cmath>
#include <random>
#include <sstream>

#include "demo.h"
#include "handoff/handoff.h"
#include "handoff/write_filter.h"
#include "scratch_folder.h"
#include "stream/filters.h"

namespace fair_gauge::filter_code_test {

using ::testing::HasSubstr;

std::vector<std::int32_t> series() {
  std::mt19937 random(7);
  std::vector<std::int32_t> values;
  for (int i = 0; i < 300; ++i)
    values.push_back(static_cast<std::int32_t>(2500 + 3000 * std::sin(i / 20.0)) + static_cast<int>(random() % 41) -
                     20);
  values[100] = 2'000'000'000, values[101] = -2'000'000'000;  // the ends of what a value can be
  return values;
}

class FilterCode : public ScratchFolder {
 protected:
  std::vector<std::int64_t> numbers(const std::string& said) const {
    std::vector<std::int64_t> all;
    std::istringstream in(said);
    for (std::string line; std::getline(in, line);) all.push_back(std::atoll(line.c_str()));
    return all;
  }
};

TEST_F(FilterCode, FiltersAsItWasTried) {
  const KeptFilter filters[] = {{FilterKind::mean, 1, 1, {}},
                                {FilterKind::mean, 8, 1, {}},
                                {FilterKind::mean, 7, 1, {}},
                                {FilterKind::median, 5, 1, {}},
                                {FilterKind::median, 4, 1, {}},
                                {FilterKind::exponential, 1, 0.25, {}},
                                {FilterKind::exponential, 1, 0.0625, {}},
                                {FilterKind::exponential, 1, 1, {}}};
  const auto values = series();
  std::string list;
  for (const auto value : values) list += fmt::format("{},", value);
  std::string calls_c, calls_python, sources;
  ChannelLog log;
  for (const auto value : values) log.rows.push_back({.reading = static_cast<double>(value)});
  std::vector<double> expected;
  for (std::size_t i = 0; i < std::size(filters); ++i) {
    const std::string name = fmt::format("f{}", i);
    const auto [header, source] = write_filter_c(name, filters[i]);
    write(name + "_filter.h", header);
    write(name + "_filter.c", source);
    write(name + "_filter.py", write_filter_python(filters[i]));
    sources += fmt::format("#define nearest {0}_nearest\n#include \"{0}_filter.c\"\n#undef nearest\n", name);
    calls_c += fmt::format(
        "  {{ {0}_filter_state s = {{0}}; for (unsigned i = 0; i < sizeof values / sizeof *values; ++i) "
        "printf(\"%ld\\n\", (long){0}_filter(&s, values[i])); }}\n",
        name);
    calls_python +=
        fmt::format("import {0}_filter\nf = {0}_filter.Filter()\nfor v in values:\n    print(f.take(v))\n", name);
    const Filtered tried =
        filter_log(log, {filters[i].kind, static_cast<std::size_t>(filters[i].length), filters[i].weight});
    expected.insert(expected.end(), tried.values.begin(), tried.values.end());
  }
  // The state of the missing braces is all zero, as a static one is.
  write("main.c", "#include <stdio.h>\n" + sources + "static const int32_t values[] = {" + list +
                      "};\nint main(void) {\n" + calls_c + "  return 0;\n}\n");
  write("main.py", "values = [" + list + "]\n" + calls_python);
  const std::string said = shell(
      "gcc -std=c99 -Wall -Wextra -Wpedantic -Wconversion -Wshadow -Wno-missing-field-initializers -Wno-missing-braces "
      "-Werror main.c -o main && ./main");
  const auto got = numbers(said);
  ASSERT_EQ(got.size(), expected.size()) << said.substr(0, 2000);
  for (std::size_t i = 0; i < got.size(); ++i) EXPECT_NEAR(static_cast<double>(got[i]), expected[i], 0.51) << i;
  EXPECT_EQ(said, shell("python3 -B main.py"));
}

// By hand: 10, 13, 12 make 10, 23 ÷ 2 = 11.5 → 12, 35 ÷ 3 = 11.67 → 12; below zero the same way round.
TEST_F(FilterCode, RoundsAwayFromZeroOnBothSides) {
  write("m_filter.py", write_filter_python({FilterKind::mean, 3, 1, {}}));
  write("main.py",
        "import m_filter\nfor sign in (1, -1):\n    f = m_filter.Filter()\n    for v in (10, 13, 12):\n        "
        "print(f.take(sign * v))\n");
  EXPECT_THAT(numbers(shell("python3 -B main.py")), ::testing::ElementsAre(10, 12, 12, -10, -12, -12));
}

TEST_F(FilterCode, IsHandedOverBesideTheConversion) {
  Bench bench = demo_bench();
  Channel& channel = *find_by_id(bench.channels, "spawn_fridge");
  const auto fingerprint = chain_fingerprint(demo_chain("spawn_fridge", bench));
  const auto without = hand_over(bench, shipped_parts(), {.channel = "spawn_fridge"});
  ASSERT_TRUE(without);
  EXPECT_FALSE(without->files.contains("spawn_fridge_filter.c"));
  channel.filter = KeptFilter{FilterKind::exponential, 1, 0.125, {}};
  const auto with = hand_over(bench, shipped_parts(), {.channel = "spawn_fridge"});
  ASSERT_TRUE(with);
  EXPECT_THAT(with->files.at("spawn_fridge_filter.h"), HasSubstr("exponential, 1/8 of each"));
  EXPECT_THAT(with->files.at("spawn_fridge_filter.c"), HasSubstr("#include \"spawn_fridge_filter.h\""));
  EXPECT_EQ(with->files.at("spawn_fridge.c"), without->files.at("spawn_fridge.c"));
  EXPECT_THAT(with->report.notes, ::testing::Contains(HasSubstr("exponential, 1/8 of each")));
  // Its state is a 64-bit number and a byte; run one after the other on the controller, as the log's filter has it.
  EXPECT_THAT(with->report.notes, ::testing::Contains(::testing::AllOf(HasSubstr("9 of RAM"),
                                                                       HasSubstr("200 filtered values are the same"))));
  EXPECT_NE(chain_fingerprint(demo_chain("spawn_fridge", bench)), fingerprint) << "what was handed over is out of date";
  const auto python = hand_over(bench, shipped_parts(), {.channel = "spawn_fridge", .language = Language::python});
  ASSERT_TRUE(python);
  EXPECT_THAT(python->files.at("spawn_fridge_filter.py"), HasSubstr("class Filter"));
}

}  // namespace fair_gauge::filter_code_test
