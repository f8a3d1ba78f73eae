#include "correct/budget_view.h"

#include <qcustomplot.h>

#include <QTableWidgetItem>
#include <algorithm>
#include <cmath>

#include "quantity/number_format.h"
#include "widgets/plain_table.h"
#include "widgets/plot_style.h"

namespace fair_gauge::app {
namespace {

constexpr std::int64_t trials = 1'000'000;
constexpr std::uint64_t seed = 1;
constexpr int places = 41;

QString shape_of(Distribution distribution) {
  switch (distribution) {
    case Distribution::rectangular: return BudgetView::tr("flat, ÷ √3");
    case Distribution::triangular: return BudgetView::tr("triangle, ÷ √6");
    case Distribution::normal: return BudgetView::tr("bell, ÷ 1");
  }
  return {};
}

// "0.01 °C per step"
QString one_of(const std::string& unit) {
  if (unit == translated("steps")) return BudgetView::tr("step");
  if (unit == translated("pulses")) return BudgetView::tr("pulse");
  return text_of(unit);
}

}  // namespace

BudgetView::BudgetView(const Theme& theme, Workbench& workbench, QWidget* parent)
    : QWidget(parent), theme_(theme), workbench_(workbench), background_(this) {
  summary_ = new Text(theme, Face::strong);
  summary_->setObjectName(QStringLiteral("budget_summary"));
  summary_->setWordWrap(true);
  table_ = plain_table(
      theme, "budget", tr("Sources of error"),
      {tr("source"), tr("off by ±"), tr("shape"), tr("moves the reading by"), tr("contribution"), tr("share")},
      {0, 108, 104, 160, 88, 52});
  table_->horizontalHeaderItem(2)->setToolTip(
      tr("A maximum figure of a sheet counts as flat: anything within it is as likely. A typical figure counts as one "
         "standard deviation of a bell."));
  range_plot_ = new QCustomPlot;
  range_plot_->setAccessibleName(tr("Error over the wanted range"));
  histogram_ = new QCustomPlot;
  histogram_->setAccessibleName(tr("Spread of a million specimens"));
  for (QCustomPlot* plot : {range_plot_, histogram_}) plot->setMinimumHeight(theme.column_px(120));
  run_ = new QPushButton(tr("Draw a million specimens"));
  run_->setObjectName(QStringLiteral("run_trials"));
  run_->setToolTip(tr("Each is off by chance in every source; what they read is the second opinion on the budget"));
  connect(run_, &QPushButton::clicked, this, &BudgetView::run);
  progress_ = new QProgressBar;
  progress_->setRange(0, 100);
  progress_->setTextVisible(false);
  progress_->setFixedHeight(theme.px(4));
  progress_->hide();
  spread_words_ = new Text(theme, Face::small, {}, Tint::quiet);
  spread_words_->setObjectName(QStringLiteral("spread_words"));
  spread_words_->setWordWrap(true);
  contributions_ = column(0);
  auto* left = column(4);
  left->addWidget(new Text(theme, Face::label, tr("OVER THE WANTED RANGE"), Tint::quiet));
  left->addWidget(range_plot_, 1);
  auto* right = column(4);
  auto* right_head = row(8);
  right_head->addWidget(new Text(theme, Face::label, tr("A SECOND OPINION"), Tint::quiet), 1);
  right_head->addWidget(run_);
  right->addLayout(right_head);
  right->addWidget(progress_);
  right->addWidget(histogram_, 1);
  right->addWidget(spread_words_);
  auto* lower = row(20);
  lower->addLayout(left, 1);
  lower->addLayout(right, 1);
  stack_when_huge(theme, right_head);
  auto* all = column(6);
  all->addWidget(summary_);
  all->addWidget(table_, 3);
  all->addLayout(build_doubts());
  all->addLayout(contributions_);
  all->addLayout(lower, 2);
  setLayout(all);
  connect(&theme, &Theme::changed, this, [this] {
    for (QCustomPlot* plot : {range_plot_, histogram_}) plot->setMinimumHeight(theme_.column_px(120));
    channel_.clear();
    refresh();
  });
  connect(&workbench, &Workbench::values_changed, this, &BudgetView::refresh);
  connect(&workbench, &Workbench::bench_changed, this, [this] { channel_.clear(); });
}

// What is said of the channel itself.
QLayout* BudgetView::build_doubts() {
  doubt_kind_ = choice_box({tr("where it sits"), tr("what it touches: the board's own warmth"), tr("hysteresis"),
                            tr("rounding of the shown digits"), tr("something else")},
                           "doubt_kind", tr("What no sheet tells"));
  doubt_width_ = new QuantityField(theme_, Dimension::temperature_difference);
  doubt_width_->setObjectName(QStringLiteral("doubt_width"));
  doubt_width_->setAccessibleName(tr("How much it may be off"));
  doubt_width_->setPlaceholderText(tr("±"));
  doubt_width_->setMaximumWidth(theme_.px(90));
  connect(doubt_width_, &QuantityField::value_given, this, [this](double value) {
    if (!(value > 0)) return;
    const std::string name = doubt_kind_->currentText().toStdString();
    workbench_.document().edit(tr("A doubt"), [&](Bench& bench) {
      if (Channel* channel = find_by_id(bench.channels, workbench_.channel_id())) {
        UncertaintyContribution& doubt = channel->contributions.emplace_back();
        doubt.name = name;
        doubt.half_width = value;
      }
    });
    doubt_width_->clear();
  });
  auto* all = row(8);
  all->addWidget(new Text(theme_, Face::small, tr("No sheet tells"), Tint::quiet));
  all->addWidget(doubt_kind_, 1);
  all->addWidget(doubt_width_);
  return all;
}

void BudgetView::showEvent(QShowEvent* event) {
  QWidget::showEvent(event);
  refresh();
}

void BudgetView::refresh() {
  if (!isVisible()) return;
  const ChannelView& view = workbench_.chosen();
  if (!view.budget || !view.chain) {
    summary_->setText(view.problem ? text_of(to_text(*view.problem))
                                   : tr("The value is outside what this chain can read."));
    table_->setRowCount(0);
    return;
  }
  const NumberStyle& style = workbench_.style();
  const Budget& budget = *view.budget;
  const Unit& shown = *view.chain->shown;
  const auto difference = [&](double value) {
    return text_of(
        with_unit(value / shown.scale, decimals_for(std::abs(value / shown.scale)), difference_symbol(shown), style));
  };
  QString words = tr("At %1: standard uncertainty %2, k = %3 (%4), so ±%5 for 95 %.")
                      .arg(text_of(with_unit(shown.from_base(budget.at), 1, shown.symbol, style)),
                           difference(budget.combined), text_of(fixed(budget.coverage_factor, 2, style)),
                           std::isfinite(budget.effective_dof)
                               ? tr("%1 effective degrees of freedom").arg(std::lround(budget.effective_dof))
                               : tr("unlimited degrees of freedom"),
                           difference(budget.expanded));
  if (budget.known_bias != 0)
    words += QLatin1Char(' ') +
             tr("It is known to read %1 off, and that is not corrected.").arg(difference(budget.known_bias));
  if (const std::string beyond = beyond_sheet_words(budget, shown, style); !beyond.empty())
    words += QLatin1Char(' ') + text_of(beyond);
  if (budget.lacks_accuracy)
    words += QLatin1Char(' ') +
             (budget.is_calibrated_elsewhere
                  ? tr("That is what is known here: the calibration holds elsewhere, so it may be off by more.")
                  : tr("That is what is known: no sheet states an accuracy, so it may be off by more."));
  summary_->setText(words);
  show_sources(budget);
  if (channel_ != workbench_.channel_id()) {
    channel_ = workbench_.channel_id();
    const Dimension dimension = view.chain->base->dimension;
    doubt_width_->set_dimension(dimension == Dimension::temperature ? Dimension::temperature_difference : dimension);
    show_doubts();
    draw_range(view);
    of_run_.reset();
    background_.cancel();
    progress_->hide();
    run_->setText(tr("Draw a million specimens"));
    spread_words_->setText(
        tr("Not drawn yet. It is worth it where the chain is strongly curved, or one flat source rules."));
    histogram_->clearPlottables();
    style_plot(*histogram_, theme_);
    histogram_->replot(QCustomPlot::rpQueuedReplot);
  }
}

void BudgetView::show_sources(const Budget& budget) {
  const NumberStyle& style = workbench_.style();
  const Unit& shown = *workbench_.chosen().chain->shown;
  table_->setRowCount(static_cast<int>(budget.lines.size()));
  for (std::size_t i = 0; i < budget.lines.size(); ++i) {
    const Contribution& line = budget.lines[i];
    const QString unit = text_of(difference_symbol(shown));
    const QStringList cells = {
        text_of(line.name),
        text_of(with_unit(line.width, decimals_for(line.width), line.unit, style)),
        shape_of(line.distribution),
        tr("%1 %2 per %3")
            .arg(text_of(fixed(line.sensitivity / shown.scale, decimals_for(std::abs(line.sensitivity / shown.scale)),
                               style)),
                 unit, one_of(line.unit)),
        text_of(with_unit(line.standard / shown.scale, decimals_for(line.standard / shown.scale),
                          difference_symbol(shown), style)),
        line.share < 0.005 ? QStringLiteral("<1 %") : QStringLiteral("%1 %").arg(std::lround(line.share * 100))};
    put_row(*table_, static_cast<int>(i), cells, theme_, theme_.colours().ink);
    table_->item(static_cast<int>(i), 0)
        ->setToolTip(tr("enters at: %1; %2 degrees of freedom")
                         .arg(text_of(stage_title(line.stage)),
                              std::isfinite(line.dof) ? QString::number(line.dof, 'f', 0) : tr("unlimited")));
  }
  share_width(*table_);
}

void BudgetView::show_doubts() {
  clear(contributions_);
  const Channel* channel = workbench_.chosen().channel;
  if (!channel) return;
  for (std::size_t i = 0; i < channel->contributions.size(); ++i) {
    auto* off = new QPushButton(
        tr("Take back: %1, ±%2")
            .arg(text_of(channel->contributions[i].name),
                 text_of(with_unit(channel->contributions[i].half_width,
                                   decimals_for(channel->contributions[i].half_width),
                                   difference_symbol(*workbench_.chosen().chain->base), workbench_.style()))));
    off->setProperty("quiet", true);
    connect(off, &QPushButton::clicked, this, [this, i] {
      workbench_.document().edit(tr("Take a doubt back"), [&](Bench& bench) {
        Channel* each = find_by_id(bench.channels, workbench_.channel_id());
        if (each && i < each->contributions.size())
          each->contributions.erase(each->contributions.begin() + static_cast<std::ptrdiff_t>(i));
      });
    });
    contributions_->addWidget(off, 0, Qt::AlignLeft);
  }
}

void BudgetView::draw_range(const ChannelView& view) {
  const Colours& colours = theme_.colours();
  style_plot(*range_plot_, theme_);
  range_plot_->clearGraphs();
  range_plot_->clearItems();
  const Unit& shown = *view.chain->shown;
  const Range& wanted = view.channel->wanted;
  QVector<double> x, y, known;
  const auto budgets = budget_over_range(*view.chain, wanted.from, wanted.to, places);
  for (const Budget& budget : budgets)
    x << shown.from_base(budget.at), y << (budget.expanded + std::abs(budget.known_bias)) / shown.scale,
        known << std::abs(budget.known_bias) / shown.scale;
  auto* whole = range_plot_->addGraph();
  whole->setPen(QPen(colours.accent, 2));
  whole->setData(x, y, true);
  auto* bias = range_plot_->addGraph();
  bias->setPen(QPen(colours.second, 1.4, Qt::DashLine));
  bias->setData(x, known, true);
  const double allowed = view.channel->tolerance / shown.scale;
  auto* limit = range_plot_->addGraph();
  limit->setPen(QPen(colours.red, 1, Qt::DashLine));
  limit->setData({shown.from_base(wanted.from), shown.from_base(wanted.to)}, {allowed, allowed}, true);
  const double top =
      std::max(allowed * 1.25, y.isEmpty() ? 0.0 : std::min(3 * allowed, *std::ranges::max_element(y) * 1.15));
  range_plot_->xAxis->setRange(shown.from_base(wanted.from), shown.from_base(wanted.to));
  range_plot_->yAxis->setRange(0, top);
  range_plot_->xAxis->setLabel(text_of(shown.symbol));
  range_plot_->yAxis->setLabel(tr("± %1").arg(text_of(difference_symbol(shown))));
  const auto label = [&](const QString& words, double at, double height, const QColor& ink) {
    auto* text = new QCPItemText(range_plot_);
    text->setText(words);
    text->setFont(theme_.font(Face::small));
    text->setColor(ink);
    text->setPositionAlignment(Qt::AlignLeft | Qt::AlignBottom);
    text->position->setCoords(at, height);
    text->setPadding(QMargins(4, 1, 4, 1));
  };
  label(tr("allowed"), shown.from_base(wanted.from), allowed, colours.red);
  if (!y.isEmpty())
    label(budgets.front().lacks_accuracy ? tr("what is known, 95 %") : tr("used, 95 %"), x[x.size() / 2],
          std::min(y[y.size() / 2], top * 0.9), colours.accent);
  if (!known.isEmpty() && known[known.size() / 2] > 0.02 * top)
    label(tr("known bias"), x[x.size() / 4], known[known.size() / 4], colours.second);
  range_plot_->replot(QCustomPlot::rpQueuedReplot);
}

void BudgetView::run() {
  if (background_.is_running()) {  // the button says Stop
    background_.cancel();
    progress_->hide();
    run_->setText(tr("Draw a million specimens"));
    spread_words_->setText(tr("Stopped."));
    return;
  }
  const ChannelView& view = workbench_.chosen();
  if (!view.chain || !view.budget) return;
  of_run_ = *view.budget;
  run_->setText(tr("Stop"));
  progress_->setValue(0);
  progress_->show();
  QPointer<QProgressBar> bar = progress_;
  background_.start(
      [chain = *view.chain, at = view.budget->at, bar](const std::atomic<bool>& cancelled) {
        return monte_carlo(chain, at, trials, seed, [&](double share) {
          QMetaObject::invokeMethod(QCoreApplication::instance(), [bar, share] {
            if (bar) bar->setValue(static_cast<int>(share * 100));
          });
          return !cancelled;
        });
      },
      [this](const Result<MonteCarlo>& spread) {
        progress_->hide();
        run_->setText(tr("Draw them again"));
        show_spread(spread);
      });
}

void BudgetView::show_spread(const Result<MonteCarlo>& spread) {
  if (!spread || !of_run_) {
    spread_words_->setText(spread ? QString() : text_of(to_text(spread.problem())));
    return;
  }
  const ChannelView& view = workbench_.chosen();
  if (!view.chain) return;
  const Unit& shown = *view.chain->shown;
  const NumberStyle& style = workbench_.style();
  const auto difference = [&](double value) {
    return text_of(
        with_unit(value / shown.scale, decimals_for(spread->standard / shown.scale), difference_symbol(shown), style));
  };
  const std::string differs = budget_differs(*of_run_, *spread);
  spread_words_->setText(tr("95 % of %1 specimens read %2 to +%3 off; the budget says ±%4. %5")
                             .arg(text_of(fixed(static_cast<double>(spread->trials), 0, style)),
                                  difference(spread->low), difference(spread->high), difference(of_run_->expanded),
                                  differs.empty() ? tr("They agree.") : text_of(differs)));
  const Colours& colours = theme_.colours();
  style_plot(*histogram_, theme_);
  histogram_->clearPlottables();
  auto* bars = new QCPBars(histogram_->xAxis, histogram_->yAxis);
  QVector<double> x, y;
  for (std::size_t i = 0; i < spread->histogram.size(); ++i)
    x << (spread->histogram_from + (static_cast<double>(i) + 0.5) * spread->histogram_step) / shown.scale,
        y << static_cast<double>(spread->histogram[i]);
  bars->setWidth(spread->histogram_step / shown.scale);
  bars->setPen(Qt::NoPen);
  bars->setBrush(colours.tint);
  bars->setData(x, y, true);
  auto* edge = histogram_->addGraph();
  edge->setLineStyle(QCPGraph::lsStepCenter);
  edge->setPen(QPen(colours.accent, 1.4));
  edge->setData(x, y, true);
  const double top = y.isEmpty() ? 1 : *std::ranges::max_element(y) * 1.1;
  for (const double end : {spread->low, spread->high}) {
    auto* line = histogram_->addGraph();
    line->setPen(QPen(colours.accent, 1, Qt::DashLine));
    line->setData({end / shown.scale, end / shown.scale}, {0, top});
  }
  for (const double end : {-of_run_->expanded, of_run_->expanded}) {
    auto* line = histogram_->addGraph();
    line->setPen(QPen(colours.second, 1, Qt::DotLine));
    line->setData({end / shown.scale, end / shown.scale}, {0, top});
  }
  histogram_->xAxis->setRange(
      spread->histogram_from / shown.scale,
      (spread->histogram_from + spread->histogram_step * static_cast<double>(spread->histogram.size())) / shown.scale);
  histogram_->yAxis->setRange(0, top);
  histogram_->yAxis->setTickLabels(false);
  histogram_->xAxis->setLabel(
      tr("reading − truth, %1; dashed: 95 % of them, dotted: the budget").arg(text_of(difference_symbol(shown))));
  histogram_->replot(QCustomPlot::rpQueuedReplot);
}

}  // namespace fair_gauge::app

#include "moc_budget_view.cpp"
