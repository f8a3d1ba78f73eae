#include "widgets/timeline.h"

#include <QHelpEvent>
#include <QPainter>
#include <QToolTip>
#include <algorithm>
#include <cmath>

#include "quantity/number_format.h"
#include "widgets/text.h"

namespace fair_gauge::app {

Timeline::Timeline(const Theme& theme, QWidget* parent) : QWidget(parent), theme_(theme) {
  setAccessibleName(tr("Timeline"));
  setSizePolicy(QSizePolicy::Expanding, QSizePolicy::Fixed);
  connect(&theme, &Theme::changed, this, [this] { updateGeometry(), update(); });
}

void Timeline::show_lanes(std::vector<Lane> lanes, double whole_s) {
  lanes_ = std::move(lanes);
  whole_s_ = whole_s;
  QStringList words;
  for (const Lane& lane : lanes_)
    for (const Bar& bar : lane.bars) {
      if (whole_s <= 0) whole_s_ = std::max(whole_s_, bar.to_s);
      words << tr("%1: %2 from %3 to %4")
                   .arg(lane.name, bar.name, in_own_marks(text_of(with_prefix(bar.from_s, "s"))),
                        in_own_marks(text_of(with_prefix(bar.to_s, "s"))));
    }
  if (!(whole_s_ > 0)) whole_s_ = 1;
  setAccessibleDescription(words.join(QStringLiteral("; ")));
  updateGeometry();
  update();
}

QSize Timeline::sizeHint() const {
  return {theme_.px(240), static_cast<int>(lanes_.size()) * lane_height() + theme_.px(22)};
}

int Timeline::names_width() const {
  int widest = 0;
  const QFontMetrics metrics(theme_.font(Face::small));
  for (const Lane& lane : lanes_) widest = std::max(widest, metrics.horizontalAdvance(lane.name));
  return std::min(widest + theme_.px(12), width() / 3);
}

QRectF Timeline::box_of(std::size_t lane, const Bar& bar) const {
  const double left = names_width(), scale = (width() - left - theme_.px(8)) / whole_s_;
  const double x = left + bar.from_s * scale;
  return {x, static_cast<double>(lane) * lane_height() + 3, std::max(2.0, (bar.to_s - bar.from_s) * scale),
          lane_height() - 6.0};
}

void Timeline::paintEvent(QPaintEvent*) {
  QPainter painter(this);
  painter.setRenderHint(QPainter::Antialiasing);
  const Colours& colours = theme_.colours();
  const int left = names_width(), bottom = static_cast<int>(lanes_.size()) * lane_height();
  painter.setFont(theme_.font(Face::small));
  const QFontMetrics metrics(painter.font());
  for (std::size_t i = 0; i < lanes_.size(); ++i) {
    const QRect row(0, static_cast<int>(i) * lane_height(), width(), lane_height());
    painter.setPen(colours.quiet);
    painter.drawText(QRect(0, row.top(), left - theme_.px(8), row.height()), Qt::AlignVCenter | Qt::AlignRight,
                     metrics.elidedText(lanes_[i].name, Qt::ElideRight, left - theme_.px(8)));
    painter.setPen(colours.rule);
    painter.drawLine(left, row.bottom(), width() - theme_.px(8), row.bottom());
    double free_from = left;
    for (std::size_t b = 0; b < lanes_[i].bars.size(); ++b) {
      const Bar& bar = lanes_[i].bars[b];
      const QRectF box = box_of(i, bar);
      painter.setPen(Qt::NoPen);
      painter.setBrush(bar.strong ? QBrush(colours.accent) : QBrush(colours.accent, Qt::BDiagPattern));
      painter.drawRect(box);
      const int text = metrics.horizontalAdvance(bar.name);
      const double after = b + 1 < lanes_[i].bars.size() ? box_of(i, lanes_[i].bars[b + 1]).left() : width();
      const bool inside = bar.strong && text + 8 < box.width();
      painter.setPen(inside ? colours.sheet : colours.ink);
      if (inside)
        painter.drawText(box, Qt::AlignCenter, bar.name);
      else if (!bar.strong && text + 12 < box.width()) {  // on the paper, so that the hatching does not cross it
        const QRectF plate(box.center().x() - text / 2.0 - 4, box.top() + 1, text + 8, box.height() - 2);
        painter.fillRect(plate, colours.sheet);
        painter.drawText(plate, Qt::AlignCenter, bar.name);
      } else if (box.right() + 4 + text < after)
        painter.drawText(QRectF(box.right() + 4, box.top(), text + 4, box.height()), Qt::AlignVCenter | Qt::AlignLeft,
                         bar.name);
      else if (box.left() - 4 - text > free_from)
        painter.drawText(QRectF(box.left() - 8 - text, box.top(), text + 4, box.height()),
                         Qt::AlignVCenter | Qt::AlignRight, bar.name);
      free_from = box.right();
    }
  }
  // A tick at every round step of time.
  const double rough = whole_s_ / 5, decade = std::pow(10.0, std::floor(std::log10(rough)));
  const double step = decade * (rough / decade > 5 ? 10 : rough / decade > 2 ? 5 : rough / decade > 1 ? 2 : 1);
  painter.setPen(colours.quiet);
  for (int i = 0; i * step <= whole_s_ * 1.0001; ++i) {
    const double x = box_of(0, {{}, i * step, i * step, true}).left();
    painter.drawLine(QPointF(x, bottom), QPointF(x, bottom + 3));
    const QString words = i == 0 ? QStringLiteral("0") : in_own_marks(text_of(with_prefix(i * step, "s", 3)));
    const double text = metrics.horizontalAdvance(words);
    painter.drawText(QPointF(std::min(x - (i == 0 ? 0 : text / 2), width() - text), bottom + 3 + metrics.ascent()),
                     words);
  }
}

bool Timeline::event(QEvent* event) {
  if (event->type() != QEvent::ToolTip) return QWidget::event(event);
  const QPoint at = static_cast<QHelpEvent*>(event)->pos();
  for (std::size_t i = 0; i < lanes_.size(); ++i)
    for (const Bar& bar : lanes_[i].bars)
      if (box_of(i, bar).adjusted(-2, 0, 2, 0).contains(at)) {
        QToolTip::showText(
            static_cast<QHelpEvent*>(event)->globalPos(),
            tr("%1: %2").arg(bar.name, in_own_marks(text_of(with_prefix(bar.to_s - bar.from_s, "s", 3)))), this);
        return true;
      }
  QToolTip::hideText();
  return true;
}

}  // namespace fair_gauge::app

#include "moc_timeline.cpp"
