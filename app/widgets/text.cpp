#include "widgets/text.h"

#include <QStyle>

namespace fair_gauge::app {

QColor colour_of(const Theme& theme, Tint tint) {
  const Colours& colours = theme.colours();
  switch (tint) {
    case Tint::ink: return colours.ink;
    case Tint::quiet: return colours.quiet;
    case Tint::accent: return colours.accent;
    case Tint::amber: return colours.amber;
    case Tint::red: return colours.red;
    case Tint::second: return colours.second;
  }
  return colours.ink;
}

Text::Text(const Theme& theme, Face face, const QString& text, Tint tint, QWidget* parent)
    : QLabel(text, parent), theme_(theme), face_(face), tint_(tint) {
  setFont(theme.font(face));
  set_tint(tint);
  connect(&theme, &Theme::changed, this, [this] { setFont(theme_.font(face_)); });
}

void Text::set_tint(Tint tint) {
  static constexpr const char* names[] = {"ink", "quiet", "accent", "amber", "red", "second"};
  if (property("tint").isValid() && tint == tint_) return;
  tint_ = tint;
  setProperty("tint", QLatin1String(names[static_cast<int>(tint)]));
  style()->unpolish(this);
  style()->polish(this);
}

QVBoxLayout* column(int gap) {
  auto* layout = new QVBoxLayout;
  layout->setContentsMargins(0, 0, 0, 0);
  layout->setSpacing(gap);
  return layout;
}

QHBoxLayout* row(int gap) {
  auto* layout = new QHBoxLayout;
  layout->setContentsMargins(0, 0, 0, 0);
  layout->setSpacing(gap);
  return layout;
}

QScrollArea* scrolled(QWidget* inside) {
  auto* box = new QScrollArea;
  box->setFrameShape(QFrame::NoFrame);
  box->setWidgetResizable(true);
  box->setHorizontalScrollBarPolicy(Qt::ScrollBarAlwaysOff);
  inside->setObjectName(QStringLiteral("page"));
  box->setWidget(inside);
  return box;
}

void clear(QLayout* layout) {
  while (QLayoutItem* item = layout->takeAt(0)) {
    if (item->widget()) {
      item->widget()->hide();
      item->widget()->setParent(nullptr);  // so that nobody finds it by its name any more
      item->widget()->deleteLater();
    }
    if (item->layout()) clear(item->layout());
    delete item;
  }
}

}  // namespace fair_gauge::app
