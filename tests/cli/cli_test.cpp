// The command line as scripts see it: benches, logs, hand-over; output, exit codes, messages.
#include <algorithm>
#include <chrono>
#include <sstream>

#include "../built.h"
#include "cli.h"

namespace fair_gauge::cli_test {

TEST(Cli, ExitCodesFollowTheContract) {
  EXPECT_EQ(run("parts").code, 0);
  EXPECT_EQ(run("no-such-command").code, 2);
  EXPECT_EQ(run("forward --part LM35").code, 2);
  EXPECT_EQ(run("forward --part LM35 --at 'temperature=warm'").code, 3);
  EXPECT_EQ(run("forward --part LM36x --at 'temperature=5'").code, 3);
  EXPECT_EQ(run("forward --part LM35 --at 'temperature=999 Cel'").code, 3);
  EXPECT_EQ(run("forward --part LM35 --at 'pressure=5 Pa'").code, 3);
  EXPECT_EQ(run("forward --part LM35 --setting slope=steep --at 'temperature=5'").code, 3);
  EXPECT_EQ(run("check --bench /no/such/file").code, 4);
  EXPECT_EQ(run("convert --bench " + demo + " --channel substrate --input /no/such/file").code, 4);
  EXPECT_EQ(run("convert --bench " + demo + " --channel nowhere").code, 3);
  EXPECT_EQ(run("simulate --bench " + demo + " --seconds 9999 --output /dev/full").code, 4);
}

TEST(Cli, SimulateRepeatsItselfForASeed) {
  const std::string words = "simulate --bench " + demo + " --seconds 60 --period 2 --seed ";
  const Ran one = run(words + "5");
  EXPECT_EQ(one.out, run(words + "5").out);
  EXPECT_NE(one.out, run(words + "6").out);
  EXPECT_THAT(one.out, testing::StartsWith("time,substrate,"));
  EXPECT_EQ(std::ranges::count(one.out, '\n'), 31);
}

TEST(Cli, SimulatedFaultsShowInTheirColumn) {
  const std::string words = "simulate --bench " + demo + " --seconds 4 --period 2 --channel substrate --fault ";
  EXPECT_EQ(run(words + "open@substrate").out, "time,counts\n0,4095\n2,4095\n");
  EXPECT_EQ(run(words + "tired@substrate").code, 3);
  EXPECT_EQ(run(words + "open@nowhere").code, 3);
}

TEST(Cli, CheckSaysEveryFaultWithItsPlace) {
  EXPECT_EQ(run("check --bench " + demo).code, 0);
  const std::string bad = temporary(
      ".json",
      "{\"fair_gauge_bench\": 1,\n\"rails\": [{\"id\": 5}],\n\"channels\": [{\"id\": \"a\", \"device\": \"x\"}]}");
  const Ran result = run("check --bench " + bad + " --json");
  EXPECT_EQ(result.code, 3);
  EXPECT_EQ(json::parse(result.out)["ok"], false);
  EXPECT_GE(json::parse(result.out)["faults"].size(), 3u);
  EXPECT_THAT(result.error, HasSubstr(bad + ":2:18: /rails/0/id is 5; a text"));
  std::filesystem::remove(bad);
}

TEST(Cli, BudgetListsItsSources) {
  const auto budget = json::parse(run("budget --bench " + demo + " --channel substrate --at 24.8 --json").out);
  EXPECT_GE(budget["sources"].size(), 5u);
  EXPECT_NEAR(budget["expanded"], budget["k"].get<double>() * budget["combined"].get<double>(), 1e-12);
  EXPECT_TRUE(budget["effective_dof"].is_null());  // infinite
  EXPECT_NEAR(budget["known_bias"], 0.1644, 2e-4);
}

TEST(Cli, BudgetBesideMonteCarlo) {
  const auto budget =
      json::parse(run("budget --bench " + demo + " --channel spawn_fridge --at 5 --trials 50000 --seed 4 --json").out);
  EXPECT_EQ(budget["monte_carlo"]["trials"], 50000);
  EXPECT_NEAR(budget["monte_carlo"]["standard"], budget["combined"].get<double>(),
              0.02 * budget["combined"].get<double>());
  EXPECT_EQ(run("budget --bench " + demo + " --channel spawn_fridge --at 5 --trials 3").code, 2);
}

TEST(Cli, BusGivesWindowsConflictsAndTheCycle) {
  const Ran ran = run("bus --bench " + demo + " --json");
  ASSERT_EQ(ran.code, 0) << ran.error;
  const json answer = json::parse(ran.out);
  const json& bus = answer["buses"][0];
  EXPECT_EQ(bus["verdict"], "good");
  EXPECT_NEAR(bus["minimum_ohm"].get<double>(), (3.3 - 0.4) / 3e-3, 1e-6);
  EXPECT_NEAR(bus["maximum_ohm"].get<double>(), 1e-6 / (0.8473 * 112e-12), 1);
  EXPECT_NEAR(bus["existing_parallel_ohm"].get<double>(), 10e3 / 3, 1e-6);
  EXPECT_TRUE(bus["conflicts"].empty());
  EXPECT_TRUE(bus["solved"].get<bool>());
  EXPECT_NEAR(answer["cycle"]["cycle_s"].get<double>(), 0.79, 0.03);
  const std::string scan = temporary(".scan", "0x29 0x77"), wires = temporary(".csv");
  const json scanned =
      json::parse(run("bus --bench " + demo + " --scan " + scan + " --wiring " + wires + " --json").out);
  EXPECT_EQ(scanned["buses"][0]["scan"][0]["device"], "light_sensor");
  EXPECT_THAT(content_of(wires), HasSubstr("air_sensor,clock,"));
  EXPECT_THAT(run("bus --bench " + demo).out, HasSubstr("3.33 kΩ together"));
  EXPECT_EQ(run("bus --bench " + demo + " --wiring /proc/nowhere/x.csv").code, 4);
  const std::string cuts = temporary("cuts.csv");
  EXPECT_EQ(run("bus --bench " + demo + " --cut-list " + cuts + " --json").code, 0);
  EXPECT_THAT(content_of(cuts), HasSubstr("cut to [m]"));
  EXPECT_THAT(content_of(cuts), HasSubstr("\"board to rack, low\",2,0.2,flat ribbon,3,rack wire"));
  EXPECT_EQ(run("bus --bench " + demo + " --cut-list /proc/nowhere/x.csv").code, 4);
  EXPECT_EQ(run("bus --bench /no/such/bench").code, 4);
  for (const std::string& file : {scan, wires, cuts}) std::filesystem::remove(file);
}

// ---- what a run must not invent, lose or wait for ----

// The demonstration bench with one change, in a file of its own. \param at  JSON pointer \param value  JSON text
std::string changed_bench(const std::string& name, const std::string& at, const std::string& value) {
  json bench = json::parse(content_of(demo));
  bench[json::json_pointer(at)] = json::parse(value);
  return temporary(name + ".fairgauge.json", bench.dump(1));
}

TEST(Cli, KeysThatAreNotKnownAreNamedWithTheNearestOne) {
  const Ran slip = run("check --bench " + changed_bench("slip", "/devices/0/front_end/fixed_ohms", "8200"));
  EXPECT_EQ(slip.code, 0) << "a key of a newer program is no fault";
  EXPECT_THAT(slip.error, HasSubstr("\"fixed_ohms\" is not known here and does nothing; \"fixed_ohm\""));
  const std::string twice = temporary("twice.fairgauge.json", R"({"fair_gauge_bench": 1, "name": "a", "name": "b"})");
  EXPECT_THAT(run("check --bench " + twice).error, HasSubstr("\"name\" stands twice"));
  std::filesystem::remove(twice);
}

TEST(Cli, AUsualMistakeIsSimulated) {
  const std::string words = "simulate --bench " + demo + " --seconds 60 --period 5 --channel ";
  const auto rows = [](const std::string& text) { return std::count(text.begin(), text.end(), '\n'); };
  // The resistor on the other side: other raw numbers. In °F: the same ones, and what the firmware makes of them.
  const std::string honest = run(words + "substrate").out;
  const Ran side = run(words + "substrate --fault resistor-side@substrate");
  EXPECT_EQ(side.code, 0) << side.error;
  EXPECT_EQ(rows(side.out), rows(honest));
  EXPECT_NE(side.out, honest);
  EXPECT_THAT(side.out, testing::StartsWith("time,counts\n"));
  const Ran fahrenheit = run(words + "spawn_fridge --fault unit-fahrenheit@spawn_fridge");
  EXPECT_THAT(fahrenheit.out, testing::StartsWith("time,counts,counts_shown\n0,"));
  double time = 0, counts = 0, shown = 0;
  ASSERT_EQ(std::sscanf(fahrenheit.out.c_str() + fahrenheit.out.find('\n') + 1, "%lf,%lf,%lf", &time, &counts, &shown),
            3);
  EXPECT_NEAR(shown, (counts * 3.3 / 4096 - 0.5) * 100 * 1.8 + 32, 0.01);
  // Nothing answers on a bus without pull-ups: every cell of its channels is empty, whoever it was asked for.
  const Ran dumb =
      run("simulate --bench " + demo + " --seconds 20 --period 5 --channel room_humidity --fault no-pull-up@room");
  EXPECT_EQ(dumb.out, "time,counts\n0,\n5,\n10,\n15,\n") << dumb.error;
  const Ran none = run(words + "spawn_fridge --fault gremlins@spawn_fridge");
  EXPECT_EQ(none.code, 3);
  EXPECT_THAT(none.error, HasSubstr("unit-fahrenheit"));
}

TEST(Cli, ReferencesInsideABenchAreChecked) {
  for (const auto& [at, value] : {std::pair{"/devices/3/bus", "\"no bus\""},
                                  {"/devices/3/rail", "\"no rail\""},
                                  {"/devices/0/side_inputs", R"({"ambient": "nobody"})"},
                                  {"/channels/0/device", "\"\""}}) {
    const Ran ran = run("check --bench " + changed_bench("reference", at, value));
    EXPECT_EQ(ran.code, 3) << at;
    EXPECT_THAT(ran.error, HasSubstr("; ")) << at;
  }
}

TEST(Cli, OutputsDestroyNothing) {
  const std::string log = temporary("same.csv", "time,counts\n0,2000\n"),
                    words = "convert --bench " + demo + " --channel substrate ";
  const std::string before = content_of(log), link = temporary("link.csv");
  std::filesystem::create_symlink(log, link);
  for (const std::string& to : {log, link}) {
    const Ran ran = run(words + "--input " + log + " --output " + to);
    EXPECT_EQ(ran.code, 4) << to;
    EXPECT_THAT(ran.error, HasSubstr("is being read"));
    EXPECT_EQ(content_of(log), before);
  }
  std::filesystem::remove(link);
  const std::string bench = temporary("kept.fairgauge.json", content_of(demo)), bench_text = content_of(bench);
  for (const std::string& command :
       {words + "--input " + log + " --output " + bench, "simulate --bench " + demo + " --seconds 5 --output " + bench,
        "bus --bench " + demo + " --wiring " + bench}) {
    EXPECT_EQ(run(command).code, 4) << command;
    EXPECT_EQ(content_of(bench), bench_text) << command;
  }
  EXPECT_EQ(run(words + "--force --input " + log + " --output " + bench).code, 0);
  EXPECT_THAT(content_of(bench), HasSubstr("substrate_Cel"));
  // A run that fails leaves what stood there, and nothing beside it.
  const std::string out = temporary("out.csv", "as it was\n"), wrong = temporary("wrong.csv", "time,other\n0,1\n");
  EXPECT_EQ(run(words + "--input " + wrong + " --output " + out).code, 3);
  EXPECT_EQ(content_of(out), "as it was\n");
  // A pipe is written into or refused, never replaced.
  const std::string pipe = temporary("pipe");
  ASSERT_EQ(::mkfifo(pipe.c_str(), 0600), 0);
  EXPECT_EQ(run(words + "--input " + log + " --output " + pipe).code, 4);
  EXPECT_TRUE(std::filesystem::is_fifo(pipe));
  EXPECT_EQ(run("check --bench " + pipe).code, 4) << "waits for nobody";
  for (const std::string& file : {log, bench, out, wrong, pipe}) std::filesystem::remove(file);
}

TEST(Cli, NonsenseIsRefusedAtOnce) {
  std::string points = "reference,reading\n";
  for (int i = 0; i < 20000; ++i) points += std::to_string(i + 0.1) + "," + std::to_string(i) + "\n";
  const std::string many = temporary("many.csv", points);
  const std::pair<std::string, int> cases[] = {
      {"simulate --seconds nan --bench " + demo, 2},
      {"simulate --seconds 5 --period nan --bench " + demo, 2},
      {"fit --model table --points " + many, 3},
      {"forward --part thermocouple-k --setting 'cold_junction=25 V' --at 'temperature=100 degC'", 3},
      {"size reference-for-step --part LM35 --step '5 V' --json", 2},
      {"size i2c-pullup --supply 3V3 --speed 400k --capacitance -5p", 3},
      {"size adc --part LM35 --from 0 --to 50 --bits -3 --references 3.3", 3}};
  for (const auto& [words, code] : cases) EXPECT_EQ(run(words).code, code) << words;
  std::filesystem::remove(many);
  const std::string deep = "{\"settings\":" + std::string(200'000, '[') + std::string(200'000, ']') + ",\"count\":1}\n";
  EXPECT_EQ(run("decode --part DS18S20 --batch -", deep).code, 3);
  // Many bad cells: few words, however many rows.
  std::string log = "time,counts\n";
  for (int i = 0; i < 5000; ++i) log += std::to_string(i) + ",bad" + std::to_string(i) + "\x1b[31m\n";
  const Ran ran = run("convert --channel substrate --bench " + demo, log);
  EXPECT_LT(ran.error.size(), 5000u);
  EXPECT_EQ(ran.error.find('\x1b'), std::string::npos) << "control characters reach the terminal";
  EXPECT_THAT(ran.error, HasSubstr("and 4980 more"));
  // Twelve decimals are twelve decimals.
  const Ran fine = run("convert --digits 12 --channel substrate --bench " + demo, "time,counts\n0,2000\n");
  EXPECT_THAT(fine.error, HasSubstr("1 of 1 rows converted"));
}

TEST(Cli, BoardBeginsABenchThatPasses) {
  const auto list = json::parse(run("board --list --json").out)["presets"];
  ASSERT_GE(list.size(), 9u);
  for (const auto& preset : list) {
    const std::string path = temporary("-" + preset["preset"].get<std::string>() + ".fairgauge.json");
    std::filesystem::remove(path);
    const std::string words = "board --preset " + preset["preset"].get<std::string>() + " --output " + path;
    EXPECT_EQ(run(words).code, 0) << preset;
    EXPECT_EQ(run("check --bench " + path).code, 0) << preset << run("check --bench " + path).error;
    EXPECT_EQ(run(words).code, 4) << "it is there already";
    EXPECT_EQ(run(words + " --force").code, 0);
    std::filesystem::remove(path);
  }
  const Ran unknown = run("board --preset nothing --output " + temporary(".none"));
  EXPECT_EQ(unknown.code, 3);
  EXPECT_THAT(unknown.error, HasSubstr("10-bit-5v"));
  EXPECT_EQ(run("board").code, 2);
}

TEST(Cli, CheckNamesWhatAChannelLacks) {
  const std::string path =
      temporary("-lacks.json", R"({"fair_gauge_bench":1,"rails":[{"id":"a","voltage":{"nominal_v":3.3}}],
    "devices":[{"id":"d","part":"LM35"}],"channels":[{"id":"c","device":"d","wanted":{"from":0,"to":50},"tolerance":1}]})");
  const Ran ran = run("check --bench " + path);
  EXPECT_EQ(ran.code, 3);
  EXPECT_THAT(ran.error, HasSubstr("connected to no converter"));
}

TEST(Cli, DiagnoseNamesTheMistakeAndItsArithmetic) {
  const std::string words = "diagnose --bench " + demo + " --channel spawn_fridge --json --raw ";
  // 10 mV/°C with half a volt at 0 °C on 12 bits of 3.3 V: code 683 is 5.0269 °C; without the offset 55.0269.
  const auto forgotten = json::parse(run(words + "683 --shown 55.03").out);
  EXPECT_EQ(forgotten["causes"][0]["code"], "offset-forgotten");
  EXPECT_NEAR(forgotten["right"].get<double>(), 683 * 3.3 / 4096 * 100 - 50, 1e-9);
  for (const char* key : {"code", "words", "gives", "share", "arithmetic", "fix", "next"})
    EXPECT_TRUE(forgotten["causes"][0].contains(key)) << key;
  double all = 0;
  for (const auto& cause : forgotten["causes"]) all += cause["share"].get<double>();
  EXPECT_LE(all, 1 + 1e-9);
  EXPECT_TRUE(json::parse(run(words + "683 --shown 5.03 --expected 5").out)["causes"].empty());
  EXPECT_TRUE(json::parse(run(words + "683 --shown 5,03").out)["causes"].empty()) << "a comma is a decimal mark too";
  // An end of the converter is no reading.
  const auto end = json::parse(run(words + "4095 --expected-from 0 --expected-to 10").out);
  EXPECT_TRUE(end["right"].is_null());
  EXPECT_TRUE(end["causes"][0]["gives"].is_null());
  EXPECT_EQ(run(words + "683").code, 2);
  EXPECT_EQ(run(words + "x --shown 5").code, 3);
  EXPECT_EQ(run(words + "683 --shown warm").code, 3);
  EXPECT_EQ(run(words + "683 --expected-from 3").code, 3);
  EXPECT_EQ(run("diagnose --bench " + demo + " --channel nobody --raw 1 --shown 2").code, 3);
  EXPECT_EQ(run("diagnose --bench " + demo + " --channel rack --bytes 0102030405 --shown 2").code, 3);
}

TEST(Cli, HandoffWritesTheReadingWhereItIsAskedFor) {
  const std::string folder = temporary("-reading");
  std::filesystem::remove_all(folder);
  const std::string words = "handoff --bench " + demo + " --language python --output " + folder;
  if (!is_sanitized) {  // a million blocks take half a minute there
    ASSERT_EQ(run(words + " --channel grow_light --reading").code, 0);
    const std::string text = content_of(folder + "/grow_light_read.py");
    EXPECT_THAT(text, HasSubstr("ADDRESS = 0x29"));
    EXPECT_THAT(text, HasSubstr("board.write(ADDRESS, bytes((0xA0, 0x03,)))"));  // power and converter on
  }
  ASSERT_EQ(run(words + " --channel spawn_fridge").code, 0);
  EXPECT_FALSE(std::filesystem::exists(folder + "/spawn_fridge_read.py"));
  const Ran other = run(words + " --channel substrate --reading");
  EXPECT_EQ(other.code, 0);
  EXPECT_THAT(other.out,
              HasSubstr("how it is read is not written: the raw number of this channel is no block of bytes"));
  std::filesystem::remove_all(folder);
}

TEST(Cli, HandoffWritesFilesAndOverwritesNobodysElse) {
  const std::string folder = temporary("-firmware");
  std::filesystem::remove_all(folder);
  const std::string words = "handoff --bench " + demo + " --channel spawn_fridge --output " + folder + " --language ";
  const Ran first = run(words + "c --json");
  ASSERT_EQ(first.code, 0) << first.error;
  const auto report = json::parse(first.out);
  EXPECT_EQ(report, json::parse(content_of(folder + "/spawn_fridge_report.json")));
  for (const char* key : {"channel",
                          "language",
                          "form",
                          "unit",
                          "per_unit",
                          "blocks",
                          "trimming_blocks",
                          "side_inputs",
                          "codes_checked",
                          "exhaustive",
                          "worst_error",
                          "at_raw",
                          "largest_intermediate",
                          "word_bits",
                          "overflow",
                          "flash_bytes",
                          "ram_bytes",
                          "cycles_worst",
                          "measured_on",
                          "source",
                          "holds_for"})
    EXPECT_TRUE(report.contains(key)) << key;
  EXPECT_EQ(report["overflow"], false);
  for (const char* name : {".c", ".h", "_vectors.csv"})
    EXPECT_TRUE(std::filesystem::exists(folder + "/spawn_fridge" + name)) << name;
  EXPECT_EQ(run(words + "python").code, 0) << "a hand-over of the same channel may be written over";
  // A file of another hand stays.
  const std::string other = temporary("-other");
  std::filesystem::create_directories(other);
  std::ofstream(other + "/spawn_fridge.c") << "mine";
  const std::string there = "handoff --bench " + demo + " --channel spawn_fridge --language c --output " + other;
  EXPECT_EQ(run(there).code, 4);
  EXPECT_EQ(content_of(other + "/spawn_fridge.c"), "mine");
  EXPECT_EQ(run(there + " --force").code, 0);
  EXPECT_NE(content_of(other + "/spawn_fridge.c"), "mine");
  EXPECT_EQ(run(words + "c --per-unit 30").code, 2);
  EXPECT_EQ(run(words + "basic").code, 2);
  // The cold junction is one more argument.
  const Ran beside =
      run("handoff --json --bench " + demo + " --channel compost_probe --language python --force --output " + other);
  ASSERT_EQ(beside.code, 0) << beside.error;
  EXPECT_EQ(json::parse(beside.out)["side_inputs"][0]["channel"], "board");
  EXPECT_THAT(content_of(other + "/compost_probe.py"), HasSubstr("def convert(raw, side):"));
  std::filesystem::remove_all(folder);
  std::filesystem::remove_all(other);
}

const char* const arriving_bench = R"({"fair_gauge_bench": 1, "channels": [{"id": "air", "quantity": "temperature",
  "arrives": {"as": "value", "unit": "[degF]", "decimals": 1}, "wanted": {"from": 0, "to": 40}}]})";

