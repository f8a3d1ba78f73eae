#include "wire/sizing_panel.h"

#include <QListView>
#include <QPushButton>
#include <algorithm>
#include <cmath>

#include "qcustomplot.h"
#include "quantity/quantity_text.h"
#include "widgets/plot_style.h"

namespace fair_gauge::app {

SizingPanel::SizingPanel(const Theme& theme, Workbench& workbench, QWidget* parent)
    : QWidget(parent), theme_(theme), workbench_(workbench) {
  question_ = new QComboBox;
  question_->setView(new QListView);
  question_->setSizeAdjustPolicy(QComboBox::AdjustToContents);
  question_->setObjectName(QStringLiteral("question"));
  question_->setAccessibleName(tr("What to find"));
  wishes_ = new QGridLayout;
  wishes_->setContentsMargins(0, 0, 0, 0);
  wishes_->setHorizontalSpacing(8);
  wishes_->setVerticalSpacing(4);
  headline_ = new Text(theme, Face::strong);
  headline_->setObjectName(QStringLiteral("headline"));
  headline_->setWordWrap(true);
  table_ = new QGridLayout;
  table_->setContentsMargins(0, 0, 0, 0);
  table_->setHorizontalSpacing(20);
  table_->setVerticalSpacing(3);
  plot_ = new QCustomPlot;
  plot_->setMinimumHeight(theme.px(90));
  plot_->addGraph();
  plot_->xAxis->setScaleType(QCPAxis::stLogarithmic);
  plot_->xAxis->setTicker(QSharedPointer<QCPAxisTickerLog>(new QCPAxisTickerLog));
  reasons_ = new Text(theme, Face::small, {}, Tint::quiet);
  reasons_->setWordWrap(true);
  buttons_ = row(8);
  echo_ = new Text(theme, Face::small, {}, Tint::second);
  drawer_ = new QLineEdit;
  drawer_->setObjectName(QStringLiteral("drawer"));
  drawer_->setMinimumWidth(theme.px(230));
  drawer_->setFont(theme.font(Face::number_small));
  drawer_->setPlaceholderText(tr("in the drawer: 1k 4k7 10k"));
  drawer_->setAccessibleName(tr("Resistors in the drawer"));
  drawer_->setToolTip(
      tr("Resistors that you have, parted by spaces. With any listed, “the drawer” can be picked from instead of a "
         "series."));
  auto* head = row(8);
  head->addWidget(question_);
  head->addWidget(drawer_);
  head->addStretch();
  auto* all = column(8);
  all->addLayout(head);
  all->addLayout(wishes_);
  all->addWidget(echo_);
  auto* found = row(8);
  found->addWidget(headline_, 1);
  found->addLayout(buttons_);
  stack_when_large(theme, found);
  all->addLayout(found);
  all->addLayout(table_);
  all->addWidget(plot_, 1);
  all->addWidget(reasons_);
  all->addStretch();
  setLayout(all);
  connect(question_, &QComboBox::activated, this, &SizingPanel::show_question);
  connect(drawer_, &QLineEdit::editingFinished, this, &SizingPanel::take_drawer);
  connect(&workbench, &Workbench::selection_changed, this, &SizingPanel::rebuild);
  connect(&workbench, &Workbench::bench_changed, this, &SizingPanel::rebuild);
  connect(&theme, &Theme::changed, this, [this] {
    style_plot(*plot_, theme_);
    plot_->replot();
  });
  style_plot(*plot_, theme_);
}

void SizingPanel::showEvent(QShowEvent* event) {
  QWidget::showEvent(event);
  rebuild();
}

void SizingPanel::rebuild() {
  if (!isVisible()) return;
  QStringList drawer;
  for (const double ohm : workbench_.bench().drawer_ohm) drawer << text_of(resistor_code(ohm));
  if (!drawer_->hasFocus()) drawer_->setText(drawer.join(QLatin1Char(' ')));
  questions_ = sizing_questions(workbench_);
  QStringList names;
  for (const SizingQuestion& question : questions_) names << question.name;
  QStringList shown;
  for (int i = 0; i < question_->count(); ++i) shown << question_->itemText(i);
  const bool same = names == shown && built_for_ == workbench_.channel_id();
  built_for_ = workbench_.channel_id();
  if (same && !given_.empty()) return answer();  // the bench changed: what was wished for stays
  question_->clear();
  question_->addItems(names);
  show_question();
}

void SizingPanel::show_question() {
  clear(wishes_);
  for (int i = 0; i < wishes_->columnCount(); ++i) wishes_->setColumnMinimumWidth(i, 0);
  echo_->clear();
  given_.clear();
  const int index = question_->currentIndex();
  if (index < 0 || index >= static_cast<int>(questions_.size())) {
    headline_->setText(workbench_.chosen().channel && workbench_.chosen().channel->arrives_converted()
                           ? tr("What arrives was converted before: there is no value to find here.")
                           : tr("There is nothing to find for this channel."));
  }
  const bool any = index >= 0 && index < static_cast<int>(questions_.size());
  for (QWidget* each : {static_cast<QWidget*>(question_), static_cast<QWidget*>(drawer_), static_cast<QWidget*>(plot_)})
    each->setVisible(any);
  if (!any) return;
  given_ = questions_[static_cast<std::size_t>(index)].wishes;
  for (int i = 0; i < static_cast<int>(given_.size()); ++i) {
    WishField& wish = given_[static_cast<std::size_t>(i)];
    auto* label = new Text(theme_, Face::small, wish.label, Tint::quiet);
    label->setToolTip(in_own_marks(wish.why));
    QWidget* editor = nullptr;
    if (!wish.choices.isEmpty()) {
      auto* box = new QComboBox;
      box->setView(new QListView);
      for (const QString& each : wish.choices) box->addItem(in_own_marks(each));
      box->setCurrentIndex(static_cast<int>(wish.value));
      connect(box, &QComboBox::activated, this, [this, i](int chosen) {
        given_[static_cast<std::size_t>(i)].value = chosen;
        answer();
      });
      editor = box;
      // Where the row has not room enough for all, the short ones stay whole.
      const QFontMetrics metrics(theme_.font(Face::text));
      int least = theme_.px(220);
      for (const QString& each : wish.choices) least = std::min(least, metrics.horizontalAdvance(each));
      wishes_->setColumnMinimumWidth(i, least + metrics.height() * 5 / 2);
    } else {
      auto* field = new QuantityField(theme_, wish.dimension);
      field->setFont(theme_.font(Face::number_small));
      const Unit& unit = base_unit(wish.dimension);
      const auto show = [this, field, &unit, may_be_none = !wish.when_none.isEmpty()](double base) {
        if (may_be_none && base == 0)
          field->show_value(std::nan(""), {});
        else
          field->show_value(base, text_of(with_prefix(base, unit.symbol, 4, workbench_.style())));
      };
      show(wish.value);
      if (!wish.when_none.isEmpty())
        field->set_emptied(wish.when_none, [this, i, show] {
          given_[static_cast<std::size_t>(i)].value = 0;
          show(0);
          answer();
        });
      connect(field, &QuantityField::echo_changed, this, [this](const QString& echo, bool faulty) {
        echo_->setText(echo);
        echo_->set_tint(faulty ? Tint::red : Tint::second);
      });
      connect(field, &QuantityField::value_given, this, [this, i, show](double base) {
        given_[static_cast<std::size_t>(i)].value = base;
        show(base);
        answer();
      });
      editor = field;
    }
    editor->setObjectName(QStringLiteral("wish_%1").arg(i));
    editor->setAccessibleName(wish.label);
    editor->setToolTip(in_own_marks(wish.why));
    wishes_->addWidget(label, 0, i);
    wishes_->addWidget(editor, 1, i);
    editor->setMaximumWidth(theme_.px(220));
  }
  wishes_->setColumnStretch(20, 1);
  answer();
}

void SizingPanel::take_drawer() {
  QString text = drawer_->text().simplified();
  text.replace(QLatin1Char(';'), QLatin1Char(' '))
      .replace(QStringLiteral(", "), QStringLiteral(" "))
      .replace(QLatin1Char(' '), QLatin1Char(','));
  auto values = text.isEmpty() ? Result<std::vector<double>>(std::vector<double>{})
                               : parse_quantity_list(text.toStdString(), Dimension::resistance);
  if (!values || std::ranges::any_of(*values, [](double ohm) { return ohm <= 0; })) {
    echo_->setText(values ? tr("A resistor has more than 0 Ω") : text_of(to_text(values.problem())));
    echo_->set_tint(Tint::red);
    return;
  }
  std::ranges::sort(*values);
  if (*values == workbench_.bench().drawer_ohm) return;
  workbench_.document().edit(tr("Resistors in the drawer"), [&](Bench& bench) { bench.drawer_ohm = *values; });
  show_question();  // the drawer is among what can be picked from now
}

void SizingPanel::answer() {
  const int index = question_->currentIndex();
  if (index < 0 || index >= static_cast<int>(questions_.size())) return;
  const SizingAnswer found = questions_[static_cast<std::size_t>(index)].answer(given_);
  headline_->setText(found.headline);
  headline_->set_tint(found.good ? Tint::ink : Tint::red);
  QString words;
  for (const QString& reason : found.reasons) words += (words.isEmpty() ? QString() : QStringLiteral("; ")) + reason;
  reasons_->setText(words.isEmpty() ? QString() : tr("Assumes and says: %1.").arg(words));
  clear(buttons_);
  for (const Applicable& applicable : found.applicable) {
    auto* button = new QPushButton(applicable.label);
    button->setObjectName(QStringLiteral("apply"));
    button->setProperty("primary", &applicable == &found.applicable.front());
    connect(button, &QPushButton::clicked, this,
            [this, applicable] { workbench_.document().edit(applicable.label, applicable.apply); });
    buttons_->addWidget(button);
  }
  buttons_->addStretch();
  show_table(found);
  show_curve(found);
}

void SizingPanel::show_table(const SizingAnswer& answer) {
  clear(table_);
  for (int c = 0; c < answer.columns.size(); ++c) {
    auto* head = new Text(theme_, Face::small, answer.columns[c], Tint::quiet);
    head->setWordWrap(true);
    table_->addWidget(head, 0, c, Qt::AlignBottom);
  }
  for (int r = 0; r < static_cast<int>(answer.rows.size()); ++r)
    for (int c = 0; c < answer.rows[static_cast<std::size_t>(r)].size(); ++c) {
      auto* cell = new Text(theme_, Face::code, answer.rows[static_cast<std::size_t>(r)][c],
                            r == answer.marked_row ? Tint::accent : Tint::ink);
      cell->let_select();
      table_->addWidget(cell, r + 1, c);
    }
  table_->setColumnStretch(20, 1);
}

void SizingPanel::show_curve(const SizingAnswer& answer) {
  plot_->setVisible(answer.curve.has_value());
  if (!answer.curve) return;
  const Colours& colours = theme_.colours();
  plot_->clearItems();
  plot_->clearGraphs();
  QCPGraph* graph = plot_->addGraph();
  graph->setData(answer.curve->x, answer.curve->y, true);
  graph->setPen(QPen(colours.accent, 1.6));
  graph->setScatterStyle(QCPScatterStyle(QCPScatterStyle::ssDisc, colours.accent, 4));
  plot_->xAxis->setLabel(answer.curve->x_label);
  plot_->yAxis->setLabel(answer.curve->y_label);
  plot_->setAccessibleName(tr("%1 over %2").arg(answer.curve->y_label, answer.curve->x_label));
  graph->rescaleAxes();
  const double least = *std::ranges::min_element(answer.curve->y);
  plot_->yAxis->setRange(0, std::min(plot_->yAxis->range().upper, 5 * least));
  const auto mark = [&](double x, const QString& words, const QColor& colour, Qt::Alignment align) {
    const auto near =
        std::ranges::min_element(answer.curve->x, {}, [x](double each) { return std::abs(std::log(each / x)); });
    const double y = answer.curve->y[near - answer.curve->x.begin()];
    auto* point = new QCPItemTracer(plot_);
    point->setStyle(QCPItemTracer::tsCircle);
    point->setSize(11);
    point->setPen(QPen(colour, 2.2));
    point->setBrush(colours.sheet);
    point->position->setCoords(x, y);
    auto* label = new QCPItemText(plot_);
    label->setText(words);
    label->setFont(theme_.font(Face::strong));
    label->setColor(colour);
    label->setPositionAlignment(align);
    label->position->setCoords(x, y + 0.10 * plot_->yAxis->range().size());
  };
  if (answer.curve->present_x > 0 && answer.curve->present_x != answer.curve->chosen_x)
    mark(answer.curve->present_x, tr("now"), colours.second, Qt::AlignHCenter | Qt::AlignBottom);
  mark(answer.curve->chosen_x, tr("best"), colours.accent, Qt::AlignHCenter | Qt::AlignBottom);
  plot_->replot(QCustomPlot::rpQueuedReplot);
}

}  // namespace fair_gauge::app

#include "moc_sizing_panel.cpp"
