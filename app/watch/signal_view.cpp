#include "watch/signal_view.h"

#include <QHeaderView>
#include <cmath>

#include "quantity/number_format.h"
#include "widgets/form.h"
#include "widgets/plain_table.h"

namespace fair_gauge::app {
namespace {

constexpr std::size_t most_events = 500;
constexpr double much_noise = 3;           // times what the chain explains
constexpr std::size_t few_rows = 100'000;  // of which figures are worked out at once

// The raw number of the first event that a mistake may explain.
std::optional<double> suspect_of(const Watched& watched) {
  for (const LogEvent& event : watched.review.events)
    if (event.kind == EventKind::implausible || event.kind == EventKind::power_on_default ||
        event.kind == EventKind::clipped) {
      const auto& rows = watched.log->rows;
      const auto row = std::ranges::lower_bound(rows, event.from_row, {}, &LogReading::row);
      if (row != rows.end() && std::isfinite(row->raw)) return row->raw;
    }
  return std::nullopt;
}

}  // namespace

SignalView::SignalView(const Theme& theme, Workbench& workbench, WatchLog& log, LogPlot& plot, QWidget* parent)
    : QWidget(parent), theme_(theme), workbench_(workbench), log_(log), plot_(plot) {
  constexpr int rest_ms = 120;
  rests_.setSingleShot(true);
  rests_.setInterval(rest_ms);
  connect(&rests_, &QTimer::timeout, this, [this] { when_rested_(); });
  verdict_ = new Text(theme, Face::strong);
  verdict_->setObjectName(QStringLiteral("signal_verdict"));
  verdict_->setWordWrap(true);
  figures_ = plain_table(theme, "signal_figures", tr("Figures of the signal"), {tr("figure"), tr("all"), tr("in view")},
                         {104, 0, 0});
  span_ = new Text(theme, Face::small, {}, Tint::second);
  span_->setObjectName(QStringLiteral("signal_span"));
  span_->setWordWrap(true);
  mark_ = new QPushButton(tr("Mark what is in view"));
  mark_->setObjectName(QStringLiteral("signal_mark"));
  mark_->setProperty("quiet", true);
  mark_->setToolTip(tr("Its figures stay while the view moves on; with Shift the mouse marks any span"));
  connect(mark_, &QPushButton::clicked, this,
          [this] { plot_.marked() ? plot_.mark(std::nullopt) : plot_.mark_view(); });
  auto* limit = new Form(theme);
  limit_ = limit->add_quantity(tr("Above and below"),
                               tr("For how long it was above and below this; empty: above and below the wanted range"),
                               Dimension::temperature, "signal_limit", [this](double base) {
                                 typed_limit_ = base;
                                 show_limit();
                                 refresh();
                               });
  limit_->setPlaceholderText(tr("the wanted range"));
  connect(limit_, &QLineEdit::editingFinished, this, [this] {
    if (!limit_->text().trimmed().isEmpty()) return;
    typed_limit_.reset();
    show_limit();
    refresh();
  });
  events_title_ = new Text(theme, Face::label, {}, Tint::quiet);
  events_ = new QListWidget;
  events_->setObjectName(QStringLiteral("signal_events"));
  events_->setAccessibleName(tr("Events of the signal; choose one to see it"));
  events_->setWordWrap(true);
  events_->setHorizontalScrollBarPolicy(Qt::ScrollBarAlwaysOff);
  auto* all = column(8);
  all->addWidget(verdict_);
  all->addWidget(figures_);
  all->addWidget(span_);
  all->addWidget(mark_, 0, Qt::AlignLeft);
  all->addWidget(limit);
  all->addWidget(events_title_);
  all->addWidget(events_, 1);
  why_ = new QPushButton(tr("Why? Try the usual mistakes"));
  why_->setObjectName(QStringLiteral("signal_why"));
  connect(why_, &QPushButton::clicked, this, [this] {
    const auto& watched = log_.watched();
    if (watched && suspect_of(*watched)) emit mistake_wanted(*suspect_of(*watched));
  });
  all->addWidget(why_, 0, Qt::AlignLeft);
  setLayout(all);
  connect(events_, &QListWidget::itemActivated, this, [this](const QListWidgetItem* item) {
    const QPoint rows = item->data(Qt::UserRole).toPoint();
    plot_.bring_into_view(static_cast<std::size_t>(rows.x()), static_cast<std::size_t>(rows.y()));
  });
  connect(events_, &QListWidget::itemClicked, events_, &QListWidget::itemActivated);
  connect(&log, &WatchLog::changed, this, &SignalView::refresh);
  connect(&plot, &LogPlot::view_changed, this, &SignalView::refresh);
}

void SignalView::showEvent(QShowEvent* event) {
  QWidget::showEvent(event);
  plot_.show_filtered({});
  plot_.show_switching({}, {});
  refresh();
}

Range SignalView::limits_of(const Watched& watched) const {
  const Unit& shown = *watched.chain.shown;
  if (typed_limit_) return {shown.from_base(*typed_limit_), shown.from_base(*typed_limit_)};
  const Range& wanted = watched.chain.channel.wanted;
  return {shown.from_base(wanted.from), shown.from_base(wanted.to)};
}

void SignalView::show_limit() {
  const auto& watched = log_.watched();
  const Unit* unit = watched ? watched->chain.shown : nullptr;
  limit_->show_value(typed_limit_.value_or(0),
                     unit && typed_limit_ ? text_of(shortest(unit->from_base(*typed_limit_), workbench_.style())) +
                                                QLatin1Char(' ') + text_of(unit->symbol)
                                          : QString());
  limit_->take_shown();
}

void SignalView::refresh() {
  if (!isVisible()) return;
  const auto& watched = log_.watched();
  const bool has_figures = watched && watched->review.good > 0;
  for (QWidget* each : std::initializer_list<QWidget*>{figures_, span_, mark_, limit_->parentWidget()})
    each->setVisible(has_figures);
  why_->setVisible(watched && suspect_of(*watched));
  if (!watched || watched->log->rows.empty()) {
    verdict_->setText(watched ? tr("Nothing has come yet for this channel.") : QString());  // log's words say the rest
    events_title_->clear();
    return events_->clear();
  }
  const Channel& channel = watched->chain.channel;
  if (limit_of_ != channel.id) {
    limit_of_ = channel.id;
    typed_limit_.reset();
    limit_->set_dimension(dimension_of(channel.quantity));
    limit_->set_unit(*watched->chain.shown);
    show_limit();
  }
  const Review& review = watched->review;
  const NumberStyle& style = workbench_.style();
  const Unit& shown = *watched->chain.shown;
  const std::size_t faulty = review.events.size();
  const ExplainedNoise explained = explained_noise(watched->chain, shown.to_base(review.mean));
  const double expected = explained.standard / shown.scale;
  verdict_->setText(review.good == 0 ? tr("There is no good reading in it.")
                    : faulty > 0 ? faulty == 1 ? tr("One thing to look at.") : tr("%1 things to look at.").arg(faulty)
                    : expected > 0 && review.noise_beside_swings > much_noise * expected && !explained.is_stated
                        ? tr("Nothing stands out. How much noise its sensor has is stated nowhere, so it cannot be "
                             "judged.")
                    : expected > 0 && review.noise_beside_swings > much_noise * expected
                        ? tr("Nothing stands out, but its noise is %1 times what part and converter explain: look at "
                             "the supply, the wiring and the reference.")
                              .arg(text_of(fixed(review.noise_beside_swings / expected, 0, style)))
                    : expected > 0 && review.noise > much_noise * expected
                        ? tr("Nothing stands out. What changes from row to row is the signal itself, not its noise.")
                    : explained.is_stated
                        ? tr("A healthy signal: nothing stands out, and its noise is what the converter explains.")
                        : tr("A healthy signal: nothing stands out, and its noise is no more than rounding makes."));
  if (has_figures) work_out(watched);
  show_events(review);
}

// Of many rows beside the interface thread; until then the figures before stand.
void SignalView::work_out(const std::shared_ptr<const Watched>& watched) {
  const Figures figures{watched, plot_.looked_at(), limits_of(*watched), {}, {}};
  const bool same = figures_now_.watched == watched && figures_now_.limits.from == figures.limits.from &&
                    figures_now_.limits.to == figures.limits.to;
  if (same && figures_now_.rows == figures.rows) return show_figures();
  const auto known = same ? std::optional(figures_now_.all) : std::nullopt;
  const auto work = [figures, known](const std::atomic<bool>* cancelled) {
    Figures found = figures;
    const ChannelLog& log = *found.watched->log;
    const auto of = [&](std::size_t from, std::size_t to) {
      return span_figures(log, from, to, found.limits, cancelled);
    };
    found.all = known ? *known : of(0, log.rows.size());
    const auto [from, to] = found.rows;
    found.some = to - from < log.rows.size() ? of(from, to) : found.all;
    return found;
  };
  if (watched->log->rows.size() <= few_rows) {
    working_.cancel();
    rests_.stop();
    figures_now_ = work(nullptr);
    return show_figures();
  }
  working_.cancel();
  when_rested_ = [this, work] {
    working_.start([work](const std::atomic<bool>& cancelled) { return work(&cancelled); },
                   [this](Figures found) {
                     figures_now_ = std::move(found);
                     show_figures();
                   });
  };
  rests_.start();
}

void SignalView::show_figures() {
  const Watched& watched = *figures_now_.watched;
  const Review& review = watched.review;
  const SpanFigures &all = figures_now_.all, &some = figures_now_.some;
  const NumberStyle& style = workbench_.style();
  const Unit& shown = *watched.chain.shown;
  const std::string_view difference = difference_symbol(shown);
  const auto count = [&](std::size_t n) { return text_of(fixed(static_cast<double>(n), 0, style)); };
  const auto of_two = [&](double value) {
    return std::isfinite(value)
               ? text_of(with_unit(value, std::clamp(decimals_of_two_digits(value), 0, 6), difference, style))
               : QStringLiteral("–");
  };
  const int decimals = std::clamp(decimals_of_two_digits(std::max(review.noise, 1e-6)), 0, 4);
  const auto reading = [&](double value) {
    return std::isfinite(value) ? text_of(with_unit(value, decimals, shown.symbol, style)) : QStringLiteral("–");
  };
  const auto lasting = [&](double seconds, const SpanFigures& of) {
    if (!(of.seconds > 0)) return QStringLiteral("–");
    const QString share = text_of(fixed(100 * seconds / of.seconds, 0, style));
    return tr("%1, %2 %").arg(text_of(duration_text(seconds, style)), share);
  };
  const ExplainedNoise explained = explained_noise(watched.chain, shown.to_base(review.mean));
  const double expected = explained.standard / shown.scale;
  std::vector<QStringList> lines;
  const auto line = [&](const QString& name, const QString& of_all, const QString& of_some = {}) {
    lines.push_back({name, of_all, of_some});
  };
  line(tr("good rows"), tr("%1 of %2").arg(count(review.good), count(watched.log->rows.size())),
       tr("%1 of %2").arg(count(some.good), count(some.rows)));
  line(tr("mean"), reading(review.mean), reading(some.mean));
  line(tr("least"), reading(review.minimum), reading(some.minimum));
  line(tr("most"), reading(review.maximum), reading(some.maximum));
  line(tr("spread"), of_two(review.standard_deviation), of_two(some.standard_deviation));
  line(tr("noise, rms"), of_two(review.noise), of_two(some.noise));
  if (expected > 0) line(explained.is_stated ? tr("explained") : tr("by rounding"), of_two(expected));
  line(tr("in steps"), text_of(fixed(review.noise_steps, 2, style)));
  line(tr("effective bits"), text_of(fixed(review.effective_bits, 1, style)));
  constexpr double least_s = 600;  // of less nobody knows an hour
  if (all.seconds < least_s)
    line(tr("drift a minute"), of_two(review.drift_per_hour / 60), of_two(some.drift_per_hour / 60));
  else
    line(tr("drift an hour"), of_two(review.drift_per_hour), of_two(some.drift_per_hour));
  const Range& limits = figures_now_.limits;
  const auto limit = [&](double value) { return text_of(shortest(value, style) + " " + std::string(shown.symbol)); };
  line(tr("above %1").arg(limit(limits.to)), lasting(all.above_s, all), lasting(some.above_s, some));
  line(tr("below %1").arg(limit(limits.from)), lasting(all.below_s, all), lasting(some.below_s, some));
  const PartTimes times = part_times(workbench_.bench(), workbench_.catalogue(), watched.chain);
  if (times.response_s > 0) line(tr("time constant"), text_of(duration_text(times.response_s, style)));
  if (const auto age = log_.is_session() ? workbench_.age_s() : std::nullopt)
    line(tr("latest is"), tr("%1 old").arg(duration_words(*age)));
  const bool is_part = figures_now_.is_part();
  figures_->setColumnHidden(2, !is_part);
  figures_->setHorizontalHeaderLabels({tr("figure"), tr("all"), plot_.marked() ? tr("marked") : tr("in view")});
  figures_->setRowCount(static_cast<int>(lines.size()));
  for (int i = 0; i < static_cast<int>(lines.size()); ++i)
    put_row(*figures_, i, lines[static_cast<std::size_t>(i)], theme_, theme_.colours().ink);
  figures_->setFixedHeight(figures_->horizontalHeader()->height() + figures_->rowHeight(0) * figures_->rowCount() + 4);
  span_->setText(plot_.marked()
                     ? tr("Marked: %1, %2.")
                           .arg(text_of(duration_text(plot_.marked()->second - plot_.marked()->first, style)),
                                some.above == 1 ? tr("above once") : tr("%1 times above").arg(some.above))
                     : QString());
  span_->setVisible(plot_.marked().has_value());
  mark_->setText(plot_.marked() ? tr("Take the mark away") : tr("Mark what is in view"));
}

void SignalView::show_events(const Review& review) {
  const std::size_t faulty = review.events.size();
  events_title_->setText(faulty == 0            ? QString()
                         : faulty > most_events ? tr("EVENTS, THE FIRST %1").arg(most_events)
                                                : tr("EVENTS"));
  // Rows are kept while they say the same, so that the one under the mouse stays.
  QStringList words;
  for (std::size_t i = 0; i < std::min(faulty, most_events); ++i) {
    const LogEvent& event = review.events[i];
    QString place = event.from_row == event.to_row ? tr("row %1").arg(event.from_row)
                                                   : tr("rows %1 to %2").arg(event.from_row).arg(event.to_row);
    words << tr("%1: %2").arg(place, text_of(event.words));
  }
  bool same = events_->count() == words.size();
  for (int i = 0; same && i < words.size(); ++i) same = events_->item(i)->text() == words[i];
  if (same) return;
  events_->clear();
  for (int i = 0; i < words.size(); ++i) {
    auto* item = new QListWidgetItem(words[i], events_);
    const LogEvent& event = review.events[static_cast<std::size_t>(i)];
    item->setData(Qt::UserRole, QPoint(static_cast<int>(event.from_row), static_cast<int>(event.to_row)));
  }
}

}  // namespace fair_gauge::app

#include "moc_signal_view.cpp"
