#include "wire/curve_builder.h"

#include <QListView>
#include <utility>

#include "chain/links.h"
#include "qcustomplot.h"
#include "quantity/number_format.h"
#include "widgets/plot_style.h"

namespace fair_gauge::app {
namespace {

struct Output {
  Interface interface;
  const char* symbol;
};
constexpr Output outputs[] = {{Interface::voltage, "V"}, {Interface::resistance, "Ω"}, {Interface::current, "A"}};

constexpr int example_points = 5;

}  // namespace

CurveBuilder::CurveBuilder(const Theme& theme, Workbench& workbench, QWidget* parent)
    : QWidget(parent), theme_(theme), workbench_(workbench) {
  kind_ = new QComboBox;
  kind_->setView(new QListView);
  kind_->setObjectName(QStringLiteral("curve_kind"));
  kind_->setAccessibleName(tr("Kind of curve"));
  kind_->addItems(
      {tr("straight line"), tr("slightly curved"), tr("table"), tr("thermistor, by points"), tr("typed formula")});
  output_ = new QComboBox;
  output_->setView(new QListView);
  output_->setObjectName(QStringLiteral("curve_output"));
  output_->setAccessibleName(tr("What the part gives"));
  output_->addItems({tr("gives volts"), tr("is a resistance"), tr("gives a current")});
  points_ = new TextBox("curve_points", tr("Points of the curve"), most_of_rows);
  points_->setFont(theme.font(Face::code));
  points_->setTabStopDistance(6 * points_->fontMetrics().averageCharWidth());  // four columns beside one another
  points_->setPlaceholderText(tr("two numbers a line: quantity, output"));
  expression_ = new QLineEdit;
  expression_->setObjectName(QStringLiteral("curve_expression"));
  expression_->setFont(theme.font(Face::code));
  expression_->setAccessibleName(tr("Formula of the curve"));
  name_ = new QLineEdit(tr("A sensor of my own"));
  name_->setAccessibleName(tr("Name of the part"));
  save_ = new QPushButton(tr("Save as a part"));
  save_->setObjectName(QStringLiteral("save_part"));
  save_->setProperty("primary", true);
  verdict_ = new Text(theme, Face::strong);
  verdict_->setObjectName(QStringLiteral("curve_verdict"));
  warnings_ = new Text(theme, Face::small, {}, Tint::quiet);
  for (Text* text : {verdict_, warnings_}) text->setWordWrap(true);
  plot_ = new QCustomPlot;
  plot_->setAccessibleName(tr("The points and the curve through them"));
  plot_->setMinimumHeight(theme.px(90));

  auto* left = column(6);
  hint_ = new Text(theme, Face::small, {}, Tint::quiet);
  hint_->setObjectName(QStringLiteral("curve_hint"));
  hint_->setToolTip(
      tr("Read off a graph, or pasted from a table, a point a line. Where tabs or semicolons part the columns, a comma "
         "is a decimal mark."));
  hint_->setWordWrap(true);
  left->addWidget(hint_);
  left->addWidget(points_, 1);
  left->addWidget(expression_);
  auto* right = column(6);
  auto* choice = row(8);
  choice->addWidget(kind_, 1);
  choice->addWidget(output_);
  right->addLayout(choice);
  right->addWidget(plot_, 1);
  right->addWidget(verdict_);
  right->addWidget(warnings_);
  auto* keep = row(8);
  keep->addWidget(name_, 1);
  keep->addWidget(save_);
  right->addLayout(keep);
  auto* all = row(16);
  points_->setMinimumWidth(theme.px(120));
  all->addLayout(left, 2);
  all->addLayout(right, 5);
  setLayout(all);
  connect(points_, &QPlainTextEdit::textChanged, this, &CurveBuilder::refresh);
  connect(expression_, &QLineEdit::textChanged, this, &CurveBuilder::refresh);
  connect(kind_, &QComboBox::currentIndexChanged, this, &CurveBuilder::refresh);
  connect(output_, &QComboBox::currentIndexChanged, this, &CurveBuilder::refresh);
  connect(save_, &QPushButton::clicked, this, &CurveBuilder::save);
  connect(&theme, &Theme::changed, this, &CurveBuilder::refresh);
  connect(&workbench, &Workbench::selection_changed, this, &CurveBuilder::follow_channel);
  connect(&workbench, &Workbench::bench_changed, this, &CurveBuilder::follow_channel);
}

void CurveBuilder::showEvent(QShowEvent* event) {
  QWidget::showEvent(event);
  follow_channel();
}

// The example is of the channel's own sensor, where it has one; what somebody typed stays.
void CurveBuilder::follow_channel() {
  if (!isVisible()) return;
  if (points_->toPlainText() == example_) {
    const std::optional<Chain>& chain = workbench_.chosen().chain;
    const Stage* sensor = chain ? chain->stage(StageName::sensor) : nullptr;
    const auto* output = std::ranges::find_if(
        outputs, [&](const Output& one) { return sensor && base_unit(sensor->unit->dimension).symbol == one.symbol; });
    QString example;
    double first = 0, last = 0;
    for (int i = 0; i < example_points && output != std::end(outputs); ++i) {
      const Range& wanted = chain->channel.wanted;
      const double world = std::lerp(wanted.from, wanted.to, static_cast<double>(i) / (example_points - 1));
      const auto values = evaluate(*chain, {StageName::world, chain->shown->from_base(world)});
      const auto& value = values[static_cast<std::size_t>(sensor - chain->stages.data())];
      if (!value) continue;
      (example.isEmpty() ? first : last) = *value;
      example += text_of(fmt::format("{:.4g}\t{:.5g}\n", chain->shown->from_base(world), *value));
    }
    if (example.isEmpty()) example = QStringLiteral("0\t0.500\n25\t0.742\n50\t0.998\n");
    if (example == std::exchange(example_, example) && hint_->text() == hint_text())
      return;  // what was saved stays told
    const bool is_thermistor =
        output != std::end(outputs) && output->interface == Interface::resistance && 0 < last && last < first;
    const QSignalBlocker quiet(points_), still(output_), calm(kind_);
    kind_->setCurrentIndex(static_cast<int>(is_thermistor ? CurveKind::steinhart : CurveKind::line));
    points_->setPlainText(example_);
    output_->setCurrentIndex(output == std::end(outputs) ? 0 : static_cast<int>(output - std::begin(outputs)));
    return refresh();
  }
  if (hint_->text() != hint_text()) refresh();
}

QString CurveBuilder::hint_text() const {
  const Quantity quantity = workbench_.chosen().channel ? workbench_.chosen().channel->quantity : Quantity::temperature;
  return tr("Points: %1 in %2, then %3")
      .arg(text_of(translated_name(quantity)), text_of(columns().quantity->symbol),
           QString::fromUtf8(outputs[static_cast<std::size_t>(output_->currentIndex())].symbol));
}

// What the columns are: the quantity of the channel in its shown unit.
CurveColumns CurveBuilder::columns() const {
  const std::optional<Chain>& chain = workbench_.chosen().chain;
  return {.quantity = chain ? chain->shown : &base_unit(Dimension::temperature),
          .output = outputs[static_cast<std::size_t>(output_->currentIndex())].interface};
}

void CurveBuilder::refresh() {
  curve_.reset();
  const auto kind = static_cast<CurveKind>(kind_->currentIndex());
  expression_->setVisible(kind == CurveKind::expression);
  if (kind == CurveKind::steinhart) output_->setCurrentIndex(1);
  output_->setEnabled(kind != CurveKind::steinhart);
  const CurveColumns columns = this->columns();
  const auto& output = outputs[static_cast<std::size_t>(output_->currentIndex())];
  hint_->setText(hint_text());
  expression_->setPlaceholderText(
      tr("%1 of x in %2, such as 0.5 + 0.01*x")
          .arg(QString::fromUtf8(output.symbol), text_of(base_unit(columns.quantity->dimension).symbol)));
  const auto points = read_curve_points(points_->toPlainText().toStdString(), columns);
  save_->setEnabled(false);
  warnings_->clear();
  const auto refuse = [this](const Problem& problem) {
    verdict_->setText(text_of(to_text(problem)));
    verdict_->set_tint(Tint::red);
    plot_->clearGraphs();  // of other points than those that stand there
    plot_->replot(QCustomPlot::rpQueuedReplot);
  };
  if (!points) return refuse(points.problem());
  const Range wanted = workbench_.chosen().channel ? workbench_.chosen().channel->wanted : Range{0, 100};
  const double from = points->empty() ? wanted.from : points->front().quantity,
               to = points->empty() ? wanted.to : points->back().quantity;
  const auto curve = kind == CurveKind::expression
                         ? typed_curve(expression_->text().toStdString(), from, to, *points, columns)
                         : fit_own_curve(kind, *points, columns);
  if (!curve) return refuse(curve.problem());
  curve_ = *curve;
  const double largest = columns.quantity->from_base(curve->largest_error) - columns.quantity->from_base(0);
  const bool is_exact = curve->largest_error < 1e-9 * (to - from);
  verdict_->setText(is_exact ? tr("Goes through its points")
                             : tr("Misses its points by %1 rms, at most %2 %3")
                                   .arg(text_of(with_prefix(curve->rms, output.symbol, 3, workbench_.style())),
                                        text_of(fixed(largest, decimals_for(largest, 2), workbench_.style())),
                                        text_of(difference_symbol(*columns.quantity))));
  verdict_->set_tint(Tint::accent);
  QString words;
  for (const std::string& warning : curve->warnings)
    words += (words.isEmpty() ? QString() : QStringLiteral(" ")) + text_of(warning);
  warnings_->setText(words);
  save_->setEnabled(true);
  show_curve(*points, *curve);
}

void CurveBuilder::show_curve(const std::vector<CurvePoint>& points, const OwnCurve& curve) {
  style_plot(*plot_, theme_);
  const auto& output = outputs[static_cast<std::size_t>(output_->currentIndex())];
  const auto law = transfer_law(own_part("own", Quantity::temperature, output.interface, curve), {});
  if (!law) return;
  const Colours& colours = theme_.colours();
  plot_->clearGraphs();
  QVector<double> x, y, px, py;
  const Unit& shown = *columns().quantity;
  constexpr int steps = 120;
  for (int i = 0; i <= steps; ++i) {
    const double world = curve.from + (curve.to - curve.from) * i / steps;
    x << shown.from_base(world);
    y << law->output(world);
  }
  for (const CurvePoint& point : points) {
    px << shown.from_base(point.quantity);
    py << point.output;
  }
  QCPGraph* line = plot_->addGraph();
  line->setData(x, y, true);
  line->setPen(QPen(colours.accent, 2));
  QCPGraph* dots = plot_->addGraph();
  dots->setData(px, py, true);
  dots->setLineStyle(QCPGraph::lsNone);
  dots->setScatterStyle(QCPScatterStyle(QCPScatterStyle::ssCircle, QPen(colours.second, 2), colours.sheet, 8));
  plot_->xAxis->setLabel(text_of(shown.symbol));
  plot_->yAxis->setLabel(QString::fromUtf8(output.symbol));
  plot_->rescaleAxes();
  plot_->xAxis->scaleRange(1.08);
  plot_->yAxis->scaleRange(1.15);
  plot_->replot(QCustomPlot::rpQueuedReplot);
}

void CurveBuilder::save() {
  if (!curve_) return;
  const Quantity quantity = workbench_.chosen().channel ? workbench_.chosen().channel->quantity : Quantity::temperature;
  const Part part = own_part(name_->text().toStdString(), quantity,
                             outputs[static_cast<std::size_t>(output_->currentIndex())].interface, *curve_);
  const auto path = save_user_part(part);
  verdict_->setText(path ? tr("Saved as %1. Choose it under Sensor, or put it on the bench under Board.")
                               .arg(text_of(where_kept(*path)))
                         : text_of(to_text(path.problem())));
  verdict_->set_tint(path ? Tint::accent : Tint::red);
  if (path) workbench_.reload_catalogue();
}

}  // namespace fair_gauge::app

#include "moc_curve_builder.cpp"
