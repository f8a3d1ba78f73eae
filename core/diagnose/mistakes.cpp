#include "diagnose/mistakes.h"

#include <fmt/format.h>

#include "diagnose/mistake_rows.h"
#include "language/translation.h"
#include "parts/expression.h"

namespace fair_gauge {
namespace mistake_rows {
namespace {

constexpr double atmosphere_pa = 101'325;

// Whatever the chain: what is shown, the correction, another channel's chain.
class OfEveryChain : public Rows {
 public:
  explicit OfEveryChain(const Rows& ground) : Rows(ground) {}
  void add_rows() {
    shown();
    corrections();
    if (chain_.channel.arrives_converted())
      arriving();
    else if (wants({"wrong-channel"}))
      other_channels();
  }

 private:
  void on_shown(const char* code, int order, double prior, const std::string& words, const std::string& fix,
                const std::function<double(double)>& step) {
    add({.code = code,
         .words = words,
         .fix = fix,
         .next = translated("read the last lines of the firmware"),
         .prior = prior,
         .change = [=](Firmware& wrong) {
           wrong.on_shown.push_back({order, step});
         }});
  }

  void shown() {
    const Unit& unit = *chain_.shown;
    const auto shows_unit = [&](const char* code, const Unit& other, double prior) {
      on_shown(code, 0, prior, translated("the number is in {}, not in {}", other.symbol, unit.symbol),
               translated("convert to {} before it is shown", unit.symbol),
               [&unit, &other](double shown) { return other.from_base(unit.to_base(shown)); });
    };
    if (unit.dimension == Dimension::temperature) {
      const Unit& celsius = base_unit(Dimension::temperature);
      const Unit &kelvin = *unit_by_ucum("K"), &fahrenheit = *unit_by_ucum("[degF]");
      if (&unit != &fahrenheit) shows_unit("unit-fahrenheit", fahrenheit, 1);
      if (&unit == &fahrenheit) shows_unit("unit-fahrenheit", celsius, 1);
      if (&unit != &kelvin) shows_unit("unit-kelvin", kelvin, 1);
      if (&unit == &kelvin) shows_unit("unit-kelvin", celsius, 1);
      on_shown("unit-fahrenheit", 0, 0.1, translated("a number in °C is taken for one in °F and converted"),
               translated("leave out the conversion"), [&](double shown) { return (shown - 32) / 1.8; });
    }
    if (unit.dimension == Dimension::pressure) {
      for (const Unit& other : all_units())
        if (other.dimension == Dimension::pressure && !same(other.scale, unit.scale))
          shows_unit("unit-pressure", other, 0.8);
      for (const double prefix : {1e3, 1e-3})
        on_shown("unit-pressure", 0, 0.5, translated("a thousand times off: pascals and kilopascals exchanged"),
                 translated("use one unit"), [=](double shown) { return shown * prefix; });
      const bool absolute =
          chain_.channel.kind != PressureKind::gauge && chain_.channel.kind != PressureKind::differential;
      const auto shifts = [&](const char* code, double atmospheres, double prior, const char* words, MistakeOf of) {
        add({.code = code,
             .words = words,
             .fix = translated("say which zero is meant, and add or take off the atmosphere once"),
             .next = translated(
                 "read it with the port open to the room: a gauge shows 0 there, an absolute sensor the weather"),
             .prior = prior,
             .of = of,
             .change = [=](Firmware& wrong) {
               wrong.on_value.push_back([=](double value) { return value + atmospheres * atmosphere_pa; });
             }});
      };
      shifts("absolute-gauge", absolute ? -1 : 1, 1,
             absolute
                 ? translated("pressure above the room's is shown, not absolute pressure: one atmosphere is missing")
                 : translated("absolute pressure is shown, not that above the room's: one atmosphere too much"),
             MistakeOf::either);
      shifts("ambient-twice", absolute ? 1 : -1, 0.4,
             translated("an atmosphere is added or taken off that already was"), MistakeOf::arithmetic);
      shifts("ambient-twice", absolute ? -2 : 2, 0.2, translated("the atmosphere is taken off or added twice"),
             MistakeOf::arithmetic);
    }
    for (const double factor : {10.0, 0.1})
      on_shown("scale-of-ten", 1, 1, factor > 1 ? translated("ten times too large") : translated("ten times too small"),
               translated("move the decimal mark"), [=](double shown) { return shown * factor; });
    for (const double factor : {100.0, 0.01})
      on_shown("scale-of-hundred", 1, 0.8,
               factor > 1 ? translated("a hundred times too large") : translated("a hundred times too small"),
               translated("move the decimal mark"), [=](double shown) { return shown * factor; });
    on_shown("fraction-dropped", 2, 1.2, translated("the digits behind the mark are cut off"),
             translated("round, or compute in tenths"), [](double shown) { return std::trunc(shown); });
  }

