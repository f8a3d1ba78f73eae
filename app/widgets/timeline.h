// Lanes over time: who holds a line and who works when. Names stand in the bars, or beside them where they are short.
#pragma once

#include <QWidget>
#include <vector>

#include "widgets/theme.h"

namespace fair_gauge::app {

class Timeline : public QWidget {
  Q_OBJECT
 public:
  explicit Timeline(const Theme& theme, QWidget* parent = nullptr);

  struct Bar {
    QString name;
    double from_s;
    double to_s;
    bool strong;  ///< the line is held; else something works without it
  };
  struct Lane {
    QString name;
    std::vector<Bar> bars;
  };
  /// \param whole_s  end of the axis in seconds; 0 → the last bar's end
  void show_lanes(std::vector<Lane> lanes, double whole_s = 0);

  QSize sizeHint() const override;
  QSize minimumSizeHint() const override { return sizeHint(); }

 protected:
  void paintEvent(QPaintEvent* event) override;
  bool event(QEvent* event) override;  // hover: what and how long

 private:
  QRectF box_of(std::size_t lane, const Bar& bar) const;
  int names_width() const;
  int lane_height() const { return theme_.px(26); }

  const Theme& theme_;
  std::vector<Lane> lanes_;
  double whole_s_ = 1;
};

}  // namespace fair_gauge::app
