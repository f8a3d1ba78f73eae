#include "watch/switch_view.h"

#include <cmath>

#include "quantity/number_format.h"

namespace fair_gauge::app {

SwitchView::SwitchView(const Theme& theme, Workbench& workbench, WatchLog& log, LogPlot& plot, QWidget* parent)
    : QWidget(parent), workbench_(workbench), log_(log), plot_(plot) {
  words_ = new Text(theme, Face::strong);
  words_->setObjectName(QStringLiteral("switch_words"));
  codes_ = new Text(theme, Face::text);
  codes_->setObjectName(QStringLiteral("switch_codes"));
  care_ = new Text(theme, Face::small, {}, Tint::quiet);
  for (Text* each : {words_, codes_, care_}) each->setWordWrap(true);
  care_->setText(tr(
      "Software is not a safety device: what can overheat or flood has a cut-out of its own in hardware. Mains wiring "
      "is for those who are licensed for it, by the local code. When the sensor fails or its reading is not "
      "plausible, the rule switches off."));
  begin_ = new QPushButton(tr("Switch something by this channel"));
  begin_->setObjectName(QStringLiteral("switch_begin"));
  begin_->setProperty("primary", true);
  end_ = new QPushButton(tr("Take the rule away"));
  end_->setObjectName(QStringLiteral("switch_end"));
  form_ = new Form(theme);
  kind_ = form_->add_choice(
      tr("It"), tr("A heater goes on below the goal, a cooler or a fan above it"), {tr("heats"), tr("cools")},
      "switch_kind",
      [this](int i) { change(tr("Switching: heats or cools"), [i](SwitchingRule& rule) { rule.heats = i == 0; }); });
  goal_ = form_->add_quantity(
      tr("Goal"), tr("The value to hold"), Dimension::temperature, "switch_goal",
      [this](double v) { change(tr("Switching: goal"), [v](SwitchingRule& rule) { rule.goal = v; }); });
  band_ = form_->add_quantity(
      tr("Half band ±"), tr("Half the width of the dead band (hysteresis): inside it nothing changes"),
      Dimension::temperature_difference, "switch_band", [this](double v) {
        change(tr("Switching: half band"), [v](SwitchingRule& rule) { rule.band = std::max(0.0, v); });
      });
  minimum_on_ = form_->add_quantity(tr("On for at least"), tr("Relays and compressors wear with every change"),
                                    Dimension::time, "switch_minimum_on", [this](double v) {
                                      change(tr("Switching: least time on"),
                                             [v](SwitchingRule& rule) { rule.minimum_on_s = std::max(0.0, v); });
                                    });
  minimum_off_ = form_->add_quantity(tr("Off for at least"), tr("A compressor must rest before it starts again"),
                                     Dimension::time, "switch_minimum_off", [this](double v) {
                                       change(tr("Switching: least time off"),
                                              [v](SwitchingRule& rule) { rule.minimum_off_s = std::max(0.0, v); });
                                     });
  every_ = form_->add_quantity(tr("Looks every"), tr("Time between two looks at the reading; 0: every reading"),
                               Dimension::time, "switch_every", [this](double v) {
                                 change(tr("Switching: looks every"),
                                        [v](SwitchingRule& rule) { rule.every_s = std::max(0.0, v); });
                               });
  schedule_ = form_->add_words(
      tr("Over the day"),
      tr("Other goals from a time of day on, UTC as the readings have it: 06:00 21; 22:00 18. Empty: the goal holds"),
      "switch_schedule", [this](const QString& words) { take_schedule(words); });
  schedule_->setPlaceholderText(tr("06:00 21; 22:00 18"));
  connect(begin_, &QPushButton::clicked, this, [this] {
    workbench_.document().edit(tr("Switching"), [this](Bench& bench) {
      if (Channel* channel = find_by_id(bench.channels, workbench_.channel_id()))
        channel->switching =
            SwitchingRule{.goal = (channel->wanted.from + channel->wanted.to) / 2, .band = channel->tolerance};
    });
  });
  connect(end_, &QPushButton::clicked, this, [this] {
    workbench_.document().edit(tr("No switching"), [this](Bench& bench) {
      if (Channel* channel = find_by_id(bench.channels, workbench_.channel_id())) channel->switching.reset();
    });
  });
  auto* all = column(8);
  all->addWidget(begin_, 0, Qt::AlignLeft);
  all->addWidget(form_);
  for (Text* each : {words_, codes_, care_}) all->addWidget(each);
  all->addWidget(end_, 0, Qt::AlignLeft);
  all->addStretch();
  setLayout(all);
  connect(&log, &WatchLog::changed, this, &SwitchView::refresh);
  connect(&workbench, &Workbench::bench_changed, this, &SwitchView::refresh);
}

void SwitchView::showEvent(QShowEvent* event) {
  QWidget::showEvent(event);
  plot_.show_filtered({});
  refresh();
}

void SwitchView::change(const QString& label, const std::function<void(SwitchingRule&)>& change) {
  workbench_.document().edit(label, [&](Bench& bench) {
    Channel* channel = find_by_id(bench.channels, workbench_.channel_id());
    if (channel && channel->switching) change(*channel->switching);
  });
}

// Empty words take it away; what is not understood stays in the field, and is said.
void SwitchView::take_schedule(const QString& words) {
  const Channel* channel = find_by_id(workbench_.bench().channels, workbench_.channel_id());
  const Unit* shown = channel ? unit_by_ucum(channel->unit) : nullptr;
  if (!shown || !channel->switching) return;
  const auto schedule = read_schedule(words.toStdString(), *shown);
  refused_ = schedule ? QString() : text_of(to_text(schedule.problem()));
  if (!schedule) return refresh();
  std::vector<ScheduledGoal> kept;
  for (const DayGoal& each : *schedule) kept.push_back({each.at_s, shown->to_base(each.goal)});
  change(tr("Switching: over the day"), [&](SwitchingRule& rule) { rule.schedule = kept; });
}

void SwitchView::refresh() {
  if (!isVisible()) return;
  const Channel* channel = find_by_id(workbench_.bench().channels, workbench_.channel_id());
  const Unit* shown = channel ? unit_by_ucum(channel->unit) : nullptr;
  const bool has_rule = channel && shown && channel->switching;
  if (std::exchange(channel_, workbench_.channel_id()) != channel_) refused_.clear();
  begin_->setVisible(channel && shown && !has_rule);
  for (QWidget* each : {static_cast<QWidget*>(form_), static_cast<QWidget*>(codes_), static_cast<QWidget*>(end_)})
    each->setVisible(has_rule);
  if (!has_rule) {
    words_->setText(
        tr("Nothing is switched by this channel. A rule is tried here on the readings before anything hangs on it."));
    return plot_.show_switching({}, {});
  }
  const NumberStyle& style = workbench_.style();
  SwitchRule rule = rule_of(*channel->switching, *shown);
  const bool is_temperature = shown->dimension == Dimension::temperature;
  goal_->set_dimension(shown->dimension);
  goal_->set_unit(*shown);
  band_->set_dimension(is_temperature ? Dimension::temperature_difference : shown->dimension);
  if (!is_temperature) band_->set_unit(*shown);
  const auto number = [](double value) {  // as few decimals as say it
    int decimals = 0;
    while (decimals < 4 && std::abs(value * std::pow(10, decimals) - std::round(value * std::pow(10, decimals))) > 1e-6)
      ++decimals;
    return decimals;
  };
  kind_->setCurrentIndex(rule.heats ? 0 : 1);
  goal_->show_value(channel->switching->goal, text_of(with_unit(rule.goal, number(rule.goal), shown->symbol, style)));
  band_->show_value(channel->switching->band,
                    text_of(with_unit(rule.band, number(rule.band), difference_symbol(*shown), style)));
  for (const auto& [field, seconds] :
       {std::pair{minimum_on_, rule.minimum_on_s}, {minimum_off_, rule.minimum_off_s}, {every_, rule.every_s}})
    field->show_value(seconds, text_of(with_unit(seconds, number(seconds), "s", style)));
  if (refused_.isEmpty() && !(schedule_->hasFocus() && schedule_->isModified()))
    schedule_->setText(text_of(schedule_text(rule.schedule, style)));
  const auto& watched = log_.watched();
  const bool no_clock = !rule.schedule.empty() && watched && !watched->is_dated;
  if (no_clock) rule.schedule.clear();
  if (!refused_.isEmpty()) {
    words_->setText(refused_);
    words_->set_tint(Tint::red);
    codes_->clear();
    return plot_.show_switching({}, {});
  }
  words_->set_tint(Tint::ink);
  if (!watched || watched->chain.channel.id != channel->id || watched->log->rows.empty()) {
    words_->setText(tr("No readings to try it on yet."));
    codes_->clear();
    return plot_.show_switching({}, {});
  }
  work_.start(
      [watched, rule](const std::atomic<bool>&) { return switch_on_log(*watched->log, rule, watched->plausible); },
      [this, watched, rule](const Switched& switched) {
        if (log_.watched() == watched && isVisible()) show_switched(*watched, rule, switched);
      });
}

void SwitchView::show_switched(const Watched& of, const SwitchRule& rule, const Switched& switched) {
  const Unit* shown = of.chain.shown;
  const NumberStyle& style = workbench_.style();
  const SwitchCodes codes = switch_codes(of.chain, rule);
  auto sentences = switch_words(rule, switched, codes, of.review.noise, shown->symbol);
  sentences.pop_back();  // the caution stands below, with the others
  QStringList said;
  for (const std::string& each : sentences) {
    QString sentence = text_of(each);
    sentence[0] = sentence[0].toUpper();
    said << sentence + QLatin1Char('.');
  }
  if (rule.schedule.empty() && of.chain.channel.switching && !of.chain.channel.switching->schedule.empty())
    said << tr("These readings have no time of day: they are tried with the goal alone.");
  words_->setText(said.join(QLatin1Char(' ')));
  QStringList compared;
  for (const auto& [name, limit] : {std::pair{tr("On"), codes.on}, {tr("Off"), codes.off}})
    if (limit) {
      const double means = limit->means.value_or(std::nan(""));
      compared << tr("%1 while the raw number %2 %3%4.")
                      .arg(name, text_of(limit->compare), text_of(fixed(limit->code, 0, style)),
                           std::isfinite(means)
                               ? tr(", which reads %1")
                                     .arg(text_of(with_unit(means, Workbench::decimals_of(workbench_.chosen()) + 1,
                                                            shown->symbol, style)))
                               : QString());
    }
  codes_->setText(compared.join(QLatin1Char('\n')));
  plot_.show_switching(rule, switched.on);
}

}  // namespace fair_gauge::app

#include "moc_switch_view.cpp"
