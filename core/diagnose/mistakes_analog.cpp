// Mistakes of a chain with a converter or a counter.
#include <fmt/format.h>

#include <set>

#include "chain/links.h"
#include "diagnose/mistake_rows.h"
#include "language/translation.h"
#include "quantity/e_series.h"

namespace fair_gauge::mistake_rows {
namespace {

constexpr double zero_celsius_k = 273.15, room_k = 298.15;

class Analog : public Rows {
 public:
  explicit Analog(const Rows& ground) : Rows(ground) {}

  void on_raw(const char* code, double prior, MistakeOf of, const Told& told,
              const std::function<double(double)>& step) {
    add({.code = code,
         .words = told.words,
         .fix = translated("put the number together as the sheet says"),
         .next = translated("print the bytes themselves beside the number"),
         .prior = prior,
         .of = of,
         .change = [=](Firmware& wrong) { wrong.on_raw.push_back(step); },
         .truly = told.truly});
  }

  void add_rows() {
    if (!right_.bench.converters.empty()) converter();
    whole_numbers();
    if (wants({"resistor-side", "resistor-value", "gain", "offset-forgotten", "offset-twice", "supply", "excitation",
               "self-heating"}))
      front_end();
    if (wants({"logarithm-base", "resistor-value", "slope", "beta", "cold-junction-forgotten",
               "cold-junction-as-temperature", "offset-forgotten", "offset-twice", "full-scale", "kelvin-forgotten",
               "absolute-gauge", "wrong-part"}))
      law();
  }

  void whole_numbers() {
    const ConverterLink& converter = *chain_.converter;
    const int bits = static_cast<int>(std::ceil(std::log2(converter.largest_code() + 1)));
    const bool both_signs = converter.lowest_code() < 0;
    const double span = std::exp2(both_signs ? bits + 1 : bits);
    const auto unsigned_of = [=](double raw) { return raw < 0 ? raw + span : raw; };
    if (bits > 8) {
      on_raw("bytes-swapped", 1, MistakeOf::either, translated("the high and the low byte are exchanged"),
             [=](double raw) {
               auto left = static_cast<std::uint64_t>(unsigned_of(raw));
               const int bytes = span > 65536 ? span > 16777216 ? 4 : 3 : 2;
               std::uint64_t turned = 0;
               for (int i = 0; i < bytes; ++i, left >>= 8) turned = turned << 8 | (left & 0xFF);
               return static_cast<double>(turned);
             });
      on_raw("bytes-added", 0.4, MistakeOf::arithmetic,
             translated("the two bytes are added instead of put side by side"), [=](double raw) {
               auto left = static_cast<std::uint64_t>(unsigned_of(raw));
               std::uint64_t sum = 0;
               for (; left > 0; left >>= 8) sum += left & 0xFF;
               return static_cast<double>(sum);
             });
      on_raw("byte-missing", 0.8, MistakeOf::arithmetic, translated("the high byte is lost"),
             [=](double raw) { return std::fmod(unsigned_of(raw), 256); });
      on_raw("byte-missing", 0.4, MistakeOf::arithmetic, translated("the low byte is lost"),
             [=](double raw) { return std::floor(unsigned_of(raw) / 256); });
      on_raw("byte-missing", 0.3, MistakeOf::arithmetic, translated("the low byte is lost, the high one in its place"),
             [=](double raw) { return std::floor(unsigned_of(raw) / 256) * 256; });
    }
    if (both_signs) {
      on_raw("signed-read-as-unsigned", 1, MistakeOf::arithmetic,
             translated("a number with a sign is read without one"), unsigned_of);
      if (right_.input.raw < 0)
        on_raw("sign-magnitude", 0.3, MistakeOf::arithmetic, translated("two's complement is read as sign and size"),
               [=](double raw) { return raw < 0 ? -(raw + span / 2) : raw; });
    } else if (right_.input.raw >= span / 2) {
      on_raw("unsigned-read-as-signed", 0.6, MistakeOf::arithmetic,
             translated("a number without a sign is read with one"),
             [=](double raw) { return raw >= span / 2 ? raw - span : raw; });
    }
  }

