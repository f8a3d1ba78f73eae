// A bench of one's own whose first channel is still to come: what it has, and what comes then.
#pragma once

#include <QVBoxLayout>
#include <QWidget>

#include "bench/bench.h"
#include "parts/catalogue.h"
#include "quantity/number_format.h"
#include "widgets/theme.h"

class QPushButton;

namespace fair_gauge::app {

class BegunBox : public QWidget {
  Q_OBJECT
 public:
  explicit BegunBox(const Theme& theme, QWidget* parent = nullptr);
  void show_bench(const Bench& bench, const Catalogue& catalogue, const NumberStyle& style);

 signals:
  void first_sensor_wanted();
  void overview_wanted();
  void listening_wanted();

 private:
  const Theme& theme_;
  QVBoxLayout* has_;
  Bench shown_;
};

}  // namespace fair_gauge::app
