#include "watch/watch_log.h"

#include <fmt/format.h>

#include <QFileInfo>
#include <QStringDecoder>
#include <QTimer>
#include <algorithm>
#include <cmath>
#include <future>

#include "files/delimited.h"
#include "quantity/number_format.h"
#include "quantity/quantity_text.h"
#include "stream/log_heading.h"
#include "stream/span_figures.h"
#include "widgets/text.h"

namespace fair_gauge::app {
namespace {

constexpr std::size_t first_rows = 1'000'000;  // more are not shown before all are there

}  // namespace

std::shared_ptr<Watched> watched_of(const Chain& chain, const PartTimes& times, std::shared_ptr<const ChannelLog> log) {
  auto watched = std::make_shared<Watched>(Watched{chain, std::move(log), {}, {}, plausible_range(chain, times)});
  const auto& rows = watched->log->rows;
  auto ordered = std::async(rows.size() > first_rows ? std::launch::async : std::launch::deferred, [&rows] {
    return std::ranges::is_sorted(rows, {}, &LogReading::seconds) &&
           std::ranges::all_of(rows, [](const LogReading& row) { return std::isfinite(row.seconds); });
  });
  watched->blocks = std::make_shared<const std::vector<RowBlock>>(
      row_blocks(rows, gap_periods * watched->log->period_s, [&](std::size_t i) { return rows[i].reading; }));
  watched->is_in_order = ordered.get();
  // A date in the time column, or as many seconds as have passed between 1970 and this century.
  constexpr double this_century = 946'684'800;
  watched->is_dated = watched->log->from.find('-', 1) != std::string::npos ||
                      (watched->log->has_time && !rows.empty() && rows.front().seconds > this_century);
  return watched;
}

QString Watched::name() const { return text_of(called(chain.channel)); }

std::pair<std::size_t, std::size_t> Watched::rows_in(double from, double to) const {
  const auto& rows = log->rows;
  if (is_in_order) {
    const auto first = std::ranges::lower_bound(rows, from, {}, &LogReading::seconds);
    const auto last = std::ranges::upper_bound(rows, to, {}, &LogReading::seconds);
    return {static_cast<std::size_t>(first - rows.begin()),
            static_cast<std::size_t>(std::max(first, last) - rows.begin())};
  }
  std::size_t first = 0, last = rows.size();
  while (first < last && !(rows[first].seconds >= from)) ++first;
  while (last > first && !(rows[last - 1].seconds <= to)) --last;
  return {first, last};
}

// What came of a channel in this session, and of those that it needs; seconds before now.
struct WatchLog::Came {
  CameRaws raws;
  std::map<std::string, CameRaws> others;
  DayDose day;
  double clock = 0;
};

struct WatchLog::Asked {
  Bench bench;
  std::shared_ptr<const Catalogue> catalogue;
  std::string path;  // empty → the session
  LogChoice choice;
  std::string channel;
  std::vector<std::string> beside;
  std::map<std::string, Came> came;                                  // by channel
  std::map<std::string, std::shared_ptr<const Watched>> known = {};  // that need not be read again
};

namespace {

// The beginning of a log, in the order and with the times that the whole will have.
std::shared_ptr<const Watched> beginning(const Chain& chain, const PartTimes& times, ChannelLog so_far) {
  if (auto own = own_rows(so_far)) so_far = std::move(*own);
  settle_times(so_far, chain.channel.period_s);
  if (so_far.has_time && so_far.rows.size() > 1)
    so_far.period_s = std::max(so_far.period_s, (so_far.rows.back().seconds - so_far.rows.front().seconds) /
                                                    static_cast<double>(so_far.rows.size() - 1));
  return watched_of(chain, times, std::make_shared<const ChannelLog>(std::move(so_far)));
}

// How far another channel lies above this one; nothing where they are not of one quantity.
std::shared_ptr<const Watched> difference(const Watched& one, const Watched& other) {
  if (one.chain.channel.quantity != other.chain.channel.quantity || !one.is_in_order || !other.is_in_order)
    return nullptr;
  const Unit &unit = *one.chain.shown, &theirs = *other.chain.shown;
  auto log = difference_of(*one.log, *other.log, theirs.scale / unit.scale, unit.from_base(theirs.to_base(0)));
  const PartTimes anything{.range = {-HUGE_VAL, HUGE_VAL}};
  const auto watched = watched_of(other.chain, anything, std::make_shared<const ChannelLog>(std::move(log)));
  watched->plausible = anything.range;
  return watched;
}

}  // namespace

WatchLog::WatchLog(Workbench& workbench, QObject* parent) : QObject(parent), workbench_(workbench) {}

void WatchLog::look_at_columns() {
  left_out_.clear();
  const auto found =
      is_session() ? Result<std::vector<LineProposal>>(Problem{}) : proposals_of_log(head(), choice_, &left_out_);
  log_columns_ = found ? *found : std::vector<LineProposal>();
}

QString WatchLog::words_of_columns() const {
  QStringList named, unnamed;
  for (const LineProposal& each : unknown_columns_) named << text_of(each.name);
  for (const std::string& each : left_out_) unnamed << text_of(each);
  const QString words = tr("Make channels of it, and they stand here: %1.").arg(named.join(QStringLiteral(", ")));
  return unnamed.isEmpty()
             ? words
             : words + QLatin1Char('\n') +
                   tr("Left out, as the heading names no quantity: %1.").arg(unnamed.join(QStringLiteral(", ")));
}

void WatchLog::look_at_session() {
  path_.clear();
  look_at_columns();
  watched_.reset();
  refresh();
}

void WatchLog::open(const QString& path) {
  path_ = path;
  choice_ = {};
  look_at_columns();
  watched_.reset();
  refresh();
}

void WatchLog::read_as(const LogChoice& choice) {
  if (choice == choice_) return;
  choice_ = choice;
  look_at_columns();
  chosen_for_ = workbench_.channel_id();
  asked_ = {};
  watched_.reset();
  refresh();
}

// The first rows of the log, as text.
std::string WatchLog::head() const {
  QFile file(path_);
  if (is_session() || !file.open(QIODevice::ReadOnly)) return {};
  const QByteArray head = file.read(1 << 16);
  const auto written = QStringConverter::encodingForData(head).value_or(QStringConverter::Utf8);
  std::string text = QString(QStringDecoder(written)(head)).toStdString();
  if (!file.atEnd()) text.resize(text.rfind('\n') + 1);  // the last one may be cut
  return text;
}

QStringList WatchLog::columns() const {
  const std::string text = head();
  const std::string_view rows = from_heading(text, {.separator = choice_.separator});
  const std::string_view line = heading_text(rows.substr(0, rows.find_first_of("\r\n")));
  QStringList names;
  for (const std::string_view name : cells_of(line, choice_.separator.value_or(log_separator_of(line))))
    if (!name.empty() && !names_time(name) && !parse_number(name)) names << text_of(std::string(name));
  return names;
}

void WatchLog::look_beside(std::vector<std::string> channels) {
  if (channels == beside_) return;
  beside_ = std::move(channels);
  ask(true);
}

void WatchLog::refresh() { ask(false); }

void WatchLog::follow() {
  constexpr qint64 share = 4;
  if (work_.is_running() || (since_done_.isValid() && since_done_.elapsed() < share * took_ms_)) return;
  if (is_session() || (watched_ && QFileInfo(path_).size() != read_size_)) ask(false);
}

WatchLog::Came WatchLog::came_of(const std::string& channel, double now) const {
  Came came{.day = workbench_.older_samples(channel).empty() ? workbench_.day_before(channel) : DayDose(),
            .clock = workbench_.wall_clock(now)};
  const auto copy = [&](const std::string& id, CameRaws& into) {
    const auto &older = workbench_.older_samples(id), &samples = workbench_.samples(id);
    into.reserve(older.size() + samples.size());
    for (const auto* part : {&older, &samples})
      for (const Sample& sample : *part) into.emplace_back(sample.seconds - now, sample.raw);
  };
  copy(channel, came.raws);
  if (const auto& chain = workbench_.view(channel).chain; chain && !came.raws.empty())
    if (chain->derived || !chain->side_channels.empty())
      for (const std::string& id : RowChains(workbench_.bench(), workbench_.catalogue(), *chain).needs())
        copy(id, came.others[id]);
  return came;
}

// One channel, of the session or out of the log.
Result<std::shared_ptr<Watched>> WatchLog::look_at(const Asked& asked, const std::string& channel, const Came& came,
                                                   const LogProgress& progress, const JudgedLater& judged) {
  auto chain = build_chain(asked.bench, *asked.catalogue, channel);
  if (!chain) return chain.problem();
  std::optional<RowChains> rows;
  if (chain->derived || !chain->side_channels.empty()) rows.emplace(asked.bench, *asked.catalogue, *chain);
  RowChains* beside = rows ? &*rows : nullptr;
  if (rows && asked.path.empty()) rows->forget(came.day);
  auto log = asked.path.empty()
                 ? Result<ChannelLog>(log_of_raws(*chain, came.raws, beside, came.others, came.clock))
                 : read_channel_log(asked.path, *chain, channel == asked.channel ? asked.choice.column : "", progress,
                                    beside, asked.choice);
  if (!log) return log.problem();
  // Of a recording that it shares with quicker channels only its own rows.
  if (auto own = own_rows(*log)) *log = std::move(*own);
  if (const Channel* chosen = find_by_id(asked.bench.channels, asked.channel); chosen && !log->has_time) {
    log->period_s = chosen->period_s;  // rows without a time stand beside the chosen channel's
    for (LogReading& row : log->rows) row.seconds = static_cast<double>(row.row - 1) * log->period_s;
  }
  const PartTimes times = part_times(asked.bench, *asked.catalogue, *chain);
  const auto whole = std::make_shared<const ChannelLog>(std::move(*log));
  if (!judged) return watched_of(*chain, times, whole);
  const auto watched = watched_of(*chain, times, whole);
  watched->clock = came.clock;
  if (whole->rows.size() > first_rows) judged(watched);  // first seen, then judged
  watched->review = review_log(*whole, *chain, times, JumpRule::beyond_noise);
  return watched;
}

void WatchLog::ask(bool only_beside) {
  const std::string channel = workbench_.channel_id();
  if (std::exchange(chosen_for_, channel) != channel) choice_.column.clear();
  const std::tuple now_asked(channel, path_, beside_);
  if (is_session() && work_.is_running() && now_asked == asked_) {
    again_ = true;  // the bench may be another by now
    return;
  }
  asked_ = now_asked;
  fault_.clear();
  unknown_columns_ = unknown_to(workbench_.bench(), log_columns_);
  if (channel.empty()) {
    work_.cancel();
    watched_.reset();
    words_ =
        is_session() || unknown_columns_.empty()
            ? tr("This bench has no channels yet. Choose a sensor, or listen to a board, and its readings stand "
                 "here.")
            : tr("This bench has no channels yet. The columns of %1 can become some.").arg(QFileInfo(path_).fileName());
    emit changed();
    return;
  }
  if (watched_ && watched_->chain.channel.id != channel) watched_.reset();
  Asked asked{workbench_.bench(), workbench_.shared_catalogue(), path_.toStdString(), choice_, channel, {}, {}};
  for (const std::string& id : beside_)
    if (id != channel && find_by_id(asked.bench.channels, id)) asked.beside.push_back(id);
  if (is_session()) {
    // Before the chosen channel's latest reading, or where it has none the others' latest.
    double now = -HUGE_VAL;
    for (const std::string& id : asked.beside)
      if (const auto& samples = workbench_.samples(id); !samples.empty()) now = std::max(now, samples.back().seconds);
    if (const auto& samples = workbench_.samples(channel); !samples.empty()) now = samples.back().seconds;
    if (std::isinf(now)) now = 0;
    asked.came.emplace(channel, came_of(channel, now));
    for (const std::string& id : asked.beside) asked.came.emplace(id, came_of(id, now));
  } else if (only_beside && watched_) {
    asked.known.emplace(channel, watched_);
    for (const auto& each : watched_->beside) asked.known.emplace(each->chain.channel.id, each);
  }
  const bool from_nothing = !is_session() && !watched_;
  if (from_nothing) {
    words_ = tr("Reading %1…").arg(QFileInfo(path_).fileName());
    emit changed();
  }
  read_size_ = is_session() ? 0 : QFileInfo(path_).size();
  since_asked_.start();
  work_.start_telling<Sofar>(
      [asked = std::move(asked)](const std::atomic<bool>& cancelled, const std::function<void(Sofar)>& tell)
          -> Result<std::shared_ptr<const Watched>> { return work_out(asked, cancelled, tell); },
      [this](const Sofar& so_far) { show_sofar(so_far); },
      [this](Result<std::shared_ptr<const Watched>> found) { show_found(std::move(found)); });
  if (from_nothing) emit changed();  // it can be stopped from now on
}

void WatchLog::show_sofar(const Sofar& so_far) {
  if (watched_) return;  // what is shown is of the same channel and log, or of this session
  const QString file = QFileInfo(path_).fileName();
  words_ = so_far.share < 1 ? tr("Reading %1: %2 % so far")
                                  .arg(file, text_of(fixed(std::floor(100 * so_far.share), 0, workbench_.style())))
                            : tr("Judging %1…").arg(file);
  if (so_far.watched) emit partly(so_far.watched);
  emit changed();
}

void WatchLog::show_found(Result<std::shared_ptr<const Watched>> found) {
  took_ms_ = since_asked_.elapsed();
  since_done_.start();
  if (std::exchange(again_, false)) QTimer::singleShot(0, this, &WatchLog::refresh);
  if (found) {
    watched_ = std::move(*found);
    const QString rows = text_of(fixed(static_cast<double>(watched_->review.rows), 0, workbench_.style()));
    const QString form = text_of(fair_gauge::words_of(watched_->log->dialect, watched_->log->was_utf16));
    words_ = is_session() ? tr("%1 readings of this session").arg(rows)
                          : tr("%1 rows of %2").arg(rows, QFileInfo(path_).fileName());
    if (const auto [count, why] = workbench_.refused_answers(watched_->chain.channel.id); is_session() && count > 0)
      words_ += QStringLiteral(". ") + (count == 1
                                            ? tr("One answer was refused: %1").arg(text_of(why))
                                            : tr("%1 answers were refused, the last: %2").arg(count).arg(text_of(why)));
    if (!is_session() && !form.isEmpty()) words_ += tr(", read as: %1").arg(form);
    for (const std::string& each : fair_gauge::remarks_on(*watched_->log))
      words_ += (words_.endsWith(QLatin1Char('.')) ? QStringLiteral(" ") : QStringLiteral(". ")) + sentence(each);
    fault_ = watched_->missing.isEmpty() ? QString() : tr("Beside it: %1").arg(watched_->missing);
  } else {
    watched_.reset();
    const std::string why = to_text(found.problem());  // which may begin with the name of the file
    fault_ = found.problem().place.file.empty() ? sentence(why) : text_of(why);
    words_ = is_session() ? tr("There is nothing to look at.") : tr("The log could not be read.");
  }
  emit changed();
}

// Beside the interface thread.
Result<std::shared_ptr<const Watched>> WatchLog::work_out(const Asked& asked, const std::atomic<bool>& cancelled,
                                                          const std::function<void(Sofar)>& tell) {
  static const Came nothing;
  const auto came = [&](const std::string& id) -> const Came& {
    const auto found = asked.came.find(id);
    return found == asked.came.end() ? nothing : found->second;
  };
  std::shared_ptr<Watched> watched;
  if (const auto known = asked.known.find(asked.channel); known != asked.known.end()) {
    watched = std::make_shared<Watched>(*known->second);
    watched->beside.clear(), watched->differences.clear(), watched->missing.clear();
  } else {
    const auto chain = build_chain(asked.bench, *asked.catalogue, asked.channel);
    if (!chain) return chain.problem();
    const PartTimes times = part_times(asked.bench, *asked.catalogue, *chain);
    std::size_t shown = 0;
    double told = 0;
    const auto progress = [&](const ChannelLog& so_far, double share) {
      const bool is_more = share < 1 && so_far.rows.size() >= 2 * shown && so_far.rows.size() <= first_rows;
      if (is_more || share >= told + 0.1) {
        tell({is_more ? beginning(*chain, times, so_far) : nullptr, share});
        told = share;
      }
      if (is_more) shown = so_far.rows.size();
      return !cancelled;
    };
    const auto happened = asked.path.empty() ? std::vector<RecordingEvent>() : read_events(asked.path);
    auto read =
        look_at(asked, asked.channel, came(asked.channel), progress, [&](const std::shared_ptr<Watched>& not_judged) {
          not_judged->happened = happened;
          tell({std::make_shared<const Watched>(*not_judged), 1});
        });
    if (!read) return read.problem();
    watched = std::move(*read);
    watched->happened = happened;
  }
  for (const std::string& id : asked.beside) {
    if (cancelled) break;
    std::shared_ptr<const Watched> one;
    if (const auto known = asked.known.find(id); known != asked.known.end()) {
      one = known->second;
    } else {
      auto read = look_at(asked, id, came(id), [&](const ChannelLog&, double) { return !cancelled; }, {});
      if (!read) {
        watched->missing += (watched->missing.isEmpty() ? QString() : QStringLiteral("; ")) +
                            text_of(id + ": " + to_text(read.problem()));
        continue;
      }
      one = std::move(*read);
    }
    watched->beside.push_back(one);
    if (auto apart = difference(*watched, *one)) watched->differences.push_back(std::move(apart));
  }
  return std::shared_ptr<const Watched>(watched);
}

}  // namespace fair_gauge::app

#include "moc_watch_log.cpp"