  void on_converter(const char* code, double prior, MistakeOf of, bool needs_number, const std::string& words,
                    const std::string& fix, const std::string& next, const std::function<void(Converter&)>& change) {
    add({.code = code,
         .words = words,
         .fix = fix,
         .next = next,
         .prior = prior,
         .of = of,
         .needs_number = needs_number,
         .change = [=](Firmware& wrong) {
           // A second mistake may be another channel's chain, which counts.
           if (!wrong.bench.converters.empty()) change(wrong.bench.converters.front());
         }});
  }

  void converter() {
    const Converter& own = right_.bench.converters.front();
    const bool steps = own.convention == CodeConvention::steps;
    on_converter(
        "divisor", 1.2, MistakeOf::arithmetic, false,
        translated("the divisor is {:.0f} where this converter has {:.0f}",
                   std::exp2(own.reported_bits()) - (steps ? 1 : 0), std::exp2(own.reported_bits()) - (steps ? 0 : 1)),
        translated("divide by what the converter's sheet says"),
        translated("it shows most near the upper end of the range"), [steps](Converter& converter) {
          converter.convention = steps ? CodeConvention::codes : CodeConvention::steps;
        });
    const std::set<int> usual_bits = {8, 10, 12, 13, 14, 15, 16, 18, 20, 22, 24};
    for (const int bits : wants({"scaled-bits"}) ? usual_bits : std::set<int>())
      for (const CodeConvention convention : {CodeConvention::steps, CodeConvention::codes})
        if (bits != own.reported_bits() || own.justification != Justification::right)
          on_converter("scaled-bits",
                       (bits % 4 == 0 || bits == 10 ? 1 : 0.3) * (convention == own.convention ? 1 : 0.5),
                       MistakeOf::either, false,
                       translated("the number is divided by {:.0f}, the codes of {} bits",
                                  std::exp2(bits) - (convention == CodeConvention::codes ? 1 : 0), bits),
                       translated("divide by those of {} bits", own.reported_bits()),
                       translated("turn the input to the reference: the number there is the largest code"),
                       [bits, convention](Converter& converter) {
                         converter.bits = bits;
                         converter.register_bits = 0;
                         converter.justification = Justification::right;
                         converter.convention = convention;
                       });
    if (own.justification == Justification::left)
      on_converter("justification", 1, MistakeOf::arithmetic, false,
                   translated("the number stands at the left and is not shifted down"),
                   translated("shift it down first"), translated("see whether the low bits are always 0"),
                   [](Converter& converter) {
                     converter.justification = Justification::right;
                     converter.register_bits = 0;
                   });
    if (own.justification == Justification::right && own.bits < 16 && own.polarity == Polarity::unipolar)
      for (const bool up : {false, true})
        on_raw(
            "justification", 0.5, MistakeOf::either,
            up ? Told{translated("the number is taken as standing at the right though it stands at the left"),
                      translated("the number stands at the right, the bench says at the left")}
               : Told{translated("the number is shifted down as if it stood at the left")},
            [up, shift = std::exp2(16 - own.bits)](double raw) { return up ? raw * shift : std::floor(raw / shift); });
    if (wants({"reference", "reference-nominal", "reference-not-selected"})) references(own);
    for (const double gain : {0.25, 0.5, 2.0 / 3, 1.0, 2.0, 4.0, 8.0, 16.0, 32.0, 64.0, 128.0, 256.0})
      if (!same(gain, own.gain) && (own.gain != 1 || !own.part.empty()))
        on_converter("gain", 0.8, MistakeOf::either, false,
                     translated("the amplifier's gain is {:g}, not {:g}", gain, own.gain),
                     translated("set the gain and use the same one in the formula"),
                     translated("measure the volts before and behind the amplifier"),
                     [gain](Converter& converter) { converter.gain = gain; });
    for (const double span : {0.5, 1.0, 2.0})
      if (!same(span, own.span_per_reference))
        on_converter(
            "full-scale", 0.5, MistakeOf::either, false,
            translated("the codes end at {:g} times the reference, not at {:g} times", span, own.span_per_reference),
            translated("use the full scale that the sheet gives for this pin"),
            translated("find the volts at which the code ends"),
            [span](Converter& converter) { converter.span_per_reference = span; });
    add({.code = "integer-division",
         .words = translated("code ÷ codes is cut to a whole number: it is 0 until the last code"),
         .fix = translated("multiply first, or divide by a number with a fraction"),
         .next = translated("print the quotient alone"),
         .change = [](Firmware& wrong) { wrong.division = Firmware::Division::whole_quotient; }});
    add({.code = "integer-division",
         .words = translated("the millivolts of one step are cut to whole ones"),
         .fix = translated("multiply first, then divide"),
         .next = translated("print the millivolts alone"),
         .change = [](Firmware& wrong) { wrong.division = Firmware::Division::whole_millivolt_steps; }});
    add({.code = "integer-division",
         .words = translated("the millivolts are cut to whole ones"),
         .fix = translated("keep the fraction, or microvolts"),
         .next = translated("print the millivolts alone"),
         .change = [](Firmware& wrong) { wrong.forgets_fraction_of_volts = true; }});
  }

