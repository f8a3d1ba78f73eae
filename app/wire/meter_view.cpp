#include "wire/meter_view.h"

#include <algorithm>
#include <cmath>

#include "language/translation.h"
#include "quantity/number_format.h"

namespace fair_gauge::app {
namespace {

constexpr int columns = 4;  // of a place's second row, below its words

}  // namespace

MeterView::MeterView(const Theme& theme, Workbench& workbench, QWidget* parent)
    : QWidget(parent), theme_(theme), workbench_(workbench) {
  lead_ = new Text(theme, Face::text);
  lead_->setObjectName(QStringLiteral("meter_lead"));
  verdict_ = new Text(theme, Face::strong);
  verdict_->setObjectName(QStringLiteral("meter_verdict"));
  care_ =
      new Text(theme, Face::small,
               tr("Only on what is fed by a few volts: never hold a hand-held probe to the mains side of a relay or "
                  "supply. Volts are measured beside the circuit, amperes never."),
               Tint::quiet);
  for (Text* each : {lead_, verdict_, care_}) each->setWordWrap(true);
  grid_ = new QGridLayout;
  grid_->setContentsMargins(0, 0, 0, 0);
  grid_->setHorizontalSpacing(16);
  grid_->setVerticalSpacing(4);
  grid_->setColumnStretch(columns - 1, 1);
  good_to_ = new Text(theme, Face::small, tr("your meter is good to ±"));
  meter_ = new QuantityField(theme, Dimension::number);
  meter_->set_reader([](const std::string& text) -> Result<double> {
    const auto percent = parse_number(text.substr(0, text.find_last_not_of(" %") + 1));
    if (!percent || *percent < 0 || *percent > 50)
      return Problem{translated("no share of a reading"), translated("0 to 50 %, such as 0.5 %")};
    return *percent / 100;
  });
  meter_->setObjectName(QStringLiteral("meter_good_to"));
  meter_->setAccessibleName(tr("Your meter is good to"));
  meter_->setToolTip(
      in_own_marks(tr("Of its reading, by its own sheet. 0.5 % is what many hand-held ones state for volts, and no "
                      "more than a guess")));
  meter_->setFont(theme.font(Face::number_small));
  meter_->setMaximumWidth(theme.px(96));
  connect(meter_, &QuantityField::value_given, this, [this](double share) {
    meter_share_ = share;
    refresh();
  });
  keep_ = new QPushButton(tr("Keep in the logbook"));
  keep_->setObjectName(QStringLiteral("meter_keep"));
  connect(keep_, &QPushButton::clicked, this, [this] { emit note_wanted(note()); });
  clear_ = new QPushButton(tr("Clear"));
  clear_->setObjectName(QStringLiteral("meter_clear"));
  connect(clear_, &QPushButton::clicked, this, [this] {
    for (Row& each : rows_) each.measured.reset();
    channel_.clear();
    rebuild();
  });
  auto* below = row(8);
  below->addWidget(good_to_);
  below->addWidget(meter_);
  below->addStretch();
  auto* buttons = row(8);
  buttons->addWidget(keep_);
  buttons->addWidget(clear_);
  buttons->addStretch();
  auto* all = column(12);
  all->setContentsMargins(0, 8, 8, 0);
  all->addWidget(lead_);
  all->addLayout(grid_);
  all->addLayout(below);
  all->addWidget(verdict_);
  all->addLayout(buttons);
  all->addWidget(care_);
  all->addStretch();
  setLayout(all);
  const auto again = [this] {
    if (isVisible()) rebuild();
  };
  connect(&workbench, &Workbench::selection_changed, this, again);
  connect(&workbench, &Workbench::bench_changed, this, again);
  connect(&workbench, &Workbench::values_changed, this, again);
}

void MeterView::showEvent(QShowEvent* event) {
  QWidget::showEvent(event);
  rebuild();
}

// Rows stay while they are of the same channel and the same thing is known: what was typed stays with them.
void MeterView::rebuild() {
  const ChannelView& chosen = workbench_.chosen();
  std::vector<MeterPlace> places;
  StageName known = StageName::raw;
  if (chosen.chain) {
    known = workbench_.solved_from().stage;
    places = meter_places(*chosen.chain, known);
  }
  const std::string channel = chosen.channel ? chosen.channel->id : "";
  const bool same =
      channel == channel_ && known == known_ &&
      std::ranges::equal(places, rows_, {}, &MeterPlace::stage, [](const Row& row) { return row.place.stage; });
  if (!same) {
    channel_ = channel;
    known_ = known;
    rows_.clear();
    clear(grid_);
    const QStringList titles = {tr("EXPECTED"), tr("YOUR METER"), tr("DIFFERS BY"), tr("IN THE READING")};
    for (int i = 0; i < titles.size() && !places.empty(); ++i)
      grid_->addWidget(new Text(theme_, Face::label, titles[i], Tint::quiet), 0, i);
    for (const MeterPlace& place : places) {
      Row row{.place = place};
      auto* words = new Text(theme_, Face::text, text_of(place.words));
      words->setWordWrap(true);
      words->setToolTip(text_of(place.how));
      words->setContentsMargins(0, 6, 0, 0);
      row.field = new QuantityField(theme_, place.unit->dimension);
      row.field->setFont(theme_.font(Face::number_small));
      row.field->setObjectName(QStringLiteral("meter_at_%1").arg(rows_.size()));
      row.field->setAccessibleName(tr("Your meter shows, %1").arg(text_of(place.words)));
      row.field->setToolTip(text_of(place.how));
      for (Text** text : {&row.expected, &row.differs, &row.reading}) {
        *text = new Text(theme_, text == &row.reading ? Face::small : Face::number_small);
        (*text)->setWordWrap(text == &row.reading);
      }
      row.expected->setObjectName(QStringLiteral("meter_expected_%1").arg(rows_.size()));
      row.differs->setObjectName(QStringLiteral("meter_differs_%1").arg(rows_.size()));
      row.reading->setObjectName(QStringLiteral("meter_reading_%1").arg(rows_.size()));
      row.field->setMaximumWidth(theme_.px(140));
      const int at = grid_->rowCount();
      grid_->addWidget(words, at, 0, 1, columns);
      int column = 0;
      for (QWidget* each : {static_cast<QWidget*>(row.expected), static_cast<QWidget*>(row.field),
                            static_cast<QWidget*>(row.differs), static_cast<QWidget*>(row.reading)})
        grid_->addWidget(each, at + 1, column++);
      connect(row.field, &QuantityField::value_given, this,
              [this, index = rows_.size()](double value) { measured(index, value); });
      rows_.push_back(std::move(row));
    }
  }
  refresh();
}

void MeterView::measured(std::size_t row, double value) {
  if (row >= rows_.size()) return;
  rows_[row].measured = value;
  rows_[row].anchor = workbench_.solved_from();
  refresh();
}

std::optional<Result<MeterCheck>> MeterView::check_of(const Row& row) const {
  const ChannelView& chosen = workbench_.chosen();
  if (!row.measured || !chosen.chain) return std::nullopt;
  return check_with_meter(*chosen.chain, row.anchor, row.place.stage, *row.measured, meter_share_);
}

QString MeterView::value_text(double value, const Unit& unit) const {
  const NumberStyle& style = workbench_.style();
  if (unit.dimension == Dimension::number) return text_of(fixed(value, 0, style));
  return text_of(with_prefix(value, unit.symbol, 4, style));
}

void MeterView::show_check(Row& row, const MeterCheck& check) {
  const Chain& chain = *workbench_.chosen().chain;
  const NumberStyle& style = workbench_.style();
  const double scale = chain.shown->scale, off = check.reading_off / scale;
  const double by = check.measured - check.expected;
  const QString size = row.place.unit->dimension == Dimension::number
                           ? text_of(fixed(std::abs(by), 0, style))
                           : text_of(with_prefix(std::abs(by), row.place.unit->symbol, 3, style));
  row.differs->setText((by < 0 ? text_of(style.minus) : by > 0 ? QStringLiteral("+") : QString()) + size);
  row.differs->setToolTip(tr("Up to %1 can be explained").arg(value_text(check.explained, *row.place.unit)));
  row.differs->set_tint(check.agrees() ? Tint::ink : Tint::red);
  const int decimals = std::clamp(decimals_of_two_digits(off), 0, 6);
  row.reading->setText(std::isfinite(off)
                           ? tr("%1, %2 % of what is allowed")
                                 .arg(text_of(with_unit(off, decimals, difference_symbol(*chain.shown), style)),
                                      text_of(fixed(100 * check.share, 0, style)))
                           : tr("no reading"));
}

void MeterView::refresh() {
  const ChannelView& chosen = workbench_.chosen();
  meter_->show_value(meter_share_, text_of(shortest(100 * meter_share_, workbench_.style()) + " %"));
  const bool has_places = chosen.chain && !rows_.empty();
  for (QWidget* each : {static_cast<QWidget*>(meter_), static_cast<QWidget*>(keep_), static_cast<QWidget*>(clear_)})
    each->setVisible(has_places);
  for (Text* each : {care_, good_to_}) each->setVisible(has_places);
  if (!has_places) {
    lead_->setText(!chosen.chain
                       ? tr("This channel has no chain yet: see what it lacks on Home.")
                       : tr("Between the world and this channel's number nothing can be measured with a "
                            "meter: what it measured comes as a number already, in bytes, in pulses or converted."));
    return verdict_->clear();
  }
  const Anchor known = workbench_.solved_from();
  lead_->setText(workbench_.anchor()
                     ? tr("While the strip holds a value, this is expected elsewhere. Type what your meter shows.")
                     : tr("By the latest raw number this is expected. Type what your meter shows at the same moment."));
  const auto values = evaluate(*chosen.chain, known);
  std::vector<MeterCheck> checks;
  for (Row& each : rows_) {
    const Stage* stage = chosen.chain->stage(each.place.stage);
    const auto& value = values[static_cast<std::size_t>(stage - chosen.chain->stages.data())];
    const auto check = check_of(each);
    // Beside what was typed stands what was expected then.
    each.expected->setText(check && *check ? value_text((*check)->expected, *each.place.unit)
                           : value         ? value_text(*value, *each.place.unit)
                                           : tr("nothing"));
    if (each.measured)
      each.field->show_value(*each.measured, value_text(*each.measured, *each.place.unit));
    else if (!each.field->hasFocus() && !each.field->is_faulty())  // what is not understood stays
      each.field->clear();
    each.differs->clear();
    each.reading->clear();
    if (check && *check) show_check(each, **check), checks.push_back(**check);
    if (check && !*check) each.reading->setText(sentence(to_text(check->problem())));
  }
  verdict_->setText(checks.empty() ? QString() : text_of(meter_verdict(*chosen.chain, {known_, 0}, checks)));
  verdict_->set_tint(std::ranges::all_of(checks, &MeterCheck::agrees) ? Tint::ink : Tint::red);
  keep_->setEnabled(!checks.empty());
  clear_->setEnabled(std::ranges::any_of(rows_, [](const Row& row) { return row.measured.has_value(); }));
}

QString MeterView::note() const {
  QStringList parts;
  for (const Row& each : rows_)
    if (const auto check = check_of(each); check && *check)
      parts << tr("%1: meter %2, expected %3")
                   .arg(text_of(each.place.words), value_text((*check)->measured, *each.place.unit),
                        value_text((*check)->expected, *each.place.unit));
  return parts.join(QStringLiteral("; ")) + QStringLiteral(". ") + verdict_->text();
}

}  // namespace fair_gauge::app

#include "moc_meter_view.cpp"
