#include "watch/switch_view.h"

#include <cmath>

#include "quantity/number_format.h"
#include "stream/review.h"
#include "widgets/findings.h"

namespace fair_gauge::app {

SwitchView::SwitchView(const Theme& theme, Workbench& workbench, WatchLog& log, LogPlot& plot, QWidget* parent)
    : QWidget(parent), theme_(theme), workbench_(workbench), log_(log), plot_(plot) {
  words_ = new Text(theme, Face::strong);
  words_->setObjectName(QStringLiteral("switch_words"));
  codes_ = new Text(theme, Face::text);
  codes_->setObjectName(QStringLiteral("switch_codes"));
  care_ = new Text(theme, Face::small, {}, Tint::quiet);
  for (Text* each : {words_, codes_, care_}) each->setWordWrap(true);
  care_->setText(tr(
      "Software is not a safety device: what can overheat or flood has a cut-out of its own in hardware. Mains wiring "
      "is for those who are licensed for it, by the local code. When the sensor fails or its reading is not "
      "plausible, the rule goes to its safe state, off unless said otherwise. What it decides while a recording is on "
      "goes to the recording's events."));
  build_rule();
  build_room();
  decisions_ = column(2);
  auto* all = column(8);
  all->addWidget(begin_, 0, Qt::AlignLeft);
  all->addWidget(form_);
  all->addWidget(in_room_, 0, Qt::AlignLeft);
  all->addWidget(room_);
  all->addWidget(words_);
  all->addLayout(decisions_);
  all->addWidget(codes_);
  all->addWidget(care_);
  all->addWidget(end_, 0, Qt::AlignLeft);
  all->addStretch();
  setLayout(all);
  connect(&log, &WatchLog::changed, this, [this] {
    if (!is_in_room()) refresh();
  });
  connect(&workbench, &Workbench::bench_changed, this, &SwitchView::refresh);
}

// The rule, and what begins and ends it.
void SwitchView::build_rule() {
  begin_ = new QPushButton(tr("Switch by this channel"));
  begin_->setObjectName(QStringLiteral("switch_begin"));
  begin_->setProperty("primary", true);
  end_ = new QPushButton(tr("Take the rule away"));
  end_->setObjectName(QStringLiteral("switch_end"));
  connect(begin_, &QPushButton::clicked, this, [this] {
    workbench_.document().edit(tr("Switching"), [this](Bench& bench) {
      if (Channel* channel = find_by_id(bench.channels, workbench_.channel_id()))
        channel->switching = first_rule(*channel);
    });
    goal_->setFocus();
  });
  connect(end_, &QPushButton::clicked, this, [this] {
    workbench_.document().edit(tr("No switching"), [this](Bench& bench) {
      if (Channel* channel = find_by_id(bench.channels, workbench_.channel_id())) channel->switching.reset();
    });
  });
  form_ = new Form(theme_);
  kind_ = form_->add_choice(
      tr("It"), tr("What raises the reading goes on below the goal, what lowers it above"), {{}, {}}, "switch_kind",
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
  stale_ = form_->add_quantity(
      tr("No reading for"), tr("Until its safe state; 0: at once"), Dimension::time, "switch_stale", [this](double v) {
        change(tr("Switching: stale after"), [v](SwitchingRule& rule) { rule.stale_s = std::max(0.0, v); });
      });
  safe_ = form_->add_choice(tr("It then goes"), tr("Its safe state: a heater off; a fan that must not stop, on"),
                            {tr("off"), tr("on")}, "switch_safe", [this](int chosen) {
                              change(tr("Switching: safe state"),
                                     [chosen](SwitchingRule& rule) { rule.safe_on = chosen == 1; });
                            });
  shutdown_ = form_->add_quantity(
      tr("Shuts down above"),
      tr("Such as what the chip is rated for: all off, until somebody begins anew. Empty: "
         "never"),
      Dimension::temperature, "switch_shutdown",
      [this](double v) { change(tr("Switching: shutdown"), [v](SwitchingRule& rule) { rule.shutdown_above = v; }); });
  shutdown_->set_emptied(tr("never"), [this] {
    change(tr("Switching: no shutdown"), [](SwitchingRule& rule) { rule.shutdown_above.reset(); });
  });
}

// A simulated room to try the rule in.
void SwitchView::build_room() {
  in_room_ = new QPushButton(tr("Try it in a simulated room"));
  in_room_->setObjectName(QStringLiteral("switch_in_room"));
  in_room_->setCheckable(true);
  connect(in_room_, &QPushButton::toggled, this, [this](bool on) {
    in_room_->setText(on ? tr("Back to the readings") : tr("Try it in a simulated room"));
    if (on) change_room(tr("Room to switch in"), [](SwitchedRoom&) {});
    if (!on) plot_.show_log(log_.watched());
    refresh();
  });
  auto* room = new Form(theme_);
  room->add_heading(tr("THE ROOM"));
  outside_ = room->add_quantity(
      tr("Outside it is"), tr("What it comes to without heater or cooler"), Dimension::temperature, "room_outside",
      [this](double v) { change_room(tr("Room: outside"), [v](SwitchedRoom& each) { each.outside = v; }); });
  power_ = room->add_quantity(
      tr("Power, W"), tr("Of the heater or cooler while it is on"), Dimension::number, "room_power", [this](double v) {
        change_room(tr("Room: power"), [v](SwitchedRoom& each) { each.power_w = std::max(0.0, v); });
      });
  loss_ = room->add_quantity(tr("Loses, W/K"), tr("Heat that goes outside for each kelvin of difference"),
                             Dimension::number, "room_loss", [this](double v) {
                               change_room(tr("Room: loss"),
                                           [v](SwitchedRoom& each) { each.loss_w_per_k = std::max(1e-6, v); });
                             });
  mass_ = room->add_quantity(tr("Holds, J/K"), tr("Heat for each kelvin: a kilogram of water 4190, of air 1010"),
                             Dimension::number, "room_mass", [this](double v) {
                               change_room(tr("Room: thermal mass"),
                                           [v](SwitchedRoom& each) { each.mass_j_per_k = std::max(1e-6, v); });
                             });
  hours_ = room->add_quantity(tr("For so long"), tr("Up to ten days"), Dimension::time, "room_hours", [this](double v) {
    hours_wanted_ = std::clamp(v / 3600, 0.01, 240.0);
    refresh();
  });
  auto* fit = new QPushButton(tr("Take it from the step in view"));
  fit->setObjectName(QStringLiteral("room_fit"));
  fit->setToolTip(
      tr("A recorded step: from rest without the heater or cooler, which then ran all the time with the "
         "power above. Zoom to it in the readings first"));
  connect(fit, &QPushButton::clicked, this, &SwitchView::fit_room);
  auto* room_lines = column(4);
  room_lines->addWidget(room);
  room_lines->addWidget(fit, 0, Qt::AlignLeft);
  room_ = new QWidget;
  room_->setLayout(room_lines);
}

void SwitchView::showEvent(QShowEvent* event) {
  QWidget::showEvent(event);
  plot_.show_filtered({});
  refresh();
}

// The other views look at the readings.
void SwitchView::hideEvent(QHideEvent* event) {
  QWidget::hideEvent(event);
  in_room_->setChecked(false);
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

void SwitchView::change_room(const QString& label, const std::function<void(SwitchedRoom&)>& change_it) {
  change(label, [&](SwitchingRule& rule) {
    if (!rule.room) {  // as cold outside as half of it can heat away, or as warm
      rule.room = SwitchedRoom();
      const double half = rule.room->power_w / rule.room->loss_w_per_k / 2;
      rule.room->outside = rule.goal + (rule.heats ? -half : half);
    }
    change_it(*rule.room);
  });
}

// The readings in view as a step of the heater or cooler.
void SwitchView::fit_room() {
  const auto& watched = log_.watched();
  const Channel* channel = find_by_id(workbench_.bench().channels, workbench_.channel_id());
  if (!watched || !channel || !channel->switching || !channel->switching->room) return;
  plot_.show_log(watched);
  std::vector<std::pair<double, double>> readings;
  const auto [first, end] = plot_.in_view();
  for (std::size_t i = first; i < end && i < watched->log->rows.size(); ++i)
    if (const LogReading& row = watched->log->rows[i]; row.is_good())
      readings.emplace_back(row.seconds, watched->chain.shown->to_base(row.reading));
  const auto room = room_of_step(readings, channel->switching->room->power_w, channel->switching->heats);
  if (!room) {
    words_->set_tint(Tint::red);
    return words_->setText(
        tr("What is in view is no step that this heater or cooler could have made: it has to begin "
           "at rest and go its way."));
  }
  change_room(tr("Room of a recorded step"), [&](SwitchedRoom& each) { each = *room; });
  refresh();
}

// The rule in the room: what the sensor would read there, and what would be switched.
void SwitchView::refresh_room(const Channel& channel, const SwitchRule& rule) {
  const NumberStyle& style = workbench_.style();
  const SwitchedRoom room = channel.switching->room.value_or(SwitchedRoom());
  const Unit& shown = *unit_by_ucum(channel.unit);
  outside_->set_unit(shown);
  outside_->show_value(room.outside, text_of(with_unit(shown.from_base(room.outside), 1, shown.symbol, style)));
  for (const auto& [field, value, unit] :
       {std::tuple(power_, room.power_w, "W"), {loss_, room.loss_w_per_k, "W/K"}, {mass_, room.mass_j_per_k, "J/K"}})
    field->show_value(value, text_of(with_prefix(value, unit, 4, style)));
  hours_->show_value(hours_wanted_ * 3600, text_of(with_unit(hours_wanted_, hours_wanted_ < 10 ? 2 : 0, "h", style)));
  const auto& chain = workbench_.chosen().chain;
  const Device* device = find_by_id(workbench_.bench().devices, channel.device);
  const Part* part = device ? workbench_.catalogue().find(device->part) : nullptr;
  if (!chain) return words_->setText(tr("The chain of this channel cannot be built."));
  work_.start(
      [chain = *chain, rule, room, lag = part ? part->response_s : 0.0, hours = hours_wanted_,
       times = part_times(workbench_.bench(), workbench_.catalogue(), *chain)](const std::atomic<bool>& cancelled) {
        auto run = run_in_room(chain, rule, room, plausible_range(chain, times), lag, hours, 1, &cancelled);
        auto watched =
            run && !cancelled ? watched_of(chain, times, std::make_shared<const ChannelLog>(run->log)) : nullptr;
        return std::pair(std::move(run), std::move(watched));
      },
      [this, rule, room](const std::pair<Result<RoomRun>, std::shared_ptr<Watched>>& made) {
        if (!isVisible() || !in_room_->isChecked()) return;
        const auto& [run, watched] = made;
        if (!run) return words_->setText(sentence(to_text(run.problem())));
        QStringList said;
        for (const std::string& each : room_words(*run, rule, room, difference_symbol(*watched->chain.shown)))
          said << sentence(each);
        words_->setText(said.join(QLatin1Char(' ')));
        plot_.show_log(watched);
        plot_.show_filtered(run->truth, tr("the room"));
        plot_.show_switching(rule, run->switched.on);
      });
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
  const bool in_room = has_rule && in_room_->isChecked();
  const bool is_temperature = shown && shown->dimension == Dimension::temperature;
  in_room_->setVisible(has_rule && is_temperature);
  room_->setVisible(in_room);
  if (!has_rule || in_room) clear(decisions_);
  if (!in_room) plot_.show_filtered({});
  if (!has_rule) {
    words_->setText(
        tr("Nothing is switched by this channel. A rule is tried here on the readings before anything hangs on it."));
    return plot_.show_switching({}, {});
  }
  const NumberStyle& style = workbench_.style();
  SwitchRule rule = rule_of(*channel->switching, *shown);
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
  for (const bool raises : {true, false})
    kind_->setItemText(raises ? 0 : 1, text_of(switch_verb(raises, shown->dimension)));
  kind_->setCurrentIndex(rule.heats ? 0 : 1);
  goal_->show_value(channel->switching->goal, text_of(with_unit(rule.goal, number(rule.goal), shown->symbol, style)));
  band_->show_value(channel->switching->band,
                    text_of(with_unit(rule.band, number(rule.band), difference_symbol(*shown), style)));
  for (const auto& [field, seconds] :
       {std::pair{minimum_on_, rule.minimum_on_s}, {minimum_off_, rule.minimum_off_s}, {every_, rule.every_s}})
    field->show_value(seconds, text_of(with_unit(seconds, number(seconds), "s", style)));
  stale_->show_value(rule.stale_s, text_of(with_unit(rule.stale_s, number(rule.stale_s), "s", style)));
  safe_->setCurrentIndex(rule.safe_on ? 1 : 0);
  shutdown_->set_dimension(shown->dimension);
  shutdown_->set_unit(*shown);
  const double shutdown = rule.shutdown_above.value_or(std::nan(""));
  shutdown_->show_value(shutdown, text_of(with_unit(shutdown, number(shutdown), shown->symbol, style)));
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
  if (in_room) {
    codes_->clear();
    return refresh_room(*channel, rule);
  }
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
  auto sentences = switch_words(rule, switched, codes, of.review.noise, *shown);
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
  const Channel& channel = of.chain.channel;
  const bool arrives = channel.arrives_converted();
  QStringList compared;
  for (const auto& [name, limit, never] :
       {std::tuple{tr("On"), codes.on, codes.never_on}, {tr("Off"), codes.off, codes.never_off}})
    if (limit && !never) {
      const double means = limit->means.value_or(std::nan(""));
      const int decimals = arrives ? channel.arrives->decimals : 0;
      const QString sentence =
          arrives ? tr("%1 while the value that arrives %2 %3%4.") : tr("%1 while the raw number %2 %3%4.");
      compared << sentence.arg(name, text_of(limit->compare), text_of(fixed(limit->code, decimals, style)),
                               std::isfinite(means)
                                   ? tr(", which reads %1")
                                         .arg(text_of(with_unit(means, Workbench::decimals_of(workbench_.chosen()) + 1,
                                                                shown->symbol, style)))
                                   : QString());
    }
  codes_->setText(compared.join(QLatin1Char('\n')));
  list_decisions(of, rule, switched);
  plot_.show_switching(rule, switched.on);
}

// The last ones, newest first.
void SwitchView::list_decisions(const Watched& watched, const SwitchRule& rule, const Switched& switched) {
  constexpr std::size_t most = 4;
  std::vector<Finding> lines;
  const auto& rows = watched.log->rows;
  for (auto each = switched.decisions.rbegin(); each != switched.decisions.rend() && lines.size() < most; ++each) {
    if (each->row >= rows.size()) continue;
    const double ago = rows.back().seconds - rows[each->row].seconds;
    const QString words =
        (log_.is_session() ? tr("%1 ago: %2") : tr("%1 before the end: %2"))
            .arg(duration_words(ago),
                 text_of(fair_gauge::words_of(*each, rule, *watched.chain.shown, workbench_.style())));
    lines.push_back(
        {each->reason == SwitchReason::wanted ? Severity::note : Severity::warning, unbroken(words).toStdString()});
  }
  list_findings(decisions_, theme_, lines, most);
}

}  // namespace fair_gauge::app

#include "moc_switch_view.cpp"
