// Hand over: a channel's arithmetic as firmware, proven over every raw number, to be saved.
#pragma once

#include <QComboBox>
#include <QPlainTextEdit>
#include <QPushButton>
#include <QWidget>

#include "handoff/error_plot.h"
#include "handoff/handoff.h"
#include "handoff/own_arithmetic.h"
#include "shell/workbench.h"
#include "widgets/background.h"
#include "widgets/text.h"
#include "widgets/theme.h"

namespace fair_gauge::app {

class Form;

class HandoffPage : public QWidget {
  Q_OBJECT
 public:
  HandoffPage(const Theme& theme, Workbench& workbench, QWidget* parent = nullptr);

  /// What is shown; nothing while it is worked out or where there is none.
  const std::optional<Handoff>& handoff() const { return handoff_; }
  bool is_working() const { return work_.is_running(); }
  /// Writes all files into a folder. \returns what went wrong, empty if nothing
  QString save_to(const QString& folder);
  /// All of it on one page, PDF or HTML by the path's ending. \returns what went wrong, empty if nothing
  QString save_page(const QString& path);

 protected:
  void showEvent(QShowEvent* event) override;

 private:
  void make();
  void show_handoff();
  void show_handed_over();
  void show_file(int index);
  Form* build_wishes();
  QWidget* build_verdict();
  QWidget* build_code();
  QWidget* build_own_line();
  void check_own_line();
  void show_own_verdict(const Result<OwnVerdict>& verdict);

  const Theme& theme_;
  Workbench& workbench_;
  QComboBox *language_, *form_, *per_unit_, *trimming_, *reading_, *file_;
  Text *title_, *summary_, *proof_, *cost_, *notes_, *handed_, *trimming_lacks_;
  ErrorPlot* errors_;
  QPlainTextEdit* code_;
  QPushButton *save_, *page_;
  std::optional<Handoff> handoff_;
  Bench made_of_;
  Background work_{this};
  QLineEdit* own_line_;
  QComboBox* own_bits_;
  Text* own_words_;
  QVBoxLayout* own_mends_;
  Background own_work_{this};
  bool stale_ = true;
  bool wants_loaded_ = false;  ///< trimming, where the bench knows it
};

}  // namespace fair_gauge::app
