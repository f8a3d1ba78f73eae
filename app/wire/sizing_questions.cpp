#include "wire/sizing_questions.h"
#include "language/translation.h"
#include "wire/words.h"

#include <QCoreApplication>

#include <cmath>

#include "sizing/load_resistor.h"
#include "sizing/rc_filter.h"
#include "sizing/sensor_divider.h"
#include "sizing/span.h"
#include "sizing/voltage_divider.h"
#include "widgets/text.h"

namespace fair_gauge::app {
namespace {

// What every question knows of the channel it is asked for.
struct Asked {
  Bench bench;
  Channel channel;
  Device device;
  Part part;
  TransferLaw law;
  NumberStyle style;
  const Unit* shown;

  QString number(double value, std::string_view symbol, int significant = 3) const {
    return text_of(with_prefix(value, symbol, significant, style));
  }
  QString step(double base) const {
    return text_of(fixed(base / shown->scale, std::min(6, decimals_for(base / shown->scale) + 1), style)) +
           QLatin1Char(' ') + text_of(difference_symbol(*shown));
  }
  ResistorChoice resistors(const WishField& series) const {
    constexpr ESeries all[] = {ESeries::e12, ESeries::e24, ESeries::e96};
    ResistorChoice choice;
    if (series.value >= 3)
      choice.drawer_ohm = bench.drawer_ohm;
    else
      choice.series = all[static_cast<std::size_t>(series.value)];
    return choice;
  }
  WishField series_field() const {
    QStringList names = {QStringLiteral("E12"), QStringLiteral("E24"), QStringLiteral("E96")};
    if (!bench.drawer_ohm.empty()) names << tr("the drawer");
    return {tr("Pick from"), tr("A preferred series, or the resistors that are listed as being in the drawer"),
            Dimension::number, 1, names};
  }
  Applicable apply(const QString& label, const std::function<void(FrontEnd&)>& change) const {
    return {label, [id = device.id, change](Bench& to) {
              if (Device* target = find_by_id(to.devices, id)) change(target->front_end);
            }};
  }
};

SizingAnswer refusal(const Problem& problem) { return {.headline = text_of(to_text(problem)), .good = false}; }

QStringList texts(const std::vector<std::string>& words) {
  QStringList list;
  for (const std::string& line : words) list << text_of(line);
  return list;
}

// ---- the fixed resistor of a divider ----

SizingAnswer answer_divider(const Asked& asked, const std::vector<WishField>& wishes, double supply_v, int bits) {
  DividerWish wish{.law = asked.law,
                   .range = *asked.part.measures(asked.channel.quantity),
                   .from = asked.channel.wanted.from,
                   .to = asked.channel.wanted.to,
                   .supply_v = supply_v,
                   .bits = bits,
                   .goal = static_cast<DividerGoal>(wishes[0].value),
                   .position = asked.device.front_end.position,
                   .resistors = asked.resistors(wishes[1]),
                   .kelvin_per_watt = asked.part.kelvin_per_watt};
  if (wishes[2].value > 0) wish.max_source_ohm = wishes[2].value;
  if (wishes[3].value > 0) wish.max_self_heating_k = wishes[3].value;
  const auto size = size_sensor_divider(wish);
  if (!size) return refusal(size.problem());
  const DividerCandidate present = judge_divider(wish, asked.device.front_end.fixed_ohm);
  SizingAnswer answer;
  const bool is_relative = wish.goal == DividerGoal::relative;
  const auto worst = [&](const DividerCandidate& candidate) {
    return is_relative ? asked.number(candidate.worst_share * 100, "%", 2) : asked.step(candidate.worst_step);
  };
  answer.headline = (is_relative ? tr("%1: one step is at worst %2 of the reading") : tr("%1: one step is at worst %2"))
                        .arg(text_of(resistor_code(size->chosen.fixed_ohm)), worst(size->chosen));
  answer.columns = {tr("Resistor"),     tr("Worst step"),   tr("Best step"),
                    tr("Off the line"), tr("Self-heating"), tr("If 1 % off")};
  const auto row = [&](const DividerCandidate& candidate, const QString& mark) {
    const double spread = divider_spread(wish, candidate.fixed_ohm, 0.01, (wish.from + wish.to) / 2, 2000, 1);
    return QStringList{text_of(resistor_code(candidate.fixed_ohm)) + mark,
                       worst(candidate),
                       asked.step(candidate.best_step),
                       asked.step(candidate.nonlinearity),
                       wish.kelvin_per_watt > 0 ? asked.number(candidate.self_heating_k, "K", 2) : tr("not stated"),
                       QStringLiteral("±") + asked.step(spread)};
  };
  const std::size_t at = size->chosen_index;
  for (std::size_t i = at >= 2 ? at - 2 : 0; i < std::min(at + 3, size->candidates.size()); ++i) {
    if (i == at) answer.marked_row = static_cast<int>(answer.rows.size());
    answer.rows.push_back(row(size->candidates[i], QString()));
  }
  if (present.fixed_ohm != size->chosen.fixed_ohm) answer.rows.push_back(row(present, tr(", now on the bench")));
  answer.curve = SizingAnswer::Curve{
      tr("fixed resistor, Ω"),
      is_relative ? tr("worst step, %") : tr("worst step, %1").arg(text_of(difference_symbol(*asked.shown))),
      {},
      {},
      size->chosen.fixed_ohm,
      present.fixed_ohm};
  const double near = 20 * size->chosen.fixed_ohm;
  for (const DividerCandidate& candidate : size->candidates) {
    if (candidate.fixed_ohm > near || candidate.fixed_ohm < size->chosen.fixed_ohm / 20) continue;
    answer.curve->x << candidate.fixed_ohm;
    answer.curve->y << (is_relative ? candidate.worst_share * 100 : candidate.worst_step / asked.shown->scale);
  }
  answer.reasons = texts(size->assumes);
  answer.reasons << tr("the pin sees at most %1, and the sensor carries at most %2")
                        .arg(asked.number(size->chosen.source_ohm, "Ω"), asked.number(size->chosen.highest_a, "A"));
  answer.reasons << tr(
      "a step is what the converter can tell apart, not how right it is: the level on the right says that");
  const double ohm = size->chosen.fixed_ohm;
  answer.applicable.push_back(asked.apply(tr("Put %1 on the bench").arg(text_of(resistor_code(ohm))),
                                          [ohm](FrontEnd& front_end) { front_end.fixed_ohm = ohm; }));
  return answer;
}

SizingQuestion divider_question(const Asked& asked, double supply_v, int bits) {
  const bool in_decades = asked.channel.quantity == Quantity::illuminance;
  return {
      tr("Fixed resistor"),
      {{tr("Best for"),
        tr("The finest step at its worst place, in units or as a share of the reading, the straightest line, or the "
           "least current"),
        Dimension::number,
        static_cast<double>(in_decades ? DividerGoal::relative : DividerGoal::resolution),
        {tr("resolution"), tr("a straight line"), tr("low current"), tr("a share of the reading")}},
       asked.series_field(),
       {tr("Pin sees at most"),
        tr("Source resistance that the converter stands"),
        Dimension::resistance,
        0,
        {},
        tr("no limit")},
       {tr("Heats itself at most"),
        tr("By its own current, kelvin"),
        Dimension::temperature_difference,
        0,
        {},
        tr("no limit")}},
      [asked, supply_v, bits](const std::vector<WishField>& wishes) {
        return answer_divider(asked, wishes, supply_v, bits);
      }};
}

// ---- reference and gain ----

constexpr double highest_reference_v = 5.5;  // that a controller's pin ever bears

SizingAnswer answer_span(const Asked& asked, const std::vector<WishField>& wishes, const Converter& converter,
                         double reference_v) {
  const SensorSpan span{asked.law, *asked.part.measures(asked.channel.quantity), asked.channel.wanted.from,
                        asked.channel.wanted.to};
  std::vector<double> references = {reference_v};
  for (const double volts : {1.1, 2.048, 2.5, 3.3, 4.096, 5.0})
    if (std::abs(volts / reference_v - 1) > 0.03) references.push_back(volts);
  const double own = wishes[1].value;
  if (own > 0 && std::ranges::find(references, own) == references.end()) references.push_back(own);
  std::vector<double> gains = {converter.gain};
  if (wishes[0].value == 1) gains = {1, 2, 4, 8, 16};
  const auto table = compare_spans(span, converter.bits, references, gains);
  if (!table) return refusal(table.problem());
  SizingAnswer answer;
  answer.columns = {tr("Reference"), tr("Gain"), tr("Step at the sensor"), tr("Step"), tr("Span used"), tr("Clips")};
  const SpanCandidate* present = &table->front();
  for (const SpanCandidate& row : *table)
    if (row.reference_v == reference_v && row.gain == converter.gain) present = &row;
  for (const SpanCandidate& row : *table) {
    if (answer.rows.size() >= 8 && row.reference_v != own) continue;
    const auto limit = [&](double value) {
      return text_of(with_unit(asked.shown->from_base(value), 1, asked.shown->symbol, asked.style));
    };
    QString clips = row.clips_above   ? tr("above %1").arg(limit(*row.clips_above))
                    : row.clips_below ? tr("below %1").arg(limit(*row.clips_below))
                                      : tr("no");
    if (row.clips_above && row.clips_below) clips += tr(" and below %1").arg(limit(*row.clips_below));
    answer.rows.push_back({asked.number(row.reference_v, "V", 4) + (&row == present ? tr(", now") : QString()),
                           QString::number(row.gain), asked.number(row.step_v, "V"), asked.step(row.step_physical),
                           QStringLiteral("%1 %").arg(std::lround(row.span_used * 100)), clips});
  }
  answer.marked_row = 0;
  const SpanCandidate& best = table->front();
  answer.good = !best.clips;
  answer.headline = best.clips         ? tr("Every one of these clips within the wanted range")
                    : &best == present ? tr("The present reference is the best of these")
                                       : text_of(compare_in_words(best, *present, *asked.shown));
  QStringList exact;
  for (const double step : {1.0, 0.5, 0.1})
    if (const auto volts = reference_for_step(span, converter.bits, step * asked.shown->scale);
        volts && *volts <= highest_reference_v)
      exact << tr("%1 makes one count %2 %3")
                   .arg(asked.number(*volts, "V", 4), QString::number(step), text_of(difference_symbol(*asked.shown)));
  if (!exact.isEmpty()) answer.reasons << tr("a reference of %1").arg(exact.join(QStringLiteral(", ")));
  answer.reasons << tr("a reference at the converter, its gain 1, nothing between sensor and pin");
  answer.reasons << tr("a step is what the converter can tell apart, not how right it is");
  if (!best.clips && &best != present) {
    const double volts = best.reference_v, gain = best.gain;
    answer.applicable.push_back({tr("Use %1 on this converter").arg(asked.number(volts, "V", 4)),
                                 [id = converter.id, volts, gain](Bench& bench) {
                                   Converter* target = find_by_id(bench.converters, id);
                                   if (!target) return;
                                   target->reference_rail.clear();
                                   target->reference = {.nominal_v = volts, .tolerance = 0.02};
                                   target->gain = gain;
                                 }});
  }
  return answer;
}

SizingQuestion span_question(const Asked& asked, const Converter& converter, double reference_v) {
  return {tr("Reference and gain"),
          {{tr("Gains"),
            tr("Whether the converter has a programmable amplifier"),
            Dimension::number,
            0,
            {tr("as it is"), tr("1 to 16")}},
           {tr("Try also"), tr("A reference of your own"), Dimension::voltage, 0, {}, tr("none")}},
          [=](const std::vector<WishField>& wishes) { return answer_span(asked, wishes, converter, reference_v); }};
}

// ---- an amplifier ----

SizingAnswer answer_gain(const Asked& asked, const std::vector<WishField>& wishes, double reference_v) {
  const GainWish wish{.low_v = asked.law.output(asked.channel.wanted.from),
                      .high_v = asked.law.output(asked.channel.wanted.to),
                      .reference_v = reference_v,
                      .headroom = wishes[0].value / 100,
                      .resistors = asked.resistors(wishes[1])};
  const auto size = size_gain(wish);
  if (!size) return refusal(size.problem());
  SizingAnswer answer;
  answer.headline =
      tr("Gain %1 by %2 against %3, offset %4")
          .arg(size->shifted.gain, 0, 'g', 4)
          .arg(text_of(resistor_code(size->shifted.feedback_ohm)), text_of(resistor_code(size->shifted.input_ohm)),
               asked.number(size->shifted.offset_v, "V"));
  answer.columns = {tr("Amplifier"), tr("Gain"),   tr("Feedback"),  tr("Against"),
                    tr("Offset"),    tr("Output"), tr("Span used"), tr("Gain error")};
  for (const auto& [name, amplifier] : {std::pair{tr("with offset"), size->shifted}, {tr("from ground"), size->plain}})
    answer.rows.push_back(
        {name, QString::number(amplifier.gain, 'g', 4), text_of(resistor_code(amplifier.feedback_ohm)),
         text_of(resistor_code(amplifier.input_ohm)), asked.number(amplifier.offset_v, "V"),
         tr("%1 to %2").arg(asked.number(amplifier.at_low_v, "V"), asked.number(amplifier.at_high_v, "V")),
         QStringLiteral("%1 %").arg(std::lround(amplifier.span_used * 100)),
         QStringLiteral("±%1 %").arg(amplifier.gain_error * 100, 0, 'f', 1)});
  answer.marked_row = 0;
  answer.reasons = texts(size->reasons);
  answer.reasons << tr("resistors of 1 %, an amplifier whose output reaches both ends of the span");
  for (const auto& [label, found] : {std::pair{tr("Put the one with offset on the bench"), size->shifted},
                                     {tr("Put the one from ground on the bench"), size->plain}})
    answer.applicable.push_back(asked.apply(label, [chosen = found](FrontEnd& front_end) {
      front_end.kind = FrontEndKind::amplifier;
      front_end.amplifier = AmplifierKind::non_inverting;
      front_end.gain = chosen.gain;
      front_end.input_ohm = chosen.input_ohm > 0 ? chosen.input_ohm : front_end.input_ohm;
      front_end.offset_v = chosen.offset_v;
    }));
  return answer;
}

SizingQuestion gain_question(const Asked& asked, double reference_v) {
  return {tr("Amplifier"),
          {{tr("Headroom, %"), tr("Share of the span kept free at each end"), Dimension::number, 5, {}},
           asked.series_field()},
          [=](const std::vector<WishField>& wishes) { return answer_gain(asked, wishes, reference_v); }};
}

// ---- a level divider ----

SizingAnswer answer_level(const Asked& asked, const std::vector<WishField>& wishes, double input_ohm) {
  const auto pairs = size_level_divider({.from_v = wishes[0].value,
                                         .to_v = wishes[1].value,
                                         .max_source_ohm = wishes[2].value,
                                         .input_ohm = input_ohm,
                                         .resistors = asked.resistors(wishes[3])});
  if (!pairs) return refusal(pairs.problem());
  SizingAnswer answer;
  const LevelDivider& best = pairs->front();
  answer.headline =
      tr("%1 over %2: %3 becomes %4")
          .arg(text_of(resistor_code(best.top_ohm)), text_of(resistor_code(best.bottom_ohm)),
               asked.number(wishes[0].value, "V", 4), asked.number(wishes[0].value * best.loaded_ratio, "V", 4));
  answer.columns = {tr("Upper"), tr("Lower"), tr("Full scale"), tr("Off by"), tr("Pin sees"), tr("Current")};
  for (const LevelDivider& pair : *pairs)
    answer.rows.push_back({text_of(resistor_code(pair.top_ohm)), text_of(resistor_code(pair.bottom_ohm)),
                           asked.number(wishes[0].value * pair.loaded_ratio, "V", 4),
                           QStringLiteral("%1 %").arg(pair.ratio_error * 100, 0, 'f', 2),
                           asked.number(pair.source_ohm, "Ω"), asked.number(pair.current_a, "A")});
  answer.marked_row = 0;
  answer.reasons << tr("the full scale never exceeds the target; with 1 % resistors it may by %1")
                        .arg(asked.number(wishes[1].value * 0.02 * (1 - best.ratio), "V", 2));
  answer.reasons << tr("at twice the full scale the pin would see %1 behind %2: the pin's own clamp must stand %3")
                        .arg(asked.number(2 * wishes[0].value * best.loaded_ratio, "V"),
                             asked.number(best.source_ohm, "Ω"),
                             asked.number((2 * wishes[0].value * best.loaded_ratio - wishes[1].value) / best.source_ohm,
                                          "A", 2));
  answer.applicable.push_back(asked.apply(tr("Put this pair on the bench"), [best](FrontEnd& front_end) {
    front_end.kind = FrontEndKind::level_divider;
    front_end.top_ohm = best.top_ohm;
    front_end.bottom_ohm = best.bottom_ohm;
  }));
  return answer;
}

SizingQuestion level_question(const Asked& asked, double reference_v, double input_ohm) {
  const double highest =
      std::max(asked.law.output(asked.channel.wanted.from), asked.law.output(asked.channel.wanted.to));
  return {tr("Level divider"),
          {{tr("Full scale before"),
            tr("The highest voltage that the sensor gives"),
            Dimension::voltage,
            std::max(highest, reference_v * 1.05),
            {}},
           {tr("At the pin at most"),
            tr("The span of the converter, or what the pin stands"),
            Dimension::voltage,
            reference_v,
            {}},
           {tr("Pin sees at most"), tr("Source resistance that the converter stands"), Dimension::resistance, 10e3, {}},
           asked.series_field()},
          [=](const std::vector<WishField>& wishes) { return answer_level(asked, wishes, input_ohm); }};
}

// ---- loads ----

SizingAnswer answer_pulse_load(const Asked& asked, const std::vector<WishField>& wishes) {
  const auto size = size_load_resistor({.threshold_v = {wishes[1].value, wishes[2].value},
                                        .supply_v = wishes[0].value,
                                        .headroom_v = wishes[3].value,
                                        .resistors = asked.resistors(wishes[4])});
  if (!size) return refusal(size.problem());
  SizingAnswer answer;
  answer.good = size->possible;
  answer.reasons = texts(size->reasons);
  answer.headline = size->possible
                        ? tr("%1: low %2, high %3 or more")
                              .arg(text_of(resistor_code(size->recommended_ohm)),
                                   asked.number(size->low_v.maximum, "V"), asked.number(size->high_v.minimum, "V"))
                        : tr("No resistor does it");
  answer.columns = {tr("Bound"), tr("Value")};
  answer.rows = {{tr("at least"), asked.number(size->minimum_ohm, "Ω", 4)},
                 {tr("at most"), asked.number(size->maximum_ohm, "Ω", 4)}};
  if (size->possible) {
    const double ohm = size->recommended_ohm;
    answer.applicable.push_back(asked.apply(tr("Put %1 on the bench").arg(text_of(resistor_code(ohm))),
                                            [ohm](FrontEnd& front_end) { front_end.fixed_ohm = ohm; }));
  }
  return answer;
}

SizingQuestion pulse_load_question(const Asked& asked) {
  return {
      tr("Load resistor"),
      {{tr("Supply"), tr("Of sensor and resistor in series"), Dimension::voltage, 3.3, {}},
       {tr("Low below"), tr("The lowest threshold that the pin or comparator may have"), Dimension::voltage, 0.6, {}},
       {tr("High above"), tr("The highest threshold it may have"), Dimension::voltage, 0.9, {}},
       {tr("Sensor needs"),
        tr("Voltage across the sensor: 2.0 V, 2.15 V while its current is low"),
        Dimension::voltage,
        2.0,
        {}},
       asked.series_field()},
      [=](const std::vector<WishField>& wishes) { return answer_pulse_load(asked, wishes); }};
}

SizingAnswer answer_light_load(const Asked& asked, const std::vector<WishField>& wishes, double reference_v, int bits) {
  const double highest_a =
      std::max(asked.law.output(asked.channel.wanted.to), asked.law.output(asked.channel.wanted.from));
  const double most = reference_v * (1 - wishes[0].value / 100) / highest_a;
  const auto ohms = asked.resistors(wishes[1]).between(most / 30, most);
  if (ohms.empty())
    return refusal(
        {translated("no resistor at hand is small enough"), translated("one of {} or less", with_prefix(most, "Ω"))});
  SizingAnswer answer;
  answer.columns = {tr("Resistor"), tr("Step"), tr("At the upper end"), tr("Span used")};
  for (auto ohm = ohms.rbegin(); ohm != ohms.rend() && answer.rows.size() < 5; ++ohm) {
    const double amps_per_unit =
        std::abs(asked.law.output(asked.channel.wanted.to) - asked.law.output(asked.channel.wanted.from)) /
        (asked.channel.wanted.to - asked.channel.wanted.from);
    answer.rows.push_back({text_of(resistor_code(*ohm)),
                           asked.step(reference_v / std::exp2(bits) / *ohm / amps_per_unit),
                           asked.number(*ohm * highest_a, "V"),
                           QStringLiteral("%1 %").arg(std::lround(100 * *ohm * highest_a / reference_v))});
  }
  const double ohm = ohms.back();
  answer.marked_row = 0;
  answer.headline =
      tr("%1: %2 at the upper end of the wanted range").arg(text_of(resistor_code(ohm)), answer.rows.front()[2]);
  answer.reasons << tr("the current is in proportion to light; pieces differ, so leave headroom for a strong one");
  answer.applicable.push_back(
      asked.apply(tr("Put %1 on the bench").arg(text_of(resistor_code(ohm))), [ohm](FrontEnd& front_end) {
        if (front_end.kind != FrontEndKind::transimpedance) front_end.kind = FrontEndKind::load;
        front_end.fixed_ohm = ohm;
      }));
  return answer;
}

// ---- a filter ----

SizingAnswer answer_filter(const Asked& asked, const std::vector<WishField>& wishes, const Converter& converter) {
  FilterWish wish{.cutoff_hz = wishes[0].value,
                  .bits = converter.bits,
                  .max_ohm = wishes[2].value,
                  .resistors = asked.resistors(wishes[3])};
  if (wishes[1].value > 0) wish.settle_s = wishes[1].value;
  if (converter.sample_farad > 0) wish.sample_farad = converter.sample_farad;
  if (converter.acquisition_s > 0) wish.acquisition_s = converter.acquisition_s;
  const auto size = size_rc_filter(wish);
  if (!size) return refusal(size.problem());
  SizingAnswer answer;
  answer.good = size->possible;
  answer.headline =
      tr("%1 and %2: settles in %3")
          .arg(text_of(resistor_code(size->ohm)), asked.number(size->farad, "F"), asked.number(size->settling_s, "s"));
  answer.columns = {tr("Property"), tr("Value")};
  answer.rows = {{tr("cutoff"), asked.number(size->cutoff_hz, "Hz")},
                 {tr("noise bandwidth"), asked.number(size->noise_bandwidth_hz, "Hz")},
                 {tr("one sample takes"), tr("%1 steps").arg(size->charge_error_steps, 0, 'g', 2)}};
  answer.reasons = texts(size->reasons);
  answer.reasons << tr("sampling capacitor %1, acquisition %2")
                        .arg(asked.number(wish.sample_farad, "F"), asked.number(wish.acquisition_s, "s"));
  const double ohm = size->ohm, farad = size->farad;
  answer.applicable.push_back(asked.apply(tr("Put this filter on the bench"), [=](FrontEnd& front_end) {
    front_end.filter_ohm = ohm;
    front_end.filter_farad = farad;
  }));
  return answer;
}

SizingQuestion filter_question(const Asked& asked, const Converter& converter) {
  return {tr("Filter"),
          {{tr("Cutoff at most"), tr("Noise above this frequency is held back"), Dimension::frequency, 10, {}},
           {tr("Settled after"),
            tr("A step must have settled to half a converter step by then"),
            Dimension::time,
            0,
            {},
            tr("no limit")},
           {tr("Resistor at most"), tr("It adds to the source resistance of the pin"), Dimension::resistance, 10e3, {}},
           asked.series_field()},
          [=](const std::vector<WishField>& wishes) { return answer_filter(asked, wishes, converter); }};
}

// ---- a reference from the supply ----

SizingAnswer answer_reference(const Asked& asked, const std::vector<WishField>& wishes, const Converter& converter) {
  const auto size = size_reference({.supply_v = wishes[0].value,
                                    .supply_tolerance = wishes[1].value / 100,
                                    .target_v = wishes[2].value,
                                    .load_ohm = wishes[3].value,
                                    .resistors = asked.resistors(wishes[4])});
  if (!size) return refusal(size.problem());
  SizingAnswer answer;
  answer.columns = {tr("How"), tr("Upper"), tr("Lower"), tr("Nominal"), tr("Worst"), tr("Current")};
  const auto row = [&](const QString& name, const ReferenceSource& source) {
    answer.rows.push_back(
        {name, text_of(resistor_code(source.top_ohm)),
         source.bottom_ohm > 0 ? text_of(resistor_code(source.bottom_ohm)) : tr("regulator"),
         asked.number(source.nominal_v, "V", 4),
         tr("%1 to %2").arg(asked.number(source.lowest_v, "V", 4), asked.number(source.highest_v, "V", 4)),
         asked.number(source.current_a, "A")});
  };
  if (size->shunt) row(tr("shunt regulator"), *size->shunt);
  row(tr("plain divider"), size->divider);
  answer.marked_row = 0;
  answer.headline = answer.rows.front()[0] + QStringLiteral(": ") + answer.rows.front()[4];
  answer.reasons = texts(size->reasons);
  if (converter.span_per_reference == 2)
    answer.reasons << tr(
        "this pin takes half the reference: the span is twice its voltage; left open it is half the supply");
  const ReferenceSource& best = size->shunt ? *size->shunt : size->divider;
  answer.applicable.push_back({tr("Use this reference on the converter"), [id = converter.id, best](Bench& bench) {
                                 Converter* target = find_by_id(bench.converters, id);
                                 if (!target) return;
                                 target->reference_rail.clear();
                                 target->reference = {.nominal_v = best.nominal_v,
                                                      .tolerance = std::max(best.highest_v / best.nominal_v - 1,
                                                                            1 - best.lowest_v / best.nominal_v)};
                               }});
  return answer;
}

SizingQuestion reference_question(const Asked& asked, const Converter& converter, double supply_v) {
  return {tr("Reference from the supply"),
          {{tr("Supply"), tr("That it is made from"), Dimension::voltage, std::max(supply_v, 3.3), {}},
           {tr("Its tolerance, %"), tr("Half-width"), Dimension::number, 5, {}},
           {tr("Reference wanted"), tr("At the converter's reference pin"), Dimension::voltage, 1.25, {}},
           {tr("Pin's load"), tr("Resistance from the pin to ground"), Dimension::resistance, 0, {}, tr("none")},
           asked.series_field()},
          [=](const std::vector<WishField>& wishes) { return answer_reference(asked, wishes, converter); }};
}

}  // namespace

std::vector<SizingQuestion> sizing_questions(const Workbench& workbench) {
  const ChannelView& view = workbench.chosen();
  if (!view.chain) return {};
  const Bench& bench = workbench.bench();
  const Device* device = find_by_id(bench.devices, view.channel->device);
  // Behind a value that arrives may be no part, or one without its circuit.
  if (!device || (view.channel->arrives_converted() && view.chain->converter->counts_pulses())) return {};
  const Part* part = workbench.catalogue().find(view.chain->part_id);
  const auto law = transfer_law(*part, device->settings);
  if (!law) return {};
  const Asked asked{bench, *view.channel, *device, *part, *law, workbench.style(), view.chain->shown};
  if (law->output_dimension == Dimension::number) return {pulse_load_question(asked)};
  const Converter& converter = *find_by_id(bench.converters, device->converter);
  const double reference_v = reference_of(bench, converter).best_v();
  std::vector<SizingQuestion> questions;
  if (law->output_dimension == Dimension::resistance) {
    const Rail* rail = find_by_id(bench.rails, device->front_end.rail);
    questions.push_back(divider_question(asked, rail ? rail->voltage.best_v() : reference_v, converter.bits));
  } else if (law->output_dimension == Dimension::current) {
    questions.push_back(
        {tr("Load resistor"),
         {{tr("Headroom, %"), tr("Share of the span kept free"), Dimension::number, 10, {}}, asked.series_field()},
         [=](const std::vector<WishField>& wishes) {
           return answer_light_load(asked, wishes, reference_v, converter.bits);
         }});
  } else {
    // Another reference helps nothing where it also feeds the sensor, and the table knows of no amplifier between them.
    const bool shared = (part->interface == Interface::bridge || part->interface == Interface::ratiometric) &&
                        converter.reference_rail == device->front_end.rail;
    if (!shared && device->front_end.kind == FrontEndKind::direct)
      questions.push_back(span_question(asked, converter, reference_v));
    questions.push_back(gain_question(asked, view.chain->converter->span_v()));
    questions.push_back(level_question(asked, view.chain->converter->span_v(), converter.input_ohm));
  }
  questions.push_back(filter_question(asked, converter));
  questions.push_back(reference_question(asked, converter, reference_v));
  return questions;
}

}  // namespace fair_gauge::app
