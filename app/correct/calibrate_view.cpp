#include "correct/calibrate_view.h"

#include <fmt/format.h>
#include <qcustomplot.h>

#include <QFileDialog>
#include <QSettings>
#include <algorithm>
#include <cmath>

#include "correct/fit_plot.h"
#include "files/file.h"
#include "language/translation.h"
#include "quantity/day.h"
#include "quantity/number_format.h"
#include "widgets/plain_table.h"
#include "widgets/plot_style.h"

namespace fair_gauge::app {
namespace {

constexpr double window_s = 60;
constexpr int live_every_ms = 400;  // the eye needs no more, and readings may come by the dozen
constexpr int own_curve = -1;       // instead of a model: the part's own law fitted to the points

}  // namespace

CalibrateView::CalibrateView(const Theme& theme, Workbench& workbench, QWidget* parent)
    : QWidget(parent), theme_(theme), workbench_(workbench), background_(this) {
  since_live_.start();
  QWidget* left = scrolled(build_left());
  setLayout(sides(theme, 20, left, 300, {{scrolled(build_right()), 1}}));
  connect(&theme, &Theme::changed, this, &CalibrateView::draw_fit);
  connect(&workbench, &Workbench::selection_changed, this, &CalibrateView::follow_channel);
  connect(&workbench, &Workbench::values_changed, this, [this] {
    if (since_live_.elapsed() > live_every_ms) refresh_live();
  });
  connect(&workbench, &Workbench::bench_changed, this, [this] {
    channel_.clear();
    follow_channel();
  });
}

QWidget* CalibrateView::build_left() {
  procedure_ = choice_box({}, "procedure", tr("Procedure"));
  connect(procedure_, &QComboBox::activated, this, &CalibrateView::choose_procedure);
  steps_ = column(4);
  errors_ = choice_box({tr("one reference for all points"), tr("a reference of its own for each")}, "reference_errors",
                       tr("What the points share"));
  errors_->setToolTip(
      tr("What one reference is off by is in every point alike and does not average away; that of several does."));
  connect(errors_, &QComboBox::activated, this, [this] { draw_fit(); });
  form_place_ = column(0);
  reference_ = new Text(theme_, Face::small, {}, Tint::second);
  reference_->setObjectName(QStringLiteral("reference_words"));
  stable_ = new Text(theme_, Face::small, {}, Tint::quiet);
  stable_->setObjectName(QStringLiteral("stability"));
  for (Text* text : {reference_, stable_}) text->setWordWrap(true);
  span_ = new SpanPlot(theme_);
  connect(span_, &SpanPlot::span_chosen, this, &CalibrateView::refresh_live);
  take_ = new QPushButton(tr("Take the point"));
  take_->setObjectName(QStringLiteral("take_point"));
  take_->setProperty("primary", true);
  connect(take_, &QPushButton::clicked, this, &CalibrateView::take_point);
  auto* log = new QPushButton(tr("From a log…"));
  log->setObjectName(QStringLiteral("from_log"));
  log->setToolTip(
      tr("Opens a log of this channel's raw numbers; drag over the span that the point is to be taken from"));
  connect(log, &QPushButton::clicked, this, [this] {
    const QString path = QFileDialog::getOpenFileName(this, tr("Open a log"), {}, tr("Logs (*.csv);;All files (*)"));
    if (!path.isEmpty()) open_log(path);
  });
  auto* buttons = row(8);
  buttons->addWidget(take_, 1);
  buttons->addWidget(log);
  stack_when_large(theme_, buttons);
  auto* all = column(8);
  all->setContentsMargins(0, 0, 8, 0);
  all->addWidget(procedure_);
  all->addLayout(form_place_);
  all->addWidget(errors_);
  all->addWidget(reference_);
  all->addWidget(span_);
  all->addWidget(stable_);
  all->addLayout(buttons);
  all->addSpacing(4);
  all->addLayout(steps_);
  all->addStretch();
  auto* box = new QWidget;
  box->setLayout(all);
  return box;
}

QWidget* CalibrateView::build_right() {
  plot_ = new QCustomPlot;
  plot_->setObjectName(QStringLiteral("fit_plot"));
  plot_->setMinimumHeight(theme_.column_px(110));
  table_ =
      plain_table(theme_, "points", tr("Calibration points"),
                  {tr("reference"), tr("±, k = 2"), tr("it reads"), tr("to add"), tr("left over")}, {0, 0, 0, 0, 0});
  auto* drop = new QPushButton(tr("Drop the marked point"));
  drop->setObjectName(QStringLiteral("drop_point"));
  drop->setProperty("quiet", true);
  connect(drop, &QPushButton::clicked, this, [this] {
    const int at = table_->currentRow();
    if (at < 0 || at >= static_cast<int>(points_.size())) return;
    auto points = points_;
    if (static_cast<std::size_t>(at) + typed_ >= points.size()) --typed_;
    points.erase(points.begin() + at);
    set_points(std::move(points));
  });
  paste_ = new TextBox("paste_points", tr("Points as text"), most_of_rows);
  paste_->setPlaceholderText(tr("or type points"));
  paste_->setToolTip(
      tr("A row a point: what the reference reads, what is read here, and the reference's standard "
         "uncertainty if it is known. A header of these names may stand above, in any order."));
  paste_->setFont(theme_.font(Face::code));
  const auto grow = [this] {
    const int lines = std::min(paste_->blockCount(), 4);
    paste_->setFixedHeight(theme_.px(18 + 16 * lines));
    paste_->setVerticalScrollBarPolicy(lines < 4 ? Qt::ScrollBarAlwaysOff : Qt::ScrollBarAsNeeded);
  };
  grow();
  connect(paste_, &QPlainTextEdit::blockCountChanged, this, grow);
  connect(paste_, &QPlainTextEdit::textChanged, this, &CalibrateView::take_text);
  model_ = choice_box({}, "model", tr("Model of the correction"));
  model_->setPlaceholderText(tr("correction"));
  connect(model_, &QComboBox::activated, this, [this] { draw_fit(); });
  place_ = choice_box({tr("on the reading, here"), tr("on the raw number, here"), tr("in the part's offset register"),
                       tr("in the firmware")},
                      "correction_place", tr("Where it is carried out"));
  connect(place_, &QComboBox::activated, this, [this] { draw_fit(); });
  why_ = new Text(theme_, Face::small, {}, Tint::quiet);
  why_->setObjectName(QStringLiteral("model_why"));
  verdict_ = new Text(theme_, Face::strong);
  verdict_->setObjectName(QStringLiteral("fit_verdict"));
  for (Text* text : {why_, verdict_}) text->setWordWrap(true);
  instrument_ = new QLineEdit(QSettings().value(QStringLiteral("instrument")).toString());
  instrument_->setObjectName(QStringLiteral("instrument"));
  instrument_->setPlaceholderText(tr("which reference"));
  instrument_->setAccessibleName(tr("Reference and its certificate"));
  who_ = new QLineEdit(QSettings().value(QStringLiteral("who")).toString());
  who_->setObjectName(QStringLiteral("who"));
  who_->setPlaceholderText(tr("who did it"));
  who_->setAccessibleName(tr("Who did it"));
  who_->setMaximumWidth(theme_.px(120));
  put_in_ = new QPushButton(tr("Put the correction in"));
  put_in_->setObjectName(QStringLiteral("put_in"));
  put_in_->setProperty("primary", true);
  put_in_->setToolTip(tr("Ctrl+Z takes it back; the logbook keeps what was done either way."));
  connect(put_in_, &QPushButton::clicked, this, &CalibrateView::put_in);
  auto* choose = row(8);
  choose->addWidget(model_, 1);
  choose->addWidget(place_, 1);
  auto* below = row(8);
  below->addWidget(drop);
  below->addWidget(paste_, 1);
  auto* keep = row(8);
  keep->addWidget(instrument_, 1);
  keep->addWidget(who_);
  keep->addWidget(put_in_);
  auto* all = column(6);
  all->addWidget(plot_, 3);
  all->addLayout(choose);
  all->addWidget(why_);
  all->addWidget(table_, 2);
  all->addLayout(below);
  all->addWidget(verdict_);
  all->addLayout(keep);
  auto* box = new QWidget;
  box->setLayout(all);
  return box;
}

void CalibrateView::showEvent(QShowEvent* event) {
  QWidget::showEvent(event);
  follow_channel();
  refresh_live();
}

const Unit& CalibrateView::unit() const {
  const ChannelView& view = workbench_.chosen();
  return view.chain ? *view.chain->shown : base_unit(Dimension::temperature);
}

InUnit CalibrateView::in_unit() const { return {unit(), workbench_.style()}; }

void CalibrateView::follow_channel() {
  if (!isVisible()) return;
  const Unit* before = std::exchange(unit_, &unit());
  if (channel_ == workbench_.channel_id()) {
    if (before != unit_) rebuild_inputs(), refresh_fit();
    return;
  }
  channel_ = workbench_.channel_id();
  log_.reset();
  span_->clear_span();
  const ChannelView& view = workbench_.chosen();
  procedures_.clear();
  if (view.channel) {
    const Part* part = view.chain ? workbench_.catalogue().find(view.chain->part_id) : nullptr;
    procedures_ = procedures_for(*view.channel, part && part->senses == "chip");
    place_->setItemData(2, part && part->bytes.offset ? QVariant() : QVariant(0), Qt::UserRole - 1);  // greyed out
  }
  procedure_->clear();
  for (const Procedure* each : procedures_) procedure_->addItem(text_of(each->name));
  choose_procedure(0);
  points_ = kept_points(workbench_, channel_);
  typed_ = 0;
  if (!paste_->document()->isModified()) paste_->clear();  // what is not understood yet stays
  refresh_fit();
}

void CalibrateView::choose_procedure(int index) {
  clear(steps_);
  inputs_.clear();
  if (index < 0 || index >= static_cast<int>(procedures_.size())) {
    rebuild_inputs();
    return;
  }
  procedure_->setCurrentIndex(index);
  const Procedure& each = *procedures_[static_cast<std::size_t>(index)];
  int number = 0;
  for (const std::string& step : each.steps) {
    auto* line = new Text(theme_, Face::small, QStringLiteral("%1  %2").arg(++number).arg(text_of(step)));
    line->setWordWrap(true);
    steps_->addWidget(line);
  }
  for (const std::string& caution : each.cautions) {
    auto* line = new Text(theme_, Face::small, text_of(caution), Tint::amber);
    line->setWordWrap(true);
    steps_->addWidget(line);
  }
  const Channel* channel = workbench_.chosen().channel;
  for (const ProcedureInput& input : each.inputs) inputs_.push_back(channel ? input.usual_for(*channel) : input.usual);
  settled_ = inputs_;
  rebuild_inputs();
}

void CalibrateView::rebuild_inputs() {
  clear(form_place_);
  form_ = new Form(theme_);
  form_place_->addWidget(form_);
  paste_->setPlaceholderText(tr("or type points, in %1").arg(text_of(unit().symbol)));
  const int index = procedure_->currentIndex();
  if (index < 0 || inputs_.empty()) return;
  const Procedure& each = *procedures_[static_cast<std::size_t>(index)];
  for (std::size_t i = 0; i < each.inputs.size(); ++i) {
    const ProcedureInput& input = each.inputs[i];
    const QByteArray name = QByteArray("input_") + QByteArray::number(static_cast<int>(i));
    if (!input.choices.empty()) {
      QStringList choices;
      for (const std::string& choice : input.choices) choices << text_of(choice);
      form_
          ->add_choice(text_of(input.name), text_of(input.why), choices, name.constData(),
                       [this, i](int choice) {
                         inputs_[i] = settled_[i] = choice;
                         refresh_live();
                       })
          ->setCurrentIndex(static_cast<int>(input.usual));
      continue;
    }
    const Unit& in = unit_of(input.dimension);
    const bool of_base = in.dimension == Dimension::temperature_difference && in.scale == 1;
    const QString symbol = of_base ? QStringLiteral("°C") : text_of(in.symbol);
    const auto words = [this, i, &in, symbol] {
      return in_own_marks(text_of(shortest(in.from_base(inputs_[i]), workbench_.style())) + QLatin1Char(' ') + symbol);
    };
    auto* field =
        form_->add_quantity(text_of(input.name), text_of(input.why), input.dimension, name.constData(),
                            [this, i, name, words](double value) {
                              inputs_[i] = settled_[i] = value;
                              form_->findChild<QuantityField*>(QLatin1String(name))->show_value(value, words());
                              refresh_live();
                            });
    field->set_unit(in);
    field->setPlaceholderText(symbol);
    if (std::isfinite(inputs_[i])) field->show_value(inputs_[i], words());
    // What is typed counts at once, so that the point can be taken by a click from here.
    const auto take = [this, i](double value) {
      inputs_[i] = value;
      refresh_live();
    };
    connect(field, &QuantityField::value_typed, this, take);
    connect(field, &QuantityField::typing_dropped, this, [this, i, take] { take(settled_[i]); });
    connect(field, &QuantityField::echo_changed, this, [take](const QString&, bool faulty) {
      if (faulty) take(std::nan(""));
    });
  }
}

// What is asked for of the channel's quantity is asked for in the unit in which the channel is shown.
const Unit& CalibrateView::unit_of(Dimension dimension) const {
  if (dimension == unit().dimension) return unit();
  const bool difference = dimension == Dimension::temperature_difference && unit().dimension == Dimension::temperature;
  const Unit* found = difference ? unit_by_ucum(unit().ucum, dimension) : nullptr;
  return found ? *found : base_unit(dimension);
}

Result<ReferenceValue> CalibrateView::reference_now() const {
  const int index = procedure_->currentIndex();
  if (index < 0 || index >= static_cast<int>(procedures_.size()))
    return Problem{translated("no procedure fits this channel"), translated("points pasted as text")};
  const Procedure& each = *procedures_[static_cast<std::size_t>(index)];
  for (std::size_t i = 0; i < inputs_.size(); ++i)
    if (!std::isfinite(inputs_[i]))
      return Problem{translated("\"{}\" is empty", each.inputs[i].name), translated("type a number")};
  return each.reference(inputs_);
}

void CalibrateView::open_log(const QString& path) {
  stable_->setText(tr("Reading %1 …").arg(path.section(QLatin1Char('/'), -1)));
  background_.start(
      [path = path.toStdString(), channel = channel_](const std::atomic<bool>&) -> Result<LogSeries> {
        const auto text = read_file(path, std::size_t{4} << 30);
        if (!text) return text.problem();
        auto log = read_log_series(*text, channel);
        return log ? log : read_log_series(*text, "counts");
      },
      [this](Result<LogSeries> log) {
        if (!log) {
          stable_->setText(text_of(to_text(log.problem())));
          stable_->set_tint(Tint::red);
          return;
        }
        log_ = std::move(*log);
        span_->clear_span();
        refresh_live();
      });
}

void CalibrateView::refresh_live() {
  if (!isVisible() || channel_.empty()) return;
  since_live_.restart();
  const ChannelView& view = workbench_.chosen();
  if (!view.chain) return;
  const InUnit in = in_unit();
  series_ = log_ ? series_of_log(workbench_, channel_, *log_) : live_series(workbench_, channel_);
  span_->show_series(series_, unit());
  Series part = series_;
  if (const auto& span = span_->span()) {
    part = {};
    for (std::size_t i = 0; i < series_.seconds.size(); ++i)
      if (series_.seconds[i] >= span->first && series_.seconds[i] <= span->second)
        part.seconds.push_back(series_.seconds[i]), part.values.push_back(series_.values[i]);
  }
  // A stretch that somebody chose is taken as it is; of what goes on arriving, what stands.
  const bool is_chosen = part.seconds.size() > 1 && (span_->span() || log_);
  const double length = is_chosen ? part.seconds.back() - part.seconds.front() + 1e-6 : window_s;
  stability_ = is_chosen ? judge_stability(part.seconds, part.values, view.channel->tolerance, length)
                         : judge_latest(part.seconds, part.values, view.channel->tolerance, length);
  QString words = text_of(stability_.words);
  if (stability_.readings > 0)
    words = tr("%1 from %2 readings, spread %3: %4")
                .arg(in.value(stability_.mean, std::max(stability_.standard_error, 1e-4)))
                .arg(stability_.readings)
                .arg(in.difference(stability_.sd), words);
  stable_->setText(words);
  stable_->set_tint(stability_.stable ? Tint::accent : Tint::amber);
  const auto reference = reference_now();
  if (reference) {
    const QString doubt = std::isfinite(reference->standard)
                              ? QStringLiteral("±") + in.difference(2 * reference->standard)
                              : tr("nobody knows how good");
    reference_->setText(
        tr("%1 (%2, k = 2): %3")
            .arg(in.value(reference->value, std::isfinite(reference->standard) ? reference->standard : 0.1), doubt,
                 text_of(reference->words)));
    reference_->set_tint(std::isfinite(reference->standard) ? Tint::second : Tint::amber);
  } else {
    reference_->setText(text_of(to_text(reference.problem())));
    reference_->set_tint(Tint::amber);
  }
  take_->setEnabled(reference && stability_.readings > 1);
  take_->setText(stability_.stable || stability_.readings < 2 ? tr("Take the point") : tr("Take it all the same"));
}

void CalibrateView::take_point() {
  const auto reference = reference_now();
  if (!reference || stability_.readings < 2) return;
  RecordedPoint point;
  point.reference = reference->value;
  point.reference_standard = std::isfinite(reference->standard) ? reference->standard : 0;
  point.reading = stability_.mean;
  point.spread = stability_.sd;
  point.readings = stability_.readings;
  point.conditions = reference->words + (stability_.stable ? "" : translated("; it was still moving"));
  auto points = points_;
  points.insert(points.end() - static_cast<std::ptrdiff_t>(typed_), std::move(point));
  set_points(std::move(points));
}

// Points of the field stand behind those that were taken, once they are understood.
void CalibrateView::take_text() {
  const std::string text = paste_->toPlainText().toStdString();
  const bool empty = text.find_first_not_of(" \t\r\n") == std::string::npos;
  if (empty && typed_ == 0) return;
  const auto read = empty ? std::vector<CalibrationPoint>{} : read_calibration_points(text, &unit());
  if (!read) {
    why_->setText(text_of(to_text(read.problem())));
    why_->set_tint(Tint::red);
    return;
  }
  auto points = points_;
  points.resize(points.size() - typed_);
  typed_ = read->size();
  for (const CalibrationPoint& point : *read) {
    RecordedPoint& each = points.emplace_back();
    each.reference = unit().to_base(point.reference);
    each.reading = unit().to_base(point.reading);
    each.reference_standard = point.uncertainty * unit().scale;
    each.conditions = translated("typed");
  }
  paste_->document()->setModified(false);  // they are kept with the channel from now on
  set_points(std::move(points));
}

void CalibrateView::set_points(std::vector<RecordedPoint> points) {
  points_ = std::move(points);
  typed_ = std::min(typed_, points_.size());
  keep_points(workbench_, channel_, points_);
  refresh_fit();
}

void CalibrateView::refresh_fit() {
  const ChannelView& view = workbench_.chosen();
  choice_.reset();
  model_->clear();
  const bool any = !points_.empty() && view.channel;
  for (QWidget* each : std::initializer_list<QWidget*>{model_, place_, errors_, put_in_}) each->setEnabled(any);
  if (!any) {
    why_->setText(
        tr("No point yet. Lead the sensor to a value that you know, wait until it stands, and take the point."));
    why_->set_tint(Tint::quiet);
    verdict_->clear();
    fill_points();
    draw_fit();
    return;
  }
  auto choice = choose_model(points_for_fit(points_), 0, view.channel->wanted, view.channel->tolerance, &unit());
  if (!choice) return why_->setText(text_of(to_text(choice.problem())));
  choice_ = std::move(*choice);
  for (std::size_t i = 0; i < choice_->reports.size(); ++i) {
    const ModelReport& report = choice_->reports[i];
    if (!report.fit) continue;
    QString words = model_name(report.model);
    if (i == choice_->recommended)
      words += tr(", recommended");
    else if (report.model != FitModel::table)
      words +=
          tr(", leaves %1").arg(in_unit().difference(report.worst_residual, std::max(report.worst_residual, 1e-4)));
    model_->addItem(words, static_cast<int>(i));
    if (i == choice_->recommended) model_->setCurrentIndex(model_->count() - 1);
  }
  // A thermistor may get coefficients of its own instead of a correction.
  const Part* part = view.chain ? workbench_.catalogue().find(view.chain->part_id) : nullptr;
  if (part && part->transfer.type.starts_with("thermistor") && points_.size() >= 3)
    model_->addItem(tr("the thermistor's own coefficients"), own_curve);
  const ModelReport& recommended = choice_->reports[choice_->recommended];
  QStringList words{text_of(choice_->why)};
  if (recommended.left_out)
    words << tr("Left out one after another, the points are missed by %1.")
                 .arg(in_unit().difference(*recommended.left_out));
  for (const std::string& warning : choice_->warnings) words << text_of(warning);
  for (const std::size_t outlier : choice_->outliers)
    words << tr("Point %1 is missed by more than chance allows: look at it again.").arg(outlier + 1);
  why_->setText(words.join(QLatin1Char(' ')));
  why_->set_tint(choice_->outliers.empty() ? Tint::quiet : Tint::amber);
  draw_fit();
}

const ModelReport* CalibrateView::chosen_model() const {
  if (!choice_ || model_->currentIndex() < 0 || is_own_curve()) return nullptr;
  return &choice_->reports[static_cast<std::size_t>(model_->currentData().toInt())];
}

CorrectionPlace CalibrateView::place() const {
  constexpr CorrectionPlace places[] = {CorrectionPlace::physical, CorrectionPlace::raw, CorrectionPlace::part,
                                        CorrectionPlace::firmware};
  return places[std::max(0, place_->currentIndex())];
}

void CalibrateView::fill_points() {
  const InUnit in = in_unit();
  const ModelReport* model = chosen_model();
  table_->setRowCount(static_cast<int>(points_.size()));
  for (std::size_t i = 0; i < points_.size(); ++i) {
    const RecordedPoint& point = points_[i];
    const double resolution = std::max({point.reference_standard, point.spread, 1e-4});
    const double left = model && model->fit && i < model->fit->residuals.size() ? model->fit->residuals[i] : 0;
    const QStringList cells = {
        in.value(point.reference, resolution),
        point.reference_standard > 0 ? in.difference(2 * point.reference_standard) : tr("not known"),
        in.value(point.reading, resolution), in.difference(point.reference - point.reading, resolution),
        in.difference(left, resolution)};
    const bool outlier = choice_ && std::ranges::find(choice_->outliers, i) != choice_->outliers.end();
    put_row(*table_, static_cast<int>(i), cells, theme_, outlier ? theme_.colours().red : theme_.colours().ink, 0);
    for (int c = 0; c < 5; ++c) table_->item(static_cast<int>(i), c)->setToolTip(text_of(point.conditions));
  }
}

// The plot, and what the correction does to the verdict.
void CalibrateView::draw_fit() {
  fill_points();
  const ChannelView& view = workbench_.chosen();
  if (!view.channel) {
    plot_->clearPlottables();
    return;
  }
  const ModelReport* model = chosen_model();
  draw_fit_plot(*plot_, theme_, *view.channel, unit(), points_, model && model->fit ? &*model->fit : nullptr);
  if ((!model || !model->fit) && !is_own_curve()) return;
  const auto changed = what_it_does();
  if (!changed) {
    verdict_->setText(text_of(to_text(changed.problem())));
    verdict_->set_tint(Tint::red);
    put_in_->setEnabled(false);
    return;
  }
  const auto effect = effect_of(*changed);
  put_in_->setEnabled(static_cast<bool>(effect));
  if (!effect) return verdict_->setText(tr("The chain has no reading anywhere in the wanted range."));
  const Decision decision = effect->decision;
  const InUnit in = in_unit();
  const double tolerance = view.channel->tolerance;
  QStringList words;
  if (effect->found && tolerance > 0)
    words << tr("As found it is off by %1 at %2, %3 % of what is allowed.")
                 .arg(in.difference(effect->found->error, tolerance / 10), in.value(effect->found->at, tolerance / 10))
                 .arg(std::lround(std::abs(effect->found->error) / tolerance * 100));
  // Both where they are worst in the wanted range.
  if (effect->used_after && effect->used_before)
    words << tr("By its budget it uses %1 % now at its worst in the wanted range, %2 % with the correction.")
                 .arg(std::lround(*effect->used_before * 100))
                 .arg(std::lround(*effect->used_after * 100));
  else if (effect->used_after)
    words << tr("How much it uses now is not known; with the correction %1 % at its worst.")
                 .arg(std::lround(*effect->used_after * 100));
  words << text_of(decision_words(*effect));
  if (const Part* part = workbench_.catalogue().find(view.chain->part_id); part && effect->offset_bytes)
    words << tr("Write %1 to %2.").arg(text_of(*effect->offset_bytes), text_of(part->bytes.offset->address));
  verdict_->setText(words.join(QLatin1Char(' ')));
  verdict_->set_tint(decision == Decision::passes  ? Tint::accent
                     : decision == Decision::fails ? Tint::red
                                                   : Tint::amber);
}

bool CalibrateView::is_own_curve() const {
  return model_->currentIndex() >= 0 && model_->currentData().toInt() == own_curve;
}

Result<PutIn> CalibrateView::what_it_does() const {
  const CalibrationWords words{day_text(today()), instrument_->text().toStdString(),
                               errors_->currentIndex() == 1 ? ReferenceErrors::independent : ReferenceErrors::shared};
  if (is_own_curve()) return put_thermistor(workbench_.bench(), workbench_.catalogue(), channel_, points_, words);
  const ModelReport* model = chosen_model();
  if (!model || !model->fit) return Problem{translated("no model"), translated("a point")};
  return put_correction(workbench_.bench(), workbench_.catalogue(), channel_, *model->fit, points_, place(), words);
}

Result<CalibrationEffect> CalibrateView::effect_of(const PutIn& put) const {
  const ModelReport* model = chosen_model();
  return calibration_effect(workbench_.bench(), put, workbench_.catalogue(), channel_, points_,
                            model && model->fit ? &*model->fit : nullptr);
}

void CalibrateView::put_in() {
  auto put = what_it_does();
  if (!put) return;
  const auto effect = effect_of(*put);
  if (!effect) return;
  const LogEntry entry = calibration_entry(workbench_.bench(), *put, channel_, points_, chosen_model(), *effect,
                                           {.on = now_text().toStdString(),
                                            .who = who_->text().toStdString(),
                                            .procedure = procedure_->currentText().toStdString(),
                                            .reference = instrument_->text().toStdString()});
  QSettings().setValue(QStringLiteral("instrument"), instrument_->text());
  QSettings().setValue(QStringLiteral("who"), who_->text());
  keep_points(workbench_, channel_, {});
  points_.clear();
  typed_ = 0;
  paste_->clear();
  workbench_.document().replace(tr("Correction of %1").arg(text_of(channel_)), std::move(put->bench));
  emit calibrated(entry);
}

}  // namespace fair_gauge::app

#include "moc_calibrate_view.cpp"
