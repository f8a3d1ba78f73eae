#include "sources/line_reader.h"

#include <QCoreApplication>
#include <QDir>
#include <QFile>
#include <QFileInfo>

#include <cerrno>
#include <iterator>

namespace fair_gauge::app {
namespace {

constexpr int watch_ms = 500;
constexpr int silence_ms = 5000;
// A window that stands still for minutes: then the line waits too, as far as the system holds it.
constexpr std::size_t most_waiting_lines = 500'000;
constexpr qint64 most_unread_bytes = 1 << 20;
// An adapter hands over what came in the last few milliseconds at once.
constexpr std::chrono::milliseconds longest_held_back(64);

// How long before the last line of a portion one came, as far as it can be known: they came one after the other since
// the portion before. \param later  lines of the portion that came after it
std::chrono::nanoseconds came_before(std::size_t later, std::size_t lines, std::chrono::nanoseconds pause) {
  return std::min<std::chrono::nanoseconds>(pause, longest_held_back) * later / lines;
}

}  // namespace

LineReader::LineReader() {
  watch_.setInterval(watch_ms);
  connect(&watch_, &QTimer::timeout, this, &LineReader::look);
  port_.setReadBufferSize(most_unread_bytes);
  connect(&port_, &QSerialPort::readyRead, this, &LineReader::take_bytes);
  connect(&port_, &QSerialPort::errorOccurred, this, &LineReader::line_lost);
}

QString LineReader::holder_of(const QString& path) {
  const QString device = QFileInfo(path).canonicalFilePath();
  if (device.isEmpty()) return {};
  const QString own = QString::number(QCoreApplication::applicationPid());
  for (const QString& process : QDir(QStringLiteral("/proc")).entryList(QDir::Dirs | QDir::NoDotAndDotDot)) {
    if (!process.front().isDigit() || process == own) continue;
    const QDir open_files(QStringLiteral("/proc/%1/fd").arg(process));
    for (const QFileInfo& file : open_files.entryInfoList(QDir::Files | QDir::System | QDir::NoDotAndDotDot)) {
      if (file.symLinkTarget() != device) continue;
      QFile name(QStringLiteral("/proc/%1/comm").arg(process));
      return name.open(QIODevice::ReadOnly) ? QString::fromUtf8(name.readAll()).trimmed() : tr("another program");
    }
  }
  return {};
}

void LineReader::begin(const QString& path, int baud, int turn) {
  end();
  path_ = path;
  baud_ = baud;
  turn_ = turn;
  wanted_ = true;
  try_to_open();
  watch_.start();
}

void LineReader::end() {
  wanted_ = false;
  watch_.stop();
  if (port_.isOpen()) port_.close();
  state_ = LineState::stopped;
  words_.clear();
}

void LineReader::say(LineState state, const QString& words) {
  if (state == state_ && words == words_) return;
  state_ = state;
  words_ = words;
  emit state_changed(turn_, state, words);
}

void LineReader::try_to_open() {
  if (!QFileInfo::exists(path_))
    return state_ == LineState::hung_up
               ? void()
               : say(LineState::missing,
                     tr("There is no line %1. Plug the board in; it is looked for every half second.").arg(path_));
  if (const QString holder = holder_of(path_); !holder.isEmpty())
    return say(LineState::held, tr("%1 is held by another program (%2). Close it there; this window takes over by "
                                   "itself.")
                                    .arg(path_, holder));
  port_.setPortName(path_);
  port_.setBaudRate(baud_);
  if (!port_.open(QIODevice::ReadOnly)) {
    if (port_.error() == QSerialPort::PermissionError)
      return say(LineState::held, tr("%1 may not be opened. Another program holds it, or you are not in the group "
                                     "that may use serial lines (often dialout).")
                                      .arg(path_));
    return say(LineState::missing, tr("%1 cannot be opened: %2.").arg(path_, port_.errorString()));
  }
  text_ = SerialText();
  has_lines_ = false;
  last_bytes_.start();
  say(LineState::running, tr("Listening on %1 at %2 baud").arg(path_).arg(baud_));
}

void LineReader::take_bytes() {
  {
    const QMutexLocker lock(&mutex_);
    if (waiting_turn_ == turn_ && waiting_.size() >= most_waiting_lines) return;  // look() comes back to it
  }
  const std::chrono::nanoseconds pause(last_bytes_.nsecsElapsed());
  last_bytes_.restart();
  const QByteArray bytes = port_.readAll();
  auto lines = text_.take({bytes.constData(), static_cast<std::size_t>(bytes.size())});
  if (!lines.empty()) {
    has_lines_ = true;
    const QMutexLocker lock(&mutex_);
    if (std::exchange(waiting_turn_, turn_) != turn_) waiting_.clear();
    const bool were_none = waiting_.empty();
    const auto now = std::chrono::steady_clock::now();
    for (std::size_t i = 0; i < lines.size(); ++i)
      waiting_.push_back({std::move(lines[i]), now - came_before(lines.size() - 1 - i, lines.size(), pause)});
    if (were_none) emit lines_wait();
  }
  judge();
}

std::vector<ArrivedLine> LineReader::take(int turn, std::size_t most) {
  const QMutexLocker lock(&mutex_);
  if (waiting_turn_ != turn) return {};
  const auto end = waiting_.begin() + static_cast<std::ptrdiff_t>(std::min(most, waiting_.size()));
  std::vector<ArrivedLine> taken{std::make_move_iterator(waiting_.begin()), std::make_move_iterator(end)};
  waiting_.erase(waiting_.begin(), end);
  return taken;
}

void LineReader::look() {
  if (!port_.isOpen()) return try_to_open();
  if (port_.bytesAvailable() > 0) return take_bytes();
  judge();
}

void LineReader::judge() {
  if (last_bytes_.elapsed() > silence_ms)
    return say(LineState::silent, tr("%1 is silent. Is the sketch running, and is this its line?").arg(path_));
  if (text_.is_noise())
    return say(LineState::noise, tr("What arrives is no text: the speed of %1 baud is probably not the board's. Try "
                                    "another; 9600 and 115200 are the usual ones.")
                                     .arg(baud_));
  if (has_lines_) say(LineState::running, tr("Reading %1 at %2 baud").arg(path_).arg(baud_));
}

void LineReader::line_lost(QSerialPort::SerialPortError error) {
  if (error == QSerialPort::NoError || error == QSerialPort::TimeoutError || !port_.isOpen()) return;
  if (error == QSerialPort::UnsupportedOperationError) return;
  port_.close();
  if (wanted_)
    say(LineState::hung_up,
        tr("The board hung up. Its last readings are kept; the line is tried again every half second."));
}

}  // namespace fair_gauge::app

#include "moc_line_reader.cpp"
