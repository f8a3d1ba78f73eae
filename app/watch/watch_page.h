// Watch: readings recorded and judged, filters and switching tried on them.
#pragma once

#include <QComboBox>
#include <QLineEdit>
#include <QPushButton>
#include <QWidget>

#include "watch/log_plot.h"
#include "watch/watch_log.h"
#include "widgets/text.h"
#include "widgets/views.h"

namespace fair_gauge::app {

class SwitchView;

class WatchPage : public QWidget {
  Q_OBJECT
 public:
  WatchPage(const Theme& theme, Workbench& workbench, QWidget* parent = nullptr);

  static QStringList view_names();
  void show_view(int view);
  /// What is looked at: the session where there is no path.
  struct Looked {
    QString path;
    LogChoice choice = {};
    std::vector<std::string> beside = {};  ///< channels over the same time
  };
  Looked looked_at() const { return {log_->path(), log_->choice(), log_->beside()}; }
  void look_at(const Looked& looked);
  /// A log of raw numbers of the chosen channel.
  void open(const QString& path) { log_->open(path); }
  void look_at_session() { log_->look_at_session(); }
  /// Records to a file. \returns why not; empty if it does
  QString record_to(const QString& path);
  /// What the plot shows, or what is marked in it, as CSV with its description, SenML, SVG or a report by the path's
  /// ending (.csv, .json, .svg, .pdf, .html).
  void save_view(const QString& path);
  const WatchLog& log() const { return *log_; }
  /// Several channels over one time: the first is chosen, the others lie beside it.
  void compare(const std::vector<std::string>& channels, Arrangement arrangement);

 signals:
  /// A reading that a usual mistake may explain.
  void mistake_wanted(double raw);

 private:
  void refresh();
  void choose_recording();
  void choose_saving();
  void save_report(const QString& path, const std::function<void(const QString&, bool)>& said);
  void showEvent(QShowEvent* event) override;

  Workbench& workbench_;
  SwitchView* switch_ = nullptr;  // once it has been shown
  WatchLog* log_;
  LogPlot* plot_;
  Views* views_;
  ViewTabs* tabs_;
  void build_views(const Theme& theme);
  void build_note(const Theme& theme);
  QLayout* build_bar(const Theme& theme);
  void build_choices();
  void make_channels();
  void build_beside();
  void list_beside();
  QPushButton *record_, *open_, *recorded_, *session_, *save_, *as_, *make_, *beside_;
  QVBoxLayout* beside_boxes_;
  QComboBox* arrangement_;
  Text *words_, *recording_;
  QLineEdit* note_;
  QTimer often_;
  Background saving_{this};
};

}  // namespace fair_gauge::app
