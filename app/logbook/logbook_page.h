// Logbook: what was done to this bench, newest first; the record of a calibration; drift and what is due.
#pragma once

#include <QComboBox>
#include <QLineEdit>
#include <QListWidget>
#include <QPushButton>
#include <QWidget>

#include "logbook/logbook.h"
#include "shell/workbench.h"
#include "widgets/quantity_field.h"
#include "widgets/text.h"
#include "widgets/text_box.h"

class QCustomPlot;

namespace fair_gauge::app {

class LogbookPage : public QWidget {
  Q_OBJECT
 public:
  LogbookPage(const Theme& theme, Workbench& workbench, QWidget* parent = nullptr);

  /// Writes an entry at the end of the bench's logbook, of this moment where it names none. \returns what went wrong,
  /// or nothing
  QString write(LogEntry entry);
  /// Saves the record of the chosen entry: .pdf, .html, .csv or .json by its ending.
  QString save_record(const QString& path);
  const Logbook& logbook() const { return logbook_; }
  /// Where this bench's logbook is; of the demonstration a copy in the user's own folder.
  std::string path() const;

 protected:
  void showEvent(QShowEvent* event) override;

 private:
  QWidget* build_list();
  QWidget* build_entry();
  void reload();
  void show_list();
  void show_entry();
  void show_drift(const std::string& channel);
  void add_note();
  const LogEntry* chosen() const;

  const Theme& theme_;
  Workbench& workbench_;
  Logbook logbook_;
  Text* count_;
  QLineEdit* search_;
  QListWidget* list_;
  QComboBox* note_kind_;
  TextBox* note_;
  QPushButton* add_;
  Text* title_;
  Text* body_;
  QPushButton* save_;
  QPushButton* amend_;
  QuantityField* every_;
  Text* drift_words_;
  QCustomPlot* plot_;
  int corrects_ = 0;
  int newest_ = 0;  // number of the newest entry that was shown
};

}  // namespace fair_gauge::app
