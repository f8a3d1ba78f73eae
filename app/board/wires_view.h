// The list of wires, pin by pin: pins and colours are typed into it, and it is printed.
#pragma once

#include <QPushButton>
#include <QTableWidget>
#include <QWidget>

#include "shell/workbench.h"
#include "widgets/text.h"
#include "wiring/wiring_list.h"

namespace fair_gauge::app {

class WiresView : public QWidget {
  Q_OBJECT
 public:
  WiresView(const Theme& theme, Workbench& workbench, QWidget* parent = nullptr);

  /// Writes NAME.pdf, or NAME.csv by its ending. \returns what went wrong, or nothing
  QString write_to(const QString& path);

 protected:
  void showEvent(QShowEvent* event) override;

 private:
  void refresh();
  void changed(int line, int place);

  const Theme& theme_;
  Workbench& workbench_;
  WiringList list_;
  Text* summary_;
  Text* echo_;
  QTableWidget* table_;
  QVBoxLayout* findings_;
  bool filling_ = false;
};

}  // namespace fair_gauge::app
