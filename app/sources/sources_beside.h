// Lines and growing files that are listened to beside the first one, each with a word before its names.
#pragma once

#include <QObject>
#include <QString>
#include <memory>
#include <vector>

#include "sources/live_source.h"

namespace fair_gauge::app {

class SourcesBeside : public QObject {
  Q_OBJECT
 public:
  using QObject::QObject;
  static constexpr std::size_t most = 16;

  /// Begins to listen. \param path  of a line, or of a file that another program writes to \param prefix  stands before
  /// its names: "barn." \returns why not; empty if it listens
  QString add(const QString& path, int baud, const QString& prefix);
  void remove(std::size_t which);
  bool is_any_running() const;

  struct Entry {
    QString path, prefix;
    int baud;
    std::unique_ptr<LiveSource> source;
  };
  const std::vector<Entry>& all() const { return entries_; }

  static bool is_file(const QString& path);
  /// A source for that path, not started.
  static std::unique_ptr<LiveSource> source_of(const QString& path, int baud);

 signals:
  /// With the names as the bench has them. \param age_s  seconds since its last byte arrived
  void line_came(const fair_gauge::SerialLine& line, double age_s);
  void changed();

 private:
  std::vector<Entry> entries_;
};

}  // namespace fair_gauge::app
