#include "strip/stage_card.h"

#include <QMouseEvent>
#include <QPainter>

#include <algorithm>

namespace fair_gauge::app {

StageCard::StageCard(const Theme& theme, const Stage& stage, QWidget* parent)
    : QWidget(parent), theme_(theme), stage_(stage.name) {
  // A value that was converted before it came is no raw number.
  const bool converted = stage.name == StageName::raw && stage.unit->dimension != Dimension::number;
  const QString name = converted ? tr("Arrives") : text_of(stage_title(stage.name));
  title_ = new Text(theme, Face::stage_title, name, Tint::quiet);
  mark_ = new Text(theme, Face::stage, tr("typed"), Tint::second);
  mark_->hide();
  field_ = new QuantityField(theme, stage.unit->dimension);
  field_->set_unit(*stage.unit);
  field_->setObjectName(QStringLiteral("stage_%1").arg(name.toLower().replace(QLatin1Char(' '), QLatin1Char('_'))));
  field_->setAccessibleName(
      tr("%1 in %2. Type a value to solve the chain from here")
          .arg(name, text_of(stage.unit->symbol.empty() ? std::string_view("counts") : stage.unit->symbol)));
  field_->setFrame(false);
  field_->setFont(theme.font(Face::number_large));
  field_->setStyleSheet(QStringLiteral(
      "QLineEdit { background: transparent; border: none; padding: 0; } QLineEdit:focus { border: none; }"));
  unit_ = new Text(theme, Face::stage, {}, Tint::quiet);
  unit_->setContentsMargins(0, 0, 0, theme.column_px(5));  // on the number's baseline
  caption_ = new Text(theme, Face::stage, {}, Tint::quiet);
  caption_->setWordWrap(true);
  caption_->setAlignment(Qt::AlignTop | Qt::AlignLeft);
  caption_->setSizePolicy(QSizePolicy::Ignored, QSizePolicy::Expanding);

  auto* head = row(4);
  head->addWidget(title_);
  head->addStretch();
  head->addWidget(mark_);
  auto* value = row(4);
  value->addWidget(field_);
  value->addWidget(unit_, 0, Qt::AlignBottom);
  value->addStretch();
  auto* all = column(4);
  all->setContentsMargins(10, 8, 6, 14);
  all->addLayout(head);
  all->addLayout(value);
  all->addWidget(caption_, 1);
  setLayout(all);
  setMinimumWidth(theme.column_px(theme_.is_text_huge() ? 64 : 92));
  setCursor(Qt::PointingHandCursor);

  field_->installEventFilter(this);
  connect(field_, &QLineEdit::textChanged, this, &StageCard::fit_field);
  connect(field_, &QuantityField::value_typed, this, [this, unit = stage.unit](double base) {
    const bool in_its_unit = stage_ == StageName::shown || stage_ == StageName::raw;
    emit typed(in_its_unit ? unit->from_base(base) : base);
  });
  connect(&theme, &Theme::changed, this, [this] {
    setMinimumWidth(theme_.column_px(theme_.is_text_huge() ? 64 : 92));
    fit_field();
    update();
  });
}

// The field is as wide as its text, so that the unit stands beside the number; what both need more than the card has is
// taken from the number's size.
void StageCard::fit_field() {
  const int whole = std::max(width(), theme_.column_px(theme_.is_text_huge() ? 64 : 92)) - 18;
  const int room = whole - (unit_->text().isEmpty() ? 0 : std::min(unit_->sizeHint().width() + 4, whole / 2));
  QFont font = theme_.font(Face::number_large);
  const int wanted = QFontMetrics(font).horizontalAdvance(field_->text()) + theme_.px(6);
  if (wanted > room)
    font.setPixelSize(std::max(theme_.font(Face::stage).pixelSize(), font.pixelSize() * room / wanted));
  if (field_->font() != font) field_->setFont(font);
  field_->setFixedWidth(std::min(QFontMetrics(font).horizontalAdvance(field_->text()) + theme_.px(6), room));
}

void StageCard::resizeEvent(QResizeEvent* event) {
  QWidget::resizeEvent(event);
  fit_field();
}

void StageCard::show_state(const State& state) {
  const bool same = state.share == state_.share && state.anchored == state_.anchored && state.chosen == state_.chosen &&
                    (state.text == state_.text || !state.anchored) && state.differs == state_.differs;
  state_ = state;
  if (state.value)
    field_->show_value(*state.value, state.text);
  else
    field_->show_problem(state.value.problem());
  const QString unit = state.value ? state.unit : QString();
  if (unit_->text() != unit) {
    unit_->setText(unit);
    fit_field();
  }
  caption_->setText(!state.value             ? text_of(state.value.problem().wrong)
                    : state.beside.isEmpty() ? state.caption
                                             : state.beside);
  caption_->set_tint(!state.value || state.silent ? Tint::red : state.differs ? Tint::amber : Tint::quiet);
  caption_->setToolTip(in_own_marks(state.value ? state.caption : text_of(to_text(state.value.problem()))));
  title_->set_tint(state.chosen ? Tint::accent : Tint::quiet);
  mark_->setVisible(state.anchored);
  if (!same) update();
}

bool StageCard::eventFilter(QObject* object, QEvent* event) {
  if (object == field_ && event->type() == QEvent::FocusIn) emit chosen();
  return QWidget::eventFilter(object, event);
}

void StageCard::mousePressEvent(QMouseEvent*) {
  emit chosen();
  field_->setFocus(Qt::MouseFocusReason);
  field_->selectAll();
}

void StageCard::paintEvent(QPaintEvent*) {
  QPainter painter(this);
  painter.setRenderHint(QPainter::Antialiasing);
  const Colours& colours = theme_.colours();
  const bool marked = state_.chosen || state_.differs;
  painter.setPen(QPen(state_.differs ? colours.amber : state_.chosen ? colours.accent : colours.rule, marked ? 2 : 1));
  painter.setBrush(colours.sheet);
  painter.drawRoundedRect(QRectF(rect()).adjusted(1, 1, -1, -1), 4, 4);
  if (state_.anchored) {  // underlined where the person typed
    painter.setPen(QPen(colours.second, 2));
    const int y = field_->geometry().bottom() + 2;
    painter.drawLine(field_->x(), y, field_->x() + field_->fontMetrics().horizontalAdvance(field_->text()), y);
  }
  if (state_.share < 0.005) return;
  const QRectF bar(12, height() - 10, width() - 24, 3);
  painter.setPen(Qt::NoPen);
  painter.setBrush(colours.shade);
  painter.drawRoundedRect(bar, 1.5, 1.5);
  painter.setBrush(state_.share > 0.5 ? colours.amber : colours.accent);
  painter.drawRoundedRect(QRectF(bar.topLeft(), QSizeF(bar.width() * state_.share, bar.height())), 1.5, 1.5);
}

}  // namespace fair_gauge::app

#include "moc_stage_card.cpp"