  void references(const Converter& own) {
    const Rail* rail = find_by_id(right_.bench.rails, own.reference_rail);
    const KnownVoltage& known = rail ? rail->voltage : own.reference;
    const std::string measure =
        translated("measure the reference's pin: {} if the bench is right", volts(known.best_v()));
    if (known.measured_v && !same(*known.measured_v, known.nominal_v))
      add({.code = "reference-nominal",
           .words = translated("the nominal {} is used though {} was measured", volts(known.nominal_v),
                               volts(*known.measured_v)),
           .fix = translated("use the measured value"),
           .next = measure,
           .change = [](Firmware& wrong) {
             if (wrong.bench.converters.empty()) return;
             Converter& converter = wrong.bench.converters.front();
             Rail* of = find_by_id(wrong.bench.rails, converter.reference_rail);
             (of ? of->voltage : converter.reference).measured_v.reset();
           }});
    std::set<double> others(std::begin(usual_volts), std::end(usual_volts));
    std::set<double> rails;
    for (const Rail& each : right_.bench.rails)
      rails.insert(each.voltage.best_v()), rails.insert(each.voltage.nominal_v);
    others.insert(rails.begin(), rails.end());
    const auto is_there = [&](double other) {
      return rails.contains(other) || std::ranges::any_of(bench_.converters, [other](const Converter& each) {
               return each.reference_rail.empty() && same(each.reference.nominal_v, other);
             });
    };
    for (const double other : others) {
      if (same(other, known.best_v()) || same(other, known.nominal_v)) continue;
      const auto change = [other](Firmware& wrong) {
        if (wrong.bench.converters.empty()) return;
        Converter& converter = wrong.bench.converters.front();
        converter.reference_rail.clear();
        converter.reference = KnownVoltage{.nominal_v = other, .tolerance = converter.reference.tolerance};
      };
      add({.code = "reference",
           .words = translated("the arithmetic uses a reference of {}, the converter has {}", volts(other),
                               volts(known.best_v())),
           .fix = translated("put {} into the formula", volts(known.best_v())),
           .next = measure,
           .prior = 1.2,
           .needs_number = !rails.contains(other),
           .change = change});
      add({.code = "reference-not-selected",
           .words =
               translated("the converter still uses {} as its reference, not {}", volts(other), volts(known.best_v())),
           .fix = translated("select the reference before the first reading and throw the first one away"),
           .next = measure,
           .prior = is_there(other) ? 1.2 : 0.3,  // one that nobody spoke of has to be somewhere first
           .of = MistakeOf::world,
           .needs_number = false,
           .change = change});
    }
  }

  void on_front_end(const char* code, double prior, bool needs_number, const Told& told, const std::string& next,
                    const std::function<void(FrontEnd&)>& change) {
    add({.code = code,
         .words = told.words,
         .fix = translated("let the formula and what is wired agree"),
         .next = next,
         .prior = prior,
         .of = MistakeOf::either,
         .needs_number = needs_number,
         .change = [=](Firmware& wrong) { change(wrong.bench.devices.front().front_end); },
         .truly = told.truly});
  }

  // How much likelier than any other a value lies in the drawer: that of the sensor itself, and those that are bought
  // first.
  double habit(double ohm) const {
    constexpr double bought_first[] = {1e3, 2.2e3, 4.7e3, 10e3, 22e3, 47e3, 100e3};
    const auto law = transfer_law(part_, device_.settings);
    constexpr double room_c = 25, within = 0.01;
    if (law && law->measures == Quantity::temperature && std::abs(law->output(room_c) / ohm - 1) < within) return 24;
    return std::ranges::any_of(bought_first, [ohm](double each) { return same(ohm, each); }) ? 12 : 1;
  }

