#include "correct/derived_view.h"

#include <QGridLayout>
#include <QHeaderView>
#include <algorithm>
#include <cmath>

#include "quantity/number_format.h"
#include "truth/derived.h"
#include "truth/error_budget.h"
#include "widgets/form.h"
#include "widgets/plain_table.h"

namespace fair_gauge::app {
namespace {

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
  for (QComboBox* box : {temperature_, second_temperature_, humidity_, pressure_, second_})
    connect(box, &QComboBox::activated, this, &DerivedView::refresh);
  height_ = new QuantityField(theme, Dimension::length);
  height_->setObjectName(QStringLiteral("derived_height"));
  height_->setAccessibleName(tr("Height of the place above the sea"));
  connect(height_, &QuantityField::value_given, this, [this](double metres) {
    height_m_ = metres;
    refresh();
  });
  shared_ = new QCheckBox(tr("both pressures by sensors of one kind: half of their error is shared"));
  shared_->setObjectName(QStringLiteral("derived_shared"));
  shared_->setToolTip(in_own_marks(
      tr("Errors that two readings share take themselves out of a difference; a correlation of 0.5 is assumed")));
  connect(shared_, &QCheckBox::clicked, this, &DerivedView::refresh);
  auto* own = formula_row();
  table_ = plain_table(theme, "derived", tr("What follows"),
                       {tr("quantity"), tr("value"), tr("±, 95 %"), tr("mostly by"), tr("what it is good for")},
                       {210, 96, 88, 116, 0});
  table_->setSelectionBehavior(QAbstractItemView::SelectRows);
  table_->setSelectionMode(QAbstractItemView::SingleSelection);
  keep_ = new QPushButton(tr("Keep as a channel"));
  keep_->setObjectName(QStringLiteral("derived_keep"));
  keep_->setToolTip(tr("The chosen row stands on the shelf then, is watched, judged and switched on like any other"));
  connect(keep_, &QPushButton::clicked, this, &DerivedView::keep);
  connect(table_, &QTableWidget::itemSelectionChanged, this,
          [this] { keep_->setEnabled(!table_->selectionModel()->selectedRows().isEmpty()); });
  keep_->setEnabled(false);
  kept_ = new Text(theme, Face::small, tr("Choose a row to keep it."), Tint::quiet);
  kept_->setObjectName(QStringLiteral("derived_kept"));
  kept_->setWordWrap(true);
  auto* form = new QGridLayout;
  form->setHorizontalSpacing(12);
  form->setVerticalSpacing(4);
  int place = 0;
  for (const auto& [words, box] : {std::pair<QString, QWidget*>{tr("Temperature"), temperature_},
                                   {tr("Humidity"), humidity_},
                                   {tr("Second temperature"), second_temperature_},
                                   {tr("Pressure"), pressure_},
                                   {tr("Second pressure"), second_},
                                   {tr("Height of the place"), height_}}) {
    auto* label = new Text(theme, Face::small, words, Tint::quiet);
    label->setBuddy(box);
    form->addWidget(label, 2 * (place / 3), place % 3);
    form->addWidget(box, 2 * (place / 3) + 1, place % 3);
    ++place;
  }
  for (int i = 0; i < 3; ++i) form->setColumnStretch(i, 1);
  auto* all = column(8);
  auto* head = new Text(theme, Face::small,
                        tr("A quantity that is worked out from several readings is off by what each of them is off, "
                           "through the formula's slope."),
                        Tint::quiet);
  head->setWordWrap(true);
  all->addWidget(head);
  all->addLayout(form);
  all->addWidget(shared_);
  all->addWidget(table_, 1);
  all->addLayout(own);
  all->addWidget(formula_wrong_);
  auto* end = row(12);
  end->addWidget(keep_);
  end->addWidget(kept_, 1);
  all->addLayout(end);
  setLayout(all);
  connect(&workbench, &Workbench::bench_changed, this, &DerivedView::list_channels);
  connect(&workbench, &Workbench::values_changed, this, &DerivedView::refresh);
  list_channels();
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
                         text_of(enum_name(quantity)));
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
                                      {second_, Quantity::pressure}}) {
    const QString was = box->currentData().toString();
    box->clear();
    for (const Channel& channel : workbench_.bench().channels)
      if (channel.quantity == quantity && !channel.derived)
        box->addItem(text_of(channel.name.empty() ? channel.id : channel.name), text_of(channel.id));
    if (const int again = box->findData(was); again >= 0) box->setCurrentIndex(again);
  }
  for (QComboBox* box : {a_, b_}) {
    const QString was = box->currentData().toString();
    box->clear();
    if (box == b_) box->addItem(tr("none"), QString());
    for (const Channel& channel : workbench_.bench().channels) {
      if (channel.derived) continue;
      const QString name = text_of(channel.name.empty() ? channel.id : channel.name);
      const QString unit = text_of(base_unit(channel.quantity).symbol);
      box->addItem(unit.isEmpty() ? name : QStringLiteral("%1, %2").arg(name, unit), text_of(channel.id));
    }
    if (const int again = box->findData(was); again >= 0) box->setCurrentIndex(again);
  }
  // The air's own temperature goes with its humidity.
  if (const Channel* humidity =
          find_by_id(workbench_.bench().channels, humidity_->currentData().toString().toStdString()))
    for (const Channel& channel : workbench_.bench().channels)
      if (channel.quantity == Quantity::temperature && channel.device == humidity->device)
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
  }
  return boxes;  // a height has none: it is typed
}