TEST(Cli, ListeningMakesABench) {
  const auto heard = json::parse(run("listen --input - --json", "Temp: 22.4 C\nraw:512\noops\n").out);
  EXPECT_EQ(heard["lines"], 3);
  EXPECT_EQ(heard["unread"], 1);
  EXPECT_EQ(heard["proposals"][0]["form"], "value");
  EXPECT_EQ(heard["proposals"][1]["bits"], 10);
  const std::string bench = temporary("listened.json");
  std::filesystem::remove(bench);
  EXPECT_EQ(run("listen --input - --output " + bench, "Temp: 72.5 F\n").code, 0);
  EXPECT_EQ(run("check --bench " + bench).code, 0);
  EXPECT_THAT(run("convert --channel temp --unit Cel --digits 1 --bench " + bench, "temp\n72.5\n").out,
              HasSubstr("72.5,22.5"));
  EXPECT_EQ(run("listen --input - --output " + bench, "Temp: 72.5 F\n").code, 4) << "it is there already";
  EXPECT_EQ(run("listen --input -", "nothing to read\n").code, 3);
  // A log is no line's text: by its heading, with the unit in it.
  const std::string log = temporary("cellar.csv");
  std::ofstream(log) << "Zeit;Luft (°F);Nr\n24.10.2026 22:00;53,6;1\n24.10.2026 22:01;55,4;2\n";
  std::filesystem::remove(bench);
  EXPECT_EQ(run("listen --input " + log + " --output " + bench).code, 0);
  EXPECT_THAT(run("review --json --channel luft --bench " + bench + " --input " + log).out, HasSubstr("\"rows\":2"));
  EXPECT_THAT(run("convert --channel luft --unit Cel --digits 1 --bench " + bench + " --input " + log).out,
              HasSubstr("53,6;1;12.0"));
  EXPECT_EQ(run("listen").code, 2);
  EXPECT_EQ(run("listen --input /no/such").code, 4);
  EXPECT_EQ(run("listen --port /no/such").code, 4);
  std::filesystem::remove(bench);
}