  void front_end() {
    const FrontEnd& own = device_.front_end;
    const bool has_fixed =
        own.kind == FrontEndKind::divider || own.kind == FrontEndKind::load || own.kind == FrontEndKind::transimpedance;
    if (own.kind == FrontEndKind::divider)
      on_front_end("resistor-side", 1.2, false,
                   own.position == Position::top
                       ? Told{translated("the fixed resistor is taken as below the pin, it is above"),
                              translated("the fixed resistor is below the pin, the bench says above")}
                       : Told{translated("the fixed resistor is taken as above the pin, it is below"),
                              translated("the fixed resistor is above the pin, the bench says below")},
                   translated("warm the sensor and see which way the volts go"), [](FrontEnd& front_end) {
                     front_end.position = front_end.position == Position::top ? Position::bottom : Position::top;
                   });
    if (has_fixed) {
      const auto all = values_between(ESeries::e24, 10, 1e6);
      double sum = 0;
      for (const double ohm : all) sum += habit(ohm);
      for (const double ohm : all) {
        if (same(ohm, own.fixed_ohm)) continue;
        on_front_end(
            "resistor-value", habit(ohm) * static_cast<double>(all.size()) / sum, true,
            translated("the fixed resistor is {}, not {}", resistor_code(ohm), resistor_code(own.fixed_ohm)),
            translated("measure the resistor, one leg lifted: {} if the bench is right", resistor_code(own.fixed_ohm)),
            [ohm](FrontEnd& front_end) { front_end.fixed_ohm = ohm; });
      }
    }
    if (own.kind == FrontEndKind::level_divider) {
      on_front_end("resistor-side", 1, false, translated("the two resistors of the divider are exchanged"),
                   translated("measure the volts before and behind the divider"),
                   [](FrontEnd& front_end) { std::swap(front_end.top_ohm, front_end.bottom_ohm); });
      on_front_end("gain", 1, false, translated("the divider before the pin is left out of the formula"),
                   translated("measure the volts before and behind the divider"),
                   [](FrontEnd& front_end) { front_end.kind = FrontEndKind::direct; });
    }
    if (own.kind == FrontEndKind::amplifier) {
      for (const double gain : {own.gain - 1, own.gain + 1})
        if (gain > 0)
          on_front_end(
              "gain", 1, false,
              Told{translated("the gain is taken as {:g}, it is {:g}: 1 + the ratio of the resistors", gain, own.gain),
                   translated("the gain is {:g}, the bench says {:g}: 1 + the ratio of the resistors", gain, own.gain)},
              translated("measure the volts before and behind the amplifier"),
              [gain](FrontEnd& front_end) { front_end.gain = gain; });
      on_front_end("gain", 0.8, false, translated("the amplifier is left out of the formula"),
                   translated("measure the volts before and behind the amplifier"),
                   [](FrontEnd& front_end) { front_end.gain = 1; });
      if (own.offset_v != 0)
        for (const double factor : {0.0, 2.0})
          on_front_end(factor == 0 ? "offset-forgotten" : "offset-twice", 1, false,
                       factor == 0 ? translated("the amplifier's offset is not taken off")
                                   : translated("the amplifier's offset is taken off twice"),
                       translated("short the amplifier's input and read the volts behind it"),
                       [=](FrontEnd& front_end) { front_end.offset_v *= factor; });
    }
    supplies(own);
    if (chain_.divider && chain_.kelvin_per_watt > 0) self_heating();
  }

