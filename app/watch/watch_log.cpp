#include "watch/watch_log.h"

#include <QFileInfo>
#include <algorithm>
#include <cmath>
#include <future>

#include "widgets/text.h"

namespace fair_gauge::app {

std::shared_ptr<Watched> watched_of(const Chain& chain, const PartTimes& times, std::shared_ptr<const ChannelLog> log) {
  auto watched = std::make_shared<Watched>(Watched{chain, std::move(log), {}, {}, plausible_range(chain, times)});
  const auto& rows = watched->log->rows;
  watched->blocks = std::make_shared<const std::vector<RowBlock>>(
      row_blocks(rows, gap_periods * watched->log->period_s, [&](std::size_t i) { return rows[i].reading; }));
  watched->is_in_order = std::ranges::is_sorted(rows, {}, &LogReading::seconds) &&
                         std::ranges::all_of(rows, [](const LogReading& row) { return std::isfinite(row.seconds); });
  // A date in the time column, or as many seconds as have passed between 1970 and this century.
  constexpr double this_century = 946'684'800;
  watched->is_dated = watched->log->from.find('-', 1) != std::string::npos ||
                      (watched->log->has_time && !rows.empty() && rows.front().seconds > this_century);
  return watched;
}

namespace {

using Came = std::vector<std::pair<double, double>>;

// The beginning of a log, in the order and with the times that the whole will have.
std::shared_ptr<const Watched> beginning(const Chain& chain, const PartTimes& times, ChannelLog so_far) {
  if (auto own = own_rows(so_far)) so_far = std::move(*own);
  so_far.period_s = chain.channel.period_s;
  if (!so_far.has_time)
    for (LogReading& row : so_far.rows) row.seconds = static_cast<double>(row.row - 1) * so_far.period_s;
  else if (so_far.rows.size() > 1)
    so_far.period_s = std::max(so_far.period_s, (so_far.rows.back().seconds - so_far.rows.front().seconds) /
                                                    static_cast<double>(so_far.rows.size() - 1));
  return watched_of(chain, times, std::make_shared<const ChannelLog>(std::move(so_far)));
}

constexpr std::size_t first_rows = 1'000'000;  // more are not shown before all are there

}  // namespace

WatchLog::WatchLog(Workbench& workbench, QObject* parent) : QObject(parent), workbench_(workbench) {}

void WatchLog::look_at_session() {
  path_.clear();
  watched_.reset();
  refresh();
}

void WatchLog::open(const QString& path) {
  path_ = path;
  choice_ = {};
  watched_.reset();
  refresh();
}

void WatchLog::read_as(const LogChoice& choice) {
  if (choice == choice_) return;
  choice_ = choice;
  asked_ = {};
  watched_.reset();
  refresh();
}

void WatchLog::refresh() {
  const std::string channel = workbench_.channel_id();
  const auto asked = std::pair(channel, path_);
  if (is_session() && work_.is_running() && asked == asked_) return;  // the next reading asks again
  asked_ = asked;
  fault_.clear();
  if (channel.empty()) {
    work_.cancel();
    watched_.reset();
    words_ = tr("This bench has no channels yet. Choose a sensor, or listen to a board, and its readings stand here.");
    emit changed();
    return;
  }
  Came came;
  std::map<std::string, CameRaws> others;
  DayDose day;
  double clock = 0;
  if (is_session()) {
    const auto& samples = workbench_.samples(channel);
    day = workbench_.day_before(channel);
    if (!samples.empty()) clock = workbench_.wall_clock(samples.back().seconds);
    for (const Sample& sample : samples) came.emplace_back(sample.seconds - samples.back().seconds, sample.raw);
    const auto& chain = workbench_.view(channel).chain;
    if (chain && !samples.empty())
      for (const std::string& id : RowChains(workbench_.bench(), workbench_.catalogue(), *chain).needs())
        for (const Sample& sample : workbench_.samples(id))
          others[id].emplace_back(sample.seconds - samples.back().seconds, sample.raw);
  }
  if (watched_ && watched_->chain.channel.id != channel) watched_.reset();
  if (!is_session()) {
    words_ = tr("Reading %1…").arg(QFileInfo(path_).fileName());
    emit changed();
  }
  work_.start_telling<Sofar>(
      [bench = workbench_.bench(), catalogue = workbench_.shared_catalogue(), channel, path = path_.toStdString(),
       choice = choice_, came = std::move(came), day, clock,
       others = std::move(others)](const std::atomic<bool>& cancelled,
                                   const std::function<void(Sofar)>& tell) -> Result<std::shared_ptr<const Watched>> {
        auto chain = build_chain(bench, *catalogue, channel);
        if (!chain) return chain.problem();
        const PartTimes times = part_times(bench, *catalogue, *chain);
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
        std::optional<RowChains> rows;
        if (chain->derived || !chain->side_channels.empty()) rows.emplace(bench, *catalogue, *chain);
        RowChains* beside = rows ? &*rows : nullptr;
        if (rows && path.empty()) rows->forget(day);
        auto log = path.empty() ? Result<ChannelLog>(log_of_raws(*chain, came, beside, others, clock))
                                : read_channel_log(path, *chain, "", progress, beside, choice);
        if (!log) return log.problem();
        // Of a recording that it shares with quicker channels only its own rows.
        if (auto own = own_rows(*log)) *log = std::move(*own);
        const auto whole = std::make_shared<const ChannelLog>(std::move(*log));
        auto judging = std::async(whole->rows.size() > first_rows ? std::launch::async : std::launch::deferred,
                                  [&] { return review_log(*whole, *chain, times); });
        const auto watched = watched_of(*chain, times, whole);
        if (!path.empty()) watched->happened = read_events(path);
        if (whole->rows.size() > first_rows) tell({std::make_shared<const Watched>(*watched), 1});
        watched->review = judging.get();
        return std::shared_ptr<const Watched>(watched);
      },
      [this](const Sofar& so_far) {
        if (watched_) return;  // what is shown is of the same channel and log, or of this session
        const QString file = QFileInfo(path_).fileName();
        words_ = so_far.share < 1
                     ? tr("Reading %1: %2 % so far")
                           .arg(file, text_of(fixed(std::floor(100 * so_far.share), 0, workbench_.style())))
                     : tr("Judging %1…").arg(file);
        if (so_far.watched) emit partly(so_far.watched);
        emit changed();
      },
      [this](Result<std::shared_ptr<const Watched>> found) {
        if (found) {
          watched_ = std::move(*found);
          const QString rows = text_of(fixed(static_cast<double>(watched_->review.rows), 0, workbench_.style()));
          const QString form = text_of(fair_gauge::words_of(watched_->log->dialect, watched_->log->was_utf16));
          words_ = is_session() ? tr("%1 readings of this session").arg(rows)
                                : tr("%1 rows of %2").arg(rows, QFileInfo(path_).fileName());
          if (!is_session() && !form.isEmpty()) words_ += tr(", read as: %1").arg(form);
        } else {
          watched_.reset();
          fault_ = text_of(to_text(found.problem()));
          words_ = is_session() ? tr("There is nothing to look at.") : tr("The log could not be read.");
        }
        emit changed();
      });
}

}  // namespace fair_gauge::app

#include "moc_watch_log.cpp"
