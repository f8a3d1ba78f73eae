#include "read/bytes_view.h"

#include <fmt/format.h>
#include <fmt/ranges.h>

#include <QFileDialog>
#include <QListView>
#include <cmath>

#include "digital/answering_parts.h"
#include "digital/byte_text.h"
#include "digital/encoder.h"
#include "digital/line_capture.h"
#include "digital/pasted_bytes.h"
#include "files/file.h"
#include "parts/setting_name.h"
#include "quantity/number_format.h"
#include "widgets/kept_typing.h"

namespace fair_gauge::app {
namespace {

// Decimals that write a part's step exactly, four at most.
int decimals_of_step(double step) {
  int decimals = 0;
  for (double scaled = step; decimals < 4 && std::abs(scaled - std::round(scaled)) > 1e-6 * scaled; scaled *= 10)
    ++decimals;
  return decimals;
}

// Nothing → it is guessed.
std::optional<ByteShape> shape_of(const QComboBox& box) {
  if (box.currentIndex() == 0) return std::nullopt;
  return enum_names(ByteShape{})[static_cast<std::size_t>(box.currentIndex() - 1)].value;
}

}  // namespace

BytesView::BytesView(const Theme& theme, Workbench& workbench, QWidget* parent)
    : QWidget(parent), theme_(theme), workbench_(workbench) {
  parts_ = new PartBox(workbench, "bytes_part");
  build_text();
  keep_choice(*parts_);
  keep_choice(*shape_);
  lay_out();
  react();
  choose_part("air-compensated");
  follow_channel();
}

void BytesView::lay_out() {
  auto* capture = new QPushButton(tr("Capture…"));
  capture->setToolTip(
      tr("A value change dump (VCD) or edge table of the line itself; it is decoded by the part's own bus"));
  connect(capture, &QPushButton::clicked, this, &BytesView::open_capture);
  understood_ = new Text(theme_, Face::small, {}, Tint::second);
  understood_->setObjectName(QStringLiteral("bytes_understood"));
  understood_->setWordWrap(true);
  keep_ = new QPushButton(tr("Keep this trimming"));
  keep_->setObjectName(QStringLiteral("bytes_keep_trimming"));
  keep_->setToolTip(tr("These bytes are this specimen's own: its channels are computed with them from then on"));
  keep_->hide();
  settings_row_ = row(8);
  map_ = new ByteMap(theme_);
  pointed_ = new Text(theme_, Face::small, {}, Tint::second);
  pointed_->setObjectName(QStringLiteral("bytes_pointed"));
  pointed_->setWordWrap(true);
  readings_ = grid(8, 2);
  findings_ = new ByteFindings(theme_, workbench_);
  trace_ = grid(16, 2);
  trace_->setColumnStretch(2, 1);
  line_ = new QPushButton(tr("From the line"));
  line_->setObjectName(QStringLiteral("bytes_from_line"));
  line_->setToolTip(tr("The bytes that came last over the serial line for this device, written name:x1A2B"));
  line_->hide();
  auto* first = row(8);
  first->addWidget(parts_, 1);
  first->addLayout(settings_row_);
  first->addWidget(line_);
  first->addWidget(capture);
  auto* second = row(8);
  second->addWidget(text_, 1);
  second->addWidget(block_);
  second->addWidget(shape_);
  auto* inside = new QWidget;
  auto* below = column(8);
  below->addLayout(readings_);
  below->addWidget(map_);
  below->addWidget(pointed_);
  below->addLayout(trace_);
  below->addWidget(findings_);
  below->addStretch();
  inside->setLayout(below);
  auto* all = column(6);
  all->addLayout(first);
  all->addLayout(second);
  auto* said = row(8);
  said->addWidget(understood_, 1);
  said->addWidget(keep_);
  all->addLayout(said);
  all->addWidget(scrolled(inside), 1);
  setLayout(all);
}

void BytesView::react() {
  connect(parts_, &PartBox::part_chosen, this, &BytesView::choose_part);
  connect(parts_, &PartBox::refused, this, [this](const QString& why) {
    understood_->setText(why + QLatin1Char(' ') + tr("Bytes belong into the field below."));
    understood_->set_tint(Tint::red);
  });
  connect(text_, &QLineEdit::textEdited, this, &BytesView::take_edited);
  connect(block_, &QComboBox::activated, this, [this] { take_text(text_->text()); });
  connect(keep_, &QPushButton::clicked, this, &BytesView::keep_trimming);
  connect(shape_, &QComboBox::activated, this, [this] { take_text(text_->text()); });
  connect(line_, &QPushButton::clicked, this, [this] {
    const auto bytes = workbench_.bytes_of_device(followed_);
    text_->setText(text_of(to_hex(bytes)));
    take_edited(text_->text());
  });
  connect(&workbench_, &Workbench::values_changed, this, [this] {
    if (!workbench_.anchor()) own_bytes_ = own_bytes_ && followed_.empty();  // Esc returns to the live reading here too
    follow_values();
  });
  connect(map_, &ByteMap::pointed_at, pointed_, &QLabel::setText);
  connect(map_, &ByteMap::bytes_changed, this, [this](const ByteBlocks& blocks) {
    for (const auto& [name, bytes] : blocks)
      if (const auto was = blocks_.find(name); was == blocks_.end() || was->second != bytes) given_.insert(name);
    before_text_ = blocks_ = blocks;
    hold_bytes();
    refresh();
  });
  connect(&workbench_, &Workbench::selection_changed, this, &BytesView::follow_channel);
  connect(&workbench_, &Workbench::bench_changed, this, &BytesView::follow_channel);
}

// Where bytes are pasted, into what they go, and how they are read.
void BytesView::build_text() {
  text_ = new QLineEdit;
  text_->setObjectName(QStringLiteral("bytes_text"));
  text_->setAccessibleName(tr("Bytes as they came"));
  text_->setFont(theme_.font(Face::code));
  text_->setPlaceholderText(tr("paste bytes in any shape"));
  text_->setToolTip(
      tr("0x1A 0x2B, 1A2B, {0x1A,43}, b'\\x1a+', decimal or binary lists, rows with addresses, a log with name:x1A2B"));
  text_->setMinimumWidth(theme_.px(120));
  block_ = new QComboBox;
  block_->setView(new QListView);
  block_->setObjectName(QStringLiteral("bytes_block"));
  block_->setAccessibleName(tr("Where the pasted bytes go"));
  shape_ = new QComboBox;
  shape_->setView(new QListView);
  shape_->setObjectName(QStringLiteral("bytes_shape"));
  shape_->setAccessibleName(tr("How the text is read"));
  shape_->addItem(tr("as guessed"));
  for (const auto& shape : enum_names(ByteShape{})) shape_->addItem(text_of(translated_name(shape.value)));
  for (QComboBox* box : {block_, shape_}) {
    box->setSizeAdjustPolicy(QComboBox::AdjustToMinimumContentsLengthWithIcon);
    box->setMinimumContentsLength(box == block_ ? 11 : 6);
    box->view()->setMinimumWidth(theme_.px(220));
  }
}

void BytesView::list_parts() { parts_->list_parts(); }

// A digital channel brings its part, its settings and the trimming bytes of its specimen.
void BytesView::follow_channel() {
  const ChannelView& view = workbench_.chosen();
  const DigitalFace face = view.channel ? workbench_.digital_face(*view.channel) : DigitalFace{};
  if (!face.part || followed_ == face.device->id) return refresh();
  choose_part(face.part->id);
  followed_ = face.device->id;
  if (!face.by_converter) settings_ = face.device->settings;
  for (const auto& [block, hex] : face.device->trimming)
    if (const auto bytes = read_hex(hex)) blocks_[block] = *bytes;
  rebuild_settings();
  follow_values();
}

// The bytes that the followed device would send for what its channels read now, until somebody types or turns a bit.
void BytesView::follow_values() {
  line_->setVisible(!workbench_.bytes_of_device(followed_).empty());
  if (!isVisible() || own_bytes_ || followed_.empty()) return;
  const Part* part = workbench_.catalogue().find(part_id_);
  auto decoder = part ? Decoder::make(*part, settings_) : Result<Decoder>(Problem{});
  if (!decoder) return;
  std::map<Quantity, double> wanted;
  bool has_arrived = false;
  for (const Channel& channel : workbench_.bench().channels) {
    if (channel.device != followed_) continue;
    const ChannelView& view = workbench_.view(channel.id);
    if (!view.chain || !view.chain->code_stage()) continue;
    // What arrived or was typed; before that what the strip shows all the same, the middle of what is wanted.
    const Anchor anchor = view.raw ? Anchor{view.chain->code_stage()->name, *view.raw}
                          : channel.id == workbench_.channel_id()
                              ? workbench_.solved_from()
                              : Anchor{StageName::world, (channel.wanted.from + channel.wanted.to) / 2};
    has_arrived = has_arrived || view.raw;
    const auto values = evaluate(*view.chain, anchor);
    if (view.chain->bytes && workbench_.digital_face(channel).by_converter) return show_code(*view.chain, values);
    const Stage* compensated = view.chain->stage(StageName::compensated);
    if (!compensated) continue;
    if (const auto& value = values[static_cast<std::size_t>(compensated - view.chain->stages.data())])
      wanted[channel.quantity] = *value;
  }
  const auto blocks = encode(*decoder, wanted, blocks_);
  if (!blocks || wanted.empty()) return;
  blocks_ = *blocks;
  understood_->setText(
      has_arrived
          ? tr("The bytes of the latest reading. Paste others or turn a bit: the strip then holds what they mean.")
          : tr("The bytes of what the strip shows. Paste others or turn a bit: the strip then holds what they mean."));
  understood_->set_tint(Tint::second);
  refresh();
}

// A converter's bytes are its code and nothing else.
void BytesView::show_code(const Chain& chain, const std::vector<StageValue>& values) {
  const auto& code = values[static_cast<std::size_t>(chain.stage(StageName::bytes) - chain.stages.data())];
  if (code) blocks_[chain.bytes->block_name()] = chain.bytes->block(*code);
  understood_->setText(
      tr("The bytes of the latest code. Paste others or turn a bit: the strip then holds what they mean."));
  understood_->set_tint(Tint::second);
  refresh();
}

// Bytes of one's own: the strip holds the raw number of the chosen channel.
void BytesView::hold_bytes() {
  own_bytes_ = true;
  const ChannelView& view = workbench_.chosen();
  const Part* part = workbench_.catalogue().find(part_id_);
  const DigitalFace face = view.channel ? workbench_.digital_face(*view.channel) : DigitalFace{};
  if (!view.chain || !face.part || face.device->id != followed_ || face.part->id != part->id) return;
  const auto reading = std::ranges::find(part->bytes.readings, face.quantity, &ByteReading::quantity);
  const auto field = std::ranges::find(part->bytes.fields, reading->field, &ByteField::name);
  const auto place = FieldPlace::read(field->bits, field->sign);
  const bool is_example = !given_.contains(field->block);
  const auto raw = place && !is_example ? place->value(blocks_[field->block]) : std::nullopt;
  if (raw)
    workbench_.hold(
        {view.chain->stage(StageName::bytes) ? StageName::bytes : StageName::raw, static_cast<double>(*raw)});
}

void BytesView::say(const QString& words) { understood_->setText(words + QLatin1Char(' ') + understood_->text()); }

void BytesView::choose_part(const std::string& id) {
  const Part* part = workbench_.catalogue().find(id);
  if (!part || !part->is_digital()) return;
  part_id_ = part->id;
  own_bytes_ = false;
  followed_.clear();
  parts_->show_part(part->id);
  settings_.clear();
  blocks_.clear();
  given_.clear();
  block_->clear();
  for (const ByteBlock& block : part->bytes.blocks) {
    if (const auto bytes = read_hex(block.example)) blocks_[block.name] = *bytes;
    block_->addItem(tr("%1, %2 bytes").arg(text_of(block.name)).arg(block.bytes), text_of(block.name));
    if (block.role == "data") block_->setCurrentIndex(block_->count() - 1);
  }
  block_->setVisible(part->bytes.blocks.size() > 1);
  understood_->setText(blocks_.empty()
                           ? tr("No example of it is known: paste its bytes, and what they say stands here.")
                           : tr("An example of our own is shown: paste your bytes over it, or turn bits."));
  understood_->set_tint(Tint::second);
  rebuild_settings();
  refresh();
  emit part_chosen(part_id_);
}

void BytesView::rebuild_settings() {
  clear(settings_row_);
  const Part& part = *workbench_.catalogue().find(part_id_);
  for (const PartSetting& setting : part.bytes.settings) {
    const Unit* unit = unit_by_ucum(setting.unit);
    const std::string name = setting_name(setting);
    auto* label =
        new Text(theme_, Face::small, text_of(unit ? fmt::format("{}, {}", name, unit->symbol) : name), Tint::quiet);
    label->setToolTip(in_own_marks(text_of(setting.means)));
    settings_row_->addWidget(label);
    const double now = settings_.contains(setting.key) ? settings_.at(setting.key) : setting.default_value;
    QWidget* editor = nullptr;
    if (setting.choices.empty()) {
      auto* field = new QLineEdit(QString::number(now));
      field->setMaximumWidth(theme_.px(70));
      field->setFont(theme_.font(Face::number_small));
      connect(field, &QLineEdit::editingFinished, this, [this, field, key = setting.key] {
        bool is_number = false;
        const double value = QString(field->text()).replace(QLatin1Char(','), QLatin1Char('.')).toDouble(&is_number);
        if (is_number) settings_[key] = value;
        refresh();
      });
      editor = field;
    } else {
      auto* box = new QComboBox;
      box->setView(new QListView);
      for (const SettingChoice& choice : setting.choices) {
        box->addItem(in_own_marks(choice.name.empty() ? QString::number(choice.value) : text_of(choice.name)),
                     choice.value);
        if (choice.value == now) box->setCurrentIndex(box->count() - 1);
      }
      connect(box, &QComboBox::activated, this, [this, box, key = setting.key](int index) {
        settings_[key] = box->itemData(index).toDouble();
        refresh();
      });
      editor = box;
    }
    editor->setObjectName(QStringLiteral("setting_%1").arg(text_of(setting.key)));
    editor->setAccessibleName(text_of(setting.key));
    editor->setToolTip(in_own_marks(text_of(setting.means)));
    settings_row_->addWidget(editor);
  }
}

// What is typed digit by digit goes into the chosen block; what came at once, into the one that takes so many bytes.
void BytesView::take_edited(const QString& text) {
  const bool is_another = std::abs(text.size() - last_text_.size()) > 1;
  const bool at_once = is_another && text.size() > 2;
  if (is_another || !own_bytes_) before_text_ = blocks_;
  last_text_ = text;
  const Part& part = *workbench_.catalogue().find(part_id_);
  const std::string into = block_->currentData().toString().toStdString();
  if (const auto pasted = paste_bytes(part, text.toStdString(), into, shape_of(*shape_), {});
      at_once && pasted && !pasted->fits_instead.empty())
    block_->setCurrentIndex(block_->findData(text_of(pasted->fits_instead)));
  take_text(text);
}

void BytesView::take_text(const QString& text) {
  const auto joined = [](const std::vector<std::string>& names) {
    return text_of(fmt::format("{}", fmt::join(names, ", ")));
  };
  if (text.trimmed().isEmpty()) return;
  const Part& part = *workbench_.catalogue().find(part_id_);
  const std::string into = block_->currentData().toString().toStdString();
  auto pasted = paste_bytes(part, text.toStdString(), into, shape_of(*shape_), before_text_);
  if (!pasted) {
    understood_->setText(text_of(to_text(pasted.problem())));
    understood_->set_tint(Tint::red);
    return;
  }
  blocks_ = std::move(pasted->blocks);
  given_.insert(pasted->taking.begin(), pasted->taking.end());
  const auto& length = pasted->block_length;
  const auto count = pasted->text.bytes.size();
  const auto answering = length && pasted->fits_instead.empty()
                             ? parts_that_answer(workbench_.catalogue(), {pasted->text.bytes})
                             : std::vector<AnsweringPart>();
  const QString others = !pasted->fits_instead.empty()
                             ? tr(". So many belong into %1").arg(text_of(pasted->fits_instead))
                         : answering.empty() ? QString()
                                             : tr(". So many are sent by %1").arg(text_of(markings_of(answering)));
  understood_->setText(tr("%1, read as %2, put into %3%4")
                           .arg(count == 1 ? tr("one byte") : tr("%1 bytes").arg(count),
                                text_of(translated_name(pasted->text.shape)),
                                !pasted->into.empty()    ? text_of(pasted->into)
                                : pasted->taking.empty() ? tr("none: this part has no block there")
                                                         : joined(pasted->taking),
                                length                 ? tr("; the part sends %1").arg(*length)
                                : pasted->left.empty() ? QString()
                                                       : tr("; not taken: %1").arg(joined(pasted->left))) +
                       others);
  understood_->set_tint(length || pasted->taking.empty() || !pasted->left.empty() ? Tint::amber : Tint::second);
  hold_bytes();
  refresh();
}

// Blocks of trimming that somebody gave and the specimen on the bench does not hold yet.
std::vector<std::string> BytesView::trimming_to_keep() const {
  std::vector<std::string> names;
  const Device* device = find_by_id(workbench_.bench().devices, followed_);
  if (!device) return names;
  for (const ByteBlock& block : workbench_.catalogue().find(part_id_)->bytes.blocks) {
    const auto own = blocks_.find(block.name);
    if (block.role != "trimming" || own == blocks_.end() || !given_.contains(block.name)) continue;
    const auto held = device->trimming.find(block.name);
    const bool is_whole = static_cast<int>(own->second.size()) == block.bytes;
    const bool is_held = held != device->trimming.end() && read_hex(held->second).value_or({}) == own->second;
    if (is_whole && !is_held) names.push_back(block.name);
  }
  return names;
}

void BytesView::keep_trimming() {
  const auto names = trimming_to_keep();
  if (names.empty()) return;  // undone meanwhile
  workbench_.document().edit(tr("Trimming"), [&](Bench& bench) {
    for (const std::string& name : names)
      find_by_id(bench.devices, followed_)->trimming[name] = to_hex(blocks_.at(name));
  });
  const Device& device = *find_by_id(workbench_.bench().devices, followed_);
  QStringList lacking;
  for (const ByteBlock& block : workbench_.catalogue().find(part_id_)->bytes.blocks)
    if (block.role == "trimming" && !device.trimming.contains(block.name)) lacking << text_of(block.name);
  understood_->setText(
      lacking.empty()
          ? tr("Kept: its channels are computed with it from now on.")
          : tr("Kept. Still made up, until they are pasted too: %1").arg(lacking.join(QStringLiteral(", "))));
  understood_->set_tint(Tint::second);
  text_->setFocus();
}

void BytesView::open_capture() {
  const QString path =
      QFileDialog::getOpenFileName(this, tr("Open a capture"), {}, tr("Captures (*.vcd *.csv);;All files (*)"));
  if (!path.isEmpty()) take_capture(path);
}

void BytesView::take_capture(const QString& path) {
  const auto content = read_file(path.toStdString());
  const auto lines = content ? read_capture(*content) : Result<std::vector<LineTrace>>(content.problem());
  if (!lines) {
    understood_->setText(text_of(to_text(lines.problem())));
    understood_->set_tint(Tint::red);
    return;
  }
  const Part& part = *workbench_.catalogue().find(part_id_);
  const CaptureBytes found = decode_capture(part.interface, *lines);
  if (!found.bytes.empty()) blocks_[block_->currentData().toString().toStdString()] = found.bytes;
  QStringList events;
  for (const std::string& event : found.events) events << text_of(event);
  understood_->setText(tr("%1 bytes from the capture (%2)%3")
                           .arg(found.bytes.size())
                           .arg(events.join(QStringLiteral(", ")),
                                found.fault.empty() ? QString() : QStringLiteral(": ") + text_of(found.fault)));
  understood_->set_tint(found.fault.empty() ? Tint::second : Tint::amber);
  hold_bytes();
  refresh();
}

void BytesView::showEvent(QShowEvent* event) {
  QWidget::showEvent(event);
  follow_values();
  refresh();
}

void BytesView::refresh() {
  if (!isVisible()) return;
  const Part* part = workbench_.catalogue().find(part_id_);
  if (!part) return;
  auto decoder = Decoder::make(*part, settings_);
  if (!decoder) {
    understood_->setText(text_of(to_text(decoder.problem())));
    understood_->set_tint(Tint::red);
    return;
  }
  keep_->setVisible(!trimming_to_keep().empty());
  map_->show_bytes(*decoder, blocks_);
  const Decoded decoded = blocks_.empty() ? Decoded{} : decoder->decode(blocks_, Tracing::on);
  show_readings(decoded);
  show_trace(decoded);
  findings_->show_findings(*part, decoded, settings_, blocks_);
}

void BytesView::show_readings(const Decoded& decoded) {
  clear(readings_);
  const Part& part = *workbench_.catalogue().find(part_id_);
  auto integer_decoder = Decoder::make(part, settings_, Math::integer);
  const Decoded integer = integer_decoder->decode(blocks_);
  int line = 0, column = 0;
  for (const DigitalReading& reading : decoded.readings) {
    const Unit& unit = base_unit(reading.quantity->quantity);
    const double resolution = reading.quantity->resolution > 0 ? reading.quantity->resolution : 1e-3;
    const double value = unit.from_base(reading.value);
    const int decimals = decimals_of_step(resolution / unit.scale);
    const QString text = unit.symbol == "V" ? text_of(with_prefix(value, "V", 6, workbench_.style()))
                                            : text_of(with_unit(value, decimals, unit.symbol, workbench_.style()));
    readings_->addWidget(new Text(theme_, Face::number, text, Tint::accent), line, column);
    QString words = text_of(translated_name(reading.quantity->quantity)).replace(QLatin1Char('-'), QLatin1Char(' '));
    if (reading.quantity->kind != PressureKind::none)
      words += QStringLiteral(", ") + text_of(translated_name(reading.quantity->kind));
    if (const DigitalReading* other = integer.reading(reading.quantity->quantity);
        other && other->value != reading.value)
      words += tr(" (integer form %1)")
                   .arg(text_of(fixed((other->value - reading.value) / unit.scale, std::min(6, decimals + 2),
                                      workbench_.style()))
                            .prepend(other->value > reading.value ? QStringLiteral("+") : QString()));
    auto* caption = new Text(theme_, Face::small, words, Tint::quiet);
    caption->setWordWrap(true);
    caption->setMinimumWidth(theme_.px(130));
    readings_->addWidget(caption, line + 1, column);
    ++column;
  }
  readings_->setColumnStretch(12, 1);
  line = 2;
  for (const DigitalFault& fault : decoded.faults) {
    auto* text = new Text(theme_, Face::strong,
                          text_of(fault_words(fault.code)) + QStringLiteral(": ") + text_of(fault.message), Tint::red);
    text->setObjectName(QStringLiteral("fault_%1").arg(line - 2));
    text->setWordWrap(true);
    readings_->addWidget(text, line++, 0, 1, 13);
  }
  for (const std::string& status : decoded.statuses)
    readings_->addWidget(new Text(theme_, Face::small, text_of(status), Tint::amber), line++, 0, 1, 13);
}

void BytesView::show_trace(const Decoded& decoded) {
  std::map<std::string, double> known;
  for (const TraceEntry& entry : decoded.trace) known[entry.symbol] = entry.value;
  QStringList words{text_of(part_id_), in_own_marks(QStringLiteral("0.1"))};
  for (const TraceEntry& entry : decoded.trace)
    words << text_of(entry.symbol) << QString::number(entry.value, 'g', 17) << text_of(entry.note);
  if (std::exchange(traced_, words) == words) return;
  clear(trace_);
  int line = 0;
  trace_->addWidget(new Text(theme_, Face::label, tr("HOW IT CAME ABOUT"), Tint::quiet), line++, 0, 1, 3);
  for (const TraceEntry& entry : decoded.trace) {
    if (entry.is_field) continue;  // those are in the map
    auto* symbol = new Text(theme_, Face::code, text_of(entry.symbol));
    auto* value =
        new Text(theme_, Face::code, QStringLiteral("= ") + QString::number(entry.value, 'g', 9), Tint::accent);
    auto* note = new Text(theme_, Face::small, text_of(with_numbers(entry.note, known)), Tint::quiet);
    note->setToolTip(in_own_marks(text_of(entry.note)));
    note->setSizePolicy(QSizePolicy::Ignored, QSizePolicy::Preferred);
    value->let_select();
    trace_->addWidget(symbol, line, 0);
    trace_->addWidget(value, line, 1);
    trace_->addWidget(note, line++, 2);
  }
}

}  // namespace fair_gauge::app

#include "moc_bytes_view.cpp"
