// Bytes drawn bit by bit: every field in its own tint and hatching, every bit to be turned by a click or a key.
#pragma once

#include <QWidget>

#include "digital/decoder.h"
#include "widgets/theme.h"

namespace fair_gauge::app {

class ByteMap : public QWidget {
  Q_OBJECT
 public:
  explicit ByteMap(const Theme& theme, QWidget* parent = nullptr);

  /// Shows the bytes of a part.
  void show_bytes(const Decoder& decoder, const ByteBlocks& blocks);
  /// What the pointer or the cursor is on, for a line of words.
  QString words() const;
  /// Marks a field, as when its line of the trace is pointed at.
  void point_at(const std::string& field);

  QSize sizeHint() const override;
  QSize minimumSizeHint() const override { return sizeHint(); }
  bool hasHeightForWidth() const override { return true; }
  int heightForWidth(int width) const override;

 signals:
  void bytes_changed(const fair_gauge::ByteBlocks& blocks);
  void pointed_at(const QString& words);

 protected:
  void paintEvent(QPaintEvent* event) override;
  void mouseMoveEvent(QMouseEvent* event) override;
  void leaveEvent(QEvent* event) override;
  void mousePressEvent(QMouseEvent* event) override;
  void keyPressEvent(QKeyEvent* event) override;
  void resizeEvent(QResizeEvent* event) override;

 private:
  // Where a byte is drawn.
  struct Cell {
    std::size_t block;
    std::size_t byte;
    QRect box;
  };
  void arrange(int width);
  int field_at(std::size_t block, std::size_t byte, int bit) const;
  QRect bit_box(const Cell& cell, int bit) const;
  void draw_names(QPainter& painter, const Cell& cell) const;
  bool locate(const QPoint& at, std::size_t& cell, int& bit) const;
  void turn(std::size_t cell, int bit);
  void put(std::size_t cell, std::uint8_t byte);

  const Theme& theme_;
  std::optional<Part> part_;  // a copy: the catalogue may be read anew
  std::vector<FieldPlace> places_;
  std::vector<std::vector<std::uint8_t>> bytes_;  // of each block of the layout
  std::vector<Cell> cells_;
  std::vector<std::pair<QString, QRect>> labels_;
  int height_ = 0;
  int pointed_field_ = -1;
  std::size_t cursor_cell_ = 0;
  int cursor_bit_ = 7;
  bool low_digit_next_ = false;
};

}  // namespace fair_gauge::app
