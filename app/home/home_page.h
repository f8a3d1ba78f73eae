// Home: the whole bench at a glance: every channel, what needs doing next, the buses and converters, the cautions.
#pragma once

#include <QElapsedTimer>
#include <QScrollArea>
#include <deque>

#include "home/begun_box.h"
#include "home/first_chain.h"
#include "home/start_box.h"
#include "shell/workbench.h"
#include "widgets/text.h"
#include "widgets/vial.h"

namespace fair_gauge::app {

/// The last minutes of a channel as a line without axes.
class Trend : public QWidget {
  Q_OBJECT
 public:
  explicit Trend(const Theme& theme, QWidget* parent = nullptr);
  void show_values(std::vector<double> values);

 protected:
  void paintEvent(QPaintEvent* event) override;

 private:
  const Theme& theme_;
  std::vector<double> values_;
};

class HomePage : public QScrollArea {
  Q_OBJECT
 public:
  HomePage(const Theme& theme, Workbench& workbench, QWidget* parent = nullptr);
  /// Of an empty bench: puts the cursor where its name is typed.
  void ask_for_name();

 protected:
  void showEvent(QShowEvent* event) override;

 signals:
  void opened(const std::string& channel_id);
  void calibration_wanted(const std::string& channel_id);
  void handoff_wanted(const std::string& id);
  void bus_wanted(const std::string& bus_id);
  void demonstration_wanted();
  void new_bench_wanted(const Bench& bench);
  void listening_wanted();
  void first_sensor_wanted();
  void overview_wanted();  ///< what there is on the bench

 private:
  void rebuild();
  void build_begun();
  void show_first_chain(bool shown);
  void refresh();
  QString broken(const QString& words, int room) const;
  void refresh_side();
  std::vector<double> trend_of(const std::string& channel_id) const;

  struct Line {
    std::string id;
    Text* value;
    Trend* trend;
    Vial* vial;
    Text* words;
    Text* next;
  };
  const Theme& theme_;
  Workbench& workbench_;
  Text* title_;
  Text* subtitle_;
  StartBox* start_;
  QHBoxLayout* beside_start_;
  FirstChain* first_ = nullptr;  ///< before there is a bench
  QVBoxLayout* begun_place_;
  BegunBox* begun_ = nullptr;  ///< once a bench without channels was begun
  QVBoxLayout* list_;
  QWidget* side_;
  QVBoxLayout* to_do_;
  Text* shared_title_;
  QVBoxLayout* shared_;
  Text* cautions_;
  std::vector<Line> lines_;
  QElapsedTimer since_trends_;
  bool side_due_ = true;
};

}  // namespace fair_gauge::app
