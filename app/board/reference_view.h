// An external reference step by step: wired with the supply off, selected before the first reading, measured, taken
// into the bench. Nothing is taken before the steps that keep the pin whole are done.
#pragma once

#include <QCheckBox>
#include <QComboBox>
#include <QPushButton>

#include "diagnose/reference_check.h"
#include "shell/workbench.h"
#include "widgets/form.h"

namespace fair_gauge::app {

class ReferenceView : public QWidget {
  Q_OBJECT
 public:
  ReferenceView(const Theme& theme, Workbench& workbench, QWidget* parent = nullptr);

 protected:
  void showEvent(QShowEvent* event) override;

 private:
  void refresh();
  void judge();
  void take();
  /// The controller's own converters that could have a reference of their own at the pin.
  std::vector<const Converter*> converters() const;

  Workbench& workbench_;
  QComboBox* converter_;
  QuantityField *nominal_, *tolerance_, *measured_, *meter_;
  std::vector<QCheckBox*> steps_;
  Text *verdict_, *missing_;
  QPushButton* take_;
  KnownVoltage marked_;
  std::vector<std::string> listed_;
};

}  // namespace fair_gauge::app
