// Read: raw numbers from a line, bytes and what they mean, and the registers that tell a part how to measure.
#pragma once

#include <QStackedWidget>
#include <QWidget>

#include "read/bytes_view.h"
#include "shell/workbench.h"
#include "widgets/theme.h"
#include "widgets/view_tabs.h"

namespace fair_gauge::app {

class ReadPage : public QWidget {
  Q_OBJECT
 public:
  ReadPage(const Theme& theme, Workbench& workbench, QWidget* parent = nullptr);

  /// 0 line, 1 bytes, 2 registers, 3 a part of one's own.
  void show_view(int view);
  /// A recording of a line that was dropped on the window.
  void open_capture(const QString& path);

 private:
  BytesView* bytes_;
  QStackedWidget* views_;
  ViewTabs* tabs_;
};

}  // namespace fair_gauge::app
