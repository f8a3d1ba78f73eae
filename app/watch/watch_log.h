// What the Watch page looks at: the readings of one channel, of this session or out of a log, what is said of them, and
// those of other channels beside it.
#pragma once

#include <QElapsedTimer>
#include <QObject>
#include <memory>

#include "shell/workbench.h"
#include "stream/log_listening.h"
#include "stream/recording_events.h"
#include "stream/review.h"
#include "stream/row_blocks.h"
#include "widgets/background.h"

namespace fair_gauge::app {

/// One look at a channel. In the channel's shown unit.
struct Watched {
  Chain chain;
  std::shared_ptr<const ChannelLog> log;
  std::shared_ptr<const std::vector<RowBlock>> blocks;  ///< of its rows, for a plot of many
  Review review;                                        ///< empty while it is still worked out
  Range plausible;
  std::vector<RecordingEvent> happened;  ///< of a recording: notes, lines that were lost, changes of the bench
  double clock = 0;                      ///< of a session: when its seconds begin, since 1970 UTC
  bool is_in_order = false;              ///< no row is earlier than the one before
  bool is_dated = false;                 ///< seconds are since 1970; else since the first row, or before now
  /// Other channels over the same time, not judged.
  std::vector<std::shared_ptr<const Watched>> beside = {};
  /// How far those of the same quantity lie above this one, in this one's unit.
  std::vector<std::shared_ptr<const Watched>> differences = {};

  QString missing;  ///< which of those beside it could not be looked at, and why

  QString name() const;  ///< of its channel
  /// Rows whose times lie in a span, as far as they stand together: first and one past the last, as places in the log.
  std::pair<std::size_t, std::size_t> rows_in(double from, double to) const;
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
  /// Of the log; empty while the session is looked at.
  const QString& path() const { return path_; }
  /// How the log is written, where it was not understood.
  void read_as(const LogChoice& choice);
  const LogChoice& choice() const { return choice_; }
  /// What the log's heading names beside the time: one of them may be chosen for the raw numbers.
  QStringList columns() const;
  /// The columns of the log that no channel of the bench is called by, and what each may be; none of the session.
  const std::vector<LineProposal>& unknown_columns() const { return unknown_columns_; }
  /// In words: those, and the columns of numbers beside them whose heading names no quantity.
  QString words_of_columns() const;
  /// Works it out anew: for when the page is shown, the bench or the channel is another.
  void refresh();
  /// The same where there may be more than last time: readings of the session, or a log that has grown. At most a
  /// fifth of the time is spent on it.
  void follow();
  /// Other channels that are looked at over the same time; those that the bench does not have are passed over.
  void look_beside(std::vector<std::string> channels);
  const std::vector<std::string>& beside() const { return beside_; }

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
  struct Came;
  struct Asked;
  void ask(bool only_beside);
  void show_sofar(const Sofar& so_far);
  void show_found(Result<std::shared_ptr<const Watched>> found);
  std::string head() const;
  void look_at_columns();
  Came came_of(const std::string& channel, double now) const;
  static Result<std::shared_ptr<const Watched>> work_out(const Asked& asked, const std::atomic<bool>& cancelled,
                                                         const std::function<void(Sofar)>& tell);
  using JudgedLater = std::function<void(const std::shared_ptr<Watched>&)>;
  static Result<std::shared_ptr<Watched>> look_at(const Asked& asked, const std::string& channel, const Came& came,
                                                  const LogProgress& progress, const JudgedLater& judged);
  Workbench& workbench_;
  QString path_;
  LogChoice choice_;
  std::string chosen_for_;  // the channel whose column that is
  std::vector<LineProposal> log_columns_, unknown_columns_;
  std::vector<std::string> left_out_;
  std::vector<std::string> beside_;
  std::tuple<std::string, QString, std::vector<std::string>> asked_;  // of what is being worked out
  qint64 read_size_ = 0;                                              // of the log, when it was read
  QElapsedTimer since_asked_, since_done_;
  qint64 took_ms_ = 0;
  bool again_ = false;  // it was asked for while it was worked out
  std::shared_ptr<const Watched> watched_;
  QString words_, fault_;
  Background work_{this};
};

}  // namespace fair_gauge::app
