// review, filter and switch: what is wrong with a signal, what a filter does to it, what hangs on it.
#include <fmt/format.h>

#include <cmath>
#include <iostream>
#include <memory>

#include "channel_chain.h"
#include "files/delimited.h"
#include "files/file.h"
#include "quantity/quantity_text.h"
#include "stream/filters.h"
#include "stream/log_convert.h"
#include "stream/log_dialect.h"
#include "stream/review.h"
#include "stream/switching.h"

namespace fair_gauge::cli {
namespace {

struct LogOptions {
  std::string bench, channel, column, input = "-", output;
  std::string kind, unit;
  int length = 0, digits = -1;
  double weight = 0;
  bool heat = false, cool = false;
  std::string goal, band, schedule;
  double minimum_on = 0, minimum_off = 0, every = 0, stale = 0;
  bool safe_on = false;
  std::string shutdown_above;
  bool json = false, force = false;
};

// A channel of a bench, and the log of it.
struct Opened {
  Chain chain;
  ChannelLog log;
  PartTimes times;
  Range plausible;  // in the channel's unit
};

std::optional<Opened> open_log(Session& session, const LogOptions& options) {
  auto chain = open_chain(session, options.bench, options.channel);
  if (!chain) return std::nullopt;
  const auto bench = load_bench(options.bench);
  std::optional<RowChains> beside;
  if (bench && (!chain->side_channels.empty() || chain->derived))
    beside.emplace(bench->bench, session.catalogue(), *chain);
  auto log = read_channel_log(options.input, *chain, options.column, {}, beside ? &*beside : nullptr);
  if (!log) {
    session.refuse(log.problem(), is_file_problem(log.problem()) ? no_file : bad_input);
    return std::nullopt;
  }
  for (const std::string& each : remarks_on(*log)) std::cerr << options.input << ": " << plain_text(each) << "\n";
  const PartTimes times = bench ? part_times(bench->bench, session.catalogue(), *chain) : PartTimes();
  const Range plausible = plausible_range(*chain, times);
  Opened opened{std::move(*chain), std::move(*log), times, plausible};
  return opened;
}

void run_review(Session& session, const LogOptions& options) {
  const auto opened = open_log(session, options);
  if (!opened) return;
  const Review review = review_log(opened->log, opened->chain, opened->times);
  const bool any = review.good > 0;
  const auto known = [&](double value) { return any ? number_or_null(value) : Json(nullptr); };
  if (options.json) {
    Json events = Json::array();
    for (const LogEvent& event : review.events)
      events.push_back({{"kind", enum_name(event.kind)},
                        {"from_row", event.from_row},
                        {"to_row", event.to_row},
                        {"words", event.words}});
    const auto time = [](const std::string& text) { return text.empty() ? Json(nullptr) : Json(text); };
    return print_json({{"rows", review.rows},
                       {"good", review.good},
                       {"from", time(opened->log.from)},
                       {"to", time(opened->log.to)},
                       {"mean", known(review.mean)},
                       {"minimum", known(review.minimum)},
                       {"maximum", known(review.maximum)},
                       {"standard_deviation", known(review.standard_deviation)},
                       {"noise", known(review.noise)},
                       {"noise_steps", known(review.noise_steps)},
                       {"effective_bits", known(review.effective_bits)},
                       {"drift_per_hour", known(review.drift_per_hour)},
                       {"events", events}});
  }
  const std::string_view unit = opened->chain.shown->symbol, step = difference_symbol(*opened->chain.shown);
  std::cout << fmt::format("{} rows, {} good\n", review.rows, review.good);
  if (any)
    std::cout << fmt::format(
        "mean {:.6g} {}, {:.6g} to {:.6g}, standard deviation {:.3g} {}\nnoise {:.3g} {}, {:.2g} steps, {:.1f} "
        "effective bits, drift {:+.3g} {} an hour\n",
        review.mean, unit, review.minimum, review.maximum, review.standard_deviation, step, review.noise, step,
        review.noise_steps, review.effective_bits, review.drift_per_hour, step);
  for (const LogEvent& event : review.events)
    std::cout << fmt::format("rows {} to {}: {}: {}\n", event.from_row, event.to_row, enum_name(event.kind),
                             plain_text(event.words));
}

// The log's rows again, with the filtered readings behind them.
std::optional<Problem> write_filtered(const LogOptions& options, const Opened& opened, const Filtered& filtered,
                                      const Unit& unit, OutputFile& output) {
  const int decimals = options.digits >= 0 ? options.digits : justified_decimals(opened.chain, unit);
  std::string text;
  std::size_t row = 0, lines = 0;
  const char separator = opened.log.dialect.separator;
  auto problem = for_each_line(options.input, [&](std::string_view line) {
    text += line;
    if (lines++ < opened.log.lines_above || trimmed(line).empty()) {
      text += '\n';
      return true;
    }
    if (lines - 1 == opened.log.lines_above && opened.log.has_header) {
      text += fmt::format("{}{}_{}\n", separator, opened.chain.channel.id, unit.ucum);
      return true;
    }
    text += separator;
    const double value = row < filtered.values.size() ? filtered.values[row++] : std::nan("");
    if (std::isfinite(value)) {
      std::string cell = rounded(unit.from_base(opened.chain.shown->to_base(value)), decimals);
      if (cell.starts_with('-') && cell.find_first_not_of("-0.") == std::string::npos) cell.erase(0, 1);
      text += cell;
    }
    text += '\n';
    return text.size() < 1u << 16 || output.write(std::exchange(text, {}));
  });
  if (problem) return problem;
  output.write(text);
  const auto whole = output.commit();
  return whole ? std::nullopt : std::optional(whole.problem());
}

void run_filter(Session& session, const LogOptions& options) {
  Filter filter;
  const auto kind = std::ranges::find(enum_names(FilterKind{}), options.kind, &EnumName<FilterKind>::name);
  if (kind == enum_names(FilterKind{}).end())
    return session.refuse({fmt::format("\"{}\" is no kind of filter", options.kind), "mean, median or exponential"},
                          wrong_usage);
  filter.kind = kind->value;
  if (filter.kind == FilterKind::exponential) {
    if (!(options.weight > 0 && options.weight <= 1) || options.length != 0)
      return session.refuse({"an exponential filter needs its weight", "--weight above 0, at most 1"}, wrong_usage);
    filter.weight = options.weight;
  } else {
    if (options.length < 1 || options.weight != 0)
      return session.refuse({fmt::format("a {} needs its length", options.kind), "--length of 1 row or more"},
                            wrong_usage);
    filter.length = static_cast<std::size_t>(options.length);
  }
  if (options.input == "-" && !options.output.empty())
    return session.refuse({"a log from standard input is read once only", "--input FILE, to write its rows again"},
                          wrong_usage);
  const auto opened = open_log(session, options);
  if (!opened) return;
  const Unit* unit = options.unit.empty() ? opened->chain.shown : unit_by_ucum(options.unit);
  if (!unit || unit->dimension != opened->chain.shown->dimension)
    return session.refuse(
        {fmt::format("\"{}\" is no unit of {}", options.unit, enum_name(opened->chain.channel.quantity)),
         "a UCUM code of that quantity"});
  const Filtered filtered = filter_log(opened->log, filter);
  if (!options.output.empty()) {
    auto output = OutputFile::open(options.output, {options.input, options.bench},
                                   options.force ? Replacing::anything : Replacing::never_a_bench);
    if (!output) return session.refuse(output.problem(), no_file);
    if (const auto problem = write_filtered(options, *opened, filtered, *unit, *output))
      return session.refuse(*problem, no_file);
  }
  const double scale = opened->chain.shown->scale / unit->scale;
  if (options.json)
    return print_json({{"noise_before", filtered.noise_before * scale},
                       {"noise_after", filtered.noise_after * scale},
                       {"delay_s", filtered.delay_s},
                       {"spikes_removed", filtered.spikes_removed}});
  if (options.output != "-")
    std::cout << fmt::format("noise {:.3g} {} before, {:.3g} after, {:.4g} s later, {} spikes removed\n",
                             filtered.noise_before * scale, difference_symbol(*unit), filtered.noise_after * scale,
                             filtered.delay_s, filtered.spikes_removed);
}

// A number in the channel's unit, or with a unit of its own.
Result<double> in_shown(const std::string& text, const Chain& chain, bool difference) {
  if (difference && chain.base->dimension == Dimension::temperature) {
    if (const auto plain = parse_number(text)) return *plain;
    const auto kelvin = parse_quantity(text, Dimension::temperature_difference);
    return kelvin ? Result<double>(kelvin->base / chain.shown->scale) : Result<double>(kelvin.problem());
  }
  const auto value = parse_quantity(text, chain.base->dimension, chain.shown);
  if (!value) return value.problem();
  return chain.shown->from_base(value->base);
}

void run_switch(Session& session, const LogOptions& options) {
  if (options.heat == options.cool)
    return session.refuse({"it is to heat or to cool", "--heat or --cool"}, wrong_usage);
  const auto opened = open_log(session, options);
  if (!opened) return;
  const auto goal = in_shown(options.goal, opened->chain, false), band = in_shown(options.band, opened->chain, true);
  for (const auto* each : {&goal, &band})
    if (!*each) return session.refuse(each->problem());
  if (*band < 0) return session.refuse({"a band below zero cannot be", "half the width of the dead band, 0 or more"});
  SwitchRule rule{options.heat, *goal, *band, options.minimum_on, options.minimum_off, options.every};
  auto schedule = read_schedule(options.schedule, *opened->chain.shown);
  if (!schedule) return session.refuse(schedule.problem());
  rule.schedule = std::move(*schedule);
  rule.stale_s = options.stale, rule.safe_on = options.safe_on;
  if (!options.shutdown_above.empty()) {
    const auto limit = in_shown(options.shutdown_above, opened->chain, false);
    if (!limit) return session.refuse(limit.problem());
    rule.shutdown_above = *limit;
  }
  const Switched switched = switch_on_log(opened->log, rule, opened->plausible);
  const SwitchCodes codes = switch_codes(opened->chain, rule);
  const Review review = review_log(opened->log, opened->chain, opened->times);
  const std::vector<std::string> words = switch_words(rule, switched, codes, review.noise, *opened->chain.shown);
  if (options.json) {
    const auto code = [](const std::optional<CodeLimit>& limit) { return limit ? Json(limit->code) : Json(nullptr); };
    const auto compare = [](const std::optional<CodeLimit>& limit) {
      return limit ? Json(limit->compare) : Json(nullptr);
    };
    const auto means = [](const std::optional<CodeLimit>& limit) {
      return limit && limit->means ? number_or_null(*limit->means) : Json(nullptr);
    };
    return print_json({{"switches", switched.switches},
                       {"on_seconds", switched.on_s},
                       {"share_on", switched.share_on},
                       {"longest_on_s", switched.longest_on_s},
                       {"on_code", code(codes.on)},
                       {"off_code", code(codes.off)},
                       {"compare_on", compare(codes.on)},
                       {"compare_off", compare(codes.off)},
                       {"on_code_means", means(codes.on)},
                       {"off_code_means", means(codes.off)},
                       {"chatter", switched.chatter},
                       {"words", words}});
  }
  for (const std::string& each : words) std::cout << each << "\n";
  const Channel& channel = opened->chain.channel;
  const bool arrives = channel.arrives_converted();
  for (const auto& [name, limit] : {std::pair{"on", codes.on}, {"off", codes.off}})
    if (limit)
      std::cout << fmt::format("{} while the {} {} {:.{}f}, which reads {:.6g} {}\n", name,
                               arrives ? "value that arrives" : "raw number", limit->compare, limit->code,
                               arrives ? channel.arrives->decimals : 0, limit->means.value_or(std::nan("")),
                               opened->chain.shown->symbol);
}

Command add_log_command(Command& program, const char* name, const char* what, LogOptions& options,
                        std::function<void()> run) {
  Command command = program.add(name, what, std::move(run));
  command.option("--bench", options.bench, "bench file", Presence::required);
  command.option("--channel", options.channel, "id of the channel", Presence::required);
  command.option("--column", options.column, "column of raw numbers; default the channel's id, then counts");
  command.option("--input", options.input, "log to read, - for standard input");
  command.flag("--json", options.json, "as JSON");
  return command;
}

}  // namespace

void add_review(Command& program, Session& session) {
  auto options = std::make_shared<LogOptions>();
  add_log_command(program, "review", "What is wrong with a recorded signal", *options,
                  [options, &session] { run_review(session, *options); });
}

void add_filter(Command& program, Session& session) {
  auto options = std::make_shared<LogOptions>();
  Command command = add_log_command(program, "filter", "What a filter does to a recorded signal", *options,
                                    [options, &session] { run_filter(session, *options); });
  command.option("--kind", options->kind, "mean, median or exponential", Presence::required);
  command.option("--length", options->length, "rows of the window");
  command.option("--weight", options->weight, "of a new reading, above 0 to 1");
  command.option("--output", options->output, "file to write, - for standard output");
  command.option("--digits", options->digits, "decimals of the readings; default as the uncertainty justifies",
                 {0, 12});
  command.option("--unit", options->unit, "UCUM code of the readings; default the channel's");
  command.flag("--force", options->force, "write also over a bench, a logbook or a part file");
}

void add_switch(Command& program, Session& session) {
  auto options = std::make_shared<LogOptions>();
  Command command = add_log_command(program, "switch", "What would be switched by a recorded signal", *options,
                                    [options, &session] { run_switch(session, *options); });
  command.flag("--heat", options->heat, "a heater: on below the goal");
  command.flag("--cool", options->cool, "a cooler: on above the goal");
  command.option("--goal", options->goal, "value to hold", Presence::required);
  command.option("--band", options->band, "half the width of the dead band", Presence::required);
  command.option("--minimum-on", options->minimum_on, "seconds it stays on at least", {0, 1e9});
  command.option("--minimum-off", options->minimum_off, "seconds it stays off at least", {0, 1e9});
  command.option("--schedule", options->schedule, "other goals over the day, UTC: '06:00 21; 22:00 18'");
  command.option("--every", options->every, "seconds between two looks; default every row", {0, 1e9});
  command.option("--stale", options->stale, "seconds without a good reading until its safe state; default at once",
                 {0, 1e9});
  command.flag("--safe-on", options->safe_on, "the safe state is on; default off");
  command.option("--shutdown-above", options->shutdown_above, "once the reading is above, off for good");
}

}  // namespace fair_gauge::cli
