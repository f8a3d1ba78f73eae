#include "read/line_view.h"

#include <QApplication>
#include <QClipboard>
#include <QLineEdit>
#include <QListView>
#include <QMenu>
#include <QResizeEvent>
#include <QScrollArea>
#include <QScrollBar>
#include <QSerialPortInfo>

#include "bench/bench_things.h"
#include "digital/answering_parts.h"
#include "handoff/line_sketch.h"
#include "shell/settings.h"
#include "sources/known_lines.h"
#include "sources/serial_source.h"
#include "sources/sources_beside.h"

namespace fair_gauge::app {
namespace {

constexpr int most_shown_lines = 400;
constexpr int rows_a_name = 4;    // name, value, what it may be, space
constexpr int listens_ms = 2200;  // to one speed: two lines of a board that sends one a second

QString title_of(LineState state) {
  switch (state) {
    case LineState::stopped: return LineView::tr("Not connected");
    case LineState::opening: return LineView::tr("Opening");
    case LineState::running: return LineView::tr("Connected");
    case LineState::silent: return LineView::tr("Connected, but silent");
    case LineState::noise: return LineView::tr("Noise: wrong speed?");
    case LineState::held: return LineView::tr("Held by another program");
    case LineState::missing: return LineView::tr("No such line");
    case LineState::hung_up: return LineView::tr("Hung up");
  }
  return {};
}

QComboBox* plain_box() {
  auto* box = new QComboBox;
  box->setView(new QListView);
  return box;
}

}  // namespace

LineView::LineView(const Theme& theme, Workbench& workbench, QWidget* parent)
    : QWidget(parent), theme_(theme), workbench_(workbench) {
  state_ = new Text(theme, Face::strong);
  state_->setObjectName(QStringLiteral("line_state"));
  advice_ = new Text(theme, Face::text, {}, Tint::quiet);
  advice_->setWordWrap(true);
  beside_lines_ = column(2);
  auto* below = row(24);
  below->addLayout(build_lines(), 1);
  below->addLayout(build_name_list(), 1);
  auto* all = column(8);
  all->setContentsMargins(0, 0, 0, 0);
  all->addLayout(build_line());
  all->addLayout(beside_row());
  all->addWidget(state_);
  all->addWidget(advice_);
  all->addLayout(beside_lines_);
  all->addSpacing(8);
  all->addLayout(below, 1);
  setLayout(all);

  connect(connect_, &QPushButton::clicked, this, &LineView::connect_line);
  connect(port_->lineEdit(), &QLineEdit::returnPressed, this, &LineView::connect_line);
  connect(try_, &QPushButton::clicked, this, &LineView::try_speeds);
  connect(make_, &QPushButton::clicked, this, &LineView::make_channels);
  connect(theirs_, &QPushButton::clicked, this, &LineView::give_to_waiting);
  names_due_.setSingleShot(true);
  names_due_.setInterval(250);
  connect(&names_due_, &QTimer::timeout, this, &LineView::refresh_names);
  next_speed_.setInterval(listens_ms);
  connect(&next_speed_, &QTimer::timeout, this, &LineView::judge_speed);
  connect(speed_, &QComboBox::activated, this, [this] {
    if (workbench_.listens_to_line() && workbench_.source().state() != LineState::stopped)
      workbench_.listen_to_line(port_->currentText(), speed_->currentData().toInt());
  });
  connect(simulated_, &QPushButton::clicked, this, [this] { workbench_.listen_to_simulation(); });
  connect(&workbench, &Workbench::source_changed, this, &LineView::refresh_state);
  connect(&workbench, &Workbench::line_came, this, &LineView::add_line);
  connect(&workbench, &Workbench::bench_changed, this, [this] {
    if (isVisible()) refresh_names();
  });
  connect(&theme, &Theme::changed, this, [this] { lines_->setFont(theme_.font(Face::code)); });
  refresh_state();
}

// The port, its speed, and what connects.
QLayout* LineView::build_line() {
  port_ = plain_box();
  port_->setObjectName(QStringLiteral("port"));
  port_->setEditable(true);
  port_->setAccessibleName(tr("Serial line"));
  port_->lineEdit()->setPlaceholderText(tr("such as /dev/ttyUSB0"));
  port_->setMinimumWidth(theme_.column_px(140));
  port_->setSizePolicy(QSizePolicy::Expanding, QSizePolicy::Fixed);
  port_->setMaximumWidth(theme_.px(260));
  speed_ = plain_box();
  speed_->setObjectName(QStringLiteral("speed"));
  speed_->setAccessibleName(tr("Speed in baud"));
  for (const int baud : SerialSource::usual_speeds()) speed_->addItem(tr("%1 baud").arg(baud), baud);
  speed_->setCurrentIndex(speed_->findData(Settings::read().line_speed));
  connect_ = new QPushButton(tr("Connect"));
  connect_->setObjectName(QStringLiteral("connect"));
  connect_->setProperty("primary", true);
  simulated_ = new QPushButton(tr("Simulation"));
  simulated_->setObjectName(QStringLiteral("simulated"));
  try_ = new QPushButton(tr("Try speeds"));
  try_->setObjectName(QStringLiteral("try_speeds"));
  try_->setProperty("quiet", true);
  try_->setToolTip(tr("Listens for two seconds at each and keeps the one at which lines can be read"));
  auto* line = row(8);
  line->addWidget(port_);
  line->addWidget(speed_);
  line->addWidget(connect_);
  line->addWidget(try_);
  line->addStretch();
  return line;
}

QLayout* LineView::build_lines() {
  lines_ = new QPlainTextEdit;
  lines_->setTabChangesFocus(true);
  lines_->setObjectName(QStringLiteral("raw_lines"));
  lines_->setReadOnly(true);
  lines_->setMaximumBlockCount(most_shown_lines);
  lines_->viewport()->installEventFilter(this);
  lines_->setFont(theme_.font(Face::code));
  lines_->setAccessibleName(tr("Lines as they arrive"));
  auto* left = column(8);
  left->addWidget(new Text(theme_, Face::label, tr("LINES AS THEY ARRIVE"), Tint::quiet));
  left->addWidget(lines_, 1);
  return left;
}

// The names that arrive, and what may be made of those that nobody knows.
QLayout* LineView::build_name_list() {
  make_ = new QPushButton;
  make_->setObjectName(QStringLiteral("make_channels"));
  make_->setProperty("primary", true);
  make_->hide();
  theirs_ = new QPushButton;
  theirs_->setObjectName(QStringLiteral("theirs"));
  theirs_->setToolTip(tr("The channel waits for such numbers, and nothing else comes that they could be of"));
  theirs_->setProperty("primary", true);
  theirs_->hide();
  which_ = new QPushButton(tr("Which sensor makes them?"));
  which_->setObjectName(QStringLiteral("which_sensor"));
  which_->setProperty("primary", true);
  which_->hide();
  connect(which_, &QPushButton::clicked, this, [this] {
    const auto& channels = workbench_.bench().channels;
    const auto bare = std::ranges::find_if(channels, lacks_sensor);
    if (bare != channels.end()) emit sensor_wanted(bare->id);
  });
  names_ = new QGridLayout;
  names_->setHorizontalSpacing(12);
  names_->setColumnStretch(1, 1);
  names_->setVerticalSpacing(2);
  no_names_ = new Text(theme_, Face::small,
                       tr("Names appear here as they arrive, with what they may be. Lines may read name:1873, "
                          "name:x0751, Temperature: 22.4 C, T=72.5F, a JSON object, a CSV row with a header, or bare "
                          "numbers."),
                       Tint::quiet);
  no_names_->setWordWrap(true);
  auto* right = column(8);
  right->addWidget(new Text(theme_, Face::label, tr("WHICH NAME IS WHICH CHANNEL"), Tint::quiet));
  for (QPushButton* each : {theirs_, make_, which_}) right->addWidget(each, 0, Qt::AlignLeft);
  auto* names_inside = new QWidget;
  auto* names_column = column(0);
  names_column->addWidget(no_names_);
  names_column->addLayout(names_);
  names_column->addStretch();
  names_inside->setLayout(names_column);
  auto* names_box = scrolled(names_inside);
  names_box->setMinimumHeight(1);  // large text leaves it little
  right->addWidget(names_box, 1);
  right->addWidget(build_sketches(), 0, Qt::AlignLeft);
  return right;
}

void LineView::showEvent(QShowEvent* event) {
  QWidget::showEvent(event);
  list_ports();
  const auto known = known_lines(workbench_.document().path());
  const auto first = std::ranges::find(known, false, &KnownLine::is_beside);
  if (first != known.end() && port_->currentText().isEmpty()) {
    port_->setCurrentText(first->path);
    if (const int speed = speed_->findData(first->baud); speed >= 0) speed_->setCurrentIndex(speed);
  }
  lines_->clear();
  for (const RawLine& line : workbench_.raw_lines()) add_line(line);
}

void LineView::list_ports() {
  const QString written = port_->currentText();
  port_->clear();
  for (const QSerialPortInfo& info : QSerialPortInfo::availablePorts()) port_->addItem(info.systemLocation());
  port_->setCurrentText(written);
}

// A second line, or a file that grows: its names with a word before them, so that two boards may send the same.
QLayout* LineView::beside_row() {
  beside_ = new QPushButton(tr("Listen to it as well"));
  beside_->setObjectName(QStringLiteral("listen_beside"));
  beside_->setToolTip(tr("Beside what is listened to now; a line, or a file that another program writes to"));
  connect(beside_, &QPushButton::clicked, this, &LineView::listen_beside);
  prefix_ = new QLineEdit;
  prefix_->setObjectName(QStringLiteral("beside_prefix"));
  prefix_->setPlaceholderText(tr("before its names: barn."));
  prefix_->setAccessibleName(tr("What stands before the names of the second line"));
  prefix_->setMaximumWidth(theme_.px(260));
  connect(prefix_, &QLineEdit::returnPressed, this, &LineView::listen_beside);
  auto* paste = new QPushButton(tr("Paste lines"));
  paste->setObjectName(QStringLiteral("paste_lines"));
  paste->setProperty("quiet", true);
  paste->setToolTip(tr("Lines from the clipboard, as if they arrived now"));
  connect(paste, &QPushButton::clicked, this, [this] {
    const QString text = QApplication::clipboard()->text();
    constexpr qsizetype most = 1 << 20;
    if (text.trimmed().isEmpty()) return advice_->setText(tr("The clipboard holds no text."));
    if (text.size() > most)
      return advice_->setText(
          tr("The clipboard holds more than a million characters: save them, and open the log in Watch."));
    workbench_.take_text(text);
  });
  auto* all = row(8);
  all->addWidget(prefix_);
  all->addWidget(beside_);
  all->addWidget(paste);
  all->addStretch();
  all->addWidget(simulated_);
  return all;
}

void LineView::listen_beside() {
  const QString path = port_->currentText().trimmed();
  const bool is_first =
      workbench_.listens_to_line() && listened_ == path && workbench_.source().state() != LineState::stopped;
  const QString why = is_first ? tr("%1 is listened to already.").arg(path)
                               : workbench_.beside_sources().add(path, speed_->currentData().toInt(), prefix_->text());
  if (!why.isEmpty()) advice_->setText(why);
}

void LineView::list_beside() {
  clear(beside_lines_);
  const auto& all = workbench_.beside_sources().all();
  for (std::size_t i = 0; i < all.size(); ++i) {
    const LiveSource& source = *all[i].source;
    auto* words =
        new Text(theme_, Face::small,
                 all[i].prefix.isEmpty()
                     ? tr("%1: %2").arg(all[i].path, source.words())
                     : tr("%1, names with %2 before them: %3").arg(all[i].path, all[i].prefix, source.words()),
                 source.state() == LineState::running ? Tint::second : Tint::red);
    words->setWordWrap(true);
    auto* off = new QPushButton(tr("Stop"));
    off->setObjectName(QStringLiteral("stop_beside_%1").arg(i));
    off->setAccessibleName(tr("Stop listening to %1").arg(all[i].path));
    off->setProperty("quiet", true);
    connect(
        off, &QPushButton::clicked, this, [this, i] { workbench_.beside_sources().remove(i); }, Qt::QueuedConnection);
    auto* line = row(8);
    line->addWidget(words, 1);
    line->addWidget(off);
    beside_lines_->addLayout(line);
  }
}

// The other side of the line: firmware that sends what this bench reads.
QPushButton* LineView::build_sketches() {
  auto* button = new QPushButton(tr("Firmware for it…"));
  button->setObjectName(QStringLiteral("sketch"));
  button->setProperty("quiet", true);
  button->setToolTip(
      tr("A short program that sends each channel's raw number at its period; a few functions of it are "
         "yours to fill in"));
  auto* menu = new QMenu(button);
  for (const auto& [language, words, name] : {std::tuple(Language::c, tr("Copy it in C"), "sketch_c"),
                                              std::tuple(Language::python, tr("Copy it in Python"), "sketch_python")}) {
    QAction* action = menu->addAction(words, this, [this, which = language] {
      QApplication::clipboard()->setText(text_of(line_sketch(workbench_.bench(), workbench_.catalogue(), which)));
      advice_->setText(tr("Copied. Its first lines say what is yours to fill in: pins, bus, clock and line."));
    });
    action->setObjectName(QLatin1String(name));
  }
  button->setMenu(menu);
  return button;
}

// The speeds one after the other, those that people use most first.
void LineView::try_speeds() {
  if (next_speed_.isActive()) {  // enough
    next_speed_.stop();
    untried_.clear();
    return refresh_state();
  }
  if (port_->currentText().trimmed().isEmpty()) return connect_line();  // says what is missing
  untried_ = {115200, 9600, 57600, 38400, 19200, 230400, 4800};
  best_speed_ = best_score_ = 0;
  workbench_.listen_to_line(port_->currentText(), untried_.front());
  next_speed_.start();
  refresh_state();
}

void LineView::judge_speed() {
  int readable = 0, unreadable = 0;
  for (const RawLine& line : workbench_.raw_lines()) ++(line.fault.isEmpty() ? readable : unreadable);
  const LineState state = workbench_.source().state();
  if (state != LineState::noise && readable - unreadable > best_score_) {
    best_score_ = readable - unreadable;
    best_speed_ = untried_.front();
  }
  const bool sure = best_speed_ == untried_.front() && unreadable <= 1 && state == LineState::running;
  const bool there = state != LineState::missing && state != LineState::held;
  untried_.removeFirst();
  if (!sure && there && !untried_.isEmpty()) {
    workbench_.listen_to_line(port_->currentText(), untried_.front());
    return refresh_state();
  }
  next_speed_.stop();
  untried_.clear();
  if (best_speed_ > 0) {
    speed_->setCurrentIndex(speed_->findData(best_speed_));
    if (!sure) workbench_.listen_to_line(port_->currentText(), best_speed_);
  }
  refresh_state();
  if (best_speed_ > 0) {
    advice_->setText(tr("At %1 baud the lines can be read.").arg(best_speed_));
  } else if (there) {
    workbench_.stop_listening();
    state_->setText(tr("No usual speed gives readable lines"));
    state_->set_tint(Tint::red);
    advice_->setText(tr("Is the board powered, does it send text, and is another program listening to it?"));
  }
}

// A channel for every name that has none: values are ready to be read, raw numbers still need their sensor.
void LineView::make_channels() {
  std::vector<std::string> added;
  Bench bench = with_channels(workbench_.bench(), workbench_.listener().proposals(), &added);
  if (added.empty()) return;
  Settings::read().prefer_units(bench, added);
  workbench_.document().replace(
      added.size() == 1 ? tr("One channel from the line") : tr("%1 channels from the line").arg(added.size()),
      std::move(bench));
  workbench_.choose_channel(first_to_look_at(workbench_.bench(), added));
}

// Names that can be of one channel only become its own.
void LineView::give_to_waiting() {
  if (waiting_.empty()) return;
  const auto proposals = workbench_.listener().proposals();
  const auto given = waiting_;
  workbench_.document().edit(tr("Channels of the line"), [&](Bench& bench) {
    for (const auto& [name, channel] : given)
      give_line_name(bench, workbench_.catalogue(), channel, name, bytes_at_once(proposals, name));
  });
  workbench_.choose_channel(given.begin()->second);
}

void LineView::connect_line() {
  next_speed_.stop();
  untried_.clear();
  const bool connected = workbench_.listens_to_line() && workbench_.source().state() != LineState::stopped;
  if (connected) return workbench_.stop_listening();
  if (port_->currentText().trimmed().isEmpty()) {
    state_->setText(tr("No line is named"));
    state_->set_tint(Tint::red);
    advice_->setText(tr("Type the line's path, such as /dev/ttyUSB0, or choose one from the list."));
    return;
  }
  lines_->clear();
  listened_ = port_->currentText().trimmed();
  workbench_.listen_to_line(port_->currentText(), speed_->currentData().toInt());
}

void LineView::refresh_state() {
  const LiveSource& source = workbench_.source();
  const bool serial = workbench_.listens_to_line();
  connect_->setText(serial && source.state() != LineState::stopped ? tr("Disconnect") : tr("Connect"));
  simulated_->setEnabled(serial || source.state() == LineState::stopped);
  state_->setText(serial || source.state() == LineState::stopped ? title_of(source.state()) : tr("Simulation"));
  const bool quiet = source.state() == LineState::stopped || source.state() == LineState::opening;
  state_->set_tint(source.state() == LineState::running ? Tint::accent : quiet ? Tint::quiet : Tint::red);
  advice_->setText(!serial && source.state() == LineState::running
                       ? tr("Every channel answers by its own chain with noise, as a board would. Connect a line to "
                            "read a real one.")
                       : source.words());
  list_beside();
  try_->setText(next_speed_.isActive() ? tr("Stop trying") : tr("Try speeds"));
  if (next_speed_.isActive() && !untried_.isEmpty())
    advice_->setText(tr("Listening at %1 baud …").arg(untried_.front()));
  refresh_names();
}

// The newest line stays in sight where the box becomes smaller or its lines longer, unless one has scrolled away from
// it or marks something in it.
bool LineView::eventFilter(QObject* object, QEvent* event) {
  if (event->type() != QEvent::Resize || object != lines_->viewport()) return QWidget::eventFilter(object, event);
  QTextCursor end(lines_->document());
  end.movePosition(QTextCursor::End);
  const bool was_at_end = lines_->cursorRect(end).bottom() <= static_cast<QResizeEvent*>(event)->oldSize().height();
  if (was_at_end && !lines_->textCursor().hasSelection())
    QMetaObject::invokeMethod(
        lines_,
        [this] {
          lines_->moveCursor(QTextCursor::End);  // lays out what it passes
          lines_->verticalScrollBar()->setValue(lines_->verticalScrollBar()->maximum());
        },
        Qt::QueuedConnection);
  return QWidget::eventFilter(object, event);
}

void LineView::add_line(const RawLine& line) {
  if (!isVisible()) return;
  lines_->appendPlainText(line.fault.isEmpty() ? line.text : QStringLiteral("%1    ✗ %2").arg(line.text, line.fault));
  if (!names_due_.isActive()) names_due_.start();
}

void LineView::build_names(const QStringList& names) {
  listed_ = names;
  clear(names_);
  for (int i = 0; i < names.size(); ++i) {
    auto* box = plain_box();
    box->setAccessibleName(tr("Channel of %1").arg(names[i]));
    box->setSizeAdjustPolicy(QComboBox::AdjustToMinimumContentsLengthWithIcon);
    box->setMinimumContentsLength(9);
    box->setSizePolicy(QSizePolicy::Ignored, QSizePolicy::Fixed);
    box->setMinimumWidth(theme_.column_px(70));
    box->addItem(tr("no channel"), QString());
    for (const Channel& channel : workbench_.bench().channels)
      box->addItem(text_of(called(channel)), text_of(channel.id));
    auto* words = new Text(theme_, Face::small, {}, Tint::quiet);
    words->setWordWrap(true);
    names_->addWidget(new Text(theme_, Face::number_small, names[i]), rows_a_name * i, 0);
    names_->addWidget(new Text(theme_, Face::number_small, {}, Tint::quiet), rows_a_name * i + 1, 0);
    names_->addWidget(box, rows_a_name * i, 1, 2, 1, Qt::AlignVCenter);
    names_->addWidget(words, rows_a_name * i + 2, 0, 1, 2);
    names_->setRowMinimumHeight(rows_a_name * i + 3, theme_.px(10));
    connect(box, &QComboBox::activated, this, [this, box, name = names[i]] {
      workbench_.document().edit(tr("Channel of %1").arg(name), [&](Bench& bench) {
        give_line_name(bench, workbench_.catalogue(), box->currentData().toString().toStdString(), name.toStdString(),
                       bytes_at_once(workbench_.listener().proposals(), name.toStdString()));
      });
    });
  }
}

QString LineView::words_of(const LineProposal& proposal, const Channel* channel) const {
  QString words = text_of(proposal.words);
  const auto parts = parts_that_answer(workbench_.catalogue(), proposal.answers);
  if (!parts.empty()) words = tr("%1: %2").arg(words, text_of(markings_of(parts)));
  return channel ? tr("%1. It has no sensor yet.").arg(words) : words;
}

void LineView::refresh_names() {
  const std::vector<Channel>& channels = workbench_.bench().channels;
  QStringList names;
  for (const auto& [name, value] : workbench_.names_on_line()) names << text_of(name);
  QStringList known;
  for (const Channel& channel : channels) known << text_of(channel.id);
  no_names_->setVisible(names.isEmpty());
  if (names != listed_ || known != known_) known_ = known, build_names(names);
  std::map<std::string, LineProposal> proposals;
  auto heard = workbench_.listener().proposals();
  waiting_ = waiting_channels(workbench_.bench(), workbench_.catalogue(), heard);
  for (LineProposal& proposal : heard) {
    std::string name = proposal.name;
    proposals.emplace(std::move(name), std::move(proposal));
  }
  int without = 0, bare = 0;
  for (int i = 0; i < listed_.size(); ++i) {
    const std::string name = listed_[i].toStdString();
    const auto value = workbench_.names_on_line().find(name);
    static_cast<Text*>(names_->itemAtPosition(rows_a_name * i + 1, 0)->widget())->setText(value->second);
    const auto channel = std::ranges::find(channels, name, &Channel::name_on_line);
    const auto proposal = proposals.find(name);
    auto* words = static_cast<Text*>(names_->itemAtPosition(rows_a_name * i + 2, 0)->widget());
    const Channel* taken = channel == channels.end() ? nullptr : &*channel;
    const bool lacks = taken && lacks_sensor(*taken);
    const bool open = proposal != proposals.end() && (!taken || lacks);
    QStringList beside;  // of the same bytes
    for (const Channel& other : channels)
      if (taken && &other != taken && other.name_on_line() == name) beside << text_of(called(other));
    words->setVisible(open || !beside.isEmpty());
    if (!beside.isEmpty()) words->setText(tr("also %1, from the same bytes").arg(beside.join(QStringLiteral(", "))));
    if (open) words->setText(words_of(proposal->second, taken));
    if (open && !taken) ++without;
    if (lacks) ++bare;
    auto* box = static_cast<QComboBox*>(names_->itemAtPosition(rows_a_name * i, 1)->widget());
    if (box->view()->isVisible()) continue;
    box->setCurrentIndex(channel == channels.end() ? 0 : static_cast<int>(channel - channels.begin()) + 1);
  }
  const bool was_pressed = make_->hasFocus() || theirs_->hasFocus();
  make_->setVisible(without > 0 && !next_speed_.isActive());  // noise has names too
  theirs_->setVisible(make_->isVisibleTo(this) && !waiting_.empty());
  if (waiting_.size() == 1) {
    const QString name = text_of(called(*find_by_id(channels, waiting_.begin()->second)));
    theirs_->setText(tr("It is %1").arg(fontMetrics().elidedText(name, Qt::ElideRight, theme_.column_px(140))));
  } else {
    theirs_->setText(tr("Give %1 names to their channels").arg(waiting_.size()));
  }
  if (const bool is_first = waiting_.empty(); make_->property("primary").toBool() != is_first) {
    make_->setProperty("primary", is_first);
    make_->style()->polish(make_);
  }
  which_->setVisible(make_->isHidden() && bare > 0);
  // The keys go on where what was made stands.
  if (was_pressed && make_->isHidden() && !listed_.isEmpty())
    (which_->isHidden() ? names_->itemAtPosition(0, 1)->widget() : which_)->setFocus();
  make_->setText(without == 1 ? tr("Make a channel of it") : tr("Make channels of these %1").arg(without));
}

}  // namespace fair_gauge::app

#include "moc_line_view.cpp"
