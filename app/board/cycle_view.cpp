#include "board/cycle_view.h"

#include "quantity/number_format.h"
#include "widgets/findings.h"
#include "wiring/cycle_plan.h"

namespace fair_gauge::app {

CycleView::CycleView(const Theme& theme, Workbench& workbench, QWidget* parent)
    : QWidget(parent), theme_(theme), workbench_(workbench) {
  summary_ = new Text(theme, Face::strong);
  summary_->setObjectName(QStringLiteral("cycle_summary"));
  summary_->setWordWrap(true);
  timeline_ = new Timeline(theme);
  findings_ = column(2);
  auto* form = new Form(theme);
  const auto number = [&](const QString& label, const QString& why, Dimension dimension, const char* name,
                          double PowerPlan::*field) {
    return form->add_quantity(label, why, dimension, name, [this, field](double value) {
      edit_power([&](PowerPlan& power) { power.*field = value; });
    });
  };
  battery_ =
      number(tr("Battery, ampere hours"),
             tr("0 if there is none. Four fifths of it are counted on: age, cold and self-discharge take the rest"),
             Dimension::number, "power_battery", &PowerPlan::battery_ah);
  period_ = number(tr("Wakes every"), tr("Between the starts of two cycles"), Dimension::time, "power_period",
                   &PowerPlan::period_s);
  awake_ = number(tr("Controller awake"), tr("Its current while it waits for the sensors and sends"),
                  Dimension::current, "power_awake", &PowerPlan::awake_a);
  sleep_ = number(tr("Board asleep"), tr("All but the sensors: controller, regulator, lamps"), Dimension::current,
                  "power_sleep", &PowerPlan::sleep_a);
  charges_ = column(4);
  auto* left = column(8);
  left->addWidget(form);
  left->addStretch();
  auto* right = column(4);
  right->addWidget(new Text(theme, Face::label, tr("WHERE THE CHARGE GOES"), Tint::quiet));
  right->addLayout(charges_);
  right->addStretch();
  auto* lower = row(32);
  lower->addLayout(left, 1);
  lower->addLayout(right, 1);
  stack_when_huge(theme, lower);
  auto* all = column(8);
  all->addWidget(summary_);
  all->addWidget(timeline_);
  all->addLayout(findings_);
  all->addSpacing(4);
  all->addLayout(lower);
  all->addStretch();
  setLayout(all);
  connect(&workbench, &Workbench::bench_changed, this, &CycleView::refresh);
}

void CycleView::showEvent(QShowEvent* event) {
  QWidget::showEvent(event);
  refresh();
}

void CycleView::edit_power(const std::function<void(PowerPlan&)>& change) {
  workbench_.document().edit(tr("Power plan"), [&](Bench& bench) { change(bench.power); });
}

void CycleView::refresh() {
  if (!isVisible()) return;
  const NumberStyle& style = workbench_.style();
  const PowerPlan& power = workbench_.bench().power;
  const CyclePlan plan = plan_cycle(workbench_.bench(), workbench_.catalogue());
  std::vector<Timeline::Lane> lanes;
  for (const DeviceTimes& device : plan.devices) {
    if (device.bus.empty() && device.conversion_s < 1e-3)
      continue;  // the controller's own converter: too short to be seen
    Timeline::Lane lane{text_of(device.name), {}};
    for (const SequenceStep& step : device.steps)
      lane.bars.push_back({text_of(step.what), step.from_s, step.to_s, step.lane == SequenceLane::line});
    lanes.push_back(std::move(lane));
  }
  timeline_->show_lanes(std::move(lanes), plan.cycle_s);
  const bool has_bus = std::ranges::any_of(plan.devices, [](const DeviceTimes& each) { return !each.bus.empty(); });
  const QString takes = text_of(with_prefix(plan.cycle_s, "s", 3, style));
  summary_->setText((has_bus ? tr("One cycle takes %1; the busiest line is held for %2 % of it.")
                                   .arg(takes)
                                   .arg(plan.line_share * 100, 0, 'f', plan.line_share < 0.1 ? 1 : 0)
                             : tr("One cycle takes %1.").arg(takes)) +
                    QLatin1Char(' ') +
                    (plan.battery_days > 0
                         ? tr("On average %1: the battery lasts about %2 days.")
                               .arg(text_of(with_prefix(plan.average_a, "A", 3, style)))
                               .arg(std::lround(plan.battery_days))
                         : tr("On average %1.").arg(text_of(with_prefix(plan.average_a, "A", 3, style)))));
  list_findings(findings_, theme_, plan.findings, 5);
  battery_->show_value(
      power.battery_ah,
      text_of(fixed(power.battery_ah, power.battery_ah == std::round(power.battery_ah) ? 0 : 1, style)));
  period_->show_value(power.period_s, text_of(with_prefix(power.period_s, "s", 4, style)));
  awake_->show_value(power.awake_a, text_of(with_prefix(power.awake_a, "A", 3, style)));
  sleep_->show_value(power.sleep_a, text_of(with_prefix(power.sleep_a, "A", 3, style)));
  clear(charges_);
  for (std::size_t i = 0; i < plan.charges.size() && i < 6; ++i) {
    const auto& [name, amps] = plan.charges[i];
    auto* line = row(8);
    line->addWidget(new Text(theme_, Face::small, text_of(name)), 1);
    line->addWidget(new Text(theme_, Face::code, text_of(with_prefix(amps, "A", 3, style)), Tint::quiet));
    charges_->addLayout(line);
  }
}

// ---- the list of wires ----

}  // namespace fair_gauge::app

#include "moc_cycle_view.cpp"
