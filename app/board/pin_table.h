// The controller's pins by the maker's own names: which can read a voltage, which can call the firmware, what they
// bear.
#pragma once

#include <QPushButton>

#include "shell/workbench.h"
#include "widgets/edit_table.h"
#include "widgets/text.h"

namespace fair_gauge::app {

class PinTable : public QWidget {
  Q_OBJECT
 public:
  PinTable(const Theme& theme, Workbench& workbench, QWidget* parent = nullptr);
  void refresh();

 private:
  void changed(int line, int place);
  void add();
  void say(const QString& words);

  const Theme& theme_;
  Workbench& workbench_;
  QTableWidget* table_;
  QPushButton* take_;
  Text* echo_;
  bool filling_ = false;
};

}  // namespace fair_gauge::app
