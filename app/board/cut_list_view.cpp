#include "board/cut_list_view.h"

#include "language/translation.h"
#include "quantity/number_format.h"
#include "quantity/quantity_text.h"
#include "widgets/edit_table.h"
#include "widgets/findings.h"
#include "widgets/form.h"
#include "widgets/plain_table.h"
#include "wiring/cut_list.h"

namespace fair_gauge::app {
namespace {

enum RunPlace { run_name, run_length, run_slack, run_cable, run_conductors, run_bus, run_connector };
enum AccessoryPlace { thing_name, thing_kind, thing_pins, thing_rail, thing_current, thing_forward, thing_resistor };

template <class E>
QStringList words_of_all() {
  QStringList words;
  for (const auto& [value, name] : enum_names(E{}))
    words << text_of(translated_name(value)).replace(QLatin1Char('-'), QLatin1Char(' '));
  return words;
}

template <class Things>
int place_of(const Things& things, const std::string& id) {
  for (std::size_t i = 0; i < things.size(); ++i)
    if (things[i].id == id) return static_cast<int>(i) + 1;
  return 0;
}

}  // namespace

CutListView::CutListView(const Theme& theme, Workbench& workbench, QWidget* parent)
    : QWidget(parent), theme_(theme), workbench_(workbench) {
  summary_ = new Text(theme, Face::strong);
  summary_->setObjectName(QStringLiteral("cut_summary"));
  summary_->setWordWrap(true);
  echo_ = new Text(theme, Face::small, {}, Tint::red);
  echo_->setObjectName(QStringLiteral("cut_echo"));
  echo_->setWordWrap(true);
  echo_->hide();
  runs_ = edit_table(theme, "cut_runs", tr("Runs of cable"),
                     {tr("from … to …"), tr("length"), tr("slack"), tr("cable"), tr("wires"), tr("of the bus"),
                      tr("connector, in order")},
                     {0, 66, 66, 134, 44, 136, 0});
  accessories_ = edit_table(theme, "accessories", tr("Beside the sensors"),
                            {tr("name"), tr("kind"), tr("your pins"), tr("supply"), tr("current"),
                             tr("forward voltage"), tr("resistor in series")},
                            {0, 126, 92, 116, 66, 118, 144});
  connect(runs_, &QTableWidget::cellChanged, this, &CutListView::change_run);
  connect(accessories_, &QTableWidget::cellChanged, this, &CutListView::change_accessory);
  const auto button = [&](const QString& words, const char* name, auto pressed) {
    auto* made = new QPushButton(words);
    made->setObjectName(QLatin1String(name));
    connect(made, &QPushButton::clicked, this, pressed);
    return made;
  };
  auto* add_run = button(tr("Add a run"), "add_run", [this] {
    edit(tr("New run of cable"), [](Bench& bench) { bench.cables.push_back({.name = translated("board to ")}); });
    runs_->setCurrentCell(runs_->rowCount() - 1, run_name);
    runs_->setFocus();
  });
  take_run_ = button(tr("Take it off"), "take_run", [this] {
    const auto line = static_cast<std::size_t>(std::max(runs_->currentRow(), 0));
    edit(tr("Run of cable taken off"), [line](Bench& bench) {
      if (line < bench.cables.size()) bench.cables.erase(bench.cables.begin() + static_cast<std::ptrdiff_t>(line));
    });
  });
  auto* add_accessory = button(tr("Add one"), "add_accessory", [this] {
    edit(tr("New thing beside the sensors"), [](Bench& bench) {
      bench.accessories.push_back({.name = "Lamp", .kind = AccessoryKind::lamp});
      if (!bench.rails.empty()) bench.accessories.back().rail = bench.rails.front().id;
    });
    accessories_->setCurrentCell(accessories_->rowCount() - 1, thing_name);
    accessories_->setFocus();
  });
  take_accessory_ = button(tr("Take it off"), "take_accessory", [this] {
    const auto line = static_cast<std::size_t>(std::max(accessories_->currentRow(), 0));
    edit(tr("Thing taken off"), [line](Bench& bench) {
      if (line < bench.accessories.size())
        bench.accessories.erase(bench.accessories.begin() + static_cast<std::ptrdiff_t>(line));
    });
  });
  findings_ = column(2);
  const auto buttons = [](QPushButton* add, QPushButton* take) {
    auto* line = row(8);
    line->addWidget(add);
    line->addWidget(take);
    line->addStretch();
    return line;
  };
  auto* all = column(8);
  all->addWidget(summary_);
  all->addWidget(echo_);
  all->addWidget(new Text(theme, Face::label, tr("RUNS OF CABLE"), Tint::quiet));
  all->addWidget(runs_);
  all->addLayout(buttons(add_run, take_run_));
  all->addSpacing(8);
  all->addWidget(new Text(theme, Face::label, tr("BESIDE THE SENSORS"), Tint::quiet));
  all->addWidget(accessories_);
  all->addLayout(buttons(add_accessory, take_accessory_));
  all->addSpacing(8);
  all->addLayout(findings_);
  all->addStretch();
  setLayout(all);
  connect(&workbench, &Workbench::bench_changed, this, &CutListView::refresh);
}

void CutListView::showEvent(QShowEvent* event) {
  QWidget::showEvent(event);
  refresh();
}

void CutListView::say(const QString& words) {
  echo_->setText(words);
  echo_->setVisible(!words.isEmpty());
}

void CutListView::edit(const QString& label, const std::function<void(Bench&)>& change) {
  say({});
  workbench_.document().edit(label, change);
}

void CutListView::refresh() {
  if (!isVisible()) return;
  const CutList list = cut_list(workbench_.bench());
  QStringList words;
  for (const CutLine& line : list.to_buy)
    words << tr("%1 of %2 with %3 conductors in %4")
                 .arg(text_of(with_unit(line.metres, 2, "m", workbench_.style())), text_of(cable_words(line.kind)))
                 .arg(line.conductors)
                 .arg(line.pieces == 1 ? tr("1 piece") : tr("%1 pieces").arg(line.pieces));
  summary_->setText(words.isEmpty() ? tr("Nothing is to be cut yet. The runs of a bus give it its length.")
                                    : tr("To cut: %1.").arg(words.join(QStringLiteral(", "))));
  filling_ = true;
  list_runs();
  list_accessories();
  filling_ = false;
  for (QTableWidget* table : {runs_, accessories_}) {
    fit_height(*table);
    share_width(*table);
  }
  take_run_->setEnabled(runs_->rowCount() > 0);
  take_accessory_->setEnabled(accessories_->rowCount() > 0);
  list_findings(findings_, theme_, list.findings, 4);
}

void CutListView::list_runs() {
  const Bench& bench = workbench_.bench();
  const auto metres = [&](double value) { return text_of(with_unit(value, 2, "m", workbench_.style())); };
  QStringList buses{tr("none")};
  for (const Bus& bus : bench.buses) buses << text_of(called(bus));
  runs_->setRowCount(static_cast<int>(bench.cables.size()));
  for (std::size_t i = 0; i < bench.cables.size(); ++i) {
    const CableRun& run = bench.cables[i];
    const int line = static_cast<int>(i);
    put_row(*runs_, line,
            {text_of(run.name),
             metres(run.metres),
             metres(run.slack_m),
             {},
             QString::number(run.conductors),
             {},
             text_of(run.connector)},
            theme_, theme_.colours().ink, run_length, run_conductors);
    choice_in(*runs_, line, run_cable, words_of_all<CableKind>(), static_cast<int>(run.kind), tr("Cable"),
              [this, i](int chosen) {
                edit(tr("Cable of a run"),
                     [&](Bench& changed) { changed.cables[i].kind = static_cast<CableKind>(chosen); });
              });
    choice_in(*runs_, line, run_bus, buses, place_of(bench.buses, run.bus), tr("Of the bus"), [this, i](int chosen) {
      edit(tr("Bus of a run"), [&](Bench& changed) {
        changed.cables[i].bus = chosen > 0 ? changed.buses[static_cast<std::size_t>(chosen) - 1].id : "";
      });
    });
  }
}

void CutListView::list_accessories() {
  const Bench& bench = workbench_.bench();
  const NumberStyle& style = workbench_.style();
  QStringList rails{tr("none")};
  for (const Rail& rail : bench.rails) rails << text_of(called(rail));
  accessories_->setRowCount(static_cast<int>(bench.accessories.size()));
  for (std::size_t i = 0; i < bench.accessories.size(); ++i) {
    const Accessory& each = bench.accessories[i];
    const int line = static_cast<int>(i);
    const auto resistor = series_resistor(bench, each);
    put_row(*accessories_, line,
            {text_of(each.name),
             {},
             text_of(each.pins),
             {},
             text_of(each.current_a > 0 ? with_prefix(each.current_a, "A", 3, style) : ""),
             text_of(each.forward_v > 0 ? with_prefix(each.forward_v, "V", 3, style) : ""),
             resistor ? tr("%1, %2 flow")
                            .arg(text_of(with_prefix(resistor->ohm, "Ω", 3, style)),
                                 text_of(with_prefix(resistor->amps, "A", 3, style)))
                      : QString()},
            theme_, theme_.colours().ink, thing_current);
    auto* result = accessories_->item(line, thing_resistor);
    result->setFlags(result->flags() & ~Qt::ItemIsEditable);
    choice_in(*accessories_, line, thing_kind, words_of_all<AccessoryKind>(), static_cast<int>(each.kind), tr("Kind"),
              [this, i](int chosen) {
                edit(tr("Kind of a thing"),
                     [&](Bench& changed) { changed.accessories[i].kind = static_cast<AccessoryKind>(chosen); });
              });
    choice_in(
        *accessories_, line, thing_rail, rails, place_of(bench.rails, each.rail), tr("Supply"), [this, i](int chosen) {
          edit(tr("Supply of a thing"), [&](Bench& changed) {
            changed.accessories[i].rail = chosen > 0 ? changed.rails[static_cast<std::size_t>(chosen) - 1].id : "";
          });
        });
  }
}

std::optional<double> CutListView::typed(const QString& text, Dimension dimension) {
  const auto read = parse_quantity(text.toStdString(), dimension);
  if (!read) say(text_of(to_text(read.problem())));
  return read ? std::optional(read->base) : std::nullopt;
}

void CutListView::change_run(int line, int place) {
  const auto at = static_cast<std::size_t>(line);
  if (filling_ || at >= workbench_.bench().cables.size()) return;
  const QString text = runs_->item(line, place)->text().trimmed();
  CableRun run = workbench_.bench().cables[at];
  say({});
  if (place == run_name) run.name = text.toStdString();
  if (place == run_connector) run.connector = text.toStdString();
  if (place == run_length)
    if (const auto metres = typed(text, Dimension::length)) run.metres = *metres;
  if (place == run_slack)
    if (const auto metres = typed(text, Dimension::length)) run.slack_m = *metres;
  if (place == run_conductors) {
    const int wires = text.toInt();
    if (wires >= 1 && wires <= 100)
      run.conductors = wires;
    else
      say(tr("\"%1\" is no number of wires; 1 to 100").arg(text));
  }
  if (run.metres < 0 || run.metres > 1000 || run.slack_m < 0 || run.slack_m > 100) {
    run = workbench_.bench().cables[at];
    say(tr("%1 of cable cannot be; 0 to 1000 m, and 0 to 100 m of slack").arg(text));
  }
  if (run == workbench_.bench().cables[at]) return refresh();
  workbench_.document().edit(tr("Run of cable"), [&](Bench& bench) { bench.cables[at] = run; });
}

void CutListView::change_accessory(int line, int place) {
  const auto at = static_cast<std::size_t>(line);
  if (filling_ || at >= workbench_.bench().accessories.size()) return;
  const QString text = accessories_->item(line, place)->text().trimmed();
  Accessory thing = workbench_.bench().accessories[at];
  say({});
  if (place == thing_name) thing.name = text.toStdString();
  if (place == thing_pins) thing.pins = text.toStdString();
  const auto read = [&](double& into, Dimension dimension) {
    if (text.isEmpty())
      into = 0;
    else if (const auto value = typed(text, dimension); value && *value >= 0 && *value <= 100)
      into = *value;
    else if (value)
      say(tr("%1 cannot be; 0 to 100").arg(text));
  };
  if (place == thing_current) read(thing.current_a, Dimension::current);
  if (place == thing_forward) read(thing.forward_v, Dimension::voltage);
  if (thing == workbench_.bench().accessories[at]) return refresh();
  workbench_.document().edit(tr("Thing beside the sensors"), [&](Bench& bench) { bench.accessories[at] = thing; });
}

}  // namespace fair_gauge::app

#include "moc_cut_list_view.cpp"
