// Several channels in one plot of readings over time: each in a lane of its own under the chosen one, or laid over one
// another with their units left and right, or as differences to the chosen one.
#pragma once

#include <QCoreApplication>
#include <functional>
#include <memory>
#include <vector>

#include "watch/watch_log.h"
#include "widgets/theme.h"

class QCPAxis;
class QCPAxisRect;
class QCPGraph;
class QCPItemText;
class QCustomPlot;

namespace fair_gauge::app {

enum class Arrangement { lanes, overlaid, differences };

/// Draws one value a row into a graph, over the range of its time axis. Of more rows than there are places to draw
/// them, each bundle is drawn by its lowest and its highest value.
void draw_course(QCPGraph& graph, const Watched& watched, const std::vector<RowBlock>& blocks,
                 const std::function<double(std::size_t)>& value_of);

class LogLanes {
  Q_DECLARE_TR_FUNCTIONS(LogLanes)

 public:
  /// \param plot  whose first axis rectangle is the chosen channel's
  LogLanes(QCustomPlot& plot, const Theme& theme);

  /// Draws the channels beside the chosen one; what was drawn before is gone from the plot already.
  /// \param own  the chosen one's line, drawn by the caller
  void draw(const std::shared_ptr<const Watched>& chosen, QCPGraph& own, Arrangement arrangement);
  /// Before all graphs and items are taken from the plot.
  void forget() { lines_.clear(); }
  /// Only the chosen channel's lane is left.
  void take_away();
  /// After the time axis has moved.
  void draw_courses();
  /// The values in view fill each lane's height, and every name stands at its line. \param style  of numbers
  void fit(const NumberStyle& style);
  /// The lowest and highest values in view of what shares an axis with the chosen channel.
  void extend(double& low, double& high) const;
  /// Time axis and its numbers as the chosen channel's lane has them.
  void share_time_axis();
  /// A span of time, shaded in every lane. \param from, to  seconds
  void shade(double from, double to, const QColor& fill);
  std::size_t lanes() const { return rects_.size() + 1; }

 private:
  struct Line {
    std::shared_ptr<const Watched> watched;
    QCPGraph* graph;
    QCPAxis* axis;
    QCPItemText* name;
    QString words;
    bool is_alone;  // in a lane of its own: its range in view stands beside its name
    bool is_own;    // the chosen channel's, whose course and axis are the caller's
  };
  void make_rects(std::size_t count);
  void shade_wanted(const Chain& chain, QCPAxisRect& rect, QCPAxis& axis);
  void add(const std::shared_ptr<const Watched>& watched, const QString& words, QCPAxis& axis, const QPen& pen,
           bool is_alone = false);
  void fit_names(const QCPAxisRect& rect);

  QCustomPlot& plot_;
  const Theme& theme_;
  std::vector<QCPAxisRect*> rects_;  // below the chosen channel's
  std::vector<Line> lines_;
};

}  // namespace fair_gauge::app
