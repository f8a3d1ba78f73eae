// The stand-in for a board, in a process of its own.
#pragma once

#include <QFile>
#include <QProcess>
#include <QTemporaryDir>

#include "../built.h"

namespace fair_gauge::app {

/// Sends until it is hung up. Its line has a name that nobody else gets: the number of a pseudo-terminal goes to the
/// next who asks, and a window that looks for its lost board would take the one of a test that runs beside it.
class Board {
 public:
  /// \param link  the name of its line; empty → one in a folder of its own
  explicit Board(const QStringList& options, const QString& link = {})
      : path(link.isEmpty() ? folder_.filePath(QStringLiteral("board")) : link) {
    process_.start(QString::fromUtf8(built::stand_in), options + QStringList{QStringLiteral("--link"), path});
    if (!process_.waitForReadyRead(60'000)) path.clear();
  }
  ~Board() { hang_up(); }
  void hang_up() {
    QFile::remove(path);  // before the line is free for others
    process_.kill();
    process_.waitForFinished(60'000);
  }

 private:
  QTemporaryDir folder_;
  QProcess process_;

 public:
  QString path;  ///< empty where it did not begin
};

}  // namespace fair_gauge::app
