// Where a page stands, with the margin beside it. At the largest text there is not room for both: the margin follows
// below, and all of it scrolls downwards.
#pragma once

#include <QBoxLayout>
#include <QScrollArea>

#include "widgets/theme.h"

namespace fair_gauge::app {

class PageRoom : public QScrollArea {
  Q_OBJECT
 public:
  /// Both become its own.
  PageRoom(const Theme& theme, QWidget* pages, QWidget* margin);
  QSize minimumSizeHint() const override;
  QSize sizeHint() const override { return widget()->sizeHint(); }

 protected:
  bool eventFilter(QObject* watched, QEvent* event) override;

 private:
  void follow_text();

  const Theme& theme_;
  QBoxLayout* work_;
};

}  // namespace fair_gauge::app
