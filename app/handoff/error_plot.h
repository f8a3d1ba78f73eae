// By how far the firmware's arithmetic is off, over every raw number: the worst marked, what its uncertainty leaves
// room for behind it.
#pragma once

#include <QWidget>

#include "handoff/handoff.h"
#include "quantity/number_format.h"
#include "widgets/theme.h"

class QCustomPlot;
class QCPGraph;
class QCPItemRect;
class QCPItemTracer;

namespace fair_gauge::app {

class ErrorPlot : public QWidget {
  Q_OBJECT
 public:
  ErrorPlot(const Theme& theme, QWidget* parent = nullptr);

  /// Hidden where not every raw number was run.
  /// \param unit  symbol of a difference of what is shown
  void show_handoff(const Handoff& handoff, const QString& unit, const NumberStyle& style);

 private:
  void wear();

  const Theme& theme_;
  QCustomPlot* plot_;
  QCPGraph *least_, *most_, *worst_;
  QCPItemRect* room_;
};

}  // namespace fair_gauge::app
