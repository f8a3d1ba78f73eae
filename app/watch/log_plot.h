// Readings over time: the wanted range shaded, gaps left open, events marked, a filtered course and what was switched
// laid over it. The wheel zooms, dragging moves, a double click shows all of it again.
#pragma once

#include <QWidget>
#include <functional>
#include <memory>
#include <optional>

#include "stream/switching.h"
#include "watch/log_map.h"
#include "watch/watch_log.h"
#include "widgets/theme.h"

class QCustomPlot;
class QCPGraph;

namespace fair_gauge::app {

class LogPlot : public QWidget {
  Q_OBJECT
 public:
  explicit LogPlot(const Theme& theme, QWidget* parent = nullptr);

  void show_log(std::shared_ptr<const Watched> watched);
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
  const std::shared_ptr<const Watched>& watched() const { return watched_; }
  /// The plot as it stands, as SVG or, by the path's ending, PDF. \returns false where it could not be written
  bool save_picture(const QString& path);

 signals:
  void view_changed();

 private:
  void draw();
  void draw_happened();
  void draw_limits();
  void draw_courses();
  void draw_course(QCPGraph& graph, const std::vector<RowBlock>& blocks,
                   const std::function<double(std::size_t)>& value_of);
  void fit_values();
  double at(std::size_t row) const;
  bool eventFilter(QObject* object, QEvent* event) override;

  const Theme& theme_;
  QCustomPlot* plot_;
  LogMap* map_;
  std::shared_ptr<const Watched> watched_;
  std::vector<double> filtered_;
  QString filtered_name_;
  std::vector<RowBlock> filtered_blocks_;
  std::optional<SwitchRule> rule_;
  std::vector<bool> on_;
  QString on_name_;
  bool whole_ = true;  // all of it is shown, also of what is still to come
};

}  // namespace fair_gauge::app
