#include "correct/span_plot.h"

#include <qcustomplot.h>

#include <algorithm>

#include "widgets/plot_style.h"
#include "widgets/text.h"

namespace fair_gauge::app {

SpanPlot::SpanPlot(const Theme& theme, QWidget* parent) : QWidget(parent), theme_(theme) {
  plot_ = new QCustomPlot;
  plot_->setObjectName(QStringLiteral("span_plot"));
  plot_->setAccessibleName(tr("Readings over time. Drag over a span to take the point from it"));
  plot_->installEventFilter(this);
  plot_->addGraph();
  rect_ = new QCPItemRect(plot_);
  rect_->topLeft->setTypeY(QCPItemPosition::ptAxisRectRatio);
  rect_->bottomRight->setTypeY(QCPItemPosition::ptAxisRectRatio);
  rect_->setLayer(QStringLiteral("background"));
  rect_->setVisible(false);
  auto* all = column(0);
  all->addWidget(plot_);
  setLayout(all);
  setFixedHeight(theme.px(96));
  connect(&theme, &Theme::changed, this, [this] { setFixedHeight(theme_.px(96)); });
}

void SpanPlot::show_series(const Series& series, const Unit& unit) {
  style_plot(*plot_, theme_);
  plot_->graph(0)->setPen(QPen(theme_.colours().accent, 1.4));
  QVector<double> x(series.seconds.begin(), series.seconds.end()), y;
  for (const double value : series.values) y << unit.from_base(value);
  plot_->graph(0)->setData(x, y, true);
  plot_->graph(0)->rescaleAxes();
  const QCPRange range = plot_->yAxis->range();
  plot_->yAxis->setRange(range.lower - 0.1 * std::max(range.size(), 1e-9),
                         range.upper + 0.1 * std::max(range.size(), 1e-9));
  plot_->yAxis->setLabel(text_of(unit.symbol));
  plot_->yAxis->ticker()->setTickCount(3);
  plot_->xAxis->setLabel({});
  plot_->xAxis->setTickLabels(false);
  plot_->yAxis->setTickLabels(!y.isEmpty());  // numbers of nothing
  show_span();
}

void SpanPlot::clear_span() {
  span_.reset();
  show_span();
}

void SpanPlot::show_span() {
  rect_->setVisible(span_.has_value());
  rect_->setPen(Qt::NoPen);
  rect_->setBrush(theme_.colours().tint);
  if (span_) {
    rect_->topLeft->setCoords(span_->first, 0);
    rect_->bottomRight->setCoords(span_->second, 1);
  }
  plot_->replot(QCustomPlot::rpQueuedReplot);
}

double SpanPlot::seconds_at(double x) const { return plot_->xAxis->pixelToCoord(x); }

bool SpanPlot::eventFilter(QObject* object, QEvent* event) {
  const bool of_mouse = event->type() == QEvent::MouseButtonPress || event->type() == QEvent::MouseMove ||
                        event->type() == QEvent::MouseButtonRelease;
  if (object != plot_ || !of_mouse) return QWidget::eventFilter(object, event);
  const auto* mouse = static_cast<QMouseEvent*>(event);
  switch (event->type()) {
    case QEvent::MouseButtonPress:
      pressed_ = seconds_at(mouse->position().x());
      span_.reset();
      show_span();
      return true;
    case QEvent::MouseMove:
      if (!pressed_) break;
      span_ = std::minmax(*pressed_, seconds_at(mouse->position().x()));
      show_span();
      return true;
    case QEvent::MouseButtonRelease:
      if (!pressed_) break;
      pressed_.reset();
      emit span_chosen();
      return true;
    default: break;
  }
  return QWidget::eventFilter(object, event);
}

}  // namespace fair_gauge::app

#include "moc_span_plot.cpp"
