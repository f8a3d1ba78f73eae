// Finds a command by a few letters of its name.
#pragma once

#include <QAction>
#include <QDialog>
#include <QLabel>
#include <QLineEdit>
#include <QListWidget>
#include <vector>

namespace fair_gauge::app {

class CommandFinder : public QDialog {
  Q_OBJECT
 public:
  CommandFinder(const std::vector<QAction*>& actions, QWidget* parent);
  /// Asks; the chosen command or null.
  QAction* choose();

 protected:
  bool eventFilter(QObject* object, QEvent* event) override;

 private:
  void filter(const QString& text);

  std::vector<QAction*> actions_;
  QLineEdit* text_;
  QListWidget* list_;
  QLabel* nothing_;
};

}  // namespace fair_gauge::app
