#include "read/register_view.h"

#include <cmath>
#include <initializer_list>

#include "digital/decoder.h"
#include "digital/read_sequence.h"
#include "digital/registers.h"
#include "quantity/number_format.h"
#include "quantity/quantity_text.h"

namespace fair_gauge::app {
namespace {

// ---- a number that is typed, and the bytes that the part stores of it ----

QLineEdit* number_field(const Theme& theme, const char* name, const QString& what, const QString& such_as) {
  auto* field = new QLineEdit;
  field->setObjectName(QLatin1String(name));
  field->setFont(theme.font(Face::number_small));
  field->setMaximumWidth(theme.px(110));
  field->setAccessibleName(what);
  field->setPlaceholderText(such_as);
  return field;
}

Text* bytes_beside(const Theme& theme, const char* name) {
  auto* bytes = new Text(theme, Face::small, {}, Tint::second);
  bytes->setObjectName(QLatin1String(name));
  bytes->setWordWrap(true);
  return bytes;
}

QLayout* in_a_row(const Theme& theme, const QString& heading, std::initializer_list<QWidget*> fields, Text* bytes) {
  auto* all = row(8);
  all->addWidget(new Text(theme, Face::strong, heading));
  for (QWidget* each : fields) all->addWidget(each);
  all->addWidget(bytes, 1);
  return all;
}

}  // namespace

RegisterView::RegisterView(const Theme& theme, Workbench& workbench, QWidget* parent)
    : QWidget(parent), theme_(theme), workbench_(workbench) {
  parts_ = new PartBox(workbench, "registers_part");
  connect(parts_, &PartBox::part_chosen, this, &RegisterView::show_part);
  connect(parts_, &PartBox::refused, this, [this](const QString& why) {
    title_->setText(why);
    title_->set_tint(Tint::red);
  });
  title_ = new Text(theme, Face::strong);
  title_->setObjectName(QStringLiteral("register_title"));
  title_->setWordWrap(true);
  grid_ = new RegisterGrid(theme, QStringLiteral("register"));
  connect(grid_, &RegisterGrid::changed, this, &RegisterView::refresh);
  connect(grid_, &RegisterGrid::refused, this, [this](const QString& why) {
    echo_->setText(why);
    echo_->set_tint(Tint::red);
  });
  sequence_ = new Text(theme, Face::code, {}, Tint::accent);
  sequence_->setObjectName(QStringLiteral("register_sequence"));
  sequence_->let_select();
  sequence_->setWordWrap(true);
  echo_ = new Text(theme, Face::small, {}, Tint::second);
  echo_->setObjectName(QStringLiteral("register_echo"));
  echo_->setWordWrap(true);
  build_limit();
  build_offset();
  keep_ = new QPushButton;
  keep_->setObjectName(QStringLiteral("keep_registers"));
  keep_->setToolTip(tr("Cycle, the error budget and the next start of this view go by what is kept"));
  connect(keep_, &QPushButton::clicked, this, &RegisterView::keep);
  connect(&workbench, &Workbench::bench_changed, this, &RegisterView::follow_bench);
  connect(&workbench, &Workbench::selection_changed, this, &RegisterView::follow_channel);
  connect(&workbench, &Workbench::selection_changed, this, &RegisterView::follow_bench);
  figures_ = new Text(theme, Face::text);
  figures_->setObjectName(QStringLiteral("register_figures"));
  warnings_ = new Text(theme, Face::strong, {}, Tint::red);
  warnings_->setObjectName(QStringLiteral("register_warnings"));
  for (Text* text : {figures_, warnings_}) text->setWordWrap(true);
  facts_ = new QGridLayout;
  facts_->setContentsMargins(0, 0, 0, 0);
  facts_->setHorizontalSpacing(12);
  facts_->setVerticalSpacing(2);
  facts_->setColumnStretch(2, 1);
  timeline_ = new Timeline(theme);
  timeline_->setObjectName(QStringLiteral("read_timeline"));
  auto* all = column(8);
  auto* head = row(12);
  head->addWidget(parts_, 3);
  head->addWidget(title_, 2);
  all->addLayout(head);
  all->addWidget(grid_);
  all->addWidget(keep_, 0, Qt::AlignLeft);
  all->addWidget(figures_);
  all->addWidget(warnings_);
  all->addWidget(echo_);
  all->addWidget(limits_box_);
  all->addWidget(offset_box_);
  all->addWidget(new Text(theme, Face::label, tr("ONE READING ON THE LINE"), Tint::quiet));
  all->addWidget(timeline_);
  auto* order =
      new Text(theme, Face::label, tr("WRITE IN THIS ORDER, READ BACK AND COMPARE, THEN MEASURE"), Tint::quiet);
  order->setWordWrap(true);
  all->addWidget(order);
  all->addWidget(sequence_);
  all->addLayout(facts_);
  all->addStretch();
  setLayout(all);
  show_part("air-compensated");
  follow_channel();
}

void RegisterView::build_limit() {
  limit_ = number_field(theme_, "limit", tr("Limit"), tr("such as 27,3"));
  limit_of_ = new QComboBox;
  limit_of_->setObjectName(QStringLiteral("limit_of"));
  limit_of_->setAccessibleName(tr("What is limited"));
  limit_bytes_ = bytes_beside(theme_, "limit_bytes");
  limits_box_ = new QWidget;
  limits_box_->setLayout(in_a_row(theme_, tr("A limit as the part stores it"), {limit_of_, limit_}, limit_bytes_));
  connect(limit_of_, &QComboBox::activated, this, &RegisterView::refresh_limit);
  connect(limit_, &QLineEdit::textChanged, this, &RegisterView::refresh_limit);
}

void RegisterView::build_offset() {
  offset_ = number_field(theme_, "part_offset", tr("Offset that the part adds"), tr("such as -0,35"));
  offset_bytes_ = bytes_beside(theme_, "part_offset_bytes");
  offset_box_ = new QWidget;
  offset_box_->setLayout(in_a_row(theme_, tr("An offset that the part adds itself"), {offset_}, offset_bytes_));
  connect(offset_, &QLineEdit::textChanged, this, &RegisterView::refresh_offset);
}

// A digital channel brings its part; what was chosen by hand stays until another such channel is.
void RegisterView::follow_channel() {
  const Channel* channel = workbench_.chosen().channel;
  const DigitalFace face = channel ? workbench_.digital_face(*channel) : DigitalFace{};
  if (!face.part || followed_ == face.device->id) return;
  followed_ = face.device->id;
  show_part(face.part->id);
}

void RegisterView::show_part(const std::string& id) {
  if (id == part_id_) return;
  part_id_ = id;
  built_ = false;
  if (isVisible()) rebuild();
}

void RegisterView::showEvent(QShowEvent* event) {
  QWidget::showEvent(event);
  if (!built_) rebuild();
  if (std::exchange(stale_, false)) follow_bench();
}

void RegisterView::rebuild() {
  built_ = true;
  echo_->clear();
  const Part* part = workbench_.catalogue().find(part_id_);
  if (!part) return;
  const Device* built_in = device();
  kept_ = built_in ? registers_of(part->bytes, built_in->settings, built_in->registers) : power_on_values(part->bytes);
  parts_->show_part(part_id_);
  title_->setText(part->bytes.registers.empty() ? tr("Its file names no registers")
                  : built_in && !built_in->registers.empty()
                      ? tr("As they are kept for %1").arg(text_of(name_of(workbench_.bench(), *built_in)))
                      : tr("From the power-on values"));
  title_->set_tint(Tint::ink);
  grid_->show_registers(part->bytes.registers, kept_);
  limit_of_->clear();
  for (const LimitLayout& layout : part->bytes.limits)
    limit_of_->addItem(text_of(translated_name(layout.quantity.value_or(part->quantities.front().quantity))));
  limit_of_->setVisible(limit_of_->count() > 1);
  show_facts(*part);
  refresh();
  refresh_limit();
  refresh_offset();
}

const Device* RegisterView::device() const {
  const Bench& bench = workbench_.bench();
  const auto is_it = [&](const Device& each) {
    const Part* part = workbench_.catalogue().find(each.part);
    return part && part->id == part_id_;
  };
  if (const Channel* channel = workbench_.chosen().channel)
    if (const Device* chosen = find_by_id(bench.devices, channel->device); chosen && is_it(*chosen)) return chosen;
  const auto first = std::ranges::find_if(bench.devices, is_it);
  return first == bench.devices.end() ? nullptr : &*first;
}

// What the bench says of them has changed: another device, an undo.
void RegisterView::follow_bench() {
  stale_ = !isVisible();
  if (stale_) return;
  const Part* part = built_ ? workbench_.catalogue().find(part_id_) : nullptr;
  if (!part) return;
  const Device* built_in = device();
  if (kept_ ==
      (built_in ? registers_of(part->bytes, built_in->settings, built_in->registers) : power_on_values(part->bytes)))
    return refresh();
  built_ = false;
  if (isVisible()) rebuild();
}

// Into the bench goes what is another value than after power-on, and what it makes of the settings that decoding needs.
void RegisterView::keep() {
  const Part* part = workbench_.catalogue().find(part_id_);
  const Device* built_in = device();
  if (!part || !built_in) return;
  std::map<std::string, double> settings = built_in->settings;
  for (const PartSetting& setting : part->bytes.settings)
    if (const auto value = setting_by_registers(*part, setting, grid_->values())) settings[setting.key] = *value;
  workbench_.document().edit(tr("Registers of %1").arg(text_of(name_of(workbench_.bench(), *built_in))),
                             [&, id = built_in->id](Bench& bench) {
                               Device* changed = find_by_id(bench.devices, id);
                               changed->registers = grid_->changed_values();
                               changed->settings = settings;
                             });
}

// What it draws, which pin is which, who it is, and which pins may not be left to chance.
void RegisterView::show_facts(const Part& part) {
  clear(facts_);
  int line = 0;
  const auto add = [&](const QString& what, const QString& where, const QString& means) {
    facts_->addWidget(new Text(theme_, Face::strong, what), line, 0);
    facts_->addWidget(new Text(theme_, Face::code, where), line, 1);
    auto* words = new Text(theme_, Face::small, means, Tint::quiet);
    words->setWordWrap(true);
    facts_->addWidget(words, line++, 2);
  };
  const auto head = [&](const QString& words) {
    if (line > 0) facts_->setRowMinimumHeight(line++, theme_.px(6));
    facts_->addWidget(new Text(theme_, Face::label, words, Tint::quiet), line++, 0, 1, 3);
  };
  if (!part.supply.currents.empty()) head(tr("WHAT IT DRAWS"));
  for (const PartCurrent& current : part.supply.currents) {
    QStringList figures;
    if (current.typical_a > 0)
      figures << tr("%1 typical").arg(text_of(with_prefix(current.typical_a, "A", 3, workbench_.style())));
    if (current.maximum_a > 0)
      figures << tr("%1 maximum").arg(text_of(with_prefix(current.maximum_a, "A", 3, workbench_.style())));
    add(text_of(translated_name(current.of)), figures.join(QStringLiteral(", ")), text_of(current.conditions));
  }
  if (!part.pinouts.empty()) head(tr("WHICH PIN IS WHICH"));
  for (const PartPinout& pinout : part.pinouts) {
    QStringList pins;
    for (std::size_t i = 0; i < pinout.pins.size(); ++i)
      pins << QStringLiteral("%1\u00A0%2")
                  .arg(i + 1)
                  .arg(text_of(translated(pinout.pins[i])).replace(QLatin1Char(' '), QChar::Nbsp));
    QString words = pins.join(QStringLiteral("   "));
    for (const std::string& more : {pinout.view, pinout.twin})
      if (!more.empty()) words += QStringLiteral("; ") + text_of(more);
    add(text_of(pinout.package), {}, words);
  }
  if (!part.bytes.commands.empty()) head(tr("WHAT ELSE IT IS TOLD"));
  for (const PartCommand& command : part.bytes.commands)
    add(text_of(command.name), text_of(command.bytes),
        (command.takes_s > 0
             ? tr("then wait %1. ").arg(text_of(with_prefix(command.takes_s, "s", 3, workbench_.style())))
             : QString()) +
            text_of(command.means));
  if (!part.bytes.identity.empty() || !part.bytes.straps.empty()) head(tr("WHO ANSWERS, AND HOW ITS PINS ARE TIED"));
  for (const PartIdentity& identity : part.bytes.identity) {
    QStringList values;
    for (const double value : identity.values)
      values << QStringLiteral("0x") + QString::number(static_cast<uint>(value), 16).toUpper();
    add(tr("asked who it is"), tr("%1 reads %2").arg(text_of(identity.address), values.join(tr(" or "))),
        text_of(identity.says));
  }
  for (const InterfaceStrap& strap : part.bytes.straps)
    add(tr("pin %1").arg(text_of(strap.pin)), tr("to %1").arg(text_of(strap.tied)), text_of(strap.means));
}

void RegisterView::refresh_offset() {
  const Part* part = workbench_.catalogue().find(part_id_);
  offset_box_->setVisible(part && part->bytes.offset);
  if (!part || !part->bytes.offset) return;
  const LimitLayout& layout = *part->bytes.offset;
  const Unit& unit = base_unit(part->quantities.front().quantity);
  const Dimension dimension =
      unit.dimension == Dimension::temperature ? Dimension::temperature_difference : unit.dimension;
  const QString compared = tr("Register %1; %2.").arg(text_of(layout.address), text_of(layout.compared));
  const auto wished = parse_quantity(offset_->text().toStdString(), dimension);
  if (!wished) return offset_bytes_->setText(offset_->text().isEmpty() ? compared : text_of(to_text(wished.problem())));
  const auto stored = store_limit(layout, std::round(wished->base / layout.step) * layout.step, LimitSide::upper);
  offset_bytes_->setText(stored
                             ? tr("0x%1, %2 %3. %4")
                                   .arg(text_of(to_hex(stored->bytes)),
                                        text_of(fixed(stored->value, decimals_for(layout.step, 2), workbench_.style())),
                                        text_of(difference_symbol(unit)), compared)
                             : text_of(to_text(stored.problem())));
}

// What the choices cost and bring, what does not go together, and how one reading passes over the line.
void RegisterView::refresh_figures() {
  const Part* part = workbench_.catalogue().find(part_id_);
  if (!part) return;
  const Device* built_in = device();
  keep_->setVisible(built_in && !grid_->registers().empty());
  keep_->setEnabled(grid_->values() != kept_);
  if (built_in) keep_->setText(tr("Keep for %1").arg(text_of(name_of(workbench_.bench(), *built_in))));
  const std::vector<unsigned>& values = grid_->values();
  const auto composition =
      compose(part->bytes, values, built_in ? built_in->settings : std::map<std::string, double>());
  figures_->setVisible(composition && !composition->figures.empty());
  warnings_->setVisible(!composition || !composition->warnings.empty());
  if (!composition) return warnings_->setText(text_of(to_text(composition.problem())));
  // With a decimal prefix where its unit takes one.
  const auto words_of = [this](const RegisterFigure& figure) {
    if (figure.unit == "counts") return text_of(fixed(figure.value, 0, workbench_.style())) + tr(" counts");
    const bool as_it_is = figure.unit == "°C" || figure.unit == "%" || figure.unit == "lx";
    return text_of(as_it_is ? with_unit(figure.value, decimals_for(figure.value, 2), figure.unit, workbench_.style())
                            : with_prefix(figure.value, figure.unit, 3, workbench_.style()));
  };
  QStringList figures, warnings;
  for (const RegisterFigure& figure : composition->figures)
    if (figure.role.empty() || figure.value > 0) figures << tr("%1 %2").arg(text_of(figure.name), words_of(figure));
  for (const std::string& warning : composition->warnings) warnings << text_of(warning);
  figures_->setText(figures.join(QStringLiteral("   ·   ")));
  warnings_->setText(warnings.join(QLatin1Char('\n')));
  const Bus* bus = built_in ? find_by_id(workbench_.bench().buses, built_in->bus) : nullptr;
  Timeline::Lane line{tr("the line"), {}}, works{tr("part"), {}};
  for (const SequenceStep& step : read_sequence(*part, composition->of_role("conversion").value_or(0),
                                                bus                                 ? bus->speed_hz
                                                : part->interface == Interface::spi ? 1e6
                                                                                    : 100e3))
    (step.lane == SequenceLane::line ? line : works)
        .bars.push_back({text_of(step.what), step.from_s, step.to_s, step.lane == SequenceLane::line});
  timeline_->show_lanes({line, works});
  // Beside each choice, what it would make of the first figure.
  if (part->bytes.figures.empty()) return;
  grid_->tell_choices([&](const std::vector<unsigned>& others) {
    QStringList words;
    if (const auto other = compose(part->bytes, others))
      for (std::size_t k = 0; k < other->figures.size(); ++k)
        if (other->figures[k].value != composition->figures[k].value)
          words << tr("%1 %2").arg(text_of(other->figures[k].name), words_of(other->figures[k]));
    return words.join(QLatin1Char('\n'));
  });
}

void RegisterView::refresh_limit() {
  const Part* part = workbench_.catalogue().find(part_id_);
  limits_box_->setVisible(part && !part->bytes.limits.empty());
  if (!part || part->bytes.limits.empty()) return;
  const LimitLayout& layout = *limit_layout(*part);
  const Quantity quantity = layout.quantity.value_or(part->quantities.front().quantity);
  const bool counts = layout.unit == "counts";
  const auto wished = parse_quantity(limit_->text().toStdString(), counts ? Dimension::number : dimension_of(quantity));
  const QString compared = tr("Compared: %1.").arg(text_of(layout.compared));
  if (!wished) {
    limit_bytes_->setText(limit_->text().isEmpty() ? compared : text_of(to_text(wished.problem())));
    return;
  }
  const auto upper = store_limit(layout, wished->base, LimitSide::upper),
             lower = store_limit(layout, wished->base, LimitSide::lower);
  if (!upper || !lower) {
    limit_bytes_->setText(text_of(to_text((upper ? lower : upper).problem())));
    return;
  }
  const std::string symbol = counts ? "counts" : std::string(base_unit(quantity).symbol);
  const auto words = [&](double value) {
    return text_of(with_unit(value, counts ? 0 : decimals_for(layout.step, 2), symbol, workbench_.style()));
  };
  limit_bytes_->setText(tr("as an upper limit 0x%1, %2 (rounded down); as a lower limit 0x%3, %4 (rounded up). %5")
                            .arg(text_of(to_hex(upper->bytes)), words(upper->value), text_of(to_hex(lower->bytes)),
                                 words(lower->value), compared));
}

// The limit that is asked about; a part may have one for each of what it measures.
const LimitLayout* RegisterView::limit_layout(const Part& part) const {
  const int index = limit_of_->currentIndex();
  return &part.bytes.limits[index < 0 || index >= static_cast<int>(part.bytes.limits.size())
                                ? 0
                                : static_cast<std::size_t>(index)];
}

void RegisterView::refresh() {
  refresh_figures();
  QStringList lines;
  for (std::size_t r = 0; r < grid_->registers().size(); ++r) {
    const PartRegister& reg = grid_->registers()[r];
    const unsigned kept = reserved_bits(reg);
    lines << tr("write 0x%1 to %2%3")
                 .arg(text_of(write_register(reg, grid_->values()[r])), text_of(reg.address),
                      kept ? tr(", bits 0x%1 as they were read").arg(text_of(write_register(reg, kept))) : QString());
  }
  if (const Part* part = workbench_.catalogue().find(part_id_)) {
    if (!part->bytes.start.empty()) lines << tr("begin: %1").arg(text_of(part->bytes.start));
    const auto composition = compose(part->bytes, grid_->values());
    const double stated = composition ? composition->of_role("conversion").value_or(0) : 0;
    const double conversion = stated > 0 ? stated : part->conversion_s;
    if (conversion > 0)
      lines << tr("wait %1%2")
                   .arg(text_of(with_prefix(conversion, "s", 3, workbench_.style())),
                        part->bytes.ready.empty() ? QString() : tr(", or until: %1").arg(text_of(part->bytes.ready)));
    QStringList blocks;
    for (const ByteBlock& block : part->bytes.blocks)
      if (block.role == "data") blocks << tr("%1 (%2 bytes)").arg(text_of(block.name)).arg(block.bytes);
    lines << tr("read %1 in one go, so that all bytes are of one conversion").arg(blocks.join(QStringLiteral(", ")));
  }
  sequence_->setText(lines.join(QLatin1Char('\n')));
}

}  // namespace fair_gauge::app

#include "moc_register_view.cpp"
