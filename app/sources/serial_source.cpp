#include "sources/serial_source.h"

#include <QElapsedTimer>

#include "sources/line_reader.h"

namespace fair_gauge::app {
namespace {

// Lines come as fast as they like; the window has at least half of its time for itself.
constexpr int portion_every_ms = 16, portion_lasts_ms = 8;
constexpr std::size_t lines_at_once = 64;

}  // namespace

SerialSource::SerialSource(QObject* parent) : LiveSource(parent), reader_(new LineReader) {
  due_.setSingleShot(true);
  due_.setInterval(portion_every_ms);
  connect(&due_, &QTimer::timeout, this, &SerialSource::take_lines);
  connect(reader_, &LineReader::lines_wait, this, [this] {
    if (!due_.isActive()) due_.start();
  });
  connect(reader_, &LineReader::state_changed, this, [this](int turn, LineState state, const QString& words) {
    if (turn == turn_) set_state(state, words);
  });
  reader_->moveToThread(&thread_);
  connect(&thread_, &QThread::finished, reader_, &QObject::deleteLater);
  thread_.setObjectName(QStringLiteral("serial line"));
}

SerialSource::~SerialSource() {
  if (!thread_.isRunning()) delete reader_;  // never started: nobody else has it
  thread_.quit();
  thread_.wait();
}

QList<int> SerialSource::usual_speeds() {
  return {1200, 2400, 4800, 9600, 19200, 38400, 57600, 115200, 230400, 460800, 921600};
}

void SerialSource::set_line(const QString& path, int baud) {
  path_ = path.trimmed();
  baud_ = baud;
}

void SerialSource::start() {
  if (!thread_.isRunning()) thread_.start();
  set_state(LineState::opening, tr("Opening %1 …").arg(path_));
  QMetaObject::invokeMethod(
      reader_, [reader = reader_, path = path_, baud = baud_, turn = ++turn_] { reader->begin(path, baud, turn); });
}

void SerialSource::stop() {
  ++turn_;
  if (thread_.isRunning()) QMetaObject::invokeMethod(reader_, [reader = reader_] { reader->end(); });
  set_state(LineState::stopped, tr("Nothing is connected"));
}

void SerialSource::take_lines() {
  QElapsedTimer clock;
  clock.start();
  const int turn = turn_;
  while (turn == turn_ && clock.elapsed() < portion_lasts_ms) {
    const std::vector<ArrivedLine> lines = reader_->take(turn, lines_at_once);
    const auto now = std::chrono::steady_clock::now();
    for (const ArrivedLine& arrived : lines) {
      if (turn != turn_) return;  // somebody who heard of a line has turned to another source
      emit line_came(arrived.line, std::chrono::duration<double>(now - arrived.came).count());
    }
    if (lines.size() < lines_at_once) return;
  }
  due_.start();
}

}  // namespace fair_gauge::app

#include "moc_serial_source.cpp"
