// The level: a spirit-level vial whose bubble lies off the middle by the share of the allowed error that is used.
#pragma once

#include <QWidget>

#include "widgets/theme.h"

namespace fair_gauge::app {

class Vial : public QWidget {
  Q_OBJECT
 public:
  enum class Size { small, medium, large };

  Vial(const Theme& theme, Size size, QWidget* parent = nullptr);

  /// \param used  share of the allowed error, 0 upwards; not a number → unknown, an empty vial
  /// \param bias  its sign is the side the bubble goes to
  void show_share(double used, double bias);
  QSize sizeHint() const override;

 protected:
  void paintEvent(QPaintEvent* event) override;

 private:
  const Theme& theme_;
  Size size_;
  double used_;
  double bias_ = 0;
};

}  // namespace fair_gauge::app
