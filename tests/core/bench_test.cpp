// Bench files: what is good is kept, every fault has its place, nothing of a file is lost in a round trip.
#include <fmt/format.h>
#include <gmock/gmock.h>

#include "core/schema.h"
#include "demo.h"
#include "files/file.h"

namespace fair_gauge::bench_test {

using testing::HasSubstr;

std::string problem_of(const std::string& text) {
  const auto loaded = bench_from_text(text, "b.json");
  return loaded ? (loaded->problems.empty() ? "" : to_text(loaded->problems.front())) : to_text(loaded.problem());
}

TEST(BenchFile, TheDemonstrationHasNoFaults) {
  const auto loaded = load_bench(demo_path);
  ASSERT_TRUE(loaded);
  EXPECT_TRUE(loaded->problems.empty());
  EXPECT_EQ(loaded->bench.name, "Fernhollow");
}

TEST(BenchFile, ARoundTripChangesNothing) {
  const Bench bench = demo_bench();
  EXPECT_EQ(bench_from_text(bench_to_text(bench), "")->bench, bench);
}

TEST(BenchFile, UnknownKeysSurvive) {
  const std::string text =
      R"({"fair_gauge_bench":1,"shelf_colour":"green","channels":[{"id":"a","device":"d","wind":[1,{"x":null}]}],"devices":[{"id":"d","part":"p"}]})";
  const Json again = Json::parse(bench_to_text(bench_from_text(text, "")->bench));
  EXPECT_EQ(again["shelf_colour"], "green");
  EXPECT_EQ(again["channels"][0]["wind"][1].dump(), R"({"x":null})");
}

TEST(BenchFile, MeetsItsPublishedSchema) {
  const auto schema = read_json(std::string(FAIR_GAUGE_SOURCE) + "/data/schema/bench.schema.json");
  ASSERT_TRUE(schema) << to_text(schema.problem());
  for (const auto& problem : schema_problems(*read_json(demo_path), schema->value)) ADD_FAILURE() << to_text(problem);
  const auto written = parse_json(bench_to_text(demo_bench()), "written");
  EXPECT_TRUE(schema_problems(*written, schema->value).empty());
  const auto wrong = parse_json(R"({"fair_gauge_bench": 1, "converters": [{"id": "a", "bits": "twelve"}]})", "wrong");
  EXPECT_FALSE(schema_problems(*wrong, schema->value).empty());
}

TEST(BenchFile, BadFilesGetASentenceWithTheirPlace) {
  const std::string good = bench_to_text(demo_bench());
  std::string deep;
  for (int i = 0; i < 200; ++i) deep += "[";
  std::string crowd = R"({"fair_gauge_bench":1,"channels":[)";
  for (int i = 0; i < 1000; ++i) crowd += fmt::format("{}{{\"id\":\"c{}\",\"device\":\"d\"}}", i ? "," : "", i);
  crowd += "]}";
  const std::pair<std::string, std::string> table[] = {
      {"", "b.json:1:1: the file is empty"},
      {good.substr(0, good.size() / 2), "the text ends in the middle"},
      {"{\n  \"fair_gauge_bench\": 2\n}", "b.json:2:23: the bench was written by a newer program (format 2)"},
      {deep, "b.json:1:65: values are nested more than 64 levels deep"},
      {crowd, "the bench has 1000 channels; 500 at most"},
      {"{}", "this is no bench of Fair Gauge"},
      {"[1, 2]", "this is no bench of Fair Gauge"},
      {"{\"fair_gauge_bench\": 1,\n \"name\": 5}", "b.json:2:10: /name is 5; a text"},
      {"{\"fair_gauge_bench\": 1,\n \"converters\": [{\"id\": \"a\", \"bits\": 99}]}",
       "/converters/0/bits is 99; 1 to 32"},
      {"{\"fair_gauge_bench\": 1,\n \"converters\": [{\"id\": \"a\", \"bits\": 12, \"convention\": \"both\"}]}",
       "one of steps, codes"},
      {"{\"fair_gauge_bench\": 1, \"converters\": [{\"bits\": 12}]}", "\"id\" is missing"},
      {"{\"fair_gauge_bench\": 1, \"name\": \"\xff\"}", "this is not JSON"},
      {"{\"fair_gauge_bench\": 1, \"x\": 1e999}", "too large"},
      {"{\"fair_gauge_bench\": 1, \"channels\": [{\"id\": \"a\", \"device\": \"gone\"}]}",
       "there is no device \"gone\""},
      {"{\"fair_gauge_bench\": 1, \"rails\": [{\"id\": \"a\", \"voltage\": {\"nominal_v\": 3}}, {\"id\": \"a\", "
       "\"voltage\": {\"nominal_v\": 5}}]}",
       "the id \"a\" is used twice in rails"},
  };
  for (const auto& [text, words] : table) EXPECT_THAT(problem_of(text), HasSubstr(words)) << text.substr(0, 60);
}

TEST(BenchFile, AFaultyFieldLeavesTheRestStanding) {
  std::string text = bench_to_text(demo_bench());
  text.replace(text.find("\"bits\": 12"), 10, "\"bits\": -1");
  const auto loaded = bench_from_text(text, "b.json");
  ASSERT_TRUE(loaded);
  EXPECT_EQ(loaded->problems.size(), 1u);
  EXPECT_EQ(loaded->bench.channels.size(), demo_bench().channels.size());
}

TEST(BenchFile, EveryPrefixOfAGoodFileIsRefusedOrReadWithoutACrash) {
  const std::string good = bench_to_text(demo_bench());
  for (std::size_t length = 0; length < good.size(); length += 13)
    EXPECT_FALSE(bench_from_text(good.substr(0, length), "b"));
}

}  // namespace fair_gauge::bench_test
