// Practise: the chosen channel with one hidden mistake. Measurements are asked for one by one; then it is named.
#pragma once

#include <QComboBox>
#include <QPushButton>
#include <QWidget>

#include "diagnose/injected_fault.h"
#include "diagnose/practice.h"
#include "shell/workbench.h"
#include "widgets/background.h"
#include "widgets/text.h"

namespace fair_gauge::app {

class PracticeView : public QWidget {
  Q_OBJECT
 public:
  PracticeView(const Theme& theme, Workbench& workbench, QWidget* parent = nullptr);

  /// Draws a case; the same seed draws the same one.
  void draw(std::uint64_t seed);
  /// The case in hand; tests wait for it.
  const std::optional<PracticeCase>& in_hand() const { return case_; }
  bool is_drawing() const { return drawing_.is_running(); }

 protected:
  void showEvent(QShowEvent* event) override;

 private:
  QLayout* build_left();
  QLayout* build_what_if();
  QLayout* build_right();
  void follow_channel();
  void show_case();
  void measure(const PracticeProbe& probe, QPushButton* asked);
  void name();
  void keep_found();
  void show_found();
  void list_faults();
  void put_in(int choice);
  void show_fault();

  const Theme& theme_;
  Workbench& workbench_;
  std::string channel_;  // of the case in hand
  Text *title_, *given_, *count_, *verdict_, *found_;
  QComboBox *level_, *answer_;
  QPushButton *new_, *name_;
  QVBoxLayout *probes_, *findings_, *lesson_;
  QWidget *asking_, *naming_;
  std::optional<PracticeCase> case_;
  bool is_named_ = false;
  // A fault on the simulated bench itself.
  std::vector<InjectedFault::Choice> choices_;
  QComboBox* what_if_;
  QPushButton* take_back_;
  Text* fault_;
  Background drawing_{this}, listing_{this}, making_{this};
};

}  // namespace fair_gauge::app
