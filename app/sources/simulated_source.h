// The simulation as a live source: every channel of the bench answers at its own period.
#pragma once

#include <QElapsedTimer>
#include <QTimer>
#include <map>
#include <memory>

#include "diagnose/injected_fault.h"
#include "sim/environment.h"
#include "sim/simulated_line.h"
#include "sources/live_source.h"

namespace fair_gauge::app {

class SimulatedSource : public LiveSource {
  Q_OBJECT
 public:
  SimulatedSource(std::uint64_t seed, double start_seconds, QObject* parent = nullptr);

  /// The bench whose channels answer from now on.
  /// \param fault  put in on purpose; null → none
  void follow(const Bench& bench, const Catalogue& catalogue, const std::shared_ptr<const InjectedFault>& fault = {});
  /// The sensors are as this bench has them, corrections and all. What is put right here from now on changes what they
  /// are read as, not them.
  void take_specimens(const Bench& bench);
  void start() override;
  void stop() override;
  /// What is truly so at a channel now, base units; nothing for a channel that does not answer.
  std::optional<double> truth_of(const std::string& channel) const;
  /// A hand on a channel's sensor, from now on. \param change  base units
  void touch(const std::string& channel, double change, double time_constant_s);
  /// The hand goes, and what it did comes back.
  void let_go();
  /// Lets `seconds` of simulated time pass at once, for a tape that is not empty. Only the latest answer of each
  /// channel comes as a line. \returns the raw numbers before it, oldest first, by the channel's id
  std::map<std::string, std::vector<double>> skip(double seconds);
  /// Lets `seconds` pass at once, too; every answer comes as a line.
  void run(double seconds) { answer_until(time_ + seconds); }

 private:
  struct Answering {
    std::string name;        // on the line
    bool is_beside = false;  // its numbers stand in the bytes that another channel sends
    EnvironmentCourse course;
    SimulatedDevice device;
    double period;
    double next;
    std::shared_ptr<const InjectedFault> fault;
    double surroundings_due = 0;
  };
  void tick();
  void say_state();
  /// \param past  takes all but the latest answers, by the channel's id; null → every one comes as a line
  void answer_until(double time, std::map<std::string, std::vector<double>>* past = nullptr);

  Bench bench_;
  SimulatedLine bytes_;
  const Catalogue* catalogue_ = nullptr;
  bool is_faulty_ = false;
  std::uint64_t seed_;
  double time_;
  QTimer timer_;
  QElapsedTimer clock_;
  std::map<std::string, Answering> channels_;
  std::map<std::string, SimulatedTouch> touched_;
  std::map<std::string, Correction> specimens_;  // by the channel's id
};

}  // namespace fair_gauge::app