void DerivedView::refresh() {
  const auto name_of_channel = [this](const std::string& id) {
    const Channel* channel = find_by_id(workbench_.bench().channels, id);
    return text_of(channel && !channel->name.empty() ? channel->name : id);
  };
  if (!isVisible()) return;
  const NumberStyle& style = workbench_.style();
  height_->show_value(height_m_, text_of(with_unit(height_m_, 0, "m", style)));
  std::vector<std::string> rows;
  std::vector<std::pair<QStringList, bool>> lines;
  const auto add_line = [&](const DerivedQuantity& quantity, const std::vector<QComboBox*>& boxes) {
    std::vector<DerivedInput> inputs;
    for (QComboBox* box : boxes) {
      const std::string id = box->currentData().toString().toStdString();
      const ChannelView& view = workbench_.view(id);
      if (view.reading && view.budget) inputs.push_back({id, *view.reading, view.budget->combined});
    }
    if (inputs.size() != boxes.size()) return;
    if (boxes.size() == 2 && boxes[0]->currentData() == boxes[1]->currentData()) return;
    if (boxes.size() < quantity.inputs.size()) inputs.push_back({tr("height").toStdString(), height_m_, 0});
    std::vector<std::vector<double>> correlation;
    if (shared_->isChecked() && boxes.size() == 2 && quantity.inputs.front() == Quantity::pressure)
      correlation = {{1, 0.5}, {0.5, 1}};
    const bool absolute =
        quantity.id == typed_formula || std::ranges::none_of(boxes, [this](QComboBox* box) {
          const Channel* channel = find_by_id(workbench_.bench().channels, box->currentData().toString().toStdString());
          return channel && channel->kind != PressureKind::none && channel->kind != PressureKind::absolute;
        });
    const auto derived = absolute
                             ? propagate(quantity.function, inputs, correlation)
                             : Result<Derived>(Problem{tr("one of the pressures is not absolute").toStdString(), ""});
    // As its input is shown, where it is of the same kind.
    const Unit* shown = &base_unit(quantity.quantity);
    if (quantity.quantity == quantity.inputs.front())
      if (const auto& chain = workbench_.view(inputs.front().name).chain) shown = chain->shown;
    rows.push_back(quantity.id);
    if (!derived) {
      lines.emplace_back(QStringList{text_of(quantity.name), QStringLiteral("–"), QStringLiteral("–"), QString(),
                                     quantity.id == "frost-point" ? tr("the dew point is above 0 °C: there is no frost")
                                                                  : text_of(derived.problem().wrong)},
                         true);
      return;
    }
    const auto most = std::ranges::max_element(derived->contributions) - derived->contributions.begin();
    const double off = 2 * derived->standard / shown->scale;
    const int decimals = decimals_for(off);
    lines.emplace_back(
        QStringList{text_of(quantity.name),
                    text_of(with_unit(shown->from_base(derived->value), decimals, shown->symbol, style)),
                    text_of(with_unit(off, decimals, shown->symbol, style)),
                    name_of_channel(inputs[static_cast<std::size_t>(most)].name), text_of(quantity.says)},
        false);
  };
  for (const DerivedQuantity& quantity : derived_quantities()) add_line(quantity, boxes_of(quantity));
  formula_wrong_->clear();
  if (const DerivedFrom from = own_formula(); !from.formula.empty()) {
    const auto quantity = enum_by_name<Quantity>(formula_is_->currentData().toString().toStdString());
    if (const auto own = what_follows(workbench_.bench(), from, *quantity))
      add_line(**own, from.beside.empty() ? std::vector{a_} : std::vector{a_, b_});
    else
      formula_wrong_->setText(text_of(to_text({own.problem().wrong, own.problem().expected})));
  }
  formula_wrong_->setVisible(!formula_wrong_->text().isEmpty());
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
    const auto& [cells, is_quiet] = lines[static_cast<std::size_t>(at)];
    put_row(*table_, at, cells, theme_, is_quiet ? theme_.colours().quiet : theme_.colours().ink, 1, 2);
  }
}

