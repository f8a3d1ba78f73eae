// Watch: the part's own limit registers, tried on the readings as they come: what trips, what its pin does, what clears
// it.
#pragma once

#include <QPushButton>
#include <QVBoxLayout>
#include <QWidget>

#include "chain/part_limits.h"
#include "digital/alarm.h"
#include "shell/workbench.h"
#include "watch/log_plot.h"
#include "watch/watch_log.h"
#include "widgets/background.h"
#include "widgets/form.h"
#include "widgets/quantity_field.h"
#include "widgets/text.h"

namespace fair_gauge::app {

class AlarmView : public QWidget {
  Q_OBJECT
 public:
  AlarmView(const Theme& theme, Workbench& workbench, WatchLog& log, LogPlot& plot, QWidget* parent = nullptr);

 private:
  void showEvent(QShowEvent* event) override;
  void hideEvent(QHideEvent* event) override;
  void change(const QString& label, const std::function<void(OwnLimits&)>& change);
  void refresh();
  void build_fields(Dimension dimension);
  /// The limits' layout for the chosen channel; null where its part compares nothing that is described.
  const LimitLayout* layout(const DigitalFace& face) const;
  QString words_of(const PlacedLimit& limit, const Chain& chain) const;
  void show_course(const std::shared_ptr<const Watched>& watched, const AlarmRules& rules, const AlarmLimits& limits,
                   const LimitLayout& layout, std::optional<double> upper, std::optional<double> lower);
  void show_events(const Watched& watched, const AlarmRules& rules, const LimitLayout& layout,
                   const AlarmCourse& course, std::optional<double> upper, std::optional<double> lower);
  void say_nothing(const QString& words);

  const Theme& theme_;
  Workbench& workbench_;
  WatchLog& log_;
  LogPlot& plot_;
  Text *state_, *rules_, *stored_;
  QVBoxLayout *form_place_, *events_;
  Form* form_ = nullptr;
  std::optional<Dimension> dimension_;  // of the fields
  QuantityField *upper_ = nullptr, *lower_ = nullptr;
  QPushButton *read_, *off_;
  std::string channel_;        // whose reads these are
  std::vector<double> reads_;  // when it was asked, seconds of the session
  Background work_{this};      // millions of rows take longer than a frame
};

}  // namespace fair_gauge::app
