// What was typed and is in no file yet outlives the widgets it was typed into: a change of language builds them anew.
#pragma once

#include <QObject>
#include <QStringList>
#include <QWidget>
#include <map>

namespace fair_gauge::app {

/// Lines, texts and tables that were typed into, and choices marked by `keep_choice`, by their names.
class KeptTyping : public QObject {
  Q_OBJECT
 public:
  using QObject::QObject;
  /// Takes what stands in them. \param pages  whose widgets are about to go
  void take(const QWidget& pages);

 protected:
  /// A widget of such a name that is shown for the first time gets it back, as if it were typed.
  bool eventFilter(QObject* watched, QEvent* event) override;

 private:
  void give_back(QWidget& window);
  std::map<QString, QStringList> kept_;
};

/// Marks a choice or a table that holds work of its own, such as how pasted bytes are read.
void keep_choice(QWidget& widget);

}  // namespace fair_gauge::app
