#include "watch/watch_page.h"

#include <QActionGroup>
#include <QCheckBox>
#include <QDate>
#include <QFileDialog>
#include <QFileInfo>
#include <QMenu>
#include <QWidgetAction>

#include "bench/bench_things.h"
#include "files/file.h"
#include "shell/settings.h"
#include "sources/recording.h"
#include "stream/span_export.h"
#include "watch/alarm_view.h"
#include "watch/filter_view.h"
#include "watch/signal_view.h"
#include "watch/switch_view.h"
#include "watch/touch_view.h"
#include "widgets/form.h"
#include "widgets/print.h"
#include "widgets/saving.h"

namespace fair_gauge::app {
namespace {

constexpr int most_columns = 24;  // of a log, to choose from

constexpr int refresh_ms = 1000;
constexpr std::size_t most_beside = 7;  // lanes stay tall enough to be read

}  // namespace

WatchPage::WatchPage(const Theme& theme, Workbench& workbench, QWidget* parent)
    : QWidget(parent), workbench_(workbench) {
  setObjectName(QStringLiteral("page"));
  setAttribute(Qt::WA_StyledBackground);
  log_ = new WatchLog(workbench, this);
  plot_ = new LogPlot(theme, workbench.style());
  build_views(theme);
  auto* head = page_head(new PageTitle(theme, tr("What it did, and what would hang on it")), tabs_);
  words_ = new Text(theme, Face::small, {}, Tint::quiet);
  words_->setObjectName(QStringLiteral("watch_words"));
  words_->setSizePolicy(QSizePolicy::Ignored, QSizePolicy::Preferred);
  words_->setWordWrap(true);
  recording_ = new Text(theme, Face::text);
  recording_->setObjectName(QStringLiteral("watch_recording"));
  recording_->setWordWrap(true);
  build_note(theme);
  auto* both = row(16);
  both->addWidget(plot_, 1);
  both->addWidget(views_);
  auto* all = column(8);
  all->setContentsMargins(24, 12, 16, 8);
  all->addLayout(head);
  all->addLayout(build_bar(theme));
  all->addWidget(recording_);
  auto* said = row(8);
  said->addWidget(words_, 1);
  said->addWidget(make_);
  said->addWidget(as_);
  all->addLayout(said);
  all->addWidget(note_);
  all->addLayout(both, 1);
  setLayout(all);
  connect(log_, &WatchLog::changed, this, [this] {
    const bool in_room = switch_ && switch_->is_in_room();
    plot_->say_when_empty(log_->is_session() ? tr("No readings yet.\nConnect a board on the Read page, run "
                                                  "the simulation, or open a log.")
                          : log_->unknown_columns().empty() ? log_->words()
                                                            : log_->words_of_columns());
    if (!log_->is_opening() && !in_room) plot_->show_log(log_->watched());
    refresh();
  });
  connect(log_, &WatchLog::partly, plot_, &LogPlot::show_log);
  connect(&workbench.recording(), &Recording::changed, this, &WatchPage::refresh);
  const auto anew = [this] {
    if (isVisible()) log_->refresh();
  };
  connect(&workbench, &Workbench::bench_changed, this, anew);
  connect(&workbench, &Workbench::selection_changed, this, anew);
  connect(&workbench, &Workbench::source_changed, this, anew);
  often_.setInterval(refresh_ms);
  connect(&often_, &QTimer::timeout, this, [this] {
    if (isVisible()) log_->follow();
  });
  often_.start();
  show_view(0);
}

void WatchPage::build_views(const Theme& theme) {
  views_ = new Views;
  views_->add([this, &theme] {
    auto* signal = new SignalView(theme, workbench_, *log_, *plot_);
    connect(signal, &SignalView::mistake_wanted, this, &WatchPage::mistake_wanted);
    return scrolled(signal);
  });
  views_->add([this, &theme] { return new FilterView(theme, workbench_, *log_, *plot_); });
  views_->add([this, &theme] {
    switch_ = new SwitchView(theme, workbench_, *log_, *plot_);
    return scrolled(switch_);
  });
  views_->add([this, &theme] { return new TouchView(theme, workbench_, *log_, *plot_); });
  views_->add([this, &theme] { return scrolled(new AlarmView(theme, workbench_, *log_, *plot_)); });
  views_->setFixedWidth(theme.column_px(308));
  connect(&theme, &Theme::changed, this, [this, &theme] { views_->setFixedWidth(theme.column_px(308)); });
  tabs_ = new ViewTabs(view_names());
  connect(tabs_, &ViewTabs::chosen, this, &WatchPage::show_view);
}

void WatchPage::build_note(const Theme& theme) {
  note_ = new QLineEdit;
  note_->setObjectName(QStringLiteral("watch_note"));
  note_->setPlaceholderText(tr("a note at this moment, such as: door opened"));
  note_->setAccessibleName(tr("Note at this moment"));
  note_->setMaximumWidth(theme.px(420));
  note_->hide();
  connect(note_, &QLineEdit::returnPressed, this, [this] {
    const QString words = note_->text().trimmed();
    if (words.isEmpty()) return;
    workbench_.recording().happens("note", words);
    note_->clear();
    note_->setPlaceholderText(tr("noted: %1").arg(words));
  });
}

// What is recorded, opened, saved, and laid beside it.
QLayout* WatchPage::build_bar(const Theme& theme) {
  const auto button = [](const QString& words, const char* name, const QString& why) {
    auto* made = new QPushButton(words);
    made->setObjectName(QLatin1String(name));
    made->setToolTip(why);
    return made;
  };
  record_ = button(tr("Record…"), "watch_record",
                   tr("Raw numbers of every channel that is sent, as CSV with their time, until you stop it"));
  record_->setProperty("primary", true);
  open_ = button(tr("Open a log…"), "watch_open",
                 tr("A CSV with a column of raw numbers called as the channel, or \"counts\""));
  session_ = button(tr("This session"), "watch_session", tr("Back to the readings that come in"));
  recorded_ = button(tr("All recorded"), "watch_recorded",
                     tr("The recording that is on, from its beginning to what comes now"));
  connect(recorded_, &QPushButton::clicked, this, [this] { open(workbench_.recording().path()); });
  beside_ = button(tr("Beside it…"), "watch_beside", tr("Other channels over the same time"));
  build_beside();
  save_ = button(tr("Save view…"), "watch_save",
                 tr("The rows in view, or marked, as CSV or SenML, the picture as SVG, a report as PDF or HTML"));
  as_ = button(tr("Read as…"), "watch_as", tr("How the log is written, where it was not understood"));
  as_->setProperty("quiet", true);
  as_->hide();  // until a log is open
  build_choices();
  make_ = button(tr("Make channels of it"), "watch_make", tr("A channel for each of its columns that has none"));
  make_->setProperty("quiet", true);
  make_->hide();
  connect(make_, &QPushButton::clicked, this, &WatchPage::make_channels);
  connect(save_, &QPushButton::clicked, this, &WatchPage::choose_saving);
  connect(record_, &QPushButton::clicked, this, &WatchPage::choose_recording);
  connect(open_, &QPushButton::clicked, this, [this] {
    const QString path =
        QFileDialog::getOpenFileName(this, tr("Open a log"), {}, tr("Logs (*.csv *.txt *.tsv);;All files (*)"));
    if (!path.isEmpty()) open(path);
  });
  connect(session_, &QPushButton::clicked, log_, &WatchLog::look_at_session);
  auto *bar = row(8), *what = row(8), *others = row(8);
  for (QPushButton* each : {record_, open_, recorded_, session_}) what->addWidget(each);
  for (QWidget* each : std::initializer_list<QWidget*>{recorded_, session_, arrangement_})
    each->hide();  // not needed yet
  what->addStretch();
  for (QWidget* each : std::initializer_list<QWidget*>{save_, beside_, arrangement_}) others->addWidget(each);
  others->addStretch();
  bar->addLayout(what);
  bar->addLayout(others, 1);
  stack_when_large(theme, bar);
  return bar;
}

// What the first rows do not tell may be said.
void WatchPage::build_choices() {
  auto* menu = new QMenu(as_);
  const auto group = [&](const QString& heading) {
    if (!menu->isEmpty() && !menu->actions().constLast()->isSeparator()) menu->addSeparator();
    menu->addAction(heading)->setEnabled(false);
    return new QActionGroup(menu);
  };
  const auto add = [&](QActionGroup* all, const QString& words, const char* name,
                       const std::function<void(LogChoice&)>& change, const std::function<bool(const LogChoice&)>& is) {
    QAction* action = menu->addAction(words, this, [this, change] {
      LogChoice choice = log_->choice();
      change(choice);
      log_->read_as(choice);
    });
    action->setObjectName(QLatin1String(name));
    action->setCheckable(true);
    all->addAction(action);
    connect(menu, &QMenu::aboutToShow, action, [this, action, is] { action->setChecked(is(log_->choice())); });
  };
  // What the heading of the open log names: made anew whenever the list opens.
  QActionGroup* raws = group(tr("Raw numbers are in"));
  QAction* before = menu->addSeparator();
  connect(menu, &QMenu::aboutToShow, this, [this, menu, raws, before] {
    qDeleteAll(raws->actions());
    QStringList names = log_->columns();
    names.prepend(QString());
    for (int i = 0; i < std::min<int>(static_cast<int>(names.size()), most_columns); ++i) {
      auto* action = new QAction(i == 0 ? tr("the column of the channel's name, or counts") : names[i], raws);
      action->setObjectName(QStringLiteral("column_%1").arg(i));
      action->setCheckable(true);
      action->setChecked(log_->choice().column == names[i].toStdString());
      connect(action, &QAction::triggered, this, [this, name = names[i].toStdString()] {
        LogChoice choice = log_->choice();
        choice.column = name;
        log_->read_as(choice);
      });
      menu->insertAction(before, action);
    }
  });
  QActionGroup* times = group(tr("Times are"));
  for (const auto& [words, name, form] :
       {std::tuple(tr("as understood"), "times_auto", std::optional<TimeForm>()),
        std::tuple(tr("seconds, or dates"), "times_seconds", std::optional(TimeForm::seconds)),
        std::tuple(tr("milliseconds"), "times_milliseconds", std::optional(TimeForm::milliseconds)),
        std::tuple(tr("days of a spreadsheet"), "times_days", std::optional(TimeForm::days)),
        std::tuple(tr("month/day/year"), "times_month_first", std::optional(TimeForm::month_first)),
        std::tuple(tr("day/month/year"), "times_day_first", std::optional(TimeForm::day_first))})
    add(
        times, words, name, [which = form](LogChoice& choice) { choice.time = which; },
        [which = form](const LogChoice& choice) { return choice.time == which; });
  QActionGroup* cells = group(tr("Cells are parted by"));
  for (const auto& [words, name, separator] :
       {std::tuple(tr("what the heading shows"), "cells_auto", std::optional<char>()),
        std::tuple(tr("commas"), "cells_commas", std::optional(',')),
        std::tuple(tr("semicolons"), "cells_semicolons", std::optional(';')),
        std::tuple(tr("tabs"), "cells_tabs", std::optional('\t')),
        std::tuple(tr("spaces"), "cells_spaces", std::optional(' '))})
    add(
        cells, words, name, [which = separator](LogChoice& choice) { choice.separator = which; },
        [which = separator](const LogChoice& choice) { return choice.separator == which; });
  as_->setMenu(menu);
}

// A list that stays open while boxes are ticked.
void WatchPage::build_beside() {
  auto* menu = new QMenu(beside_);
  auto* list = new QWidget;
  beside_boxes_ = column(4);
  beside_boxes_->setContentsMargins(12, 8, 12, 8);
  list->setLayout(beside_boxes_);
  auto* action = new QWidgetAction(menu);
  action->setDefaultWidget(list);
  menu->addAction(action);
  connect(menu, &QMenu::aboutToShow, this, &WatchPage::list_beside);
  beside_->setMenu(menu);
  arrangement_ = choice_box({tr("in lanes"), tr("overlaid"), tr("differences")}, "watch_arrangement",
                            tr("How channels stand beside one another"));
  connect(arrangement_, &QComboBox::activated, this,
          [this](int choice) { plot_->arrange(static_cast<Arrangement>(choice)); });
}

void WatchPage::list_beside() {
  clear(beside_boxes_);
  std::vector<QCheckBox*> boxes;
  for (const Channel& channel : workbench_.bench().channels) {
    if (channel.id == workbench_.channel_id() || lacks_sensor(channel)) continue;
    auto* box = new QCheckBox(text_of(called(channel)));
    box->setObjectName(text_of("beside_" + channel.id));
    box->setChecked(std::ranges::find(log_->beside(), channel.id) != log_->beside().end());
    beside_boxes_->addWidget(box);
    boxes.push_back(box);
  }
  const auto bound = [boxes] {
    const auto ticked = static_cast<std::size_t>(std::ranges::count_if(boxes, &QCheckBox::isChecked));
    for (QCheckBox* box : boxes) {
      box->setEnabled(box->isChecked() || ticked < most_beside);
      box->setToolTip(box->isEnabled() ? QString() : tr("Seven at most: take another away first"));
    }
  };
  for (QCheckBox* box : boxes)
    connect(box, &QCheckBox::toggled, this, [this, bound, id = box->objectName().mid(7).toStdString()](bool on) {
      auto beside = log_->beside();
      std::erase(beside, id);
      if (on) beside.push_back(id);
      log_->look_beside(std::move(beside));
      bound();
    });
  bound();
  if (boxes.empty()) beside_boxes_->addWidget(new QLabel(tr("This bench has no other channel.")));
}

// A channel for every column that has none: values are ready to be read, raw numbers still need their sensor.
void WatchPage::make_channels() {
  std::vector<std::string> added;
  Bench bench = with_channels(workbench_.bench(), log_->unknown_columns(), &added);
  if (added.empty()) return;
  Settings::read().prefer_units(bench, added);
  const std::string first = first_to_look_at(bench, added);
  workbench_.document().replace(
      added.size() == 1 ? tr("One channel from the log") : tr("%1 channels from the log").arg(added.size()),
      std::move(bench));
  workbench_.choose_channel(first);
}

void WatchPage::look_at(const Looked& looked) {
  if (!looked.path.isEmpty()) log_->open(looked.path);
  log_->read_as(looked.choice);
  log_->look_beside(looked.beside);
}

void WatchPage::compare(const std::vector<std::string>& channels, Arrangement arrangement) {
  if (channels.empty()) return;
  workbench_.choose_channel(channels.front());
  arrangement_->setCurrentIndex(static_cast<int>(arrangement));
  plot_->arrange(arrangement);
  std::vector<std::string> beside(channels.begin() + 1, channels.end());
  if (beside.size() > most_beside) beside.resize(most_beside);
  log_->look_beside(std::move(beside));
}

QStringList WatchPage::view_names() { return {tr("Signal"), tr("Filter"), tr("Switch"), tr("Touch"), tr("Alarm")}; }

void WatchPage::show_view(int view) {
  views_->show_view(view);
  tabs_->mark(view);
}

void WatchPage::showEvent(QShowEvent* event) {
  QWidget::showEvent(event);
  log_->refresh();
  refresh();
}

void WatchPage::choose_recording() {
  if (workbench_.recording().is_on()) {
    const QString path = workbench_.recording().path();
    const QString fault = workbench_.recording().end();
    recording_->setText(fault.isEmpty() ? tr("%1 holds the recording; Open a log shows it.").arg(path) : fault);
    return recording_->show();
  }
  const QString name = workbench_.bench().name.empty() ? tr("readings") : text_of(workbench_.bench().name);
  const QString path =
      ask_where_to_save(this, tr("Record to"), name + QDate::currentDate().toString(QStringLiteral("-yyyy-MM-dd")),
                        {tr("Recordings (*.csv)")}, QFileDialog::DontConfirmOverwrite);  // it is gone on with
  if (path.isEmpty()) return;
  if (const QString fault = record_to(path); !fault.isEmpty()) {
    recording_->setText(fault);
    recording_->show();
  }
}

QString WatchPage::record_to(const QString& path) {
  const QString whole = QFileInfo(path).suffix().isEmpty() ? path + QStringLiteral(".csv") : path;
  QString fault = workbench_.recording().begin(workbench_.bench(), workbench_.catalogue(), whole);
  if (fault.isEmpty()) workbench_.recall(whole);
  return fault;
}

void WatchPage::choose_saving() {
  const QString csv = tr("Rows with their description (*.csv)"), senml = tr("SenML (*.senml.json)"),
                svg = tr("Picture (*.svg)"), pdf = tr("Report (*.pdf)"), html = tr("Report (*.html)");
  const QString path = ask_where_to_save(this, tr("Save what is in view"), text_of(workbench_.channel_id()),
                                         {csv, senml, svg, pdf, html});
  if (!path.isEmpty()) save_view(path);
}

void WatchPage::save_view(const QString& path) {
  const auto watched = plot_->watched();
  const auto said = [this](const QString& words, bool is_fault) {
    recording_->setText(words);
    recording_->set_tint(is_fault ? Tint::red : Tint::second);
    recording_->show();
  };
  if (!watched || watched->log->rows.empty()) return said(tr("There is nothing in view to save."), true);
  const QString kind = QFileInfo(path).suffix().toLower(), name = QFileInfo(path).fileName();
  if (kind == QStringLiteral("pdf") || kind == QStringLiteral("html")) return save_report(path, said);
  if (kind == QStringLiteral("svg")) {
    const bool written = plot_->save_picture(path);
    return said(written ? tr("%1 holds the picture.").arg(name) : tr("%1 could not be written.").arg(path), !written);
  }
  const auto write = kind == QStringLiteral("json") ? export_senml : export_csv;
  said(tr("Writing %1…").arg(name), false);
  saving_.start(
      [watched, write, in_view = plot_->looked_at(), to = path.toStdString()](const std::atomic<bool>&) {
        return write({.chain = watched->chain,
                      .log = *watched->log,
                      .from = in_view.first,
                      .to = in_view.second,
                      .is_dated = watched->is_dated},
                     to);
      },
      [this, said, name](const Result<std::size_t>& rows) {
        said(rows
                 ? tr("%1 rows are in %2.").arg(text_of(fixed(static_cast<double>(*rows), 0, workbench_.style())), name)
                 : text_of(to_text(rows.problem())),
             !rows);
      });
}

void WatchPage::save_report(const QString& path, const std::function<void(const QString&, bool)>& said) {
  const QString name = QFileInfo(path).fileName();
  said(tr("Writing %1…").arg(name), false);
  const SpanPage page{.title = workbench_.bench().name,
                      .place = workbench_.bench().place,
                      .origin = log_->words().toStdString(),
                      .picture = plot_->picture(),
                      .on = QDate::currentDate().toString(Qt::ISODate).toStdString()};
  saving_.start(
      [watched = plot_->watched(), rows = plot_->looked_at(), page](const std::atomic<bool>&) {
        return span_html({.chain = watched->chain,
                          .log = *watched->log,
                          .from = rows.first,
                          .to = rows.second,
                          .is_dated = watched->is_dated},
                         watched->review, page);
      },
      [said, path, name](const std::string& html) {
        QString fault;
        if (path.endsWith(QStringLiteral(".pdf"), Qt::CaseInsensitive)) {
          fault = print_html(text_of(html), path);
        } else if (const auto written = write_file(path.toStdString(), html); !written) {
          fault = text_of(to_text(written.problem()));
        }
        said(fault.isEmpty() ? tr("%1 holds the report.").arg(name) : fault, !fault.isEmpty());
      });
}

void WatchPage::refresh() {
  const Recording& recording = workbench_.recording();
  note_->setVisible(recording.is_on());
  record_->setText(recording.is_on() ? tr("Stop recording") : tr("Record…"));
  if (recording.is_on())
    recording_->setText(!recording.trouble().isEmpty()
                            ? recording.trouble()
                            : tr("Recording to %1: %2 rows so far.")
                                  .arg(QFileInfo(recording.path()).fileName(),
                                       text_of(fixed(static_cast<double>(recording.rows()), 0, workbench_.style()))));
  recording_->set_tint(recording.trouble().isEmpty() ? Tint::second : Tint::red);
  recording_->setVisible(!recording_->text().isEmpty());
  save_->setEnabled(log_->watched() && !log_->watched()->log->rows.empty());
  session_->setVisible(!log_->is_session());
  recorded_->setVisible(recording.is_on() && log_->is_session());
  const std::size_t beside = log_->watched() ? log_->watched()->beside.size() : 0;
  arrangement_->setVisible(beside > 0);
  beside_->setText(beside > 0 ? tr("Beside it: %1…").arg(beside) : tr("Beside it…"));
  beside_->setEnabled(!workbench_.bench().channels.empty());
  as_->setVisible(!log_->is_session());
  make_->setVisible(!log_->unknown_columns().empty());
  session_->setText(log_->is_opening() ? tr("Stop reading") : tr("This session"));
  words_->setText(log_->fault().isEmpty() ? log_->words() : log_->words() + QLatin1Char(' ') + log_->fault());
  words_->set_tint(log_->fault().isEmpty() ? Tint::quiet : Tint::red);
  words_->setToolTip(log_->fault());
}

}  // namespace fair_gauge::app

#include "moc_watch_page.cpp"
