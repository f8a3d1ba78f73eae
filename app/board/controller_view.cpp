#include "board/controller_view.h"

#include <QSignalBlocker>

#include "digital/registers.h"
#include "quantity/number_format.h"
#include "widgets/findings.h"
#include "wiring/controller_check.h"

namespace fair_gauge::app {

ControllerView::ControllerView(const Theme& theme, Workbench& workbench, QWidget* parent)
    : QWidget(parent), theme_(theme), workbench_(workbench) {
  title_ = new Text(theme, Face::strong, tr("The controller's own registers"));
  title_->setObjectName(QStringLiteral("controller_title"));
  title_->setWordWrap(true);
  auto* form = new Form(theme);
  described_ = form->add_choice(
      tr("Described by"), tr("Its converter's and comparator's registers; your own are typed in Read, Own part"), {},
      "controller_described", [this](int index) {
        const std::string id = index > 0 ? controllers_[static_cast<std::size_t>(index - 1)].id : "";
        workbench_.document().edit(tr("Controller"), [&](Bench& bench) {
          if (bench.board.controller != id) bench.board.registers.clear();
          bench.board.controller = id;
        });
      });
  clock_ = form->add_quantity(tr("Its clock"), tr("That the controller runs at"), Dimension::frequency,
                              "controller_clock", [this](double hertz) {
                                workbench_.document().edit(tr("Clock of the controller"),
                                                           [&](Bench& bench) { bench.board.clock_hz = hertz; });
                              });
  nothing_ = new Text(theme, Face::text,
                      tr("No description is chosen. With one you choose what the converter reads, against what and how "
                         "fast, and get the lines that change only those bits."));
  nothing_->setWordWrap(true);
  grid_ = new RegisterGrid(theme, QStringLiteral("controller_register"));
  connect(grid_, &RegisterGrid::changed, this, &ControllerView::compose_anew);
  echo_ = new Text(theme, Face::small, {}, Tint::red);
  echo_->setObjectName(QStringLiteral("controller_echo"));
  connect(grid_, &RegisterGrid::refused, echo_, &Text::setText);
  figures_ = new Text(theme, Face::text);
  figures_->setObjectName(QStringLiteral("controller_figures"));
  lines_title_ = new Text(theme, Face::label, {}, Tint::quiet);
  lines_ = new Text(theme, Face::code, {}, Tint::accent);
  lines_->setObjectName(QStringLiteral("controller_lines"));
  lines_->let_select();
  cautions_ = new Text(theme, Face::small, {}, Tint::amber);
  for (Text* each : {echo_, figures_, lines_, cautions_}) each->setWordWrap(true);
  findings_ = column(4);
  keep_ = new QPushButton(tr("Keep in the bench"));
  keep_->setObjectName(QStringLiteral("keep_controller"));
  keep_->setProperty("primary", true);
  connect(keep_, &QPushButton::clicked, this, &ControllerView::keep);
  right_ = new QWidget;
  auto* right = column(8);
  right->addWidget(new Text(theme, Face::label, tr("WHAT FOLLOWS"), Tint::quiet));
  right->addWidget(figures_);
  right->addLayout(findings_);
  right->addSpacing(8);
  right->addWidget(lines_title_);
  right->addWidget(lines_);
  right->addWidget(keep_, 0, Qt::AlignLeft);
  right->addWidget(echo_);
  right->addSpacing(8);
  right->addWidget(cautions_);
  right_->setLayout(right);
  pins_ = new PinTable(theme, workbench);
  auto* asked = column(8);
  asked->addWidget(title_);
  asked->addWidget(form);
  asked->addWidget(nothing_);
  asked->addWidget(grid_);
  asked->addStretch();
  auto* found = column(16);
  found->addWidget(right_);
  found->addWidget(pins_);
  found->addStretch();
  auto* all = row(32);
  all->addLayout(asked, 1);
  all->addLayout(found, 1);
  stack_when_huge(theme, all);
  setLayout(all);
  connect(&workbench, &Workbench::bench_changed, this, &ControllerView::refresh);
}

void ControllerView::showEvent(QShowEvent* event) {
  QWidget::showEvent(event);
  controllers_ = load_controllers();  // one of the user's own may have been saved meanwhile
  shown_.clear();
  refresh();
}

const Controller* ControllerView::controller() const { return controller_of(workbench_.bench().board, controllers_); }

void ControllerView::refresh() {
  if (!isVisible()) return;
  const Board& board = workbench_.bench().board;
  {
    const QSignalBlocker quiet(described_);
    described_->clear();
    described_->addItem(tr("nothing yet"));
    for (const Controller& each : controllers_)
      described_->addItem(in_own_marks(text_of(each.name)) +
                          (each.markings.empty() ? QString() : QStringLiteral(", ") + text_of(each.markings.front())));
    const Controller* now = controller();
    described_->setCurrentIndex(now ? static_cast<int>(now - controllers_.data()) + 1 : 0);
  }
  const Controller* now = controller();
  nothing_->setVisible(!now);
  for (QWidget* each : {static_cast<QWidget*>(grid_), right_}) each->setVisible(now);
  pins_->refresh();
  clock_->setEnabled(now);
  if (!now) {
    if (!board.controller.empty())
      nothing_->setText(tr("The bench names \"%1\", and there is no such description. Choose another one, or type it "
                           "in Read, Own part.")
                            .arg(text_of(board.controller)));
    return clock_->show_value(board.clock_hz, {});
  }
  const double hertz = board.clock_hz > 0 ? board.clock_hz : now->clock_hz;
  clock_->show_value(hertz, text_of(with_prefix(hertz, "Hz", 4, workbench_.style())));
  auto kept = registers_of(now->layout, {}, board.registers);
  if (shown_ != now->id || kept != kept_) {
    shown_ = now->id;
    kept_ = std::move(kept);
    grid_->show_registers(now->layout.registers, kept_);
    echo_->clear();
  }
  cautions_->setText(text_of(now->cautions.empty() ? std::string() : now->cautions.front()));
  compose_anew();
}

// What follows from the registers as they stand now, and the lines to them.
void ControllerView::compose_anew() {
  const Controller* now = controller();
  if (!now) return;
  clear(findings_);
  const auto check = check_controller(workbench_.bench(), *now, grid_->values());
  QStringList figures;
  if (check) {
    for (const RegisterFigure& figure : check->composition.figures)
      if (figure.value > 0)
        figures << tr("%1: %2").arg(text_of(figure.name),
                                    text_of(with_prefix(figure.value, figure.unit, 4, workbench_.style())));
    list_findings(findings_, theme_, check->findings, 6);
  }
  figures_->setText(check ? figures.join(QLatin1Char('\n')) : text_of(to_text(check.problem())));
  const bool is_changed = grid_->values() != kept_;
  const auto from = is_changed ? kept_ : power_on_values(now->layout);
  QStringList lines;
  for (const std::string& line : lines_of_change(*now, from, grid_->values())) lines << text_of(line);
  lines_title_->setText(is_changed ? tr("FROM WHAT IS KEPT TO THIS, NO OTHER BIT")
                                   : tr("FROM POWER-ON TO WHAT IS KEPT, NO OTHER BIT"));
  lines_->set_verbatim(lines.isEmpty() ? tr("nothing is to be changed") : lines.join(QLatin1Char('\n')));
  keep_->setEnabled(is_changed);
}

void ControllerView::keep() {
  if (!controller()) return;
  workbench_.document().edit(tr("Registers of the controller"),
                             [&](Bench& bench) { bench.board.registers = grid_->changed_values(); });
}

}  // namespace fair_gauge::app

#include "moc_controller_view.cpp"
