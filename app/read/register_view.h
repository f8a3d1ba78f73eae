// The register composer: choose meanings and see the bytes to write, or type the bytes that were read and see what they
// mean.
#pragma once

#include <QComboBox>
#include <QGridLayout>
#include <QLineEdit>
#include <QPushButton>
#include <QWidget>

#include "read/part_box.h"
#include "shell/workbench.h"
#include "widgets/register_grid.h"
#include "widgets/text.h"
#include "widgets/timeline.h"

namespace fair_gauge::app {

class RegisterView : public QWidget {
  Q_OBJECT
 public:
  RegisterView(const Theme& theme, Workbench& workbench, QWidget* parent = nullptr);

  void show_part(const std::string& id);
  /// Lists the catalogue's digital parts anew.
  void list_parts() { parts_->list_parts(); }

 protected:
  void showEvent(QShowEvent* event) override;

 private:
  void build_limit();
  void build_offset();
  void rebuild();
  void refresh();
  void refresh_limit();
  void refresh_figures();
  void refresh_offset();
  void show_facts(const Part& part);
  void keep();
  void follow_bench();
  void follow_channel();
  /// The device that is meant: that of the chosen channel if it is such a part, else the first that is; null without.
  const Device* device() const;
  const LimitLayout* limit_layout(const Part& part) const;

  const Theme& theme_;
  Workbench& workbench_;
  PartBox* parts_;
  Text* title_;
  RegisterGrid* grid_;
  QWidget* limits_box_;
  QComboBox* limit_of_;
  QLineEdit* limit_;
  Text* limit_bytes_;
  QWidget* offset_box_;
  QLineEdit* offset_;
  Text* offset_bytes_;
  QPushButton* keep_;
  Text* figures_;
  Text* warnings_;
  QGridLayout* facts_;
  Timeline* timeline_;
  Text* sequence_;
  Text* echo_;
  std::string part_id_;
  std::string followed_;        // device that the chosen channel brought
  std::vector<unsigned> kept_;  // what the bench says of them
  bool built_ = false;
  bool stale_ = false;  // the bench has changed while it was hidden
};

}  // namespace fair_gauge::app
