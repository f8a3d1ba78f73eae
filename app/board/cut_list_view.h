// The cut list: runs of cable, and what hangs on the board beside the sensors. Both are typed into their tables.
#pragma once

#include <QPushButton>
#include <QTableWidget>
#include <QWidget>

#include "quantity/unit.h"
#include "shell/workbench.h"
#include "widgets/text.h"

namespace fair_gauge::app {

class CutListView : public QWidget {
  Q_OBJECT
 public:
  CutListView(const Theme& theme, Workbench& workbench, QWidget* parent = nullptr);

 protected:
  void showEvent(QShowEvent* event) override;

 private:
  void refresh();
  void list_runs();
  void list_accessories();
  void change_run(int line, int place);
  void change_accessory(int line, int place);
  void say(const QString& words);
  /// The number that was typed, in base units; nothing, and the reason is said, where it is none.
  std::optional<double> typed(const QString& text, Dimension dimension);
  void edit(const QString& label, const std::function<void(Bench&)>& change);

  const Theme& theme_;
  Workbench& workbench_;
  Text* summary_;
  Text* echo_;
  QTableWidget* runs_;
  QTableWidget* accessories_;
  QPushButton *take_run_, *take_accessory_;
  QVBoxLayout* findings_;
  bool filling_ = false;
};

}  // namespace fair_gauge::app
