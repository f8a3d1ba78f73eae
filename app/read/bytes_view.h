// Bytes and what they mean: paste them in any shape, see every field, every line of the formula, and what went wrong.
#pragma once

#include <QComboBox>
#include <QGridLayout>
#include <QLineEdit>
#include <QPushButton>
#include <QWidget>
#include <set>

#include "read/byte_findings.h"
#include "read/byte_map.h"
#include "read/part_box.h"
#include "shell/workbench.h"
#include "widgets/text.h"

namespace fair_gauge::app {

class BytesView : public QWidget {
  Q_OBJECT
 public:
  BytesView(const Theme& theme, Workbench& workbench, QWidget* parent = nullptr);

  void choose_part(const std::string& id);
  /// Before what is said of the bytes.
  void say(const QString& words);
  /// Lists the catalogue's digital parts anew.
  void list_parts();
  /// A recording of the part's line: a value change dump or an edge table.
  void take_capture(const QString& path);

  const std::string& part_id() const { return part_id_; }

 signals:
  void part_chosen(const std::string& id);

 protected:
  void showEvent(QShowEvent* event) override;

 private:
  void build_text();
  void lay_out();
  void react();
  void follow_channel();
  void follow_values();
  void show_code(const Chain& chain, const std::vector<StageValue>& values);
  void hold_bytes();
  void take_edited(const QString& text);
  void take_text(const QString& text);
  std::vector<std::string> trimming_to_keep() const;
  void keep_trimming();
  void open_capture();
  void rebuild_settings();
  void refresh();
  void show_readings(const Decoded& decoded);
  void show_trace(const Decoded& decoded);

  const Theme& theme_;
  Workbench& workbench_;
  PartBox* parts_;
  QLineEdit* text_;
  QComboBox* shape_;
  QComboBox* block_;
  QHBoxLayout* settings_row_;
  QPushButton* line_;
  Text* understood_;
  QPushButton* keep_;
  ByteMap* map_;
  Text* pointed_;
  QGridLayout* readings_;
  ByteFindings* findings_;
  QGridLayout* trace_;
  QStringList traced_;  // what stands in it
  std::string part_id_;
  std::map<std::string, double> settings_;
  ByteBlocks blocks_;
  ByteBlocks before_text_;       // what the text field's bytes are put into
  QString last_text_;            // of that field
  std::set<std::string> given_;  // blocks that somebody gave, other than the examples
  std::string followed_;         // device whose bytes are shown; empty → a part by itself
  bool own_bytes_ = false;       // typed, pasted or turned: they stay
};

}  // namespace fair_gauge::app
