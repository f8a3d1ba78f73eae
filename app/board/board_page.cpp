#include "board/board_page.h"

#include "board/bench_view.h"
#include "board/bus_view.h"
#include "board/controller_view.h"
#include "board/cut_list_view.h"
#include "board/cycle_view.h"
#include "board/parallel_view.h"
#include "board/reference_view.h"
#include "board/wires_view.h"

namespace fair_gauge::app {

BoardPage::BoardPage(const Theme& theme, Workbench& workbench, QWidget* parent) : QWidget(parent) {
  setObjectName(QStringLiteral("page"));
  setAttribute(Qt::WA_StyledBackground);
  views_ = new Views;
  views_->add([this, &theme, &workbench] {
    things_ = new BenchView(theme, workbench);
    connect(things_, &BenchView::bus_wanted, this, &BoardPage::show_bus);
    connect(things_, &BenchView::channel_wanted, this, &BoardPage::channel_wanted);
    return things_;
  });
  views_->add([this, &theme, &workbench] {
    buses_ = new BusView(theme, workbench);
    return scrolled(buses_);
  });
  views_->add([&theme, &workbench] { return scrolled(new CycleView(theme, workbench)); });
  views_->add([&theme, &workbench] { return new WiresView(theme, workbench); });
  views_->add([&theme, &workbench] { return scrolled(new CutListView(theme, workbench)); });
  views_->add([&theme, &workbench] { return scrolled(new ReferenceView(theme, workbench)); });
  views_->add([&theme, &workbench] { return scrolled(new ControllerView(theme, workbench)); });
  views_->add([&theme, &workbench] { return scrolled(new ParallelView(theme, workbench)); });
  tabs_ = new ViewTabs(view_names());
  connect(tabs_, &ViewTabs::chosen, this, &BoardPage::show_view);
  auto* all = column(8);
  all->setContentsMargins(24, 12, 16, 12);
  all->addLayout(page_head(new PageTitle(theme, tr("The whole bench")), tabs_));
  all->addWidget(views_, 1);
  setLayout(all);
  show_view(0);
}

QStringList BoardPage::view_names() {
  return {tr("Overview"), tr("Bus"),       tr("Cycle"),      tr("Wires"),
          tr("Cut list"), tr("Reference"), tr("Controller"), tr("Parallel")};
}

void BoardPage::show_view(int view) {
  views_->show_view(view);
  tabs_->mark(view);
}

void BoardPage::show_bus(const std::string& id) {
  show_view(1);
  buses_->choose_bus(id);
}

void BoardPage::ask_for_part() {
  show_view(0);
  things_->ask_for_part();
}

void BoardPage::fit(const std::string& part) {
  show_view(0);
  things_->fit(text_of(part));
}

}  // namespace fair_gauge::app

#include "moc_board_page.cpp"
