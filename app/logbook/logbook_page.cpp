#include "logbook/logbook_page.h"

#include <qcustomplot.h>

#include <QSettings>
#include <QStandardPaths>
#include <cmath>
#include <filesystem>
#include <utility>

#include "correct/session_points.h"
#include "files/file.h"
#include "logbook/record.h"
#include "overview/to_do.h"
#include "quantity/day.h"
#include "quantity/number_format.h"
#include "shell/main_window.h"
#include "widgets/form.h"
#include "widgets/in_unit.h"
#include "widgets/plot_style.h"
#include "widgets/print.h"
#include "widgets/saving.h"

namespace fair_gauge::app {
namespace {

QString kind_name(EntryKind kind) {
  switch (kind) {
    case EntryKind::note: return LogbookPage::tr("note");
    case EntryKind::calibration: return LogbookPage::tr("calibration");
    case EntryKind::correction: return LogbookPage::tr("correction");
    case EntryKind::wiring: return LogbookPage::tr("wiring");
    case EntryKind::identity: return LogbookPage::tr("serial or address");
  }
  return {};
}

}  // namespace

LogbookPage::LogbookPage(const Theme& theme, Workbench& workbench, QWidget* parent)
    : QWidget(parent), theme_(theme), workbench_(workbench) {
  setObjectName(QStringLiteral("page"));
  setAttribute(Qt::WA_StyledBackground);
  QWidget *left = build_list(), *right = build_entry();
  auto* all = sides(theme, 28, left, 332, {{right, 1}});
  all->setContentsMargins(24, 16, 24, 12);
  setLayout(all);
  connect(&theme, &Theme::changed, this, [this] {
    plot_->setFixedHeight(theme_.px(170));
    show_entry();
  });
  connect(&workbench, &Workbench::bench_changed, this, [this] {
    if (isVisible()) reload();
  });
  connect(&workbench, &Workbench::selection_changed, this, [this] {
    if (isVisible()) show_drift(workbench_.channel_id());
  });
}

QWidget* LogbookPage::build_list() {
  count_ = new Text(theme_, Face::title);
  search_ = new QLineEdit;
  search_->setObjectName(QStringLiteral("logbook_search"));
  search_->setPlaceholderText(tr("search: words of a note, a channel, a year"));
  search_->setAccessibleName(tr("Search the logbook"));
  search_->setClearButtonEnabled(true);
  connect(search_, &QLineEdit::textChanged, this, &LogbookPage::show_list);
  list_ = new QListWidget;
  list_->setObjectName(QStringLiteral("logbook_list"));
  list_->setAccessibleName(tr("Entries, newest first"));
  list_->setWordWrap(true);
  list_->setHorizontalScrollBarPolicy(Qt::ScrollBarAlwaysOff);
  list_->setResizeMode(QListView::Adjust);
  connect(list_, &QListWidget::currentRowChanged, this, &LogbookPage::show_entry);
  note_kind_ =
      choice_box({tr("a note"), tr("wiring changed"), tr("serial or address")}, "note_kind", tr("Kind of entry"));
  note_ = new TextBox("note", tr("What was done"), most_of_a_note);
  note_->setPlaceholderText(tr("what was done, on the channel that is chosen on the left"));
  note_->setFixedHeight(theme_.px(56));
  add_ = new QPushButton(tr("Write it down"));
  add_->setObjectName(QStringLiteral("add_note"));
  add_->setProperty("primary", true);
  add_->setToolTip(tr("The logbook is only ever added to: what was wrong is put right by a further entry"));
  connect(add_, &QPushButton::clicked, this, &LogbookPage::add_note);
  auto* note_row = row(8);
  note_row->addWidget(note_kind_, 1);
  note_row->addWidget(add_);
  auto* left = column(8);
  left->addWidget(count_);
  left->addWidget(search_);
  left->addWidget(list_, 1);
  left->addWidget(note_);
  left->addLayout(note_row);
  auto* left_box = new QWidget;
  left_box->setLayout(left);
  return left_box;
}

// The entry that is chosen, and how its channel has drifted.
QWidget* LogbookPage::build_entry() {
  title_ = new Text(theme_, Face::title);
  title_->setWordWrap(true);
  body_ = new Text(theme_, Face::text);
  body_->setObjectName(QStringLiteral("entry_body"));
  body_->setWordWrap(true);
  body_->setTextFormat(Qt::RichText);
  body_->setTextInteractionFlags(Qt::TextSelectableByMouse);
  body_->setAlignment(Qt::AlignTop | Qt::AlignLeft);
  save_ = new QPushButton(tr("Save the record…"));
  save_->setObjectName(QStringLiteral("save_record"));
  connect(save_, &QPushButton::clicked, this, [this] {
    const LogEntry* entry = chosen();
    if (!entry) return;
    const QString path =
        ask_where_to_save(this, tr("Save the record"),
                          tr("%1 calibration %2").arg(text_of(entry->channel), text_of(entry->on.substr(0, 10))),
                          {QStringLiteral("PDF (*.pdf)"), QStringLiteral("HTML (*.html)"),
                           QStringLiteral("CSV (*.csv)"), QStringLiteral("JSON (*.json)")});
    if (path.isEmpty()) return;
    const QString fault = save_record(path);
    drift_words_->setText(fault.isEmpty() ? tr("Saved as %1").arg(path) : fault);
  });
  amend_ = new QPushButton(tr("Put it right"));
  amend_->setObjectName(QStringLiteral("amend"));
  amend_->setProperty("quiet", true);
  connect(amend_, &QPushButton::clicked, this, [this] {
    if (const LogEntry* entry = chosen()) {
      corrects_ = entry->number;
      note_->setPlaceholderText(tr("what takes the place of entry %1").arg(entry->number));
      note_->setFocus();
    }
  });
  drift_words_ = new Text(theme_, Face::small, {}, Tint::quiet);
  drift_words_->setObjectName(QStringLiteral("drift_words"));
  drift_words_->setWordWrap(true);
  plot_ = new QCustomPlot;
  plot_->setFixedHeight(theme_.px(170));
  auto* buttons = row(8);
  buttons->addWidget(save_);
  buttons->addWidget(amend_);
  buttons->addStretch();
  every_ = new QuantityField(theme_, Dimension::time);
  every_->set_unit(*unit_by_ucum("d"));
  every_->setObjectName(QStringLiteral("calibrate_every"));
  every_->setAccessibleName(tr("Calibrate every so many days"));
  every_->setToolTip(tr("Days between calibrations of the chosen channel; 0 if none is due"));
  every_->setMaximumWidth(theme_.px(84));
  connect(every_, &QuantityField::value_given, this, [this](double seconds) {
    if (seconds < 0) return;
    workbench_.document().edit(tr("Calibrate every"), [&](Bench& bench) {
      if (Channel* channel = find_by_id(bench.channels, workbench_.channel_id()))
        channel->due_days = std::round(seconds / 86400);
    });
  });
  auto* inside = new QWidget;
  auto* inner = column(0);
  inner->addWidget(body_);
  inner->addStretch();
  inside->setLayout(inner);
  auto* right = column(8);
  right->addWidget(title_);
  right->addWidget(scrolled(inside), 1);
  right->addLayout(buttons);
  right->addWidget(plot_);
  auto* due = row(8);
  due->addWidget(drift_words_, 1);
  due->addWidget(new Text(theme_, Face::small, tr("due every"), Tint::quiet), 0, Qt::AlignVCenter);
  due->addWidget(every_, 0, Qt::AlignVCenter);
  right->addLayout(due);
  auto* right_box = new QWidget;
  right_box->setLayout(right);
  return right_box;
}

void LogbookPage::showEvent(QShowEvent* event) {
  QWidget::showEvent(event);
  reload();
}

std::string LogbookPage::path() const {
  const QString bench = workbench_.document().path();
  if (!bench.isEmpty() && bench != MainWindow::demonstration_path()) return logbook_path(bench.toStdString());
  const QString folder =
      QStandardPaths::writableLocation(QStandardPaths::AppDataLocation) + QStringLiteral("/logbooks");
  std::string own = logbook_path((folder + QStringLiteral("/") +
                                  (bench.isEmpty() ? QStringLiteral("unnamed") : QStringLiteral("fernhollow")) +
                                  QStringLiteral(".fairgauge.json"))
                                     .toStdString());
  std::error_code ignored;
  // The demonstration brings some entries; what is added goes into the user's copy.
  if (!bench.isEmpty() && !std::filesystem::exists(own, ignored)) {
    std::filesystem::create_directories(folder.toStdString(), ignored);
    std::filesystem::copy_file(logbook_path(bench.toStdString()), own, ignored);
    std::filesystem::permissions(own, std::filesystem::perms::owner_write, std::filesystem::perm_options::add, ignored);
  }
  return own;
}

void LogbookPage::reload() {
  auto read = read_logbook(path());
  if (!read) {
    count_->setText(tr("The logbook could not be read"));
    drift_words_->setText(text_of(to_text(read.problem())));
    return;
  }
  logbook_ = std::move(*read);
  show_list();
  show_drift(workbench_.channel_id());
}

void LogbookPage::show_list() {
  const auto found = search_entries(logbook_, search_->text().toStdString());
  const int newest = logbook_.entries.empty() ? 0 : logbook_.entries.back().number;
  const bool is_longer = newest > std::exchange(newest_, newest);  // what was just written is what one looks for
  const int was = is_longer ? newest : list_->currentItem() ? list_->currentItem()->data(Qt::UserRole).toInt() : 0;
  list_->blockSignals(true);
  list_->clear();
  for (const LogEntry* entry : found) {
    const Channel* channel = find_by_id(workbench_.bench().channels, entry->channel);
    const QString where = entry->channel.empty()
                              ? tr("the bench")
                              : text_of(channel && !channel->name.empty() ? channel->name : entry->channel);
    const auto share = [](const std::optional<double>& used) {
      return used ? QStringLiteral("%1 %").arg(std::lround(*used * 100)) : tr("not known");
    };
    QString words = entry->calibration ? tr("%1, %2 → %3")
                                             .arg(entry->calibration->points.size() == 1
                                                      ? tr("one point")
                                                      : tr("%1 points").arg(entry->calibration->points.size()))
                                             .arg(share(entry->calibration->used_before))
                                             .arg(share(entry->calibration->used_after))
                                       : text_of(entry->words);
    if (logbook_.is_corrected(*entry)) words = tr("(put right later) ") + words;
    auto* item = new QListWidgetItem(
        QStringLiteral("%1 · %2 · %3\n%4").arg(where, kind_name(entry->kind), text_of(entry->on), words));
    item->setData(Qt::UserRole, entry->number);
    if (logbook_.is_corrected(*entry)) item->setForeground(theme_.colours().quiet);
    list_->addItem(item);
    if (entry->number == was) list_->setCurrentItem(item);
  }
  if (list_->currentRow() < 0 && list_->count() > 0) list_->setCurrentRow(0);
  list_->blockSignals(false);
  count_->setText(!search_->text().isEmpty()     ? tr("%1 of %2 entries").arg(found.size()).arg(logbook_.entries.size())
                  : logbook_.entries.size() == 1 ? tr("one entry")
                                                 : tr("%1 entries").arg(logbook_.entries.size()));
  if (!logbook_.problems.empty())
    count_->setText(count_->text() + tr(", %1 lines not understood").arg(logbook_.problems.size()));
  show_entry();
}

const LogEntry* LogbookPage::chosen() const {
  const QListWidgetItem* item = list_->currentItem();
  if (!item) return nullptr;
  for (const LogEntry& entry : logbook_.entries)
    if (entry.number == item->data(Qt::UserRole).toInt()) return &entry;
  return nullptr;
}

void LogbookPage::show_entry() {
  const LogEntry* entry = chosen();
  if (corrects_ > 0 && (!entry || entry->number != corrects_) && note_->toPlainText().isEmpty()) {
    corrects_ = 0;  // another entry is looked at: nothing is put right any more
    note_->setPlaceholderText(tr("what was done, on the channel that is chosen on the left"));
  }
  save_->setVisible(entry && entry->calibration);
  amend_->setVisible(entry);
  if (!entry) {
    title_->setText(tr("Nothing is written yet"));
    body_->setText(tr(
        "Calibrations and corrections write themselves down; the rest is for you: wiring, serials, what you noticed."));
    return;
  }
  const Channel* channel = find_by_id(workbench_.bench().channels, entry->channel);
  const QString kind = kind_name(entry->kind);
  title_->setText(tr("%1 %2, %3")
                      .arg(kind.left(1).toUpper() + kind.mid(1))
                      .arg(entry->number)
                      .arg(entry->channel.empty()
                               ? tr("the bench")
                               : text_of(channel && !channel->name.empty() ? channel->name : entry->channel)));
  if (!entry->calibration) {
    QString words = text_of(entry->words).toHtmlEscaped();
    if (!entry->who.empty())
      words += QStringLiteral("<p>") + text_of(entry->who).toHtmlEscaped() + QStringLiteral("</p>");
    if (entry->corrects > 0) words += tr("<p>Takes the place of entry %1.</p>").arg(entry->corrects);
    body_->setText(words);
  } else {
    // The record itself, without its own head.
    const QString page = text_of(record_html(*entry, workbench_.bench(), workbench_.catalogue()));
    QString inner = page.section(QStringLiteral("<body>"), 1)
                        .section(QStringLiteral("</h1>"), 1)
                        .section(QStringLiteral("</body>"), 0, 0);
    const Colours& colours = theme_.colours();
    inner
        .replace(QStringLiteral("<h2>"),
                 QStringLiteral("<p style=\"color:%1;font-weight:600;margin-bottom:2px\">").arg(colours.accent.name()))
        .replace(QStringLiteral("</h2>"), QStringLiteral("</p>"));
    body_->setText(QStringLiteral("<style>th{text-align:left;color:%1;padding-right:14px;padding-bottom:2px}td{padding-"
                                  "right:14px;padding-bottom:2px}</style>")
                       .arg(colours.quiet.name()) +
                   inner);
  }
  if (!entry->channel.empty()) show_drift(entry->channel);
}

void LogbookPage::show_drift(const std::string& id) {
  const Channel* channel = find_by_id(workbench_.bench().channels, id);
  const auto drift = channel ? drift_of(logbook_, id, channel->tolerance) : Drift{};
  plot_->setVisible(drift.has_days_between());
  if (!channel) return drift_words_->clear();
  const InUnit in{shown_unit(channel, channel->quantity), workbench_.style()};
  const QString name = text_of(called(*channel));
  QStringList words;
  if (drift.course.empty()) words << tr("%1: no calibration in this logbook yet.").arg(name);
  if (drift.course.size() == 1) words << tr("%1: one calibration; a second one will show how it drifts.").arg(name);
  if (drift.course.size() >= 2 && !drift.has_days_between())
    words << tr("%1: calibrated %2 times on one day; one of another day will show how it drifts.")
                 .arg(name)
                 .arg(drift.course.size());
  if (drift.has_days_between()) {
    const double off_by = 2 * drift.per_year_standard;
    const QString rate = in.difference(drift.per_year, std::isfinite(off_by) && off_by > 0 ? off_by : drift.per_year);
    if (!std::isfinite(off_by))
      words << tr("%1 drifts by %2 a year.").arg(name, rate);
    else if (drift.is_seen())
      words << tr("%1 drifts by %2 a year, ±%3.").arg(name, rate, in.difference(off_by));
    else
      words << tr("%1: no drift is seen, %2 a year within ±%3.").arg(name, rate, in.difference(off_by));
    if (drift.is_seen())
      words << (drift.leaves_on ? tr("If it goes on so, drift alone uses up the allowed error by %1.")
                                      .arg(text_of(day_text(*drift.leaves_on)))
                                : tr("At that rate it stays within its limit for years."));
  }
  if (id == workbench_.channel_id())
    every_->show_value(channel->due_days * 86400,
                       channel->due_days > 0 ? tr("%1 d").arg(channel->due_days) : tr("never"));
  if (const auto days = days_until_due(*channel, today()))
    words << (*days < -1    ? tr("Its calibration is %1 days overdue.").arg(-*days)
              : *days == -1 ? tr("Its calibration is one day overdue.")
              : *days == 0  ? tr("Its next calibration is due today.")
              : *days == 1  ? tr("Its next calibration is due tomorrow.")
                            : tr("Its next calibration is due in %1 days.").arg(*days));
  drift_words_->setText(words.join(QLatin1Char(' ')));
  if (!drift.has_days_between()) return;
  const Colours& colours = theme_.colours();
  style_plot(*plot_, theme_);
  plot_->clearPlottables();
  QVector<double> x, y, e;
  for (const Drift::At& at : drift.course)
    x << at.day * 86400.0, y << at.error / in.unit.scale, e << 2 * at.standard / in.unit.scale;
  auto* dots = plot_->addGraph();
  dots->setPen(QPen(colours.accent, 1.4, Qt::DashLine));
  dots->setScatterStyle(QCPScatterStyle(QCPScatterStyle::ssCircle, QPen(colours.accent, 2), QBrush(colours.sheet), 8));
  dots->setData(x, y, true);
  auto* bars = new QCPErrorBars(plot_->xAxis, plot_->yAxis);
  bars->setDataPlottable(dots);
  bars->setData(e);
  bars->setPen(QPen(colours.accent, 1));
  double low = y.front(), high = y.front();
  for (int i = 0; i < y.size(); ++i) low = std::min(low, y[i] - e[i]), high = std::max(high, y[i] + e[i]);
  const double room = 0.15 * std::max(high - low, 1e-9);
  QSharedPointer<QCPAxisTickerDateTime> dates(new QCPAxisTickerDateTime);
  constexpr double day = 86400, months = 100 * day;
  dates->setDateTimeFormat(x.back() - x.front() < months ? QStringLiteral("d MMM") : QStringLiteral("MMM yyyy"));
  dates->setTickCount(4);
  plot_->xAxis->setTicker(dates);
  const double beside = std::max(day, 0.03 * (x.back() - x.front()));
  plot_->xAxis->setRange(x.front() - beside, x.back() + beside);
  plot_->yAxis->setRange(low - room, high + room);
  plot_->yAxis->setLabel(tr("reads too much, %1").arg(text_of(difference_symbol(in.unit))));
  plot_->setAccessibleName(tr("Drift of %1").arg(name));
  plot_->replot(QCustomPlot::rpQueuedReplot);
}

QString LogbookPage::write(LogEntry entry) {
  if (entry.on.empty()) entry.on = now_text().toStdString();
  const auto written = append_entry(path(), std::move(entry));
  if (!written) return text_of(to_text(written.problem()));
  reload();
  return {};
}

void LogbookPage::add_note() {
  const QString words = note_->toPlainText().trimmed();
  if (words.isEmpty()) return;
  constexpr EntryKind kinds[] = {EntryKind::note, EntryKind::wiring, EntryKind::identity};
  LogEntry entry;
  entry.on = now_text().toStdString();
  entry.who = QSettings().value(QStringLiteral("who")).toString().toStdString();
  entry.kind = kinds[std::max(0, note_kind_->currentIndex())];
  entry.channel = workbench_.channel_id();
  entry.words = words.toStdString();
  entry.corrects = corrects_;
  const QString fault = write(std::move(entry));
  if (!fault.isEmpty()) return drift_words_->setText(fault);  // what was typed stays
  corrects_ = 0;
  note_->clear();
  note_->setPlaceholderText(tr("what was done, on the channel that is chosen on the left"));
  list_->setCurrentRow(0);
}

QString LogbookPage::save_record(const QString& to) {
  const LogEntry* entry = chosen();
  if (!entry || !entry->calibration) return tr("This entry is no calibration.");
  if (to.endsWith(QStringLiteral(".pdf")))
    return print_html(text_of(record_html(*entry, workbench_.bench(), workbench_.catalogue())), to);
  const std::string text = to.endsWith(QStringLiteral(".csv")) ? record_csv(*entry)
                           : to.endsWith(QStringLiteral(".json"))
                               ? record_json(*entry)
                               : record_html(*entry, workbench_.bench(), workbench_.catalogue());
  const auto written = write_file(to.toStdString(), text);
  return written ? QString() : text_of(to_text(written.problem()));
}

}  // namespace fair_gauge::app

#include "moc_logbook_page.cpp"
