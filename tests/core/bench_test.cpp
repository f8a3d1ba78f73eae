// Bench files: what is good is kept, every fault has its place, nothing of a file is lost in a round trip.
#include <fmt/format.h>
#include <gmock/gmock.h>

#include <filesystem>
#include <functional>

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
  for (const auto& entry : std::filesystem::directory_iterator(std::string(FAIR_GAUGE_SOURCE) + "/data/boards"))
    for (const auto& problem : schema_problems(*read_json(entry.path().string()), schema->value))
      ADD_FAILURE() << entry.path() << ": " << to_text(problem);
  const auto written = parse_json(bench_to_text(demo_bench()), "written");
  EXPECT_TRUE(schema_problems(*written, schema->value).empty());
  const auto wrong = parse_json(R"({"fair_gauge_bench": 1, "converters": [{"id": "a", "bits": "twelve"}]})", "wrong");
  EXPECT_FALSE(schema_problems(*wrong, schema->value).empty());
}

// Hands every key of a schema to `take`, with an object that holds what it must, below a bench that holds the object.
void for_each_key(const Json& schema, const std::function<void(const std::string& path, const Json& key)>& take,
                  const std::string& path = "") {
  for (const auto& [key, value] : schema["properties"].items()) {
    take(path + "/" + key, value);
    const Json& inside = value.contains("items") ? value["items"] : value;
    if (inside.is_object() && inside.contains("properties"))
      for_each_key(inside, take, path + "/" + key + (&inside == &value ? "" : "/0"));
  }
}

// The least value that a schema takes.
Json least_of(const Json& schema) {
  if (schema.contains("enum")) return schema["enum"][0];
  const std::string type = schema.value("type", "string");
  if (type == "boolean") return false;
  if (type == "array") return Json::array();
  if (type == "string") return "x";
  if (type == "integer") return std::max(1, schema.value("minimum", 1));
  if (type != "object") return std::max(1e-3, schema.value("minimum", 1.0));
  Json object = Json::object();
  for (const auto& key : schema.value("required", Json::array()))
    object[key.get<std::string>()] = least_of(schema["properties"][key.get<std::string>()]);
  return object;
}

// A bench with one value at a path, and around it only what must be there.
Json bench_with(const Json& schema, const std::string& path, const Json& value) {
  Json bench = least_of(schema);
  const Json* described = &schema;
  Json* at = &bench;
  const auto steps = Json::json_pointer(path);
  std::vector<std::string> keys;
  for (auto step = steps; !step.empty(); step.pop_back()) keys.insert(keys.begin(), step.back());
  for (const std::string& key : keys) {
    if (key == "0") {
      described = &(*described)["items"];
      at->push_back(least_of(*described));
      at = &at->back();
      continue;
    }
    described = &(*described)["properties"][key];
    if (!at->contains(key)) (*at)[key] = least_of(*described);
    at = &(*at)[key];
  }
  *at = value;
  return bench;
}

// The published schema, the page of the manual and the program say the same: every key is described, and a default is
// what the program takes where the key is missing, for it leaves such a value out.
TEST(BenchFile, EveryKeyIsDescribedWithTheProgramsOwnDefault) {
  const Json schema = read_json(std::string(FAIR_GAUGE_SOURCE) + "/data/schema/bench.schema.json")->value;
  const std::string page = *read_file(std::string(FAIR_GAUGE_SOURCE) + "/docs/bench-file.md", 1u << 20);
  int defaults = 0;
  for_each_key(schema, [&](const std::string& path, const Json& key) {
    EXPECT_TRUE(key.contains("description")) << path;
    const std::string name = path.substr(path.rfind('/') + 1);
    EXPECT_THAT(page, HasSubstr("\n| `" + name + "` | " + key.value("description", "?"))) << "run tools/bench-keys";
    if (!key.contains("default")) return;
    const auto read = [&](const Json& value) {
      const auto loaded = bench_from_text(bench_with(schema, path, value).dump(), "b");
      return loaded ? Json::parse(bench_to_text(loaded->bench)) : Json();
    };
    const Json::json_pointer place(path);
    EXPECT_FALSE(read(key["default"]).contains(place)) << path << " has another default";
    ++defaults;
    if (key["default"].is_number()) {
      const double usual = key["default"].get<double>();
      const double other = usual != 0 ? 2 * usual : key.value("maximum", 1e9) > 1 ? 1.0 : 0.125;
      EXPECT_TRUE(read(other).contains(place)) << path;
    }
  });
  EXPECT_GT(defaults, 60);
}

