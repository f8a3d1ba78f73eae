#include "watch/signal_view.h"

#include <cmath>

#include "quantity/number_format.h"
#include "widgets/plain_table.h"

namespace fair_gauge::app {
namespace {

constexpr std::size_t most_events = 500;
constexpr double much_noise = 3;          // times what the chain explains
constexpr double rounding_steps = 0.289;  // 1/√12: what rounding to whole steps makes by itself

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
  verdict_ = new Text(theme, Face::strong);
  verdict_->setObjectName(QStringLiteral("signal_verdict"));
  verdict_->setWordWrap(true);
  figures_ = plain_table(theme, "signal_figures", tr("Figures of the signal"), {tr("figure"), tr("value")}, {112, 0});
  events_title_ = new Text(theme, Face::label, {}, Tint::quiet);
  events_ = new QListWidget;
  events_->setObjectName(QStringLiteral("signal_events"));
  events_->setAccessibleName(tr("Events of the signal; choose one to see it"));
  events_->setWordWrap(true);
  events_->setHorizontalScrollBarPolicy(Qt::ScrollBarAlwaysOff);
  auto* all = column(8);
  all->addWidget(verdict_);
  all->addWidget(figures_);
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

void SignalView::refresh() {
  if (!isVisible()) return;
  const auto& watched = log_.watched();
  figures_->setVisible(watched && watched->review.good > 0);
  why_->setVisible(watched && suspect_of(*watched));
  if (!watched || watched->log->rows.empty()) {
    verdict_->setText(watched ? tr("Nothing has come yet for this channel.") : log_.words());
    events_title_->clear();
    return events_->clear();
  }
  const Review& review = watched->review;
  const NumberStyle& style = workbench_.style();
  const Unit& shown = *watched->chain.shown;
  const QString difference = text_of(difference_symbol(shown));
  const auto of_two = [&](double value) {
    return text_of(with_unit(value, std::clamp(decimals_of_two_digits(value), 0, 6), difference.toStdString(), style));
  };
  const int decimals = std::clamp(decimals_of_two_digits(std::max(review.noise, 1e-6)), 0, 4);
  const auto reading = [&](double value) { return text_of(with_unit(value, decimals, shown.symbol, style)); };
  const std::size_t faulty = review.events.size();
  const double expected = explained_noise(watched->chain, shown.to_base(review.mean)) / shown.scale;
  verdict_->setText(review.good == 0 ? tr("There is no good reading in it.")
                    : faulty > 0 ? faulty == 1 ? tr("One thing to look at.") : tr("%1 things to look at.").arg(faulty)
                    : expected > 0 && review.noise > much_noise * expected
                        ? tr("Nothing stands out, but its noise is %1 times what part and converter explain: look at "
                             "the supply, the wiring and the reference.")
                              .arg(text_of(fixed(review.noise / expected, 0, style)))
                        : tr("A healthy signal: nothing stands out, and its noise is what the converter explains."));
  const auto [from, to] = plot_.in_view();
  const bool is_part = from > 0 || to < watched->log->rows.size();
  const ValueSummary seen = is_part ? summary_of(watched->log->rows, *watched->blocks, from, to) : ValueSummary();
  std::vector<QStringList> lines;
  lines.push_back(
      {tr("good rows"), tr("%1 of %2")
                            .arg(text_of(fixed(static_cast<double>(review.good), 0, style)),
                                 text_of(fixed(static_cast<double>(watched->log->rows.size()), 0, style)))});
  lines.push_back({tr("mean"), reading(review.mean)});
  lines.push_back({tr("least, most"), tr("%1, %2").arg(reading(review.minimum), reading(review.maximum))});
  lines.push_back({tr("spread"), of_two(review.standard_deviation)});
  lines.push_back({tr("noise"), tr("%1 rms").arg(of_two(review.noise))});
  if (expected > 0) lines.push_back({tr("explained"), of_two(expected)});
  lines.push_back({tr("in steps"),
                   tr("%1, rounding %2")
                       .arg(text_of(fixed(review.noise_steps, 2, style)), text_of(fixed(rounding_steps, 2, style)))});
  lines.push_back({tr("effective bits"), text_of(fixed(review.effective_bits, 1, style))});
  lines.push_back({tr("drift"), tr("%1 an hour").arg(of_two(review.drift_per_hour))});
  if (seen.count > 1) {
    lines.push_back({tr("mean in view"), reading(seen.mean)});
    lines.push_back({tr("spread in view"), of_two(seen.standard_deviation())});
    lines.push_back({tr("range in view"), tr("%1, %2").arg(reading(seen.low), reading(seen.high))});
  }
  figures_->setRowCount(static_cast<int>(lines.size()));
  for (int i = 0; i < static_cast<int>(lines.size()); ++i)
    put_row(*figures_, i, lines[static_cast<std::size_t>(i)], theme_, theme_.colours().ink);
  figures_->setFixedHeight(figures_->horizontalHeader()->height() + figures_->rowHeight(0) * figures_->rowCount() + 4);
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