  void supplies(const FrontEnd& own) {
    const Rail* rail = find_by_id(right_.bench.rails, own.rail);
    const auto law = transfer_law(part_, device_.settings);
    const std::string key = law ? law->supply_key : "";
    const bool excited = key == "excitation";
    if (own.kind != FrontEndKind::divider && key.empty()) return;
    const double now = rail ? rail->voltage.best_v() : setting(key);
    std::set<double> others(std::begin(usual_volts), std::end(usual_volts));
    for (const double more : {4.0, 4.5, 9.0, 10.0, 12.0}) others.insert(more);
    if (rail) others.insert(rail->voltage.nominal_v);
    for (const double other : others) {
      if (same(other, now)) continue;
      add({.code = excited ? "excitation" : "supply",
           .words = excited ? translated("the bridge's excitation is taken as {}, it is {}", volts(other), volts(now))
                            : translated("the sensor's supply is taken as {}, it is {}", volts(other), volts(now)),
           .fix = translated("measure it and use that"),
           .next = translated("measure the volts at the sensor's supply"),
           .prior = 1,
           .of = MistakeOf::either,
           .needs_number = true,
           .change =
               [other, key, divides = own.kind == FrontEndKind::divider](Firmware& wrong) {
                 Device& device = wrong.bench.devices.front();
                 if (!divides && device.front_end.rail.empty()) {
                   device.settings[key] = other;
                   return;
                 }
                 wrong.bench.rails.push_back(
                     {.id = "supply-found", .name = translated("supply as found"), .voltage = {.nominal_v = other}});
                 device.front_end.rail = "supply-found";
               },
           .truly = excited ? translated("the bridge's excitation is {}, the bench says {}", volts(other), volts(now))
                            : translated("the sensor's supply is {}, the bench says {}", volts(other), volts(now))});
    }
  }

  void self_heating() {
    add({.code = "self-heating",
         .words = translated("the current through the sensor warms it above what it measures"),
         .fix = translated("feed the divider only while it is read, or use larger resistors"),
         .next = translated("read right after switching on and again after a minute: the difference is the heating"),
         .prior = 0.6,
         .of = MistakeOf::world,
         .change = [divider = chain_.divider, k_per_w = chain_.kelvin_per_watt, part = part_,
                    settings = device_.settings](Firmware& wrong) {
           const auto law = transfer_law(part, settings);
           if (!law) return;
           wrong.on_value.push_back(
               [=, law = *law](double value) { return value - k_per_w * divider->sensor_watts(law.output(value)); });
         }});
  }

  double setting(const std::string& key) const {
    if (const auto own = device_.settings.find(key); own != device_.settings.end()) return own->second;
    const auto number = part_.transfer.numbers.find(key);
    return number != part_.transfer.numbers.end() ? number->second : std::nan("");
  }

  void on_setting(const char* code, double prior, const std::string& key, double value, const Told& told) {
    add({.code = code,
         .words = told.words,
         .fix = translated("use what is printed on the part or what its sheet says"),
         .next = translated(
             "compare two readings far apart: a wrong slope changes with the reading, a wrong offset does not"),
         .prior = prior,
         .of = MistakeOf::either,
         .needs_number = true,
         .change = [=](Firmware& wrong) { wrong.bench.devices.front().settings[key] = value; },
         .truly = told.truly});
  }

  void on_law(const char* code, double prior, MistakeOf of, bool needs_number, const std::string& words,
              const std::string& next, const std::function<double(double)>& law, const std::string& truly = "") {
    add({.code = code,
         .words = words,
         .fix = translated("use the formula of the part that is fitted"),
         .next = next,
         .prior = prior,
         .of = of,
         .needs_number = needs_number,
         .change = [=](Firmware& wrong) { wrong.law = law; },
         .truly = truly});
  }

  static std::function<double(double)> right_way(const TransferLaw& law) {
    return [law](double output) { return law.quantity(output); };
  }

  // The law that is in force, the rail and all: read from the right chain's own link.
  double quantity_of(double output) const {
    for (const LinkPointer& link : chain_.links)
      if (dynamic_cast<const SensorLink*>(link.get())) return link->inverse_continuous(output);
    return std::nan("");
  }

