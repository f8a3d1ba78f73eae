// Read: raw numbers from a line, bytes and what they mean, and the registers that tell a part how to measure.
#pragma once

#include <QWidget>
#include <optional>

#include "read/bytes_view.h"
#include "shell/workbench.h"
#include "widgets/theme.h"
#include "widgets/views.h"

namespace fair_gauge::app {

class RegisterView;

class MistakeView;

class ReadPage : public QWidget {
  Q_OBJECT
 public:
  ReadPage(const Theme& theme, Workbench& workbench, QWidget* parent = nullptr);

  /// Line, bytes, registers, a part of one's own, what is wrong, practice: as numbered by show_view().
  static QStringList view_names();
  void show_view(int view);
  /// The bytes of a digital part of the catalogue.
  void show_part(const std::string& id);
  /// The usual mistakes, tried on a raw number of the chosen channel; nothing → its latest.
  void explain(std::optional<double> raw);
  /// A recording of a line that was dropped on the window.
  void open_capture(const QString& path);

 signals:
  /// Numbers come for a channel of which nobody has said which sensor makes them.
  void sensor_wanted(const std::string& channel);

 private:
  BytesView* bytes_ = nullptr;
  MistakeView* mistakes_ = nullptr;    // once it is shown
  RegisterView* registers_ = nullptr;  // once it is shown
  Views* views_;
  ViewTabs* tabs_;
};

}  // namespace fair_gauge::app
