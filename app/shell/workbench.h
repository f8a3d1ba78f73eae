// Everything the views are a function of: the bench, the session, and what follows from them for the chosen channel.
// The session (selection, anchor, live readings) is neither saved nor undone.
#pragma once

#include <QElapsedTimer>
#include <QObject>
#include <QTimer>
#include <cmath>
#include <deque>
#include <map>
#include <memory>
#include <optional>
#include <set>

#include "chain/chain.h"
#include "shell/document.h"
#include "sources/known_lines.h"
#include "sources/live_source.h"
#include "stream/listening.h"
#include "stream/log_cell.h"
#include "stream/row_chains.h"
#include "stream/switching.h"
#include "truth/verdict.h"

namespace fair_gauge {
class InjectedFault;
}

namespace fair_gauge::app {

class Recording;
class SimulatedSource;
class SourcesBeside;

/// How much of the past the tape shows.
inline constexpr double tape_seconds = 600;
inline constexpr std::size_t most_samples = 4000;  // of a channel on the tape

/// "12 s", "5 min": for how long something has been silent.
QString duration_words(double seconds);

/// One live raw number.
struct Sample {
  double seconds;  ///< since the session began
  double raw;
};

/// Bytes of a channel that were no reading, since its source began.
struct RefusedAnswers {
  std::size_t count = 0;
  std::string last;  ///< why the last of them was none
};

/// What is known of a channel right now.
struct ChannelView {
  const Channel* channel = nullptr;
  std::optional<Chain> chain;
  std::optional<Problem> problem;       ///< why there is no chain
  std::optional<double> raw;            ///< of the latest reading, or from the anchor
  Result<double> reading = Problem{};   ///< corrected, base units
  std::optional<Budget> budget;         ///< at the reading, or in the middle of the wanted range
  std::optional<double> silent_s;       ///< for how long nothing came, where that is too long while a source runs
  std::optional<DigitalFault> refused;  ///< why the bytes that came last are no reading

  /// Not a number where the error is not known.
  double used() const { return budget && !budget->lacks_accuracy ? budget->used() : std::nan(""); }
  double bias() const { return budget ? budget->known_bias : 0; }
  /// Why the number does not follow the world just now, in few words; empty while it does.
  QString stalled() const;
};

/// What another chain makes of the number that is held in the strip: somebody's firmware, or what is truly there.
struct ChainBeside {
  std::string channel;
  Anchor anchor;  ///< shown only while this is held
  QString whose;  ///< "firmware"
  int decimals;   ///< of what is shown, at least
  std::map<StageName, double> values;
  std::optional<StageName> differs;  ///< where it first does, in the order of reading
};

/// The digital part through which a channel's numbers come as bytes: the sensor itself, or the converter behind it.
struct DigitalFace {
  const Device* device = nullptr;
  const Part* part = nullptr;                 ///< null → the channel has no bytes
  Quantity quantity = Quantity::temperature;  ///< of that part
  bool by_converter = false;
};

struct RawLine {
  QString text;
  QString fault;  ///< empty if the line was read
};

class Workbench : public QObject {
  Q_OBJECT
 public:
  /// \param catalogue  null → reads it
  explicit Workbench(std::shared_ptr<const Catalogue> catalogue = nullptr);
  ~Workbench() override;

  Document& document() { return document_; }
  const Bench& bench() const { return document_.bench(); }
  /// Reads the parts again, after one of the user's own was saved.
  void reload_catalogue();
  const Catalogue& catalogue() const { return *catalogue_; }
  /// The same, for work beside the interface thread.
  std::shared_ptr<const Catalogue> shared_catalogue() const { return catalogue_; }
  const NumberStyle& style() const { return style_; }
  /// Numbers are written as the program's locale has them now.
  void take_up_locale();

  // The selection.
  const std::string& channel_id() const { return channel_id_; }
  void choose_channel(const std::string& id);
  StageName stage() const { return stage_; }
  void choose_stage(StageName stage);

  // The anchor: where a value is held, in the unit of its stage. Nothing → the live reading.
  const std::optional<Anchor>& anchor() const { return anchor_; }
  void hold(Anchor anchor);
  void return_to_live();
  /// What the strip is solved from: the anchor, or the latest raw number, or the middle of the wanted range.
  Anchor solved_from() const;
  /// Seconds since the chosen channel's latest reading came, while a source runs; nothing while the strip holds a
  /// value.
  std::optional<double> age_s() const;

  /// Another chain for the strip to show beside its own; nothing takes it away.
  void set_beside(std::optional<ChainBeside> beside);
  /// Null unless its own number is held.
  const ChainBeside* beside() const;

