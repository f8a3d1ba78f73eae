// What the Watch page looks at: the readings of one channel, of this session or out of a log, and what is said of them.
#pragma once

#include <QObject>
#include <QTimer>
#include <memory>

#include "shell/workbench.h"
#include "stream/recording_events.h"
#include "stream/review.h"
#include "stream/row_blocks.h"
#include "widgets/background.h"

namespace fair_gauge::app {

inline constexpr double gap_periods = 2.5;  // times further apart are a gap, as `review` has it

/// One look at a channel. In the channel's shown unit.
struct Watched {
  Chain chain;
  std::shared_ptr<const ChannelLog> log;
  std::shared_ptr<const std::vector<RowBlock>> blocks;  ///< of its rows, for a plot of many
  Review review;                                        ///< empty while it is still worked out
  Range plausible;
  std::vector<RecordingEvent> happened;  ///< of a recording: notes, lines that were lost, changes of the bench
  bool is_in_order = false;              ///< no row is earlier than the one before
  bool is_dated = false;                 ///< seconds are since 1970; else since the first row, or before now
};

/// A log as it is looked at: all but what is judged.
std::shared_ptr<Watched> watched_of(const Chain& chain, const PartTimes& times, std::shared_ptr<const ChannelLog> log);

class WatchLog : public QObject {
  Q_OBJECT
 public:
  explicit WatchLog(Workbench& workbench, QObject* parent = nullptr);

  /// The readings that came in this session, live.
  void look_at_session();
  /// A log of raw numbers, read beside the interface thread; what was read so far is told by `partly`.
  void open(const QString& path);
  /// How the log is written, where it was not understood.
  void read_as(const LogChoice& choice);
  const LogChoice& choice() const { return choice_; }
  /// Works it out anew: for when the page is shown, the bench or the channel is another.
  void refresh();

  /// Null while nothing could be worked out.
  const std::shared_ptr<const Watched>& watched() const { return watched_; }
  bool is_session() const { return path_.isEmpty(); }
  bool is_reading() const { return work_.is_running(); }
  /// A log is being opened: it can be stopped by going back to the session.
  bool is_opening() const { return is_reading() && !is_session() && !watched_; }
  /// Where the readings are from, or why there are none.
  const QString& words() const { return words_; }
  const QString& fault() const { return fault_; }

 signals:
  void changed();
  /// The beginning of a log that is being opened, or all of it, not yet judged.
  void partly(const std::shared_ptr<const Watched>& so_far);

 private:
  struct Sofar {
    std::shared_ptr<const Watched> watched;  ///< null where only more was read
    double share;                            ///< of the file
  };
  Workbench& workbench_;
  QString path_;
  LogChoice choice_;
  std::pair<std::string, QString> asked_;  // channel and path of what is being worked out
  std::shared_ptr<const Watched> watched_;
  QString words_, fault_;
  Background work_{this};
};

}  // namespace fair_gauge::app
