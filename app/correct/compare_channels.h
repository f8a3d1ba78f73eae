// Which of several is right: channels that see the same quantity, held against one another, live or from a log; one
// made to agree with another; and what follows from two of them.
#pragma once

#include <QCheckBox>
#include <QComboBox>
#include <QElapsedTimer>
#include <QPushButton>
#include <QTableWidget>
#include <QWidget>
#include <map>

#include "correct/session_points.h"
#include "logbook/logbook.h"
#include "shell/workbench.h"
#include "truth/channel_agreement.h"
#include "widgets/background.h"
#include "widgets/text.h"

class QCustomPlot;

namespace fair_gauge::app {

class CompareChannels : public QWidget {
  Q_OBJECT
 public:
  CompareChannels(const Theme& theme, Workbench& workbench, QWidget* parent = nullptr);
  /// Compares by a log instead of the live readings; it is read beside the interface thread.
  void open_log(const QString& path);
  bool is_reading() const { return background_.is_running(); }

 signals:
  void calibrated(const fair_gauge::LogEntry& entry);
  /// To be looked at over time. \param log  empty → of this session
  void over_time_wanted(const std::vector<std::string>& channels, const QString& log);

 protected:
  void showEvent(QShowEvent* event) override;

 private:
  QWidget* build_left();
  void list_channels();
  void refresh();
  void show_group(const std::vector<std::string>& ids);
  const Unit& unit_of(const std::vector<std::string>& ids) const;
  void draw(const std::vector<std::string>& ids);
  void show_line();
  void use_line();
  Series series_of(const std::string& id) const;
  std::vector<std::string> chosen_ids() const;

  const Theme& theme_;
  Workbench& workbench_;
  std::optional<Quantity> quantity_;
  QVBoxLayout* boxes_layout_;
  std::map<std::string, QCheckBox*> boxes_;
  QCheckBox* without_lag_;
  std::map<std::string, LogSeries> log_;  // by channel; empty → live
  QString log_path_;
  Background background_;
  QElapsedTimer since_refresh_;
  Text* source_;
  Text* verdict_;
  QTableWidget* pairs_;
  QCustomPlot* plot_;
  QComboBox *one_, *other_;
  Text* line_words_;
  QPushButton* use_line_;
  std::optional<AgreeingCorrection> agreeing_;
};

}  // namespace fair_gauge::app
