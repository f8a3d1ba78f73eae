// What is wrong? A number, what the firmware shows and what it ought to be: the usual mistakes that explain it, with
// their arithmetic.
#pragma once

#include <QLineEdit>
#include <QPushButton>
#include <QTimer>
#include <QWidget>
#include <optional>

#include "diagnose/diagnose.h"
#include "shell/workbench.h"
#include "widgets/background.h"
#include "widgets/text.h"

namespace fair_gauge::app {

class MistakeView : public QWidget {
  Q_OBJECT
 public:
  MistakeView(const Theme& theme, Workbench& workbench, QWidget* parent = nullptr);

  /// Asks what is wrong with a raw number of the chosen channel.
  void take(double raw);
  /// What was found last; tests wait for it.
  const Diagnosis& diagnosis() const { return diagnosis_; }
  bool is_searching() const { return search_.is_running() || later_.isActive(); }

 protected:
  void showEvent(QShowEvent* event) override;
  void hideEvent(QHideEvent* event) override;

 private:
  QLineEdit* add_field(QVBoxLayout* into, const QString& label, const QString& why, const char* name);
  void follow_channel();
  void take_first_number();
  void search();
  Result<Question> question() const;
  void show_nothing(const QString& why);
  void show_diagnosis(const Chain& chain);
  void add_cause(const Cause& cause, const Chain& chain);
  void show_in_strip(const std::string& code);
  void show_first_in_strip();
  void leave_strip();
  void add_measurements();
  void measured(const std::string& id, const QString& text);
  void forget_measured();

  const Theme& theme_;
  Workbench& workbench_;
  std::string channel_;
  QLineEdit *input_, *shown_, *expected_;
  Text *title_, *verdict_, *reads_;
  QVBoxLayout *causes_, *measurements_;
  std::vector<Question::Measured> measured_;
  std::vector<Question::Also> also_;
  std::map<std::string, QString> half_typed_;     // results of measurements, by what is measured
  std::string focused_;                           // of them, the one whose field has the cursor
  std::map<std::string, QPushButton*> in_strip_;  // by the cause's code
  std::optional<Anchor> held_before_;             // by the strip, before it held the number that is asked about
  Diagnosis diagnosis_;
  Background search_{this};
  QTimer later_;
};

}  // namespace fair_gauge::app
