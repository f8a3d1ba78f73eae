#include "watch/log_lanes.h"

#include <qcustomplot.h>

#include <algorithm>
#include <cmath>

#include "quantity/number_format.h"
#include "widgets/plot_style.h"
#include "widgets/text.h"

namespace fair_gauge::app {
namespace {

constexpr std::size_t most_drawn = 2000;  // bundles of rows: more than a plot is pixels wide

QString unit_words(const Unit& unit, bool is_difference) {
  return text_of(is_difference ? difference_symbol(unit) : std::string(unit.symbol));
}

// The lowest and highest of what is drawn; what is not plausible counts only where there is nothing else.
void extremes(const QCPGraph& graph, const Range& plausible, double& low, double& high) {
  for (const bool only_plausible : {true, false}) {
    double least = std::numeric_limits<double>::infinity(), most = -least;
    for (const QCPGraphData& point : *graph.data()) {
      const double value = point.value;
      if (!std::isfinite(value) || (only_plausible && (value < plausible.from || value > plausible.to))) continue;
      least = std::min(least, value), most = std::max(most, value);
    }
    if (!(least <= most)) continue;
    low = std::min(low, least), high = std::max(high, most);
    return;
  }
}

// As little as fills an axis: noise must not look like weather.
double least_span(const Watched& watched) { return 0.1 * watched.chain.channel.tolerance / watched.chain.shown->scale; }

// Which lane a channel has and which side of it: 0 is left.
struct LanePlace {
  std::size_t lane, side;
};

// Of those beside the chosen one, and how many lanes that makes. A lane has room for two units.
std::pair<std::vector<LanePlace>, std::size_t> places_of(const Watched& chosen, Arrangement arrangement) {
  std::vector<LanePlace> places;
  std::vector<std::vector<const Unit*>> units = {{chosen.chain.shown}};
  for (const auto& other : chosen.beside) {
    const Unit* unit = other->chain.shown;
    if (arrangement == Arrangement::lanes) {
      places.push_back({units.size(), 0});
      units.push_back({unit});
      continue;
    }
    std::optional<LanePlace> place;
    for (std::size_t lane = 0; lane < units.size() && !place; ++lane)
      for (std::size_t side = 0; side < units[lane].size() && !place; ++side)
        if (units[lane][side] == unit) place = {lane, side};
    for (std::size_t lane = 0; lane < units.size() && !place; ++lane)
      if (units[lane].size() == 1) {
        units[lane].push_back(unit);
        place = {lane, 1};
      }
    if (!place) {
      place = {units.size(), 0};
      units.push_back({unit});
    }
    places.push_back(*place);
  }
  return {places, units.size()};
}

}  // namespace

void draw_course(QCPGraph& graph, const Watched& watched, const std::vector<RowBlock>& blocks,
                 const std::function<double(std::size_t)>& value_of) {
  const auto& rows = watched.log->rows;
  const QCPRange range = graph.keyAxis()->range();
  auto [from, to] = watched.rows_in(range.lower, range.upper);
  from = from > 0 ? from - 1 : 0;
  to = std::min(to + 1, rows.size());
  const std::size_t bundle = std::max<std::size_t>(1, (to - from) / most_drawn);
  const double gap = gap_periods * watched.log->period_s;
  QVector<double> x, y;
  double last = std::nan("");
  const auto put = [&](double at, double value) { x << at, y << value; };
  if (bundle >= rows_in_block && !blocks.empty()) {  // from the blocks that were looked through once
    const std::size_t many = bundle / rows_in_block, end = std::min((to - 1) / rows_in_block + 1, blocks.size());
    for (std::size_t block = from / rows_in_block; block < end; block += many) {
      RowBlock all = blocks[block];
      for (std::size_t k = block + 1; k < std::min(block + many, end); ++k) {
        const RowBlock& next = blocks[k];
        all.low = std::min(all.low, next.low);
        all.high = std::max(all.high, next.high);
        all.has_gap = all.has_gap || next.has_gap || next.first - all.last > gap;
        if (!std::isfinite(all.first)) all.first = next.first;
        if (std::isfinite(next.last)) all.last = next.last;
      }
      if (all.first - last > gap) put(last + watched.log->period_s, std::nan(""));
      last = std::isfinite(all.last) ? all.last : last;
      if (!(all.low <= all.high)) continue;
      put(all.first, all.low);
      if (all.high > all.low) put(all.first, all.high);
      if (all.has_gap) put(all.last, std::nan(""));
    }
    graph.setData(x, y, watched.is_in_order);
    return;
  }
  for (std::size_t i = from; i < to; i += bundle) {
    double low = std::numeric_limits<double>::infinity(), high = -low, at = std::nan("");
    for (std::size_t k = i; k < std::min(i + bundle, to); ++k) {
      if (!std::isfinite(rows[k].seconds)) continue;
      if (rows[k].seconds - last > gap) put(last + watched.log->period_s, std::nan(""));
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
  graph.setData(x, y, watched.is_in_order);
}

LogLanes::LogLanes(QCustomPlot& plot, const Theme& theme) : plot_(plot), theme_(theme) {
  auto* left = new QCPMarginGroup(&plot_);
  plot_.axisRect()->setMarginGroup(QCP::msLeft | QCP::msRight, left);
  plot_.plotLayout()->setRowSpacing(6);
}

// Rectangles stay while their number does: one may be under the mouse.
void LogLanes::make_rects(std::size_t count) {
  while (rects_.size() > count) {
    plot_.plotLayout()->remove(rects_.back());
    plot_.plotLayout()->simplify();
    rects_.pop_back();
  }
  while (rects_.size() < count) {
    auto* rect = new QCPAxisRect(&plot_);
    rect->setRangeDrag(Qt::Horizontal);
    rect->setRangeZoom(Qt::Horizontal);
    for (QCPAxis* axis : rect->axes()) {
      axis->setLayer(QStringLiteral("axes"));
      axis->grid()->setLayer(QStringLiteral("grid"));
    }
    rect->setMarginGroup(QCP::msLeft | QCP::msRight, plot_.axisRect()->marginGroup(QCP::msLeft));
    plot_.plotLayout()->addElement(plot_.plotLayout()->rowCount(), 0, rect);
    // One time axis for all, whichever lane is dragged.
    QCPAxis* time = rect->axis(QCPAxis::atBottom);
    QObject::connect(plot_.xAxis, qOverload<const QCPRange&>(&QCPAxis::rangeChanged), time,
                     [time](const QCPRange& range) { time->setRange(range); });
    QObject::connect(time, qOverload<const QCPRange&>(&QCPAxis::rangeChanged), plot_.xAxis,
                     [axis = plot_.xAxis](const QCPRange& range) { axis->setRange(range); });
    rects_.push_back(rect);
  }
  for (QCPAxisRect* rect : rects_) {
    style_axes(*rect, theme_);
    rect->axis(QCPAxis::atBottom)->setRange(plot_.xAxis->range());
    for (const auto side : {QCPAxis::atBottom, QCPAxis::atLeft}) rect->axis(side)->grid()->setVisible(true);
    rect->axis(QCPAxis::atRight)->setVisible(false);
  }
}

void LogLanes::add(const std::shared_ptr<const Watched>& watched, const QString& words, QCPAxis& axis, const QPen& pen,
                   bool is_alone) {
  QCPGraph* graph = plot_.addGraph(axis.axisRect()->axis(QCPAxis::atBottom), &axis);
  graph->setPen(pen);
  graph->setName(words);
  auto* name = line_name(plot_, theme_, {}, is_alone ? theme_.colours().second : pen.color());
  name->setClipAxisRect(axis.axisRect());
  name->position->setAxisRect(axis.axisRect());
  lines_.push_back({watched, graph, &axis, name, words, is_alone, false});
}

void LogLanes::take_away() {
  forget();
  make_rects(0);
  plot_.yAxis2->setVisible(false);
}

void LogLanes::shade_wanted(const Chain& chain, QCPAxisRect& rect, QCPAxis& axis) {
  auto* wanted = new QCPItemRect(&plot_);
  wanted->setLayer(QStringLiteral("background"));
  wanted->setPen(Qt::NoPen);
  wanted->setBrush(theme_.colours().tint);
  wanted->setClipAxisRect(&rect);
  const Range& range = chain.channel.wanted;
  for (auto* corner : {wanted->topLeft, wanted->bottomRight}) {
    corner->setAxisRect(&rect);
    corner->setAxes(rect.axis(QCPAxis::atBottom), &axis);
    corner->setTypeX(QCPItemPosition::ptAxisRectRatio);
  }
  wanted->topLeft->setCoords(0, chain.shown->from_base(range.from));
  wanted->bottomRight->setCoords(1, chain.shown->from_base(range.to));
}

void LogLanes::draw(const std::shared_ptr<const Watched>& chosen, QCPGraph& own, Arrangement arrangement) {
  lines_.clear();
  const auto& others = chosen->beside;
  plot_.yAxis2->setVisible(false);
  const auto [places, lanes] = places_of(*chosen, arrangement);
  const bool with_differences = arrangement == Arrangement::differences && !chosen->differences.empty();
  make_rects(lanes - 1 + (with_differences ? 1 : 0));
  const auto rect_of = [&](std::size_t lane) { return lane == 0 ? plot_.axisRect() : rects_[lane - 1]; };
  const auto side_of = [](QCPAxisRect& rect, std::size_t side) {
    QCPAxis* axis = rect.axis(side == 0 ? QCPAxis::atLeft : QCPAxis::atRight);
    if (side == 1) {
      axis->setVisible(true);
      axis->setTickLabels(true);
      axis->grid()->setVisible(false);
    }
    axis->ticker()->setTickCount(3);
    return axis;
  };
  if (!others.empty()) {  // its own name, once it is not the only one
    auto* name =
        line_name(plot_, theme_, {}, arrangement == Arrangement::lanes ? theme_.colours().second : own.pen().color());
    lines_.push_back({chosen, &own, plot_.yAxis, name, chosen->name(), arrangement == Arrangement::lanes, true});
  }
  for (std::size_t i = 0; i < others.size(); ++i) {
    QCPAxisRect& rect = *rect_of(places[i].lane);
    QCPAxis* axis = side_of(rect, places[i].side);
    const Unit& unit = *others[i]->chain.shown;
    if (axis != plot_.yAxis) axis->setLabel(unit_words(unit, false));
    const bool is_alone = arrangement == Arrangement::lanes;
    if (is_alone) shade_wanted(others[i]->chain, rect, *axis);
    add(others[i], others[i]->name(), *axis, line_pen(theme_.colours(), is_alone ? 0 : i + 1), is_alone);
  }
  if (with_differences) {
    QCPAxis* axis = side_of(*rects_.back(), 0);
    axis->setLabel(unit_words(*chosen->chain.shown, true));
    for (const auto& each : chosen->differences) {  // in the pen of its channel
      const auto of =
          std::ranges::find(others, each->chain.channel.id,
                            [](const std::shared_ptr<const Watched>& other) { return other->chain.channel.id; });
      add(each, tr("%1 above %2").arg(each->name(), chosen->name()), *axis,
          line_pen(theme_.colours(), static_cast<std::size_t>(of - others.begin()) + 1));
    }
  }
}

void LogLanes::draw_courses() {
  for (const Line& line : lines_)
    if (!line.is_own)
      draw_course(*line.graph, *line.watched, *line.watched->blocks,
                  [&rows = line.watched->log->rows](std::size_t i) { return rows[i].reading; });
}

void LogLanes::extend(double& low, double& high) const {
  for (const Line& line : lines_)
    if (!line.is_own && line.axis == plot_.yAxis) extremes(*line.graph, line.watched->plausible, low, high);
}

void LogLanes::fit(const NumberStyle& style) {
  std::vector<QCPAxis*> done = {plot_.yAxis};  // the caller's
  for (const Line& line : lines_) {
    if (std::ranges::find(done, line.axis) != done.end()) continue;
    done.push_back(line.axis);
    double low = std::numeric_limits<double>::infinity(), high = -low, least = 0;
    for (const Line& other : lines_)
      if (other.axis == line.axis) {
        extremes(*other.graph, other.watched->plausible, low, high);
        least = std::max(least, least_span(*other.watched));
      }
    if (!(low <= high)) continue;
    const double middle = (low + high) / 2, half = std::max(high - low, least) * 0.62;
    line.axis->setRange(middle - half, middle + half);
  }
  for (const Line& line : lines_)
    if (line.is_alone) {
      double low = std::numeric_limits<double>::infinity(), high = -low;
      extremes(*line.graph, line.watched->plausible, low, high);
      const Unit& unit = *line.watched->chain.shown;
      const int decimals = std::clamp(decimals_for(std::max(high - low, least_span(*line.watched)) / 20), 0, 4);
      line.name->setText(low <= high ? tr("%1   %2 to %3")
                                           .arg(line.words, text_of(fixed(low, decimals, style)),
                                                text_of(with_unit(high, decimals, unit.symbol, style)))
                                     : tr("%1   no reading in view").arg(line.words));
      line.name->setPositionAlignment(Qt::AlignLeft | Qt::AlignTop);
      line.name->position->setCoords(0.005, 0.02);
    } else {
      line.name->setText(line.words);
    }
  fit_names(*plot_.axisRect());
  for (const QCPAxisRect* rect : rects_) fit_names(*rect);
}

// Names of lines that share a lane stand at their right ends, one below the other where they would touch.
void LogLanes::fit_names(const QCPAxisRect& rect) {
  std::vector<std::pair<double, QCPItemText*>> names;  // place from the top, 0 to 1
  for (const Line& line : lines_) {
    if (line.is_alone || line.axis->axisRect() != &rect) continue;
    double last = std::nan("");
    for (const QCPGraphData& point : *line.graph->data())
      if (std::isfinite(point.value) && point.key <= line.graph->keyAxis()->range().upper) last = point.value;
    const QCPRange range = line.axis->range();
    names.emplace_back(std::isfinite(last) ? std::clamp((range.upper - last) / range.size(), 0.0, 1.0) : 1, line.name);
  }
  stand_apart(std::move(names), rect, theme_);
}

void LogLanes::share_time_axis() {
  const QCPAxis& first = *plot_.xAxis;
  for (QCPAxisRect* rect : rects_) {
    QCPAxis* time = rect->axis(QCPAxis::atBottom);
    const bool is_last = rect == rects_.back();
    time->setTicker(first.ticker());
    time->setTickLabels(is_last);
    time->setLabel(is_last ? first.label() : QString());
  }
  plot_.xAxis->setTickLabels(rects_.empty());
  if (!rects_.empty()) plot_.xAxis->setLabel({});
}

void LogLanes::shade(double from, double to, const QColor& fill) {
  std::vector<QCPAxisRect*> all = {plot_.axisRect()};
  all.insert(all.end(), rects_.begin(), rects_.end());
  for (QCPAxisRect* rect : all) {
    auto* item = new QCPItemRect(&plot_);
    item->setLayer(QStringLiteral("background"));
    item->setPen(Qt::NoPen);
    item->setBrush(fill);
    item->setClipAxisRect(rect);
    for (auto* corner : {item->topLeft, item->bottomRight}) {
      corner->setAxisRect(rect);
      corner->setAxes(rect->axis(QCPAxis::atBottom), rect->axis(QCPAxis::atLeft));
      corner->setTypeY(QCPItemPosition::ptAxisRectRatio);
    }
    item->topLeft->setCoords(from, 0);
    item->bottomRight->setCoords(to, 1);
  }
}

}  // namespace fair_gauge::app
