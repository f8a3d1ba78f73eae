#include "watch/watch_log.h"

#include <QFileInfo>
#include <algorithm>
#include <cmath>

#include "widgets/text.h"

namespace fair_gauge::app {
namespace {

using Came = std::vector<std::pair<double, double>>;

Result<std::shared_ptr<const Watched>> look(const Bench& bench, const Catalogue& catalogue, const std::string& channel,
                                            const std::string& path, const Came& came) {
  auto chain = build_chain(bench, catalogue, channel);
  if (!chain) return chain.problem();
  auto log = path.empty() ? Result<ChannelLog>(log_of_raws(*chain, came)) : read_channel_log(path, *chain);
  if (!log) return log.problem();
  const PartTimes times = part_times(bench, catalogue, *chain);
  auto watched = std::make_shared<Watched>(Watched{*chain, std::move(*log), {}, {}, plausible_range(*chain, times)});
  watched->review = review_log(watched->log, watched->chain, times);
  const auto& rows = watched->log.rows;
  watched->blocks =
      row_blocks(rows, gap_periods * watched->log.period_s, [&](std::size_t i) { return rows[i].reading; });
  watched->is_in_order = std::ranges::is_sorted(rows, {}, &LogReading::seconds) &&
                         std::ranges::all_of(rows, [](const LogReading& row) { return std::isfinite(row.seconds); });
  // A date in the time column, or as many seconds as have passed between 1970 and this century.
  constexpr double this_century = 946'684'800;
  watched->is_dated = watched->log.from.find('-', 1) != std::string::npos ||
                      (watched->log.has_time && !rows.empty() && rows.front().seconds > this_century);
  return std::shared_ptr<const Watched>(watched);
}

}  // namespace

WatchLog::WatchLog(Workbench& workbench, QObject* parent) : QObject(parent), workbench_(workbench) {}

void WatchLog::look_at_session() {
  path_.clear();
  watched_.reset();
  refresh();
}

void WatchLog::open(const QString& path) {
  path_ = path;
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
  if (is_session()) {
    const auto& samples = workbench_.samples(channel);
    for (const Sample& sample : samples) came.emplace_back(sample.seconds - samples.back().seconds, sample.raw);
  }
  if (watched_ && watched_->chain.channel.id != channel) watched_.reset();
  if (!is_session()) {
    words_ = tr("Reading %1…").arg(QFileInfo(path_).fileName());
    emit changed();
  }
  work_.start(
      [bench = workbench_.bench(), catalogue = workbench_.shared_catalogue(), channel, path = path_.toStdString(),
       came = std::move(came)](const std::atomic<bool>&) { return look(bench, *catalogue, channel, path, came); },
      [this](Result<std::shared_ptr<const Watched>> found) {
        if (found) {
          watched_ = std::move(*found);
          const QString rows = text_of(fixed(static_cast<double>(watched_->review.rows), 0, workbench_.style()));
          words_ = is_session() ? tr("%1 readings of this session").arg(rows)
                                : tr("%1 rows of %2").arg(rows, QFileInfo(path_).fileName());
        } else {
          watched_.reset();
          fault_ = text_of(to_text(found.problem()));
          words_ = is_session() ? tr("There is nothing to look at.") : tr("The log could not be read.");
        }
        emit changed();
      });
}

}  // namespace fair_gauge::app
