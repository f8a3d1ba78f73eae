// A board on a serial line. Recognises a line held by another program, a wrong speed, silence and a hang-up, and comes
// back by itself when the line does.
#pragma once

#include <QElapsedTimer>
#include <QSerialPort>
#include <QTimer>

#include "sources/live_source.h"

namespace fair_gauge::app {

class SerialSource : public LiveSource {
  Q_OBJECT
 public:
  explicit SerialSource(QObject* parent = nullptr);

  /// \param path  of the device, such as /dev/ttyUSB0   \param baud  bits a second
  void set_line(const QString& path, int baud);
  void start() override;
  void stop() override;

  const QString& path() const { return path_; }
  int baud() const { return baud_; }

  /// The speeds people use, slowest first.
  static QList<int> usual_speeds();
  /// The name of another program that has the device open, or empty.
  static QString holder_of(const QString& path);

 private:
  void try_to_open();
  void take_bytes();
  void judge();
  void line_lost(QSerialPort::SerialPortError error);

  QSerialPort port_;
  QString path_;
  int baud_ = 115200;
  bool wanted_ = false;
  SerialText text_;
  QTimer watch_;
  QElapsedTimer last_bytes_;
  int lines_ = 0;
};

}  // namespace fair_gauge::app
