#include "watch/alarm_view.h"

#include <cmath>

#include "digital/decoder.h"
#include "quantity/number_format.h"
#include "widgets/findings.h"

namespace fair_gauge::app {
namespace {

constexpr std::size_t most_listed = 6;

}  // namespace

AlarmView::AlarmView(const Theme& theme, Workbench& workbench, WatchLog& log, LogPlot& plot, QWidget* parent)
    : QWidget(parent), theme_(theme), workbench_(workbench), log_(log), plot_(plot) {
  state_ = new Text(theme, Face::title);
  state_->setObjectName(QStringLiteral("alarm_state"));
  rules_ = new Text(theme, Face::small, {}, Tint::quiet);
  rules_->setObjectName(QStringLiteral("alarm_rules"));
  stored_ = new Text(theme, Face::small, {}, Tint::second);
  stored_->setObjectName(QStringLiteral("alarm_stored"));
  for (Text* each : {state_, rules_, stored_}) each->setWordWrap(true);
  form_place_ = column(0);
  events_ = column(4);
  read_ = new QPushButton;
  read_->setObjectName(QStringLiteral("alarm_read"));
  off_ = new QPushButton(tr("No limits any more"));
  off_->setObjectName(QStringLiteral("alarm_off"));
  off_->setProperty("quiet", true);
  connect(read_, &QPushButton::clicked, this, [this] {
    const auto& samples = workbench_.samples(workbench_.channel_id());
    if (!samples.empty()) reads_.push_back(samples.back().seconds);
    refresh();
  });
  connect(off_, &QPushButton::clicked, this, [this] {
    workbench_.document().edit(tr("No limits in the part"), [this](Bench& bench) {
      if (Channel* channel = find_by_id(bench.channels, workbench_.channel_id())) channel->limits.reset();
    });
  });
  auto* all = column(10);
  all->addWidget(state_);
  all->addLayout(form_place_);
  all->addWidget(stored_);
  all->addWidget(rules_);
  all->addWidget(read_, 0, Qt::AlignLeft);
  all->addLayout(events_);
  all->addWidget(off_, 0, Qt::AlignLeft);
  all->addStretch();
  setLayout(all);
  connect(&log, &WatchLog::changed, this, &AlarmView::refresh);
  connect(&workbench, &Workbench::bench_changed, this, &AlarmView::refresh);
  connect(&workbench, &Workbench::selection_changed, this, &AlarmView::refresh);
}

void AlarmView::showEvent(QShowEvent* event) {
  QWidget::showEvent(event);
  refresh();
}

void AlarmView::hideEvent(QHideEvent* event) {
  QWidget::hideEvent(event);
  plot_.show_switching({}, {});
}

void AlarmView::change(const QString& label, const std::function<void(OwnLimits&)>& change) {
  workbench_.document().edit(label, [&](Bench& bench) {
    Channel* channel = find_by_id(bench.channels, workbench_.channel_id());
    if (!channel) return;
    OwnLimits limits = channel->limits.value_or(OwnLimits());
    change(limits);
    channel->limits = limits;
  });
}

void AlarmView::build_fields(Dimension dimension) {
  if (dimension_ == dimension) return;
  dimension_ = dimension;
  clear(form_place_);
  form_ = new Form(theme_);
  form_place_->addWidget(form_);
  upper_ =
      form_->add_quantity(tr("Upper limit"), tr("Of the reading as this bench corrects it"), dimension, "alarm_upper",
                          [this](double value) {
                            change(tr("Upper limit in the part"), [value](OwnLimits& each) { each.upper = value; });
                          });
  lower_ =
      form_->add_quantity(tr("Lower limit"), tr("Below it, it alerts as well, or an alert from above is released"),
                          dimension, "alarm_lower", [this](double value) {
                            change(tr("Lower limit in the part"), [value](OwnLimits& each) { each.lower = value; });
                          });
}

const LimitLayout* AlarmView::layout(const DigitalFace& face) const {
  if (!face.part) return nullptr;
  for (const LimitLayout& each : face.part->bytes.limits)
    if (each.alarm && each.quantity.value_or(face.part->quantities.front().quantity) == face.quantity) return &each;
  return nullptr;
}

void AlarmView::say_nothing(const QString& words) {
  state_->setText(words);
  state_->set_tint(Tint::quiet);
  for (QWidget* each : std::initializer_list<QWidget*>{rules_, stored_, read_, off_}) each->hide();
  if (form_) form_->hide();
  clear(events_);
  plot_.show_switching({}, {});
}

QString AlarmView::words_of(const PlacedLimit& limit, const Chain& chain) const {
  const Unit& shown = *chain.shown;
  const double step = std::max(step_at(chain, limit.means) / shown.scale, 1e-9);
  return tr("0x%1, which is %2")
      .arg(text_of(to_hex(limit.stored.bytes)),
           text_of(with_unit(shown.from_base(limit.means), std::isfinite(step) ? decimals_for(step, 1) : 1,
                             shown.symbol, workbench_.style())));
}

void AlarmView::refresh() {
  if (!isVisible()) return;
  const ChannelView& view = workbench_.chosen();
  if (!view.channel) return say_nothing(tr("This bench has no channels yet."));
  if (channel_ != workbench_.channel_id()) channel_ = workbench_.channel_id(), reads_.clear();
  const DigitalFace face = workbench_.digital_face(*view.channel);
  const LimitLayout* limits = view.channel->derived ? nullptr : layout(face);
  if (!view.chain || !limits)
    return say_nothing(
        tr("No limits of the part's own are described for this channel: the firmware compares. Switch "
           "has the codes for that."));
  const Part& part = *face.part;
  const auto values = registers_of(part.bytes, face.device->settings, face.device->registers);
  const auto rules = alarm_rules(part.bytes, *limits->alarm, values, face.device->settings);
  if (!rules) return say_nothing(sentence(to_text(rules.problem())));
  build_fields(view.chain->shown->dimension);
  form_->show();
  const Chain& chain = *view.chain;
  const OwnLimits wished = view.channel->limits.value_or(OwnLimits());
  QStringList stored;
  AlarmLimits compared;
  std::optional<double> upper, lower;
  const auto place = [&](QuantityField* field, std::optional<double> wish, LimitSide side, const QString& words,
                         std::optional<double>& into, std::optional<double>& means) {
    field->setPlaceholderText(tr("none, %1").arg(text_of(chain.shown->symbol)));
    if (!wish) {
      if (!field->hasFocus() || !field->isModified()) field->clear();  // not what somebody is typing
      return;
    }
    field->show_value(*wish,
                      text_of(with_unit(chain.shown->from_base(*wish), 2, chain.shown->symbol, workbench_.style())));
    const auto placed = place_limit(chain, *limits, *wish, side);
    if (!placed) return void(stored << words.arg(text_of(to_text(placed.problem()))));
    into = placed->stored.value, means = placed->means;
    stored << words.arg(words_of(*placed, chain));
  };
  place(upper_, wished.upper, LimitSide::upper, tr("Write as the upper limit %1."), compared.upper, upper);
  place(lower_, wished.lower, LimitSide::lower, tr("Write as the lower limit %1."), compared.lower, lower);
  const bool crossed = upper && lower && *lower >= *upper;
  if (crossed) stored.prepend(tr("The lower limit is not below the upper one: such an alert means nothing."));
  stored_->set_tint(crossed ? Tint::red : Tint::second);
  if (!stored.isEmpty()) stored << tr("Registers %1.").arg(text_of(limits->address));
  stored_->setText(stored.join(QLatin1Char('\n')));
  stored_->setVisible(!stored.isEmpty());
  rules_->setText(text_of(fair_gauge::words_of(*rules, *limits->alarm, chain.base->symbol)) + QLatin1Char(' ') +
                  tr("Read, Registers has what makes it so."));
  rules_->show();
  off_->setVisible(view.channel->limits.has_value());
  read_->setText(tr("Ask it now: %1").arg(text_of(limits->alarm->cleared_by)));
  read_->setVisible(rules->is_on && rules->waits_for_a_read() && log_.is_session() && (upper || lower));
  if (!rules->is_on || (!upper && !lower)) {
    state_->setText(rules->is_on ? tr("Type a limit: the part then compares by itself, and it is tried here.")
                                 : tr("It does not compare."));
    state_->set_tint(Tint::quiet);
    clear(events_);
    return plot_.show_switching({}, {});
  }
  if (const auto& watched = log_.watched(); watched && watched->chain.channel.id == channel_)
    show_course(watched, *rules, compared, *limits, upper, lower);
}

void AlarmView::show_course(const std::shared_ptr<const Watched>& watched, const AlarmRules& rules,
                            const AlarmLimits& limits, const LimitLayout& layout, std::optional<double> upper,
                            std::optional<double> lower) {
  constexpr std::size_t at_once = 20'000;  // rows, a few milliseconds
  const auto& rows = watched->log->rows;
  if (rows.empty()) {
    state_->setText(tr("No reading has come yet."));
    state_->set_tint(Tint::quiet);
    return clear(events_);
  }
  std::vector<std::size_t> reads;
  if (log_.is_session()) {
    const auto& samples = workbench_.samples(channel_);
    const std::size_t last = std::min(rows.size(), samples.size());
    const double begins = last > 0 ? samples[last - 1].seconds - rows[last - 1].seconds : 0;
    for (const double read : reads_) {
      const auto after = std::ranges::upper_bound(rows, read - begins + 1e-6, {}, &LogReading::seconds);
      reads.push_back(static_cast<std::size_t>(after - rows.begin()));
    }
  }
  const auto course_of = [watched, rules, limits, layout, asked = std::move(reads), asks_always = !log_.is_session()] {
    const auto& all = watched->log->rows;
    std::vector<double> compared;
    compared.reserve(all.size());
    for (const LogReading& row : all)
      compared.push_back(row.is_good() ? compared_of(watched->chain, layout, row.raw) : std::nan(""));
    std::vector<std::size_t> when = asked;
    for (std::size_t i = 1; asks_always && i < all.size(); ++i) when.push_back(i);
    return run_alarm(rules, limits, compared, when);
  };
  work_.cancel();
  if (rows.size() <= at_once) return show_events(*watched, rules, layout, course_of(), upper, lower);
  work_.start([course_of](const std::atomic<bool>&) { return course_of(); },
              [this, watched, rules, layout, upper, lower](const AlarmCourse& course) {
                if (isVisible() && log_.watched() == watched)
                  show_events(*watched, rules, layout, course, upper, lower);
              });
}

void AlarmView::show_events(const Watched& watched, const AlarmRules& rules, const LimitLayout& layout,
                            const AlarmCourse& course, std::optional<double> upper, std::optional<double> lower) {
  const auto& rows = watched.log->rows;
  const auto pin = [&](bool asserted) {
    const std::string& name = layout.alarm->pin;
    if (name.empty()) return QString();
    return QStringLiteral(", ") +
           (asserted == rules.active_high ? tr("%1 goes high") : tr("%1 goes low")).arg(text_of(name));
  };
  const auto side = [&](AlarmSide each) {
    return each == AlarmSide::above ? tr("above") : each == AlarmSide::below ? tr("below") : tr("back");
  };
  const double now = rows.back().seconds;
  state_->setText(!course.is_asserted ? tr("Quiet")
                  : course.events.empty()
                      ? tr("Alert: %1").arg(side(course.side))
                      : tr("Alert for %1: %2")
                            .arg(duration_words(now - rows[course.events.back().reading].seconds), side(course.side)));
  state_->set_tint(course.is_asserted ? Tint::red : Tint::accent);
  std::vector<Finding> lines;
  if (!log_.is_session() && rules.waits_for_a_read())
    lines.push_back({Severity::note, tr("In a log the firmware is taken to ask at every row.").toStdString()});
  for (std::size_t i = 0; i < course.events.size() && i < most_listed; ++i) {
    const AlarmEvent& each = course.events[course.events.size() - 1 - i];
    const QString why = each.by_a_read ? tr("asked") : side(each.side);
    lines.push_back({each.asserted ? Severity::warning : Severity::note,
                     tr("%1 ago: %2%3")
                         .arg(duration_words(now - rows[each.reading].seconds), why, pin(each.asserted))
                         .toStdString()});
  }
  if (course.events.empty())
    lines.push_back({Severity::note, tr("Nothing has tripped in these readings.").toStdString()});
  list_findings(events_, theme_, lines, most_listed + 1);
  const Unit& shown = *watched.chain.shown;
  const double high = shown.from_base(upper.value_or(lower.value_or(0))),
               low = shown.from_base(lower.value_or(upper.value_or(0)));
  SwitchRule band;
  band.goal = (high + low) / 2, band.band = std::abs(high - low) / 2;
  plot_.show_switching(band, course.asserted, tr("alert"));
}

}  // namespace fair_gauge::app

#include "moc_alarm_view.cpp"