// The ranges that the schema publishes are those that the program keeps: the ends are taken, what lies beyond is
// refused.
TEST(BenchFile, EveryRangeOfTheSchemaIsTheProgramsOwn) {
  const Json schema = read_json(std::string(FAIR_GAUGE_SOURCE) + "/data/schema/bench.schema.json")->value;
  int ends = 0;
  for_each_key(schema, [&](const std::string& path, const Json& key) {
    const std::string type = key.value("type", "");
    if ((type != "number" && type != "integer") || path == "/fair_gauge_bench") return;
    const auto is_refused = [&](const Json& value) {
      const auto loaded = bench_from_text(bench_with(schema, path, value).dump(), "b");
      return !loaded || std::ranges::any_of(loaded->problems, [&](const Problem& problem) {
        return problem.wrong.starts_with(path + " is ");
      });
    };
    const bool whole = type == "integer";
    for (const auto& [end, direction] : {std::pair("minimum", -1), std::pair("maximum", 1)}) {
      if (!key.contains(end)) {
        EXPECT_FALSE(is_refused(whole ? Json(direction * 1'000'000) : Json(direction * 1e12)))
            << path << " has no " << end;
        continue;
      }
      const double at = key[end].get<double>(), step = whole ? 1 : std::max(std::abs(at) * 0.01, 1e-15);
      const auto number = [&](double value) { return whole ? Json(static_cast<int>(value)) : Json(value); };
      EXPECT_FALSE(is_refused(number(at))) << path << " " << at;
      EXPECT_TRUE(is_refused(number(at + direction * step))) << path << " beyond " << at;
      ++ends;
    }
  });
  EXPECT_GT(ends, 100);
}

TEST(BenchFile, TheSmallestOfTheManualHasAReading) {
  const std::string page = *read_file(std::string(FAIR_GAUGE_SOURCE) + "/docs/bench-file.md", 1u << 20);
  const auto begin = page.find("```json\n") + 8;
  const auto loaded = bench_from_text(page.substr(begin, page.find("```", begin) - begin), "smallest");
  ASSERT_TRUE(loaded);
  EXPECT_TRUE(loaded->problems.empty());
  const auto chain = build_chain(loaded->bench, shipped_parts(), "shelf");
  ASSERT_TRUE(chain) << to_text(chain.problem());
  EXPECT_NEAR(*read_raw(*chain, 154), 25, 0.3);  // 154 / 1024 · 5 V = 0.752 V; 0.75 V at 25 °C, 10 mV a kelvin
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
      {"{\"fair_gauge_bench\": 1, \"name\": \"" + std::string(32'768, '9') + "\"}",
       "/name is \"" + std::string(39, '9') + "…; 32767 characters at most"},
      {"{\"fair_gauge_bench\": 1, \"x\": 1e999}", "too large"},
      {"{\"fair_gauge_bench\": 1, \"channels\": [{\"id\": \"a\", \"device\": \"gone\"}]}",
       "there is no device \"gone\""},
      {"{\"fair_gauge_bench\": 1, \"rails\": [{\"id\": \"a\", \"voltage\": {\"nominal_v\": 3}}, {\"id\": \"a\", "
       "\"voltage\": {\"nominal_v\": 5}}]}",
       "the id \"a\" is used twice in rails"},
      {R"({"fair_gauge_bench": 1, "own_parts": [{"part": "TMP36", "figures": [{"quantity": "temperature", "from": 40,
          "to": 5}]}]})",
       "b.json:1:69: the own range of \"TMP36\" ends before it begins"},
      {R"({"fair_gauge_bench": 1, "own_parts": [{"part": "TMP36", "figures": [{"quantity": "temperature", "to": 5}]}]})",
       "has one end only"},
      {R"({"fair_gauge_bench": 1, "own_parts": [{"part": "TMP36", "supply_minimum_v": 5, "supply_maximum_v": 3}]})",
       "begins at 5 V and ends at 3 V"},
  };
  for (const auto& [text, words] : table) EXPECT_THAT(problem_of(text), HasSubstr(words)) << text.substr(0, 60);
}

// Letters are counted, not bytes: what a field of the window took is read again.
TEST(BenchFile, ALongTextIsReadAgain) {
  std::string long_name;
  for (int i = 0; i < 32'767; ++i) long_name += "ü";
  const auto loaded = bench_from_text("{\"fair_gauge_bench\": 1, \"name\": \"" + long_name + "\"}", "b.json");
  ASSERT_TRUE(loaded);
  EXPECT_TRUE(loaded->problems.empty());
  EXPECT_EQ(loaded->bench.name, long_name);
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
  for (std::size_t length = 0; length < good.size(); length += is_sanitized ? 97 : 13)
    EXPECT_FALSE(bench_from_text(good.substr(0, length), "b"));
}

}  // namespace fair_gauge::bench_test
