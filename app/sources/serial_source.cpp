#include "sources/serial_source.h"

#include <QCoreApplication>
#include <QDir>
#include <QFile>
#include <QFileInfo>

#include <cerrno>

namespace fair_gauge::app {
namespace {

constexpr int watch_ms = 500;
constexpr int silence_ms = 5000;

}  // namespace

SerialSource::SerialSource(QObject* parent) : LiveSource(parent) {
  watch_.setInterval(watch_ms);
  connect(&watch_, &QTimer::timeout, this, &SerialSource::judge);
  connect(&port_, &QSerialPort::readyRead, this, &SerialSource::take_bytes);
  connect(&port_, &QSerialPort::errorOccurred, this, &SerialSource::line_lost);
}

QList<int> SerialSource::usual_speeds() {
  return {1200, 2400, 4800, 9600, 19200, 38400, 57600, 115200, 230400, 460800, 921600};
}

QString SerialSource::holder_of(const QString& path) {
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

void SerialSource::set_line(const QString& path, int baud) {
  path_ = path.trimmed();
  baud_ = baud;
}

void SerialSource::start() {
  wanted_ = true;
  try_to_open();
  watch_.start();
}

void SerialSource::stop() {
  wanted_ = false;
  watch_.stop();
  if (port_.isOpen()) port_.close();
  set_state(LineState::stopped, tr("Nothing is connected"));
}

void SerialSource::try_to_open() {
  if (!QFileInfo::exists(path_))
    return set_state(
        state() == LineState::hung_up ? LineState::hung_up : LineState::missing,
        state() == LineState::hung_up
            ? words()
            : tr("There is no line %1. Plug the board in; it is looked for every half second.").arg(path_));
  if (const QString holder = holder_of(path_); !holder.isEmpty())
    return set_state(
        LineState::held,
        tr("%1 is held by another program (%2). Close it there; this window takes over by itself.").arg(path_, holder));
  port_.setPortName(path_);
  port_.setBaudRate(baud_);
  if (!port_.open(QIODevice::ReadOnly)) {
    if (port_.error() == QSerialPort::PermissionError)
      return set_state(LineState::held, tr("%1 may not be opened. Another program holds it, or you are not in the "
                                           "group that may use serial lines (often dialout).")
                                            .arg(path_));
    return set_state(LineState::missing, tr("%1 cannot be opened: %2.").arg(path_, port_.errorString()));
  }
  text_ = SerialText();
  lines_ = 0;
  last_bytes_.start();
  set_state(LineState::running, tr("Listening on %1 at %2 baud").arg(path_).arg(baud_));
}

void SerialSource::take_bytes() {
  last_bytes_.restart();
  const QByteArray bytes = port_.readAll();
  for (const SerialLine& line : text_.take({bytes.constData(), static_cast<std::size_t>(bytes.size())})) {
    ++lines_;
    emit line_came(line);
  }
  judge();
}

void SerialSource::judge() {
  if (!port_.isOpen()) {
    if (wanted_) try_to_open();
    return;
  }
  if (last_bytes_.elapsed() > silence_ms)
    return set_state(LineState::silent, tr("%1 is silent. Is the sketch running, and is this its line?").arg(path_));
  if (text_.is_noise())
    return set_state(LineState::noise, tr("What arrives is no text: the speed of %1 baud is probably not the board's. "
                                          "Try another; 9600 and 115200 are the usual ones.")
                                           .arg(baud_));
  if (lines_ > 0) set_state(LineState::running, tr("Reading %1 at %2 baud").arg(path_).arg(baud_));
}

void SerialSource::line_lost(QSerialPort::SerialPortError error) {
  if (error == QSerialPort::NoError || error == QSerialPort::TimeoutError || !port_.isOpen()) return;
  if (error == QSerialPort::UnsupportedOperationError) return;
  port_.close();
  if (wanted_)
    set_state(LineState::hung_up,
              tr("The board hung up. Its last readings are kept; the line is tried again every half second."));
}

}  // namespace fair_gauge::app

#include "moc_serial_source.cpp"
