// The transfer of the whole chain: world against counts, the wanted range shaded, step size as a second curve, and the
// present point, which can be dragged.
#pragma once

#include <QWidget>

#include "shell/workbench.h"
#include "widgets/theme.h"

class QCustomPlot;
class QCPGraph;
class QCPItemRect;
class QCPItemText;
class QCPItemTracer;

namespace fair_gauge::app {

class TransferPlot : public QWidget {
  Q_OBJECT
 public:
  TransferPlot(const Theme& theme, Workbench& workbench, QWidget* parent = nullptr);

  /// Where the present point is drawn, in this widget's pixels; for tests.
  QPointF point_position() const;

 protected:
  bool eventFilter(QObject* object, QEvent* event) override;
  void showEvent(QShowEvent* event) override;
  QSize sizeHint() const override { return {520, 300}; }

 private:
  void refresh();
  void redraw_curves(const ChannelView& view);
  void style();
  void drag_to(double x_pixels);
  QString values_at(double x_pixels) const;

  const Theme& theme_;
  Workbench& workbench_;
  QCustomPlot* plot_;
  QCPGraph* counts_;
  QCPGraph* step_;
  QCPItemRect* wanted_;
  QCPItemText* wanted_label_;
  QCPItemText* counts_label_;
  QCPItemText* step_label_;
  QCPItemTracer* point_;
  bool dragging_ = false;
  bool curves_due_ = true;
};

}  // namespace fair_gauge::app
