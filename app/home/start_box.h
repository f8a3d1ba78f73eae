// How to begin: a new bench from a description of its controller, the demonstration, or listening to a board.
#pragma once

#include <QWidget>
#include <vector>

#include "bench/board_presets.h"
#include "widgets/theme.h"

class QComboBox;
class QLayout;
class QLineEdit;
class QPushButton;

namespace fair_gauge::app {

class Text;

class StartBox : public QWidget {
  Q_OBJECT
 public:
  explicit StartBox(const Theme& theme, QWidget* parent = nullptr);
  /// Puts the cursor where the name of a new bench is typed.
  void ask_for_name();
  /// The bench that was named is begun: the next one has another name.
  void forget_name();

 signals:
  void new_bench_wanted(const Bench& bench);
  void demonstration_wanted();
  void listening_wanted();

 protected:
  void showEvent(QShowEvent* event) override;

 private:
  QWidget* card(int drawing, const QString& title, const QString& words);
  void put_under(QWidget& card, QLayout* controls);
  void list_presets();
  void show_preset();

  const Theme& theme_;
  std::vector<BoardPreset> presets_;
  QLineEdit* name_;
  QComboBox* preset_;
  Text* note_;
};

}  // namespace fair_gauge::app
