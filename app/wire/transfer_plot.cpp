#include "wire/transfer_plot.h"

#include "widgets/plot_style.h"

#include <qcustomplot.h>

#include <QToolTip>
#include <algorithm>
#include <cmath>

#include "widgets/text.h"

namespace fair_gauge::app {
namespace {

constexpr int curve_points = 160;
constexpr double beside_wanted = 0.4;  // of the wanted range, shown on either side
constexpr double grab_pixels = 16;

}  // namespace

TransferPlot::TransferPlot(const Theme& theme, Workbench& workbench, QWidget* parent)
    : QWidget(parent), theme_(theme), workbench_(workbench) {
  plot_ = new QCustomPlot(this);
  auto* layout = column(0);
  layout->addWidget(plot_);
  setLayout(layout);
  setMinimumHeight(100);
  plot_->setAccessibleName(tr("Transfer of the chain. Drag the point, or type into the strip"));
  plot_->installEventFilter(this);
  plot_->setMouseTracking(true);
  plot_->yAxis2->setVisible(true);
  plot_->yAxis2->grid()->setVisible(false);
  wanted_ = new QCPItemRect(plot_);
  wanted_->setLayer(QStringLiteral("background"));
  wanted_->topLeft->setTypeY(QCPItemPosition::ptAxisRectRatio);
  wanted_->bottomRight->setTypeY(QCPItemPosition::ptAxisRectRatio);
  counts_ = plot_->addGraph(plot_->xAxis, plot_->yAxis);
  step_ = plot_->addGraph(plot_->xAxis, plot_->yAxis2);
  const auto label = [this](const QString& text) {
    auto* item = new QCPItemText(plot_);
    item->setText(text);
    item->setPositionAlignment(Qt::AlignLeft | Qt::AlignBottom);
    return item;
  };
  wanted_label_ = label(tr("wanted range"));
  wanted_label_->position->setTypeY(QCPItemPosition::ptAxisRectRatio);
  wanted_label_->setPositionAlignment(Qt::AlignLeft | Qt::AlignBottom);
  counts_label_ = label(tr("counts"));
  step_label_ = label(tr("one step"));
  step_label_->position->setAxes(plot_->xAxis, plot_->yAxis2);
  point_ = new QCPItemTracer(plot_);
  point_->setGraph(nullptr);
  point_->setLayer(QStringLiteral("overlay"));  // buffered by itself: a moved point does not draw the curves again
  point_->setStyle(QCPItemTracer::tsCircle);
  point_->setSize(13);
  style();
  connect(&theme, &Theme::changed, this, [this] {
    style();
    plot_->replot(QCustomPlot::rpQueuedReplot);
  });
  connect(&workbench, &Workbench::bench_changed, this, [this] { curves_due_ = true; });
  connect(&workbench, &Workbench::selection_changed, this, [this] {
    curves_due_ = true;
    refresh();
  });
  connect(&workbench, &Workbench::values_changed, this, &TransferPlot::refresh);
  refresh();
}

void TransferPlot::style() {
  const Colours& colours = theme_.colours();
  style_plot(*plot_, theme_);
  plot_->yAxis2->setTickLabelColor(colours.second);
  counts_->setPen(QPen(colours.accent, 2));
  step_->setPen(QPen(colours.second, 1.6, Qt::DashLine));
  wanted_->setPen(Qt::NoPen);
  wanted_->setBrush(colours.tint);
  wanted_label_->setFont(theme_.font(Face::small));
  wanted_label_->setColor(colours.quiet);
  counts_label_->setFont(theme_.font(Face::strong));
  counts_label_->setColor(colours.accent);
  step_label_->setFont(theme_.font(Face::strong));
  step_label_->setColor(colours.second);
  point_->setPen(QPen(colours.accent, 2.4));
  point_->setBrush(colours.sheet);
}

void TransferPlot::redraw_curves(const ChannelView& view) {
  const Chain& chain = *view.chain;
  const Range& wanted = view.channel->wanted;
  const double beside = (wanted.to - wanted.from) * beside_wanted;
  QVector<double> x, counts, steps;
  for (int i = 0; i <= curve_points; ++i) {
    const double world = wanted.from - beside + (wanted.to - wanted.from + 2 * beside) * i / curve_points;
    const auto raw = evaluate(chain, {StageName::world, world});
    const auto& code = raw[static_cast<std::size_t>(chain.code_stage() - chain.stages.data())];
    if (!code) continue;
    x << chain.shown->from_base(world);
    counts << *code;
    steps << step_at(chain, world) / chain.shown->scale;
  }
  counts_->setData(x, counts, true);
  step_->setData(x, steps, true);
  // What is wanted and what else it reads beside it: no light below none.
  double least = chain.shown->from_base(wanted.from), most_shown = chain.shown->from_base(wanted.to);
  if (!x.isEmpty()) least = std::min(least, x.front()), most_shown = std::max(most_shown, x.back());
  const double edge = 0.03 * (most_shown - least);
  plot_->xAxis->setRange(least - edge, most_shown + edge);
  if (chain.converter->lowest_code() < 0 ||
      chain.converter->counts_pulses()) {  // a few of very many codes: fit what is used
    const auto [low, high] = counts.isEmpty()
                                 ? std::pair{0.0, 1.0}
                                 : std::pair{*std::ranges::min_element(counts), *std::ranges::max_element(counts)};
    plot_->yAxis->setRange(low - 0.08 * (high - low), high + 0.08 * (high - low));
  } else {
    plot_->yAxis->setRange(0, chain.converter->largest_code() + 1);
  }
  double most = 0;
  for (const double step : steps)
    if (std::isfinite(step)) most = std::max(most, step);  // beyond its law there is none
  plot_->yAxis2->setRange(0, most > 0 ? most * 1.6 : 1);
  plot_->xAxis->setLabel(QString());
  const QString unit = text_of(chain.shown->symbol);
  plot_->xAxis->ticker()->setTickCount(std::clamp(width() / theme_.px(90), 2, 7));
  plot_->yAxis->ticker()->setTickCount(5);
  wanted_->topLeft->setCoords(chain.shown->from_base(wanted.from), 0);
  wanted_->bottomRight->setCoords(chain.shown->from_base(wanted.to), 1);
  // Where the counts are not: above a curve that rises, below one that falls.
  const bool rising = !counts.isEmpty() && counts.back() > counts.front();
  wanted_label_->setPositionAlignment(Qt::AlignLeft | (rising ? Qt::AlignTop : Qt::AlignBottom));
  wanted_label_->position->setCoords(chain.shown->from_base(wanted.from) + 0.01 * plot_->xAxis->range().size(),
                                     rising ? 0.02 : 0.98);
  const Stage* code = chain.code_stage();
  counts_label_->setText(!code->unit->symbol.empty()             ? tr("arrives, %1").arg(text_of(code->unit->symbol))
                         : chain.converter->counts() == "pulses" ? tr("pulses")
                                                                 : tr("counts"));
  step_label_->setText(tr("one step, %1").arg(text_of(difference_symbol(*chain.shown))));
  plot_->xAxis->setLabel(tr("%1, %2").arg(text_of(translated_name(view.channel->quantity)), unit));
  for (QCPItemText* label : {counts_label_, step_label_}) label->setVisible(!x.isEmpty());
  if (x.isEmpty()) return;
  const auto at_part = [&](double part) { return static_cast<qsizetype>(part * static_cast<double>(x.size() - 1)); };
  const auto left = at_part(rising ? 0.42 : 0.16);  // below the line of one step
  counts_label_->setPositionAlignment(rising ? Qt::AlignRight | Qt::AlignBottom : Qt::AlignLeft | Qt::AlignBottom);
  counts_label_->position->setCoords(x[left], counts[left] + 0.015 * plot_->yAxis->range().size());
  // Beside a curve that falls at first, above the end of one that rises.
  auto near_left = at_part(0.05), near_right = at_part(0.98);
  while (near_left < near_right && !std::isfinite(steps[near_left])) ++near_left;  // beyond its law there is none
  while (near_right > near_left && !std::isfinite(steps[near_right])) --near_right;
  const bool step_rises = steps[near_left + (near_right - near_left) / 4] > steps[near_left] * (1 + 1e-9);
  step_label_->setPositionAlignment(step_rises ? Qt::AlignRight | Qt::AlignBottom : Qt::AlignLeft | Qt::AlignBottom);
  if (step_rises)
    step_label_->position->setCoords(x[near_right], steps[near_right] + 0.02 * plot_->yAxis2->range().size());
  else
    step_label_->position->setCoords(x[near_left] + 0.02 * plot_->xAxis->range().size(), steps[near_left]);
}

void TransferPlot::showEvent(QShowEvent* event) {
  QWidget::showEvent(event);
  refresh();
}

void TransferPlot::refresh() {
  if (!isVisible()) return;
  const ChannelView& view = workbench_.chosen();
  counts_->setVisible(view.chain.has_value());
  step_->setVisible(view.chain.has_value());
  point_->setVisible(false);
  const bool curves_were_due = std::exchange(curves_due_, false);
  if (view.chain) {
    if (curves_were_due) redraw_curves(view);
    if (view.reading && view.raw) {
      const bool has_steps = view.chain->code_stage()->node == view.chain->converter_node;
      const double code = has_steps && view.chain->raw_node > view.chain->converter_node
                              ? view.chain->links[view.chain->converter_node]->inverse(*view.raw).value_or(0)
                              : *view.raw;
      point_->position->setCoords(view.chain->shown->from_base(*view.reading), code);
      point_->setVisible(true);
    }
  }
  if (curves_were_due)
    plot_->replot(QCustomPlot::rpQueuedReplot);
  else
    plot_->layer(QStringLiteral("overlay"))->replot();
}

QPointF TransferPlot::point_position() const { return plot_->pos() + point_->position->pixelPosition(); }

void TransferPlot::drag_to(double x_pixels) {
  const auto& chain = workbench_.chosen().chain;
  if (!chain) return;
  const QCPRange range = plot_->xAxis->range();
  const double shown = std::clamp(plot_->xAxis->pixelToCoord(x_pixels), range.lower, range.upper);
  workbench_.hold({StageName::world, chain->shown->to_base(shown)});
}

QString TransferPlot::values_at(double x_pixels) const {
  const ChannelView& view = workbench_.chosen();
  if (!view.chain) return {};
  const Unit& shown = *view.chain->shown;
  const double at = plot_->xAxis->pixelToCoord(x_pixels);
  const double world = shown.to_base(at);
  const auto values = evaluate(*view.chain, {StageName::world, world});
  const auto& code = values[static_cast<std::size_t>(view.chain->code_stage() - view.chain->stages.data())];
  const QString value =
      text_of(with_unit(at, decimals_for(plot_->xAxis->range().size() / 300), shown.symbol, workbench_.style()));
  if (!code) return tr("%1: %2").arg(value, text_of(to_text(code.problem())));
  const double step = step_at(*view.chain, world) / shown.scale;
  return tr("%1 gives %2 counts; one step is %3 %4")
      .arg(value, text_of(fixed(*code, 0, workbench_.style())),
           text_of(fixed(step, decimals_for(step), workbench_.style())), text_of(difference_symbol(shown)));
}

bool TransferPlot::eventFilter(QObject* object, QEvent* event) {
  if (object != plot_) return QWidget::eventFilter(object, event);
  if (event->type() == QEvent::MouseButtonPress) {
    const auto* mouse = static_cast<QMouseEvent*>(event);
    const QPointF away = mouse->position() - point_->position->pixelPosition();
    dragging_ = point_->visible() && std::hypot(away.x(), away.y()) < grab_pixels;
    if (!dragging_ && plot_->axisRect()->rect().contains(mouse->position().toPoint())) {
      dragging_ = true;
      drag_to(mouse->position().x());
    }
    return true;
  }
  if (event->type() == QEvent::MouseMove) {
    const auto* mouse = static_cast<QMouseEvent*>(event);
    if (dragging_)
      drag_to(mouse->position().x());
    else if (plot_->axisRect()->rect().contains(mouse->position().toPoint()))
      QToolTip::showText(mouse->globalPosition().toPoint(), values_at(mouse->position().x()), plot_);
    const QPointF away = mouse->position() - point_->position->pixelPosition();
    plot_->setCursor(dragging_ || (point_->visible() && std::hypot(away.x(), away.y()) < grab_pixels)
                         ? Qt::SizeHorCursor
                         : Qt::ArrowCursor);
    return true;
  }
  if (event->type() == QEvent::MouseButtonRelease) dragging_ = false;
  return QWidget::eventFilter(object, event);
}

}  // namespace fair_gauge::app

#include "moc_transfer_plot.cpp"
