#include "choose/own_figures_form.h"

#include "quantity/number_format.h"

namespace fair_gauge::app {

OwnFiguresForm::OwnFiguresForm(const Theme& theme, Workbench& workbench, QWidget* parent)
    : QWidget(parent), workbench_(workbench) {
  auto* form = new Form(theme);
  form->add_heading(tr("WHAT COUNTS INSTEAD OF ITS SHEET"));
  accuracy_ = form->add_quantity(
      tr("Accurate to ±"), tr("Over the whole range, at most"), Dimension::number, "figure_accuracy",
      [this](double value) { edit([value](OwnPart&, OwnFigure& own) { own.accuracy = std::max(0.0, value); }); });
  from_ = form->add_quantity(tr("Range from"), tr("Where its readings begin to be right"), Dimension::number,
                             "figure_from", [this](double value) {
                               edit([&](OwnPart&, OwnFigure& own) {
                                 own.from = value;
                                 if (!own.to) own.to = sheet_.to;
                               });
                             });
  to_ = form->add_quantity(tr("to"), tr("Where they end to be"), Dimension::number, "figure_to", [this](double value) {
    edit([&](OwnPart&, OwnFigure& own) {
      own.to = value;
      if (!own.from) own.from = sheet_.from;
    });
  });
  supply_from_ = form->add_quantity(
      tr("Supply from"), tr("Of the board it sits on"), Dimension::voltage, "figure_supply_from",
      [this](double value) { edit([value](OwnPart& own, OwnFigure&) { own.supply_minimum_v = value; }); });
  supply_to_ = form->add_quantity(
      tr("to"), tr("Of the board it sits on"), Dimension::voltage, "figure_supply_to",
      [this](double value) { edit([value](OwnPart& own, OwnFigure&) { own.supply_maximum_v = value; }); });
  note_ = form->add_words(
      tr("By whom"), tr("Where the figures come from: a seller, an own measurement"), "figure_note",
      [this](const QString& words) { edit([&](OwnPart& own, OwnFigure&) { own.note = words.toStdString(); }); });
  back_ = new QPushButton(tr("Back to its sheet"));
  back_->setObjectName(QStringLiteral("figures_back"));
  connect(back_, &QPushButton::clicked, this, [this] {
    workbench_.document().edit(tr("Own figures"), [this](Bench& bench) {
      const auto found = std::ranges::find(bench.own_parts, part_, &OwnPart::part);
      if (found == bench.own_parts.end()) return;
      std::erase_if(found->figures, [this](const OwnFigure& each) { return each.quantity == quantity_; });
      found->supply_minimum_v = found->supply_maximum_v = 0;
      found->note.clear();
    });
  });
  said_ = new Text(theme, Face::small, {}, Tint::red);
  said_->setObjectName(QStringLiteral("figures_said"));
  said_->setWordWrap(true);
  said_->hide();
  auto* all = column(4);
  all->addWidget(form);
  all->addWidget(said_);
  all->addWidget(back_, 0, Qt::AlignLeft);
  setLayout(all);
}

OwnPart OwnFiguresForm::own() const {
  const auto& parts = workbench_.bench().own_parts;
  const auto found = std::ranges::find(parts, part_, &OwnPart::part);
  return found == parts.end() ? OwnPart{.part = part_} : *found;
}

OwnFigure OwnFiguresForm::figure() const {
  const OwnPart own_part = own();
  const auto found = std::ranges::find(own_part.figures, quantity_, &OwnFigure::quantity);
  return found == own_part.figures.end() ? OwnFigure{.quantity = quantity_} : *found;
}

// A figure that is as the sheet's again leaves nothing behind.
void OwnFiguresForm::edit(const std::function<void(OwnPart&, OwnFigure&)>& change) {
  OwnPart own_part = own();
  OwnFigure changed = figure();
  change(own_part, changed);
  const bool turned = (changed.from && changed.to && *changed.from >= *changed.to) ||
                      (own_part.supply_minimum_v > 0 && own_part.supply_maximum_v > 0 &&
                       own_part.supply_minimum_v > own_part.supply_maximum_v);
  said_->setText(turned ? tr("It would end before it begins: nothing is changed.") : QString());
  said_->setVisible(turned);
  if (turned) return;
  std::erase_if(own_part.figures, [this](const OwnFigure& each) { return each.quantity == quantity_; });
  if (changed != OwnFigure{.quantity = quantity_}) own_part.figures.push_back(changed);
  workbench_.document().edit(tr("Own figures"), [&](Bench& bench) {
    std::erase_if(bench.own_parts, [this](const OwnPart& each) { return each.part == part_; });
    bench.own_parts.push_back(own_part);
  });
}

void OwnFiguresForm::show_part(const Part& part, Quantity quantity) {
  part_ = part.id;
  quantity_ = quantity;
  const PartQuantity* measured = part.measures(quantity);
  if (measured) sheet_ = {measured->minimum, measured->maximum};
  const Dimension dimension = dimension_of(quantity);
  const Dimension difference = dimension == Dimension::temperature ? Dimension::temperature_difference : dimension;
  accuracy_->set_dimension(difference);
  for (QuantityField* each : {from_, to_}) each->set_dimension(dimension);
  const NumberStyle& style = workbench_.style();
  const OwnFigure own_figure = figure();
  const std::string symbol(base_unit(dimension).symbol);
  accuracy_->show_value(
      own_figure.accuracy,
      own_figure.accuracy > 0
          ? text_of(with_unit(own_figure.accuracy, 3, std::string(difference_symbol(base_unit(dimension))), style))
          : tr("as its sheet says"));
  from_->show_value(sheet_.from, text_of(with_unit(sheet_.from, 1, symbol, style)));
  to_->show_value(sheet_.to, text_of(with_unit(sheet_.to, 1, symbol, style)));
  supply_from_->show_value(part.supply.minimum_v, text_of(with_unit(part.supply.minimum_v, 2, "V", style)));
  supply_to_->show_value(part.supply.maximum_v, text_of(with_unit(part.supply.maximum_v, 2, "V", style)));
  if (!note_->hasFocus() || !note_->isModified()) note_->setText(text_of(own().note));
  back_->setEnabled(own().has_figures());
}

}  // namespace fair_gauge::app

#include "moc_own_figures_form.cpp"
