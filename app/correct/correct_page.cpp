#include "correct/correct_page.h"

#include "correct/derived_view.h"

namespace fair_gauge::app {

CorrectPage::CorrectPage(const Theme& theme, Workbench& workbench, QWidget* parent) : QWidget(parent) {
  setObjectName(QStringLiteral("page"));
  setAttribute(Qt::WA_StyledBackground);
  views_ = new Views;
  views_->add([this, &theme, &workbench] {
    auto* calibrate = new CalibrateView(theme, workbench);
    connect(calibrate, &CalibrateView::calibrated, this, &CorrectPage::calibrated);
    return calibrate;
  });
  views_->add([&theme, &workbench] { return new BudgetView(theme, workbench); });
  views_->add([this, &theme, &workbench] {
    auto* compare = new CompareChannels(theme, workbench);
    connect(compare, &CompareChannels::calibrated, this, &CorrectPage::calibrated);
    connect(compare, &CompareChannels::over_time_wanted, this, &CorrectPage::over_time_wanted);
    return compare;
  });
  views_->add([&theme, &workbench] { return scrolled(new DerivedView(theme, workbench)); });
  tabs_ = new ViewTabs(view_names());
  connect(tabs_, &ViewTabs::chosen, this, &CorrectPage::show_view);
  title_ = new PageTitle(theme);
  auto* all = column(8);
  all->setContentsMargins(24, 12, 16, 8);
  all->addLayout(page_head(title_, tabs_));
  all->addWidget(views_, 1);
  setLayout(all);
  show_view(0);
}

QStringList CorrectPage::view_names() { return {tr("Calibrate"), tr("Budget"), tr("Compare"), tr("Derived")}; }

void CorrectPage::show_view(int view) {
  views_->show_view(view);
  tabs_->mark(view);
  const QString titles[] = {tr("Against something that is known"), tr("How far it may be off, and by what"),
                            tr("Which of several is right"), tr("What follows from them")};
  title_->set_whole(titles[view]);
}

}  // namespace fair_gauge::app

#include "moc_correct_page.cpp"
