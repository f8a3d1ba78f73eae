// The command line as scripts see it: parts, bytes, sizes and choices, without a bench.
#include <algorithm>
#include <sstream>

#include "../built.h"
#include "cli.h"

namespace fair_gauge::cli_test {

TEST(Cli, PartsListsEveryPartWithItsFields) {
  const auto list = json::parse(run("parts --json").out);
  ASSERT_GE(list.size(), 5u);
  for (const auto& part : list)
    for (const char* key : {"id", "name", "quantities", "interface", "markings"})
      EXPECT_TRUE(part.contains(key)) << part;
  EXPECT_EQ(json::parse(run("parts --find lm35 --json").out).at(0)["id"], "linear-voltage-10mv");
  EXPECT_EQ(json::parse(run("parts --find nothing-like-it --json").out).size(), 0u);
}

TEST(Cli, ForwardAndInverseUndoEachOther) {
  const auto output = json::parse(run("forward --part LM35 --at 'temperature=25 Cel' --json").out);
  EXPECT_DOUBLE_EQ(output["output"]["value"], 0.25);
  EXPECT_EQ(output["output"]["unit"], "V");
  const auto readings = json::parse(run("inverse --part TMP36 --output '750 mV' --json").out);
  EXPECT_NEAR(readings["readings"][0]["value"], 25, 1e-9);
  EXPECT_EQ(readings["readings"][0]["unit"], "Cel");
  EXPECT_NEAR(
      json::parse(run("inverse --part TMP36 --output 750mV --unit '[degF]' --json").out)["readings"][0]["value"], 77,
      1e-9);
  EXPECT_NEAR(
      json::parse(
          run("forward --part ntc-beta --setting r25=100k --setting beta=3950 --at 'temperature=32 degF' --json")
              .out)["output"]["value"],
      336206, 0.5);
}

TEST(Cli, AReadingOutOfThePartsRangeIsAFaultNotAnError) {
  const Ran result = run("inverse --part TMP36 --output '3 V' --json");
  EXPECT_EQ(result.code, 0);
  EXPECT_EQ(json::parse(result.out)["ok"], false);
  EXPECT_EQ(json::parse(result.out)["faults"][0]["code"], "out-of-range");
}

TEST(Cli, FitReproducesTheGuidesThermometer) {
  // JCGM 100:2008, table H.6.
  const double t[] = {21.521, 22.012, 22.512, 23.003, 23.507, 23.999, 24.513, 25.002, 25.503, 26.010, 26.511};
  const double b[] = {-0.171, -0.169, -0.166, -0.159, -0.164, -0.165, -0.156, -0.157, -0.159, -0.161, -0.160};
  std::string csv = "reference,reading\n";
  for (int i = 0; i < 11; ++i) csv += std::to_string(t[i] + b[i]) + "," + std::to_string(t[i]) + "\n";
  const std::string file = temporary("points.csv", csv);
  const auto fit = json::parse(run("fit --points " + file + " --model line --origin 20 --predict 30,21 --json").out);
  EXPECT_NEAR(fit["coefficients"][0], -0.1712, 5e-5);
  EXPECT_NEAR(fit["coefficients"][1], 0.00218, 5e-6);
  EXPECT_NEAR(fit["correlation"][0][1], -0.930, 5e-4);
  EXPECT_EQ(fit["dof"], 9);
  EXPECT_NEAR(fit["predict"][0]["correction"], -0.1494, 5e-5);
  EXPECT_NEAR(fit["predict"][0]["standard_uncertainty"], 0.0041, 5e-5);
  EXPECT_EQ(run("fit --points " + file + " --model spline").code, 2);
  EXPECT_EQ(run("fit --points /no/such --model line").code, 4);
  const std::string bad = temporary("bad.csv", "reference,reading\n1,x\n");
  const Ran refused = run("fit --points " + bad + " --model line");
  EXPECT_EQ(refused.code, 3);
  EXPECT_THAT(refused.error, HasSubstr("bad.csv:2:3"));
}

// A question of `size`, the field of the answer, and the number by hand.
struct Sized {
  const char* question;
  const char* field;
  double value;
  double within;
};

TEST(Cli, SizeAnswersWhatAHandCalculationGives) {
  const Sized cases[] = {
      // (3.3 − 0.4) V / 3 mA; 300 ns / (0.8473 · 200 pF)
      {"i2c-pullup --supply 3.3 --speed 400k --capacitance 200p", "minimum_ohm", 2.9 / 3e-3, 0.1},
      {"i2c-pullup --supply 3.3 --speed 400k --capacitance 200p", "maximum_ohm", 300e-9 / (0.8473 * 200e-12), 0.1},
      {"i2c-pullup --supply 3V3 --speed 400k --capacitance 100p --existing 10k,10k,10k", "existing_parallel_ohm",
       10e3 / 3, 0.1},
      {"one-wire-pullup --supply 5 --sensors 3 --cable 6", "minimum_ohm", 4.6 / 4e-3, 0.1},
      {"level-divider --from-volts 5 --to-volts 2.5", "ratio", 0.5, 1e-12},
      {"sensor-divider --part ntc-beta --from 0 --to 50 --supply 3.3 --bits 12", "at_from_v",
       3.3 * 33621 / (33621 + 8200), 0.05},
  };
  for (const Sized& sized : cases) {
    const Ran result = run(std::string("size ") + sized.question + " --json");
    ASSERT_EQ(result.code, 0) << sized.question << result.error;
    EXPECT_NEAR(json::parse(result.out)[sized.field].get<double>(), sized.value, sized.within)
        << sized.question << result.out;
  }
  // 12 bits of 1.1 V: a step of 1.1/4096 V is 26.9 mK for 10 mV/°C; with it 100 °C clips no longer than 1.1 V.
  const auto table =
      json::parse(run("size adc --part LM35 --from 0 --to 100 --bits 12 --references 5,1.1,3.3 --json").out);
  ASSERT_EQ(table.size(), 3u);
  EXPECT_NEAR(table[0]["step_physical"], 1.1 / 4096 / 0.01, 1e-9);
  EXPECT_NEAR(table[0]["span_used"], 1 / 1.1, 1e-3);
  const auto load = json::parse(run("size load-resistor --low-current 28u,39u --high-current 112.5u,143u --threshold "
                                    "0.9,1.1 --supply 5 --headroom 2.15 --json")
                                    .out);
  EXPECT_EQ(load["verdict"], "good");
  EXPECT_GE(load["high_v"][0].get<double>(), 1.1);
  EXPECT_LE(load["low_v"][1].get<double>(), 0.9);
}

TEST(Cli, SizeRefusesWithTheReason) {
  EXPECT_EQ(run("size").code, 2);
  EXPECT_EQ(run("size i2c-pullup --supply warm --speed 400k --capacitance 100p").code, 3);
  const Ran outside = run("size sensor-divider --part ntc-beta --from 0 --to 900 --supply 3.3 --bits 12");
  EXPECT_EQ(outside.code, 3);
  EXPECT_THAT(outside.error, HasSubstr("outside what the part can do"));
  EXPECT_EQ(
      json::parse(run("size i2c-pullup --supply 3.3 --speed 1M --capacitance 600p --sink 3m --json").out)["verdict"],
      "impossible");
}

TEST(Cli, EveryAnalogIdOfTheContractConvertsBothWays) {
  struct Case {
    const char* part;
    const char* at;
    double expected;  // base units
    const char* unit;
  };
  const Case cases[] = {
      {"linear-voltage --setting slope=0.01 --setting offset=0.5", "temperature=20 Cel", 20, "V"},
      {"ratiometric --setting slope=0.0000009 --setting offset=0.04 --setting supply=5", "pressure=50 kPa", 50000, "V"},
      {"ntc-beta", "temperature=11,4", 11.4, "Ohm"},
      {"ntc-steinhart", "temperature=60", 60, "Ohm"},
      {"rtd-platinum", "temperature=100", 100, "Ohm"},
      {"thermocouple-k --setting cold_junction=21", "temperature=300", 300, "V"},
      {"ldr-gamma", "illuminance=100 lx", 100, "Ohm"},
      {"photocurrent", "illuminance=100 lx", 100, "A"},
      {"bridge", "pressure=1 kPa", 1000, "V"},
      {"die-diode", "temperature=30", 30, "V"},
      {"current-loop", "pressure=50 kPa", 50000, "V"},
      {"LM335", "temperature=25", 25, "V"},
      {"HIH-4030", "humidity=50", 50, "V"},
      {"MPX4115A", "pressure=100 kPa", 100000, "V"}};
  for (const auto& [part, at, expected, unit] : cases) {
    const Ran forward = run(std::string("forward --part ") + part + " --at '" + at + "' --json");
    ASSERT_EQ(forward.code, 0) << part << forward.error;
    const auto output = json::parse(forward.out)["output"];
    EXPECT_EQ(output["unit"], unit) << part;
    const Ran inverse =
        run(std::string("inverse --part ") + part + " --output '" + output["value"].dump() + " " + unit + "' --json");
    ASSERT_EQ(inverse.code, 0) << part << inverse.error;
    const auto reading = json::parse(inverse.out)["readings"][0];
    EXPECT_NEAR(reading["value"].get<double>(), expected, 0.02) << part;
  }
}

TEST(Cli, DecodeGivesTheContractsExample) {
  const std::string bytes = "'0x88=706B436718FC7D8E43D6D00B270B8C00F9FF8C3CF8C67017;0xF7=655AC07EED00'";
  const Ran result = run("decode --part BMP280 --registers " + bytes + " --json --trace");
  ASSERT_EQ(result.code, 0) << result.error;
  const auto answer = json::parse(result.out);
  EXPECT_EQ(answer["ok"], true);
  EXPECT_NEAR(answer["readings"][0]["value"], 25.0825, 1e-4);
  EXPECT_EQ(answer["readings"][0]["unit"], "Cel");
  EXPECT_EQ(answer["readings"][1]["kind"], "absolute");
  bool t_fine = false;
  for (const auto& entry : answer["trace"])
    t_fine |= entry["symbol"] == "t_fine" && std::abs(entry["value"].get<double>() - 128422) < 1;
  EXPECT_TRUE(t_fine);
  EXPECT_NEAR(
      json::parse(
          run("decode --part BMP280 --math integer --registers " + bytes + " --json").out)["readings"][0]["value"],
      25.08, 1e-12);
}

TEST(Cli, DecodeTakesFramesCountsAndNamedSettings) {
  EXPECT_NEAR(json::parse(run("decode --part DHT22 --frame 028C015FEE --json").out)["readings"][0]["value"], 35.1,
              1e-9);
  EXPECT_NEAR(json::parse(run("decode --part HX711 --count=-1000 --setting gain=64 --setting excitation=4V2 --json")
                              .out)["readings"][0]["value"],
              -1000 * 4.2 / 64 / 16777216, 1e-12);
  EXPECT_NEAR(json::parse(run("decode --part LMT01 --count 1601 --json").out)["readings"][0]["value"], 50, 0.6);
  EXPECT_EQ(json::parse(run("decode --part MPL3115A2 --setting mode=altimeter --registers 0x01=00C8801900 --json")
                            .out)["readings"][1]["quantity"],
            "altitude");
  const auto skipped = json::parse(run("decode --part DS18B20 --frame 50054B467FFF0C101C --json").out);
  EXPECT_EQ(skipped["ok"], false);
  EXPECT_EQ(skipped["faults"][0]["code"], "power-on-default");
}

TEST(Cli, DecodeRefusesBadInputWithThePlace) {
  EXPECT_EQ(run("decode --part DHT22").code, 2);
  EXPECT_EQ(run("decode --part DHT22 --frame 02x").code, 3);
  EXPECT_EQ(run("decode --part DHT22 --frame 028C015FE --json").code, 3);
  EXPECT_EQ(run("decode --part LM35 --frame 02").code, 3);
  EXPECT_EQ(run("decode --part TSL2561 --setting gain=3 --registers 0x8C=00000000").code, 3);
  EXPECT_EQ(run("decode --part DHT22 --batch /no/such/file").code, 4);
  EXPECT_EQ(json::parse(run("decode --part DHT22 --frame 028C --json").out)["faults"][0]["code"], "short-frame");
}

TEST(Cli, ABatchKeepsItsOrderAndTheLinesItCannotRead) {
  std::string lines;
  for (int i = 0; i < 5000; ++i)
    lines += i == 3210 ? "{nonsense\n"
                       : "{\"registers\":{\"0x00\":\"" + std::string(i % 2 ? "1900" : "0C80") +
                             "\"},\"settings\":{\"resolution\":" + (i % 3 ? "16" : "13") + "}}\n";
  const Ran result = run("decode --part ADT7410 --batch - --json", lines);
  EXPECT_EQ(result.code, 3);
  std::istringstream out(result.out);
  int row = 0;
  for (std::string line; std::getline(out, line); ++row) {
    const auto answer = json::parse(line);
    EXPECT_EQ(answer["ok"], row != 3210) << row;
    EXPECT_EQ(answer.value("/readings/0/value"_json_pointer, -1.0), row == 3210 ? -1.0 : row % 2 ? 50.0 : 25.0) << row;
  }
  EXPECT_EQ(row, 5000);
}

TEST(Cli, ABatchOfRawColumnsGivesColumnsOfReadings) {
  const Ran result = run("decode --part TMP117 --batch -", "T\n3200\n-3200\nwarm\n0\n");
  EXPECT_EQ(result.code, 3);
  EXPECT_EQ(result.out, "temperature_Cel\n25.0000\n-25.0000\n\n0.0000\n");
  EXPECT_EQ(run("decode --part TMP117 --batch -", "nothing\n1\n").code, 3);
}

TEST(Cli, ForwardOfADigitalPartGivesBytesThatDecode) {
  const auto made =
      json::parse(run("forward --part BME280 --at 'temperature=11,4' --at 'pressure=998 hPa' --at humidity=61 --json")
                      .out)["registers"];
  std::string registers;
  for (const auto& [name, hex] : made.items()) registers += name + "=" + hex.get<std::string>() + ";";
  const auto readings = json::parse(run("decode --part BME280 --registers '" + registers + "' --json").out)["readings"];
  EXPECT_NEAR(readings[0]["value"], 11.4, 0.01);
  EXPECT_NEAR(readings[1]["value"], 99800, 1);
  EXPECT_NEAR(readings[2]["value"], 61, 0.01);
  EXPECT_EQ(run("forward --part BME280 --at temperature=999 --json").code, 3);
  EXPECT_EQ(
      json::parse(run("forward --part DS18B20 --at temperature=-10,125 --json").out)["frame"].get<std::string>().substr(
          0, 4),
      "5EFF");
}

TEST(Cli, ShowTellsThePartInFull) {
  const Ran words = run("parts --show TSL2561");
  EXPECT_THAT(words.out, HasSubstr("integration_ms = 402"));
  EXPECT_THAT(words.out, HasSubstr("0x39"));
  EXPECT_EQ(json::parse(run("parts --show TSL2561 --json").out)["id"], "light-two-diode");
  EXPECT_EQ(run("parts --show nothing").code, 3);
}

TEST(Cli, ChooseRanksTheCatalogueForANeed) {
  const Ran ran = run("choose --bench " + demo + " --quantity temperature --from 0 --to 40 --allowed 0.15 --json");
  ASSERT_EQ(ran.code, 0) << ran.error;
  const json list = json::parse(ran.out);
  EXPECT_EQ(list[0]["id"], "bus-temperature-16-finest");  // ±0.1 °C by its sheet
  EXPECT_LT(list[0]["used"].get<double>(), 1);
  EXPECT_FALSE(list[0]["ruled_out"].get<bool>());
  EXPECT_TRUE(list.back()["ruled_out"].get<bool>());
  EXPECT_EQ(list.back()["reasons"][0]["kind"], "rules-out");
  // A need from a file, an option over it, without a bench.
  const std::string need = temporary(".need", R"({"quantity":"humidity","from":40,"to":90,"allowed":4,"period_s":1})");
  const json humid = json::parse(run("choose --need " + need + " --period 3 --json").out);
  EXPECT_EQ(humid[0]["unit"], "%");
  for (const json& each : humid) {
    if (each["id"] != "humid-single") continue;
    for (const json& reason : each["reasons"])
      EXPECT_EQ(reason["words"].get<std::string>().find("answers every"), std::string::npos);
  }
  EXPECT_EQ(run("choose --quantity taste").code, 3);
  EXPECT_THAT(run("choose --quantity temperature --from 40 --to 5").error, HasSubstr("ends before it begins"));
  EXPECT_THAT(run("choose --quantity temperature --from warm").error, HasSubstr("--from"));
  EXPECT_EQ(run("choose --need /no/such/need.json").code, 4);
  std::filesystem::remove(need);
}

TEST(Cli, NothingIsInventedForMissingFields) {
  // Half degrees of the old one-wire part: 48, 50 and 52 are 24, 25 and 26 °C, whatever remainder its example has.
  for (const auto& [count, celsius] : {std::pair{"48", 24.0}, {"50", 25.0}, {"52", 26.0}}) {
    const json decoded = json::parse(run(std::string("decode --part DS18S20 --json --count ") + count).out);
    EXPECT_EQ(decoded["readings"][0]["value"], celsius);
    EXPECT_EQ(decoded["ok"], true);
  }
  // Mantissa and exponent: 0x4A41 is 0.01 · 2^4 · 0xA41 = 420 lx.
  EXPECT_EQ(json::parse(run("decode --part OPT3001 --json --count 19009").out)["readings"][0]["value"], 420.0);
  // A three-quantity part without its trimming says nothing; with one field alone only what needs no other.
  const json alone = json::parse(run("decode --part BME280 --json --count 519888").out);
  EXPECT_EQ(alone["readings"].size(), 0u);
  EXPECT_EQ(alone["faults"][0]["code"], "no-response");
  const json humid = json::parse(run("decode --part SHT31 --json --count 26214").out);  // 175 · 26214 / 65535 − 45 = 25
  ASSERT_EQ(humid["readings"].size(), 1u);
  EXPECT_NEAR(humid["readings"][0]["value"], 25, 1e-3);
  EXPECT_EQ(humid["ok"], false);
  // Trimming of all ones.
  for (const auto& [part, registers] : {std::pair{"DPS310", "0x10=" + std::string(36, 'F') + ";0x00=FD12340234AB"},
                                        {"BMP388", "0x31=" + std::string(42, 'F') + ";0x04=102E67008983"},
                                        {"MPL115A2", "0x04=" + std::string(16, 'F') + ";0x00=66807EC0"}}) {
    const json decoded =
        json::parse(run(std::string("decode --json --part ") + part + " --registers '" + registers + "'").out);
    EXPECT_EQ(decoded["readings"].size(), 0u) << part;
    EXPECT_EQ(decoded["faults"][0]["code"], "no-response") << part;
  }
  // Columns: skip codes and numbers beyond their bits have no reading, and the row keeps its place.
  const std::string trimming = "--registers '0x88=706B436718FC7D8E43D6D00B27 0B8C00F9FF8C3CF8C67017'";
  const Ran columns =
      run("decode --part BMP280 --batch - " + trimming, "adc_T,adc_P\n519888,415148\n524288,415148\n99999999,1\n");
  EXPECT_EQ(std::count(columns.out.begin(), columns.out.end(), '\n'), 4) << columns.out << columns.error;
  EXPECT_THAT(columns.out, HasSubstr("25.08"));
  EXPECT_THAT(columns.out, testing::Not(HasSubstr("36713")));
}

TEST(Cli, ABlankLineOfABatchKeepsItsPlace) {
  const Ran ran = run("decode --part DS18S20 --json --batch -", "{\"count\":50}\n\n{\"count\":52}\n");
  std::istringstream lines(ran.out);
  std::vector<std::string> all;
  for (std::string line; std::getline(lines, line);) all.push_back(line);
  ASSERT_EQ(all.size(), 3u);
  EXPECT_THAT(all[1], HasSubstr("\"error\""));
  EXPECT_THAT(all[2], HasSubstr("26"));
  EXPECT_EQ(ran.code, 3);
}

TEST(Cli, PulsesAreReadInBatchesToo) {
  // The same as for one count; a line without a count keeps its place.
  const Ran batch = run("decode --part LMT01 --batch -", "{\"count\":1221}\n{\"count\":-1}\n{\"frame\":\"00\"}\n");
  EXPECT_EQ(batch.code, 3);
  std::istringstream lines(batch.out);
  std::string line;
  std::getline(lines, line);
  EXPECT_EQ(json::parse(line), json::parse(run("decode --part LMT01 --count 1221 --json").out));
  std::getline(lines, line);
  EXPECT_EQ(json::parse(line)["faults"][0]["code"], "no-response");
  std::getline(lines, line);
  EXPECT_EQ(json::parse(line)["ok"], false);
}

}  // namespace fair_gauge::cli_test
