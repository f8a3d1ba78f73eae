#include "correct/derived_view.h"

#include <QGridLayout>
#include <QHeaderView>
#include <algorithm>
#include <cmath>

#include "bench/bench_things.h"
#include "quantity/number_format.h"
#include "truth/error_budget.h"
#include "widgets/form.h"
#include "widgets/plain_table.h"

namespace fair_gauge::app {
namespace {

constexpr QLatin1String typed_pressure(" typed"), own_rest(" rest");  // no channel is called so
constexpr double mean_s = 30;

// To one digit, upwards.
double round_up(double value) {
  const double digit = std::pow(10.0, std::floor(std::log10(value)));
  return std::ceil(value / digit - 1e-9) * digit;
}

}  // namespace

DerivedView::DerivedView(const Theme& theme, Workbench& workbench, QWidget* parent)
    : QWidget(parent), theme_(theme), workbench_(workbench) {
  temperature_ = choice_box({}, "derived_temperature", tr("Temperature"));
  second_temperature_ = choice_box({}, "derived_second_temperature", tr("Second temperature"));
  humidity_ = choice_box({}, "derived_humidity", tr("Humidity"));
  pressure_ = choice_box({}, "derived_pressure", tr("Pressure"));
  second_ = choice_box({}, "derived_second", tr("Second pressure"));
  light_ = choice_box({}, "derived_light", tr("Light"));
  for (QComboBox* box : {temperature_, second_temperature_, humidity_, pressure_, light_})
    connect(box, &QComboBox::activated, this, &DerivedView::refresh);
  connect(second_, &QComboBox::activated, this, &DerivedView::take_rest);
  other_pressure_ = new QuantityField(theme, Dimension::pressure);
  other_pressure_->setObjectName(QStringLiteral("derived_other_pressure"));
  other_pressure_->setAccessibleName(tr("The second pressure as it is typed, or as it was at rest"));
  connect(other_pressure_, &QuantityField::value_given, this, [this](double pascal) {
    other_pascal_ = pascal;
    at_rest_ = std::min(at_rest_, 1);
    refresh();
  });
  light_hours_ = new QuantityField(theme, Dimension::time);
  light_hours_->setObjectName(QStringLiteral("derived_light_hours"));
  light_hours_->setAccessibleName(tr("Hours of light in a day"));
  connect(light_hours_, &QuantityField::value_given, this, [this](double seconds) {
    light_s_ = std::clamp(seconds, 1.0, 86'400.0);
    refresh();
  });
  height_ = new QuantityField(theme, Dimension::length);
  height_->setObjectName(QStringLiteral("derived_height"));
  height_->setAccessibleName(tr("Height of the place above the sea"));
  connect(height_, &QuantityField::value_given, this, [this](double metres) {
    height_m_ = metres;
    refresh();
  });
  shared_ = new QCheckBox(tr("sensors of one kind: half of their error is shared"));
  shared_->setObjectName(QStringLiteral("derived_shared"));
  shared_->setToolTip(in_own_marks(
      tr("Errors that two readings share take themselves out of a difference; a correlation of 0.5 is assumed")));
  connect(shared_, &QCheckBox::toggled, this, &DerivedView::refresh);
  auto* own = formula_row();
  table_ = plain_table(theme, "derived", tr("What follows"),
                       {tr("quantity"), tr("value"), tr("±, 95 %"), tr("mostly by"), tr("what it is good for")},
                       {186, 96, 112, 116, 0});
  table_->setSelectionBehavior(QAbstractItemView::SelectRows);
  table_->setSelectionMode(QAbstractItemView::SingleSelection);
  auto* form = new QGridLayout;
  form->setHorizontalSpacing(12);
  form->setVerticalSpacing(4);
  int place = 0;
  for (const auto& [words, box] : {std::pair<QString, QWidget*>{tr("Temperature"), temperature_},
                                   {tr("Humidity"), humidity_},
                                   {tr("Second temperature"), second_temperature_},
                                   {tr("Pressure"), pressure_},
                                   {tr("Second pressure"), second_},
                                   {tr("which is"), other_pressure_},
                                   {tr("Height of the place"), height_},
                                   {tr("Light"), light_},
                                   {tr("Hours of light a day"), light_hours_}}) {
    auto* label = new Text(theme, Face::small, words, Tint::quiet);
    label->setBuddy(box);
    form->addWidget(label, 2 * (place / 3), place % 3);
    form->addWidget(box, 2 * (place / 3) + 1, place % 3);
    ++place;
  }
  for (int i = 0; i < 3; ++i) form->setColumnStretch(i, 1);
  auto* all = column(8);
  head_ = new Text(theme, Face::small, {}, Tint::quiet);
  head_->setObjectName(QStringLiteral("derived_head"));
  head_->setWordWrap(true);
  all->addWidget(head_);
  all->addLayout(form);
  all->addWidget(shared_);
  all->addWidget(table_, 1);
  all->addLayout(own);
  all->addWidget(formula_wrong_);
  all->addLayout(end_row());
  setLayout(all);
  connect(&workbench, &Workbench::bench_changed, this, &DerivedView::list_channels);
  connect(&workbench, &Workbench::selection_changed, this, &DerivedView::refresh);
  connect(&workbench, &Workbench::values_changed, this, &DerivedView::refresh);
  list_channels();
}

QLayout* DerivedView::end_row() {
  keep_ = new QPushButton(tr("Keep as a channel"));
  keep_->setObjectName(QStringLiteral("derived_keep"));
  keep_->setToolTip(tr("The chosen row stands on the shelf then, is watched, judged and switched on like any other"));
  connect(keep_, &QPushButton::clicked, this, &DerivedView::keep);
  connect(table_, &QTableWidget::itemSelectionChanged, this,
          [this] { keep_->setEnabled(!table_->selectionModel()->selectedRows().isEmpty()); });
  keep_->setEnabled(false);
  zero_ = new QPushButton(tr("It stands still now"));
  zero_->setObjectName(QStringLiteral("derived_zero"));
  zero_->setToolTip(tr("What the chosen channel's sensor reads now, the mean of half a minute, is taken as its rest"));
  connect(zero_, &QPushButton::clicked, this, &DerivedView::take_zero);
  kept_ = new Text(theme_, Face::small, tr("Choose a row to keep it."), Tint::quiet);
  kept_->setObjectName(QStringLiteral("derived_kept"));
  kept_->setWordWrap(true);
  auto* end = row(12);
  end->addWidget(keep_);
  end->addWidget(zero_);
  end->addWidget(kept_, 1);
  return end;
}

// A quantity that no table has: two channels, what is done with them, and what comes out.
QLayout* DerivedView::formula_row() {
  a_ = choice_box({}, "derived_a", tr("a, the first channel of the formula"));
  b_ = choice_box({}, "derived_b", tr("b, the second channel of the formula"));
  formula_is_ = choice_box({}, "derived_formula_is", tr("What the formula gives"));
  for (const auto& [quantity, name] : {std::pair{Quantity::temperature, tr("a temperature")},
                                       {Quantity::temperature_difference, tr("a difference of temperatures")},
                                       {Quantity::humidity, tr("a humidity")},
                                       {Quantity::pressure, tr("a pressure")},
                                       {Quantity::illuminance, tr("an illuminance")},
                                       {Quantity::altitude, tr("a height")},
                                       {Quantity::absolute_humidity, tr("water in air")},
                                       {Quantity::number, tr("a plain number")}}) {
    const QString unit = text_of(base_unit(quantity).symbol);
    formula_is_->addItem(unit.isEmpty() ? name : QStringLiteral("%1, %2").arg(name, unit),
                         text_of(translated_name(quantity)));
  }
  formula_ = new QLineEdit;
  formula_->setObjectName(QStringLiteral("derived_formula"));
  formula_->setAccessibleName(tr("A formula of one's own, of a and b"));
  formula_->setPlaceholderText(tr("such as (a + b)/2"));
  formula_->setToolTip(in_own_marks(
      tr("Of a and b in the units beside them, as files have them: + − × ÷ ^, brackets, ln, exp, sqrt, min, max")));
  connect(formula_, &QLineEdit::textChanged, this, &DerivedView::refresh);
  for (QComboBox* box : {a_, b_, formula_is_}) {
    box->setSizeAdjustPolicy(QComboBox::AdjustToMinimumContentsLengthWithIcon);
    box->setMinimumContentsLength(5);
    connect(box, &QComboBox::activated, this, &DerivedView::refresh);
  }
  formula_wrong_ = new Text(theme_, Face::small, {}, Tint::red);
  formula_wrong_->setObjectName(QStringLiteral("derived_formula_wrong"));
  formula_wrong_->setWordWrap(true);
  auto* grid = new QGridLayout;
  grid->setHorizontalSpacing(12);
  grid->setVerticalSpacing(4);
  int place = 0;
  for (const auto& [words, box] : {std::pair<QString, QWidget*>{tr("Formula of a and b"), formula_},
                                   {tr("a"), a_},
                                   {tr("b"), b_},
                                   {tr("gives"), formula_is_}}) {
    auto* label = new Text(theme_, Face::small, words, Tint::quiet);
    label->setBuddy(box);
    grid->addWidget(label, 0, place);
    grid->addWidget(box, 1, place);
    grid->setColumnStretch(place, place == 0 ? 3 : 2);
    ++place;
  }
  return grid;
}

DerivedFrom DerivedView::own_formula() const {
  return {.as = std::string(typed_formula),
          .of = a_->currentData().toString().toStdString(),
          .beside = b_->currentData().toString().toStdString(),
          .number = {},
          .formula = formula_->text().trimmed().toStdString(),
          .unknown = {}};
}

void DerivedView::showEvent(QShowEvent* event) {
  QWidget::showEvent(event);
  refresh();
}

void DerivedView::list_channels() {
  for (const auto& [box, quantity] : {std::pair{temperature_, Quantity::temperature},
                                      {second_temperature_, Quantity::temperature},
                                      {humidity_, Quantity::humidity},
                                      {pressure_, Quantity::pressure},
                                      {second_, Quantity::pressure},
                                      {light_, Quantity::illuminance}}) {
    const QString was = box->currentData().toString();
    box->clear();
    for (const Channel& channel : workbench_.bench().channels)
      if (channel.quantity == quantity && !channel.derived && !lacks_sensor(channel))
        box->addItem(text_of(called(channel)), text_of(channel.id));
    if (box == second_ && pressure_->count() > 0) {
      box->addItem(tr("a typed one"), QString(typed_pressure));
      box->addItem(tr("itself at rest"), QString(own_rest));
    }
    if (const int again = box->findData(was); again >= 0) box->setCurrentIndex(again);
  }
  for (QComboBox* box : {a_, b_}) {
    const QString was = box->currentData().toString();
    box->clear();
    if (box == b_) box->addItem(tr("none"), QString());
    for (const Channel& channel : workbench_.bench().channels) {
      if (channel.derived || lacks_sensor(channel)) continue;
      const QString name = text_of(called(channel));
      const QString unit = text_of(base_unit(channel.quantity).symbol);
      box->addItem(unit.isEmpty() ? name : QStringLiteral("%1, %2").arg(name, unit), text_of(channel.id));
    }
    if (const int again = box->findData(was); again >= 0) box->setCurrentIndex(again);
  }
  // The air's own temperature goes with its humidity.
  if (const Channel* humidity =
          find_by_id(workbench_.bench().channels, humidity_->currentData().toString().toStdString()))
    for (const Channel& channel : workbench_.bench().channels)
      if (channel.quantity == Quantity::temperature && !channel.device.empty() && channel.device == humidity->device)
        temperature_->setCurrentIndex(temperature_->findData(text_of(channel.id)));
  // Air pressure is absolute; the other one beside it.
  for (int i = 0; i < pressure_->count(); ++i)
    if (const Channel* channel =
            find_by_id(workbench_.bench().channels, pressure_->itemData(i).toString().toStdString());
        channel && channel->kind == PressureKind::absolute)
      pressure_->setCurrentIndex(i);
  refresh();
}

std::vector<QComboBox*> DerivedView::boxes_of(const DerivedQuantity& quantity) const {
  std::vector<QComboBox*> boxes;
  for (const Quantity input : quantity.inputs) {
    if (input == Quantity::temperature) boxes.push_back(boxes.empty() ? temperature_ : second_temperature_);
    if (input == Quantity::humidity) boxes.push_back(humidity_);
    if (input == Quantity::pressure) boxes.push_back(boxes.empty() ? pressure_ : second_);
    if (input == Quantity::illuminance) boxes.push_back(light_);
  }
  // A height and a time have none, they are typed; so may a pressure be.
  if (boxes.size() == 2 && boxes[1] == second_ && second_->currentData().toString().startsWith(QLatin1Char(' ')))
    boxes.pop_back();
  return boxes;
}

std::optional<double> DerivedView::number_for(const DerivedQuantity& quantity,
                                              const std::vector<QComboBox*>& boxes) const {
  if (boxes.size() >= quantity.inputs.size()) return std::nullopt;
  switch (quantity.inputs.back()) {
    case Quantity::duration: return light_s_;
    case Quantity::pressure: return other_pascal_;
    default: return height_m_;
  }
}

bool DerivedView::is_at_rest(const DerivedQuantity& quantity, const std::vector<QComboBox*>& boxes) const {
  return boxes.size() < quantity.inputs.size() && quantity.inputs.back() == Quantity::pressure && at_rest_ > 0 &&
         second_->currentData().toString() == own_rest;
}

DerivedView::Mean DerivedView::mean_now(const std::string& channel) const {
  const auto readings = workbench_.past(channel);
  Mean mean;
  for (auto each = readings.rbegin(); each != readings.rend() && each->first >= readings.back().first - mean_s; ++each)
    mean.value += each->second, ++mean.readings;
  if (mean.readings > 0) mean.value /= mean.readings;
  return mean;
}

void DerivedView::take_rest() {
  at_rest_ = 0;
  if (second_->currentData().toString() == own_rest) {
    const QString name = pressure_->currentText();
    const Mean mean = mean_now(pressure_->currentData().toString().toStdString());
    if (mean.readings > 0) other_pascal_ = mean.value, at_rest_ = mean.readings;
    kept_->setText(
        mean.readings > 0
            ? tr("%1 at rest: the mean of %2 readings. Take it while nothing drives it.").arg(name).arg(mean.readings)
            : tr("No reading of %1 has come: type what it reads while nothing drives it.").arg(name));
  }
  refresh();
}

void DerivedView::take_zero() {
  const Channel* chosen = workbench_.chosen().channel;
  if (!chosen || !chosen->derived) return;
  const Mean mean = mean_now(chosen->derived->of);
  if (mean.readings == 0) return kept_->setText(tr("No reading of it has come: there is nothing to take."));
  const std::string id = chosen->id;
  workbench_.document().edit(tr("%1 at rest").arg(text_of(chosen->name)), [&](Bench& bench) {
    DerivedFrom& from = *find_by_id(bench.channels, id)->derived;
    from.number = mean.value, from.at_rest = mean.readings;
  });
  kept_->setText(tr("Its rest is the mean of %1 readings now.").arg(mean.readings));
}

DerivedFrom DerivedView::choice_of(const DerivedQuantity& quantity) const {
  const auto boxes = boxes_of(quantity);
  const auto id_in = [&](std::size_t i) { return boxes[i]->currentData().toString().toStdString(); };
  return {.as = quantity.id,
          .of = id_in(0),
          .beside = boxes.size() > 1 ? id_in(1) : std::string(),
          .number = number_for(quantity, boxes),
          .at_rest = is_at_rest(quantity, boxes) ? at_rest_ : 0,
          .formula = {},
          .unknown = {}};
}

std::optional<double> DerivedView::off_at(const DerivedQuantity& quantity, double value) const {
  Bench tried = workbench_.bench();
  tried.channels.push_back(new_derived_channel(tried, quantity, choice_of(quantity)));
  const auto chain = build_chain(tried, workbench_.catalogue(), tried.channels.back().id);
  const auto budget = chain ? error_budget(*chain, value) : Result<Budget>(chain.problem());
  return budget ? std::optional(budget->combined) : std::nullopt;
}

std::optional<double> DerivedView::value_of(const std::string& channel, QStringList& assumed) const {
  const ChannelView& view = workbench_.view(channel);
  if (view.reading) return *view.reading;
  if (!view.chain || view.refused || !workbench_.samples(channel).empty()) return std::nullopt;
  if (const QString name = text_of(called(*view.channel)); !assumed.contains(name)) assumed << name;
  return (view.channel->wanted.from + view.channel->wanted.to) / 2;
}

// Of the chosen channels; pressures on one board share half of what they are off by where that is said.
Result<Derived> DerivedView::worked_out(const DerivedQuantity& quantity, const std::vector<QComboBox*>& boxes,
                                        const std::vector<DerivedInput>& inputs) const {
  const bool at_rest = is_at_rest(quantity, boxes);
  std::vector<std::vector<double>> correlation;
  if (shared_->isChecked() && boxes.size() == 2 && quantity.inputs.front() == Quantity::pressure)
    correlation = {{1, 0.5}, {0.5, 1}};
  const bool absolute =
      quantity.id == typed_formula || (at_rest && quantity.quantity == Quantity::pressure) ||
      std::ranges::none_of(boxes, [this](QComboBox* box) {
        const Channel* channel = find_by_id(workbench_.bench().channels, box->currentData().toString().toStdString());
        return channel && channel->kind != PressureKind::none && channel->kind != PressureKind::absolute;
      });
  if (!absolute) return Problem{tr("one of the pressures is not absolute").toStdString(), ""};
  auto derived = propagate(quantity.function, inputs, correlation);
  if (derived && at_rest) derived->standard = off_at(quantity, derived->value).value_or(derived->standard);
  return derived;
}

std::optional<DerivedView::Line> DerivedView::line_of(const DerivedQuantity& quantity,
                                                      const std::vector<QComboBox*>& boxes,
                                                      QStringList& assumed) const {
  if (boxes.size() == 2 && boxes[0]->currentData() == boxes[1]->currentData()) return std::nullopt;
  std::vector<DerivedInput> inputs;
  bool lacks_accuracy = false;
  for (QComboBox* box : boxes) {
    const std::string id = box->currentData().toString().toStdString();
    const ChannelView& view = workbench_.view(id);
    lacks_accuracy = lacks_accuracy || (view.budget && view.budget->lacks_accuracy);
    if (const auto value = value_of(id, assumed); value && view.budget)
      inputs.push_back({id, *value, view.budget->combined});
  }
  if (inputs.size() != boxes.size()) return std::nullopt;
  if (const auto number = number_for(quantity, boxes)) inputs.push_back({"", *number, 0});
  const auto derived = worked_out(quantity, boxes, inputs);
  if (!derived)
    return Line{quantity.id,
                {text_of(quantity.name), QStringLiteral("–"), QStringLiteral("–"), QString(),
                 quantity.id == "frost-point" ? tr("the dew point is above 0 °C: there is no frost")
                                              : text_of(derived.problem().wrong)},
                true};
  // As its input is shown, where it is of the same kind.
  const Unit* shown = &base_unit(quantity.quantity);
  if (quantity.quantity == quantity.inputs.front())
    if (const auto& chain = workbench_.view(inputs.front().name).chain) shown = chain->shown;
  const auto most = std::ranges::max_element(derived->contributions) - derived->contributions.begin();
  const std::string& worst = inputs[static_cast<std::size_t>(most)].name;
  const Channel* channel = find_by_id(workbench_.bench().channels, worst);
  const double off = 2 * derived->standard / shown->scale;
  const int decimals = decimals_for(off);
  const NumberStyle& style = workbench_.style();
  return Line{
      quantity.id,
      {text_of(quantity.name), text_of(with_unit(shown->from_base(derived->value), decimals, shown->symbol, style)),
       (lacks_accuracy ? QStringLiteral("≥ %1") : QStringLiteral("%1"))
           .arg(text_of(with_unit(off, decimals, shown->symbol, style))),
       channel ? text_of(called(*channel)) : text_of(worst),
       quantity.accumulates ? tr("at this light for those hours; a channel counts it since midnight UTC")
                            : text_of(quantity.says)},
      false};
}

void DerivedView::refresh() {
  if (!isVisible()) return;
  const NumberStyle& style = workbench_.style();
  height_->show_value(height_m_, text_of(with_unit(height_m_, 0, "m", style)));
  other_pressure_->show_value(other_pascal_, text_of(with_unit(other_pascal_ / 100, 2, "hPa", style)));
  other_pressure_->setEnabled(second_->currentData().toString().startsWith(QLatin1Char(' ')));
  light_hours_->show_value(light_s_, text_of(with_unit(light_s_ / 3600, 1, "h", style)));
  const Channel* chosen = workbench_.chosen().channel;
  zero_->setVisible(chosen && chosen->derived && chosen->derived->at_rest > 0);
  std::vector<Line> lines;
  QStringList assumed;
  const auto add = [&](const DerivedQuantity& quantity, const std::vector<QComboBox*>& boxes) {
    if (auto line = line_of(quantity, boxes, assumed)) lines.push_back(std::move(*line));
  };
  for (const DerivedQuantity& quantity : derived_quantities()) add(quantity, boxes_of(quantity));
  formula_wrong_->clear();
  if (const DerivedFrom from = own_formula(); !from.formula.empty()) {
    const auto quantity = enum_by_name<Quantity>(formula_is_->currentData().toString().toStdString());
    if (const auto own = what_follows(workbench_.bench(), from, *quantity))
      add(**own, from.beside.empty() ? std::vector{a_} : std::vector{a_, b_});
    else
      formula_wrong_->setText(text_of(to_text({own.problem().wrong, own.problem().expected})));
  }
  head_->setText(assumed.isEmpty()
                     ? tr("A quantity that is worked out from several readings is off by what each of them is off, "
                          "through the formula's slope.")
                     : tr("No reading has come yet of %1: the middle of the wanted range stands for it.")
                           .arg(assumed.join(QStringLiteral(", "))));
  formula_wrong_->setVisible(!formula_wrong_->text().isEmpty());
  show_lines(lines);
}

void DerivedView::show_lines(const std::vector<Line>& lines) {
  std::vector<std::string> rows;
  for (const Line& line : lines) rows.push_back(line.id);
  if (rows != rows_) table_->clearSelection();  // another row would stand at its place
  rows_ = std::move(rows);
  if (const bool none = rows_.empty(); none != nothing_follows_) {
    nothing_follows_ = none;
    kept_->setText(none ? tr("They follow from channels of temperature and humidity, or of pressure: choose their "
                             "sensors first, or listen to a board that sends them.")
                        : tr("Choose a row to keep it."));
  }
  table_->setRowCount(static_cast<int>(lines.size()));
  for (int at = 0; at < table_->rowCount(); ++at) {
    const Line& line = lines[static_cast<std::size_t>(at)];
    put_row(*table_, at, line.cells, theme_, line.is_quiet ? theme_.colours().quiet : theme_.colours().ink, 1, 2);
  }
  share_width(*table_);
}

// A channel of it: wanted where its inputs are, allowed to be off by what it is off by now.
void DerivedView::keep() {
  const auto chosen = table_->selectionModel()->selectedRows();
  if (chosen.isEmpty()) return;
  const Bench& bench = workbench_.bench();
  DerivedFrom from = own_formula();
  if (const DerivedQuantity* known = derived_quantity(rows_[static_cast<std::size_t>(chosen.front().row())]))
    from = choice_of(*known);
  const auto own_quantity = enum_by_name<Quantity>(formula_is_->currentData().toString().toStdString());
  const auto follows = what_follows(bench, from, *own_quantity);
  if (!follows) return;
  const DerivedQuantity& quantity = **follows;
  Channel kept = new_derived_channel(bench, quantity, from);
  Bench tried = bench;
  tried.channels.push_back(kept);
  std::vector<double> now;
  SideValues beside;
  QStringList assumed;
  for (const std::string& id : {from.of, from.beside})
    if (!id.empty())
      if (const auto value = value_of(id, assumed)) now.push_back(*value), beside[id] = *value;
  if (from.number) now.push_back(*from.number);
  if (now.size() == quantity.inputs.size())
    if (const auto chain = build_chain(tried, workbench_.catalogue(), kept.id, beside))
      if (const auto budget = error_budget(*chain, quantity.function(now));
          budget && budget->expanded > 0 && !budget->lacks_accuracy)
        kept.tolerance = round_up(budget->expanded);
  const std::string id = kept.id;
  workbench_.document().edit(tr("Keep the %1").arg(text_of(quantity.name)),
                             [&](Bench& changed) { changed.channels.push_back(kept); });
  kept_->setText(tr("%1 is a channel now: it stands on the shelf.").arg(text_of(kept.name)));
  workbench_.choose_channel(id);
}

}  // namespace fair_gauge::app

#include "moc_derived_view.cpp"
