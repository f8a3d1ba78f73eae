#include "board/bus_view.h"

#include <fmt/format.h>
#include <qcustomplot.h>

#include <algorithm>
#include <cmath>

#include "bench/bench_things.h"
#include "language/translation.h"
#include "quantity/number_format.h"
#include "widgets/findings.h"
#include "widgets/plot_style.h"
#include "wiring/bus_scan.h"
#include "wiring/cut_list.h"

namespace fair_gauge::app {
namespace {

constexpr double speeds[] = {100e3, 400e3, 1e6};

struct Kind {
  BusKind kind;
  const char* name;  ///< English; of the new bus, and in the list
};
constexpr Kind addable[] = {
    {BusKind::two_wire, QT_TRANSLATE_NOOP("fair_gauge::app::BusView", "two-wire bus")},
    {BusKind::one_wire, QT_TRANSLATE_NOOP("fair_gauge::app::BusView", "one-wire line")},
    {BusKind::single_wire, QT_TRANSLATE_NOOP("fair_gauge::app::BusView", "single-wire humidity line")},
    {BusKind::alert, QT_TRANSLATE_NOOP("fair_gauge::app::BusView", "alert line")}};

}  // namespace

BusView::BusView(const Theme& theme, Workbench& workbench, QWidget* parent)
    : QWidget(parent), theme_(theme), workbench_(workbench) {
  buses_ = choice_box({}, "bus_choice", tr("Bus"));
  buses_->setPlaceholderText(tr("No bus yet: add one here"));
  connect(buses_, &QComboBox::activated, this, [this](int i) {
    const auto& all = workbench_.bench().buses;
    const auto at = static_cast<std::size_t>(i);
    if (at < all.size())
      choose_bus(all[at].id);
    else
      add_bus(addable[at - all.size()].kind);
  });
  build_form();
  build_pull_ups();
  auto* left_box = new QWidget;
  left_box->setLayout(left_column());
  left_box->setFixedWidth(theme.column_px(372));
  verdict_ = new Text(theme_, Face::strong);
  verdict_->setObjectName(QStringLiteral("bus_verdict"));
  verdict_->setWordWrap(true);
  plot_ = new QCustomPlot;
  plot_->setFixedHeight(theme_.px(168));
  findings_ = column(2);
  build_addresses();
  build_scan();
  connect(&theme, &Theme::changed, this, [this, left_box] {
    left_box->setFixedWidth(theme_.column_px(372));
    plot_->setFixedHeight(theme_.px(168));
    scan_->setFixedHeight(theme_.px(56));
    pull_ups_of_.reset();  // in the new faces
    refresh();
  });
  auto* all = row(20);
  all->addWidget(left_box);
  all->addLayout(right_column(), 1);
  stack_when_huge(theme, all);
  setLayout(all);
  connect(&workbench, &Workbench::values_changed, this, &BusView::watch_warming);
  connect(&workbench, &Workbench::bench_changed, this, &BusView::refresh);
}

void BusView::build_form() {
  form_ = new Form(theme_);
  rail_ = form_->add_choice(tr("Supply"), tr("The rail of the controller's side"), {}, "bus_rail", [this](int i) {
    edit_bus(tr("Supply of a bus"),
             [&](Bus& each) { each.rail = workbench_.bench().rails[static_cast<std::size_t>(i)].id; });
  });
  speed_ = form_->add_choice(tr("Speed"), tr("Of a two-wire bus: a faster one needs stronger pull-ups or less cable"),
                             {tr("100 kHz"), tr("400 kHz"), tr("1 MHz")}, "bus_speed", [this](int i) {
                               edit_bus(tr("Speed of a bus"), [i](Bus& each) { each.speed_hz = speeds[i]; });
                             });
  cable_ = form_->add_quantity(
      tr("Cable, all of it"), tr("Every metre is capacitance that the pull-ups have to charge"), Dimension::length,
      "bus_cable", [this](double v) { edit_bus(tr("Cable of a bus"), [v](Bus& each) { each.cable_m = v; }); });
  per_metre_ = form_->add_quantity(
      tr("Cable, a metre of it"), tr("A flat ribbon about 50 pF, a twisted or shielded pair about 100 pF"),
      Dimension::capacitance, "bus_per_metre",
      [this](double v) { edit_bus(tr("Cable of a bus"), [v](Bus& each) { each.farad_per_m = v; }); });
  board_ = form_->add_quantity(
      tr("Board and pin"), tr("The controller's pin and the tracks"), Dimension::capacitance, "bus_board",
      [this](double v) { edit_bus(tr("Board of a bus"), [v](Bus& each) { each.board_farad = v; }); });
  feed_ = form_->add_choice(
      tr("Sensors fed by"),
      tr("By a conductor of their own, or through the data line: then a transistor must hold it up while they convert"),
      {tr("their own wire"), tr("the data line"), tr("data line, held up")}, "bus_feed", [this](int i) {
        edit_bus(tr("Feed of a line"), [i](Bus& each) { each.parasite = i > 0, each.strong_pull_up = i == 2; });
      });
  shape_ =
      form_->add_choice(tr("The cable runs"), tr("Past one sensor after another, or in arms from one point: arms echo"),
                        {tr("past them in turn"), tr("in arms from one point")}, "bus_shape",
                        [this](int i) { edit_bus(tr("Shape of a line"), [i](Bus& each) { each.star = i == 1; }); });
  shift_ = form_->add_choice(
      tr("Level shifter"), tr("Between the controller and parts that are fed with another voltage"),
      {tr("none"), tr("in between")}, "bus_shift",
      [this](int i) { edit_bus(tr("Level shifter"), [i](Bus& each) { each.level_shift = i == 1; }); });
}

void BusView::build_pull_ups() {
  pull_ups_title_ = new Text(theme_, Face::label, tr("WHAT PULLS IT UP"), Tint::quiet);
  pull_ups_ = new QGridLayout;
  pull_ups_->setContentsMargins(0, 0, 0, 0);
  pull_ups_->setHorizontalSpacing(4);
  pull_ups_->setVerticalSpacing(4);
  pull_ups_->setColumnStretch(0, 9);
  pull_ups_->setColumnStretch(1, 5);
  pull_ups_->setColumnStretch(2, 7);
  add_pull_up_ = new QPushButton(tr("Add a pull-up"));
  add_pull_up_->setObjectName(QStringLiteral("add_pull_up"));
  add_pull_up_->setProperty("quiet", true);
  connect(add_pull_up_, &QPushButton::clicked, this, [this] {
    // Where nothing pulls up yet, the one that is named below.
    const Bus* each = bus();
    const auto check = each && each->pull_ups.empty() ? check_bus(workbench_.bench(), workbench_.catalogue(), *each)
                                                      : Result<BusCheck>(Problem{});
    edit_bus(tr("Add a pull-up"), [&](Bus& changed) {
      PullUp& added = changed.pull_ups.emplace_back();
      added.where = translated("another board");
      if (check && check->size.recommended_ohm) added.ohm = *check->size.recommended_ohm;
    });
  });
}

void BusView::build_addresses() {
  addresses_title_ = new Text(theme_, Face::label, tr("WHO HANGS ON IT"), Tint::quiet);
  addresses_ = new QGridLayout;
  addresses_->setContentsMargins(0, 0, 0, 0);
  addresses_->setHorizontalSpacing(16);
  addresses_->setVerticalSpacing(4);
  use_plan_ = new QPushButton(tr("Use this assignment"));
  use_plan_->setObjectName(QStringLiteral("use_plan"));
  use_plan_->setProperty("primary", true);
  connect(use_plan_, &QPushButton::clicked, this, &BusView::use_plan);
}

void BusView::build_scan() {
  scan_title_ = new Text(theme_, Face::label, tr("WHAT A SCAN FOUND"), Tint::quiet);
  scan_ = new TextBox("bus_scan", tr("What a scan found"), most_of_rows);
  scan_->setFont(theme_.font(Face::code));
  scan_->setFixedHeight(theme_.px(56));
  connect(scan_, &QPlainTextEdit::textChanged, this, [this] {
    if (const Bus* each = bus()) show_scan(*each);
  });
  matches_ = column(2);
  warm_ = new QPushButton(tr("Warm one by hand: which is it?"));
  warm_->setObjectName(QStringLiteral("warm_one"));
  warm_->setProperty("quiet", true);
  warm_words_ = new Text(theme_, Face::small, {}, Tint::second);
  warm_words_->setObjectName(QStringLiteral("warm_words"));
  warm_words_->setWordWrap(true);
  connect(warm_, &QPushButton::clicked, this, [this] {
    if (const Bus* each = bus()) before_warming_ = readings_of(*each);
    warm_words_->setText(tr("Hold one of them in your hand for half a minute."));
  });
}

QLayout* BusView::left_column() {
  auto* left = column(8);
  left->addWidget(buses_);
  left->addWidget(form_);
  left->addWidget(pull_ups_title_);
  left->addLayout(pull_ups_);
  left->addWidget(add_pull_up_, 0, Qt::AlignLeft);
  left->addStretch();
  return left;
}

QLayout* BusView::right_column() {
  auto* right = column(6);
  right->addWidget(verdict_);
  right->addWidget(plot_);
  right->addLayout(findings_);
  right->addSpacing(4);
  right->addWidget(addresses_title_);
  right->addLayout(addresses_);
  right->addWidget(use_plan_, 0, Qt::AlignLeft);
  right->addSpacing(4);
  right->addWidget(scan_title_);
  right->addWidget(scan_);
  right->addLayout(matches_);
  right->addWidget(warm_, 0, Qt::AlignLeft);
  right->addWidget(warm_words_);
  right->addStretch();
  return right;
}

void BusView::showEvent(QShowEvent* event) {
  QWidget::showEvent(event);
  refresh();
}

void BusView::choose_bus(const std::string& id) {
  bus_id_ = id;
  scan_->clear();
  before_warming_.clear();
  warm_words_->clear();
  refresh();
}

const Bus* BusView::bus() const {
  const auto& buses = workbench_.bench().buses;
  const Bus* found = find_by_id(buses, bus_id_);
  return found ? found : buses.empty() ? nullptr : &buses.front();
}

void BusView::edit_bus(const QString& label, const std::function<void(Bus&)>& change) {
  const Bus* now = bus();
  if (!now) return;
  workbench_.document().edit(label, [&, id = now->id](Bench& bench) {
    if (Bus* each = find_by_id(bench.buses, id)) change(*each);
  });
}

// A bus without pull-ups and devices, of the supply that the others have; the resistor to put in is said at once.
void BusView::add_bus(BusKind kind) {
  Bus added;
  added.kind = kind;
  const Bench& bench = workbench_.bench();
  added.rail = !bench.buses.empty()   ? bench.buses.front().rail
               : !bench.rails.empty() ? bench.rails.front().id
                                      : std::string();
  const std::string wish = std::ranges::find(addable, kind, &Kind::kind)->name;
  added.id = wish;
  for (int number = 2; find_by_id(bench.buses, added.id); ++number) added.id = fmt::format("{} {}", wish, number);
  bus_id_ = added.id;
  workbench_.document().edit(tr("Add a bus"), [&](Bench& changed) { changed.buses.push_back(added); });
  choose_bus(added.id);
}

void BusView::list_buses() {
  const auto& all = workbench_.bench().buses;
  buses_->clear();
  for (const Bus& each : all) buses_->addItem(text_of(called(each)));
  for (const Kind& each : addable) buses_->addItem(tr("Add: %1").arg(tr(each.name)));
  const Bus* chosen = bus();
  buses_->setCurrentIndex(chosen ? static_cast<int>(chosen - all.data()) : -1);
}

void BusView::refresh() {
  if (!isVisible()) return;
  const Bus* each = bus();
  list_buses();
  for (QWidget* part : std::initializer_list<QWidget*>{form_, pull_ups_title_, add_pull_up_, plot_, addresses_title_,
                                                       scan_title_, scan_, warm_})
    part->setVisible(each);
  if (!each) {
    clear(findings_);
    clear(addresses_);
    clear(pull_ups_);
    pull_ups_of_.reset();
    clear(matches_);
    use_plan_->hide();
    verdict_->set_tint(Tint::quiet);
    return verdict_->setText(tr("This bench has no bus yet. Add one in the list on the left."));
  }
  show_settings(*each);
  show_pull_ups(*each);
  const auto check = check_bus(workbench_.bench(), workbench_.catalogue(), *each);
  plot_->setVisible(static_cast<bool>(check));
  clear(findings_);
  if (check) {
    draw_line(*check);
    show_findings(*check);
  } else {
    verdict_->setText(text_of(to_text(check.problem())));
    verdict_->set_tint(Tint::red);
  }
  show_addresses(*each);
  show_scan(*each);
}

void BusView::show_settings(const Bus& each) {
  const Bench& bench = workbench_.bench();
  const auto list = [](QComboBox* box, const auto& items, const std::string& chosen) {
    box->clear();
    for (const auto& item : items) box->addItem(in_own_marks(text_of(called(item))));
    for (std::size_t i = 0; i < items.size(); ++i)
      if (items[i].id == chosen) box->setCurrentIndex(static_cast<int>(i));
  };
  list(rail_, bench.rails, each.rail);
  speed_->setEnabled(each.kind == BusKind::two_wire);
  speed_->setCurrentIndex(each.speed_hz <= 100e3 ? 0 : each.speed_hz <= 400e3 ? 1 : 2);
  const bool wire = each.kind == BusKind::one_wire;
  for (QComboBox* box : {feed_, shape_}) box->setEnabled(wire);
  feed_->setCurrentIndex(!each.parasite ? 0 : each.strong_pull_up ? 2 : 1);
  shape_->setCurrentIndex(each.star ? 1 : 0);
  shift_->setEnabled(!wire);
  shift_->setCurrentIndex(each.level_shift ? 1 : 0);
  warm_->setVisible(wire);
  const NumberStyle& style = workbench_.style();
  const Bus cabled = with_runs(workbench_.bench(), each);
  const bool by_runs =
      std::ranges::find(workbench_.bench().cables, each.id, &CableRun::bus) != workbench_.bench().cables.end();
  for (QuantityField* field : {cable_, per_metre_}) {
    field->setEnabled(!by_runs);
    if (!field->property("why").isValid()) field->setProperty("why", field->toolTip());
    field->setToolTip(by_runs ? tr("By the runs of the cut list") : field->property("why").toString());
  }
  cable_->show_value(cabled.cable_m, text_of(with_prefix(cabled.cable_m, "m", 4, style)));
  per_metre_->show_value(cabled.farad_per_m, text_of(with_prefix(cabled.farad_per_m, "F", 3, style)));
  board_->show_value(each.board_farad, text_of(with_prefix(each.board_farad, "F", 3, style)));
}

// A row a resistor: where it is, its value, what it goes to, and a way to take it off.
void BusView::show_pull_ups(const Bus& each) {
  const std::tuple shown(each, workbench_.bench().rails, workbench_.style().decimal_mark);
  if (std::exchange(pull_ups_of_, shown) == shown) return;
  clear(pull_ups_);
  for (std::size_t i = 0; i < each.pull_ups.size(); ++i) {
    const PullUp& pull_up = each.pull_ups[i];
    const int at = static_cast<int>(i);
    auto* where = new QLineEdit(text_of(pull_up.where));
    where->setAccessibleName(tr("Where the pull-up is"));
    where->setCursorPosition(0);
    where->setToolTip(where->text());
    connect(where, &QLineEdit::editingFinished, this, [this, i, where] {
      const std::string words = where->text().toStdString();
      const Bus* now = bus();
      if (now && i < now->pull_ups.size() && now->pull_ups[i].where != words)
        edit_bus(tr("Pull-up"), [&](Bus& b) { b.pull_ups[i].where = words; });
    });
    auto* ohm = new QuantityField(theme_, Dimension::resistance);
    ohm->setObjectName(QStringLiteral("pull_up_%1").arg(at));
    ohm->setAccessibleName(tr("Pull-up of %1").arg(text_of(pull_up.where)));
    ohm->setFont(theme_.font(Face::number_small));
    ohm->setMinimumWidth(0);
    ohm->show_value(pull_up.ohm, text_of(resistor_code(pull_up.ohm)));
    connect(ohm, &QuantityField::value_given, this, [this, i](double value) {
      if (value >= 1 && value <= 1e7)
        edit_bus(tr("Pull-up"), [&](Bus& b) {
          if (i < b.pull_ups.size()) b.pull_ups[i].ohm = value;
        });
    });
    QStringList rails{tr("its supply"), tr("ground")};
    int chosen = pull_up.to == "ground" ? 1 : 0;
    for (const Rail& rail : workbench_.bench().rails) {
      if (rail.id == pull_up.to) chosen = static_cast<int>(rails.size());
      rails << in_own_marks(text_of(called(rail)));
    }
    auto* to = choice_box(rails, "pull_up_to", tr("What the pull-up goes to"));
    to->setMinimumContentsLength(5);
    to->setCurrentIndex(chosen);
    connect(to, &QComboBox::activated, this, [this, i](int place) {
      edit_bus(tr("Pull-up"), [&](Bus& b) {
        if (i < b.pull_ups.size())
          b.pull_ups[i].to = place == 0   ? ""
                             : place == 1 ? "ground"
                                          : workbench_.bench().rails[static_cast<std::size_t>(place - 2)].id;
      });
    });
    auto* off = new QPushButton(QStringLiteral("×"));
    off->setProperty("quiet", true);
    off->setObjectName(QStringLiteral("pull_up_off_%1").arg(at));
    off->setAccessibleName(tr("Take this pull-up off"));
    off->setToolTip(tr("Take this pull-up off"));
    off->setFixedWidth(theme_.px(24));
    connect(off, &QPushButton::clicked, this, [this, i] {
      edit_bus(tr("Take a pull-up off"), [i](Bus& b) {
        if (i < b.pull_ups.size()) b.pull_ups.erase(b.pull_ups.begin() + static_cast<std::ptrdiff_t>(i));
      });
    });
    int place = 0;
    for (QWidget* widget : std::initializer_list<QWidget*>{where, ohm, to, off})
      pull_ups_->addWidget(widget, at, place++);
  }
}

// One bit: pulled down, then let go. The line against what is read as low and as high.
void BusView::draw_line(const BusCheck& check) {
  const Colours& colours = theme_.colours();
  plot_->clearGraphs();
  plot_->clearItems();
  style_plot(*plot_, theme_);
  const double low_for = check.period_s / 2, end = check.period_s * 1.15;
  double micro = 1e6;
  QVector<double> x, y;
  for (int i = 0; i <= 300; ++i) {
    const double t = end * i / 300;
    x << t * micro;
    y << (t < 0.08 * check.period_s ? check.pull.open_v
          : t < low_for             ? check.low_v + (check.pull.open_v - check.low_v) *
                                            std::exp(-(t - 0.08 * check.period_s) / (0.01 * check.period_s))
                        : check.volts_after(t - low_for));
  }
  const auto flat = [&](double volts, const QString& words, const QColor& ink) {
    auto* graph = plot_->addGraph();
    graph->setPen(QPen(ink, 1, Qt::DashLine));
    graph->setData({0, end * micro}, {volts, volts}, true);
    auto* text = new QCPItemText(plot_);
    text->setText(words);
    text->setFont(theme_.font(Face::small));
    text->setColor(ink);
    text->setPositionAlignment(Qt::AlignRight | Qt::AlignBottom);
    text->position->setCoords(end * micro, volts);
    text->setPadding(QMargins(4, 1, 4, 1));
  };
  flat(check.high_limit_v,
       tr("read as high above %1").arg(text_of(with_unit(check.high_limit_v, 2, "V", workbench_.style()))),
       colours.second);
  flat(check.low_limit_v,
       tr("read as low below %1").arg(text_of(with_unit(check.low_limit_v, 2, "V", workbench_.style()))),
       colours.second);
  auto* line = plot_->addGraph();
  line->setPen(QPen(check.has_fault() ? colours.red : colours.accent, 2));
  line->setData(x, y, true);
  plot_->xAxis->setLabel(tr("one bit, µs"));
  plot_->yAxis->setLabel(tr("line, V"));
  plot_->xAxis->setRange(0, end * micro);
  plot_->yAxis->setRange(-0.15, std::max(check.supply_v, check.pull.open_v) * 1.12);
  plot_->setAccessibleName(tr("The line over one bit"));
  plot_->setAccessibleDescription(
      in_own_marks(tr("Low at %1 V, at rest %2 V").arg(check.low_v, 0, 'f', 2).arg(check.pull.open_v, 0, 'f', 2)));
  plot_->replot(QCustomPlot::rpQueuedReplot);
}

void BusView::show_findings(const BusCheck& check) {
  const NumberStyle& style = workbench_.style();
  const PullUpSize& size = check.size;
  const QString window = tr("%1 to %2")
                             .arg(text_of(with_prefix(size.minimum_ohm, "Ω", 3, style)),
                                  text_of(with_prefix(size.maximum_ohm, "Ω", 3, style)));
  const bool bad = check.has_fault();
  verdict_->set_tint(check.members.empty() ? Tint::quiet : bad ? Tint::red : Tint::accent);
  if (size.existing_ohm)
    verdict_->setText(tr("%1 together, %2 allowed: %3")
                          .arg(text_of(with_prefix(*size.existing_ohm, "Ω", 3, style)), window,
                               bad ? tr("see what is wrong below")
                                   : tr("good, edge %1 of %2")
                                         .arg(text_of(with_prefix(*size.rise_s, "s", 3, style)),
                                              text_of(with_prefix(size.rise_limit_s, "s", 3, style)))));
  else if (check.members.empty() && size.recommended_ohm)
    verdict_->setText(tr("Nothing hangs on it yet; it will need %1 (%2 allowed)")
                          .arg(text_of(with_prefix(*size.recommended_ohm, "Ω", 3, style)), window));
  else
    verdict_->setText(size.recommended_ohm
                          ? tr("Nothing pulls it up: put in %1 (%2 allowed)")
                                .arg(text_of(with_prefix(*size.recommended_ohm, "Ω", 3, style)), window)
                          : tr("Nothing pulls it up, and no value would do"));
  constexpr int most = 7;
  int shown = 0;
  for (const Finding& finding : check.findings) {
    if (++shown > most) break;
    auto* line = new Text(theme_, Face::small, mark_of(finding.severity) + text_of(finding.words),
                          check.members.empty() ? Tint::quiet : tint_of(finding.severity));
    line->setWordWrap(true);
    findings_->addWidget(line);
  }
}

void BusView::show_addresses(const Bus& each) {
  clear(addresses_);
  const auto members = members_of(workbench_.bench(), workbench_.catalogue(), each);
  const bool two_wire = each.kind == BusKind::two_wire;
  const auto wishes = address_wishes(workbench_.bench(), workbench_.catalogue(), each);
  plan_ = two_wire ? plan_addresses(wishes, each.multiplexer_address > 0 ? std::vector{each.multiplexer_address}
                                                                         : std::vector<int>{})
                   : AddressPlan{};
  const auto conflicts = two_wire ? address_conflicts(workbench_.bench(), each) : std::vector<AddressConflict>{};
  bool differs = false;
  for (std::size_t i = 0; i < members.size(); ++i) {
    const BusMember& member = members[i];
    const int at = static_cast<int>(i);
    addresses_->addWidget(new Text(theme_, Face::small, text_of(name_of(workbench_.bench(), *member.device))), at, 0);
    QString where = two_wire ? text_of(address_text(member.device->address)) : text_of(member.device->serial);
    if (member.device->branch > 0) where += tr(", branch %1").arg(member.device->branch);
    const bool clashes = std::ranges::any_of(conflicts, [&](const AddressConflict& conflict) {
      return std::ranges::find(conflict.devices, member.device->id) != conflict.devices.end();
    });
    addresses_->addWidget(new Text(theme_, Face::code, where, clashes ? Tint::red : Tint::ink), at, 1);
    QString words = member.device->place.empty() ? QString() : text_of(member.device->place);
    if (two_wire && member.part) {
      QStringList others;
      for (const PartAddress& address : member.part->addresses)
        if (address.address != member.device->address)
          others << text_of(address_text(address.address)) +
                        (address.pins.empty() ? QString()
                                              : QStringLiteral(" (") + text_of(address.pins) + QStringLiteral(")"));
      words = clashes ? tr("answers together with another") : words;
      if (!others.isEmpty())
        words += (words.isEmpty() ? QString() : QStringLiteral(" · ")) +
                 tr("could be %1").arg(others.mid(0, 3).join(QStringLiteral(", ")));
      else
        words += (words.isEmpty() ? QString() : QStringLiteral(" · ")) + tr("has no other address");
    }
    if (two_wire && i < plan_.places.size() &&
        plan_.places[i] != AddressPlace{member.device->address, member.device->branch} && (!conflicts.empty())) {
      differs = true;
      words = tr("→ %1").arg(
          plan_.places[i].address == 0
              ? tr("no place left")
              : text_of(address_text(plan_.places[i].address)) +
                    (plan_.places[i].branch > 0
                         ? tr(" behind the multiplexer, branch %1").arg(plan_.places[i].branch)
                         : QStringLiteral(" (") +
                               text_of(member.part ? pins_for(*member.part, plan_.places[i].address) : "") +
                               QStringLiteral(")")));
    }
    auto* note = new Text(theme_, Face::small, words, clashes ? Tint::amber : Tint::quiet);
    note->setWordWrap(true);
    addresses_->addWidget(note, at, 2);
  }
  addresses_->setColumnStretch(2, 1);
  addresses_title_->setText(two_wire ? (conflicts.empty() ? tr("WHO HANGS ON IT: NO TWO AT ONE ADDRESS")
                                                          : tr("WHO HANGS ON IT: TWO ANSWER AT ONCE"))
                                     : tr("WHO HANGS ON IT: KNOWN BY SERIAL, NOT BY ORDER"));
  use_plan_->setVisible(differs && plan_.solved);
  use_plan_->setText(plan_.needs_multiplexer ? tr("Use this assignment, with a multiplexer at 0x70")
                                             : tr("Use this assignment"));
}

void BusView::use_plan() {
  const Bus* each = bus();
  if (!each) return;
  const auto members = members_of(workbench_.bench(), workbench_.catalogue(), *each);
  std::vector<std::string> ids;
  for (const BusMember& member : members) ids.push_back(member.device->id);
  workbench_.document().edit(tr("Addresses of a bus"), [&](Bench& bench) {
    for (std::size_t i = 0; i < ids.size() && i < plan_.places.size(); ++i)
      if (Device* device = find_by_id(bench.devices, ids[i]))
        device->address = plan_.places[i].address, device->branch = plan_.places[i].branch;
    if (Bus* changed = find_by_id(bench.buses, each->id);
        changed && plan_.needs_multiplexer && changed->multiplexer_address == 0)
      changed->multiplexer_address = 0x70;
  });
}

std::map<std::string, double> BusView::readings_of(const Bus& each) const {
  std::map<std::string, double> readings;
  for (const Channel& channel : workbench_.bench().channels) {
    const Device* device = find_by_id(workbench_.bench().devices, channel.device);
    if (!device || device->bus != each.id || channel.quantity != Quantity::temperature) continue;
    if (const ChannelView& view = workbench_.view(channel.id); view.reading) readings[device->id] = *view.reading;
  }
  return readings;
}

void BusView::watch_warming() {
  const Bus* each = bus();
  if (!isVisible() || before_warming_.empty() || !each) return;
  if (const auto warmed = warmed_one(before_warming_, readings_of(*each))) {
    const Device* device = find_by_id(workbench_.bench().devices, *warmed);
    warm_words_->setText(tr("%1 rises: it is the one with the serial %2.")
                             .arg(text_of(name_of(workbench_.bench(), {ThingKind::device, *warmed})),
                                  text_of(device ? device->serial : "")));
    before_warming_.clear();
  }
}

void BusView::show_scan(const Bus& each) {
  clear(matches_);
  const bool wire = each.kind == BusKind::one_wire;
  scan_->setPlaceholderText(
      wire ? tr("Paste what a search printed: 28 A1 C4 0B 00 00 00 DC …")
           : tr("Paste what a scan printed: 0x29 0x76, a grid, or 0x76 D0=60 with a register read"));
  const std::string text = scan_->toPlainText().toStdString();
  if (text.find_first_not_of(" \t\r\n") == std::string::npos) return;
  std::vector<ScanMatch> matches;
  const auto say = [&](const Problem& problem) { matches.push_back({Severity::fault, "", "", to_text(problem)}); };
  if (wire) {
    if (const auto hits = read_serial_scan(text))
      matches = match_serials(workbench_.bench(), each, *hits);
    else
      say(hits.problem());
  } else {
    if (const auto hits = read_address_scan(text))
      matches = match_addresses(workbench_.bench(), workbench_.catalogue(), each, *hits);
    else
      say(hits.problem());
  }
  for (const ScanMatch& match : matches) {
    QStringList parts;
    for (const std::string& part :
         {match.what, match.device.empty() ? "" : name_of(workbench_.bench(), {ThingKind::device, match.device}),
          match.words})
      if (!part.empty()) parts << text_of(part);
    auto* line = new Text(theme_, Face::small, mark_of(match.severity) + parts.join(QStringLiteral("  ")),
                          tint_of(match.severity));
    line->setWordWrap(true);
    matches_->addWidget(line);
  }
}

}  // namespace fair_gauge::app

#include "moc_bus_view.cpp"
