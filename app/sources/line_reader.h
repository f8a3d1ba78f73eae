// Reads a serial line in a thread of its own, so that no line is lost while the window is busy. Recognises a line held
// by another program, a wrong speed, silence and a hang-up, and comes back by itself when the line does.
#pragma once

#include <QElapsedTimer>
#include <QMutex>
#include <QSerialPort>
#include <QTimer>
#include <chrono>
#include <deque>

#include "sources/live_source.h"

namespace fair_gauge::app {

/// A line and when its last byte was taken from the port.
struct ArrivedLine {
  SerialLine line;
  std::chrono::steady_clock::time_point came;
};

/// Lives in the reading thread; only take() may be called from another.
class LineReader : public QObject {
  Q_OBJECT
 public:
  LineReader();

  /// \param turn  comes back with every state, so that those of an earlier line can be told
  void begin(const QString& path, int baud, int turn);
  void end();
  /// The oldest lines of this turn that wait, `most` of them; those of earlier turns are dropped.
  std::vector<ArrivedLine> take(int turn, std::size_t most);

  /// The name of another program that has the device open, or empty.
  static QString holder_of(const QString& path);

 signals:
  /// Once, when the first line waits; again when take() has left none.
  void lines_wait();
  void state_changed(int turn, fair_gauge::app::LineState state, const QString& words);

 private:
  void look();
  void try_to_open();
  void take_bytes();
  void judge();
  void line_lost(QSerialPort::SerialPortError error);
  void say(LineState state, const QString& words);

  QSerialPort port_{this};
  QTimer watch_{this};
  QString path_;
  int baud_ = 0;
  int turn_ = 0;
  bool wanted_ = false;
  LineState state_ = LineState::stopped;
  QString words_;
  SerialText text_;
  QElapsedTimer last_bytes_;
  bool has_lines_ = false;

  QMutex mutex_;  // guards what follows
  std::deque<ArrivedLine> waiting_;
  int waiting_turn_ = 0;
};

}  // namespace fair_gauge::app
