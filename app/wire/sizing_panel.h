// Asks a sizing question and shows its answer: wishes, a sentence, a table, a curve, and one button that applies it.
#pragma once

#include <QComboBox>
#include <QGridLayout>
#include <QLineEdit>
#include <QWidget>

#include "widgets/quantity_field.h"
#include "widgets/text.h"
#include "wire/sizing_questions.h"

class QCustomPlot;

namespace fair_gauge::app {

class SizingPanel : public QWidget {
  Q_OBJECT
 public:
  SizingPanel(const Theme& theme, Workbench& workbench, QWidget* parent = nullptr);

 protected:
  void showEvent(QShowEvent* event) override;

 private:
  void rebuild();
  void show_question();
  void answer();
  void take_drawer();
  void show_table(const SizingAnswer& answer);
  void show_curve(const SizingAnswer& answer);

  const Theme& theme_;
  Workbench& workbench_;
  QComboBox* question_;
  QLineEdit* drawer_;  // resistors at hand
  QGridLayout* wishes_;
  Text* headline_;
  QGridLayout* table_;
  QCustomPlot* plot_;
  Text* reasons_;
  QHBoxLayout* buttons_;
  Text* echo_;
  std::vector<SizingQuestion> questions_;
  std::vector<WishField> given_;
  std::string built_for_;
};

}  // namespace fair_gauge::app
