#include "widgets/vial.h"

#include <QPainter>

#include <algorithm>
#include <cmath>

#include "widgets/text.h"

namespace fair_gauge::app {

Vial::Vial(const Theme& theme, Size size, QWidget* parent)
    : QWidget(parent), theme_(theme), size_(size), used_(std::nan("")) {
  setSizePolicy(size == Size::large ? QSizePolicy::Expanding : QSizePolicy::Fixed, QSizePolicy::Fixed);
  connect(&theme, &Theme::changed, this, [this] { updateGeometry(), update(); });
}

void Vial::show_share(double used, double bias) {
  const bool same = (used == used_ || (std::isnan(used) && std::isnan(used_))) && (bias < 0) == (bias_ < 0);
  used_ = used;
  bias_ = bias;
  if (same && !accessibleName().isEmpty()) return;
  const QString words = std::isfinite(used) ? tr("uses %1 % of the allowed error").arg(std::lround(used * 100))
                                            : tr("the error is not known");
  if (toolTip() == in_own_marks(words)) return update();
  setAccessibleName(tr("Level: %1").arg(in_own_marks(words)));
  setToolTip(in_own_marks(words));
  update();
}

QSize Vial::sizeHint() const {
  switch (size_) {
    case Size::small: return {theme_.px(56), theme_.px(14)};
    case Size::medium: return {theme_.px(120), theme_.px(20)};
    case Size::large: return {theme_.px(200), theme_.px(32)};
  }
  return {};
}

void Vial::paintEvent(QPaintEvent*) {
  QPainter painter(this);
  painter.setRenderHint(QPainter::Antialiasing);
  const Fairness fairness = fairness_of(used_);
  const QColor ink = theme_.ink_of(fairness);
  const double line = size_ == Size::large ? 2 : 1.4;
  const QRectF tube = QRectF(rect()).adjusted(line, line, -line, -line);
  painter.setPen(QPen(ink, line));
  painter.setBrush(theme_.colours().shade);
  painter.drawRoundedRect(tube, tube.height() / 2, tube.height() / 2);
  // The two marks stand where all of the allowed error is used; beyond them the tube curves away.
  const double limit = tube.width() * 0.3;
  const double middle = tube.center().x();
  painter.setPen(QPen(ink, 1));
  for (const double side : {-1.0, 1.0})
    painter.drawLine(QPointF(middle + side * limit, tube.top() + 1), QPointF(middle + side * limit, tube.bottom() - 1));
  if (fairness == Fairness::unknown) return;
  const double bubble_width = tube.width() * 0.2;
  const double furthest = tube.width() / 2 - bubble_width / 2 - 2 * line;
  const double side = bias_ < 0 ? -1 : 1;
  const double offset = std::min(used_ * limit, furthest) * side;
  const QRectF bubble(middle + offset - bubble_width / 2, tube.top() + tube.height() * 0.17, bubble_width,
                      tube.height() * 0.66);
  painter.setPen(QPen(ink, line));
  painter.setBrush(theme_.colours().sheet);
  painter.drawEllipse(bubble);
}

}  // namespace fair_gauge::app

#include "moc_vial.cpp"
