// Home: the whole bench at a glance, one line a channel.
#pragma once

#include <QScrollArea>

#include "shell/workbench.h"
#include "widgets/text.h"
#include "widgets/vial.h"

class QPushButton;

namespace fair_gauge::app {

class HomePage : public QScrollArea {
  Q_OBJECT
 public:
  HomePage(const Theme& theme, Workbench& workbench, QWidget* parent = nullptr);

 protected:
  void showEvent(QShowEvent* event) override;

 signals:
  void opened(const std::string& channel_id);
  void demonstration_wanted();

 private:
  void rebuild();
  void refresh();

  struct Line {
    std::string id;
    Text* value;
    Vial* vial;
    Text* words;
    Text* next;
  };
  const Theme& theme_;
  Workbench& workbench_;
  Text* title_;
  Text* subtitle_;
  QPushButton* demonstration_;
  QVBoxLayout* list_;
  std::vector<Line> lines_;
};

}  // namespace fair_gauge::app
