// All of a log in one narrow strip, with the part that is in view: dragging it, a click or the arrow keys move the
// view.
#pragma once

#include <QPixmap>
#include <QWidget>
#include <memory>
#include <utility>
#include <vector>

#include "watch/watch_log.h"
#include "widgets/theme.h"

namespace fair_gauge::app {

class LogMap : public QWidget {
  Q_OBJECT
 public:
  explicit LogMap(const Theme& theme, QWidget* parent = nullptr);

  void show_log(std::shared_ptr<const Watched> watched);
  /// What is in view, seconds of the log.
  void show_view(double from, double to);
  QSize sizeHint() const override { return {theme_.px(240), theme_.px(28)}; }
  QSize minimumSizeHint() const override { return {theme_.px(80), theme_.px(28)}; }

 signals:
  void view_wanted(double from, double to);

 protected:
  void paintEvent(QPaintEvent* event) override;
  void resizeEvent(QResizeEvent* event) override;
  void mousePressEvent(QMouseEvent* event) override;
  void mouseMoveEvent(QMouseEvent* event) override;
  void keyPressEvent(QKeyEvent* event) override;

 private:
  // The lowest and the highest reading of a column of pixels; low above high → none.
  struct Column {
    double low = std::numeric_limits<double>::infinity(), high = -std::numeric_limits<double>::infinity();
  };
  void work_out();
  void draw_course();
  double x_of(double seconds) const;
  double seconds_at(double x) const;
  bool has_rows() const { return watched_ && last_ > first_; }
  void move_to(double from);

  const Theme& theme_;
  std::shared_ptr<const Watched> watched_;
  std::vector<Column> columns_;
  QPixmap course_;                      // of the columns; null → to be drawn
  std::pair<long, long> told_{-1, -1};  // per cent that the description says
  double first_ = 0, last_ = 0;         // of all times that are numbers; alike → nothing to show
  double from_ = 0, to_ = 0;
  double held_at_ = 0;  // while it is dragged: seconds from the view's beginning to the mouse
};

}  // namespace fair_gauge::app
