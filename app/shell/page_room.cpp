#include "shell/page_room.h"

#include <QCoreApplication>
#include <QEvent>
#include <QScrollBar>

namespace fair_gauge::app {

namespace {

// At normal text a page takes the height that there is, at the largest what its words want.
class WorkLayout : public QBoxLayout {
 public:
  explicit WorkLayout(const Theme& theme) : QBoxLayout(QBoxLayout::LeftToRight), theme_(theme) {}
  bool hasHeightForWidth() const override { return theme_.is_text_huge() && QBoxLayout::hasHeightForWidth(); }

 private:
  const Theme& theme_;
};

}  // namespace

PageRoom::PageRoom(const Theme& theme, QWidget* pages, QWidget* margin, QWidget* instead) : theme_(theme) {
  setObjectName(QStringLiteral("page_room"));
  setFrameShape(QFrame::NoFrame);
  setWidgetResizable(true);
  setHorizontalScrollBarPolicy(Qt::ScrollBarAlwaysOff);
  work_ = new WorkLayout(theme);
  work_->setContentsMargins(0, 0, 0, 0);
  work_->setSpacing(0);
  work_->addWidget(instead, 1);
  work_->addWidget(pages, 1);
  work_->addWidget(margin);
  auto* inside = new QWidget;
  inside->setLayout(work_);
  setWidget(inside);
  follow_text();
  connect(&theme, &Theme::changed, this, &PageRoom::follow_text);
}

void PageRoom::follow_text() {
  const bool huge = theme_.is_text_huge();
  work_->setDirection(huge ? QBoxLayout::TopToBottom : QBoxLayout::LeftToRight);
  // A stop of the Tab key only where its arrow keys do something.
  setFocusPolicy(huge ? Qt::StrongFocus : Qt::NoFocus);
  setVerticalScrollBarPolicy(huge ? Qt::ScrollBarAsNeeded : Qt::ScrollBarAlwaysOff);
  updateGeometry();
}

QSize PageRoom::minimumSizeHint() const {
  const QSize all = widget()->minimumSizeHint();
  if (!theme_.is_text_huge()) return all;
  return {all.width() + verticalScrollBar()->sizeHint().width(), theme_.px(80)};
}

bool PageRoom::eventFilter(QObject* watched, QEvent* event) {
  if (watched == widget() && event->type() == QEvent::LayoutRequest) {
    updateGeometry();
    QCoreApplication::postEvent(this, new QEvent(QEvent::LayoutRequest));  // it takes the height that is left then
  }
  return QScrollArea::eventFilter(watched, event);
}

}  // namespace fair_gauge::app

#include "moc_page_room.cpp"
