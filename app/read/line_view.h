// The serial line that raw numbers come from: the line, its speed, what arrives, and which name is which channel.
#pragma once

#include <QComboBox>
#include <QGridLayout>
#include <QPlainTextEdit>
#include <QPushButton>

#include "shell/workbench.h"
#include "widgets/text.h"

namespace fair_gauge::app {

class LineView : public QWidget {
  Q_OBJECT
 public:
  LineView(const Theme& theme, Workbench& workbench, QWidget* parent = nullptr);

 protected:
  void showEvent(QShowEvent* event) override;

 private:
  void list_ports();
  void connect_line();
  void refresh_state();
  void add_line(const RawLine& line);
  void refresh_names();

  const Theme& theme_;
  Workbench& workbench_;
  QComboBox* port_;
  QComboBox* speed_;
  QPushButton* connect_;
  QPushButton* shed_;
  Text* state_;
  Text* advice_;
  QPlainTextEdit* lines_;
  QGridLayout* names_;
  Text* no_names_;
  QStringList listed_;
};

}  // namespace fair_gauge::app