  // Live readings.
  LiveSource& source() { return *source_; }
  /// True while the line, not the simulation, is what is listened to.
  bool listens_to_line() const;
  void listen_to_simulation();
  /// Puts a fault into the simulation until it is taken back; stays over edits of the bench as long as it is one.
  void put_in(std::shared_ptr<const InjectedFault> fault);
  void take_fault_back() { put_in(nullptr); }
  const InjectedFault* fault_put_in() const { return fault_.get(); }
  /// A hand on a sensor of the simulation; nothing happens while a board is listened to.
  void touch_simulated(const std::string& channel_id, double change, double time_constant_s);
  void let_go_simulated();
  /// What is truly so at a channel of the simulation, base units; nothing while a board is listened to.
  std::optional<double> simulated_truth(const std::string& channel_id) const;
  /// \param path  of a line, or of a file that another program writes to
  void listen_to_line(const QString& path, int baud);
  /// What is listened to now, the first one first: nothing of the simulation.
  std::vector<KnownLine> lines_listened_to() const;
  /// Those beside the first join what is listened to already.
  void listen_again(const std::vector<KnownLine>& lines);
  void stop_listening();
  /// Those that are listened to as well. What one of them sends the simulation leaves to it.
  SourcesBeside& beside_sources() { return *beside_sources_; }
  /// Any of them, or the first, runs.
  bool is_listening() const;
  /// Lines as if they arrived now.
  void take_text(const QString& lines);
  Recording& recording() { return *recording_; }
  /// Before the readings of this session come the last minutes of a recording that is gone on with.
  void recall(const QString& recording);
  /// The bytes that came last for a device; empty if none came.
  std::vector<std::uint8_t> bytes_of_device(const std::string& device) const {
    const auto found = bytes_of_devices_.find(device);
    return found == bytes_of_devices_.end() ? std::vector<std::uint8_t>{} : found->second;
  }
  DigitalFace digital_face(const Channel& channel) const;
  const std::deque<RawLine>& raw_lines() const { return raw_lines_; }
  RefusedAnswers refused_answers(const std::string& channel_id) const;
  /// Of a channel that is worked out: of its first input, whose raw number is its own too.
  const std::deque<Sample>& samples(const std::string& channel_id) const;
  /// What came before samples(), as far as it is kept: some weeks of a reading every ten seconds.
  const std::deque<Sample>& older_samples(const std::string& channel_id) const;
  /// Seconds and readings in base units, each beside what the others read then; those without a reading are left out.
  std::vector<std::pair<double, double>> past(const std::string& channel_id) const;
  /// Of a channel that comes together over a day: what the day had before the first of samples().
  const DayDose& day_before(const std::string& channel_id) const { return days_[channel_id].before; }
  /// Seconds since 1970 UTC of a moment of this session.
  double wall_clock(double session_seconds) const { return began_s_ + session_seconds; }
  /// Names seen on the line, with their latest value.
  const std::map<std::string, QString>& names_on_line() const { return names_on_line_; }
  /// What has come over the line since it was opened.
  const Listener& listener() const { return listener_; }

  // What follows. Valid until the next change.
  const ChannelView& view(const std::string& channel_id) const;
  const ChannelView& chosen() const { return view(channel_id_); }
  /// Decimals that the uncertainty of a view justifies in its shown unit.
  static int decimals_of(const ChannelView& view);

 signals:
  void bench_changed();      ///< the bench, its file or its history
  void selection_changed();  ///< channel, stage
  void values_changed();     ///< anything that numbers depend on
  void line_came(const fair_gauge::app::RawLine& line);
  void source_changed();

 private:
  void connect_source(LiveSource& source);
  void take_line(const SerialLine& line, double age_s);
  void switch_live(const Channel& channel, double seconds, bool has_reading);
  void take_simulated(const SerialLine& line, double age_s);
  std::optional<double> raw_in(const Channel& channel, const std::vector<std::uint8_t>& bytes, double now);
  void refuse_answer(const Channel& channel, double now, DigitalFault why);
  void refresh();
  SideValues side_values(const std::string& channel_id) const;
  const std::string& raw_channel(const std::string& channel_id) const;
  const Chain* steady_chain(const std::string& channel_id) const;
  const DayDose& day_of(const Channel& channel) const;
  void forget_oldest(const Channel& channel);
  void start_clock();
  void keep_stage();
  double last_heard(const std::string& channel_id) const;
  bool is_silent(const Channel& channel) const;
  void look_for_silence();
  void set_source(LiveSource* source);

  Document document_;
  std::shared_ptr<const Catalogue> by_sheet_;   // what the files say
  std::shared_ptr<const Catalogue> catalogue_;  // with this bench's own figures
  std::vector<OwnPart> own_parts_;              // that it was made with
  NumberStyle style_;
  std::string channel_id_;
  StageName stage_ = StageName::front_end;
  std::optional<Anchor> anchor_;
  bool ran_ = true;  // the source, when its state was looked at last
  std::optional<ChainBeside> beside_;
  std::shared_ptr<const InjectedFault> fault_;
  std::unique_ptr<SimulatedSource> simulated_;
  std::unique_ptr<LiveSource> line_;  // a serial one, or a growing file
  KnownLine first_line_;              // what that is
  std::unique_ptr<SourcesBeside> beside_sources_;
  std::set<std::string, std::less<>> heard_beside_;  // names that the others have sent
  std::unique_ptr<Recording> recording_;
  LiveSource* source_ = nullptr;
  QTimer repaint_, patience_;
  QElapsedTimer clock_;
  double clock_offset_ = 0;
  double began_s_ = 0;  // since 1970 UTC
  std::map<std::string, std::deque<Sample>> samples_;
  std::map<std::string, std::deque<Sample>> older_samples_;
  std::deque<RawLine> raw_lines_;
  std::map<std::string, QString> names_on_line_;
  Listener listener_;
  std::map<std::string, std::vector<std::uint8_t>> bytes_of_devices_;
  mutable std::map<std::string, ChannelView> views_;
  mutable std::map<std::string, Result<Chain>> chains_;
  mutable std::map<std::string, RowChains> beside_others_;  // of channels that need others' readings
  struct Day {
    DayDose before, now;
    double until = -HUGE_VAL;  // of the session, what now knows of
  };
  mutable std::map<std::string, Day> days_;  // by channels that come together over one
  struct Refused {
    double seconds;
    DigitalFault why;
  };
  struct Switching {
    Channel channel;  // as it was when it began
    SwitchOver over;
  };
  std::map<std::string, Switching> switching_;            // what the rules decide while a recording is on
  std::map<std::string, Refused> refused_;                // by channel, until bytes come that are a reading
  std::map<std::string, RefusedAnswers> refused_so_far_;  // by channel
};

}  // namespace fair_gauge::app
