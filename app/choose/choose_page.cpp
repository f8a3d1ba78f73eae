#include "choose/choose_page.h"

#include <QKeyEvent>
#include <QPainter>
#include <QSettings>
#include <algorithm>
#include <cmath>

#include "bench/bench_things.h"
#include "quantity/number_format.h"
#include "shell/settings.h"
#include "stream/listening.h"
#include "widgets/vial.h"

namespace fair_gauge::app {
namespace {

constexpr std::size_t most_compared = 4, most_shown = 30;
constexpr int settle_ms = 120;
constexpr Quantity quantities[] = {Quantity::temperature, Quantity::humidity, Quantity::pressure,
                                   Quantity::illuminance};
const char* const need_key = "need";

// What is free on the board, as sets of interfaces.
const std::vector<std::vector<Interface>>& free_sets() {
  using enum Interface;
  static const std::vector<std::vector<Interface>> sets = {
      {},
      {voltage, ratiometric, resistance, current, bridge, thermocouple},
      {i2c},
      {one_wire},
      {spi, serial_bridge},
      {single_wire, pulse_count},
  };
  return sets;
}

QString error_words(double value, const Unit& unit, const NumberStyle& style) {
  return QStringLiteral("±") + text_of(with_unit(value, decimals_of_two_digits(value), difference_symbol(unit), style));
}

// What a maker would ask for before thinking about it.
Need usual_need(Quantity quantity) {
  if (quantity == Quantity::humidity)
    return {.quantity = quantity, .from = 40, .to = 98, .allowed = 5, .place = NeedPlace::humid};
  if (quantity == Quantity::pressure)
    return {.quantity = quantity, .kind = PressureKind::absolute, .from = 95000, .to = 105000, .allowed = 200};
  if (quantity == Quantity::illuminance) return {.quantity = quantity, .from = 10, .to = 2000, .allowed = 400};
  return {.from = 5, .to = 35, .allowed = 0.5};
}

}  // namespace

// ---- a row of the list ----

CandidateRow::CandidateRow(const Theme& theme, const Candidate& candidate, const Need& need, const NumberStyle& style,
                           QWidget* parent)
    : SelectableRow(theme, parent), part_(candidate.part->id) {
  const Unit& unit = base_unit(need.quantity);
  compared_ = new QCheckBox;
  compared_->setEnabled(!candidate.ruled_out());
  compared_->setToolTip(tr("Compare it, up to four at a time"));
  compared_->setAccessibleName(in_own_marks(tr("Compare %1").arg(text_of(candidate.part->name))));
  auto* name = new Text(theme, Face::strong, unbroken(text_of(candidate.part->name)),
                        candidate.ruled_out() ? Tint::quiet : Tint::ink);
  name->setWordWrap(true);
  QString markings;
  for (const std::string& marking : candidate.part->markings)
    markings += (markings.isEmpty() ? QString() : QStringLiteral(" ")) + text_of(marking);
  const auto against =
      std::ranges::find_if(candidate.reasons, [](const Reason& reason) { return reason.kind != ReasonKind::good; });
  const QString why = against == candidate.reasons.end() ? tr("nothing speaks against it") : text_of(against->words);
  auto* small = new Text(theme, Face::small, markings.isEmpty() ? why : markings + QStringLiteral(" · ") + why,
                         candidate.ruled_out() ? Tint::red : Tint::quiet);
  small->setWordWrap(true);
  auto* words = column(2);
  words->addWidget(name);
  words->addWidget(small);
  auto* all = row(8);
  all->setContentsMargins(8, 6, 8, 6);
  all->addWidget(compared_, 0, Qt::AlignTop);
  all->addLayout(words, 1);
  if (!candidate.ruled_out()) {
    auto* vial = new Vial(theme, Vial::Size::small);
    vial->show_share(candidate.used(need.allowed), 0);
    auto* figures = column(4);
    figures->addWidget(new Text(theme, Face::number_small, error_words(candidate.worst, unit, style)), 0,
                       Qt::AlignRight);
    figures->addWidget(vial, 0, Qt::AlignRight);
    figures->addStretch();
    all->addLayout(figures);
    setAccessibleName(in_own_marks(
        tr("%1, good to %2").arg(text_of(candidate.part->name), error_words(candidate.worst, unit, style))));
  } else {
    setAccessibleName(in_own_marks(tr("%1, ruled out: %2").arg(text_of(candidate.part->name), why)));
  }
  setLayout(all);
}

// ---- the page ----

ChoosePage::ChoosePage(const Theme& theme, Workbench& workbench, QWidget* parent)
    : QWidget(parent),
      theme_(theme),
      workbench_(workbench),
      need_(usual_need(Quantity::temperature)),
      background_(this) {
  setObjectName(QStringLiteral("page"));
  setAttribute(Qt::WA_StyledBackground);
  const QString kept = QSettings().value(QLatin1String(need_key)).toString();
  if (const auto need = kept.isEmpty() ? Result<Need>(Problem{}) : need_from_text(kept.toStdString(), ""))
    need_ = *need;
  form_ = build_form();
  auto* left = column(8);
  left->addWidget(new Text(theme, Face::title, tr("What is needed")));
  left->addWidget(form_);
  left->addStretch();
  auto* left_inside = new QWidget;
  left_inside->setLayout(left);
  auto* left_box = scrolled(left_inside);
  QWidget* list = build_list();
  auto* all = sides(theme, 20, left_box, 268, {{list, 5}, {build_right(), 5}});
  all->setContentsMargins(24, 16, 20, 12);
  setLayout(all);
  settle_.setSingleShot(true);
  settle_.setInterval(settle_ms);
  connect(&settle_, &QTimer::timeout, this, &ChoosePage::work_out);
  connect(&workbench, &Workbench::bench_changed, this, [this] {
    show_need();
    settle_.start();
  });
  show_need();
}

Form* ChoosePage::build_form() {
  auto* form = new Form(theme_);
  quantity_ = form->add_choice(tr("Quantity"), tr("What is to be measured"),
                               {tr("temperature"), tr("humidity"), tr("pressure"), tr("light")}, "need_quantity",
                               [this](int i) { set_need(usual_need(quantities[i])); });
  kind_ =
      form->add_choice(tr("Kind of pressure"),
                       tr("Against vacuum, against the air around, or between two ports: they differ by the air's own "
                          "hundred thousand pascals"),
                       {tr("any"), tr("absolute"), tr("gauge"), tr("differential"), tr("vacuum")}, "need_kind",
                       [this](int i) { change_need([i](Need& need) { need.kind = static_cast<PressureKind>(i); }); });
  from_ = form->add_quantity(tr("From"), tr("Lowest value that must be read well"), Dimension::temperature, "need_from",
                             [this](double v) { change_need([v](Need& need) { need.from = v; }); });
  to_ = form->add_quantity(tr("To"), tr("Highest value that must be read well"), Dimension::temperature, "need_to",
                           [this](double v) { change_need([v](Need& need) { need.to = v; }); });
  allowed_ = form->add_quantity(tr("Allowed error ±"), tr("By how much a reading may be off and still do for its use"),
                                Dimension::temperature_difference, "need_allowed",
                                [this](double v) { change_need([v](Need& need) { need.allowed = v; }); });
  resolution_ = form->add_quantity(
      tr("Finest step"),
      tr("The smallest change that must be seen; 0 if it does not matter. Resolution is not accuracy"),
      Dimension::temperature_difference, "need_resolution",
      [this](double v) { change_need([v](Need& need) { need.resolution = v; }); });
  period_ =
      form->add_quantity(tr("A reading every"), tr("How often a new value is wanted"), Dimension::time, "need_period",
                         [this](double v) { change_need([v](Need& need) { need.period_s = v; }); });
  form->add_heading(tr("WHERE IT SITS"));
  place_ =
      form->add_choice(tr("Place"), tr("What the sensor must bear and what it must take the temperature of"),
                       {tr("indoor air"), tr("damp air"), tr("a surface"), tr("in a liquid or a block")}, "need_place",
                       [this](int i) { change_need([i](Need& need) { need.place = static_cast<NeedPlace>(i); }); });
  cable_ = form->add_quantity(tr("Cable"), tr("From the board to the sensor"), Dimension::length, "need_cable",
                              [this](double v) { change_need([v](Need& need) { need.cable_m = v; }); });
  use_ = form->add_choice(tr("Used for"), tr("A display forgives a slow sensor; what switches a heater does not"),
                          {tr("a display"), tr("a control")}, "need_use",
                          [this](int i) { change_need([i](Need& need) { need.use = static_cast<NeedUse>(i); }); });
  form->add_heading(tr("WHAT IS AT HAND"));
  free_ = form->add_choice(
      tr("Free pins"), tr("What is still free on the board"),
      {tr("anything"), tr("converter input"), tr("two-wire bus"), tr("one-wire line"), tr("four-wire bus"),
       tr("a plain pin")},
      "need_free",
      [this](int i) { change_need([i](Need& need) { need.interfaces = free_sets()[static_cast<std::size_t>(i)]; }); });
  rail_ = form->add_choice(tr("Supply"), tr("The rail that is to feed it"), {}, "need_rail", [this](int i) {
    change_need([&](Need& need) { need.rail = workbench_.bench().rails[static_cast<std::size_t>(i)].id; });
  });
  converter_ =
      form->add_choice(tr("Converter"), tr("That reads an analog sensor"), {}, "need_converter", [this](int i) {
        change_need(
            [&](Need& need) { need.converter = workbench_.bench().converters[static_cast<std::size_t>(i)].id; });
      });
  own_only_ = form->add_choice(tr("Parts"), tr("From the whole catalogue, or from your drawer alone"),
                               {tr("all known"), tr("my drawer")}, "need_own",
                               [this](int i) { change_need([i](Need& need) { need.own_only = i == 1; }); });
  return form;
}

QWidget* ChoosePage::build_list() {
  auto* box = new QWidget;
  auto* all = column(4);
  count_ = new Text(theme_, Face::title);
  count_->setObjectName(QStringLiteral("choose_count"));
  count_->setWordWrap(true);
  list_ = column(0);
  rest_ = new QPushButton;
  rest_->setObjectName(QStringLiteral("ruled_out"));
  rest_->hide();
  rest_->setProperty("quiet", true);
  connect(rest_, &QPushButton::clicked, this, [this] {
    show_ruled_out_ = !show_ruled_out_;
    show_list();
  });
  auto* inside = new QWidget;
  auto* lines = column(4);
  lines->addLayout(list_);
  lines->addWidget(rest_, 0, Qt::AlignLeft);
  lines->addStretch();
  inside->setLayout(lines);
  all->addWidget(count_);
  auto* hint = new Text(theme_, Face::small,
                        tr("Each judged on this bench, over the whole range, best first. Quiet or fine is not the same "
                           "as accurate: what counts is the ±."),
                        Tint::quiet);
  hint->setWordWrap(true);
  all->addWidget(hint);
  all->addWidget(scrolled(inside), 1);
  box->setLayout(all);
  return box;
}

QWidget* ChoosePage::build_right() {
  name_ = new Text(theme_, Face::title);
  name_->setObjectName(QStringLiteral("chosen_name"));
  detail_ = new Text(theme_, Face::small, {}, Tint::quiet);
  detail_->setObjectName(QStringLiteral("chosen_detail"));
  trade_ = new Text(theme_, Face::text);
  trade_->setObjectName(QStringLiteral("trade"));
  for (Text* text : {name_, detail_, trade_}) text->setWordWrap(true);
  reasons_ = column(2);
  compare_ = new CompareView(theme_, workbench_.style());
  make_ = new QPushButton(tr("Make it a channel"));
  make_->setObjectName(QStringLiteral("make_channel"));
  make_->setProperty("primary", true);
  make_->setToolTip(tr("Puts the part, what it needs around it and a channel on the bench. Ctrl+Z takes it back."));
  connect(make_, &QPushButton::clicked, this, &ChoosePage::make_channel);
  price_ = new QLineEdit;
  price_->setObjectName(QStringLiteral("own_price"));
  price_->setAccessibleName(tr("Price"));
  price_->setPlaceholderText(tr("price"));
  drawer_ = new QLineEdit;
  drawer_->setObjectName(QStringLiteral("own_drawer"));
  drawer_->setAccessibleName(tr("In the drawer"));
  drawer_->setPlaceholderText(QStringLiteral("0"));
  for (QLineEdit* field : {price_, drawer_}) field->setMaximumWidth(theme_.px(64));
  connect(price_, &QLineEdit::editingFinished, this, [this] {
    if (const auto price = parse_number(price_->text().toStdString()); price && *price >= 0)
      edit_own([&](OwnPart& own) { own.price = *price; });
  });
  connect(drawer_, &QLineEdit::editingFinished, this, [this] {
    bool whole = false;
    if (const int count = drawer_->text().toInt(&whole); whole && count >= 0)
      edit_own([&](OwnPart& own) { own.in_drawer = count; });
  });
  auto* own = row(8);
  own->addWidget(new Text(theme_, Face::small, tr("Your price"), Tint::quiet));
  own->addWidget(price_);
  own->addWidget(new Text(theme_, Face::small, tr("in the drawer"), Tint::quiet));
  own->addWidget(drawer_);
  own->addStretch();
  own_figures_ = new QPushButton(tr("Own figures"));
  own_figures_->setObjectName(QStringLiteral("own_figures"));
  own_figures_->setProperty("quiet", true);
  own_figures_->setCheckable(true);
  own_figures_->setToolTip(tr("Sellers and sheets disagree? What you type counts instead, on this bench"));
  figures_ = new OwnFiguresForm(theme_, workbench_);
  figures_->hide();
  connect(own_figures_, &QPushButton::toggled, this, [this](bool on) {
    own_figures_->setText(on ? tr("Back to the comparison") : tr("Own figures"));
    figures_->setVisible(on);
    compare_->setVisible(!on);
  });
  auto* about = column(6);
  about->addWidget(name_);
  about->addWidget(detail_);
  about->addLayout(reasons_);
  about->addWidget(trade_);
  about->addWidget(compare_, 1);
  about->addStretch();  // where it gives way to the own figures
  auto* inside = new QWidget;
  inside->setLayout(about);
  auto* all = column(6);
  all->addWidget(scrolled(inside), 1);
  all->addLayout(own);
  all->addWidget(figures_);
  auto* last = row(8);
  last->addWidget(own_figures_);
  last->addStretch();
  last->addWidget(make_);
  all->addLayout(last);
  auto* box = new QWidget;
  box->setLayout(all);
  return box;
}

void ChoosePage::showEvent(QShowEvent* event) {
  QWidget::showEvent(event);
  if (candidates_.empty()) settle_.start();
}

void ChoosePage::set_need(const Need& need) {
  need_ = need;
  QSettings().setValue(QLatin1String(need_key), text_of(need_to_text(need_)));
  show_need();
  settle_.start();
}

void ChoosePage::change_need(const std::function<void(Need&)>& change) {
  Need changed = need_;
  change(changed);
  set_need(changed);
}

void ChoosePage::show_need() {
  const Dimension dimension = dimension_of(need_.quantity);
  const Unit& unit = base_unit(dimension);
  const Dimension difference = dimension == Dimension::temperature ? Dimension::temperature_difference : dimension;
  const NumberStyle& style = workbench_.style();
  const auto show = [&](QuantityField* field, Dimension of, double value, std::string_view symbol) {
    field->set_dimension(of);
    field->show_value(
        value, text_of(std::abs(value) >= 10000 ? with_prefix(value, symbol, 6, style)
                                                : with_unit(value, value == std::round(value) ? 0 : 2, symbol, style)));
  };
  show(from_, dimension, need_.from, unit.symbol);
  show(to_, dimension, need_.to, unit.symbol);
  show(allowed_, difference, need_.allowed, difference_symbol(unit));
  show(resolution_, difference, need_.resolution, difference_symbol(unit));
  show(period_, Dimension::time, need_.period_s, "s");
  show(cable_, Dimension::length, need_.cable_m, "m");
  const auto at = std::ranges::find(quantities, need_.quantity);
  quantity_->setCurrentIndex(at == std::end(quantities) ? 0 : static_cast<int>(at - std::begin(quantities)));
  kind_->setCurrentIndex(static_cast<int>(need_.kind));
  kind_->setEnabled(need_.quantity == Quantity::pressure);
  place_->setCurrentIndex(static_cast<int>(need_.place));
  use_->setCurrentIndex(static_cast<int>(need_.use));
  const auto set = std::ranges::find(free_sets(), need_.interfaces);
  free_->setCurrentIndex(set == free_sets().end() ? -1 : static_cast<int>(set - free_sets().begin()));
  own_only_->setCurrentIndex(need_.own_only ? 1 : 0);
  const auto list = [](QComboBox* box, const auto& items, const std::string& chosen) {
    box->clear();
    box->setPlaceholderText(items.empty() ? tr("none yet") : QString());
    for (const auto& item : items) box->addItem(in_own_marks(text_of(called(item))));
    for (std::size_t i = 0; i < items.size(); ++i)
      if (items[i].id == chosen) box->setCurrentIndex(static_cast<int>(i));
  };
  list(rail_, workbench_.bench().rails, need_.rail);
  list(converter_, workbench_.bench().converters, need_.converter);
  for (std::size_t i = 0; i < workbench_.bench().converters.size(); ++i) {
    const Converter& converter = workbench_.bench().converters[i];
    converter_->setItemData(static_cast<int>(i), converter_->itemText(static_cast<int>(i)), Qt::ToolTipRole);
    converter_->setItemText(static_cast<int>(i), in_own_marks(text_of(words_of(workbench_.bench(), converter))));
  }
}

void ChoosePage::work_out() {
  if (const auto problem = need_problem(need_)) {
    count_->setText(text_of(to_text(*problem)));
    return;
  }
  catalogue_ = workbench_.shared_catalogue();
  background_.start([bench = workbench_.bench(), catalogue = catalogue_,
                     need = need_](const std::atomic<bool>&) { return shortlist(bench, *catalogue, need); },
                    [this](std::vector<Candidate> found) {
                      candidates_ = std::move(found);
                      std::erase_if(compared_, [this](const std::string& id) {
                        return std::ranges::none_of(
                            candidates_, [&](const Candidate& c) { return c.part->id == id && !c.ruled_out(); });
                      });
                      is_picked_ = is_picked_ && chosen();
                      if (!is_picked_ && !candidates_.empty()) chosen_ = candidates_.front().part->id;
                      if (compared_.size() < 2)
                        for (const Candidate& candidate : candidates_)
                          if (!candidate.ruled_out() && compared_.size() < 3 &&
                              std::ranges::find(compared_, candidate.part->id) == compared_.end())
                            compared_.push_back(candidate.part->id);
                      show_list();
                    });
}

const Candidate* ChoosePage::chosen() const {
  const auto found =
      std::ranges::find_if(candidates_, [this](const Candidate& candidate) { return candidate.part->id == chosen_; });
  return found == candidates_.end() ? nullptr : &*found;
}

void ChoosePage::choose(const std::string& part_id) {
  is_picked_ = true;
  mark(part_id);
}

void ChoosePage::mark(const std::string& part_id) {
  chosen_ = part_id;
  for (CandidateRow* each : rows_) each->mark(each->part() == chosen_);
  show_chosen();
}

void ChoosePage::show_list() {
  clear(list_);
  rows_.clear();
  std::size_t possible = 0;
  for (const Candidate& candidate : candidates_) {
    if (!candidate.ruled_out()) ++possible;
    const bool shown = candidate.ruled_out() ? show_ruled_out_ : rows_.size() < most_shown;
    if (!shown) continue;
    auto* each = new CandidateRow(theme_, candidate, need_, workbench_.style());
    each->compared().setChecked(std::ranges::find(compared_, candidate.part->id) != compared_.end());
    connect(each, &CandidateRow::chosen, this, [this, id = candidate.part->id] { choose(id); });
    connect(&each->compared(), &QCheckBox::toggled, this, [this, id = candidate.part->id, each](bool on) {
      std::erase(compared_, id);
      if (on && compared_.size() >= most_compared)
        each->compared().setChecked(false);
      else if (on)
        compared_.push_back(id);
      show_chosen();
    });
    list_->addWidget(each);
    rows_.push_back(each);
  }
  const auto within = std::ranges::count_if(candidates_, [this](const Candidate& c) { return c.keeps(need_.allowed); });
  const bool may_keep = std::ranges::any_of(
      candidates_, [this](const Candidate& c) { return !c.ruled_out() && c.used(need_.allowed) <= 1; });
  count_->setText(candidates_.empty() ? tr("No part measures this")
                  : within == 0 && workbench_.bench().rails.empty()
                      ? tr("This bench has no supply yet: add one on Board")
                  : within == 0 && may_keep ? tr("No sheet promises it for the whole range")
                  : within == 0             ? tr("None keeps the allowed error")
                  : within == 1             ? tr("One part keeps the allowed error")
                                            : tr("%1 parts keep the allowed error").arg(within));
  rest_->setVisible(possible < candidates_.size());
  rest_->setText(show_ruled_out_ ? tr("Hide those ruled out")
                                 : tr("%1 ruled out: show why").arg(candidates_.size() - possible));
  mark(chosen_);
}

void ChoosePage::show_chosen() {
  const Candidate* candidate = chosen();
  clear(reasons_);
  make_->setEnabled(candidate && !candidate->ruled_out());
  std::vector<Candidate> beside;  // the chosen one, then those that are marked
  if (candidate && !candidate->ruled_out()) beside.push_back(*candidate);
  for (const std::string& id : compared_)
    for (const Candidate& each : candidates_)
      if (each.part->id == id && id != chosen_ && !each.ruled_out() && beside.size() < most_compared)
        beside.push_back(each);
  compare_->show_candidates(catalogue_, need_, beside);
  if (!candidate) return;
  const Unit& unit = base_unit(need_.quantity);
  const Part& part = *candidate->part;
  name_->setText(unbroken(text_of(part.name)));
  QStringList facts;
  if (!candidate->errors.empty())
    facts << tr("worst %1 at %2, typical %3")
                 .arg(error_words(candidate->worst, unit, workbench_.style()),
                      text_of(with_unit(candidate->worst_at, 0, unit.symbol, workbench_.style())),
                      error_words(candidate->typical, unit, workbench_.style()));
  if (candidate->fastest_s > 0)
    facts << tr("every %1 at the fastest").arg(text_of(with_prefix(candidate->fastest_s, "s", 3, workbench_.style())));
  if (const auto resting = part.resting_a(), working = part.converting_a(); resting && working)
    facts << (*resting == *working ? tr("draws %1").arg(text_of(with_prefix(*working, "A", 2, workbench_.style())))
                                   : tr("draws %1 at rest, %2 at work")
                                         .arg(text_of(with_prefix(*resting, "A", 2, workbench_.style())),
                                              text_of(with_prefix(*working, "A", 2, workbench_.style()))));
  for (const std::string* fact : {&part.package, &part.size, &part.medium})
    if (!fact->empty()) facts << text_of(*fact);
  if (part.response_s > 0)
    facts << tr("follows in %1").arg(text_of(with_prefix(part.response_s, "s", 2, workbench_.style())));
  for (const std::string& figure : part.unsettled) facts << tr("not settled: %1").arg(text_of(figure));
  const auto& own_parts = workbench_.bench().own_parts;
  if (const auto own = std::ranges::find(own_parts, part.id, &OwnPart::part);
      own != own_parts.end() && own->has_figures())
    facts.prepend(own->note.empty() ? tr("your own figures count here")
                                    : tr("your own figures count here: %1").arg(text_of(own->note)));
  detail_->setText(facts.join(QStringLiteral(" · ")));
  if (const Part* by_bench = workbench_.catalogue().find(part.id)) figures_->show_part(*by_bench, need_.quantity);
  int lines = 0;
  const int room_for = theme_.text_scale() > 1.2 ? 2 : 5;
  for (const Reason& reason : candidate->reasons) {
    if (++lines > room_for) break;
    const QString mark = reason.kind == ReasonKind::good    ? QStringLiteral("+  ")
                         : reason.kind == ReasonKind::costs ? QStringLiteral("−  ")
                                                            : QStringLiteral("×  ");
    auto* line = new Text(theme_, Face::small, mark + text_of(reason.words),
                          reason.kind == ReasonKind::good    ? Tint::accent
                          : reason.kind == ReasonKind::costs ? Tint::amber
                                                             : Tint::red);
    line->setWordWrap(true);
    reasons_->addWidget(line);
  }
  // The trade against the best of the others that are compared.
  const auto other = std::ranges::find_if(beside, [&](const Candidate& each) { return each.part->id != part.id; });
  // At large text the table side by side says the same.
  trade_->setVisible(other != beside.end() && !candidate->ruled_out() && theme_.text_scale() <= 1.2);
  if (other != beside.end() && !candidate->ruled_out())
    trade_->setText(tr("Against %1: %2.")
                        .arg(text_of(other->part->markings.empty() ? other->part->name : other->part->markings.front()),
                             text_of(trade_in_words(*candidate, *other, need_))));
  price_->setText(candidate->price > 0 ? text_of(fixed(candidate->price, 2, workbench_.style())) : QString());
  drawer_->setText(candidate->in_drawer > 0 ? QString::number(candidate->in_drawer) : QString());
}

void ChoosePage::edit_own(const std::function<void(OwnPart&)>& change) {
  if (chosen_.empty()) return;
  Bench bench = workbench_.bench();
  auto own = std::ranges::find(bench.own_parts, chosen_, &OwnPart::part);
  if (own == bench.own_parts.end()) {
    bench.own_parts.emplace_back().part = chosen_;
    own = bench.own_parts.end() - 1;
  }
  change(*own);
  if (bench != workbench_.bench()) workbench_.document().replace(tr("What you own"), std::move(bench));
}

// The trial was built on a bench that may have changed since: it is built anew on the one that is there.
void ChoosePage::make_channel() {
  const Candidate* candidate = chosen();
  if (!candidate) return;
  const std::string id = free_id(workbench_.bench(), std::string(enum_name(need_.quantity)));
  auto trial = try_part(workbench_.bench(), workbench_.catalogue(), need_, *candidate->part, id);
  if (!trial) return trade_->setText(text_of(to_text(trial.problem())));
  Settings::read().prefer_units(trial->bench, {id});
  if (const Channel* bare = workbench_.chosen().channel;
      bare && lacks_sensor(*bare) &&
      may_make(*candidate->part, workbench_.listener().proposals(), bare->name_on_line()))
    hand_numbers_on(trial->bench, bare->id, id);
  workbench_.document().replace(tr("New channel"), std::move(trial->bench));
  workbench_.choose_channel(id);
  emit channel_made(id);
}

}  // namespace fair_gauge::app

#include "moc_choose_page.cpp"
