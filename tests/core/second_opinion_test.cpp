// A second opinion: two hundred random benches, each also worked out by a small model that knows nothing of the
// program's own: every specimen is a set of true values, its reading is worked out by hand from the definitions, a
// calibration is done as a person does it (read the specimen at the points, fit, subtract), and what is left is
// counted.
#include <gmock/gmock.h>

#include <fmt/format.h>
#include <cmath>
#include <functional>
#include <random>

#include "demo.h"
#include "truth/error_budget.h"
#include "truth/monte_carlo.h"

namespace fair_gauge::second_opinion_test {

const int specimens = 4'000, benches = is_sanitized ? 30 : 120;

enum class Kind { voltage, divided_voltage, thermistor, platinum, current, ratiometric, bridge, thermocouple, digital };
constexpr double cold_junction = 20, cold_junction_off = 2;  // °C; the thermocouple law's own word
constexpr double digital_resolution = 0.02;                  // °C; a third of it is noise

// Everything that a bench is made of, as plain numbers.
struct Case {
  Kind kind;
  double supply, supply_off, reference, reference_off;  // volts and relative half-widths
  bool one_rail;                                        // the supply is the reference
  int bits;
  bool truncates, codes;
  double inl, offset, gain, noise;  // steps, steps, relative, steps
  double fixed, fixed_off, top, bottom;
  bool fixed_on_top;
  double lead;
  double load;  // Ω beside the pin, 0 → none
  double part_off;
  double from, to;
  int points;  // of the calibration: 0, 1 or 2
  double calibration_u;
};

// What one specimen is off by.
struct Off {
  double supply, reference, inl, offset, gain, noise, rounding, fixed, top, bottom, lead, part, calibration, junction;
};

double beside(double a, double b) { return b > 0 ? a * b / (a + b) : a; }

// The reference function of type K above 0 °C, volts. NIST ITS-90 thermocouple database.
double type_k(double t) {
  const double powers[] = {-0.176004136860e-01, 0.389212049750e-01,  0.185587700320e-04, -0.994575928740e-07,
                           0.318409457190e-09,  -0.560728448890e-12, 0.560750590590e-15, -0.320207200030e-18,
                           0.971511471520e-22,  -0.121047212750e-25};
  double sum = 0.118597600000 * std::exp(-0.118343200000e-03 * (t - 126.9686) * (t - 126.9686)), power = 1;
  for (const double each : powers) sum += each * power, power *= t;
  return sum / 1000;
}

double output_of(const Case& c, double t) {
  switch (c.kind) {
    case Kind::thermistor: return 10e3 * std::exp(3900 * (1 / (t + 273.15) - 1 / 298.15));
    case Kind::platinum: return 1000 * (1 + 3.9083e-3 * t - 5.775e-7 * t * t);
    case Kind::current: return 1e-6 * t;
    default: return 0.3 + 0.01 * t;
  }
}

double volts_of(const Case& c, double t, const Off& off) {
  const double supply = c.supply * (1 + off.supply), output = output_of(c, t + off.part);
  const double fixed = c.fixed * (1 + off.fixed);
  switch (c.kind) {
    case Kind::voltage: return output;
    case Kind::divided_voltage: {
      const double top = c.top * (1 + off.top), bottom = beside(c.bottom * (1 + off.bottom), c.load);
      return output * bottom / (top + bottom);
    }
    case Kind::current: return output * beside(fixed, c.load);
    case Kind::ratiometric: return supply * (0.1 + 0.008 * (t + off.part));
    case Kind::bridge: return supply * 0.01 * (t + off.part) / 40e3;
    case Kind::thermocouple: return type_k(t + off.part) - type_k(cold_junction + off.junction);
    default: {
      const double sensor = output + 2 * (c.lead + off.lead);
      const double lower = beside(c.fixed_on_top ? sensor : fixed, c.load), upper = c.fixed_on_top ? fixed : sensor;
      return supply * lower / (lower + upper);
    }
  }
}

double steps_of(const Case& c) { return std::exp2(c.bits) - (c.codes ? 1 : 0); }

double amplified(const Case& c) { return c.kind == Kind::bridge || c.kind == Kind::thermocouple ? 32 : 1; }

double code_of(const Case& c, double t, const Off& off) {
  if (c.kind == Kind::digital) return (t + off.part + 45) / 175 * 65535 + off.noise + off.rounding;
  const double reference = (c.one_rail ? c.supply : c.reference) * (1 + (c.one_rail ? off.supply : off.reference));
  return volts_of(c, t, off) / reference * amplified(c) * steps_of(c) * (1 + off.gain) + off.inl + off.offset +
         off.noise + off.rounding;
}

// The reading of a code by the nominal chain: found by halving, from nothing but code_of.
double reading_of(const Case& c, double code) {
  double low = -180, high = 1e5;
  if (c.kind != Kind::current && c.kind != Kind::bridge) high = 250;
  if (c.kind == Kind::thermocouple) low = 0, high = 1300;
  const bool rises = code_of(c, c.from + 1, {}) > code_of(c, c.from, {});
  for (int i = 0; i < 44; ++i) {
    const double middle = (low + high) / 2;
    ((code_of(c, middle, {}) < code) == rises ? low : high) = middle;
  }
  return (low + high) / 2;
}

struct Spread {
  double mean, standard;
};

Spread spread_of(const Case& c, double at, std::mt19937_64& random) {
  std::uniform_real_distribution<double> flat(-1, 1);
  std::normal_distribution<double> normal;
  double sum = 0, squares = 0;
  for (int i = 0; i < specimens; ++i) {
    // Each specimen's own errors, the same at every reading.
    Off off{.supply = c.supply_off * flat(random),
            .reference = c.reference_off * flat(random),
            .offset = c.offset * flat(random),
            .gain = c.gain * flat(random),
            .fixed = c.fixed_off * flat(random),
            .top = c.fixed_off * flat(random),
            .bottom = c.fixed_off * flat(random),
            .lead = 0.1 * c.lead * flat(random)};
    double correction = 0;
    if (c.points == 0) off.part = c.part_off * flat(random);
    if (c.points == 1) correction = -(reading_of(c, code_of(c, c.from, off)) - c.from);
    if (c.points == 2) {
      const double low = reading_of(c, code_of(c, c.from, off)) - c.from,
                   high = reading_of(c, code_of(c, c.to, off)) - c.to;
      correction = -(low + (high - low) * (at - c.from) / (c.to - c.from));
    }
    if (c.points > 0) correction += c.calibration_u * normal(random);
    // What is another at every reading.
    // The junction is where it is at the moment: no calibration has seen it, and what it was off by during one is in
    // that calibration's own uncertainty.
    off.junction = cold_junction_off * flat(random);
    off.noise = c.noise * normal(random), off.rounding = 0.5 * flat(random), off.inl = c.inl * flat(random);
    const double miss = reading_of(c, code_of(c, at, off)) + correction - at;
    sum += miss, squares += miss * miss;
  }
  const double mean = sum / specimens;
  return {mean, std::sqrt(squares / specimens - mean * mean)};
}

// The same bench in the program's words.
Bench bench_of(const Case& c) {
  Bench bench;
  bench.rails = {{.id = "rail", .voltage = {.nominal_v = c.supply, .tolerance = c.supply_off}}};
  Converter converter{.id = "adc", .bits = c.bits};
  if (c.one_rail)
    converter.reference_rail = "rail";
  else
    converter.reference = {.nominal_v = c.reference, .tolerance = c.reference_off};
  converter.convention = c.codes ? CodeConvention::codes : CodeConvention::steps;
  converter.rounding = c.truncates ? Rounding::truncate : Rounding::nearest;
  converter.noise_lsb = c.noise, converter.inl_lsb = c.inl, converter.offset_lsb = c.offset;
  converter.gain_error = c.gain, converter.input_ohm = c.load;
  converter.gain = amplified(c);
  bench.converters = {converter};
  Device device{.id = "device", .converter = "adc"};
  FrontEnd& front_end = device.front_end;
  front_end.fixed_ohm = c.fixed, front_end.fixed_tolerance = c.fixed_off;
  switch (c.kind) {
    case Kind::voltage: device.part = "own-voltage"; break;
    case Kind::divided_voltage:
      device.part = "own-voltage";
      front_end.kind = FrontEndKind::level_divider;
      front_end.top_ohm = c.top, front_end.bottom_ohm = c.bottom;
      break;
    case Kind::current:
      device.part = "own-current";
      front_end.kind = FrontEndKind::load;
      break;
    case Kind::ratiometric: device.part = "own-ratiometric", front_end.rail = "rail"; break;
    case Kind::bridge: device.part = "own-bridge", front_end.rail = "rail"; break;
    case Kind::thermocouple:
      device.part = "own-thermocouple";
      device.settings = {{"cold_junction", cold_junction}};
      break;
    case Kind::digital: device.part = "own-digital"; break;
    default:
      device.part = c.kind == Kind::thermistor ? "own-thermistor" : "own-platinum";
      front_end.kind = FrontEndKind::divider;
      front_end.rail = "rail";
      front_end.position = c.fixed_on_top ? Position::top : Position::bottom;
      front_end.wires = 2, front_end.lead_ohm = c.lead;
  }
  bench.devices = {device};
  Channel channel{.id = "channel", .device = "device", .wanted = {c.from, c.to}};
  if (c.kind == Kind::current) channel.quantity = Quantity::illuminance, channel.unit = "lx";
  if (c.kind == Kind::bridge)
    channel.quantity = Quantity::pressure, channel.unit = "Pa", channel.kind = PressureKind::gauge;
  if (c.points > 0)
    channel.correction = {.coefficients = std::vector<double>(static_cast<std::size_t>(c.points), 0.0),
                          .origin = c.from,
                          .standard_uncertainty = c.calibration_u,
                          .covered = Range{c.from, c.points == 1 ? c.from : c.to}};
  bench.channels = {channel};
  return bench;
}

Catalogue own_parts(double part_off) {
  const auto part = [&](const char* id, const char* quantity, const char* interface, const char* transfer, double most,
                        const char* law = "transfer") {
    return fmt::format(R"({{"id":"{0}","name":"{0}","interface":"{2}","source":"made up","{6}":{3},
      "quantities":[{{"quantity":"{1}","resolution":{7},"minimum":-60,"maximum":{4},"accuracy":[{{"from":-60,"to":{4},"value":{5},
      "of":"points","basis":"maximum"}}]}}]}})",
                       id, quantity, interface, transfer, most, part_off, law,
                       interface == std::string_view("i2c") ? digital_resolution : 0);
  };
  Catalogue parts;
  const auto problems = parts.add(
      "{\"parts\":[" +
          part("own-voltage", "temperature", "voltage", R"({"type":"linear","numbers":{"slope":0.01,"offset":0.3}})",
               250) +
          "," +
          part("own-thermistor", "temperature", "resistance",
               R"({"type":"thermistor-beta","numbers":{"r25":10000,"beta":3900}})", 250) +
          "," + part("own-platinum", "temperature", "resistance", R"({"type":"platinum","numbers":{"r0":1000}})", 250) +
          "," +
          part("own-current", "illuminance", "current", R"({"type":"photocurrent","numbers":{"amps_per_lux":1e-6}})",
               1e5) +
          "," +
          part("own-ratiometric", "temperature", "ratiometric",
               R"({"type":"ratiometric","numbers":{"slope":0.008,"offset":0.1,"supply":5}})", 250) +
          "," +
          part("own-bridge", "pressure", "bridge",
               R"({"type":"bridge","numbers":{"mv_per_v":10,"full_scale":40000,"excitation":5}})", 1e5) +
          "," +
          part("own-thermocouple", "temperature", "thermocouple",
               R"({"type":"thermocouple","variant":"K","numbers":{"cold_junction":0}})", 1300) +
          "," +
          part("own-digital", "temperature", "i2c",
               R"({"blocks":[{"name":"0x00","bytes":2,"role":"data","example":"6666"}],
                   "fields":[{"name":"T","block":"0x00","bits":"0 1","role":"data"}],
                   "settings":[],
                   "readings":[{"quantity":"temperature","field":"T","expression":"-45+175*T/65535"}]})",
               125, "bytes") +
          "]}",
      "own");
  for (const Problem& problem : problems) ADD_FAILURE() << to_text(problem);
  return parts;
}

