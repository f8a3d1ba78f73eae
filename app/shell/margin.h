// The margin on the right: the verdict, where the error comes from, what would help most, and the cautions.
#pragma once

#include <QScrollArea>

#include "shell/workbench.h"
#include "widgets/text.h"
#include "widgets/vial.h"

namespace fair_gauge::app {

class Margin : public QScrollArea {
  Q_OBJECT
 public:
  Margin(const Theme& theme, Workbench& workbench, QWidget* parent = nullptr);
  QSize minimumSizeHint() const override;

 signals:
  /// The chosen channel's number looks wrong to the person.
  void mistake_wanted();

 private:
  void follow_text();
  void refresh();
  void show_implausible(const ChannelView& view);
  void show_sources(const ChannelView& view);
  void find_improvements();
  void show_improvements();
  void show_cautions(const ChannelView& view);

  const Theme& theme_;
  Workbench& workbench_;
  Vial* vial_;
  Text* words_;
  Text* detail_;
  Text* implausible_;
  QVBoxLayout* sources_;
  QVBoxLayout* improvements_layout_;
  QWidget* cautions_;
  Text* caution_text_;
  Text* helps_;
  std::vector<QWidget*> of_channel_;  // hidden while none is chosen
  QTimer settle_;
  std::string advised_channel_;
  Bench advised_bench_;
  std::vector<Improvement> improvements_;
};

}  // namespace fair_gauge::app
