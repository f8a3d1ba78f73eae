// Readings over time: the wanted range shaded, gaps left open, events marked, a filtered course and what was switched
// laid over it, other channels beside it. The wheel zooms, dragging moves, with Shift it marks a span; a double click
// shows all of it again.
#pragma once

#include <QWidget>
#include <functional>
#include <memory>
#include <optional>

#include "stream/switching.h"
#include "watch/log_lanes.h"
#include "watch/log_map.h"
#include "watch/watch_log.h"
#include "widgets/theme.h"

class QCustomPlot;
class QCPGraph;
class QCPItemRect;
class QCPItemText;

namespace fair_gauge::app {

class LogPlot : public QWidget {
  Q_OBJECT
 public:
  /// \param style  of numbers; it must outlive the plot
  LogPlot(const Theme& theme, const NumberStyle& style, QWidget* parent = nullptr);

  void show_log(std::shared_ptr<const Watched> watched);
  /// What stands in the middle of a plot without readings, from the next log that is shown on.
  void say_when_empty(const QString& words) { when_empty_ = words; }
  /// A second course, one value a row; empty → none. \param name  written beside it; empty → "filtered"
  void show_filtered(const std::vector<double>& values, const QString& name = {});
  /// Where it switches, and when it was on; nothing → none.
  /// \param name  written at the stretches; empty → "on"
  void show_switching(const std::optional<SwitchRule>& rule, const std::vector<bool>& on, const QString& name = {});
  /// Brings rows into view, with as much again around them. \param from, to  rows of data, from 1
  void bring_into_view(std::size_t from, std::size_t to);
  void show_all();
  /// Rows in view: first and one past the last, as places in the log.
  std::pair<std::size_t, std::size_t> in_view() const;
  /// A span of time that is looked at by itself; nothing → what is in view. \param span  seconds of the log
  void mark(std::optional<std::pair<double, double>> span);
  void mark_view();
  const std::optional<std::pair<double, double>>& marked() const { return marked_; }
  /// Rows of the marked span, else those in view.
  std::pair<std::size_t, std::size_t> looked_at() const;
  void arrange(Arrangement arrangement);
  Arrangement arrangement() const { return arrangement_; }
  const std::shared_ptr<const Watched>& watched() const { return watched_; }
  /// The plot as it stands, as SVG. \returns false where it could not be written
  bool save_picture(const QString& path);
  /// The same as PNG in base 64.
  std::string picture() const;

 signals:
  void view_changed();

 private:
  void draw();
  void draw_nothing();
  void draw_log();
  void draw_events(double span);
  void draw_switched();
  void draw_happened();
  void draw_limits();
  void draw_courses();
  void write_times(double span);
  QCPItemRect* add_band(const QColor& fill);
  void shade_values(double from, double to, const QColor& fill);
  /// \param top  where the shade begins, 0…1 of the height
  void shade_time(double from, double to, const QColor& fill, double top = 0);
  /// \param x  seconds of the log  \param y  0…1 of the height
  QCPItemText* add_label(double x, double y, const QString& words, const QColor& ink, Qt::Alignment where);
  /// The same with x as 0…1 of the width.
  void add_note(double x, double y, const QString& words, const QColor& ink, Qt::Alignment where);
  bool mark_by_mouse(QEvent& event);
  void fit_values();
  double at(std::size_t row) const;
  void keep_place(double moved);
  bool eventFilter(QObject* object, QEvent* event) override;

  const Theme& theme_;
  const NumberStyle& style_;
  QCustomPlot* plot_;
  LogMap* map_;
  std::unique_ptr<LogLanes> lanes_;
  QCPGraph *own_ = nullptr, *smooth_ = nullptr;  // the course and the filtered one; null → not drawn
  Arrangement arrangement_ = Arrangement::lanes;
  std::optional<std::pair<double, double>> marked_;
  std::optional<double> marking_from_;  // while the mouse marks
  std::shared_ptr<const Watched> watched_;
  QString when_empty_;
  std::vector<double> filtered_;
  QString filtered_name_;
  std::vector<RowBlock> filtered_blocks_;
  std::optional<SwitchRule> rule_;
  std::vector<bool> on_;
  QString on_name_;
  bool whole_ = true;  // all of it is shown, also of what is still to come
};

}  // namespace fair_gauge::app
