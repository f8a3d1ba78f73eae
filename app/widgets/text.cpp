#include "widgets/text.h"

#include <QApplication>
#include <QLocale>
#include <QRegularExpression>
#include <QScrollBar>
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
    case Tint::bar: return colours.bar_ink;
  }
  return colours.ink;
}

Text::Text(const Theme& theme, Face face, const QString& text, Tint tint, QWidget* parent)
    : QLabel(in_own_marks(text), parent), theme_(theme), alive_(&theme), face_(face), tint_(tint) {
  wear();
  connect(&theme, &Theme::changed, this, &Text::wear);
}

int Text::heightForWidth(int width) const {
  if (measured_ != text()) heights_.clear();
  measured_ = text();
  const auto [known, is_new] = heights_.try_emplace(width, 0);
  if (is_new) known->second = QLabel::heightForWidth(width);
  return known->second;
}

void Text::changeEvent(QEvent* event) {
  heights_.clear();
  QLabel::changeEvent(event);
  // A sheet that is put on anew gives back the colours of its first time.
  if (!alive_) return;  // what waits for its deletion may outlive the theme
  const bool is_dressed_anew = event->type() == QEvent::StyleChange || event->type() == QEvent::PaletteChange;
  if (is_dressed_anew && palette().color(QPalette::WindowText) != colour_of(theme_, tint_)) wear();
}

void Text::enterEvent(QEnterEvent* event) {
  if (selectable_) setTextInteractionFlags(Qt::TextSelectableByMouse);
  QLabel::enterEvent(event);
}

void Text::leaveEvent(QEvent* event) {
  // While its own menu is open (Select all) the mouse has left it only in a manner of speaking.
  if (selectable_ && !hasSelectedText() && !QApplication::activePopupWidget())
    setTextInteractionFlags(Qt::NoTextInteraction);
  QLabel::leaveEvent(event);
}

void Text::wear() {
  setFont(theme_.font(face_));
  QPalette colours = palette();
  colours.setColor(QPalette::WindowText, colour_of(theme_, tint_));
  setPalette(colours);
}

void Text::setText(const QString& text) { QLabel::setText(in_own_marks(text)); }
void Text::set_verbatim(const QString& text) { QLabel::setText(text); }

QString in_own_marks(const QString& text) {
  const QString mark = QLocale().decimalPoint();
  if (mark == QLatin1String(".") || !text.contains(QLatin1Char('.'))) return text;
  // No part of a longer word: digits.digits, with neither letter, point, colon nor path before, nor more points after.
  static const QRegularExpression number(QStringLiteral(R"((?<![\w.:])(?<![A-Za-z./]/)(\d+)\.(\d+)(?!\w*\.\w))"));
  return QString(text).replace(number, QStringLiteral("\\1") + mark + QStringLiteral("\\2"));
}

QString unbroken(QString text) {
  static const QRegularExpression between(QStringLiteral(
      "(?<=\\d) (?=(°C|%|K|bits?|[kM]?Ω|[hkM]?Pa|lx|m?V|mV/°C|[µm]?s|min|h|[kM]?Hz|[µm]?A|counts?)\\b|°C|%|Ω)"));
  return text.replace(between, QString(QChar::Nbsp));
}

void Text::set_tint(Tint tint) {
  if (tint == tint_) return;
  tint_ = tint;
  wear();
}

