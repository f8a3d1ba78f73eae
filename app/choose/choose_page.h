// Choose: what is needed on the left, the catalogue ranked for it in the middle, up to four of it compared on the
// right.
#pragma once

#include <QCheckBox>
#include <QComboBox>
#include <QPushButton>
#include <QTimer>
#include <QWidget>
#include <memory>

#include "choose/compare_view.h"
#include "choose/own_figures_form.h"
#include "choose/shortlist.h"
#include "shell/workbench.h"
#include "widgets/background.h"
#include "widgets/form.h"
#include "widgets/selectable_row.h"

namespace fair_gauge::app {

/// One part of the list: what it is, how good it would be here, and the first thing that speaks against it.
class CandidateRow : public SelectableRow {
  Q_OBJECT
 public:
  CandidateRow(const Theme& theme, const Candidate& candidate, const Need& need, const NumberStyle& style,
               QWidget* parent = nullptr);
  QCheckBox& compared() { return *compared_; }
  const std::string& part() const { return part_; }

 private:
  std::string part_;
  QCheckBox* compared_;
};

class ChoosePage : public QWidget {
  Q_OBJECT
 public:
  ChoosePage(const Theme& theme, Workbench& workbench, QWidget* parent = nullptr);

  const Need& need() const { return need_; }
  void set_need(const Need& need);
  /// True while the list is being worked out.
  bool is_working() const { return background_.is_running() || settle_.isActive(); }
  void choose(const std::string& part_id);

 signals:
  /// A choice became a channel of the bench.
  void channel_made(const std::string& channel_id);

 protected:
  void showEvent(QShowEvent* event) override;

 private:
  Form* build_form();
  QWidget* build_list();
  QWidget* build_right();
  void change_need(const std::function<void(Need&)>& change);
  void show_need();
  void work_out();
  void show_list();
  void mark(const std::string& part_id);
  void show_chosen();
  void make_channel();
  void edit_own(const std::function<void(OwnPart&)>& change);
  const Candidate* chosen() const;

  const Theme& theme_;
  Workbench& workbench_;
  Need need_;
  std::vector<Candidate> candidates_;
  std::shared_ptr<const Catalogue> catalogue_;  // that the candidates' parts belong to
  std::string chosen_;
  bool is_picked_ = false;  // by a person: else it is the best
  std::vector<std::string> compared_;
  bool show_ruled_out_ = false;
  Background background_;
  QTimer settle_;

  Form* form_;
  QComboBox *quantity_, *kind_, *place_, *use_, *rail_, *converter_, *free_, *own_only_;
  QuantityField *from_, *to_, *allowed_, *resolution_, *period_, *cable_;
  Text* count_;
  QVBoxLayout* list_;
  QPushButton* rest_;
  std::vector<CandidateRow*> rows_;
  Text *name_, *detail_, *trade_;
  QVBoxLayout* reasons_;
  CompareView* compare_;
  QPushButton* make_;
  QLineEdit *price_, *drawer_;
  QPushButton* own_figures_;
  OwnFiguresForm* figures_;
};

}  // namespace fair_gauge::app
