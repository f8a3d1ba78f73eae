// Where live raw numbers come from: the simulation or a serial line. A source only delivers; what the numbers mean
// is the chain's business.
#pragma once

#include <QObject>
#include <QString>

#include "stream/serial_text.h"

namespace fair_gauge::app {

enum class LineState { stopped, opening, running, silent, noise, held, missing, hung_up };

class LiveSource : public QObject {
  Q_OBJECT
 public:
  using QObject::QObject;
  virtual void start() = 0;
  virtual void stop() = 0;

  LineState state() const { return state_; }
  /// One sentence for people: what is connected, or what is wrong and what to do.
  const QString& words() const { return words_; }

 signals:
  /// \param age_s  seconds since its last byte arrived
  void line_came(const fair_gauge::SerialLine& line, double age_s);
  void state_changed();

 protected:
  void set_state(LineState state, const QString& words);

 private:
  LineState state_ = LineState::stopped;
  QString words_;
};

}  // namespace fair_gauge::app
