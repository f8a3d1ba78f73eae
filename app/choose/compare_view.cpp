#include "choose/compare_view.h"

#include <qcustomplot.h>

#include <QPainter>
#include <algorithm>

#include "widgets/plot_style.h"
#include "widgets/text.h"

namespace fair_gauge::app {
namespace {

QString told(const Candidate& candidate, int property) {
  if (!candidate.part->markings.empty()) return text_of(candidate.part->markings.front());
  return text_of(candidate.part->name).section(QStringLiteral(", "), property, property);
}

// Its marking, or the first of its properties that the others do not have: "thermistor", "B 3950 K".
QString short_name(const Candidate& candidate, const std::vector<Candidate>& among) {
  constexpr int most = 4;
  for (int property = 1; property <= most; ++property)
    if (!told(candidate, property).isEmpty() && std::ranges::none_of(among, [&](const Candidate& other) {
          return other.part != candidate.part && told(other, property) == told(candidate, property);
        }))
      return told(candidate, property);
  return told(candidate, 1);
}

}  // namespace

RangeBars::RangeBars(const Theme& theme, const NumberStyle& style, QWidget* parent)
    : QWidget(parent), theme_(theme), style_(style) {
  setSizePolicy(QSizePolicy::Expanding, QSizePolicy::Fixed);
  setAccessibleName(tr("Ranges of the candidates"));
}

void RangeBars::show_candidates(const Need& need, const std::vector<Candidate>& candidates) {
  need_ = need;
  bars_.clear();
  const Unit& unit = base_unit(need.quantity);
  QStringList words;
  for (const Candidate& candidate : candidates)
    if (const PartQuantity* quantity = candidate.part->measures(need.quantity)) {
      bars_.push_back({short_name(candidate, candidates), quantity->minimum, quantity->maximum});
      words << tr("%1 from %2 to %3")
                   .arg(short_name(candidate, candidates),
                        text_of(with_unit(quantity->minimum, 0, unit.symbol, style_)),
                        text_of(with_unit(quantity->maximum, 0, unit.symbol, style_)));
    }
  setToolTip(in_own_marks(words.join(QLatin1Char('\n'))));
  setAccessibleDescription(in_own_marks(words.join(QStringLiteral("; "))));
  updateGeometry();
  update();
}

QSize RangeBars::sizeHint() const { return {theme_.px(200), static_cast<int>(bars_.size()) * theme_.px(18)}; }

void RangeBars::paintEvent(QPaintEvent*) {
  if (bars_.empty()) return;
  QPainter painter(this);
  const Colours& colours = theme_.colours();
  double low = need_.from, high = need_.to;
  for (const Bar& bar : bars_) low = std::min(low, bar.from), high = std::max(high, bar.to);
  painter.setFont(theme_.font(Face::small));
  const int names = theme_.px(96), line = theme_.px(18);
  const auto x = [&](double value) { return names + (width() - names - theme_.px(8)) * (value - low) / (high - low); };
  painter.fillRect(QRectF(x(need_.from), 0, std::max(2.0, x(need_.to) - x(need_.from)), height()), colours.tint);
  const QFontMetrics metrics(painter.font());
  for (std::size_t i = 0; i < bars_.size(); ++i) {
    const int top = static_cast<int>(i) * line;
    painter.setPen(line_pen(colours, i).color());
    painter.drawText(QRect(0, top, names - theme_.px(8), line), Qt::AlignVCenter | Qt::AlignLeft,
                     metrics.elidedText(bars_[i].name, Qt::ElideRight, names - theme_.px(8)));
    painter.setPen(line_pen(colours, i));
    painter.drawLine(QPointF(x(bars_[i].from), top + 0.5 * line), QPointF(x(bars_[i].to), top + 0.5 * line));
  }
}

CompareView::CompareView(const Theme& theme, const NumberStyle& style, QWidget* parent)
    : QWidget(parent), theme_(theme), style_(style), background_(this) {
  tabs_ = new ViewTabs({tr("Over the range"), tr("Side by side")});
  connect(tabs_, &ViewTabs::chosen, this, &CompareView::show_view);
  plot_ = new QCustomPlot;
  plot_->setAccessibleName(tr("Candidates compared"));
  plot_->setObjectName(QStringLiteral("compare_plot"));
  plot_->setMinimumHeight(theme.px(180));
  auto* head = row(0);
  head->addWidget(tabs_);
  head->addStretch();
  auto* all = column(4);
  all->addLayout(head);
  all->addWidget(plot_, 1);
  ranges_ = new RangeBars(theme, style);
  all->addWidget(ranges_);
  setLayout(all);
  tabs_->mark(0);
  connect(&theme, &Theme::changed, this, &CompareView::redraw);
}

void CompareView::show_candidates(std::shared_ptr<const Catalogue> catalogue, const Need& need,
                                  std::vector<Candidate> candidates) {
  catalogue_ = std::move(catalogue);
  need_ = need;
  candidates_ = std::move(candidates);
  hour_ = {};
  ranges_->show_candidates(need_, candidates_);
  redraw();
}

void CompareView::show_view(int view) {
  view_ = view;
  tabs_->mark(view);
  redraw();
}

void CompareView::redraw() {
  plot_->clearGraphs();
  plot_->clearItems();
  style_plot(*plot_, theme_);
  view_ == 0 ? draw_errors() : draw_hour();
  QStringList words;
  for (const Candidate& candidate : candidates_)
    words << tr("%1: worst ±%2").arg(short_name(candidate, candidates_)).arg(candidate.worst, 0, 'g', 2);
  plot_->setAccessibleDescription(in_own_marks(words.join(QStringLiteral("; "))));
  plot_->replot(QCustomPlot::rpQueuedReplot);
}

void CompareView::draw_errors() {
  const Unit& unit = base_unit(need_.quantity);
  const Unit& across = usual_unit(dimension_of(need_.quantity), need_.to);
  const double from = across.from_base(need_.from), to = across.from_base(need_.to);
  plot_->xAxis->setLabel(text_of(across.symbol));
  plot_->yAxis->setLabel(tr("± %1, 95 %").arg(text_of(difference_symbol(unit))));
  plot_->xAxis->setRange(from, to);
  double top = need_.allowed * 1.25;
  for (const Candidate& candidate : candidates_) top = std::max(top, candidate.worst * 1.1);
  top = std::min(top, need_.allowed * 3);
  plot_->yAxis->setRange(0, top);
  auto* allowed = plot_->addGraph();
  allowed->setPen(QPen(theme_.colours().red, 1, Qt::DashLine));
  allowed->setData({from, to}, {need_.allowed, need_.allowed}, true);
  const auto label = [&](const QString& words, double x, double y, const QColor& ink, Qt::Alignment side) {
    auto* text = new QCPItemText(plot_);
    text->setText(words);
    text->setFont(theme_.font(Face::small));
    text->setColor(ink);
    text->setPositionAlignment(side);
    text->position->setCoords(x, y);
    text->setPadding(QMargins(4, 2, 4, 2));
    // Above the curves, on paper of its own, so that no line strikes it through.
    text->setLayer(QStringLiteral("overlay"));
    QColor paper = theme_.colours().sheet;
    paper.setAlpha(210);
    text->setBrush(paper);
  };
  label(tr("allowed"), from, need_.allowed, theme_.colours().red, Qt::AlignLeft | Qt::AlignBottom);
  for (std::size_t c = 0; c < candidates_.size(); ++c) {
    QVector<double> x, y;
    for (const ErrorAt& error : candidates_[c].errors) x << across.from_base(error.at), y << error.expanded;
    auto* graph = plot_->addGraph();
    graph->setPen(line_pen(theme_.colours(), c));
    graph->setData(x, y, true);
    // Names along their own curves, one further right than the other.
    const auto at = candidates_[c].errors.size() * (2 + c) / 6;
    if (at < candidates_[c].errors.size())
      label(short_name(candidates_[c], candidates_), across.from_base(candidates_[c].errors[at].at),
            std::min(candidates_[c].errors[at].expanded, top * 0.93), line_pen(theme_.colours(), c).color(),
            Qt::AlignHCenter | Qt::AlignBottom);
  }
}

void CompareView::draw_hour() {
  const Unit& unit = base_unit(need_.quantity);
  constexpr int samples = 600;
  if (hour_.seconds.empty() && !candidates_.empty() && !background_.is_running()) {
    background_.start(
        [catalogue = catalogue_, need = need_, candidates = candidates_](const std::atomic<bool>&) {
          std::vector<const Candidate*> pointers;
          for (const Candidate& candidate : candidates) pointers.push_back(&candidate);
          return run_side_by_side(*catalogue, need, pointers, 1, samples, 1);
        },
        [this](SideBySide hour) {
          hour_ = std::move(hour);
          if (view_ == 1) redraw();
        });
  }
  plot_->xAxis->setLabel(tr("minutes, simulated"));
  plot_->yAxis->setLabel(tr("reading − truth, %1").arg(text_of(difference_symbol(unit))));
  plot_->xAxis->setRange(0, 60);
  double reach = need_.allowed * 1.2;
  for (std::size_t c = 0; c < hour_.readings.size() && c < candidates_.size(); ++c) {
    QVector<double> x, y;
    for (std::size_t i = 0; i < hour_.seconds.size(); ++i) {
      const double off = hour_.readings[c][i] - hour_.truth[i];
      if (!std::isfinite(off)) continue;
      x << hour_.seconds[i] / 60;
      y << off;
      reach = std::max(reach, std::min(std::abs(off) * 1.15, need_.allowed * 3));
    }
    auto* graph = plot_->addGraph();
    QPen pen = line_pen(theme_.colours(), c);
    pen.setWidthF(1.2);
    graph->setPen(pen);
    graph->setData(x, y, true);
    if (y.isEmpty()) continue;
    auto* text = new QCPItemText(plot_);
    text->setText(short_name(candidates_[c], candidates_));
    text->setFont(theme_.font(Face::small));
    text->setColor(pen.color());
    text->setPositionAlignment(Qt::AlignRight | Qt::AlignBottom);
    text->setPadding(QMargins(4, 2, 4, 2));
    text->position->setCoords(60, y.back());
  }
  for (const double limit : {need_.allowed, -need_.allowed}) {
    auto* graph = plot_->addGraph();
    graph->setPen(QPen(theme_.colours().red, 1, Qt::DashLine));
    graph->setData({0, 60}, {limit, limit}, true);
  }
  plot_->yAxis->setRange(-reach, reach);
}

}  // namespace fair_gauge::app

#include "moc_compare_view.cpp"
