// The serial line that raw numbers come from: the line, its speed, what arrives, and which name is which channel.
#pragma once

#include <QComboBox>
#include <QGridLayout>
#include <QPlainTextEdit>
#include <QPushButton>
#include <QTimer>

#include "shell/workbench.h"
#include "widgets/text.h"

namespace fair_gauge::app {

class LineView : public QWidget {
  Q_OBJECT
 public:
  LineView(const Theme& theme, Workbench& workbench, QWidget* parent = nullptr);

 signals:
  void sensor_wanted(const std::string& channel);

 protected:
  void showEvent(QShowEvent* event) override;
  bool eventFilter(QObject* object, QEvent* event) override;

 private:
  void list_ports();
  void connect_line();
  void refresh_state();
  void add_line(const RawLine& line);
  void refresh_names();
  void build_names(const QStringList& names);
  QLayout* build_line();
  QLayout* build_lines();
  QLayout* build_name_list();
  QPushButton* build_sketches();
  void try_speeds();
  void judge_speed();
  void make_channels();
  void give_to_waiting();
  QString words_of(const LineProposal& proposal, const Channel* channel) const;
  QLayout* beside_row();
  void listen_beside();
  void list_beside();

  const Theme& theme_;
  Workbench& workbench_;
  QComboBox* port_;
  QComboBox* speed_;
  QPushButton* connect_;
  QPushButton* simulated_;
  Text* state_;
  Text* advice_;
  QPlainTextEdit* lines_;
  QGridLayout* names_;
  Text* no_names_;
  QPushButton *make_, *which_, *theirs_;
  QPushButton* beside_;
  QLineEdit* prefix_;
  QVBoxLayout* beside_lines_;
  QPushButton* try_;
  QStringList listed_, known_;
  std::map<std::string, std::string> waiting_;  // name → channel that it may be of
  QString listened_;                            // path of the first line
  QTimer names_due_;                            // lines may come a thousand times a second, the names follow four times
  QTimer next_speed_;
  QList<int> untried_;
  int best_speed_ = 0;
  int best_score_ = 0;
};

}  // namespace fair_gauge::app
