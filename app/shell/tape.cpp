#include "shell/tape.h"

#include <QPainter>

#include <algorithm>
#include <cmath>
#include <utility>

#include "bench/bench_things.h"
#include "stream/channel_log.h"
#include "truth/stability.h"

namespace fair_gauge::app {
namespace {

// How far apart neighbours usually are: the median of some hundreds of them, or where they come all at once the mean.
double usual_step(const std::vector<QPointF>& points) {
  constexpr std::size_t enough = 500;
  std::vector<double> steps;
  for (std::size_t i = 1; i < points.size(); i += 1 + points.size() / enough)
    steps.push_back(points[i].x() - points[i - 1].x());
  const auto middle = steps.begin() + static_cast<std::ptrdiff_t>(steps.size() / 2);
  std::nth_element(steps.begin(), middle, steps.end());
  return std::max(*middle, (points.back().x() - points.front().x()) / static_cast<double>(points.size() - 1));
}

// Two readings or more as a line, one as a point.
void draw_stretch(QPainter& painter, const QPolygonF& line) {
  if (line.size() == 1) painter.drawPoint(line.front());
  painter.drawPolyline(line);
}

}  // namespace

Tape::Tape(const Theme& theme, Workbench& workbench, QWidget* parent)
    : QWidget(parent), theme_(theme), workbench_(workbench) {
  setObjectName(QStringLiteral("tape"));
  setAttribute(Qt::WA_StyledBackground);
  value_ = new Text(theme, Face::number);
  value_->setObjectName(QStringLiteral("tape_value"));
  noise_ = new Text(theme, Face::small, {}, Tint::quiet);
  steps_ = new Text(theme, Face::small, {}, Tint::quiet);
  auto* left = column(2);
  left->addWidget(new Text(theme, Face::strong, tr("Tape")));
  left->addWidget(new Text(theme, Face::small, tr("last 10 minutes"), Tint::quiet));
  left->addWidget(value_);
  left->addStretch();
  auto* right = column(2);
  right->addStretch();
  right->addWidget(noise_);
  right->addWidget(steps_);
  right->addStretch();
  auto* left_box = new QWidget;
  left_box->setLayout(left);
  left_box->setFixedWidth(theme.column_px(180));
  auto* right_box = new QWidget;
  right_box->setLayout(right);
  right_box->setFixedWidth(theme.column_px(140));
  trace_ = new QWidget;
  trace_->setObjectName(QStringLiteral("tape_trace"));
  auto* all = row(16);
  all->setContentsMargins(16, 8, 16, 8);
  all->addWidget(left_box);
  all->addWidget(trace_, 1);
  all->addWidget(right_box);
  setLayout(all);
  setFixedHeight(theme.column_px(88));
  connect(&theme, &Theme::changed, this, [this, left_box, right_box] {
    setFixedHeight(theme_.column_px(88));
    left_box->setFixedWidth(theme_.column_px(180));
    right_box->setFixedWidth(theme_.column_px(140));
    update();
  });
  connect(&workbench, &Workbench::values_changed, this, &Tape::refresh);
  connect(&workbench, &Workbench::selection_changed, this, &Tape::refresh);
  refresh();
}

void Tape::refresh() {
  if (!isVisible()) return;
  const auto before = std::exchange(points_, {});
  const ChannelView& view = workbench_.chosen();
  const auto& samples = workbench_.samples(workbench_.channel_id());
  if (!view.chain || samples.empty()) {
    for (Text* text : {value_, noise_, steps_}) text->clear();
  } else {
    const double now = samples.back().seconds;
    for (const auto& [seconds, reading] : workbench_.past(workbench_.channel_id()))
      if (seconds >= now - tape_seconds) points_.emplace_back(seconds - now, view.chain->shown->from_base(reading));
    const auto latest = read_raw(*view.chain, samples.back().raw);
    const Unit& shown = *view.chain->shown;
    value_->setText(latest ? text_of(with_unit(shown.from_base(*latest), Workbench::decimals_of(view), shown.symbol,
                                               workbench_.style()))
                           : QStringLiteral("–"));
    const QString stalled = view.stalled();
    value_->set_tint(stalled.isEmpty() ? Tint::ink : Tint::red);
    if (!stalled.isEmpty()) value_->setText(stalled);
    std::vector<double> readings;
    for (const QPointF& point : points_) readings.push_back(point.y());
    const double noise = neighbour_scatter(readings);
    if (std::isfinite(noise) && view.budget) {
      const double step = view.budget->step / shown.scale;
      noise_->setText(
          tr("scatter %1 %2")
              .arg(text_of(fixed(noise, decimals_for(noise), workbench_.style())), text_of(difference_symbol(shown))));
      steps_->setText(tr("%1 steps rms").arg(text_of(fixed(noise / step, 1, workbench_.style()))));
    }
  }
  if (points_ != before || points_.size() < 2) update();
}

void Tape::showEvent(QShowEvent* event) {
  QWidget::showEvent(event);
  refresh();
}

void Tape::paintEvent(QPaintEvent* event) {
  QWidget::paintEvent(event);
  QPainter painter(this);
  const Colours& colours = theme_.colours();
  painter.setPen(colours.rule);
  painter.drawLine(0, 0, width(), 0);
  const QRectF area = QRectF(trace_->geometry()).adjusted(0, 2, 0, -2);
  if (points_.size() < 2) {
    const Channel* channel = workbench_.chosen().channel;
    const bool is_bare = channel && lacks_sensor(*channel) && workbench_.is_listening();
    painter.setPen(colours.quiet);
    painter.setFont(theme_.font(Face::small));
    painter.drawText(area, Qt::AlignVCenter | Qt::AlignLeft | Qt::TextWordWrap,
                     is_bare ? tr("Its numbers come, and nobody has said which sensor makes them.")
                             : tr("No readings yet. Connect a board on the Read page, or run the simulation."));
    return;
  }
  const auto [low, high] = std::ranges::minmax(points_, {}, [](const QPointF& p) { return p.y(); });
  const ChannelView& view = workbench_.chosen();
  const double least = view.budget ? 6 * view.budget->step / view.chain->shown->scale : 1e-6;
  const double middle = (low.y() + high.y()) / 2;
  const double span = std::max(high.y() - low.y(), least) * 1.15;
  const double first = points_.front().x();
  painter.setRenderHint(QPainter::Antialiasing);
  painter.fillRect(area, colours.tint);
  const double label_width = theme_.px(76);
  const auto place = [&](const QPointF& p) {
    return QPointF(
        area.left() + label_width + (p.x() - first) / std::max(1e-9, -first) * (area.width() - label_width - 4),
        area.center().y() - (p.y() - middle) / span * area.height());
  };
  // Four times a second: of the readings of a column of pixels only the lowest and the highest are drawn, with the pen
  // that needs no outline.
  painter.setPen(QPen(colours.accent, 1));
  const double gap = gap_periods * usual_step(points_);
  const auto is_behind_gap = [&](std::size_t i) { return points_[i].x() - points_[i - 1].x() > gap; };
  QPolygonF line;
  for (std::size_t i = 0; i < points_.size();) {
    if (i > 0 && is_behind_gap(i)) draw_stretch(painter, std::exchange(line, {}));
    const QPointF begin = place(points_[i]);
    double top = begin.y(), bottom = begin.y(), end = begin.y();
    for (++i; i < points_.size(); ++i) {
      const QPointF next = place(points_[i]);
      if (std::floor(next.x()) > std::floor(begin.x()) || is_behind_gap(i)) break;
      end = next.y();
      top = std::min(top, end), bottom = std::max(bottom, end);
    }
    line << begin;
    if (top < std::min(begin.y(), end)) line << QPointF(begin.x(), top);
    if (bottom > std::max(begin.y(), end)) line << QPointF(begin.x(), bottom);
    if (end != begin.y()) line << QPointF(begin.x(), end);
  }
  draw_stretch(painter, line);
  painter.setBrush(colours.accent);
  painter.drawEllipse(place(points_.back()), 3, 3);
  painter.setFont(theme_.font(Face::code));
  painter.setPen(colours.quiet);
  const int decimals = decimals_for(span / 10);
  painter.drawText(area.adjusted(4, 1, -4, -1), Qt::AlignTop | Qt::AlignLeft,
                   text_of(with_unit(middle + span / 2, decimals, view.chain->shown->symbol, workbench_.style())));
  painter.drawText(area.adjusted(4, 1, -4, -1), Qt::AlignBottom | Qt::AlignLeft,
                   text_of(with_unit(middle - span / 2, decimals, view.chain->shown->symbol, workbench_.style())));
}

}  // namespace fair_gauge::app

#include "moc_tape.cpp"
