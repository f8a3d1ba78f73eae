// The shelf on the left: the bench's channels with their live value and their level.
#pragma once

#include <QScrollArea>
#include <vector>

#include "shell/workbench.h"
#include "widgets/selectable_row.h"
#include "widgets/text.h"
#include "widgets/vial.h"

namespace fair_gauge::app {

/// One channel on the shelf.
class ShelfItem : public SelectableRow {
  Q_OBJECT
 public:
  ShelfItem(const Theme& theme, QString id, QWidget* parent = nullptr);
  void show_view(const ChannelView& view, const NumberStyle& style, bool chosen);
  const QString& id() const { return id_; }

 private:
  QString id_;
  Text* name_;
  Text* value_;
  Text* unit_;
  Vial* vial_;
};

class Shelf : public QScrollArea {
  Q_OBJECT
 public:
  Shelf(const Theme& theme, Workbench& workbench, QWidget* parent = nullptr);

 private:
  void rebuild();
  void refresh();
  void bring_chosen_into_view();

  const Theme& theme_;
  Workbench& workbench_;
  Text* none_;  // says that there is no channel
  QVBoxLayout* layout_;
  std::vector<ShelfItem*> items_;
  std::string shown_;  // channel that was scrolled to
};

}  // namespace fair_gauge::app
