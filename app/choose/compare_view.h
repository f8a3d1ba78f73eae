// Up to four candidates beside one another: their error over the wanted range, or an hour of the simulation.
#pragma once

#include <QWidget>
#include <memory>

#include "choose/side_by_side.h"
#include "shell/workbench.h"
#include "widgets/background.h"
#include "widgets/theme.h"
#include "widgets/views.h"

class QCustomPlot;

namespace fair_gauge::app {

/// The ranges of the candidates as bars, the wanted range shaded behind them.
class RangeBars : public QWidget {
  Q_OBJECT
 public:
  RangeBars(const Theme& theme, const NumberStyle& style, QWidget* parent = nullptr);
  void show_candidates(const Need& need, const std::vector<Candidate>& candidates);
  QSize sizeHint() const override;
  QSize minimumSizeHint() const override { return {0, sizeHint().height()}; }

 protected:
  void paintEvent(QPaintEvent* event) override;

 private:
  struct Bar {
    QString name;
    double from, to;
  };
  const Theme& theme_;
  const NumberStyle& style_;
  Need need_;
  std::vector<Bar> bars_;
};

class CompareView : public QWidget {
  Q_OBJECT
 public:
  CompareView(const Theme& theme, const NumberStyle& style, QWidget* parent = nullptr);

  /// \param candidates  not ruled out; copies, so that the list may change meanwhile
  void show_candidates(std::shared_ptr<const Catalogue> catalogue, const Need& need, std::vector<Candidate> candidates);
  /// 0 the error over the range, 1 side by side.
  void show_view(int view);

 private:
  void redraw();
  void draw_errors();
  void draw_hour();

  const Theme& theme_;
  const NumberStyle& style_;
  std::shared_ptr<const Catalogue> catalogue_;
  Need need_;
  std::vector<Candidate> candidates_;
  ViewTabs* tabs_;
  QCustomPlot* plot_;
  RangeBars* ranges_;
  SideBySide hour_;
  Background background_;
  int view_ = 0;
};

}  // namespace fair_gauge::app
