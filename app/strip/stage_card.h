// One stage of the strip: its title, its value that can be typed over, what does it, and its share of the error.
#pragma once

#include <QWidget>
#include <functional>

#include "chain/chain.h"
#include "widgets/quantity_field.h"
#include "widgets/text.h"

namespace fair_gauge::app {

class StageCard : public QWidget {
  Q_OBJECT
 public:
  StageCard(const Theme& theme, const Stage& stage, QWidget* parent = nullptr);

  struct State {
    Result<double> value = Problem{};
    QString text;  ///< the value as it should read
    QString unit;
    QString caption;
    double share = 0;  ///< of the error, 0…1
    Fairness fairness = Fairness::fair;
    bool anchored = false;
    bool chosen = false;
    QString beside;        ///< what another chain has here, in words; takes the caption's place
    bool silent = false;   ///< the caption says for how long nothing came
    bool differs = false;  ///< the first stage at which that chain goes another way
  };
  void show_state(const State& state);
  StageName stage() const { return stage_; }
  QuantityField& field() { return *field_; }

 signals:
  void chosen();
  void typed(double value);

 protected:
  void paintEvent(QPaintEvent* event) override;
  void resizeEvent(QResizeEvent* event) override;
  void mousePressEvent(QMouseEvent* event) override;
  bool eventFilter(QObject* object, QEvent* event) override;

 private:
  void fit_field();

  const Theme& theme_;
  StageName stage_;
  State state_;
  Text* title_;
  Text* mark_;
  QuantityField* field_;
  Text* unit_;
  Text* caption_;
};

}  // namespace fair_gauge::app
