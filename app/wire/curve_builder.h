// Builds the curve of a part that is not in the catalogue, shows how well it meets its points, and saves it as a part.
#pragma once

#include <QComboBox>
#include <QLineEdit>
#include <QPushButton>
#include <QWidget>

#include "shell/workbench.h"
#include "sizing/own_curve.h"
#include "widgets/text.h"
#include "widgets/text_box.h"

class QCustomPlot;

namespace fair_gauge::app {

class CurveBuilder : public QWidget {
  Q_OBJECT
 public:
  CurveBuilder(const Theme& theme, Workbench& workbench, QWidget* parent = nullptr);

 private:
  void showEvent(QShowEvent* event) override;
  void follow_channel();
  CurveColumns columns() const;
  QString hint_text() const;
  void refresh();
  void show_curve(const std::vector<CurvePoint>& points, const OwnCurve& curve);
  void save();

  const Theme& theme_;
  Workbench& workbench_;
  QComboBox* kind_;
  QComboBox* output_;
  TextBox* points_;
  QString example_;  ///< that stands in points_ until somebody writes there
  Text* hint_;
  QLineEdit* expression_;
  QLineEdit* name_;
  QPushButton* save_;
  Text* verdict_;
  Text* warnings_;
  QCustomPlot* plot_;
  std::optional<OwnCurve> curve_;
};

}  // namespace fair_gauge::app
