#include "watch/log_map.h"

#include <QKeyEvent>
#include <QPainter>

#include <algorithm>
#include <cmath>

#include "widgets/text.h"

namespace fair_gauge::app {

LogMap::LogMap(const Theme& theme, QWidget* parent) : QWidget(parent), theme_(theme) {
  setObjectName(QStringLiteral("log_map"));
  setAccessibleName(tr("All of the log, and the part in view"));
  setToolTip(tr("All of the log; drag what is in view, or press where to look"));
  setFocusPolicy(Qt::StrongFocus);
  setAttribute(Qt::WA_OpaquePaintEvent);
  setSizePolicy(QSizePolicy::Expanding, QSizePolicy::Fixed);
  connect(&theme, &Theme::changed, this, [this] { course_ = {}, updateGeometry(), update(); });
}

void LogMap::show_log(std::shared_ptr<const Watched> watched) {
  watched_ = std::move(watched);
  work_out();
}

void LogMap::show_view(double from, double to) {
  from_ = from, to_ = to;
  if (has_rows()) {
    const double whole = last_ - first_;
    const auto share = [&](double at) { return std::lround(100 * std::clamp((at - first_) / whole, 0.0, 1.0)); };
    if (const std::pair now(share(from), share(to)); now != told_) {
      told_ = now;
      setAccessibleDescription(tr("%1 to %2 % of it are in view").arg(now.first).arg(now.second));
    }
  }
  update();
}

double LogMap::x_of(double seconds) const { return (seconds - first_) / (last_ - first_) * (width() - 1); }
double LogMap::seconds_at(double x) const { return first_ + x / std::max(1, width() - 1) * (last_ - first_); }

// Rows one by one where there are few; of many the blocks that were looked through once.
void LogMap::work_out() {
  course_ = {};
  columns_.assign(static_cast<std::size_t>(std::max(1, width())), {});
  first_ = last_ = 0;
  if (!watched_ || watched_->log->rows.empty()) return update();
  // Times may be missing, out of order or all the same.
  double least = std::numeric_limits<double>::infinity(), most = -least;
  for (const LogReading& row : watched_->log->rows)
    if (std::isfinite(row.seconds)) least = std::min(least, row.seconds), most = std::max(most, row.seconds);
  if (most > least && std::isfinite(most - least)) first_ = least, last_ = most;
  if (!has_rows()) return update();
  const auto take = [&](double seconds, double low, double high) {
    if (!std::isfinite(seconds) || !(low <= high)) return;
    Column& column = columns_[static_cast<std::size_t>(std::clamp(x_of(seconds), 0.0, width() - 1.0))];
    column.low = std::min(column.low, low), column.high = std::max(column.high, high);
  };
  constexpr std::size_t few = 100'000;
  const auto& rows = watched_->log->rows;
  if (rows.size() <= few || !watched_->blocks || watched_->blocks->empty())
    for (const LogReading& row : rows) take(row.seconds, row.reading, row.reading);
  else
    for (const RowBlock& block : *watched_->blocks) take(block.first, block.low, block.high);
  update();
}

void LogMap::resizeEvent(QResizeEvent* event) {
  QWidget::resizeEvent(event);
  work_out();
}

// The course does not change while the view moves over it.
void LogMap::draw_course() {
  const double ratio = devicePixelRatioF();
  course_ = QPixmap(size() * ratio);
  course_.setDevicePixelRatio(ratio);
  course_.fill(Qt::transparent);
  if (!has_rows()) return;
  QPainter painter(&course_);
  Column all;
  for (const Column& column : columns_)  // what is not plausible does not squeeze the rest
    all.low = std::min(all.low, std::max(column.low, watched_->plausible.from)),
    all.high = std::max(all.high, std::min(column.high, watched_->plausible.to));
  const double room = std::max(all.high - all.low, 1e-12), top = 3, high = height() - 6;
  const auto y_of = [&](double value) { return top + high * (1 - std::clamp((value - all.low) / room, 0.0, 1.0)); };
  painter.setPen(theme_.colours().quiet);
  // Neighbours are joined, as long as they lie no further apart than a gap.
  const double gap = std::max(1.0, gap_periods * watched_->log->period_s / (last_ - first_) * (width() - 1) + 1);
  std::optional<QPointF> before;
  for (std::size_t x = 0; x < columns_.size(); ++x) {
    if (!(columns_[x].low <= columns_[x].high)) continue;
    const QPointF low(static_cast<double>(x), y_of(columns_[x].low)), high_end(low.x(), y_of(columns_[x].high));
    if (before && low.x() - before->x() <= gap) painter.drawLine(*before, low);
    painter.drawLine(low, high_end);
    before = high_end;
  }
}

void LogMap::paintEvent(QPaintEvent*) {
  QPainter painter(this);
  const Colours& colours = theme_.colours();
  painter.fillRect(rect(), colours.shade);
  if (hasFocus()) {
    painter.setPen(QPen(colours.accent, 2));
    painter.drawRect(QRectF(rect()).adjusted(1, 1, -1, -1));
  }
  if (!has_rows()) return;
  if (course_.isNull()) draw_course();
  const QRectF view(QPointF(std::clamp(x_of(from_), 0.0, width() - 4.0), 0.5),
                    QPointF(std::clamp(x_of(to_), 4.0, width() - 1.0), height() - 0.5));
  painter.fillRect(view, colours.sheet);
  painter.drawPixmap(0, 0, course_);
  painter.setPen(QPen(colours.accent, hasFocus() ? 3 : 1.6));
  painter.setBrush(Qt::NoBrush);
  painter.drawRect(view.adjusted(1, 1, -1, -1));
}

void LogMap::move_to(double from) {
  const double long_ = to_ - from_;
  from = std::clamp(from, first_, std::max(first_, last_ - long_));
  from_ = from, to_ = from + long_;
  emit view_wanted(from_, to_);
}

// Beside the view it is brought there first.
void LogMap::mousePressEvent(QMouseEvent* event) {
  if (!has_rows()) return;
  const double at = seconds_at(event->position().x());
  if (at < from_ || at > to_) {
    move_to(at - (to_ - from_) / 2);
    held_at_ = (to_ - from_) / 2;
  } else {
    held_at_ = at - from_;
  }
}

void LogMap::mouseMoveEvent(QMouseEvent* event) {
  if (has_rows() && event->buttons() & Qt::LeftButton) move_to(seconds_at(event->position().x()) - held_at_);
}

void LogMap::keyPressEvent(QKeyEvent* event) {
  if (!has_rows()) return QWidget::keyPressEvent(event);
  const double step = (to_ - from_) / 4;
  switch (event->key()) {
    case Qt::Key_Left: return move_to(from_ - step);
    case Qt::Key_Right: return move_to(from_ + step);
    case Qt::Key_Home: return move_to(first_);
    case Qt::Key_End: return move_to(last_);
    default: QWidget::keyPressEvent(event);
  }
}

}  // namespace fair_gauge::app

#include "moc_log_map.cpp"
