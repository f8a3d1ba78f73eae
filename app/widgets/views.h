// Several views in one place: a stack that builds each view when it is first shown, and the tabs to choose from, each
// with a key: Alt+1, Alt+2, …
#pragma once

#include <QAbstractButton>
#include <QButtonGroup>
#include <QStackedWidget>
#include <QWidget>
#include <functional>
#include <vector>

namespace fair_gauge::app {

/// A stack whose widgets are built when they are wanted, so that neither the start nor an edit grows with their number.
/// Only the one that is shown asks for room.
class Views : public QStackedWidget {
  Q_OBJECT
 public:
  using QStackedWidget::QStackedWidget;
  void add(std::function<QWidget*()> build);
  /// Shows a view, building it first if it has to be.
  void show_view(int index);
  /// Builds a view if it is not there yet.
  QWidget* view(int index);
  bool is_built(int index) const { return !builds_[static_cast<std::size_t>(index)]; }

 private:
  std::vector<std::function<QWidget*()>> builds_;  // empty once the view is there
};

class ViewTabs : public QWidget {
  Q_OBJECT
 public:
  explicit ViewTabs(const QStringList& names, QWidget* parent = nullptr);
  /// Marks a view as the one that is shown.
  void mark(int view);

 signals:
  void chosen(int view);

 private:
  QButtonGroup* buttons_;
};

}  // namespace fair_gauge::app
