// A series over time from which a span is chosen by dragging: what a calibration point is taken from.
#pragma once

#include <QWidget>
#include <optional>
#include <utility>

#include "quantity/unit.h"
#include "truth/agreement.h"
#include "widgets/theme.h"

class QCustomPlot;
class QCPItemRect;

namespace fair_gauge::app {

class SpanPlot : public QWidget {
  Q_OBJECT
 public:
  explicit SpanPlot(const Theme& theme, QWidget* parent = nullptr);
  /// \param series  base units
  /// \param unit    for the axis
  void show_series(const Series& series, const Unit& unit);
  /// From and to in seconds; nothing → none is chosen.
  const std::optional<std::pair<double, double>>& span() const { return span_; }
  void clear_span();

 signals:
  void span_chosen();

 protected:
  bool eventFilter(QObject* object, QEvent* event) override;

 private:
  void show_span();
  double seconds_at(double x) const;

  const Theme& theme_;
  QCustomPlot* plot_;
  QCPItemRect* rect_;
  std::optional<std::pair<double, double>> span_;
  std::optional<double> pressed_;
};

}  // namespace fair_gauge::app
