#include "watch/filter_view.h"

#include <QHeaderView>
#include <cmath>

#include "handoff/write_filter.h"
#include "quantity/number_format.h"
#include "widgets/plain_table.h"

namespace fair_gauge::app {
namespace {

// What firmware does cheaply: sums of powers of two, short medians, weights that are shifts.
const std::vector<Filter>& tried() {
  static const std::vector<Filter> all = {
      {FilterKind::mean, 2, 1},
      {FilterKind::mean, 4, 1},
      {FilterKind::mean, 8, 1},
      {FilterKind::mean, 16, 1},
      {FilterKind::mean, 32, 1},
      {FilterKind::mean, 64, 1},
      {FilterKind::median, 3, 1},
      {FilterKind::median, 5, 1},
      {FilterKind::median, 9, 1},
      {FilterKind::exponential, 1, 0.5},
      {FilterKind::exponential, 1, 0.25},
      {FilterKind::exponential, 1, 0.125},
      {FilterKind::exponential, 1, 0.0625},
  };
  return all;
}

KeptFilter as_kept(const Filter& filter) {
  return {.kind = filter.kind, .length = static_cast<int>(filter.length), .weight = filter.weight, .unknown = {}};
}

bool is_kept(const Channel& channel, const Filter& filter) { return channel.filter == as_kept(filter); }

// Where what a channel keeps stands among those tried; none → where it keeps none, or another.
std::optional<int> kept_by(const Channel* channel) {
  for (int i = 0; channel && i < static_cast<int>(tried().size()); ++i)
    if (is_kept(*channel, tried()[static_cast<std::size_t>(i)])) return i;
  return std::nullopt;
}

}  // namespace

FilterView::FilterView(const Theme& theme, Workbench& workbench, WatchLog& log, LogPlot& plot, QWidget* parent)
    : QWidget(parent), theme_(theme), workbench_(workbench), log_(log), plot_(plot) {
  verdict_ = new Text(theme, Face::strong);
  verdict_->setObjectName(QStringLiteral("filter_verdict"));
  table_ = plain_table(theme, "filters", tr("Filters: the noise they leave and how far they lag behind"),
                       {tr("filter"), tr("noise left"), tr("delay")}, {116, 88, 0});
  table_->setSelectionMode(QAbstractItemView::SingleSelection);
  table_->setSelectionBehavior(QAbstractItemView::SelectRows);
  words_ = new Text(theme, Face::text);
  words_->setObjectName(QStringLiteral("filter_words"));
  for (Text* each : {verdict_, words_}) each->setWordWrap(true);
  keep_ = new QPushButton;
  keep_->setObjectName(QStringLiteral("filter_keep"));
  kept_ = new Text(theme, Face::small, {}, Tint::quiet);
  kept_->setObjectName(QStringLiteral("filter_kept"));
  kept_->setWordWrap(true);
  connect(keep_, &QPushButton::clicked, this, [this] {
    const Filter& filter = tried()[static_cast<std::size_t>(chosen_)];
    const Channel* channel = find_by_id(workbench_.bench().channels, workbench_.channel_id());
    if (!channel) return;
    const std::optional<KeptFilter> kept = is_kept(*channel, filter) ? std::nullopt : std::optional(as_kept(filter));
    workbench_.document().edit(kept ? tr("Keep a filter") : tr("No filter"), [&](Bench& bench) {
      find_by_id(bench.channels, workbench_.channel_id())->filter = kept;
    });
  });
  connect(&workbench, &Workbench::bench_changed, this, &FilterView::show_kept);
  auto* all = column(8);
  all->addWidget(verdict_);
  all->addWidget(table_, 1);
  all->addWidget(words_);
  all->addWidget(keep_, 0, Qt::AlignLeft);
  all->addWidget(kept_);
  all->addStretch();
  setLayout(all);
  connect(table_, &QTableWidget::currentCellChanged, this, [this](int row) {
    if (row < 0 || row == chosen_) return;
    chosen_ = row;
    chosen_for_ = workbench_.channel_id();
    try_filter();
  });
  connect(&log, &WatchLog::changed, this, &FilterView::refresh);
}

void FilterView::showEvent(QShowEvent* event) {
  QWidget::showEvent(event);
  plot_.show_switching({}, {});
  refresh();
}

void FilterView::refresh() {
  if (!isVisible()) return;
  const auto& watched = log_.watched();
  table_->setVisible(watched && watched->review.good > 2);
  if (!watched || watched->review.good <= 2) {
    verdict_->setText(tr("A filter is judged by the readings it is for: a few must have come."));
    words_->clear();
    show_kept();
    return plot_.show_filtered({});
  }
  const NumberStyle& style = workbench_.style();
  const double noise = watched->review.noise, scale = watched->chain.shown->scale;
  const double enough = watched->chain.channel.tolerance / scale / 20;
  const std::string unit(difference_symbol(*watched->chain.shown));
  const auto of_two = [&](double value) {
    return text_of(with_unit(value, std::clamp(decimals_of_two_digits(value), 0, 6), unit, style));
  };
  // The least delay of those that leave little enough.
  int best = -1;
  const auto delay_of = [&](const Filter& filter) {
    return filter_log({.period_s = watched->log->period_s}, filter).delay_s;
  };
  table_->setRowCount(static_cast<int>(tried().size()));
  for (int i = 0; i < table_->rowCount(); ++i) {
    const Filter& filter = tried()[static_cast<std::size_t>(i)];
    const double left = noise * noise_left(filter);
    if (left <= enough && (best < 0 || delay_of(filter) < delay_of(tried()[static_cast<std::size_t>(best)]))) best = i;
    const QString name = filter.kind == FilterKind::mean ? tr("mean of %1").arg(filter.length)
                         : filter.kind == FilterKind::median
                             ? tr("median of %1").arg(filter.length)
                             : tr("exponential 1/%1").arg(std::lround(1 / filter.weight));
    const double delay = delay_of(filter);
    put_row(
        *table_, i,
        {name, of_two(left), text_of(with_unit(delay, std::clamp(decimals_of_two_digits(delay), 0, 3), "s", style))},
        theme_, left <= enough ? theme_.colours().ink : theme_.colours().quiet);
  }
  share_width(*table_);
  table_->setMaximumHeight(table_->horizontalHeader()->sizeHint().height() +
                           table_->rowCount() * table_->verticalHeader()->defaultSectionSize() + 4);
  const QString wanted = tr("a twentieth of the allowed error, %1").arg(of_two(enough));
  verdict_->setText(noise <= enough ? tr("No filter is needed: the noise of %1 is below %2.").arg(of_two(noise), wanted)
                    : best < 0      ? tr("None of these brings the noise of %1 below %2.").arg(of_two(noise), wanted)
                                    : tr("The quickest that brings the noise of %1 below %2, is the %3.")
                                     .arg(of_two(noise), wanted, table_->item(best, 0)->text()));
  if (chosen_for_ != workbench_.channel_id())  // what it keeps already, or what the words above say
    chosen_ =
        kept_by(find_by_id(workbench_.bench().channels, workbench_.channel_id())).value_or(best >= 0 ? best : chosen_);
  try_filter();
}

// What the bench keeps for this channel.
void FilterView::show_kept() {
  const Channel* channel = find_by_id(workbench_.bench().channels, workbench_.channel_id());
  const bool is_this = channel && is_kept(*channel, tried()[static_cast<std::size_t>(chosen_)]);
  keep_->setVisible(channel && table_->isVisibleTo(this) && !channel->derived);
  keep_->setText(is_this ? tr("Take the filter away") : tr("Keep this filter"));
  kept_->setText(!channel || !channel->filter
                     ? QString()
                     : tr("Kept for firmware: %1. Hand over writes it beside the conversion; here the readings stay as "
                          "they came.")
                           .arg(text_of(filter_words(*channel->filter))));
}

void FilterView::try_filter() {
  const auto& watched = log_.watched();
  if (!watched || !isVisible()) return;
  const Filter& filter = tried()[static_cast<std::size_t>(chosen_)];
  table_->selectRow(chosen_);
  show_kept();
  work_.start([watched, filter](const std::atomic<bool>&) { return filter_log(*watched->log, filter); },
              [this, watched, filter](const Filtered& filtered) {
                if (log_.watched() == watched && isVisible()) show_filtered(filter, filtered);
              });
}

void FilterView::show_filtered(const Filter& filter, const Filtered& filtered) {
  plot_.show_filtered(filtered.values);
  const QString spikes = filtered.spikes_removed == 0   ? tr("There are no spikes that it would remove.")
                         : filtered.spikes_removed == 1 ? tr("It removes one spike.")
                                                        : tr("It removes %1 spikes.").arg(filtered.spikes_removed);
  const QString how =
      filter.kind == FilterKind::mean
          ? tr("In firmware: keep the sum of the last %1 raw numbers and shift it right by %2.")
                .arg(filter.length)
                .arg(std::lround(std::log2(static_cast<double>(filter.length))))
      : filter.kind == FilterKind::median
          ? tr("In firmware: sort a copy of the last %1 raw numbers and take the middle one.").arg(filter.length)
          : tr("In firmware: state += (raw × %1 − state) ÷ %1, with state kept %1 times as large.")
                .arg(std::lround(1 / filter.weight));
  words_->setText(spikes + QLatin1Char(' ') + how);
}

}  // namespace fair_gauge::app

#include "moc_filter_view.cpp"
