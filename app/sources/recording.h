// A recording that goes on whatever page is shown: lines as they come, handed to the recorder beside the interface
// thread twice a second.
#pragma once

#include <QObject>
#include <QString>
#include <QTimer>
#include <memory>
#include <vector>

#include "stream/recorder.h"
#include "stream/recording_events.h"
#include "widgets/background.h"

namespace fair_gauge::app {

class Recording : public QObject {
  Q_OBJECT
 public:
  explicit Recording(QObject* parent = nullptr);
  /// What is in hand is written.
  ~Recording() override;

  /// Begins a file, or goes on with one of the same channels. \returns why not; empty if it records now
  QString begin(const Bench& bench, const Catalogue& catalogue, const QString& path);
  /// Writes what is in hand and ends. \returns what could not be written; empty if all was
  QString end();
  /// \param age_s  seconds since it arrived
  void take(const SerialLine& line, double age_s);
  /// What happens at this moment, to be written beside the recording; nothing while none is on. \param kind  "note", …
  void happens(const char* kind, const QString& words);

  bool is_on() const { return recorder_ != nullptr; }
  const QString& path() const { return path_; }
  std::uint64_t rows() const { return rows_; }
  /// Why nothing can be written just now; empty while all is well. What came meanwhile is kept, up to 64 MB.
  const QString& trouble() const { return trouble_; }

 signals:
  void changed();

 private:
  struct Written {
    std::uint64_t rows = 0;
    std::size_t waiting = 0;
    QString trouble;
    std::vector<RecordingEvent> left;  // events that could not be written yet
  };
  void write();
  void take_written(const Written& written);

  // Used by one thread at a time: by the work while it runs, else by this one.
  std::shared_ptr<Recorder> recorder_;
  std::vector<std::pair<SerialLine, double>> came_;
  std::vector<RecordingEvent> events_;
  QString path_, trouble_;
  std::uint64_t rows_ = 0;
  QTimer timer_;
  bool writing_ = false;
  std::size_t waiting_ = 0;
};

}  // namespace fair_gauge::app