Case random_case(std::mt19937_64& random) {
  std::uniform_real_distribution<double> chance(0, 1);
  const auto between = [&](double low, double high) { return low + (high - low) * chance(random); };
  const auto maybe = [&](double most) { return chance(random) < 0.7 ? most * chance(random) : 0.0; };
  Case c{};
  c.kind = static_cast<Kind>(static_cast<int>(chance(random) * 9));
  c.supply = between(3, 5.2), c.supply_off = maybe(0.03);
  c.reference = between(2, 5), c.reference_off = maybe(0.02);
  c.one_rail = chance(random) < 0.5;
  c.bits = static_cast<int>(between(8, 17));
  c.truncates = chance(random) < 0.5, c.codes = chance(random) < 0.5;
  c.inl = maybe(2), c.offset = maybe(3), c.gain = maybe(0.01), c.noise = maybe(1);
  c.fixed = between(1e3, 20e3), c.fixed_off = maybe(0.02);
  c.top = between(1e3, 20e3), c.bottom = between(5e3, 50e3);
  c.fixed_on_top = chance(random) < 0.5;
  c.lead = c.kind == Kind::platinum ? between(0, 20) : 0;
  c.load = c.kind != Kind::voltage && c.kind < Kind::ratiometric && chance(random) < 0.5 ? between(100e3, 1e6) : 0;
  c.part_off = c.kind == Kind::current ? maybe(20) : maybe(1.5);
  c.from = between(0, 20), c.to = between(40, 60);
  if (c.kind == Kind::current) c.fixed = between(1e3, 4e3), c.from = 50, c.to = 400;
  if (c.kind == Kind::bridge) c.from = 2e3, c.to = 38e3, c.part_off = maybe(800);
  if (c.kind == Kind::thermocouple) c.from = 50, c.to = 900, c.bits = static_cast<int>(between(12, 17));
  if (c.kind == Kind::digital) c.noise = digital_resolution / (175 / 65535.0) / 3;
  c.points = static_cast<int>(chance(random) * 3);
  c.calibration_u = between(0.01, 0.2) * (c.kind == Kind::current ? 10 : c.kind == Kind::bridge ? 200 : 1);
  return c;
}

