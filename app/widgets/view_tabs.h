// The views of a page as a row of tabs, each with a key: Alt+1, Alt+2, …
#pragma once

#include <QAbstractButton>
#include <QButtonGroup>
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

}  // namespace fair_gauge::app
