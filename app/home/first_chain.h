// One live chain to type into before there is a bench: a thermistor from the world to the shown number, with its error.
#pragma once

#include <QWidget>
#include <vector>

#include "parts/catalogue.h"
#include "strip/stage_card.h"

namespace fair_gauge::app {

class FirstChain : public QWidget {
  Q_OBJECT
 public:
  FirstChain(const Theme& theme, const Catalogue& catalogue, NumberStyle style, QWidget* parent = nullptr);

 protected:
  void paintEvent(QPaintEvent* event) override;

 private:
  void solve(const Anchor& from);
  QString text_at(const Stage& stage, double value) const;

  const Theme& theme_;
  NumberStyle style_;
  std::optional<Chain> chain_;  // nothing → the catalogue lacks its part, and nothing is shown
  std::vector<StageCard*> cards_;
  bool is_typed_ = false;
  Text* verdict_;
  Text* causes_;
};

}  // namespace fair_gauge::app