TEST(SecondOpinion, RandomBenchesAgree) {
  std::mt19937_64 random(20261125);
  int compared = 0;
  for (int i = 0; i < benches; ++i) {
    const Case c = random_case(random);
    const Catalogue parts = own_parts(c.part_off);
    const auto chain = build_chain(bench_of(c), parts, "channel");
    ASSERT_TRUE(chain) << to_text(chain.problem());
    std::uniform_real_distribution<double> where(c.from, c.to);
    // One point proves that point; what its slope may do elsewhere has a test of its own.
    const double at = c.points == 1 ? c.from : where(random);
    const auto budget = error_budget(*chain, at);
    const auto drawn = monte_carlo(*chain, at, 20'000, static_cast<std::uint64_t>(i) + 1);
    if (!budget || !drawn || drawn->without_reading > 0) continue;  // the span ends there
    const Spread spread = spread_of(c, at, random);
    ++compared;
    // The standard deviation of 4 000 is known to 1.1 %; the budget is straight where the chain bends.
    EXPECT_NEAR(drawn->standard / spread.standard, 1, 0.045)
        << "bench " << i << " kind " << static_cast<int>(c.kind) << " points " << c.points << " at " << at;
    EXPECT_NEAR(budget->combined / spread.standard, 1, 0.05)
        << "bench " << i << " kind " << static_cast<int>(c.kind) << " points " << c.points << " at " << at;
    EXPECT_NEAR(drawn->mean, spread.mean, 0.08 * spread.standard) << "bench " << i;
  }
  EXPECT_GT(compared, benches * 3 / 4);
}

}  // namespace fair_gauge::second_opinion_test