  void law() {
    const std::string& type = part_.transfer.type;
    if (type == "linear" || type == "ratiometric" || type == "current-loop") straight();
    if (type == "thermistor-beta") thermistor();
    if (type == "thermistor-steinhart") {
      const double a = setting("a"), b = setting("b"), c = setting("c");
      on_law("logarithm-base", 1, MistakeOf::arithmetic, false,
             translated("the decimal logarithm is used for the natural one"),
             translated("work one resistance out by hand"), [=](double ohm) {
               const double l = std::log10(ohm);
               return 1 / (a + b * l + c * l * l * l) - zero_celsius_k;
             });
    }
    if (type == "platinum")
      for (const double r0 : {100.0, 500.0, 1000.0})
        if (!same(r0, setting("r0")))
          on_setting("resistor-value", 1, "r0", r0,
                     Told{translated("the element is taken as {:g} Ω at 0 °C", r0),
                          translated("the element is {:g} Ω at 0 °C", r0)});
    if (type == "light-resistor")
      for (const double gamma : {0.5, 0.6, 0.7, 0.8, 0.9, 1.0})
        if (!same(gamma, setting("gamma")))
          on_setting("slope", 0.7, "gamma", gamma,
                     Told{translated("gamma is taken as {:g}", gamma), translated("gamma is {:g}", gamma)});
    if (type == "thermocouple") {
      const double cold = setting("cold_junction");
      if (cold != 0) {
        auto settings = device_.settings;
        settings["cold_junction"] = 0;
        if (const auto at_zero = transfer_law(part_, settings)) {
          on_law("cold-junction-forgotten", 1.2, MistakeOf::arithmetic, false,
                 translated("the cold junction is taken as 0 °C"),
                 translated("warm the terminals by hand and see whether the reading stays"), right_way(*at_zero));
          on_law("cold-junction-as-temperature", 1, MistakeOf::arithmetic, false,
                 translated("the cold junction is added as a temperature, not as a voltage"),
                 translated("compare at two temperatures far apart"),
                 [quantity = right_way(*at_zero), cold](double output) { return quantity(output) + cold; });
        }
      }
    }
    if (type == "bridge")
      for (const double decade : {1e2, 1e3, 1e4, 1e5})
        for (const double step : {1.0, 1.5, 2.0, 2.5, 4.0, 5.0, 6.0, 7.0})
          if (!same(step * decade, setting("full_scale")))
            on_setting("full-scale", 0.8, "full_scale", step * decade,
                       Told{translated("the full scale is taken as {}", with_prefix(step * decade, "Pa")),
                            translated("the full scale is {}", with_prefix(step * decade, "Pa"))});
    other_parts();
  }

  // Laws that are a slope and an offset.
  void straight() {
    double at_zero = quantity_of(0);
    double slope = quantity_of(1) - at_zero;  // quantity for one of the output
    if (part_.transfer.type == "current-loop") {
      // The loop itself has no reading below its live zero of 4 mA.
      slope = (setting("high") - setting("low")) / 16e-3 / setting("shunt");
      at_zero = setting("low") - slope * setting("shunt") * 4e-3;
    }
    if (at_zero != 0) {
      const std::string next = translated("read the volts at two known values");
      on_law("offset-forgotten", 1.2, MistakeOf::arithmetic, false, translated("the offset is not taken off"), next,
             [=](double output) { return slope * output; });
      on_law("offset-twice", 0.8, MistakeOf::arithmetic, false, translated("the offset is taken off twice"), next,
             [=](double output) { return slope * output + 2 * at_zero; });
    }
    // Of a linear part the offset stays in volts: the reading is (V − offset) ÷ slope.
    std::set<double> slopes;
    for (const Part& other : catalogue_.parts())
      if (other.transfer.type == part_.transfer.type && !other.markings.empty() &&
          other.measures(chain_.channel.quantity))
        if (const auto number = other.transfer.numbers.find("slope"); number != other.transfer.numbers.end())
          slopes.insert(number->second);
    if (chain_.channel.quantity == Quantity::temperature && part_.transfer.type == "linear")
      slopes.insert({0.005, 0.00625, 0.01, 0.01 / 1.8, 0.0195, 0.02, 0.018});
    const double own = setting("slope");
    for (const double other : slopes)
      if (std::isfinite(own) && other != 0 && !same(other, own))
        on_law("slope", 0.8, MistakeOf::arithmetic, true,
               translated("the slope is taken as {:g}, it is {:g}", other, own),
               translated("compare two readings far apart"),
               [=](double output) { return (slope * output + at_zero) * own / other; });
  }

