// A converter with parallel outputs: its clock, how it is begun and asked, over time; what its half-reference pin makes
// of the span.
#pragma once

#include <QCheckBox>
#include <QComboBox>
#include <QTableWidget>

#include "shell/workbench.h"
#include "widgets/form.h"
#include "widgets/timeline.h"

namespace fair_gauge::app {

class ParallelView : public QWidget {
  Q_OBJECT
 public:
  ParallelView(const Theme& theme, Workbench& workbench, QWidget* parent = nullptr);

 protected:
  void showEvent(QShowEvent* event) override;

 private:
  void build_form(Form& form);
  void refresh();
  void refresh_plan(const Handshake& handshake);
  void refresh_table();
  void edit(const QString& what, const std::function<void(Handshake&)>& change);
  const Converter* converter() const;

  // A row of the form for a number of the hand-shake.
  struct Number {
    QuantityField* field;
    double Handshake::*member;
    const char* unit;
  };
  const Theme& theme_;
  Workbench& workbench_;
  QComboBox *which_, *fed_, *asked_;
  QCheckBox* has_;
  std::vector<Number> numbers_;
  QuantityField *divider_, *fewest_, *most_;
  Form* form_;
  QWidget* found_;
  Text *missing_, *summary_;
  Timeline* timeline_;
  QVBoxLayout* findings_;
  QLineEdit* volts_;
  Text* volts_echo_;
  QTableWidget* table_;
  std::vector<std::string> listed_;
};

}  // namespace fair_gauge::app
