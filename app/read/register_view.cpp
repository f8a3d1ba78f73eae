#include "read/register_view.h"

#include <QListView>

#include "digital/decoder.h"
#include "digital/registers.h"
#include "quantity/number_format.h"
#include "quantity/quantity_text.h"

namespace fair_gauge::app {

RegisterView::RegisterView(const Theme& theme, Workbench& workbench, QWidget* parent) : QWidget(parent), theme_(theme), workbench_(workbench) {
  title_ = new Text(theme, Face::strong);
  title_->setWordWrap(true);
  grid_ = new QGridLayout;
  grid_->setContentsMargins(0, 0, 0, 0);
  grid_->setHorizontalSpacing(12);
  grid_->setVerticalSpacing(4);
  grid_->setColumnStretch(3, 1);
  sequence_ = new Text(theme, Face::code, {}, Tint::accent);
  sequence_->setObjectName(QStringLiteral("register_sequence"));
  sequence_->setTextInteractionFlags(Qt::TextSelectableByMouse);
  echo_ = new Text(theme, Face::small, {}, Tint::second);
  echo_->setObjectName(QStringLiteral("register_echo"));
  echo_->setWordWrap(true);
  limit_ = new QLineEdit;
  limit_->setObjectName(QStringLiteral("limit"));
  limit_->setFont(theme.font(Face::number_small));
  limit_->setMaximumWidth(theme.px(110));
  limit_->setAccessibleName(tr("Limit"));
  limit_->setPlaceholderText(tr("such as 27,3"));
  limit_bytes_ = new Text(theme, Face::small, {}, Tint::second);
  limit_bytes_->setObjectName(QStringLiteral("limit_bytes"));
  limit_bytes_->setWordWrap(true);
  auto* limit_row = row(8);
  limit_row->addWidget(new Text(theme, Face::strong, tr("A limit as the part stores it")));
  limit_row->addWidget(limit_);
  limit_row->addWidget(limit_bytes_, 1);
  limits_box_ = new QWidget;
  limits_box_->setLayout(limit_row);
  connect(limit_, &QLineEdit::textChanged, this, &RegisterView::refresh_limit);
  auto* all = column(8);
  all->addWidget(title_);
  all->addLayout(grid_);
  all->addWidget(echo_);
  all->addWidget(limits_box_);
  all->addWidget(new Text(theme, Face::label, tr("WRITE IN THIS ORDER, READ BACK AND COMPARE, THEN MEASURE"), Tint::quiet));
  all->addWidget(sequence_);
  all->addStretch();
  setLayout(all);
  show_part("air-compensated");
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
}

void RegisterView::rebuild() {
  built_ = true;
  clear(grid_);
  rows_.clear();
  echo_->clear();
  const Part* part = workbench_.catalogue().find(part_id_);
  if (!part) return;
  title_->setText(part->bytes.registers.empty() ? tr("%1: its file names no registers.").arg(text_of(part->name)) : tr("%1: from the power-on values").arg(text_of(part->name)));
  int line = 0;
  for (const PartRegister& reg : part->bytes.registers) {
    const std::size_t r = rows_.size();
    rows_.push_back({reg, static_cast<unsigned>(reg.power_on), new QLineEdit, {}});
    grid_->addWidget(new Text(theme_, Face::code, text_of(reg.address)), line, 0);
    grid_->addWidget(new Text(theme_, Face::strong, text_of(reg.name)), line, 1);
    auto* hex = rows_[r].hex;
    hex->setFont(theme_.font(Face::code));
    hex->setMaximumWidth(theme_.px(80));
    hex->setObjectName(QStringLiteral("register_%1").arg(r));
    hex->setAccessibleName(tr("Value of %1").arg(text_of(reg.name)));
    hex->setToolTip(tr("Hexadecimal, as it was read from the part or will be written"));
    grid_->addWidget(hex, line++, 2);
    connect(hex, &QLineEdit::editingFinished, this, [this, r] {
      const auto value = read_register(rows_[r].reg, rows_[r].hex->text().toStdString());
      echo_->setText(value ? QString() : text_of(to_text(value.problem())));
      echo_->set_tint(Tint::red);
      if (value) rows_[r].value = *value;
      if (value) refresh();
    });
    for (std::size_t f = 0; f < reg.parts.size(); ++f) {
      const RegisterField& field = reg.parts[f];
      auto* label = new Text(theme_, Face::small, text_of(field.name) + QStringLiteral("  [") + text_of(field.bits) + QLatin1Char(']'), Tint::quiet);
      auto* box = new QComboBox;
      box->setView(new QListView);
      box->setObjectName(QStringLiteral("register_%1_%2").arg(r).arg(f));
      box->setAccessibleName(text_of(field.name));
      box->setSizeAdjustPolicy(QComboBox::AdjustToMinimumContentsLengthWithIcon);
      box->setMinimumContentsLength(22);
      for (const SettingChoice& choice : field.choices) box->addItem(text_of(choice.means), static_cast<int>(choice.value));
      box->addItem(tr("reserved"), -1);
      rows_[r].choices.push_back(box);
      grid_->addWidget(label, line, 1);
      grid_->addWidget(box, line, 2);
      label->setToolTip(text_of(field.means));
      box->setToolTip(text_of(field.means));
      const bool has_room = theme_.text_scale() < 1.2;  // else the tooltip has to do
      if (!field.means.empty() && has_room) {
        auto* means = new Text(theme_, Face::small, text_of(field.means), Tint::quiet);
        means->setWordWrap(true);
        grid_->addWidget(means, line, 3);
      }
      ++line;
      connect(box, &QComboBox::activated, this, [this, r, f, box](int index) {
        const int number = box->itemData(index).toInt();
        if (number >= 0) rows_[r].value = with_field(rows_[r].reg.parts[f], rows_[r].value, static_cast<unsigned>(number));
        refresh();
      });
    }
  }
  refresh();
  refresh_limit();
}

void RegisterView::refresh_limit() {
  const Part* part = workbench_.catalogue().find(part_id_);
  limits_box_->setVisible(part && part->bytes.limits);
  if (!part || !part->bytes.limits) return;
  const LimitLayout& layout = *part->bytes.limits;
  const auto wished = parse_quantity(limit_->text().toStdString(), dimension_of_quantity(part->quantities.front().quantity));
  const QString compared = tr("Compared: %1.").arg(text_of(layout.compared));
  if (!wished) {
    limit_bytes_->setText(limit_->text().isEmpty() ? compared : text_of(to_text(wished.problem())));
    return;
  }
  const auto upper = store_limit(layout, wished->base, LimitSide::upper), lower = store_limit(layout, wished->base, LimitSide::lower);
  if (!upper || !lower) {
    limit_bytes_->setText(text_of(to_text((upper ? lower : upper).problem())));
    return;
  }
  limit_bytes_->setText(tr("as an upper limit 0x%1, %2 °C (rounded down); as a lower limit 0x%3, %4 °C (rounded up). %5")
                            .arg(text_of(to_hex(upper->bytes)))
                            .arg(upper->value)
                            .arg(text_of(to_hex(lower->bytes)))
                            .arg(lower->value)
                            .arg(compared));
}

void RegisterView::refresh() {
  QStringList lines;
  for (Row& row : rows_) {
    row.hex->setText(text_of(write_register(row.reg, row.value)));
    for (std::size_t f = 0; f < row.choices.size(); ++f) {
      const int index = row.choices[f]->findData(static_cast<int>(field_value(row.reg.parts[f], row.value)));
      row.choices[f]->setCurrentIndex(index < 0 ? row.choices[f]->count() - 1 : index);
    }
    const unsigned kept = reserved_bits(row.reg);
    lines << tr("write 0x%1 to %2%3").arg(text_of(write_register(row.reg, row.value)), text_of(row.reg.address), kept ? tr(", bits 0x%1 as they were read").arg(text_of(write_register(row.reg, kept))) : QString());
  }
  if (const Part* part = workbench_.catalogue().find(part_id_)) {
    if (part->conversion_s > 0) lines << tr("wait %1: the longest conversion, or ask the part whether it is done").arg(text_of(with_prefix(part->conversion_s, "s", 3, workbench_.style())));
    QStringList blocks;
    for (const ByteBlock& block : part->bytes.blocks)
      if (block.role == "data") blocks << tr("%1 (%2 bytes)").arg(text_of(block.name)).arg(block.bytes);
    lines << tr("read %1 in one go, so that all bytes are of one conversion").arg(blocks.join(QStringLiteral(", ")));
  }
  sequence_->setText(lines.join(QLatin1Char('\n')));
}

}  // namespace fair_gauge::app
