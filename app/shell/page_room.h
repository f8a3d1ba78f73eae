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
  /// All become its own.
  /// \param instead  what stands there instead of the pages where they have nothing to show
  PageRoom(const Theme& theme, QWidget* pages, QWidget* margin, QWidget* instead);
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
