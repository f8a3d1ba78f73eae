// A board on a serial line. What is read beside the window is handed on in portions that leave the window its time.
#pragma once

#include <QThread>
#include <QTimer>

#include "sources/live_source.h"

namespace fair_gauge::app {

class LineReader;

class SerialSource : public LiveSource {
  Q_OBJECT
 public:
  explicit SerialSource(QObject* parent = nullptr);
  ~SerialSource() override;

  /// \param path  of the device, such as /dev/ttyUSB0   \param baud  bits a second
  void set_line(const QString& path, int baud);
  void start() override;
  void stop() override;

  const QString& path() const { return path_; }
  int baud() const { return baud_; }

  /// The speeds people use, slowest first.
  static QList<int> usual_speeds();

 private:
  void take_lines();

  QString path_;
  int baud_ = 115200;
  int turn_ = 0;  // counts starts and stops: what the reader still says of an earlier one is not heard
  QThread thread_;
  LineReader* reader_;
  QTimer due_;
};

}  // namespace fair_gauge::app