  void thermistor() {
    const double r25 = setting("r25"), beta = setting("beta");
    const auto kelvin = [=](double ohm, double at, double log) { return 1 / (1 / at + log / beta) + 0 * ohm; };
    const std::string next = translated("work one resistance out by hand");
    on_law("logarithm-base", 1, MistakeOf::arithmetic, false,
           translated("the decimal logarithm is used for the natural one"), next,
           [=](double ohm) { return kelvin(ohm, room_k, std::log10(ohm / r25)) - zero_celsius_k; });
    on_law("kelvin-forgotten", 0.8, MistakeOf::arithmetic, false,
           translated("25 stands in the formula where 298.15 K belongs"), next,
           [=](double ohm) { return kelvin(ohm, 25, std::log(ohm / r25)) - zero_celsius_k; });
    on_law("kelvin-forgotten", 0.5, MistakeOf::arithmetic, false,
           translated("25 stands in the formula where 298.15 K belongs, and nothing is taken off"), next,
           [=](double ohm) { return kelvin(ohm, 25, std::log(ohm / r25)); });
    on_law("kelvin-forgotten", 0.5, MistakeOf::arithmetic, false,
           translated("273.15 stands in the formula where 298.15 K belongs"), next,
           [=](double ohm) { return kelvin(ohm, zero_celsius_k, std::log(ohm / r25)) - zero_celsius_k; });
    on_law("kelvin-forgotten", 0.3, MistakeOf::arithmetic, false,
           translated("298.15 is taken off at the end instead of 273.15"), next,
           [=](double ohm) { return kelvin(ohm, room_k, std::log(ohm / r25)) - room_k; });
    for (const double other :
         {3380.0, 3435.0, 3450.0, 3470.0, 3500.0, 3590.0, 3630.0, 3650.0, 3700.0, 3799.0, 3892.0, 3900.0, 3935.0,
          3950.0, 3977.0, 3988.0, 4000.0, 4050.0, 4100.0, 4150.0, 4200.0, 4250.0, 4267.0, 4300.0, 4400.0, 4500.0})
      if (!same(other, beta))
        on_setting("beta", 1, "beta", other,
                   Told{translated("B is taken as {:g} K, it is {:g} K", other, beta),
                        translated("B is {:g} K, the bench says {:g} K", other, beta)});
    for (const double other : {1e3,  2e3,  2.2e3, 2.252e3, 3e3,   4.7e3, 5e3,   10e3,  15e3,  20e3,  22e3, 30e3,
                               33e3, 47e3, 50e3,  68e3,    100e3, 150e3, 200e3, 220e3, 470e3, 500e3, 1e6})
      if (!same(other, r25))
        on_setting("resistor-value", 1, "r25", other,
                   Told{translated("the thermistor is taken as {} at 25 °C, it is {}", resistor_code(other),
                                   resistor_code(r25)),
                        translated("the thermistor is {} at 25 °C, the bench says {}", resistor_code(other),
                                   resistor_code(r25))});
  }

  void other_parts() {
    const auto own_law = transfer_law(part_, device_.settings);
    if (!own_law) return;
    for (const Part& other : catalogue_.parts()) {
      if (other.interface != part_.interface || other.id == part_.id || !other.measures(chain_.channel.quantity))
        continue;
      if (other.markings.empty() && other.transfer.type != "table") continue;
      auto settings = std::map<std::string, double>();
      auto law = transfer_law(other, {});
      if (!law || law->output_dimension != own_law->output_dimension) continue;
      if (!law->supply_key.empty() && !own_law->supply_key.empty()) {
        const Rail* rail = find_by_id(right_.bench.rails, device_.front_end.rail);
        settings[law->supply_key] = rail ? rail->voltage.best_v() : setting(own_law->supply_key);
        law = transfer_law(other, settings);
        if (!law) continue;
      }
      if (part_.transfer.type == "thermocouple" && other.transfer.type == "thermocouple") {
        law = transfer_law(other, {{"cold_junction", setting("cold_junction")}});
        if (!law) continue;
      }
      const std::string marking = other.markings.empty() ? other.id : other.markings.front();
      on_law("wrong-part", 0.7, MistakeOf::either, false,
             translated("the formula is that of {} ({})", other.name, marking),
             translated("read what is printed on the part"), right_way(*law),
             translated("what is fitted is {} ({})", other.name, marking));
    }
  }
};

}  // namespace

void add_analog(const Rows& ground) { Analog(ground).add_rows(); }

}  // namespace fair_gauge::mistake_rows
