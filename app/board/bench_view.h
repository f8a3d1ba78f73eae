// What there is: supplies, converters, buses, parts and readings, drawn or as a list. Each can be added, renamed, hung
// elsewhere, taken away.
#pragma once

#include <QListWidget>
#include <QPushButton>
#include <QStackedWidget>
#include <optional>

#include "bench/bench_things.h"
#include "bench/board_presets.h"
#include "board/board_drawing.h"
#include "board/thing_form.h"

class QStandardItemModel;

namespace fair_gauge::app {

class BenchView : public QWidget {
  Q_OBJECT
 public:
  BenchView(const Theme& theme, Workbench& workbench, QWidget* parent = nullptr);

  void choose(const Thing& thing);
  /// Puts the cursor where what is printed on a part is typed.
  void ask_for_part() { marking_->setFocus(); }
  /// Fits a part that is called so or has this printed on it.
  void fit(const QString& marking);
  void list_parts(QStandardItemModel& into, const QString& typed);
  void forget_marking();

 signals:
  void bus_wanted(const std::string& id);
  void channel_wanted(const std::string& id);

 protected:
  void showEvent(QShowEvent* event) override;
  bool eventFilter(QObject* watched, QEvent* event) override;

 private:
  void keep_in_sight();
  void keep_board();
  void build_board_row();
  QWidget* build_left();
  void build_list();
  void build_drawing();
  QLayout* build_names();
  QLayout* build_adds();
  QLayout* build_marking();
  QWidget* build_keeping();
  QWidget* build_detail();
  void refresh();
  void list_things();
  void show_as_list(bool as_list);
  void show_chosen();
  void drop_form();
  void add(ThingKind kind);
  void take_away_chosen();
  void open_chosen();
  QString words_of(const Thing& thing) const;

  const Theme& theme_;
  Workbench& workbench_;
  std::optional<Thing> chosen_;
  QListWidget* list_;
  BoardDrawing* drawing_;
  QScrollArea* drawn_;
  QStackedWidget* either_;  // the drawing or the list
  QVBoxLayout* list_column_;
  QWidget* keep_row_;             // what keeps the controller, once something is on the bench
  QWidget* board_row_ = nullptr;  // what says which controller it is, while the bench has none
  std::vector<BoardPreset> boards_;
  QPushButton* as_list_;
  bool listing_ = false;
  QLineEdit *name_, *where_, *marking_, *board_name_;
  Text *title_, *what_, *dependents_, *said_;
  QVBoxLayout* place_;         // of the form
  ThingForm* form_ = nullptr;  // of the chosen thing
  QPushButton *open_, *off_;
};

}  // namespace fair_gauge::app
