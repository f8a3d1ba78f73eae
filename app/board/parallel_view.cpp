#include "board/parallel_view.h"

#include <QHeaderView>
#include <QSignalBlocker>
#include <cmath>

#include "quantity/number_format.h"
#include "sizing/parallel_converter.h"
#include "widgets/findings.h"
#include "widgets/plain_table.h"
#include "wiring/pin_stress.h"

namespace fair_gauge::app {

ParallelView::ParallelView(const Theme& theme, Workbench& workbench, QWidget* parent)
    : QWidget(parent), theme_(theme), workbench_(workbench) {
  auto* head = new Form(theme);
  which_ = head->add_choice(tr("Converter"), tr("One that the controller reads over parallel lines"), {},
                            "parallel_converter", [this](int) { refresh(); });
  has_ = new QCheckBox(tr("It has a start and a ready line"));
  has_->setObjectName(QStringLiteral("has_handshake"));
  connect(has_, &QCheckBox::toggled, this, [this](bool on) {
    const Converter* chosen = converter();
    if (!chosen) return;
    workbench_.document().edit(tr("Start and ready line"), [id = chosen->id, on](Bench& bench) {
      find_by_id(bench.converters, id)->handshake = on ? std::optional(Handshake()) : std::nullopt;
    });
  });
  form_ = new Form(theme);
  build_form(*form_);
  missing_ = new Text(theme, Face::text, {}, Tint::quiet);
  missing_->setObjectName(QStringLiteral("parallel_missing"));
  summary_ = new Text(theme, Face::strong);
  summary_->setObjectName(QStringLiteral("parallel_summary"));
  for (Text* each : {missing_, summary_}) each->setWordWrap(true);
  timeline_ = new Timeline(theme);
  timeline_->setObjectName(QStringLiteral("parallel_timeline"));
  findings_ = column(4);
  volts_ = new QLineEdit(QStringLiteral("0.64, 1.28, 2"));
  volts_->setObjectName(QStringLiteral("half_references"));
  volts_->setAccessibleName(tr("Voltages at the half-reference pin"));
  volts_->setFont(theme.font(Face::number_small));
  connect(volts_, &QLineEdit::textChanged, this, &ParallelView::refresh_table);
  volts_echo_ = new Text(theme, Face::small, {}, Tint::red);
  volts_echo_->setObjectName(QStringLiteral("half_references_echo"));
  table_ = plain_table(theme, "half_reference_table", tr("What a voltage at the half-reference pin makes of the span"),
                       {tr("at the pin"), tr("span"), tr("one code"), {}}, {120, 100, 110, 0});
  auto* asked = row(8);
  asked->addWidget(new Text(theme, Face::small, tr("Volts at the pin"), Tint::quiet));
  asked->addWidget(volts_, 1);
  auto* found = column(8);
  found->addWidget(summary_);
  found->addWidget(timeline_);
  found->addLayout(findings_);
  found->addSpacing(8);
  found->addWidget(new Text(theme, Face::label, tr("THE HALF-REFERENCE PIN"), Tint::quiet));
  found->addLayout(asked);
  found->addWidget(volts_echo_);
  found->addWidget(table_);
  found->addStretch();
  found_ = new QWidget;
  found_->setLayout(found);
  auto* left = column(8);
  left->addWidget(head);
  left->addWidget(has_);
  left->addWidget(missing_);
  left->addWidget(form_);
  left->addStretch();
  auto* all = row(32);
  all->addLayout(left, 2);
  all->addWidget(found_, 3);
  stack_when_huge(theme, all);
  setLayout(all);
  connect(&workbench, &Workbench::bench_changed, this, &ParallelView::refresh);
}

void ParallelView::build_form(Form& form) {
  const auto number = [&](const QString& label, const QString& why, Dimension dimension, const char* unit,
                          const char* name, double Handshake::*member) {
    auto* field = form.add_quantity(label, why, dimension, name, [this, label, member](double value) {
      edit(label, [&](Handshake& handshake) { handshake.*member = std::max(0.0, value); });
    });
    numbers_.push_back({field, member, unit});
  };
  const auto count = [&](const QString& label, const QString& why, const char* name, int Handshake::*member,
                         double least) {
    return form.add_quantity(label, why, Dimension::number, name, [this, label, member, least](double value) {
      edit(label, [&](Handshake& handshake) {
        handshake.*member = static_cast<int>(std::lround(std::clamp(value, least, 65536.0)));
      });
    });
  };
  form.add_heading(tr("ITS CLOCK"));
  fed_ = form.add_choice(tr("Comes from"), tr("R and C at its clock pins, or a clock that is divided for it"),
                         {tr("R and C of its own"), tr("a clock, divided")}, "parallel_clock", [this](int chosen) {
                           edit(tr("Clock of the converter"), [&](Handshake& handshake) {
                             handshake.clock_ohm = chosen == 0 ? 10e3 : 0;
                             handshake.clock_farad = chosen == 0 ? 150e-12 : 0;
                             if (chosen == 0) handshake.period_per_rc = 1.1;
                             const double board = workbench_.bench().board.clock_hz;
                             if (chosen == 1 && handshake.fed_hz <= 0) handshake.fed_hz = board > 0 ? board : 1e6;
                             if (const int least = least_divider(handshake); chosen == 1 && least > 0)
                               handshake.divided_by = least;
                           });
                         });
  number(tr("R"), tr("At its clock pins"), Dimension::resistance, "Ω", "parallel_ohm", &Handshake::clock_ohm);
  number(tr("C"), tr("At its clock pins"), Dimension::capacitance, "F", "parallel_farad", &Handshake::clock_farad);
  number(tr("Clock"), tr("That is divided for it"), Dimension::frequency, "Hz", "parallel_fed", &Handshake::fed_hz);
  divider_ = count(tr("Divided by"), tr("On the way to the converter"), "parallel_divider", &Handshake::divided_by, 1);
  form.add_heading(tr("BY ITS SHEET"));
  number(tr("Clock at least"), tr("Below it the code drifts while it is made"), Dimension::frequency, "Hz",
         "parallel_minimum", &Handshake::clock_minimum_hz);
  number(tr("Clock at most"), tr("Above it codes come out wrong"), Dimension::frequency, "Hz", "parallel_maximum",
         &Handshake::clock_maximum_hz);
  fewest_ =
      count(tr("Clocks, fewest"), tr("From the start to ready"), "parallel_fewest", &Handshake::clocks_minimum, 0);
  most_ = count(tr("Clocks, most"), tr("From the start to ready"), "parallel_most", &Handshake::clocks_maximum, 0);
  number(tr("Start pulse"), tr("At least so long"), Dimension::time, "s", "parallel_start", &Handshake::start_s);
  number(tr("Outputs valid"), tr("So long after the read pulse begins"), Dimension::time, "s", "parallel_access",
         &Handshake::access_s);
  number(tr("Ready taken back"), tr("So long after the read pulse begins"), Dimension::time, "s", "parallel_reset",
         &Handshake::reset_s);
  form.add_heading(tr("READY"));
  asked_ =
      form.add_choice(tr("The firmware"), tr("How it learns that a conversion is done"),
                      {tr("asks again and again"), tr("is called (interrupt)")}, "parallel_ready", [this](int chosen) {
                        edit(tr("Ready line"), [&](Handshake& handshake) { handshake.interrupts = chosen == 1; });
                      });
}

void ParallelView::showEvent(QShowEvent* event) {
  QWidget::showEvent(event);
  refresh();
}

const Converter* ParallelView::converter() const {
  const int at = which_->currentIndex();
  return at < 0 || at >= static_cast<int>(listed_.size())
             ? nullptr
             : find_by_id(workbench_.bench().converters, listed_[static_cast<std::size_t>(at)]);
}

void ParallelView::edit(const QString& what, const std::function<void(Handshake&)>& change) {
  const Converter* chosen = converter();
  if (!chosen) return;
  workbench_.document().edit(what, [&, id = chosen->id](Bench& bench) {
    Converter* changed = find_by_id(bench.converters, id);
    if (changed->handshake) change(*changed->handshake);
  });
}

void ParallelView::refresh() {
  if (!isVisible()) return;
  std::vector<std::string> ids;
  for (const Converter& each : workbench_.bench().converters)
    if (each.part.empty()) ids.push_back(each.id);
  if (ids != listed_) {
    const QSignalBlocker quiet(which_);
    which_->clear();
    for (const std::string& id : ids) {
      const Converter& each = *find_by_id(workbench_.bench().converters, id);
      which_->addItem(in_own_marks(text_of(called(each))));
    }
    listed_ = std::move(ids);
    const auto has_it = [this](const std::string& id) {
      return find_by_id(workbench_.bench().converters, id)->handshake.has_value();
    };
    if (const auto first = std::ranges::find_if(listed_, has_it); first != listed_.end())
      which_->setCurrentIndex(static_cast<int>(first - listed_.begin()));
  }
  const Converter* chosen = converter();
  has_->setEnabled(chosen);
  const QSignalBlocker blocked(has_);
  has_->setChecked(chosen && chosen->handshake);
  missing_->setVisible(!chosen || !chosen->handshake);
  missing_->setText(!chosen ? tr("This bench has no converter: add one in Overview.")
                            : tr("A converter inside the controller has no such lines. One beside it, with eight data "
                                 "lines, is begun by a pulse and says by a line that it is done."));
  for (QWidget* each : {static_cast<QWidget*>(form_), found_}) each->setVisible(chosen && chosen->handshake);
  if (!chosen || !chosen->handshake) return;
  refresh_plan(*chosen->handshake);
  refresh_table();
}

void ParallelView::refresh_plan(const Handshake& handshake) {
  const NumberStyle& style = workbench_.style();
  const bool own = handshake.clock_ohm > 0 && handshake.clock_farad > 0;
  fed_->setCurrentIndex(own ? 0 : 1);
  for (const Number& each : numbers_) {
    const double value = handshake.*each.member;
    each.field->show_value(value, value > 0 ? text_of(with_prefix(value, each.unit, 4, style)) : tr("not stated"));
    const bool of_rc = each.member == &Handshake::clock_ohm || each.member == &Handshake::clock_farad;
    if (of_rc || each.member == &Handshake::fed_hz) each.field->setEnabled(of_rc == own);
  }
  divider_->setEnabled(!own);
  for (const auto& [field, value] : {std::pair(divider_, handshake.divided_by),
                                     {fewest_, handshake.clocks_minimum},
                                     {most_, handshake.clocks_maximum}})
    field->show_value(value, QString::number(value));
  asked_->setCurrentIndex(handshake.interrupts ? 1 : 0);
  const auto plan = plan_handshake(handshake);
  clear(findings_);
  timeline_->setVisible(plan && !plan->steps.empty());
  if (!plan) return summary_->setText(sentence(to_text(plan.problem())));
  summary_->setText(tr("Clocked at %1%2.")
                        .arg(text_of(with_prefix(plan->clock_hz, "Hz", 3, style)),
                             plan->longest_s > 0 ? tr(": a conversion takes %1 to %2, a reading at most %3")
                                                       .arg(text_of(with_prefix(plan->shortest_s, "s", 3, style)),
                                                            text_of(with_prefix(plan->longest_s, "s", 3, style)),
                                                            text_of(with_prefix(plan->reading_s, "s", 3, style)))
                                                 : QString()));
  std::vector<Timeline::Lane> lanes = {{tr("start"), {}}, {tr("converts"), {}}, {tr("ready"), {}}, {tr("read"), {}}};
  for (const HandshakeStep& step : plan->steps)
    lanes[static_cast<std::size_t>(step.lane)].bars.push_back(
        {text_of(step.what), step.from_s, step.to_s, step.lane != HandshakeStep::Lane::converts});
  timeline_->show_lanes(std::move(lanes));
  list_findings(findings_, theme_, plan->findings, 6);
}

void ParallelView::refresh_table() {
  const Converter* chosen = converter();
  if (!chosen) return;
  const Rail* supply = supply_of_controller(workbench_.bench());
  const auto volts = parse_quantity_list(volts_->text().toStdString(), Dimension::voltage);
  volts_echo_->setText(volts ? QString() : text_of(to_text(volts.problem())));
  const auto rows = half_references(supply ? supply->voltage.best_v() : 5.0, chosen->bits,
                                    volts ? std::span<const double>(*volts) : std::span<const double>());
  table_->setRowCount(static_cast<int>(rows.size()));
  const NumberStyle& style = workbench_.style();
  const auto volt = [&](double value) { return text_of(with_prefix(value, "V", 5, style)); };
  for (std::size_t i = 0; i < rows.size(); ++i)
    put_row(*table_, static_cast<int>(i),
            {i == 0 ? tr("nothing") : volt(rows[i].pin_v), volt(rows[i].span_v), volt(rows[i].step_v),
             rows[i].beyond_supply ? tr("more than the supply: the upper codes never come")
             : i == 0              ? tr("half the supply is inside")
                                   : QString()},
            theme_, rows[i].beyond_supply ? theme_.colours().amber : theme_.colours().ink, 0, 2);
  table_->setFixedHeight(table_->horizontalHeader()->sizeHint().height() +
                         static_cast<int>(rows.size()) * table_->verticalHeader()->defaultSectionSize() + 4);
}

}  // namespace fair_gauge::app

#include "moc_parallel_view.cpp"
