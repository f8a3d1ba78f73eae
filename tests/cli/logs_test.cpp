// Logs by the command line: converted, judged, filtered, switched on, recorded.
#include <algorithm>
#include <chrono>
#include <span>
#include <sstream>

#include "../built.h"
#include "cli.h"

namespace fair_gauge::cli_test {

TEST(Cli, ConvertFillsAColumnAndSaysWhatItLeft) {
  const Ran result = run("convert --bench " + demo + " --channel substrate --digits 3", "time,counts\n0,2251\n1,x\n");
  EXPECT_EQ(result.code, 0);
  EXPECT_THAT(result.out, testing::StartsWith("time,counts,substrate_Cel\n0,2251,24.790\n1,x,\n"));
  EXPECT_THAT(result.error, HasSubstr("line 3"));
  EXPECT_EQ(run("convert --bench " + demo + " --channel substrate --strict", "counts\nx\n").code, 3);
  EXPECT_THAT(run("convert --bench " + demo + " --channel substrate --unit '[degF]' --digits 2", "counts\n2251\n").out,
              HasSubstr("substrate_[degF]\n2251,76.62"));
}

TEST(Cli, ConvertOfTheDaysLogReadsEveryRow) {
  const std::string log = std::string(FAIR_GAUGE_SOURCE) + "/data/demo/fernhollow-substrate.csv";
  const std::string out = temporary(".csv");
  const Ran result =
      run("convert --bench " + demo + " --channel substrate --input " + log + " --output " + out + " --json");
  ASSERT_EQ(result.code, 0) << result.error;
  const auto summary = json::parse(result.error);
  EXPECT_EQ(summary["rows"], 8640);
  EXPECT_EQ(summary["converted"], 8640);
  std::filesystem::remove(out);
}

TEST(Cli, AChannelThatHangsOnAFaultyValueHasNoReading) {
  struct Case {
    const char* at;
    const char* value;
    const char* says;
  };
  const Case cases[] = {{"/devices/0/front_end/fixed_ohm", "\"8200\"", "fixed_ohm is \"8200\""},
                        {"/devices/0/front_end/fixed_ohm", "-5", "fixed_ohm is -5"},
                        {"/converters/0/bits", "\"twelve\"", "bits is \"twelve\""},
                        {"/channels/0/correction", R"({"table": [[1, 2], 3, [4, 5]]})", "table/1 is 3"},
                        {"/channels/0/correction", R"({"table": [[1, 2], [0, 3]]})", "do not rise"},
                        {"/channels/0/correction", R"({"coefficients": [0.1, "x"]})", "coefficients/1"},
                        {"/devices/0/front_end/rail", "\"no rail\"", "there is no rail \"no rail\""}};
  for (const Case& each : std::span(cases).first(is_sanitized ? 4 : std::size(cases))) {
    const std::string bench = changed_bench("faulty", each.at, each.value);
    for (const char* command :
         {"convert --channel substrate --bench ", "budget --channel substrate --at 20 --bench "}) {
      const Ran ran = run(command + bench, "time,counts\n0,2000\n");
      EXPECT_EQ(ran.code, 3) << each.at << each.value << command;
      EXPECT_EQ(ran.out, "") << each.at;
      EXPECT_THAT(ran.error, HasSubstr(each.says));
    }
    // What does not hang on it is read as before.
    EXPECT_EQ(run("budget --channel board --at 20 --bench " + bench).code, 0) << each.at;
    std::filesystem::remove(bench);
  }
}

TEST(Cli, ReviewFilterAndSwitchAnswerAsTheContractSays) {
  const std::string log = temporary("-log.csv");
  ASSERT_EQ(run("simulate --bench " + demo + " --seconds 1200 --period 2 --seed 4 --output " + log).code, 0);
  const std::string what = " --bench " + demo + " --channel substrate --input " + log;
  const auto review = json::parse(run("review" + what + " --json").out);
  for (const char* key : {"rows", "good", "from", "to", "mean", "minimum", "maximum", "standard_deviation", "noise",
                          "noise_steps", "effective_bits", "drift_per_hour", "events"})
    EXPECT_TRUE(review.contains(key)) << key;
  EXPECT_EQ(review["rows"], 600);
  EXPECT_EQ(review["from"], "0");
  EXPECT_EQ(review["to"], "1198");
  EXPECT_TRUE(review["events"].empty()) << review["events"];
  const std::string out = temporary("-filtered.csv");
  const auto filter = json::parse(run("filter" + what + " --kind mean --length 4 --output " + out + " --json").out);
  EXPECT_NEAR(filter["noise_after"].get<double>(), filter["noise_before"].get<double>() / 2, 1e-12);
  EXPECT_EQ(filter["delay_s"], 3);
  std::istringstream lines(content_of(out));
  std::string line;
  std::getline(lines, line);
  EXPECT_TRUE(line.ends_with(",substrate_Cel")) << line;
  std::size_t rows = 0;
  while (std::getline(lines, line)) ++rows;
  EXPECT_EQ(rows, 600u);
  EXPECT_EQ(run("filter" + what + " --kind mean").code, 2);
  EXPECT_EQ(run("filter" + what + " --kind exponential --length 3").code, 2);
  EXPECT_EQ(run("filter" + what + " --kind mean --length 3 --output " + log).code, 4) << "it is being read";
  const auto switched = json::parse(run("switch" + what + " --heat --goal 30 --band 0.5 --json").out);
  EXPECT_EQ(switched["switches"], 1);
  EXPECT_EQ(switched["share_on"], 1);
  EXPECT_EQ(switched["longest_on_s"], 1198);
  EXPECT_EQ(switched["compare_on"], ">=") << "a thermistor below its resistor falls";
  EXPECT_EQ(run("switch" + what + " --heat --cool --goal 30 --band 0.5").code, 2);
  EXPECT_EQ(run("switch" + what + " --heat --goal 30 --band 0.5 --schedule 'noon 3'").code, 3);
  EXPECT_TRUE(
      json::parse(run("switch" + what + " --heat --goal 30 --band 0.5 --schedule '06:00 31' --json").out)["on_code"]
          .is_null());
  EXPECT_EQ(run("review --bench " + demo + " --channel substrate --input /no/such/log").code, 4);
}

TEST(Cli, RecordKeepsRawNumbersAndBytes) {
  const std::string out = temporary("-record.csv");
  for (const std::string& file : {out, out + "-metadata.json"}) std::filesystem::remove(file);
  const std::string lines = "substrate:1873 room:x7EED00\nno line at all\nsubstrate:1880\n";
  const Ran first = run("record --bench " + demo + " --input - --output " + out, lines);
  EXPECT_EQ(first.code, 0) << first.error;
  EXPECT_THAT(first.error, HasSubstr("1 line could not be read"));
  EXPECT_THAT(content_of(out), testing::StartsWith("time,substrate,room\n"));
  const auto metadata = json::parse(content_of(out + "-metadata.json"));
  EXPECT_EQ(metadata["@context"], "http://www.w3.org/ns/csvw");
  EXPECT_EQ(metadata["tableSchema"]["columns"][2]["datatype"], "hexBinary");
  EXPECT_EQ(run("record --bench " + demo + " --input - --output " + out, lines).code, 0);
  const std::string text = content_of(out);
  EXPECT_EQ(std::count(text.begin(), text.end(), '\n'), 5);
  const Ran converted = run("convert --bench " + demo + " --channel room --digits 2 --input " + out);
  EXPECT_THAT(converted.out, HasSubstr("1873,7EED00,2")) << "bytes are read by convert too";
  EXPECT_EQ(run("record --bench " + demo + " --input - --output " + demo, lines).code, 3);
}

// 72.5 °F are 22.5 °C.
TEST(Cli, AValueThatArrivesConvertedIsConvertedJudgedAndSwitchedOn) {
  const std::string bench = temporary("arriving.json", arriving_bench);
  EXPECT_EQ(run("check --bench " + bench).code, 0);
  const Ran converted = run("convert --channel air --digits 2 --bench " + bench, "time,air\n0,72.5\n10,x\n20,50\n");
  EXPECT_EQ(converted.code, 0);
  EXPECT_EQ(converted.out, "time,air,air_Cel\n0,72.5,22.50\n10,x,\n20,50,10.00\n");
  const std::string log = temporary("arriving.csv", "time,air\n0,71\n10,71.1\n20,73\n30,73\n");
  const auto review = json::parse(run("review --channel air --json --bench " + bench + " --input " + log).out);
  EXPECT_EQ(review["good"], 4);
  EXPECT_TRUE(review["events"].empty()) << review;
  const auto switched = json::parse(
      run("switch --channel air --heat --goal 22 --band 0.2 --json --bench " + bench + " --input " + log).out);
  EXPECT_EQ(switched["switches"], 2);
  EXPECT_NEAR(switched["on_code"].get<double>(), 71.3, 1e-9);
  // A unit in a recorded line is followed; a foreign one is left out.
  const std::string recording = temporary("arriving-record.csv");
  std::filesystem::remove(recording);
  const Ran recorded = run("record --input - --bench " + bench + " --output " + recording, "air: 22.5 C\nair: 45 %\n");
  EXPECT_EQ(recorded.code, 0);
  EXPECT_THAT(content_of(recording), HasSubstr(",72.5\n"));
  EXPECT_THAT(recorded.error, HasSubstr("1 line"));
  // It comes in °F and is wanted in °C: 72.5 °F are 22.5 °C.
  const std::string folder = temporary("arriving.d");
  EXPECT_EQ(run("handoff --channel air --language c --per-unit 10 --bench " + bench + " --output " + folder).code, 0);
  EXPECT_THAT(content_of(folder + "/air_vectors.csv"), HasSubstr("\n725,0,225\n"));
  std::filesystem::remove_all(folder);
  const auto found = json::parse(run("diagnose --channel air --raw 22.5 --expected 22.5 --json --bench " + bench).out);
  EXPECT_EQ(found["causes"][0]["code"], "unit-fahrenheit");
  for (const std::string& path : {bench, log, recording, recording + "-metadata.json"}) std::filesystem::remove(path);
}

// 25 °C beside 50 % has its dew point at 13.9 °C by every table of moist air.
TEST(Cli, ADewPointIsConvertedBesideItsHumidity) {
  json bench = {{"fair_gauge_bench", 1}, {"name", "air"}, {"channels", json::array()}};
  for (const auto& [id, quantity, unit] : {std::tuple{"warmth", "temperature", "Cel"}, {"moisture", "humidity", "%"}})
    bench["channels"].push_back({{"id", id},
                                 {"quantity", quantity},
                                 {"unit", unit},
                                 {"wanted", {{"from", 5}, {"to", 95}}},
                                 {"tolerance", 1},
                                 {"arrives", {{"as", "value"}, {"decimals", 1}}}});
  bench["channels"].push_back({{"id", "dew"},
                               {"quantity", "temperature"},
                               {"unit", "Cel"},
                               {"wanted", {{"from", 5}, {"to", 25}}},
                               {"tolerance", 1},
                               {"derived", {{"as", "dew-point"}, {"of", "warmth"}, {"beside", "moisture"}}}});
  const std::string path = temporary("-dew.json", bench.dump());
  EXPECT_EQ(run("check --bench " + path).code, 0);
  const Ran ran = run("convert --bench " + path + " --channel dew --digits 1",
                      "time,warmth,moisture\n0,25.0,\n1,25.0,50.0\n2,25.0,\n3,25.0,100.0\n");
  EXPECT_EQ(ran.code, 0);
  EXPECT_EQ(ran.out, "time,warmth,moisture,dew_Cel\n0,25.0,,\n1,25.0,50.0,13.9\n2,25.0,,13.9\n3,25.0,100.0,25.0\n");
  EXPECT_THAT(ran.error, HasSubstr("nothing is known yet of moisture"));
  const Ran cut = run("convert --bench " + path + " --channel dew", "time,warmth\n0,25.0\n");
  EXPECT_EQ(cut.code, 3);
  EXPECT_THAT(cut.error, HasSubstr("no column \"moisture\", beside which \"dew\" is worked out"));
  const Ran review = run("review --bench " + path + " --channel dew --json --input -",
                         "time,warmth,moisture\n0,25.0,50.0\n1,25.0,50.0\n2,25.0,50.0\n");
  EXPECT_EQ(review.code, 0) << review.error;
  EXPECT_NEAR(json::parse(review.out)["mean"].get<double>(), 13.9, 0.05);
  const Ran simulated = run("simulate --bench " + path + " --channel dew --seconds 5");
  EXPECT_EQ(simulated.code, 3);
  EXPECT_THAT(simulated.error, HasSubstr("\"warmth\", whose raw number is simulated"));
  std::filesystem::remove(path);
}

// A line that is still coming in is converted as it comes: row by row, not when a megabyte is full.
TEST(Cli, ALiveLineIsConvertedAsItComes) {
  const std::string command = "(printf 'time,counts\\n0,2048\\n'; sleep 4; printf '1,2048\\n') | " +
                              std::string(fair_gauge::built::command_line) +
                              " convert --bench " FAIR_GAUGE_SOURCE
                              "/data/demo/fernhollow.fairgauge.json --channel substrate --digits 1 2>/dev/null";
  const auto start = std::chrono::steady_clock::now();
  FILE* pipe = ::popen(command.c_str(), "r");
  ASSERT_TRUE(pipe);
  char line[200] = "";
  ASSERT_TRUE(std::fgets(line, sizeof line, pipe));
  EXPECT_STREQ(line, "time,counts,substrate_Cel\n");
  ASSERT_TRUE(std::fgets(line, sizeof line, pipe));
  EXPECT_LT(std::chrono::steady_clock::now() - start, std::chrono::seconds(3));
  // By hand: half of 4096, so R is the 8.2 kΩ: 1 / (1/298.15 + ln(0.82)/3950) − 273.15 = 29.53 °C, less 0.2.
  EXPECT_STREQ(line, "0,2048,29.3\n");
  while (std::fgets(line, sizeof line, pipe)) {
  }
  EXPECT_STREQ(line, "1,2048,29.3\n");
  EXPECT_EQ(WEXITSTATUS(::pclose(pipe)), 0);
}

// A line without end is refused in its place, is not held as a whole, and the lines around it are read.
TEST(Cli, ALineWithoutEndIsNotHeldInMemory) {
  const std::string long_line = temporary(".long");
  const std::string good = R"({"count":512})";
  for (const char* part : {"LMT01", "HX711"}) {
    {
      std::ofstream file(long_line);
      file << good << "\n{\"frame\":\"";
      const std::string much(1 << 20, '0');
      for (int i = 0; i < 60; ++i) file << much;
      file << "\"}\n" << good << "\n";
    }
    const std::string limit = is_sanitized ? "" : "ulimit -v 150000; ";
    FILE* pipe = ::popen((limit + std::string(fair_gauge::built::command_line) + " decode --part " + part +
                          " --batch " + long_line + " 2>/dev/null")
                             .c_str(),
                         "r");
    std::string out(4096, '\0');
    out.resize(std::fread(out.data(), 1, out.size(), pipe));
    EXPECT_EQ(WEXITSTATUS(::pclose(pipe)), 3) << part;
    std::istringstream lines(out);
    std::string before, refused, after;
    std::getline(lines, before);
    std::getline(lines, refused);
    std::getline(lines, after);
    EXPECT_TRUE(json::parse(before)["ok"]) << part << before;
    EXPECT_THAT(refused, HasSubstr("too long")) << part;
    EXPECT_EQ(after, before) << part;
  }
  std::filesystem::remove(long_line);
}

// A pipe with a name is a log like any other.
TEST(Cli, ConvertsWhatComesThroughANamedPipe) {
  const std::string pipe = temporary(".pipe"), log = temporary(".csv", "counts\n2000\n2100\n");
  ASSERT_EQ(::mkfifo(pipe.c_str(), 0600), 0);
  const std::string options = " convert --bench " + demo + " --channel substrate --input ";
  const auto through = [&](const std::string& shell) {
    FILE* running = ::popen(shell.c_str(), "r");
    std::string out(4096, '\0');
    out.resize(std::fread(out.data(), 1, out.size(), running));
    EXPECT_EQ(WEXITSTATUS(::pclose(running)), 0);
    return out;
  };
  const std::string cli = fair_gauge::built::command_line;
  const std::string out = through("cat " + log + " > " + pipe + " & " + cli + options + pipe + " 2>/dev/null");
  EXPECT_EQ(out, through(cli + options + log + " 2>/dev/null"));
  EXPECT_EQ(std::ranges::count(out, '\n'), 3);
  std::filesystem::remove(pipe);
  std::filesystem::remove(log);
}
}  // namespace fair_gauge::cli_test
