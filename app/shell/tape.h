// The tape along the bottom: the latest readings of the chosen channel as a running strip.
#pragma once

#include <QWidget>

#include "shell/workbench.h"
#include "widgets/text.h"

namespace fair_gauge::app {

class Tape : public QWidget {
  Q_OBJECT
 public:
  Tape(const Theme& theme, Workbench& workbench, QWidget* parent = nullptr);

 protected:
  void paintEvent(QPaintEvent* event) override;
  void showEvent(QShowEvent* event) override;

 private:
  void refresh();

  const Theme& theme_;
  Workbench& workbench_;
  Text* value_;
  Text* noise_;
  Text* steps_;
  QWidget* trace_;
  std::vector<QPointF> points_;  // seconds before now (negative), shown unit
};

}  // namespace fair_gauge::app
