// A meter held to the chain: what it shows at each place beside what the chain expects there, and where to look.
#pragma once

#include <QGridLayout>
#include <QPushButton>
#include <QWidget>

#include "diagnose/meter_check.h"
#include "shell/workbench.h"
#include "widgets/quantity_field.h"
#include "widgets/text.h"

namespace fair_gauge::app {

class MeterView : public QWidget {
  Q_OBJECT
 public:
  MeterView(const Theme& theme, Workbench& workbench, QWidget* parent = nullptr);

 signals:
  /// What was found, in words, for the logbook.
  void note_wanted(const QString& words);

 protected:
  void showEvent(QShowEvent* event) override;

 private:
  // A place with what was typed there, and what was known at that moment.
  struct Row {
    MeterPlace place;
    QuantityField* field = nullptr;
    Text *expected = nullptr, *differs = nullptr, *reading = nullptr;
    std::optional<double> measured;
    Anchor anchor;
  };
  void rebuild();
  void refresh();
  void measured(std::size_t row, double value);
  std::optional<Result<MeterCheck>> check_of(const Row& row) const;  // nothing where nothing was typed
  QString value_text(double value, const Unit& unit) const;
  void show_check(Row& row, const MeterCheck& check);
  QString note() const;

  const Theme& theme_;
  Workbench& workbench_;
  std::string channel_;
  StageName known_ = StageName::raw;
  Text *lead_, *verdict_, *care_, *good_to_;
  QGridLayout* grid_;
  QuantityField* meter_;
  QPushButton *keep_, *clear_;
  double meter_share_ = 0.005;  // of a usual hand-held meter, until its sheet was read
  std::vector<Row> rows_;
};

}  // namespace fair_gauge::app
