#include "board/reference_view.h"

#include <QSignalBlocker>

#include "quantity/number_format.h"
#include "widgets/text.h"
#include "wiring/pin_stress.h"

namespace fair_gauge::app {

ReferenceView::ReferenceView(const Theme& theme, Workbench& workbench, QWidget* parent)
    : QWidget(parent), workbench_(workbench), marked_{.nominal_v = 2.5, .tolerance = 0.002} {
  auto* form = new Form(theme);
  converter_ = form->add_choice(tr("Converter"), tr("One of the controller's own, whose reference is at a pin"), {},
                                "reference_converter", [this](int) { judge(); });
  const auto field = [&](const QString& label, const QString& why, Dimension dimension, const char* name,
                         const std::function<void(double)>& given) {
    return form->add_quantity(label, why, dimension, name, [this, given](double value) {
      given(value);
      refresh();
    });
  };
  nominal_ = field(tr("The part's voltage"), tr("As it is printed on it"), Dimension::voltage, "reference_nominal",
                   [this](double value) { marked_.nominal_v = value; });
  tolerance_ = field(tr("Its tolerance ±, per cent"), tr("By its sheet"), Dimension::number, "reference_tolerance",
                     [this](double value) { marked_.tolerance = value / 100; });
  measured_ = field(tr("Measured at the pin"), tr("With a meter against the board's ground, step 3"),
                    Dimension::voltage, "reference_measured", [this](double value) { marked_.measured_v = value; });
  meter_ = field(tr("The meter ±, per cent"), tr("By its sheet in that range"), Dimension::number, "reference_meter",
                 [this](double value) { marked_.meter_uncertainty = value / 100; });
  auto* order = column(8);
  order->addWidget(new Text(theme, Face::label, tr("IN THIS ORDER"), Tint::quiet));
  const QString words[] = {
      tr("Supply off: the part's output goes to the reference pin, its ground to the board's, 100 nF between them "
         "close to the pin"),
      tr("The firmware selects the external reference before its first reading, and never the internal one"),
      tr("Supply on: the voltage at the pin is measured and stands still")};
  const QString why[] = {
      tr("A part that is fed the wrong way round burns"),
      tr("With the internal one selected the two drive against one another: that can destroy the controller. It is "
         "never both at once"),
      tr("What the meter says is held against the part, the supply and the references inside")};
  for (int i = 0; i < 3; ++i) {
    auto* step = new QCheckBox(tr("%1").arg(i + 1));
    step->setObjectName(QStringLiteral("reference_step_%1").arg(i));
    step->setAccessibleName(words[i]);
    connect(step, &QCheckBox::toggled, this, &ReferenceView::judge);
    auto* text = new Text(theme, Face::text, words[i]);
    auto* small = new Text(theme, Face::small, why[i], Tint::quiet);
    for (Text* each : {text, small}) each->setWordWrap(true);
    auto* lines = column(2);
    lines->addWidget(text);
    lines->addWidget(small);
    auto* line = row(8);
    line->addWidget(step, 0, Qt::AlignTop);
    line->addLayout(lines, 1);
    order->addLayout(line);
    steps_.push_back(step);
  }
  verdict_ = new Text(theme, Face::strong);
  verdict_->setObjectName(QStringLiteral("reference_verdict"));
  missing_ = new Text(theme, Face::small, {}, Tint::quiet);
  missing_->setObjectName(QStringLiteral("reference_missing"));
  for (Text* each : {verdict_, missing_}) each->setWordWrap(true);
  take_ = new QPushButton(tr("Take it into the bench"));
  take_->setObjectName(QStringLiteral("reference_take"));
  take_->setProperty("primary", true);
  connect(take_, &QPushButton::clicked, this, &ReferenceView::take);
  auto* left = column(12);
  left->addWidget(form);
  left->addWidget(verdict_);
  left->addWidget(missing_);
  left->addWidget(take_, 0, Qt::AlignLeft);
  left->addStretch();
  order->addStretch();
  auto* all = row(32);
  all->addLayout(left, 1);
  all->addLayout(order, 1);
  setLayout(all);
  connect(&workbench, &Workbench::bench_changed, this, &ReferenceView::refresh);
}

void ReferenceView::showEvent(QShowEvent* event) {
  QWidget::showEvent(event);
  refresh();
}

std::vector<const Converter*> ReferenceView::converters() const {
  std::vector<const Converter*> own;
  for (const Converter& converter : workbench_.bench().converters)
    if (converter.part.empty()) own.push_back(&converter);
  return own;
}

void ReferenceView::refresh() {
  if (!isVisible()) return;
  const auto own = converters();
  std::vector<std::string> ids;
  for (const Converter* converter : own) ids.push_back(converter->id);
  if (ids != listed_) {
    const QSignalBlocker quiet(converter_);
    converter_->clear();
    for (const Converter* converter : own) converter_->addItem(in_own_marks(text_of(called(*converter))));
    listed_ = std::move(ids);
  }
  const auto show = [this](QuantityField* field, double value, int decimals, const char* unit) {
    field->show_value(value, text_of(with_unit(value, decimals, unit, workbench_.style())));
  };
  show(nominal_, marked_.nominal_v, 3, "V");
  show(tolerance_, marked_.tolerance * 100, 2, "");
  if (marked_.measured_v) show(measured_, *marked_.measured_v, 4, "V");
  show(meter_, marked_.meter_uncertainty * 100, 2, "");
  judge();
}

void ReferenceView::judge() {
  const auto own = converters();
  std::vector<double> internal;  // that of the chosen converter too: it may be the one that is still selected
  for (const Converter* converter : own)
    if (converter->reference_rail.empty()) internal.push_back(converter->reference.nominal_v);
  const Rail* supply = supply_of_controller(workbench_.bench());
  const ReferenceCheck check = check_reference(marked_, supply ? supply->voltage.best_v() : 5.0, internal);
  verdict_->setText(in_own_marks(text_of(check.words)));
  verdict_->set_tint(check.finding == ReferenceFinding::as_marked ? Tint::accent
                     : check.finding == ReferenceFinding::off     ? Tint::amber
                                                                  : Tint::red);
  const bool done = std::ranges::all_of(steps_, &QCheckBox::isChecked);
  missing_->setText(own.empty() ? tr("This bench has no converter of the controller's own: add one in Overview.")
                    : !check.may_be_taken() ? QString()
                    : !marked_.measured_v   ? tr("The voltage at the pin is still to be measured.")
                    : !done                 ? tr("Tick what is done: nothing is taken before.")
                                            : QString());
  take_->setEnabled(!own.empty() && check.may_be_taken() && marked_.measured_v && done);
}

void ReferenceView::take() {
  const auto own = converters();
  const auto at = static_cast<std::size_t>(std::max(0, converter_->currentIndex()));
  if (at >= own.size()) return;
  workbench_.document().edit(tr("Reference of %1").arg(converter_->currentText()), [&, id = own[at]->id](Bench& bench) {
    Converter& converter = *find_by_id(bench.converters, id);
    converter.reference_rail.clear();
    converter.reference.nominal_v = marked_.nominal_v;
    converter.reference.tolerance = marked_.tolerance;
    converter.reference.measured_v = marked_.measured_v;
    converter.reference.meter_uncertainty = marked_.meter_uncertainty;
  });
  missing_->setText(tr("Taken: its chains are solved with it. Ctrl+Z takes it back."));
}

}  // namespace fair_gauge::app

#include "moc_reference_view.cpp"
