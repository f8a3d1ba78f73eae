// The views of a page as a row of tabs, each with a key: Alt+1, Alt+2, …
#pragma once

#include <QAbstractButton>
#include <QButtonGroup>
#include <QStackedWidget>
#include <QWidget>

namespace fair_gauge::app {

class ViewTabs : public QWidget {
  Q_OBJECT
 public:
  explicit ViewTabs(const QStringList& names, QWidget* parent = nullptr);
  /// Marks a view as the one that is shown.
  void mark(int view) { buttons_->button(view)->setChecked(true); }

 signals:
  void chosen(int view);

 private:
  QButtonGroup* buttons_;
};

/// Shows one widget of a stack; only this one asks for room.
void show_only(QStackedWidget& stack, int index);

}  // namespace fair_gauge::app
