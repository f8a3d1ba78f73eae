// Calibrate: the procedure that leads by the hand, the points, the models that could serve, and the correction put in
// place.
#pragma once

#include <QElapsedTimer>
#include <QPushButton>
#include <QTableWidget>
#include <QWidget>

#include "calibrate/calibration_effect.h"
#include "correct/session_points.h"
#include "correct/span_plot.h"
#include "shell/workbench.h"
#include "truth/model_choice.h"
#include "truth/procedures.h"
#include "truth/stability.h"
#include "widgets/background.h"
#include "widgets/form.h"
#include "widgets/in_unit.h"
#include "widgets/text_box.h"

class QCustomPlot;

namespace fair_gauge::app {

class CalibrateView : public QWidget {
  Q_OBJECT
 public:
  CalibrateView(const Theme& theme, Workbench& workbench, QWidget* parent = nullptr);

  const std::vector<RecordedPoint>& points() const { return points_; }
  void set_points(std::vector<RecordedPoint> points);
  /// Takes the readings from a log instead of the live ones; it is read beside the interface thread.
  void open_log(const QString& path);
  bool is_reading() const { return background_.is_running(); }

 signals:
  /// A correction was put in place: what the logbook is to hold of it.
  void calibrated(const fair_gauge::LogEntry& entry);

 protected:
  void showEvent(QShowEvent* event) override;

 private:
  QWidget* build_left();
  QWidget* build_right();
  void follow_channel();
  void choose_procedure(int index);
  void rebuild_inputs();
  Result<ReferenceValue> reference_now() const;
  void refresh_live();
  void take_point();
  void take_text();
  void refresh_fit();
  void fill_points();
  void draw_fit();
  void put_in();
  const ModelReport* chosen_model() const;
  const Unit& unit() const;
  const Unit& unit_of(Dimension dimension) const;
  InUnit in_unit() const;
  CorrectionPlace place() const;
  Result<PutIn> what_it_does() const;
  Result<CalibrationEffect> effect_of(const PutIn& put) const;
  bool is_own_curve() const;

  const Theme& theme_;
  Workbench& workbench_;
  std::string channel_;
  const Unit* unit_ = nullptr;  // in which the inputs are asked for
  std::vector<const Procedure*> procedures_;
  std::vector<double> inputs_;   // what the reference is worked out from, as typed so far
  std::vector<double> settled_;  // as they were before the typing that goes on
  std::vector<RecordedPoint> points_;
  std::size_t typed_ = 0;  // of the points: so many at the end are those of the field
  std::optional<ModelChoice> choice_;
  std::optional<LogSeries> log_;
  Series series_;
  Stability stability_;
  Background background_;
  QElapsedTimer since_live_;

  QComboBox* procedure_;
  QVBoxLayout* steps_;
  Form* form_ = nullptr;
  QVBoxLayout* form_place_;
  Text *reference_, *stable_;
  SpanPlot* span_;
  QPushButton* take_;
  TextBox* paste_;
  QTableWidget* table_;
  QComboBox *model_, *place_, *errors_;
  QLineEdit *instrument_, *who_;
  QCustomPlot* plot_;
  Text *why_, *verdict_;
  QPushButton* put_in_;
};

}  // namespace fair_gauge::app
