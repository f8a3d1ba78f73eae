#include "watch/log_plot.h"

#include <qcustomplot.h>

#include <QBuffer>
#include <QSvgGenerator>

#include <algorithm>
#include <cmath>

#include "language/translation.h"
#include "widgets/plot_style.h"
#include "widgets/text.h"

namespace fair_gauge::app {
namespace {

constexpr std::size_t most_marks = 60;

bool is_grave(EventKind kind) {
  return kind == EventKind::fault || kind == EventKind::not_a_number || kind == EventKind::power_on_default ||
         kind == EventKind::implausible;
}

QString name_of(EventKind kind) { return text_of(translated_name(kind)).replace(QLatin1Char('-'), QLatin1Char(' ')); }

}  // namespace

LogPlot::LogPlot(const Theme& theme, const NumberStyle& style, QWidget* parent)
    : QWidget(parent), theme_(theme), style_(style) {
  plot_ = new QCustomPlot;
  plot_->setObjectName(QStringLiteral("log_plot"));
  plot_->setAccessibleName(tr("Readings over time"));
  plot_->setToolTip(tr("The wheel zooms, dragging moves, with Shift it marks a span; a double click shows all of it"));
  plot_->setInteractions(QCP::iRangeDrag | QCP::iRangeZoom);
  plot_->axisRect()->setRangeDrag(Qt::Horizontal);
  plot_->axisRect()->setRangeZoom(Qt::Horizontal);
  plot_->setPlottingHint(QCP::phFastPolylines);
  plot_->setMinimumHeight(120);
  plot_->installEventFilter(this);
  lanes_ = std::make_unique<LogLanes>(*plot_, theme);
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
  if (!other && watched->clock != watched_->clock) keep_place(watched_->clock - watched->clock);
  watched_ = std::move(watched);
  if (other) whole_ = true;
  // A mark that no row is left of, as after another source was begun, is none.
  if (const auto [from, to] = looked_at(); other || from == to) marked_.reset();
  map_->show_log(watched_);
  draw();
}

// Of a session seconds are before the latest reading: what is looked at moves with its readings. A view that holds the
// latest stays at it.
void LogPlot::keep_place(double moved) {
  if (marked_) marked_->first += moved, marked_->second += moved;
  const QCPRange range = plot_->xAxis->range();
  if (!whole_ && range.upper < 0) plot_->xAxis->setRange(range.lower + moved, range.upper + moved);
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

std::string LogPlot::picture() const {
  constexpr double dots = 2;  // a printer's are finer than a screen's
  QByteArray png;
  QBuffer buffer(&png);
  plot_->toPixmap(plot_->width(), plot_->height(), dots).save(&buffer, "PNG");
  return png.toBase64().toStdString();
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
  return watched_->rows_in(plot_->xAxis->range().lower, plot_->xAxis->range().upper);
}

std::pair<std::size_t, std::size_t> LogPlot::looked_at() const {
  return watched_ && marked_ ? watched_->rows_in(marked_->first, marked_->second) : in_view();
}

void LogPlot::mark(std::optional<std::pair<double, double>> span) {
  if (span && span->first > span->second) std::swap(span->first, span->second);
  if (span == marked_) return;
  marked_ = span;
  draw();
  emit view_changed();
}

void LogPlot::mark_view() { mark(std::pair(plot_->xAxis->range().lower, plot_->xAxis->range().upper)); }

void LogPlot::arrange(Arrangement arrangement) {
  if (arrangement == arrangement_) return;
  arrangement_ = arrangement;
  draw();
}

void LogPlot::draw_courses() {
  if (!watched_ || watched_->log->rows.empty() || !own_) return;
  draw_course(*own_, *watched_, *watched_->blocks, [this](std::size_t i) { return watched_->log->rows[i].reading; });
  if (smooth_) draw_course(*smooth_, *watched_, filtered_blocks_, [this](std::size_t i) { return filtered_[i]; });
  lanes_->draw_courses();
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
    QString text = event.kind == "disconnected" ? tr("line lost") : text_of(event.words);
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

void LogPlot::draw_nothing() {
  lanes_->take_away();
  plot_->xAxis->setLabel({});
  plot_->yAxis->setLabel({});
  auto* words = new QCPItemText(plot_);
  words->setText(when_empty_);
  words->setFont(theme_.font(Face::text));
  words->setColor(theme_.colours().quiet);
  for (auto set : {&QCPItemPosition::setTypeX, &QCPItemPosition::setTypeY})
    (words->position->*set)(QCPItemPosition::ptAxisRectRatio);
  words->position->setCoords(0.5, 0.5);
}

// What is shaded lies under everything.
QCPItemRect* LogPlot::add_band(const QColor& fill) {
  auto* item = new QCPItemRect(plot_);
  item->setLayer(QStringLiteral("background"));
  item->setPen(Qt::NoPen);
  item->setBrush(fill);
  return item;
}

void LogPlot::shade_values(double from, double to, const QColor& fill) {
  QCPItemRect* item = add_band(fill);
  for (auto* corner : {item->topLeft, item->bottomRight}) corner->setTypeX(QCPItemPosition::ptAxisRectRatio);
  item->topLeft->setCoords(0, from), item->bottomRight->setCoords(1, to);
}

void LogPlot::shade_time(double from, double to, const QColor& fill, double top) {
  QCPItemRect* item = add_band(fill);
  for (auto* corner : {item->topLeft, item->bottomRight}) corner->setTypeY(QCPItemPosition::ptAxisRectRatio);
  item->topLeft->setCoords(from, top), item->bottomRight->setCoords(to, 1);
}

QCPItemText* LogPlot::add_label(double x, double y, const QString& words, const QColor& ink, Qt::Alignment where) {
  auto* item = new QCPItemText(plot_);
  item->setText(words);
  item->setFont(theme_.font(Face::small));
  item->setColor(ink);
  item->setPositionAlignment(where);
  item->position->setTypeY(QCPItemPosition::ptAxisRectRatio);
  item->position->setCoords(x, y);
  return item;
}

void LogPlot::add_note(double x, double y, const QString& words, const QColor& ink, Qt::Alignment where) {
  QCPItemText* item = add_label(x, y, words, ink, where);
  item->position->setTypeX(QCPItemPosition::ptAxisRectRatio);
  item->position->setCoords(x, y);
}

void LogPlot::draw_events(double span) {
  const Colours& colours = theme_.colours();
  const double last = watched_->log->rows.back().seconds;
  std::size_t marks = 0;
  double last_label = -1e300;
  for (const LogEvent& event : watched_->review.events) {
    if (++marks > most_marks) break;
    const QColor ink = is_grave(event.kind) ? colours.red : colours.amber;
    QColor fill = ink;
    fill.setAlpha(46);
    const double from = at(event.from_row), to = std::max(at(event.to_row), from + span * 0.002);
    shade_time(from, to, fill);
    if (from - last_label <= span * 0.12) continue;  // names that would lie on one another are left out
    const bool at_end = from > last - span * 0.12;
    add_label(from, 0.01, name_of(event.kind), ink, (at_end ? Qt::AlignRight : Qt::AlignLeft) | Qt::AlignTop);
    last_label = from;
  }
}

void LogPlot::draw_switched() {
  const auto& rows = watched_->log->rows;
  draw_limits();
  QColor fill = theme_.colours().second;
  fill.setAlpha(60);
  for (std::size_t i = 0; i < rows.size();) {
    std::size_t end = i;
    while (end < rows.size() && on_[end] == on_[i]) ++end;
    if (on_[i]) shade_time(rows[i].seconds, rows[std::min(end, rows.size() - 1)].seconds, fill, 0.94);
    i = end;
  }
  if (std::ranges::find(on_, true) != on_.end())
    add_note(0.01, 0.93, on_name_.isEmpty() ? tr("on") : on_name_, theme_.colours().second,
             Qt::AlignLeft | Qt::AlignBottom);
}

void LogPlot::write_times(double span) {
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
    plot_->xAxis->setLabel(watched_->log->rows.back().seconds <= 0 ? tr("time before the latest reading, min:s")
                                                                   : tr("time since the beginning"));
  }
  ticker->setTickCount(std::clamp(plot_->width() / theme_.px(130), 2, 7));
  plot_->xAxis->setTicker(ticker);
}

void LogPlot::draw() {
  style_plot(*plot_, theme_);
  lanes_->forget();
  own_ = smooth_ = nullptr;
  plot_->clearPlottables();
  plot_->clearItems();
  const bool is_empty = !watched_ || watched_->log->rows.empty();
  for (QCPAxis* axis : {plot_->xAxis, plot_->yAxis}) axis->setTickLabels(!is_empty);  // numbers of nothing
  is_empty ? draw_nothing() : draw_log();
  plot_->replot(QCustomPlot::rpQueuedReplot);
}

void LogPlot::draw_log() {
  const Colours& colours = theme_.colours();
  const auto& rows = watched_->log->rows;
  const Unit& shown = *watched_->chain.shown;
  const Channel& channel = watched_->chain.channel;
  shade_values(shown.from_base(channel.wanted.from), shown.from_base(channel.wanted.to), colours.tint);
  add_note(0.01, rule_ ? 0.01 : 0.99, tr("shaded: wanted range"), colours.quiet,
           Qt::AlignLeft | (rule_ ? Qt::AlignTop : Qt::AlignBottom));
  own_ = plot_->addGraph();
  own_->setPen(QPen(filtered_.empty() ? colours.accent : colours.quiet, filtered_.empty() ? 1.6 : 1));
  if (filtered_.size() == rows.size()) {
    smooth_ = plot_->addGraph();
    smooth_->setPen(QPen(colours.second, 2));
    add_note(0.99, 0.02, filtered_name_, colours.second, Qt::AlignRight | Qt::AlignTop);
  }
  const double span = std::max(rows.back().seconds - rows.front().seconds, watched_->log->period_s);
  if (!rule_ && filtered_.empty()) draw_events(span);
  if (watched_->is_dated) draw_happened();
  if (rule_ && on_.size() == rows.size()) draw_switched();
  write_times(span);
  lanes_->draw(watched_, *own_, arrangement_);
  plot_->yAxis->setLabel(lanes_->lanes() > 1
                             ? text_of(shown.symbol)
                             : tr("%1, %2").arg(text_of(translated_name(channel.quantity)), text_of(shown.symbol)));
  lanes_->share_time_axis();
  if (marked_) {
    QColor fill = colours.accent;
    fill.setAlpha(36);
    lanes_->shade(marked_->first, marked_->second, fill);
  }
  if (whole_) plot_->xAxis->setRange(rows.front().seconds, rows.back().seconds + span * 0.01);
  draw_courses();
  fit_values();
}

// The values in view fill the height; not by less than a few steps, or noise looks like weather.
void LogPlot::fit_values() {
  if (!watched_) return;
  double low = std::numeric_limits<double>::infinity(), high = -low;
  // What is not plausible is marked, and does not squeeze the rest; by itself it is shown as well.
  for (const bool plausible : {true, false}) {
    if (own_)
      for (const QCPGraphData& point : *own_->data()) {
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
  lanes_->extend(low, high);
  if (!(low <= high)) return lanes_->fit(style_);
  const double least = watched_->review.noise_steps > 0 ? 8 * watched_->review.noise / watched_->review.noise_steps
                                                        : 0.1 * watched_->chain.channel.tolerance;
  const double middle = (low + high) / 2, half = std::max(high - low, least) * 0.62;
  plot_->yAxis->setRange(middle - half, middle + half);
  lanes_->fit(style_);
}

// With Shift the mouse marks instead of moving.
bool LogPlot::mark_by_mouse(QEvent& event) {
  if (event.type() != QEvent::MouseButtonPress && event.type() != QEvent::MouseMove &&
      event.type() != QEvent::MouseButtonRelease)
    return false;
  const auto& mouse = static_cast<QMouseEvent&>(event);
  const double at = plot_->xAxis->pixelToCoord(mouse.position().x());
  if (event.type() == QEvent::MouseButtonPress) {
    if (!(mouse.modifiers() & Qt::ShiftModifier) || mouse.button() != Qt::LeftButton || !watched_) return false;
    marking_from_ = at;
    mark(std::nullopt);
    return true;
  }
  if (!marking_from_) return false;
  if (at != *marking_from_) mark(std::pair(*marking_from_, at));
  if (event.type() == QEvent::MouseButtonRelease) marking_from_.reset();
  return true;
}

bool LogPlot::eventFilter(QObject* object, QEvent* event) {
  if (object == plot_ && mark_by_mouse(*event)) return true;
  if (object == plot_ && (event->type() == QEvent::Wheel || event->type() == QEvent::MouseButtonPress)) whole_ = false;
  return QWidget::eventFilter(object, event);
}

}  // namespace fair_gauge::app

#include "moc_log_plot.cpp"
