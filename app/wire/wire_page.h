// Wire: the transfer of the chain, what can be set at the chosen stage, and the arithmetic of the reading.
#pragma once

#include <QGridLayout>
#include <QScrollArea>
#include <QWidget>

#include "widgets/quantity_field.h"
#include "widgets/text.h"
#include "widgets/views.h"
#include "wire/stage_fields.h"
#include "wire/transfer_plot.h"

namespace fair_gauge::app {

class WirePage : public QWidget {
  Q_OBJECT
 public:
  WirePage(const Theme& theme, Workbench& workbench, QWidget* parent = nullptr);

  TransferPlot& plot() { return *plot_; }

  /// Curve, circuit, values, own curve, meter: as numbered by show_view().
  static QStringList view_names();
  void show_view(int view);

 signals:
  /// A finding in words that belongs into the logbook.
  void note_wanted(const QString& words);

 protected:
  void showEvent(QShowEvent* event) override;
  void resizeEvent(QResizeEvent* event) override;

 private:
  void build_views();
  void build_side();
  void build_arithmetic();
  void arrange();
  void rebuild_fields();
  void refresh();
  void refresh_fields();
  void refresh_arithmetic();
  QString words_of_divisor() const;
  QString words_of_simple() const;
  QString words_of_behind() const;
  QWidget* editor_of(const FieldRow& row);
  void give(const FieldRow& row, const std::function<void(ChannelPieces&)>& change);

  const Theme& theme_;
  Workbench& workbench_;
  Text* title_;
  QSpacerItem* title_space_;  // in its place when there is none for it
  Text* subtitle_;
  TransferPlot* plot_;
  Views* views_;
  ViewTabs* tabs_;
  QScrollArea* side_box_;
  QWidget* arithmetic_box_;
  Text* fields_title_;
  QGridLayout* fields_;
  Text* echo_;
  Text* arithmetic_title_;
  QGridLayout* arithmetic_;
  Text* convention_;
  std::vector<FieldRow> rows_;
  std::vector<QWidget*> editors_;
};

}  // namespace fair_gauge::app