TEST(Cli, ALineOfOnesOwnFirmwareIsHeldAgainstTheChain) {
  const std::string on = "arithmetic --bench " + demo + " --channel spawn_fridge ";
  const auto good = json::parse(run(on + "--line '(v-0.5)*100' --json").out);
  EXPECT_EQ(good["exact_enough"], true);
  EXPECT_TRUE(good["overflow"].is_null());
  const auto narrow = json::parse(run(on + "--line 't = adc * 806 / 1000 - 500' --json").out);
  EXPECT_EQ(narrow["exact_enough"], false);
  EXPECT_EQ(narrow["overflow"]["first_raw"], 125);
  EXPECT_EQ(narrow["mends"][0]["line"], "t = (long)adc * 806 / 1000 - 500");
  EXPECT_EQ(json::parse(run(on + "--int 32 --line 't = adc * 806 / 1000 - 500' --json").out)["exact_enough"], true);
  EXPECT_THAT(run(on + "--line '(v-0.4)*100'").out, HasSubstr("write 0.5 where 0.4 stands"));
  EXPECT_EQ(run(on + "--line '(v-'").code, 3);
  EXPECT_EQ(run(on + "--line v --int 8").code, 2);
  EXPECT_EQ(run("arithmetic --bench " + demo + " --channel room --line raw").code, 3);
}

