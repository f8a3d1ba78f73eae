#include "correct/compare_channels.h"

#include <fmt/format.h>
#include <qcustomplot.h>

#include <QFileDialog>
#include <algorithm>
#include <cmath>

#include "bench/bench_things.h"
#include "calibrate/apply_correction.h"
#include "files/file.h"
#include "language/translation.h"
#include "quantity/day.h"
#include "quantity/number_format.h"
#include "widgets/form.h"
#include "widgets/in_unit.h"
#include "widgets/plain_table.h"
#include "widgets/plot_style.h"

namespace fair_gauge::app {
namespace {

constexpr std::size_t most_points = 600;  // of a series, for comparing
constexpr int refresh_every_ms = 1000;

QString called_by(const Workbench& workbench, const std::string& id) {
  const Channel* channel = find_by_id(workbench.bench().channels, id);
  return text_of(channel ? called(*channel) : id);
}

}  // namespace

CompareChannels::CompareChannels(const Theme& theme, Workbench& workbench, QWidget* parent)
    : QWidget(parent), theme_(theme), workbench_(workbench), background_(this) {
  since_refresh_.start();
  verdict_ = new Text(theme, Face::strong);
  verdict_->setObjectName(QStringLiteral("agreement"));
  verdict_->setWordWrap(true);
  pairs_ = plain_table(theme, "pairs", tr("Pairs"), {tr("pair"), tr("differ by"), tr("may differ by ±"), tr("so they")},
                       {0, 92, 112, 120});
  plot_ = new QCustomPlot;
  plot_->setMinimumHeight(theme.column_px(120));
  one_ = choice_box({}, "agree_one", tr("The one to be changed"));
  other_ = choice_box({}, "agree_other", tr("The one to agree with"));
  for (QComboBox* box : {one_, other_}) connect(box, &QComboBox::activated, this, &CompareChannels::show_line);
  line_words_ = new Text(theme, Face::small, {}, Tint::quiet);
  line_words_->setObjectName(QStringLiteral("line_words"));
  line_words_->setWordWrap(true);
  use_line_ = new QPushButton(tr("Make it agree"));
  use_line_->setObjectName(QStringLiteral("use_line"));
  use_line_->setProperty("primary", true);
  connect(use_line_, &QPushButton::clicked, this, &CompareChannels::use_line);
  connect(&theme, &Theme::changed, this, &CompareChannels::refresh);
  auto* right = column(8);
  right->addWidget(verdict_);
  right->addWidget(plot_, 3);
  right->addWidget(pairs_, 2);
  right->addSpacing(4);
  right->addWidget(new Text(theme, Face::label, tr("MAKE ONE AGREE WITH ANOTHER"), Tint::quiet));
  auto* agree = row(8);
  agree->addWidget(one_, 1);
  agree->addWidget(new Text(theme, Face::small, tr("with"), Tint::quiet));
  agree->addWidget(other_, 1);
  agree->addWidget(use_line_);
  right->addLayout(agree);
  right->addWidget(line_words_);
  auto* right_box = new QWidget;
  right_box->setLayout(right);
  setLayout(sides(theme, 20, build_left(), 200, {{right_box, 1}}));
  connect(&workbench, &Workbench::selection_changed, this, [this] {
    if (isVisible()) list_channels();
  });
  connect(&workbench, &Workbench::bench_changed, this, [this] {
    quantity_.reset();
    if (isVisible()) list_channels();
  });
  connect(&workbench, &Workbench::values_changed, this, [this] {
    if (log_.empty() && since_refresh_.elapsed() > refresh_every_ms) refresh();
  });
}

// Which channels, and where their readings come from.
QWidget* CompareChannels::build_left() {
  boxes_layout_ = column(2);
  without_lag_ = new QCheckBox(tr("without lag"));
  without_lag_->setObjectName(QStringLiteral("without_lag"));
  without_lag_->setToolTip(
      tr("A slow sensor differs from a quick one while things change; that is no error of either"));
  connect(without_lag_, &QCheckBox::toggled, this, &CompareChannels::refresh);
  auto* log = new QPushButton(tr("From a log…"));
  log->setObjectName(QStringLiteral("compare_log"));
  connect(log, &QPushButton::clicked, this, [this] {
    const QString path = QFileDialog::getOpenFileName(this, tr("Open a log"), {}, tr("Logs (*.csv);;All files (*)"));
    if (!path.isEmpty()) open_log(path);
  });
  source_ = new Text(theme_, Face::small, {}, Tint::quiet);
  source_->setWordWrap(true);
  auto* over_time = new QPushButton(tr("Over time"));
  over_time->setObjectName(QStringLiteral("compare_over_time"));
  over_time->setToolTip(tr("On the Watch page, with their differences to the first"));
  connect(over_time, &QPushButton::clicked, this, [this] {
    // Differences are to the channel that is chosen.
    auto ids = chosen_ids();
    std::stable_partition(ids.begin(), ids.end(),
                          [this](const std::string& id) { return id == workbench_.channel_id(); });
    if (!ids.empty()) emit over_time_wanted(ids, log_.empty() ? QString() : log_path_);
  });
  auto* left = column(8);
  left->addWidget(new Text(theme_, Face::label, tr("THAT SEE THE SAME"), Tint::quiet));
  left->addLayout(boxes_layout_);
  left->addWidget(without_lag_);
  left->addWidget(log, 0, Qt::AlignLeft);
  left->addWidget(over_time, 0, Qt::AlignLeft);
  left->addWidget(source_);
  left->addStretch();
  auto* left_inside = new QWidget;
  left_inside->setLayout(left);
  return scrolled(left_inside);
}

void CompareChannels::showEvent(QShowEvent* event) {
  QWidget::showEvent(event);
  list_channels();
}

void CompareChannels::open_log(const QString& path) {
  std::vector<std::string> ids;
  for (const auto& [id, box] : boxes_) ids.push_back(id);
  source_->setText(tr("Reading %1 …").arg(path.section(QLatin1Char('/'), -1)));
  using Columns = std::map<std::string, LogSeries>;
  background_.start(
      [path = path.toStdString(), ids](const std::atomic<bool>& cancelled) -> Result<Columns> {
        const auto text = read_file(path, std::size_t{4} << 30);
        if (!text) return text.problem();
        Columns columns;
        Problem last{translated("the log has none of these channels"), translated("columns with the channels' names")};
        for (const std::string& id : ids) {
          if (cancelled) break;
          if (auto log = read_log_series(*text, id, most_points))
            columns.emplace(id, std::move(*log));
          else
            last = log.problem();
        }
        if (columns.empty()) return last;
        return columns;
      },
      [this, path](Result<Columns> columns) {
        if (!columns) return source_->setText(text_of(to_text(columns.problem())));
        log_ = std::move(*columns);
        log_path_ = path;
        source_->setText(tr("from %1").arg(path.section(QLatin1Char('/'), -1)));
        refresh();
      });
}

// Channels of the chosen one's quantity: those that sit near one another are marked to begin with.
void CompareChannels::list_channels() {
  const Channel* chosen = workbench_.chosen().channel;
  if (!chosen) return;
  if (quantity_ != chosen->quantity) {
    quantity_ = chosen->quantity;
    clear(boxes_layout_);
    boxes_.clear();
    one_->clear();
    other_->clear();
    for (const Channel& channel : workbench_.bench().channels) {
      if (quantity_ != channel.quantity || lacks_sensor(channel)) continue;
      auto* box = new QCheckBox(text_of(called(channel)));
      box->setObjectName(text_of("compare_" + channel.id));
      box->setChecked(channel.id == chosen->id || may_see_the_same(*chosen, channel));
      connect(box, &QCheckBox::toggled, this, &CompareChannels::refresh);
      boxes_layout_->addWidget(box);
      boxes_[channel.id] = box;
      for (QComboBox* each : {one_, other_}) each->addItem(box->text(), text_of(channel.id));
    }
    // The chosen one, and another that sees the same.
    one_->setCurrentIndex(one_->findData(text_of(chosen->id)));
    for (const auto& [id, box] : boxes_)
      if (box->isChecked() && id != chosen->id) other_->setCurrentIndex(other_->findData(text_of(id)));
  }
  refresh();
}

std::vector<std::string> CompareChannels::chosen_ids() const {
  std::vector<std::string> ids;
  for (const Channel& channel : workbench_.bench().channels)
    if (const auto box = boxes_.find(channel.id); box != boxes_.end() && box->second->isChecked())
      ids.push_back(channel.id);
  return ids;
}

// As the channel shows it: its correction counts, since that is what is trusted.
Series CompareChannels::series_of(const std::string& id) const {
  Series series;
  const auto chain = build_chain(workbench_.bench(), workbench_.catalogue(), id);
  if (!chain) return series;
  const auto add = [&](double seconds, double raw) {
    if (const auto reading = read_raw(*chain, raw))
      series.seconds.push_back(seconds), series.values.push_back(*reading);
  };
  if (log_.empty()) {
    const auto past = workbench_.past(id);
    for (std::size_t i = past.size() > most_points ? past.size() - most_points : 0; i < past.size(); ++i)
      series.seconds.push_back(past[i].first), series.values.push_back(past[i].second);
  } else if (const auto log = log_.find(id); log != log_.end()) {
    for (std::size_t i = 0; i < log->second.raw.size(); ++i) add(log->second.seconds[i], log->second.raw[i]);
  }
  return series;
}

void CompareChannels::refresh() {
  if (!isVisible()) return;
  since_refresh_.restart();
  const auto ids = chosen_ids();
  show_group(ids);
  draw(ids);
  show_line();
}

void CompareChannels::show_group(const std::vector<std::string>& ids) {
  std::vector<Chain> chains;
  std::vector<Series> series;
  for (const std::string& id : ids)
    if (auto chain = build_chain(workbench_.bench(), workbench_.catalogue(), id))
      chains.push_back(std::move(*chain)), series.push_back(series_of(id));
  std::vector<ChannelReadings> channels;
  for (std::size_t i = 0; i < chains.size(); ++i) channels.push_back({&chains[i], std::move(series[i])});
  const GroupReading reading = group_reading(channels, without_lag_->isChecked());
  const auto& estimates = reading.estimates;
  const auto group = compare_estimates(estimates, reading.shared);
  const NumberStyle& style = workbench_.style();
  const InUnit in{unit_of(ids), style};
  pairs_->setRowCount(0);
  if (!group) {
    verdict_->setText(ids.size() < 2         ? tr("Mark two or more that see the same.")
                      : estimates.size() < 2 ? tr("No readings of two of them yet.")
                                             : text_of(to_text(group.problem())));
    verdict_->set_tint(Tint::quiet);
    return;
  }
  pairs_->setRowCount(static_cast<int>(group->pairs.size()));
  for (std::size_t i = 0; i < group->pairs.size(); ++i) {
    const PairAgreement& pair = group->pairs[i];
    put_row(*pairs_, static_cast<int>(i),
            {tr("%1 – %2").arg(text_of(estimates[pair.one].name), text_of(estimates[pair.other].name)),
             in.difference(pair.difference, pair.expanded),
             (pair.is_known ? QString() : QStringLiteral("≥ ")) + in.difference(pair.expanded),
             pair.agrees     ? tr("agree")
             : pair.is_known ? tr("do not agree")
                             : tr("not known")},
            theme_, pair.agrees || !pair.is_known ? theme_.colours().ink : theme_.colours().red);
  }
  share_width(*pairs_);
  const QString reference = in.value(group->reference, 2 * group->reference_standard) + QStringLiteral(" ± ") +
                            in.difference(2 * group->reference_standard);
  QString words;
  const QString unknown = group->unknown ? text_of(estimates[*group->unknown].name) : QString();
  if (group->unknown && group->consistent)
    words = tr("They hold together by what is known; how far %1 may be off is not.").arg(unknown);
  else if (group->unknown)
    words = tr("They differ, and how far %1 may be off is not known: nobody can say whether that is too much. Give it "
               "a figure in Budget, or calibrate it.")
                .arg(unknown);
  else if (group->consistent)
    words = tr("They hold together (χ² %1 with %2, probability %3 %): weighted, %4.")
                .arg(text_of(fixed(group->chi_squared, 1, style)))
                .arg(group->dof)
                .arg(std::lround(group->probability * 100))
                .arg(reference);
  else if (group->outlier)
    words = tr("%1 is the odd one, %2 off what the others say together (%3).")
                .arg(text_of(estimates[*group->outlier].name),
                     in.difference(group->outlier_off, group->reference_standard), reference);
  else
    words = tr("They do not hold together (χ² %1 with %2): with these alone nobody can say which is right. Bring a "
               "reference, or see whether they really see the same.")
                .arg(text_of(fixed(group->chi_squared, 1, style)))
                .arg(group->dof);
  for (const auto& [id, lag] : reading.lags_seconds)
    if (std::abs(lag) > 1)
      words += QLatin1Char(' ') + tr("%1 lags by %2 s.").arg(called_by(workbench_, id)).arg(std::lround(lag));
  verdict_->setText(words);
  verdict_->set_tint(group->unknown ? Tint::ink : group->consistent ? Tint::accent : Tint::red);
}

// Of several, that of the first.
const Unit& CompareChannels::unit_of(const std::vector<std::string>& ids) const {
  const Channel* first = ids.empty() ? nullptr : find_by_id(workbench_.bench().channels, ids.front());
  return shown_unit(first, quantity_.value_or(Quantity::temperature));
}

void CompareChannels::draw(const std::vector<std::string>& ids) {
  const Colours& colours = theme_.colours();
  const Unit& unit = unit_of(ids);
  style_plot(*plot_, theme_);
  plot_->clearGraphs();
  plot_->clearItems();
  double low = 1e300, high = -1e300, from = 1e300, to = -1e300;
  std::vector<std::pair<double, QCPItemText*>> names;  // and where their lines end
  for (std::size_t i = 0; i < ids.size(); ++i) {
    const Series series = series_of(ids[i]);
    if (series.values.empty()) continue;
    auto* graph = plot_->addGraph();
    graph->setPen(line_pen(colours, i));
    QVector<double> x, y;
    for (std::size_t k = 0; k < series.values.size(); ++k)
      x << series.seconds[k] / 60, y << unit.from_base(series.values[k]);
    graph->setData(x, y, true);
    const auto [least, most] = std::ranges::minmax(y);
    low = std::min(low, least), high = std::max(high, most), from = std::min(from, x.front()),
    to = std::max(to, x.back());
    names.emplace_back(y.back(),
                       line_name(*plot_, theme_, called_by(workbench_, ids[i]), line_pen(colours, i).color()));
  }
  if (high >= low) {
    const double room = std::max(0.1 * (high - low), 1e-6);
    plot_->yAxis->setRange(low - room, high + 2 * room);
    plot_->xAxis->setRange(from, to > from ? to : from + 1);
    const QCPRange range = plot_->yAxis->range();
    for (auto& [at, name] : names) at = (range.upper - at) / range.size();
    stand_apart(std::move(names), *plot_->axisRect(), theme_);
  }
  plot_->xAxis->setLabel(tr("minutes"));
  plot_->yAxis->setLabel(text_of(unit.symbol));
  plot_->setAccessibleName(tr("Readings of the channels compared"));
  plot_->replot(QCustomPlot::rpQueuedReplot);
}

// Readings of both at the times of the first; a line that allows for errors of both.
void CompareChannels::show_line() {
  agreeing_.reset();
  const std::string one = one_->currentData().toString().toStdString(),
                    other = other_->currentData().toString().toStdString();
  use_line_->setEnabled(false);
  if (one.empty() || one == other) return line_words_->setText(tr("Choose two different ones."));
  const auto followed = build_chain(workbench_.bench(), workbench_.catalogue(), other);
  if (!followed) return line_words_->setText(text_of(to_text(followed.problem())));
  Series changed;
  if (log_.empty())
    changed = live_series(workbench_, one);
  else if (const auto log = log_.find(one); log != log_.end())
    changed = series_of_log(workbench_, one, log->second);
  if (changed.seconds.size() > most_points) {  // the newest of them
    changed.seconds.erase(changed.seconds.begin(), changed.seconds.end() - most_points);
    changed.values.erase(changed.values.begin(), changed.values.end() - most_points);
  }
  auto agreeing = correction_to_agree(paired_readings(changed, series_of(other)), *followed, day_text(today()));
  if (!agreeing) return line_words_->setText(text_of(to_text(agreeing.problem())));
  const NumberStyle& style = workbench_.style();
  const TwoWayLine& line = agreeing->line;
  const InUnit in{unit_of({other}), style};
  line_words_->setText(
      (agreeing->shift < 0 ? tr("At %1 it is to read %2 less%3.") : tr("At %1 it is to read %2 more%3."))
          .arg(in.value(line.origin, 1), in.difference(std::abs(agreeing->shift), line.residual),
               agreeing->scale_known
                   ? tr(", with a scale of %1 ± %2")
                         .arg(text_of(fixed(line.scale, 3, style)), text_of(fixed(2 * line.scale_standard, 3, style)))
                   : tr("; the range is too small for a scale, so an offset alone")));
  const auto own = uncorrected_chain(workbench_.bench(), workbench_.catalogue(), one);
  const auto own_budget = own ? error_budget(*own, line.origin) : Result<Budget>(Problem{});
  if (agreeing->lacks_accuracy && own_budget && !own_budget->lacks_accuracy)
    return line_words_->setText(tr("How far %1 may be off is not known: made to agree with it, nobody would know it of "
                                   "this one any more.")
                                    .arg(other_->currentText()));
  use_line_->setEnabled(own.has_value());
  agreeing_ = std::move(*agreeing);
}

void CompareChannels::use_line() {
  if (!agreeing_) return;
  const std::string one = one_->currentData().toString().toStdString(),
                    other = other_->currentData().toString().toStdString();
  const Correction correction = agreeing_->correction;
  LogEntry entry;
  entry.on = now_text().toStdString();
  entry.kind = EntryKind::correction;
  entry.channel = one;
  const Channel* corrected = find_by_id(workbench_.bench().channels, one);
  const std::string unit = corrected ? std::string(base_unit(corrected->quantity).symbol) : "";
  entry.words =
      in_own_marks(text_of(translated(
                       "Made to agree with {}: {:+.4g} {} at {:.4g} {}{}. It is now as good as that one, not better.",
                       other, correction.coefficients.front(), unit, correction.origin, unit,
                       agreeing_->scale_known ? translated(", scale {:.4f}", agreeing_->line.scale) : "")))
          .toStdString();
  workbench_.document().edit(tr("Agree with %1").arg(text_of(other)), [&](Bench& bench) {
    if (Channel* channel = find_by_id(bench.channels, one)) channel->correction = correction;
  });
  emit calibrated(entry);
}

}  // namespace fair_gauge::app

#include "moc_compare_channels.cpp"
