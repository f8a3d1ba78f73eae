#include "board/pin_table.h"

#include "language/translation.h"
#include "quantity/number_format.h"
#include "quantity/quantity_text.h"
#include "widgets/plain_table.h"
#include "wiring/pin_stress.h"

namespace fair_gauge::app {
namespace {

enum Place { pin_name, pin_reads, pin_calls, pin_volts, pin_uses };

}  // namespace

PinTable::PinTable(const Theme& theme, Workbench& workbench, QWidget* parent)
    : QWidget(parent), theme_(theme), workbench_(workbench) {
  table_ = edit_table(theme, "pins", tr("Pins of the controller"),
                      {tr("pin"), tr("reads a voltage by"), tr("calls"), tr("bears"), tr("what ends here")},
                      {78, 0, 52, 64, 112});
  table_->horizontalHeaderItem(pin_calls)->setToolTip(tr("It can call the firmware: an interrupt"));
  connect(table_, &QTableWidget::cellChanged, this, &PinTable::changed);
  auto* add = new QPushButton(tr("Add a pin"));
  add->setObjectName(QStringLiteral("add_pin"));
  connect(add, &QPushButton::clicked, this, &PinTable::add);
  take_ = new QPushButton(tr("Take it off"));
  take_->setObjectName(QStringLiteral("take_pin"));
  connect(take_, &QPushButton::clicked, this, [this] {
    const auto line = static_cast<std::size_t>(std::max(table_->currentRow(), 0));
    workbench_.document().edit(tr("Pin taken off"), [line](Bench& bench) {
      auto& pins = bench.board.pins;
      if (line < pins.size()) pins.erase(pins.begin() + static_cast<std::ptrdiff_t>(line));
    });
  });
  echo_ = new Text(theme, Face::small, {}, Tint::red);
  echo_->setObjectName(QStringLiteral("pins_echo"));
  echo_->setWordWrap(true);
  echo_->hide();
  auto* buttons = row(8);
  buttons->addWidget(add);
  buttons->addWidget(take_);
  buttons->addStretch();
  auto* all = column(8);
  all->addWidget(new Text(theme, Face::label, tr("PINS"), Tint::quiet));
  all->addWidget(table_);
  all->addLayout(buttons);
  all->addWidget(echo_);
  setLayout(all);
}

void PinTable::say(const QString& words) {
  echo_->setText(words);
  echo_->setVisible(!words.isEmpty());
}

void PinTable::add() {
  say({});
  workbench_.document().edit(tr("New pin"), [](Bench& bench) {
    auto& pins = bench.board.pins;
    int number = static_cast<int>(pins.size()) + 1;
    const auto is_there = [&](const std::string& name) {
      return std::ranges::find(pins, name, &Pin::name) != pins.end();
    };
    while (is_there(translated("pin {}", number))) ++number;
    pins.push_back({.name = translated("pin {}", number)});
  });
  table_->setCurrentCell(table_->rowCount() - 1, pin_name);
  table_->setFocus();
}

void PinTable::refresh() {
  const Bench& bench = workbench_.bench();
  filling_ = true;
  QStringList converters{tr("none")};
  for (const Converter& each : bench.converters) converters << text_of(called(each));
  table_->setRowCount(static_cast<int>(bench.board.pins.size()));
  for (std::size_t i = 0; i < bench.board.pins.size(); ++i) {
    const Pin& pin = bench.board.pins[i];
    const int line = static_cast<int>(i);
    const double bears = pin_bears(bench, &pin);
    const Device* device = find_by_id(bench.devices, pin.uses);
    const Bus* bus = find_by_id(bench.buses, pin.uses);
    QString uses = device ? text_of(name_of(bench, *device)) : bus ? text_of(called(*bus)) : text_of(pin.uses);
    if (!pin.carries.empty()) uses += QStringLiteral(", ") + text_of(translated(pin.carries));
    put_row(*table_, line,
            {text_of(pin.name),
             {},
             {},
             bears > 0 ? text_of(with_prefix(bears, "V", 3, workbench_.style())) : QString(),
             uses},
            theme_, theme_.colours().ink, pin_volts, pin_volts);
    table_->item(line, pin_volts)->setForeground(pin.most_v > 0 ? theme_.colours().ink : theme_.colours().quiet);
    table_->item(line, pin_volts)
        ->setToolTip(pin.most_v > 0 ? tr("As it is typed here. Empty it, and it is 0.3 V more than the supply")
                                    : tr("0.3 V more than the supply. Type what the sheet of the controller says"));
    table_->item(line, pin_uses)->setFlags(Qt::ItemIsEnabled | Qt::ItemIsSelectable);
    auto* calls = table_->item(line, pin_calls);
    calls->setFlags(Qt::ItemIsEnabled | Qt::ItemIsSelectable | Qt::ItemIsUserCheckable);
    calls->setCheckState(pin.interrupt ? Qt::Checked : Qt::Unchecked);
    const auto at = std::ranges::find(bench.converters, pin.reads, &Converter::id);
    choice_in(*table_, line, pin_reads, converters,
              at == bench.converters.end() ? 0 : static_cast<int>(at - bench.converters.begin()) + 1,
              tr("Reads a voltage by"), [this, i](int chosen) {
                workbench_.document().edit(tr("What reads a pin"), [&](Bench& changed) {
                  if (i < changed.board.pins.size())
                    changed.board.pins[i].reads =
                        chosen > 0 ? changed.converters[static_cast<std::size_t>(chosen) - 1].id : "";
                });
              });
  }
  filling_ = false;
  fit_height(*table_, 64);
  share_width(*table_);
  take_->setEnabled(table_->rowCount() > 0);
}

void PinTable::changed(int line, int place) {
  const auto at = static_cast<std::size_t>(line);
  if (filling_ || at >= workbench_.bench().board.pins.size()) return;
  const auto& pins = workbench_.bench().board.pins;
  const QString text = table_->item(line, place)->text().trimmed();
  Pin pin = pins[at];
  say({});
  if (place == pin_name) {
    const std::string name = text.toStdString();
    const auto other = std::ranges::find(pins, name, &Pin::name);
    if (name.empty())
      say(tr("A pin has a name: as your board prints it"));
    else if (other != pins.end() && other - pins.begin() != line)
      say(tr("There is a pin %1 already").arg(text));
    else
      pin.name = name;
  }
  if (place == pin_calls) pin.interrupt = table_->item(line, place)->checkState() == Qt::Checked;
  if (place == pin_volts) {
    const auto volts = parse_quantity(text.toStdString(), Dimension::voltage);
    if (text.isEmpty())
      pin.most_v = 0;
    else if (!volts || volts->base < 0 || volts->base > 60)
      say(volts ? tr("%1 cannot be; up to 60 V").arg(text) : text_of(to_text(volts.problem())));
    else
      pin.most_v = volts->base;
  }
  if (pin == pins[at]) return refresh();
  const QString what = tr("Pin %1: %2").arg(text_of(pins[at].name), table_->horizontalHeaderItem(place)->text());
  workbench_.document().edit(what, [&](Bench& bench) { bench.board.pins[at] = pin; });
}

}  // namespace fair_gauge::app

#include "moc_pin_table.cpp"
