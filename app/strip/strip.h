// The strip across the top: the chosen channel's chain, every value of which can be typed over.
#pragma once

#include <QWidget>
#include <vector>

#include "shell/workbench.h"
#include "strip/stage_card.h"

namespace fair_gauge::app {

class Strip : public QWidget {
  Q_OBJECT
 public:
  Strip(const Theme& theme, Workbench& workbench, QWidget* parent = nullptr);

  /// The card of a stage, or null.
  StageCard* card(StageName name) const;

 protected:
  void paintEvent(QPaintEvent* event) override;

 private:
  void rebuild();
  void refresh();
  QString value_text(const Chain& chain, const Stage& stage, double value, int decimals) const;

  const Theme& theme_;
  Workbench& workbench_;
  QHBoxLayout* layout_;
  Text* problem_;
  std::vector<StageCard*> cards_;
  std::vector<Stage> built_;
};

}  // namespace fair_gauge::app
