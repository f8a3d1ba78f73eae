#include "read/read_page.h"

#include "read/layout_editor.h"
#include "read/line_view.h"
#include "read/register_view.h"
#include "widgets/text.h"

namespace fair_gauge::app {

ReadPage::ReadPage(const Theme& theme, Workbench& workbench, QWidget* parent) : QWidget(parent) {
  setObjectName(QStringLiteral("page"));
  setAttribute(Qt::WA_StyledBackground);
  auto* bytes = bytes_ = new BytesView(theme, workbench);
  auto* registers = new RegisterView(theme, workbench);
  auto* own = new LayoutEditor(theme, workbench);
  views_ = new QStackedWidget;
  for (QWidget* view :
       std::initializer_list<QWidget*>{new LineView(theme, workbench), bytes, scrolled(registers), scrolled(own)})
    views_->addWidget(view);
  tabs_ = new ViewTabs({tr("Line"), tr("Bytes"), tr("Registers"), tr("Own part")});
  connect(tabs_, &ViewTabs::chosen, this, &ReadPage::show_view);
  connect(own, &LayoutEditor::saved, this, [this, bytes](const std::string& id) {
    bytes->list_parts();
    bytes->choose_part(id);
    show_view(1);
  });
  connect(bytes, &BytesView::part_chosen, registers, &RegisterView::show_part);
  auto* title = new Text(theme, Face::title, tr("Where the numbers come from"));
  title->setWordWrap(true);
  title->setSizePolicy(QSizePolicy::Ignored, QSizePolicy::Preferred);
  auto* head = row(8);
  head->addWidget(title, 1);
  head->addWidget(tabs_);
  auto* all = column(8);
  all->setContentsMargins(24, 12, 16, 12);
  all->addLayout(head);
  all->addWidget(views_, 1);
  setLayout(all);
  show_view(0);
}

void ReadPage::open_capture(const QString& path) {
  show_view(1);
  bytes_->take_capture(path);
}

void ReadPage::show_view(int view) {
  show_only(*views_, view);
  tabs_->mark(view);
}

}  // namespace fair_gauge::app
