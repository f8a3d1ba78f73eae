#include "read/layout_editor.h"

#include <QHeaderView>
#include <QListView>
#include <cmath>

#include "digital/byte_text.h"
#include "language/translation.h"
#include "parts/catalogue.h"
#include "quantity/number_format.h"
#include "widgets/kept_typing.h"

namespace fair_gauge::app {
namespace {

constexpr Interface interfaces[] = {Interface::i2c, Interface::spi, Interface::one_wire, Interface::single_wire};
constexpr const char* checks[] = {"", "crc8-ff", "crc8-00", "crc8-onewire", "sum8", "crc16-a001", "crc8-ff", "crc8-00"};
constexpr int first_of_words = 6;  // from here on a check follows every word

QTableWidget* table(const Theme& theme, int rows, const QStringList& heads, const char* name, const QString& means) {
  auto* made = new QTableWidget(rows, static_cast<int>(heads.size()));
  made->setHorizontalHeaderLabels(heads);
  made->verticalHeader()->hide();
  made->horizontalHeader()->setSectionResizeMode(QHeaderView::Stretch);
  made->horizontalHeader()->setDefaultAlignment(Qt::AlignLeft | Qt::AlignVCenter);
  made->setObjectName(QLatin1String(name));
  made->setAccessibleName(means);
  made->setVerticalScrollBarPolicy(Qt::ScrollBarAlwaysOff);
  const auto fit = [made, rows, &theme] {
    made->setFont(theme.font(Face::code));
    made->horizontalHeader()->setFont(theme.font(Face::small));
    made->verticalHeader()->setDefaultSectionSize(theme.px(26));
    made->setFixedHeight(theme.px(26) * rows + theme.px(32));
  };
  fit();
  QObject::connect(&theme, &Theme::changed, made, fit);
  return made;
}

QComboBox* choice(const QStringList& items, const char* name, const QString& means) {
  auto* box = new QComboBox;
  box->setView(new QListView);
  box->addItems(items);
  box->setObjectName(QLatin1String(name));
  box->setAccessibleName(means);
  return box;
}

QString cell(const QTableWidget& table, int row, int column) {
  const auto* item = table.item(row, column);
  return item ? item->text().trimmed() : QString();
}

void put(QTableWidget& table, int row, const QStringList& texts) {
  for (int i = 0; i < texts.size(); ++i) table.setItem(row, i, new QTableWidgetItem(texts[i]));
}

}  // namespace

LayoutEditor::LayoutEditor(const Theme& theme, Workbench& workbench, QWidget* parent)
    : QWidget(parent), theme_(theme), workbench_(workbench) {
  name_ = new QLineEdit(tr("Sensor of my own"));
  name_->setObjectName(QStringLiteral("layout_name"));
  name_->setAccessibleName(tr("Name of the part"));
  interface_ =
      choice({tr("two-wire"), tr("four-wire"), tr("one-wire"), tr("single-wire"), tr("a controller's registers")},
             "layout_interface", tr("Its bus"));
  length_ = new QLineEdit(QStringLiteral("3"));
  length_->setObjectName(QStringLiteral("layout_bytes"));
  length_->setAccessibleName(tr("How many bytes it sends"));
  length_->setMaximumWidth(theme.px(44));
  check_ =
      choice({tr("no check"), tr("CRC-8 from FF"), tr("CRC-8 from 00"), tr("CRC-8 of one-wire"), tr("sum of the bytes"),
              tr("CRC-16, low byte first"), tr("CRC-8 from FF after each word"), tr("CRC-8 from 00 after each word")},
             "layout_check", tr("Check in its last byte, or after every two bytes"));
  build_tables();
  bytes_text_ = new QLineEdit(QStringLiteral("15 80 00"));
  bytes_text_->setObjectName(QStringLiteral("layout_try"));
  bytes_text_->setAccessibleName(tr("Bytes to try it on"));
  bytes_text_->setFont(theme.font(Face::code));
  map_ = new ByteMap(theme);
  map_->setObjectName(QStringLiteral("layout_map"));
  verdict_ = new Text(theme, Face::strong);
  verdict_->setObjectName(QStringLiteral("layout_verdict"));
  verdict_->setWordWrap(true);
  save_ = new QPushButton(tr("Save as a part"));
  save_->setObjectName(QStringLiteral("save_layout"));
  save_->setProperty("primary", true);

  for (QWidget* each : std::initializer_list<QWidget*>{interface_, check_, fields_, formulas_, registers_})
    keep_choice(*each);

  auto* head = row(8);
  head->addWidget(name_, 1);
  head->addWidget(interface_);
  auto* sends = row(8);
  sends->addWidget(new Text(theme, Face::small, tr("sends"), Tint::quiet));
  sends->addWidget(length_);
  sends->addWidget(new Text(theme, Face::small, tr("bytes, with"), Tint::quiet));
  sends->addWidget(check_);
  frame_ = new QWidget;
  frame_->setLayout(sends);
  head->addWidget(frame_);
  stack_when_large(theme, head);
  build_bytes();
  auto* how =
      new Text(theme, Face::small,
               tr("A row for each field: bits are 7:6 or 3; what its numbers mean is 0 the pin; 1 the supply; 3 "
                  "1.1 V inside. The register's name and address stand in its first row."),
               Tint::quiet);
  how->setWordWrap(true);
  auto* end = row(8);
  end->addWidget(verdict_, 1);
  end->addWidget(save_, 0, Qt::AlignTop);
  auto* all = column(8);
  all->addLayout(head);
  all->addLayout(end);
  all->addWidget(bytes_box_);
  all->addWidget(new Text(theme, Face::label, tr("REGISTERS THAT TELL IT HOW TO MEASURE"), Tint::quiet));
  all->addWidget(registers_);
  all->addWidget(how);
  all->addStretch();
  setLayout(all);

  connect(registers_, &QTableWidget::cellChanged, this, &LayoutEditor::grow_registers);
  for (QTableWidget* each : {fields_, formulas_, registers_})
    connect(each, &QTableWidget::cellChanged, this, &LayoutEditor::refresh);
  for (QLineEdit* each : {name_, length_}) connect(each, &QLineEdit::textChanged, this, &LayoutEditor::refresh);
  for (QComboBox* each : {interface_, check_})
    connect(each, &QComboBox::currentIndexChanged, this, &LayoutEditor::refresh);
  connect(bytes_text_, &QLineEdit::textChanged, this, &LayoutEditor::take_bytes);
  connect(map_, &ByteMap::bytes_changed, this, [this](const ByteBlocks& blocks) {
    bytes_ = blocks.begin()->second;
    refresh();
  });
  connect(save_, &QPushButton::clicked, this, &LayoutEditor::save);
  take_bytes(bytes_text_->text());
}

void LayoutEditor::build_tables() {
  fields_ = table(theme_, 4, {tr("field"), tr("bytes and bits"), tr("sign"), tr("what it is")}, "layout_fields",
                  tr("Fields: name, bytes and bits, sign, note"));
  fields_->horizontalHeader()->setToolTip(
      tr("Bytes count from 0, the most significant first: \"0 1\", \"1 0\" if the low byte comes first, \"0[7:0] "
         "1[7:4]\" for single bits. Sign: empty, twos or magnitude."));
  formulas_ = table(theme_, 3, {tr("quantity"), tr("formula of the fields, in °C, %, Pa or lx"), tr("from"), tr("to")},
                    "layout_formulas", tr("Formulas: quantity, formula, range"));
  put(*fields_, 0, {QStringLiteral("raw"), QStringLiteral("0 1"), QStringLiteral("twos"), tr("high byte first")});
  put(*formulas_, 0,
      {QStringLiteral("temperature"), QStringLiteral("raw / 256"), QStringLiteral("-40"), QStringLiteral("125")});
  for (const auto& [place, width] : {std::pair{0, 108}, {2, 64}, {3, 64}}) {
    formulas_->horizontalHeader()->setSectionResizeMode(place, QHeaderView::Fixed);
    formulas_->setColumnWidth(place, theme_.px(width));
  }
  registers_ =
      table(theme_, 3,
            {tr("register"), tr("address"), tr("field"), tr("bits"), tr("what its numbers mean"), tr("after power-on")},
            "layout_registers", tr("Registers: name, address, field, bits, meanings, after power-on"));
  for (const auto& [place, width] : {std::pair{0, 108}, {1, 80}, {2, 108}, {3, 64}, {5, 118}}) {
    registers_->horizontalHeader()->setSectionResizeMode(place, QHeaderView::Fixed);
    registers_->setColumnWidth(place, theme_.column_px(width));
  }
}

// What only a part has: the fields of its bytes, their formulas, and bytes to try it on.
void LayoutEditor::build_bytes() {
  auto* trial = row(8);
  trial->addWidget(new Text(theme_, Face::small, tr("Tried on"), Tint::quiet));
  trial->addWidget(bytes_text_, 1);
  auto* hint = new Text(theme_, Face::small,
                        tr("Bytes count from 0, the most significant first: 0 1 for a word, 1 0 if its low byte comes "
                           "first, 0[7:0] 1[7:4] for single bits. Sign is empty, twos or magnitude."),
                        Tint::quiet);
  hint->setWordWrap(true);
  auto* bytes = column(8);
  bytes->addWidget(fields_);
  bytes->addWidget(hint);
  bytes->addWidget(formulas_);
  bytes->addLayout(trial);
  bytes->addWidget(map_);
  bytes_box_ = new QWidget;
  bytes_box_->setLayout(bytes);
}

std::string LayoutEditor::quantity_words(int row) const { return cell(*formulas_, row, 0).toLower().toStdString(); }

OwnLayout LayoutEditor::layout_now() const {
  OwnLayout layout{.name = name_->text().trimmed().toStdString(),
                   .interface = interfaces[std::min<std::size_t>(static_cast<std::size_t>(interface_->currentIndex()),
                                                                 std::size(interfaces) - 1)],
                   .bytes = length_->text().toInt(),
                   .check = checks[check_->currentIndex()],
                   .checks_each_word = check_->currentIndex() >= first_of_words};
  for (int i = 0; i < fields_->rowCount(); ++i) {
    if (cell(*fields_, i, 0).isEmpty()) continue;
    const QString sign = cell(*fields_, i, 2).toLower();
    layout.fields.push_back({.name = cell(*fields_, i, 0).toStdString(),
                             .bits = cell(*fields_, i, 1).toStdString(),
                             .sign = sign.startsWith(QLatin1Char('t'))   ? FieldSign::twos
                                     : sign.startsWith(QLatin1Char('m')) ? FieldSign::magnitude
                                                                         : FieldSign::none,
                             .note = cell(*fields_, i, 3).toStdString()});
  }
  for (int i = 0; i < formulas_->rowCount(); ++i) {
    if (cell(*formulas_, i, 1).isEmpty()) continue;
    const auto number = [&](int column) {
      return cell(*formulas_, i, column)
          .replace(QLatin1Char(','), QLatin1Char('.'))
          .replace(QChar(0x2212), QLatin1Char('-'))
          .toDouble();
    };
    // What is no quantity is named by refresh() before anybody takes the layout.
    layout.readings.push_back({enum_by_name<Quantity>(quantity_words(i)).value_or(Quantity::temperature),
                               cell(*formulas_, i, 1).toStdString(), number(2), number(3)});
  }
  return layout;
}

void LayoutEditor::take_bytes(const QString& text) {
  const auto read = read_byte_text(text.toStdString());
  if (read) bytes_ = read->bytes;
  refresh();
}

bool LayoutEditor::is_controller() const { return interface_->currentIndex() == std::ssize(interfaces); }

// The last row is always a free one.
void LayoutEditor::grow_registers() {
  const auto is_used = [this](int row) {
    for (int i = 0; i < registers_->columnCount(); ++i)
      if (!cell(*registers_, row, i).isEmpty()) return true;
    return false;
  };
  if (!is_used(registers_->rowCount() - 1)) return;
  registers_->setRowCount(registers_->rowCount() + 1);
  registers_->setFixedHeight(theme_.px(26) * registers_->rowCount() + theme_.px(32));
}

Result<std::vector<PartRegister>> LayoutEditor::registers_now() const {
  std::vector<OwnRegisterRow> rows;
  for (int i = 0; i < registers_->rowCount(); ++i) {
    const auto text = [&](int column) { return cell(*registers_, i, column).toStdString(); };
    OwnRegisterRow row{text(0), text(1), text(2), text(3), text(4), text(5)};
    if (!(row.reg + row.address + row.field + row.bits + row.choices + row.power_on).empty())
      rows.push_back(std::move(row));
  }
  return registers_of_rows(rows);
}

void LayoutEditor::refuse(const Problem& problem) {
  part_.reset();
  controller_.reset();
  save_->setEnabled(false);
  verdict_->setText(text_of(to_text(problem)));
  verdict_->set_tint(Tint::red);
}

void LayoutEditor::refresh() {
  for (QWidget* each : {frame_, bytes_box_}) each->setVisible(!is_controller());
  save_->setText(is_controller() ? tr("Save as a controller") : tr("Save as a part"));
  is_controller() ? refresh_controller() : refresh_part();
}

void LayoutEditor::refresh_controller() {
  part_.reset();
  auto registers = registers_now();
  if (!registers) return refuse(registers.problem());
  auto controller = controller_of_registers(name_->text().trimmed().toStdString(), std::move(*registers));
  if (!controller) return refuse(controller.problem());
  QStringList words;
  for (const PartRegister& reg : controller->layout.registers) {
    QStringList fields;
    for (const RegisterField& field : reg.fields) fields << text_of(field.name);
    words << tr("%1 at %2: %3").arg(text_of(reg.name), text_of(reg.address), fields.join(QStringLiteral(", ")));
  }
  controller_ = std::move(*controller);
  save_->setEnabled(true);
  verdict_->setText(words.join(QStringLiteral("   ·   ")));
  verdict_->set_tint(Tint::accent);
}

void LayoutEditor::refresh_part() {
  controller_.reset();
  OwnLayout layout = layout_now();
  for (int i = 0; i < formulas_->rowCount(); ++i) {
    if (cell(*formulas_, i, 1).isEmpty()) continue;
    const auto quantity = enum_by_name<Quantity>(quantity_words(i));
    if (!quantity || !quantity_in(dimension_of(*quantity)))
      return refuse({translated("\"{}\" is no quantity", quantity_words(i)),
                     translated("temperature, humidity, pressure or illuminance")});
  }
  auto registers = registers_now();
  if (!registers) return refuse(registers.problem());
  layout.registers = std::move(*registers);
  auto part = part_of_layout(layout);
  if (!part) return refuse(part.problem());
  part_ = std::move(*part);
  auto decoder = Decoder::make(*part_);
  if (!decoder) return refuse(decoder.problem());
  save_->setEnabled(true);
  auto bytes = bytes_;
  bytes.resize(static_cast<std::size_t>(layout.bytes));
  const ByteBlocks blocks{{"frame", bytes}};
  map_->show_bytes(*decoder, blocks);
  const Decoded decoded = decoder->decode(blocks);
  // What it was tried on is its example from now on.
  if (decoded.ok() && bytes_.size() == bytes.size()) part_->bytes.blocks.front().example = to_hex(bytes);
  QStringList words;
  for (const DigitalReading& reading : decoded.readings) {
    const Unit& unit = base_unit(reading.quantity->quantity);
    words << tr("%1 %2").arg(
        text_of(translated_name(reading.quantity->quantity)),
        text_of(with_unit(reading.value, std::min(4, decimals_for(std::max(reading.quantity->resolution, 1e-4), 1)),
                          unit.symbol, workbench_.style())));
  }
  for (const DigitalFault& fault : decoded.faults) words << text_of(fault.message);
  verdict_->setText(words.join(QStringLiteral("   ·   ")));
  verdict_->set_tint(decoded.ok() ? Tint::accent : Tint::red);
}

void LayoutEditor::save() {
  if (controller_) {
    const auto path = save_user_controller(*controller_);
    verdict_->setText(path ? tr("Saved as %1. Board, Controller offers it now.").arg(text_of(where_kept(*path)))
                           : text_of(to_text(path.problem())));
    return verdict_->set_tint(path ? Tint::accent : Tint::red);
  }
  if (!part_) return;
  const Part part = *part_;
  const auto path = save_user_part(part);
  if (path) workbench_.reload_catalogue();
  verdict_->setText(path ? tr("Saved as %1. It is among the parts of this page now.").arg(text_of(where_kept(*path)))
                         : text_of(to_text(path.problem())));
  verdict_->set_tint(path ? Tint::accent : Tint::red);
  if (path) emit saved(part.id, verdict_->text());
}

}  // namespace fair_gauge::app

#include "moc_layout_editor.cpp"
