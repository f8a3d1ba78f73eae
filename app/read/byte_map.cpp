#include "read/byte_map.h"

#include <QKeyEvent>
#include <QMouseEvent>
#include <QPainter>
#include <cmath>

#include "widgets/text.h"

namespace fair_gauge::app {
namespace {

// A field is told by its hue and its hatching together, so that neither alone has to do.
constexpr Qt::BrushStyle hatchings[] = {Qt::SolidPattern, Qt::BDiagPattern,     Qt::Dense6Pattern, Qt::FDiagPattern,
                                        Qt::HorPattern,   Qt::DiagCrossPattern, Qt::VerPattern};
constexpr int hues[] = {168, 232, 32, 290, 96, 8, 200};

QColor tint_of(int field, Theme::Tone tone) {
  return QColor::fromHsv(hues[field % 7], tone == Theme::Tone::light ? 70 : 130, tone == Theme::Tone::light ? 222 : 92);
}

}  // namespace

ByteMap::ByteMap(const Theme& theme, QWidget* parent) : QWidget(parent), theme_(theme) {
  setMouseTracking(true);
  setFocusPolicy(Qt::StrongFocus);
  setObjectName(QStringLiteral("byte_map"));
  setAccessibleName(tr("Bytes, bit by bit"));
  setAccessibleDescription(tr("Arrows move, space turns the bit, hexadecimal digits replace the byte"));
  QSizePolicy policy(QSizePolicy::Expanding, QSizePolicy::Minimum);
  policy.setHeightForWidth(true);
  setSizePolicy(policy);
  connect(&theme, &Theme::changed, this, [this] {
    arrange(width());
    update();
  });
}

void ByteMap::show_bytes(const Decoder& decoder, const ByteBlocks& blocks) {
  if (!part_ || part_->id != decoder.part().id) cursor_cell_ = 0, cursor_bit_ = 7, pointed_field_ = -1;
  part_ = decoder.part();  // a layout that is being typed keeps its name and changes its fields
  if (pointed_field_ >= static_cast<int>(part_->bytes.fields.size())) pointed_field_ = -1;
  places_ = decoder.places();
  bytes_.clear();
  for (const ByteBlock& block : part_->bytes.blocks) {
    const auto found = Decoder::find_block(blocks, block);
    bytes_.emplace_back(found.begin(), found.begin() + static_cast<std::ptrdiff_t>(std::min<std::size_t>(
                                                           found.size(), static_cast<std::size_t>(block.bytes))));
  }
  arrange(width());
  updateGeometry();
  update();
}

void ByteMap::arrange(int width) {
  cells_.clear();
  labels_.clear();
  const int gap = theme_.px(4), label_width = theme_.px(70), byte_width = theme_.px(72), byte_height = theme_.px(46);
  const int in_row = std::max(2, (width - label_width) / (byte_width + gap));
  int y = 0;
  for (std::size_t b = 0; b < bytes_.size(); ++b) {
    labels_.emplace_back(text_of(part_->bytes.blocks[b].name), QRect(0, y, label_width - gap, byte_height));
    const std::size_t count = bytes_[b].size();
    for (std::size_t i = 0; i < count; ++i) {
      const int column = static_cast<int>(i) % in_row, line = static_cast<int>(i) / in_row;
      cells_.push_back(
          {b, i,
           QRect(label_width + column * (byte_width + gap), y + line * (byte_height + gap), byte_width, byte_height)});
    }
    y += std::max(1, (static_cast<int>(count) + in_row - 1) / in_row) * (byte_height + gap) + gap;
  }
  height_ = y;
}

QSize ByteMap::sizeHint() const { return {theme_.px(300), std::max(height_, theme_.px(40))}; }

int ByteMap::heightForWidth(int width) const {
  auto* self = const_cast<ByteMap*>(this);
  self->arrange(width);
  const int height = height_;
  self->arrange(this->width());
  return std::max(height, theme_.px(40));
}

void ByteMap::resizeEvent(QResizeEvent* event) {
  QWidget::resizeEvent(event);
  arrange(width());
}

// Bits are counted as in the layout: 7 is the first, 0 the last.
int ByteMap::field_at(std::size_t block, std::size_t byte, int bit) const {
  const int size = static_cast<int>(bytes_[block].size());
  for (std::size_t f = 0; f < places_.size(); ++f) {
    if (part_->bytes.fields[f].block != part_->bytes.blocks[block].name) continue;
    for (const BitRun& run : places_[f].runs()) {
      const int at = run.byte < 0 ? size + run.byte : run.byte;
      if (at == static_cast<int>(byte) && bit <= run.high && bit >= run.low) return static_cast<int>(f);
    }
  }
  return -1;
}

QRect ByteMap::bit_box(const Cell& cell, int bit) const {
  const double width = cell.box.width() / 8.0;
  const int half = 3 * cell.box.height() / 5;
  const int left = cell.box.left() + static_cast<int>((7 - bit) * width),
            right = cell.box.left() + static_cast<int>((8 - bit) * width);
  return {left, cell.box.top() + half, right - left, cell.box.height() - half};
}

void ByteMap::paintEvent(QPaintEvent*) {
  if (!part_) return;
  QPainter painter(this);
  const Colours& colours = theme_.colours();
  painter.setFont(theme_.font(Face::small));
  painter.setPen(colours.quiet);
  for (const auto& [label, box] : labels_) painter.drawText(box, Qt::AlignVCenter | Qt::AlignLeft, label);
  const int scale_wanted = theme_.px(10);
  QFont bits = theme_.font(Face::code);
  bits.setPixelSize(scale_wanted);
  for (std::size_t c = 0; c < cells_.size(); ++c) {
    const Cell& cell = cells_[c];
    const std::uint8_t byte = bytes_[cell.block][cell.byte];
    painter.fillRect(cell.box, colours.sheet);
    for (int bit = 7; bit >= 0; --bit) {
      const int field = field_at(cell.block, cell.byte, bit);
      const QRect box = bit_box(cell, bit);
      const QRect whole(box.left(), cell.box.top(), box.width(), cell.box.height());
      if (field >= 0) {
        const QColor tint = tint_of(field, theme_.tone());
        painter.fillRect(whole, field == pointed_field_ ? tint : QColor(tint.red(), tint.green(), tint.blue(), 110));
        painter.fillRect(QRect(box.left(), box.bottom() - theme_.px(4), box.width(), theme_.px(4)),
                         QBrush(field == pointed_field_ ? colours.ink : colours.quiet, hatchings[field % 7]));
      }
      painter.setFont(bits);
      painter.setPen(byte >> bit & 1 ? colours.ink : colours.quiet);
      painter.drawText(box.adjusted(0, -theme_.px(2), 0, -theme_.px(4)), Qt::AlignCenter,
                       byte >> bit & 1 ? QStringLiteral("1") : QStringLiteral("0"));
      if (hasFocus() && c == cursor_cell_ && bit == cursor_bit_) {
        painter.setPen(QPen(colours.accent, 2));
        painter.drawRect(box.adjusted(0, 0, -1, -1));
      }
    }
    painter.setFont(theme_.font(Face::number_small));
    painter.setPen(colours.ink);
    painter.drawText(
        QRect(cell.box.left(), cell.box.top() + theme_.px(10), cell.box.width(), cell.box.height() / 2 - theme_.px(6)),
        Qt::AlignCenter, QStringLiteral("%1").arg(byte, 2, 16, QLatin1Char('0')).toUpper());
    draw_names(painter, cell);
    painter.setPen(hasFocus() && c == cursor_cell_ ? QPen(colours.accent, 2) : QPen(colours.rule, 1));
    painter.setBrush(Qt::NoBrush);
    painter.drawRect(cell.box.adjusted(0, 0, -1, -1));
  }
}

// A field's name stands where its first bit is.
void ByteMap::draw_names(QPainter& painter, const Cell& cell) const {
  QFont small = theme_.font(Face::small);
  small.setPixelSize(theme_.px(9));
  painter.setFont(small);
  painter.setPen(theme_.colours().ink);
  const int size = static_cast<int>(bytes_[cell.block].size());
  for (std::size_t f = 0; f < places_.size(); ++f) {
    if (part_->bytes.fields[f].block != part_->bytes.blocks[cell.block].name) continue;
    const BitRun& first = places_[f].runs().front();
    if ((first.byte < 0 ? size + first.byte : first.byte) != static_cast<int>(cell.byte)) continue;
    const QRect from = bit_box(cell, first.high);
    const QRect room(from.left() + theme_.px(2), cell.box.top(), cell.box.right() - from.left() - theme_.px(2),
                     theme_.px(12));
    painter.drawText(
        room, Qt::AlignLeft | Qt::AlignVCenter,
        painter.fontMetrics().elidedText(text_of(part_->bytes.fields[f].name), Qt::ElideRight, room.width()));
  }
}

bool ByteMap::locate(const QPoint& at, std::size_t& cell, int& bit) const {
  for (std::size_t c = 0; c < cells_.size(); ++c) {
    if (!cells_[c].box.contains(at)) continue;
    cell = c;
    bit = std::clamp(7 - (at.x() - cells_[c].box.left()) * 8 / std::max(1, cells_[c].box.width()), 0, 7);
    return true;
  }
  return false;
}

QString ByteMap::words() const {
  if (pointed_field_ < 0) return {};
  const auto f = static_cast<std::size_t>(pointed_field_);
  const ByteField& field = part_->bytes.fields[f];
  const auto block = std::ranges::find(part_->bytes.blocks, field.block, &ByteBlock::name);
  const auto value = places_[f].value(bytes_[static_cast<std::size_t>(block - part_->bytes.blocks.begin())]);
  const QString sign = field.sign == FieldSign::twos        ? tr(", two's complement")
                       : field.sign == FieldSign::magnitude ? tr(", sign and magnitude")
                                                            : QString();
  return tr("%1 = %2: %3 bits, bytes %4 of %5%6%7")
      .arg(text_of(field.name), value ? QString::number(*value) : tr("missing"))
      .arg(places_[f].bits())
      .arg(text_of(field.bits), text_of(field.block), sign,
           field.note.empty() ? QString() : QStringLiteral("; ") + text_of(field.note));
}

void ByteMap::point_at(const std::string& field) {
  pointed_field_ = -1;
  for (std::size_t f = 0; part_ && f < part_->bytes.fields.size(); ++f)
    if (part_->bytes.fields[f].name == field) pointed_field_ = static_cast<int>(f);
  update();
}

void ByteMap::mouseMoveEvent(QMouseEvent* event) {
  std::size_t cell = 0;
  int bit = 0;
  const int field =
      locate(event->position().toPoint(), cell, bit) ? field_at(cells_[cell].block, cells_[cell].byte, bit) : -1;
  if (field == pointed_field_) return;
  pointed_field_ = field;
  emit pointed_at(words());
  update();
}

void ByteMap::leaveEvent(QEvent*) {
  pointed_field_ = -1;
  emit pointed_at({});
  update();
}

void ByteMap::mousePressEvent(QMouseEvent* event) {
  std::size_t cell = 0;
  int bit = 0;
  if (!locate(event->position().toPoint(), cell, bit)) return;
  cursor_cell_ = cell;
  cursor_bit_ = bit;
  low_digit_next_ = false;
  // The upper half chooses the byte, the lower half turns the bit.
  if (event->position().toPoint().y() >= bit_box(cells_[cell], bit).top()) turn(cell, bit);
  update();
}

void ByteMap::turn(std::size_t cell, int bit) {
  put(cell, static_cast<std::uint8_t>(bytes_[cells_[cell].block][cells_[cell].byte] ^ 1 << bit));
}

void ByteMap::put(std::size_t cell, std::uint8_t byte) {
  bytes_[cells_[cell].block][cells_[cell].byte] = byte;
  ByteBlocks blocks;
  for (std::size_t b = 0; b < bytes_.size(); ++b) blocks[part_->bytes.blocks[b].name] = bytes_[b];
  emit bytes_changed(blocks);
  emit pointed_at(words());
}

void ByteMap::keyPressEvent(QKeyEvent* event) {
  if (cells_.empty()) return QWidget::keyPressEvent(event);
  cursor_cell_ = std::min(cursor_cell_, cells_.size() - 1);
  const auto step = [this](int by) {
    const auto place = static_cast<std::ptrdiff_t>(cursor_cell_) * 8 + (7 - cursor_bit_) + by;
    if (place < 0 || place >= static_cast<std::ptrdiff_t>(cells_.size()) * 8) return;
    cursor_cell_ = static_cast<std::size_t>(place / 8);
    cursor_bit_ = 7 - static_cast<int>(place % 8);
    low_digit_next_ = false;
  };
  bool digit = false;
  const int value = event->text().toInt(&digit, 16);
  if (event->key() == Qt::Key_Left)
    step(-1);
  else if (event->key() == Qt::Key_Right)
    step(1);
  else if (event->key() == Qt::Key_Up)
    step(-8);
  else if (event->key() == Qt::Key_Down)
    step(8);
  else if (event->key() == Qt::Key_Space)
    turn(cursor_cell_, cursor_bit_);
  else if (digit && event->text().size() == 1 && !(event->modifiers() & (Qt::ControlModifier | Qt::AltModifier))) {
    const std::uint8_t old = bytes_[cells_[cursor_cell_].block][cells_[cursor_cell_].byte];
    put(cursor_cell_, static_cast<std::uint8_t>(low_digit_next_ ? (old & 0xF0) | value : (old & 0x0F) | value << 4));
    const bool finished = low_digit_next_;
    low_digit_next_ = !low_digit_next_;
    if (finished && cursor_cell_ + 1 < cells_.size()) ++cursor_cell_, cursor_bit_ = 7;
  } else {
    return QWidget::keyPressEvent(event);
  }
  pointed_field_ = field_at(cells_[cursor_cell_].block, cells_[cursor_cell_].byte, cursor_bit_);
  emit pointed_at(words());
  update();
}

}  // namespace fair_gauge::app

#include "moc_byte_map.cpp"
