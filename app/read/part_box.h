// A digital part, chosen from a list or by what is printed on it.
#pragma once

#include <QComboBox>
#include <string>

#include "shell/workbench.h"

namespace fair_gauge::app {

class PartBox : public QComboBox {
  Q_OBJECT
 public:
  explicit PartBox(Workbench& workbench, const char* name);

  /// Lists the catalogue's digital parts anew.
  void list_parts();
  /// Shows a part without choosing it.
  void show_part(const std::string& id);

 signals:
  void part_chosen(const std::string& id);
  /// What was typed is no part's; the one before is shown again.
  void refused(const QString& why);

 private:
  void take_words();

  Workbench& workbench_;
  std::string part_id_;
};

}  // namespace fair_gauge::app