  // A value that other firmware converted: only its unit and its decimal mark can still be told.
  void arriving() {
    const Unit& unit = *unit_by_ucum(chain_.channel.arriving_unit());
    const auto comes = [&](const char* code, double prior, const std::string& words, const std::string& fix,
                           const std::function<double(double)>& step) {
      add({.code = code,
           .words = words,
           .fix = fix,
           .next =
               translated("look at what the other firmware sends beside a thermometer or a meter of the same quantity"),
           .prior = prior,
           .of = MistakeOf::world,
           .change = [=](Firmware& wrong) { wrong.on_raw.push_back(step); }});
    };
    for (const Unit& other : all_units()) {
      if (other.dimension != unit.dimension || (same(other.scale, unit.scale) && same(other.offset, unit.offset)))
        continue;
      const char* code = unit.dimension == Dimension::pressure   ? "unit-pressure"
                         : other.ucum == "K" || unit.ucum == "K" ? "unit-kelvin"
                                                                 : "unit-fahrenheit";
      comes(code, 1, translated("the value arrives in {}, not in {}", other.symbol, unit.symbol),
            translated("say in the channel that it arrives in {}", other.symbol),
            [&unit, &other](double value) { return unit.from_base(other.to_base(value)); });
    }
    for (const double factor : {10.0, 0.1, 100.0, 0.01})
      comes(factor == 10 || factor == 0.1 ? "scale-of-ten" : "scale-of-hundred", 0.7,
            translated("the value arrives {} times too {}", factor > 1 ? factor : 1 / factor,
                       factor > 1 ? translated("small") : translated("large")),
            translated("move the decimal mark where it is sent"), [=](double value) { return value * factor; });
  }

  void corrections() {
    const Correction& correction = chain_.channel.correction;
    if (correction.empty() || correction.placed != CorrectionPlace::physical) return;
    const auto times = [&](const char* code, int count, const char* words) {
      add({.code = code,
           .words = words,
           .fix = translated("apply the channel's correction once, with its sign"),
           .next = translated("take the correction out on both sides and compare again"),
           .change = [=](Firmware& wrong) { wrong.correction = count; }});
    };
    times("correction-forgotten", 0, translated("the correction is not applied"));
    times("correction-twice", 2, translated("the correction is applied twice"));
    times("correction-sign", -1, translated("the correction is applied with the wrong sign"));
  }

  void other_channels() {
    for (const Channel& other : bench_.channels) {
      if (other.id == chain_.channel.id) continue;
      const bool same_bytes = chain_.decoder && other.device == chain_.channel.device;
      const Device* device = find_by_id(bench_.devices, other.device);
      const Part* part = device ? catalogue_.find(device->part) : nullptr;
      if (!part || (!same_bytes && (chain_.decoder || part->is_digital()))) continue;
      add({.code = "wrong-channel",
           .words = translated("it is worked out as \"{}\"", called(other)),
           .fix = translated("use this channel's own number and formula"),
           .next = translated("change one of them alone and see which follows"),
           .prior = 0.5,
           .change = [&bench = bench_, id = other.id](Firmware& wrong) {
             wrong.bench = bench_of_channel(bench, id);
             wrong.channel = id;
             wrong.field.reset();
           }});
    }
    if (!chain_.decoder) return;
    // What else the same bytes hold, though the bench has no channel of it.
    for (const PartQuantity& quantity : part_.quantities) {
      const auto has_channel = [&](const Channel& channel) {
        return channel.device == device_.id && channel.quantity == quantity.quantity;
      };
      if (quantity.quantity == chain_.channel.quantity || std::ranges::any_of(bench_.channels, has_channel)) continue;
      for (const Unit& unit : all_units())
        if (unit.dimension == dimension_of(quantity.quantity) && (unit.scale == 1 || unit.ucum == "hPa"))
          add({.code = "wrong-channel",
               .words = translated("it is the {} of the same bytes", translated_name(quantity.quantity)),
               .fix = translated("take the value of this quantity"),
               .next = translated("print all values of the part side by side"),
               .prior = 0.5,
               .change = [name = quantity.quantity, ucum = std::string(unit.ucum)](Firmware& wrong) {
                 Channel& channel = wrong.bench.channels.front();
                 channel.quantity = name;
                 channel.unit = ucum;
                 channel.correction = {};
                 wrong.field.reset();
               }});
    }
  }
};

// What a part's file says in numbers.
class OfTheParts : public Rows {
 public:
  explicit OfTheParts(const Rows& ground) : Rows(ground) {}
  void add_rows() {
    for (const Mistake& mistake : mistakes_of_parts(right_.bench, catalogue_)) {
      if (mistake.value.empty()) continue;
      const auto value = Expression::read(mistake.value);
      if (!value) continue;  // said when the file was read
      add({.code = mistake.code,
           .words = mistake.what,
           .fix = translated("do it as the part's sheet says"),
           .next = translated("change what is measured a little and see which way the number goes"),
           .of = MistakeOf::either,
           .change = [value = *value](Firmware& wrong) {
             wrong.on_value.push_back([value](double x) { return value.at(x); });
           }});
    }
  }
};

}  // namespace
}  // namespace mistake_rows

std::vector<Mistake> mistakes_of_parts(const Bench& own, const Catalogue& catalogue) {
  std::vector<Mistake> all;
  const auto take = [&](const std::string& id) {
    if (const Part* part = id.empty() ? nullptr : catalogue.find(id))
      all.insert(all.end(), part->mistakes.begin(), part->mistakes.end());
  };
  for (const Device& device : own.devices) take(device.part);
  for (const Converter& converter : own.converters) take(converter.part);
  return all;
}

std::vector<Wrong> wrongs_of(const Bench& bench, const Catalogue& catalogue, const Chain& chain, const Firmware& right,
                             std::span<const std::string_view> only) {
  std::vector<Wrong> rows;
  const mistake_rows::Rows ground(bench, catalogue, chain, right, only, rows);
  mistake_rows::OfEveryChain(ground).add_rows();
  mistake_rows::OfTheParts(ground).add_rows();
  if (chain.channel.arrives_converted()) return rows;
  if (chain.decoder)
    mistake_rows::add_digital(ground);
  else
    mistake_rows::add_analog(ground);
  return rows;
}

}  // namespace fair_gauge
