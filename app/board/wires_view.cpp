#include "board/wires_view.h"

#include "files/file.h"
#include "widgets/findings.h"
#include "widgets/plain_table.h"
#include "widgets/print.h"
#include "widgets/saving.h"

namespace fair_gauge::app {
namespace {

constexpr int pin_place = 2, colour_place = 5;  // columns that are typed into

}  // namespace

WiresView::WiresView(const Theme& theme, Workbench& workbench, QWidget* parent)
    : QWidget(parent), theme_(theme), workbench_(workbench) {
  summary_ = new Text(theme, Face::strong);
  summary_->setWordWrap(true);
  auto* save = new QPushButton(tr("Print or save…"));
  save->setObjectName(QStringLiteral("save_wires"));
  connect(save, &QPushButton::clicked, this, [this] {
    const QString path = ask_where_to_save(
        this, tr("Save the list of wires"), tr("%1 wiring").arg(text_of(workbench_.bench().name)).trimmed(),
        {QStringLiteral("PDF (*.pdf)"), QStringLiteral("CSV (*.csv)"), QStringLiteral("HTML (*.html)")});
    if (path.isEmpty()) return;
    const QString fault = write_to(path);
    summary_->setText(fault.isEmpty() ? tr("Saved as %1").arg(path) : fault);
  });
  echo_ = new Text(theme, Face::small, {}, Tint::red);
  echo_->setObjectName(QStringLiteral("wires_echo"));
  echo_->setWordWrap(true);
  echo_->hide();
  table_ = plain_table(theme, "wires", tr("List of wires"),
                       {tr("device"), tr("conductor"), tr("your pin"), tr("from"), tr("to the part's pin"),
                        tr("your colour"), tr("note")},
                       {150, 100, 66, 150, 196, 80, 0});
  table_->setEditTriggers(QAbstractItemView::AllEditTriggers);
  connect(table_, &QTableWidget::cellChanged, this, &WiresView::changed);
  findings_ = column(2);
  auto* head = row(8);
  head->addWidget(summary_, 1);
  head->addWidget(save);
  auto* all = column(8);
  all->addLayout(head);
  all->addWidget(echo_);
  all->addWidget(table_, 1);
  all->addLayout(findings_);
  setLayout(all);
  connect(&workbench, &Workbench::bench_changed, this, &WiresView::refresh);
}

void WiresView::changed(int line, int place) {
  if (filling_ || line >= static_cast<int>(list_.rows.size())) return;
  const WireRow wire = list_.rows[static_cast<std::size_t>(line)];
  const std::string typed = table_->item(line, place)->text().trimmed().toStdString();
  echo_->hide();
  if (place == colour_place)
    return workbench_.document().edit(tr("Colour of a wire"), [&](Bench& bench) {
      if (Device* device = find_by_id(bench.devices, wire.device)) {
        if (typed.empty())
          device->wires.erase(wire.conductor);
        else
          device->wires[wire.conductor] = typed;
      }
    });
  if (place != pin_place || typed == wire.pin) return;
  Bench tried = workbench_.bench();
  if (const auto problem = put_on_pin(tried, wire.device, wire.conductor, typed)) {
    refresh();
    echo_->setText(text_of(to_text(*problem)));
    return echo_->show();
  }
  workbench_.document().replace(tr("Pin of a wire"), std::move(tried));
}

void WiresView::showEvent(QShowEvent* event) {
  QWidget::showEvent(event);
  refresh();
}

void WiresView::refresh() {
  if (!isVisible()) return;
  list_ = wiring_list(workbench_.bench(), workbench_.catalogue());
  filling_ = true;
  table_->setRowCount(static_cast<int>(list_.rows.size()));
  for (std::size_t i = 0; i < list_.rows.size(); ++i) {
    const WireRow& wire = list_.rows[i];
    const bool again = i > 0 && list_.rows[i - 1].device == wire.device;
    const Device* device = find_by_id(workbench_.bench().devices, wire.device);
    put_row(*table_, static_cast<int>(i),
            {again     ? QString()
             : !device ? text_of(wire.device)
                       : text_of(name_of(workbench_.bench(), *device)),
             text_of(translated(wire.conductor)), text_of(wire.pin), text_of(wire.from),
             text_of(wire.to == wire.conductor ? "" : wire.to), text_of(wire.colour), text_of(wire.note)},
            theme_, theme_.colours().ink, 99);
    const bool has_pin = wire.is_wire && ends_at_a_pin(wire.conductor);
    for (int c = 0; c < table_->columnCount(); ++c)
      if (auto* item = table_->item(static_cast<int>(i), c);
          !(c == pin_place && has_pin) && !(c == colour_place && wire.is_wire))
        item->setFlags(item->flags() & ~Qt::ItemIsEditable);
  }
  filling_ = false;
  share_width(*table_);
  summary_->setText(
      list_.rows.empty()
          ? tr("No part is on this bench yet: once one is, every wire of it stands here, with its two ends.")
          : tr("%1 conductors. Type the colours you used: follow the wire, not the colour.").arg(list_.rows.size()));
  std::vector<Finding> worth;
  for (const Finding& finding : list_.findings)
    if (finding.severity != Severity::note) worth.push_back(finding);
  list_findings(findings_, theme_, worth, 4);
  if (!list_.cautions.empty()) {
    auto* care = new Text(theme_, Face::small, text_of(list_.cautions.front()), Tint::amber);
    care->setWordWrap(true);
    findings_->addWidget(care);
  }
}

QString WiresView::write_to(const QString& path) {
  const WiringList list = wiring_list(workbench_.bench(), workbench_.catalogue());
  if (path.endsWith(QStringLiteral(".csv")) || path.endsWith(QStringLiteral(".html"))) {
    const auto written =
        write_file(path.toStdString(),
                   path.endsWith(QStringLiteral(".csv")) ? wiring_csv(list) : wiring_html(list, workbench_.bench()));
    return written ? QString() : text_of(to_text(written.problem()));
  }
  return print_html(text_of(wiring_html(list, workbench_.bench())), path);
}

}  // namespace fair_gauge::app

#include "moc_wires_view.cpp"
