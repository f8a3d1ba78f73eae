// A file that another program writes to: what is appended arrives like lines of a board.
#pragma once

#include <QFile>
#include <QTimer>

#include "sources/live_source.h"

namespace fair_gauge::app {

class FileSource : public LiveSource {
  Q_OBJECT
 public:
  explicit FileSource(QString path, QObject* parent = nullptr);
  /// Of what is there already only the first line is read, which may name the columns; then what is appended.
  void start() override;
  void stop() override;

 private:
  void look();
  bool open(bool from_beginning);

  QString path_;
  QFile file_;
  SerialText text_;
  QTimer timer_;
};

}  // namespace fair_gauge::app
