// What would be switched by these readings, or in a simulated room: a heater or a cooler with a dead band, and what
// firmware compares with.
#pragma once

#include <QComboBox>
#include <QPushButton>
#include <QWidget>

#include "stream/simulated_room.h"
#include "watch/log_plot.h"
#include "widgets/form.h"

namespace fair_gauge::app {

class SwitchView : public QWidget {
  Q_OBJECT
 public:
  SwitchView(const Theme& theme, Workbench& workbench, WatchLog& log, LogPlot& plot, QWidget* parent = nullptr);

  /// Whether the plot shows the simulated room instead of the readings.
  bool is_in_room() const { return isVisible() && in_room_->isChecked(); }

 private:
  void build_rule();
  void build_room();
  void refresh();
  void refresh_room(const Channel& channel, const SwitchRule& rule);
  void change_room(const QString& label, const std::function<void(SwitchedRoom&)>& change);
  void fit_room();
  void take_schedule(const QString& words);
  void list_decisions(const Watched& watched, const SwitchRule& rule, const Switched& switched);
  void show_switched(const Watched& watched, const SwitchRule& rule, const Switched& switched);
  void change(const QString& label, const std::function<void(SwitchingRule&)>& change);
  void showEvent(QShowEvent* event) override;
  void hideEvent(QHideEvent* event) override;

  const Theme& theme_;
  Workbench& workbench_;
  WatchLog& log_;
  LogPlot& plot_;
  QPushButton *begin_, *end_;
  Form* form_;
  QLineEdit* schedule_;
  QString refused_;      // why the words of the schedule were not taken
  std::string channel_;  // whose they are
  QComboBox* kind_;
  QPushButton* in_room_;
  QWidget* room_;
  QuantityField *outside_, *power_, *loss_, *mass_, *hours_;
  double hours_wanted_ = 24;
  QuantityField *goal_, *band_, *minimum_on_, *minimum_off_, *every_, *stale_, *shutdown_;
  QComboBox* safe_;
  QVBoxLayout* decisions_;
  Text *words_, *codes_, *care_;
  Background work_{this};  // millions of rows take longer than a frame
};

}  // namespace fair_gauge::app
