// A short walk through the pages, for the first run: a bar under the top bar, one sentence a page, left at any time.
#pragma once

#include <QPushButton>
#include <QWidget>

#include "widgets/text.h"

namespace fair_gauge::app {

enum class Page;

class Walk : public QWidget {
  Q_OBJECT
 public:
  explicit Walk(const Theme& theme, QWidget* parent = nullptr);

  /// \param on_channels  there are channels to look at; else the demonstration is offered first
  void start(bool on_channels);
  /// True once it was walked or closed, in this session or an earlier one.
  static bool was_walked();

 signals:
  void demonstration_wanted();
  void page_wanted(fair_gauge::app::Page page);

 private:
  void show_step();
  void end();

  int step_ = 0;  // -1: the invitation
  Text* words_;
  QPushButton* next_;
};

}  // namespace fair_gauge::app