QGridLayout* grid(int across, int down) {
  auto* layout = new QGridLayout;
  layout->setContentsMargins(0, 0, 0, 0);
  layout->setHorizontalSpacing(across);
  layout->setVerticalSpacing(down);
  return layout;
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

void scrolls_downwards(QScrollArea& box) {
  box.setWidgetResizable(true);
  box.setHorizontalScrollBarPolicy(Qt::ScrollBarAlwaysOff);
  box.setAccessibleName(QCoreApplication::translate("Text", "More than fits: the arrow keys scroll"));
  const auto follow = [&box](int, int most) { box.setFocusPolicy(most > 0 ? Qt::StrongFocus : Qt::NoFocus); };
  follow(0, 0);
  QObject::connect(box.verticalScrollBar(), &QScrollBar::rangeChanged, &box, follow);
}

QScrollArea* scrolled(QWidget* inside) {
  auto* box = new QScrollArea;
  scrolls_downwards(*box);
  inside->setObjectName(QStringLiteral("page"));
  box->setWidget(inside);
  return box;
}

PageTitle::PageTitle(const Theme& theme, const QString& whole) : Text(theme, Face::title) {
  setSizePolicy(QSizePolicy::Ignored, QSizePolicy::Preferred);
  set_whole(whole);
}

void PageTitle::set_whole(const QString& whole) {
  whole_ = whole;
  if (accessibleName() != whole) setAccessibleName(whole);
  const int least = fontMetrics().horizontalAdvance(whole_.left(whole_.size() * 2 / 3));  // less tells nobody anything
  setText(width() < least ? QString() : fontMetrics().elidedText(whole_, Qt::ElideRight, width()));
}

void PageTitle::resizeEvent(QResizeEvent* event) {
  Text::resizeEvent(event);
  set_whole(whole_);
}

QHBoxLayout* page_head(PageTitle* title, QWidget* tabs) {
  auto* head = row(8);
  head->addWidget(title, 1);
  head->addWidget(tabs);
  return head;
}

namespace {

void stack_when(const Theme& theme, QBoxLayout* row, bool (Theme::*is)() const) {
  const auto arrange = [&theme, row, is] {
    row->setDirection((theme.*is)() ? QBoxLayout::TopToBottom : QBoxLayout::LeftToRight);
  };
  arrange();
  QObject::connect(&theme, &Theme::changed, row, arrange);
}

}  // namespace

void stack_when_huge(const Theme& theme, QBoxLayout* row) { stack_when(theme, row, &Theme::is_text_huge); }
void stack_when_large(const Theme& theme, QBoxLayout* row) { stack_when(theme, row, &Theme::is_text_large); }

QBoxLayout* sides(const Theme& theme, int gap, QWidget* narrow, int width,
                  const std::vector<std::pair<QWidget*, int>>& others) {
  QBoxLayout* layout = row(gap);
  layout->addWidget(narrow);
  for (const auto& [other, stretch] : others) layout->addWidget(other, stretch);
  stack_when_huge(theme, layout);
  const auto arrange = [&theme, narrow, width, layout] {
    const bool huge = theme.is_text_huge();
    narrow->setMinimumWidth(huge ? 0 : theme.column_px(width));
    narrow->setMaximumWidth(huge ? QWIDGETSIZE_MAX : theme.column_px(width));
    for (int i = 0; i < layout->count(); ++i) {
      QWidget* side = layout->itemAt(i)->widget();
      side->setMinimumHeight(huge ? std::max(theme.px(170), side->minimumSizeHint().height()) : 0);
    }
  };
  arrange();
  QObject::connect(&theme, &Theme::changed, narrow, arrange);
  return layout;
}

QHBoxLayout* asked_and_found(const Theme& theme, QLayout* asked, int width, QLayout* found) {
  constexpr int bar = 12;
  const auto side = [](QLayout* layout) {
    auto* inside = new QWidget;
    inside->setLayout(layout);
    return scrolled(inside);
  };
  asked->setContentsMargins(0, 0, bar, 0);
  auto* narrow = side(asked);
  const auto size = [&theme, narrow, width] { narrow->setFixedWidth(theme.column_px(width) + bar); };
  size();
  QObject::connect(&theme, &Theme::changed, narrow, size);
  auto* both = row(12);
  both->addWidget(narrow);
  both->addWidget(side(found), 1);
  return both;
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

QString sentence(const std::string& words) {
  QString text = in_own_marks(text_of(words));
  if (!text.isEmpty()) text[0] = text[0].toUpper();
  return text.isEmpty() || text.endsWith(QLatin1Char('.')) ? text : text + QLatin1Char('.');
}

}  // namespace fair_gauge::app

#include "moc_text.cpp"