TEST(Cli, ASketchIsWrittenAndNobodysFileIsReplaced) {
  EXPECT_THAT(run("sketch --language python --bench " + demo).out, HasSubstr("def send_what_is_due"));
  const std::string file = temporary("sketch.c");
  std::filesystem::remove(file);
  EXPECT_EQ(run("sketch --language c --bench " + demo + " --output " + file).code, 0);
  EXPECT_EQ(run("sketch --language c --bench " + demo + " --output " + file).code, 4);
  EXPECT_EQ(run("sketch --language c --force --bench " + demo + " --output " + file).code, 0);
  EXPECT_EQ(run("sketch --language pascal --bench " + demo).code, 2);
  std::filesystem::remove(file);
}

TEST(Cli, SaysItsVersion) {
  const Ran ran = run("--version");
  EXPECT_EQ(ran.code, 0);
  EXPECT_THAT(ran.out, testing::MatchesRegex("Fair Gauge [0-9]+\\.[0-9]+\\.[0-9]+\n"));
}

// Every command that the manual shows is run where its files are, as it stands there; those that need a board or leave
// something out are the only ones left.
TEST(Cli, TheCommandsOfTheManualWork) {
  if (is_sanitized) GTEST_SKIP() << "other tests run every command";
  namespace fs = std::filesystem;
  const fs::path folder = temporary("-manual");
  fs::remove_all(folder);
  fs::create_directories(folder);
  for (const char* name : {"fernhollow.fairgauge.json", "shed.fairgauge.json"}) fs::copy_file(demo, folder / name);
  for (const char* name : {"day.csv", "week.csv"})
    ASSERT_EQ(run("simulate --bench " + demo + " --seconds 600 --output " + (folder / name).string()).code, 0);
  std::ofstream(folder / "lines.txt") << "Temperature: 22.4 C Humidity: 45 %\nTemperature: 22.5 C Humidity: 45 %\n";
  std::ofstream(folder / "bytes.ndjson")
      << R"({"registers":{"0x88":"D86D4E6632005A91ACD6D00B6419A6FFF9FFAC260AD8BD10",)"
      << R"("0xA1":"4B","0xE1":"6A01001421031E","0xF7":"53BEC07B49F08D4F"}})"
      << "\n";
  int commands = 0, left_out = 0, answers = 0;
  for (const auto& page : fs::directory_iterator(std::string(FAIR_GAUGE_SOURCE) + "/docs/manual")) {
    std::ifstream file(page.path());
    std::string said;  // by the last command
    for (std::string line; std::getline(file, line);) {
      constexpr std::string_view answer = "    → ";
      if (line.starts_with(answer)) {  // what the page says it prints
        ++answers;
        EXPECT_THAT(said, testing::HasSubstr(line.substr(answer.size()))) << page.path().filename();
      }
      if (!line.starts_with("    fair-gauge")) continue;
      const bool needs_more = line.find("/dev/") != std::string::npos || line.find("…") != std::string::npos ||
                              line.find("fair-gauge-stand-in") != std::string::npos;
      if (needs_more && ++left_out) continue;
      ++commands;
      const std::string words = line.substr(line.find("fair-gauge-cli") + std::string("fair-gauge-cli").size());
      const std::string command = "cd " + folder.string() + " && " + fair_gauge::built::command_line + words +
                                  " > said.txt 2> wrong.txt < /dev/null";
      const int status = std::system(command.c_str());
      EXPECT_EQ(WEXITSTATUS(status), 0) << page.path().filename() << ":" << line << "\n"
                                        << content_of(folder / "wrong.txt");
      EXPECT_FALSE(content_of(folder / "said.txt").empty() && line.find(" --output ") == std::string::npos &&
                   line.find(" > ") == std::string::npos)
          << line;
      said = content_of(folder / "said.txt") + content_of(folder / "wrong.txt");
    }
  }
  EXPECT_GE(commands, 15);
  EXPECT_GE(answers, 20);
  EXPECT_LE(left_out, 6);
  fs::remove_all(folder);
}

}  // namespace fair_gauge::cli_test
