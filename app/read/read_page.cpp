#include "read/read_page.h"

#include "read/layout_editor.h"
#include "read/line_view.h"
#include "read/mistake_view.h"
#include "read/practice_view.h"
#include "read/register_view.h"
#include "widgets/text.h"

namespace fair_gauge::app {

ReadPage::ReadPage(const Theme& theme, Workbench& workbench, QWidget* parent) : QWidget(parent) {
  setObjectName(QStringLiteral("page"));
  setAttribute(Qt::WA_StyledBackground);
  views_ = new Views;
  views_->add([this, &theme, &workbench] {
    auto* line = new LineView(theme, workbench);
    connect(line, &LineView::sensor_wanted, this, &ReadPage::sensor_wanted);
    return line;
  });
  views_->add([this, &theme, &workbench] {
    bytes_ = new BytesView(theme, workbench);
    connect(bytes_, &BytesView::part_chosen, this, [this](const std::string& id) {
      if (registers_) registers_->show_part(id);
    });
    return bytes_;
  });
  views_->add([this, &theme, &workbench] {
    registers_ = new RegisterView(theme, workbench);
    if (bytes_) registers_->show_part(bytes_->part_id());
    return scrolled(registers_);
  });
  views_->add([this, &theme, &workbench] {
    auto* own = new LayoutEditor(theme, workbench);
    connect(own, &LayoutEditor::saved, this, [this](const std::string& id, const QString& words) {
      show_view(1);
      bytes_->list_parts();
      if (registers_) registers_->list_parts();
      bytes_->choose_part(id);
      bytes_->say(words);
    });
    return scrolled(own);
  });
  views_->add([this, &theme, &workbench] { return mistakes_ = new MistakeView(theme, workbench); });
  views_->add([&theme, &workbench] { return new PracticeView(theme, workbench); });
  tabs_ = new ViewTabs(view_names());
  connect(tabs_, &ViewTabs::chosen, this, &ReadPage::show_view);
  auto* all = column(8);
  all->setContentsMargins(24, 12, 16, 12);
  all->addLayout(page_head(new PageTitle(theme, tr("Where the numbers come from")), tabs_));
  all->addWidget(views_, 1);
  setLayout(all);
  show_view(0);
}

QStringList ReadPage::view_names() {
  return {tr("Line"), tr("Bytes"), tr("Registers"), tr("Own part"), tr("What is wrong?"), tr("Practise")};
}

void ReadPage::show_part(const std::string& id) {
  show_view(1);
  bytes_->choose_part(id);
}

void ReadPage::explain(std::optional<double> raw) {
  show_view(4);
  if (raw) mistakes_->take(*raw);
}

void ReadPage::open_capture(const QString& path) {
  show_view(1);
  bytes_->take_capture(path);
}

void ReadPage::show_view(int view) {
  views_->show_view(view);
  tabs_->mark(view);
}

}  // namespace fair_gauge::app

#include "moc_read_page.cpp"
