// A row of a list that is chosen by mouse, key, or the action of a screen reader, which hears that it is chosen.
#pragma once

#include <QWidget>

#include "widgets/theme.h"

namespace fair_gauge::app {

class SelectableRow : public QWidget {
  Q_OBJECT
 public:
  explicit SelectableRow(const Theme& theme, QWidget* parent = nullptr);
  /// Shows whether it is the chosen one.
  void mark(bool chosen);
  bool is_chosen() const { return is_chosen_; }

 signals:
  void chosen();

 protected:
  void paintEvent(QPaintEvent* event) override;
  void mousePressEvent(QMouseEvent* event) override;
  void keyPressEvent(QKeyEvent* event) override;

 private:
  const Theme& theme_;
  bool is_chosen_ = false;
};

}  // namespace fair_gauge::app
