#include "watch/log_plot.h"

#include <qcustomplot.h>

#include <QSvgGenerator>

#include <algorithm>
#include <cmath>

#include "widgets/plot_style.h"
#include "widgets/text.h"

namespace fair_gauge::app {
namespace {

constexpr std::size_t most_marks = 60;
constexpr std::size_t most_drawn = 2000;  // bundles of rows: more than a plot is pixels wide

bool is_grave(EventKind kind) {
  return kind == EventKind::fault || kind == EventKind::not_a_number || kind == EventKind::power_on_default ||
         kind == EventKind::implausible;
}

QString name_of(EventKind kind) { return text_of(enum_name(kind)).replace(QLatin1Char('-'), QLatin1Char(' ')); }

}  // namespace

LogPlot::LogPlot(const Theme& theme, QWidget* parent) : QWidget(parent), theme_(theme) {
  plot_ = new QCustomPlot;
  plot_->setObjectName(QStringLiteral("log_plot"));
  plot_->setAccessibleName(tr("Readings over time"));
  plot_->setToolTip(tr("The wheel zooms, dragging moves, a double click shows all of it"));
  plot_->setInteractions(QCP::iRangeDrag | QCP::iRangeZoom);
  plot_->axisRect()->setRangeDrag(Qt::Horizontal);
  plot_->axisRect()->setRangeZoom(Qt::Horizontal);
  plot_->setPlottingHint(QCP::phFastPolylines);
  plot_->setMinimumHeight(120);
  plot_->installEventFilter(this);
  map_ = new LogMap(theme);
  connect(map_, &LogMap::view_wanted, this, [this](double from, double to) {
    whole_ = false;
    plot_->xAxis->setRange(from, to);
    plot_->replot(QCustomPlot::rpQueuedReplot);
  });
  // With the plot, in one pass: by itself it would be painted before.
  connect(plot_, &QCustomPlot::afterReplot, this,
          [this] { map_->show_view(plot_->xAxis->range().lower, plot_->xAxis->range().upper); });
  auto* all = column(4);
  all->addWidget(plot_, 1);
  all->addWidget(map_);
  setLayout(all);
  connect(&theme, &Theme::changed, this, &LogPlot::draw);
  connect(plot_, &QCustomPlot::mouseDoubleClick, this, &LogPlot::show_all);
  connect(plot_->xAxis, qOverload<const QCPRange&>(&QCPAxis::rangeChanged), this, [this] {
    draw_courses();
    fit_values();
    emit view_changed();
  });
  draw();
}

double LogPlot::at(std::size_t row) const {
  const auto& rows = watched_->log->rows;
  const auto found = std::ranges::lower_bound(rows, row, {}, &LogReading::row);
  return found == rows.end() ? rows.back().seconds : found->seconds;
}

void LogPlot::show_log(std::shared_ptr<const Watched> watched) {
  const bool other = !watched_ || !watched || watched_->chain.channel.id != watched->chain.channel.id;
  watched_ = std::move(watched);
  if (other) whole_ = true;
  map_->show_log(watched_);
  draw();
}

void LogPlot::show_filtered(const std::vector<double>& values, const QString& name) {
  filtered_ = values;
  filtered_name_ = name.isEmpty() ? tr("filtered") : name;
  filtered_blocks_.clear();
  if (watched_ && filtered_.size() == watched_->log->rows.size())
    filtered_blocks_ = row_blocks(watched_->log->rows, gap_periods * watched_->log->period_s,
                                  [this](std::size_t i) { return filtered_[i]; });
  draw();
}

void LogPlot::show_switching(const std::optional<SwitchRule>& rule, const std::vector<bool>& on, const QString& name) {
  if (!rule && !rule_) return;
  rule_ = rule;
  on_ = on;
  on_name_ = name;
  draw();
}

bool LogPlot::save_picture(const QString& path) {
  if (path.endsWith(QStringLiteral(".pdf"), Qt::CaseInsensitive))
    return plot_->savePdf(path, plot_->width(), plot_->height());
  QSvgGenerator svg;
  svg.setFileName(path);
  svg.setSize(plot_->size());
  svg.setViewBox(plot_->rect());
  svg.setTitle(plot_->yAxis->label());
  QCPPainter painter;
  if (!painter.begin(&svg)) return false;
  painter.setMode(QCPPainter::pmVectorized);
  painter.fillRect(plot_->rect(), theme_.colours().paper);
  plot_->toPainter(&painter, plot_->width(), plot_->height());
  return painter.end();
}

void LogPlot::show_all() {
  whole_ = true;
  draw();
}

void LogPlot::bring_into_view(std::size_t from, std::size_t to) {
  if (!watched_ || watched_->log->rows.empty()) return;
  const double one = at(from), other = at(to), beside = std::max(other - one, 20 * watched_->log->period_s);
  whole_ = false;
  plot_->xAxis->setRange(one - beside, other + beside);
  plot_->replot(QCustomPlot::rpQueuedReplot);
}

std::pair<std::size_t, std::size_t> LogPlot::in_view() const {
  if (!watched_) return {0, 0};
  const auto& rows = watched_->log->rows;
  const QCPRange range = plot_->xAxis->range();
  if (watched_->is_in_order) {
    const auto from = std::ranges::lower_bound(rows, range.lower, {}, &LogReading::seconds);
    const auto to = std::ranges::upper_bound(rows, range.upper, {}, &LogReading::seconds);
    return {static_cast<std::size_t>(from - rows.begin()), static_cast<std::size_t>(std::max(from, to) - rows.begin())};
  }
  std::size_t from = 0, to = rows.size();
  while (from < to && !(rows[from].seconds >= range.lower)) ++from;
  while (to > from && !(rows[to - 1].seconds <= range.upper)) --to;
  return {from, to};
}

// Of more rows than there are places to draw them, each bundle is drawn by its lowest and its highest value.
void LogPlot::draw_course(QCPGraph& graph, const std::vector<RowBlock>& blocks,
                          const std::function<double(std::size_t)>& value_of) {
  const auto& rows = watched_->log->rows;
  auto [from, to] = in_view();
  from = from > 0 ? from - 1 : 0;
  to = std::min(to + 1, rows.size());
  const std::size_t bundle = std::max<std::size_t>(1, (to - from) / most_drawn);
  const double gap = gap_periods * watched_->log->period_s;
  QVector<double> x, y;
  double last = std::nan("");
  const auto put = [&](double at, double value) { x << at, y << value; };
  if (bundle >= rows_in_block && !blocks.empty()) {  // from the blocks that were looked through once
    const std::size_t many = bundle / rows_in_block, end = std::min((to - 1) / rows_in_block + 1, blocks.size());
    for (std::size_t block = from / rows_in_block; block < end; block += many) {
      RowBlock all = blocks[block];
      for (std::size_t k = block + 1; k < std::min(block + many, end); ++k) {
        const RowBlock& next = blocks[k];
        all.values.low = std::min(all.values.low, next.values.low);
        all.values.high = std::max(all.values.high, next.values.high);
        all.has_gap = all.has_gap || next.has_gap || next.first - all.last > gap;
        if (!std::isfinite(all.first)) all.first = next.first;
        if (std::isfinite(next.last)) all.last = next.last;
      }
      if (all.first - last > gap) put(last + watched_->log->period_s, std::nan(""));
      last = std::isfinite(all.last) ? all.last : last;
      if (!(all.values.low <= all.values.high)) continue;
      put(all.first, all.values.low);
      if (all.values.high > all.values.low) put(all.first, all.values.high);
      if (all.has_gap) put(all.last, std::nan(""));
    }
    graph.setData(x, y, watched_->is_in_order);
    return;
  }
  for (std::size_t i = from; i < to; i += bundle) {
    double low = std::numeric_limits<double>::infinity(), high = -low, at = std::nan("");
    for (std::size_t k = i; k < std::min(i + bundle, to); ++k) {
      if (!std::isfinite(rows[k].seconds)) continue;
      if (rows[k].seconds - last > gap) put(last + watched_->log->period_s, std::nan(""));
      last = rows[k].seconds;
      if (!std::isfinite(at)) at = last;
      const double value = value_of(k);
      if (bundle == 1 && !std::isfinite(value)) put(at, std::nan(""));
      if (std::isfinite(value)) low = std::min(low, value), high = std::max(high, value);
    }
    if (!(low <= high)) continue;
    put(at, low);
    if (high > low) put(at, high);
  }
  graph.setData(x, y, watched_->is_in_order);
}

void LogPlot::draw_courses() {
  if (!watched_ || watched_->log->rows.empty() || plot_->graphCount() == 0) return;
  draw_course(*plot_->graph(0), *watched_->blocks, [this](std::size_t i) { return watched_->log->rows[i].reading; });
  if (plot_->graphCount() > 1)
    draw_course(*plot_->graph(1), filtered_blocks_, [this](std::size_t i) { return filtered_[i]; });
}

// What was written down while it was recorded: a line at its moment, with its words along it.
void LogPlot::draw_happened() {
  std::size_t drawn = 0;
  for (const RecordingEvent& event : watched_->happened) {
    if (event.kind != "note" && event.kind != "disconnected" && event.kind != "bench") continue;
    if (++drawn > most_marks) break;
    const QColor& ink = event.kind == "note" ? theme_.colours().accent : theme_.colours().quiet;
    auto* line = new QCPItemStraightLine(plot_);
    line->setPen(QPen(ink, 1, Qt::DotLine));
    line->point1->setCoords(event.seconds, 0), line->point2->setCoords(event.seconds, 1);
    auto* words = new QCPItemText(plot_);
    QString text = text_of(event.kind == "disconnected" ? std::string_view("line lost") : event.words);
    if (text.size() > 40) text = text.left(39) + QStringLiteral("…");
    words->setText(text);
    words->setFont(theme_.font(Face::small));
    words->setColor(ink);
    words->setRotation(-90);
    words->setPositionAlignment(Qt::AlignRight | Qt::AlignBottom);
    words->position->setTypeY(QCPItemPosition::ptAxisRectRatio);
    words->position->setCoords(event.seconds, 0.03);
  }
}

// Both edges of the band: straight across, or by the goals of the day.
void LogPlot::draw_limits() {
  const auto& rows = watched_->log->rows;
  const QPen pen(theme_.colours().second, 1, Qt::DashLine);
  if (rule_->schedule.empty()) {
    for (const double limit : {rule_->goal - rule_->band, rule_->goal + rule_->band}) {
      auto* line = new QCPItemStraightLine(plot_);
      line->setPen(pen);
      line->point1->setCoords(0, limit), line->point2->setCoords(1, limit);
    }
    return;
  }
  constexpr double day_s = 86'400;
  constexpr int most_pieces = 400;
  int pieces = 0;
  // Counted: a log may hold any time, also one to which a day more is none.
  const double begin = std::floor(rows.front().seconds / day_s) * day_s - day_s;
  for (int d = 0; d < most_pieces && begin + d * day_s < rows.back().seconds; ++d)
    for (std::size_t i = 0; i < rule_->schedule.size() && pieces < most_pieces; ++i) {
      const double day = begin + d * day_s;
      const double from = std::max(day + rule_->schedule[i].at_s, rows.front().seconds);
      const double next = i + 1 < rule_->schedule.size() ? day + rule_->schedule[i + 1].at_s
                                                         : day + day_s + rule_->schedule.front().at_s;
      const double to = std::min(next, rows.back().seconds);
      if (!(to > from)) continue;
      for (const double off : {-rule_->band, rule_->band}) {
        auto* line = new QCPItemLine(plot_);
        line->setPen(pen);
        line->start->setCoords(from, rule_->schedule[i].goal + off);
        line->end->setCoords(to, rule_->schedule[i].goal + off);
        ++pieces;
      }
    }
}

void LogPlot::draw() {
  const Colours& colours = theme_.colours();
  style_plot(*plot_, theme_);
  plot_->clearPlottables();
  plot_->clearItems();
  if (!watched_ || watched_->log->rows.empty()) {
    plot_->xAxis->setLabel({});
    plot_->yAxis->setLabel({});
    plot_->replot(QCustomPlot::rpQueuedReplot);
    return;
  }
  const auto& rows = watched_->log->rows;
  const Unit& shown = *watched_->chain.shown;
  const Channel& channel = watched_->chain.channel;
  const auto band = [&](double from, double to, const QColor& fill, bool across) {
    auto* item = new QCPItemRect(plot_);
    item->setLayer(QStringLiteral("background"));
    item->setPen(Qt::NoPen);
    item->setBrush(fill);
    for (auto* corner : {item->topLeft, item->bottomRight})
      across ? corner->setTypeX(QCPItemPosition::ptAxisRectRatio) : corner->setTypeY(QCPItemPosition::ptAxisRectRatio);
    if (across)
      item->topLeft->setCoords(0, from), item->bottomRight->setCoords(1, to);
    else
      item->topLeft->setCoords(from, 0), item->bottomRight->setCoords(to, 1);
  };
  const auto label = [&](double x, double y, const QString& words, const QColor& ink, Qt::Alignment where,
                         bool across = false) {
    auto* item = new QCPItemText(plot_);
    item->setText(words);
    item->setFont(theme_.font(Face::small));
    item->setColor(ink);
    item->setPositionAlignment(where);
    if (across) item->position->setTypeX(QCPItemPosition::ptAxisRectRatio);
    item->position->setTypeY(QCPItemPosition::ptAxisRectRatio);
    item->position->setCoords(x, y);
  };
  band(shown.from_base(channel.wanted.from), shown.from_base(channel.wanted.to), colours.tint, true);
  label(0.01, rule_ ? 0.01 : 0.99, tr("shaded: wanted range"), colours.quiet,
        Qt::AlignLeft | (rule_ ? Qt::AlignTop : Qt::AlignBottom), true);
  plot_->addGraph()->setPen(QPen(filtered_.empty() ? colours.accent : colours.quiet, filtered_.empty() ? 1.6 : 1));
  if (filtered_.size() == rows.size()) {
    plot_->addGraph()->setPen(QPen(colours.second, 2));
    label(0.99, 0.02, filtered_name_, colours.second, Qt::AlignRight | Qt::AlignTop, true);
  }
  std::size_t marks = 0;
  double last_label = -1e300;
  const double span = std::max(rows.back().seconds - rows.front().seconds, watched_->log->period_s);
  if (!rule_ && filtered_.empty())
    for (const LogEvent& event : watched_->review.events) {
      if (++marks > most_marks) break;
      const QColor ink = is_grave(event.kind) ? colours.red : colours.amber;
      QColor fill = ink;
      fill.setAlpha(46);
      const double from = at(event.from_row), to = std::max(at(event.to_row), from + span * 0.002);
      band(from, to, fill, false);
      if (from - last_label > span * 0.12) {  // names that would lie on one another are left out
        const bool at_end = from > rows.back().seconds - span * 0.12;
        label(from, 0.01, name_of(event.kind), ink, (at_end ? Qt::AlignRight : Qt::AlignLeft) | Qt::AlignTop);
        last_label = from;
      }
    }
  if (watched_->is_dated) draw_happened();
  if (rule_ && on_.size() == rows.size()) {
    draw_limits();
    QColor fill = colours.second;
    fill.setAlpha(60);
    for (std::size_t i = 0; i < rows.size();) {
      std::size_t end = i;
      while (end < rows.size() && on_[end] == on_[i]) ++end;
      if (on_[i]) {
        auto* item = new QCPItemRect(plot_);
        item->setLayer(QStringLiteral("background"));
        item->setPen(Qt::NoPen);
        item->setBrush(fill);
        item->topLeft->setTypeY(QCPItemPosition::ptAxisRectRatio);
        item->bottomRight->setTypeY(QCPItemPosition::ptAxisRectRatio);
        item->topLeft->setCoords(rows[i].seconds, 0.94);
        item->bottomRight->setCoords(rows[std::min(end, rows.size() - 1)].seconds, 1);
      }
      i = end;
    }
    if (std::ranges::find(on_, true) != on_.end())
      label(0.01, 0.93, on_name_.isEmpty() ? tr("on") : on_name_, colours.second, Qt::AlignLeft | Qt::AlignBottom,
            true);
  }
  QSharedPointer<QCPAxisTicker> ticker;
  if (watched_->is_dated) {
    QSharedPointer<QCPAxisTickerDateTime> dates(new QCPAxisTickerDateTime);
    dates->setDateTimeSpec(Qt::UTC);
    dates->setDateTimeFormat(span > 10 * 86400 ? QStringLiteral("d MMM")
                             : span > 86400    ? QStringLiteral("d MMM HH:mm")
                             : span > 900      ? QStringLiteral("HH:mm")
                                               : QStringLiteral("HH:mm:ss"));
    ticker = dates;
    plot_->xAxis->setLabel(tr("time, UTC"));
  } else {
    QSharedPointer<QCPAxisTickerTime> times(new QCPAxisTickerTime);
    times->setTimeFormat(span > 2 * 86400 ? QStringLiteral("%d d %h h")
                         : span > 7200    ? QStringLiteral("%h:%m h")
                                          : QStringLiteral("%m:%s"));
    ticker = times;
    plot_->xAxis->setLabel(rows.back().seconds <= 0 ? tr("time before the latest reading, min:s")
                                                    : tr("time since the beginning"));
  }
  ticker->setTickCount(std::clamp(plot_->width() / theme_.px(130), 2, 7));
  plot_->xAxis->setTicker(ticker);
  plot_->yAxis->setLabel(tr("%1, %2").arg(text_of(enum_name(channel.quantity)), text_of(shown.symbol)));
  if (whole_) plot_->xAxis->setRange(rows.front().seconds, rows.back().seconds + span * 0.01);
  draw_courses();
  fit_values();
  plot_->replot(QCustomPlot::rpQueuedReplot);
}

// The values in view fill the height; not by less than a few steps, or noise looks like weather.
void LogPlot::fit_values() {
  if (!watched_) return;
  double low = std::numeric_limits<double>::infinity(), high = -low;
  // What is not plausible is marked, and does not squeeze the rest; by itself it is shown as well.
  for (const bool plausible : {true, false}) {
    if (plot_->graphCount() > 0)
      for (const QCPGraphData& point : *plot_->graph(0)->data()) {
        const double value = point.value;
        if (!std::isfinite(value) ||
            (plausible && (value < watched_->plausible.from || value > watched_->plausible.to)))
          continue;
        low = std::min(low, value), high = std::max(high, value);
      }
    if (low <= high) break;
  }
  if (rule_) {
    std::vector<double> goals;
    for (const DayGoal& each : rule_->schedule) goals.push_back(each.goal);
    if (goals.empty()) goals.push_back(rule_->goal);
    for (const double goal : goals) low = std::min(low, goal - rule_->band), high = std::max(high, goal + rule_->band);
  }
  if (!(low <= high)) return;
  const double least = watched_->review.noise_steps > 0 ? 8 * watched_->review.noise / watched_->review.noise_steps
                                                        : 0.1 * watched_->chain.channel.tolerance;
  const double middle = (low + high) / 2, half = std::max(high - low, least) * 0.62;
  plot_->yAxis->setRange(middle - half, middle + half);
}

bool LogPlot::eventFilter(QObject* object, QEvent* event) {
  if (object == plot_ && (event->type() == QEvent::Wheel || event->type() == QEvent::MouseButtonPress)) whole_ = false;
  return QWidget::eventFilter(object, event);
}

}  // namespace fair_gauge::app

#include "moc_log_plot.cpp"
