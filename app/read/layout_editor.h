// A digital part of one's own: a table of fields, typed formulas, a check, registers; tried on bytes and saved as a
// part file. Or a controller's registers alone.
#pragma once

#include <QComboBox>
#include <QLineEdit>
#include <QPushButton>
#include <QTableWidget>

#include "digital/own_layout.h"
#include "digital/own_registers.h"
#include "read/byte_map.h"
#include "shell/workbench.h"
#include "widgets/text.h"

namespace fair_gauge::app {

class LayoutEditor : public QWidget {
  Q_OBJECT
 public:
  LayoutEditor(const Theme& theme, Workbench& workbench, QWidget* parent = nullptr);

 signals:
  /// \param words  that say where
  void saved(const std::string& part_id, const QString& words);

 private:
  void build_tables();
  void build_bytes();
  OwnLayout layout_now() const;
  std::string quantity_words(int row) const;
  void refresh();
  void refresh_part();
  void refresh_controller();
  void refuse(const Problem& problem);
  void grow_registers();
  Result<std::vector<PartRegister>> registers_now() const;
  /// Whether it describes a controller's registers, and no part.
  bool is_controller() const;
  void take_bytes(const QString& text);
  void save();

  const Theme& theme_;
  Workbench& workbench_;
  QLineEdit* name_;
  QComboBox* interface_;
  QLineEdit* length_;
  QComboBox* check_;
  QTableWidget* fields_;
  QTableWidget* formulas_;
  QTableWidget* registers_;
  QWidget *frame_, *bytes_box_;  // what only a part has
  QLineEdit* bytes_text_;
  ByteMap* map_;
  Text* verdict_;
  QPushButton* save_;
  std::vector<std::uint8_t> bytes_;
  std::optional<Part> part_;
  std::optional<Controller> controller_;
};

}  // namespace fair_gauge::app