// A channel of it: wanted where its inputs are, allowed to be off by what it is off by now.
void DerivedView::keep() {
  const auto chosen = table_->selectionModel()->selectedRows();
  if (chosen.isEmpty()) return;
  const Bench& bench = workbench_.bench();
  DerivedFrom from = own_formula();
  if (const DerivedQuantity* known = derived_quantity(rows_[static_cast<std::size_t>(chosen.front().row())])) {
    const auto boxes = boxes_of(*known);
    const auto id_in = [&](std::size_t i) { return boxes[i]->currentData().toString().toStdString(); };
    from = {.as = known->id,
            .of = id_in(0),
            .beside = boxes.size() > 1 ? id_in(1) : std::string(),
            .number = boxes.size() < known->inputs.size() ? std::optional(height_m_) : std::nullopt,
            .formula = {},
            .unknown = {}};
  }
  const auto own_quantity = enum_by_name<Quantity>(formula_is_->currentData().toString().toStdString());
  const auto follows = what_follows(bench, from, *own_quantity);
  if (!follows) return;
  const DerivedQuantity& quantity = **follows;
  Channel kept = new_derived_channel(bench, quantity, from);
  Bench tried = bench;
  tried.channels.push_back(kept);
  std::vector<double> now;
  SideValues beside;
  for (const std::string& id : {from.of, from.beside})
    if (!id.empty())
      if (const auto& reading = workbench_.view(id).reading) now.push_back(*reading), beside[id] = *reading;
  if (from.number) now.push_back(*from.number);
  if (now.size() == quantity.inputs.size())
    if (const auto chain = build_chain(tried, workbench_.catalogue(), kept.id, beside))
      if (const auto budget = error_budget(*chain, quantity.function(now)); budget && budget->expanded > 0)
        kept.tolerance = round_up(budget->expanded);
  const std::string id = kept.id;
  workbench_.document().edit(tr("Keep the %1").arg(text_of(quantity.name)),
                             [&](Bench& changed) { changed.channels.push_back(kept); });
  kept_->setText(tr("%1 is a channel now: it stands on the shelf.").arg(text_of(kept.name)));
  workbench_.choose_channel(id);
}

}  // namespace fair_gauge::app

#include "moc_derived_view.cpp"
