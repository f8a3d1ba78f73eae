// Board: what concerns the whole bench. What there is, the buses, who holds which line when, and every conductor.
#pragma once

#include <QWidget>

#include "shell/workbench.h"
#include "widgets/text.h"
#include "widgets/views.h"

namespace fair_gauge::app {

class BenchView;
class BusView;

class BoardPage : public QWidget {
  Q_OBJECT
 public:
  BoardPage(const Theme& theme, Workbench& workbench, QWidget* parent = nullptr);

  /// Overview, bus, cycle, wires, cut list, reference: as numbered by show_view().
  static QStringList view_names();
  void show_view(int view);
  void show_bus(const std::string& id);
  /// The overview, where what is printed on a part is typed.
  void ask_for_part();
  /// Puts a part of the catalogue on the bench.
  void fit(const std::string& part);

 signals:
  void channel_wanted(const std::string& id);

 private:
  BenchView* things_ = nullptr;
  BusView* buses_ = nullptr;  // once it is shown
  Views* views_;
  ViewTabs* tabs_;
};

}  // namespace fair_gauge::app
