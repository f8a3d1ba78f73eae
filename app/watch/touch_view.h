// The touch test: a hand on the sensor, and what its readings say of it while it lasts.
#pragma once

#include <QComboBox>
#include <QPushButton>
#include <QWidget>

#include "diagnose/touch_test.h"
#include "watch/log_plot.h"
#include "widgets/text.h"

namespace fair_gauge::app {

class TouchView : public QWidget {
  Q_OBJECT
 public:
  TouchView(const Theme& theme, Workbench& workbench, WatchLog& log, LogPlot& plot, QWidget* parent = nullptr);

 private:
  enum class Phase { waiting, touched, let_go };

  void showEvent(QShowEvent* event) override;
  void hideEvent(QHideEvent* event) override;
  void follow_channel();
  void next_phase();
  QString why_untouchable() const;
  void refresh();
  void judge();
  void judge_warm_up(const Channel& channel, const std::vector<TouchReading>& readings);
  /// \param value_at  base units, of seconds since it began
  void draw(const std::function<double(double)>& value_at) const;
  void keep();
  /// Base units, from a little before it began. Empty where the channel has no readings.
  const Part* part() const;
  std::vector<TouchReading> readings_of(const std::string& channel_id) const;
  const TouchWay* way() const;

  const Theme& theme_;
  Workbench& workbench_;
  WatchLog& log_;
  LogPlot& plot_;
  Text *instruction_, *care_;
  QComboBox* ways_box_;
  QPushButton *next_, *keep_;
  std::optional<WarmUp> found_;  // that can be kept
  QVBoxLayout* findings_;
  std::vector<TouchWay> ways_;
  std::string channel_;  // that is tested
  Phase phase_ = Phase::waiting;
  std::optional<double> began_, ended_;  // on the clock of the samples
};

}  // namespace fair_gauge::app
