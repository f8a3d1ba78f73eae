// Which usual mistake explains a number: every row of the table is tried, those that give what was seen are ranked.
#pragma once

#include <cstdint>
#include <map>
#include <memory>
#include <optional>
#include <string>
#include <vector>

#include "diagnose/mistakes.h"

namespace fair_gauge {

/// What is known. Numbers are in the channel's unit.
struct Question {
  std::optional<double> raw;        ///< as a log's column holds it
  std::vector<std::uint8_t> bytes;  ///< data blocks one after the other, or the block of the raw number
  ByteBlocks registers;             ///< data blocks by name; trimming comes from the bench
  std::optional<double> shown;      ///< by the person's firmware
  int decimals = 0;                 ///< with how many it was shown
  std::optional<Range> expected;    ///< within which the truth is

  /// What was measured since, by the id of a NextMeasurement, in its unit.
  struct Measured {
    std::string id;
    double value;
  };
  std::vector<Measured> measured;
  /// Another raw number, with what the firmware shows for it where `shown` is asked about, else with the truth then.
  struct Also {
    double raw;
    double value;
    int decimals;
  };
  std::vector<Also> also;
};

struct Cause {
  std::string code;
  std::string words;
  std::optional<double> gives;  ///< what the wrong chain shows, the channel's unit
  double share = 0;             ///< of all that could be, the unknown mistake among it; 0…1
  std::vector<std::string> arithmetic;
  std::string fix;
  std::string next;
  std::string of_part = {};  ///< what the part's file says of it: it is usual with this part
  /// Of a cause that is something fitted, set or selected: the bench as it would be, with nothing but this channel.
  std::shared_ptr<const Bench> so = {};
  std::shared_ptr<const Firmware> wrong = {};  ///< the wrong chain; null where the input itself shows the cause
  std::map<StageName, double> stages = {};     ///< what the wrong chain makes of each stage, in the stage's unit
};

/// In the order of reading, the first stage at which two chains differ, both of the same raw number; nothing where they
/// do not. Either may lack a stage.
std::optional<StageName> first_difference(const std::map<StageName, double>& right,
                                          const std::map<StageName, double>& wrong);

/// Something to measure that tells causes apart.
struct NextMeasurement {
  std::string id;                                ///< "pin", "reference", "sensor", "fixed", "supply", "volts", "second"
  std::string words;                             ///< "the volts at the pin, by a meter"
  std::string unit;                              ///< symbol of what is measured: V, Ω, the channel's unit
  double raw = 0;                                ///< of "second": the raw number at which it is foretold
  int decimals = 0;                              ///< of "second": with which the firmware shows it
  double information;                            ///< expected, bits: by how much less uncertain the cause is afterwards
  std::vector<std::optional<double>> predicted;  ///< by each cause; nothing where it says nothing of it
};

struct Diagnosis {
  std::vector<Cause> causes;                ///< best first
  std::optional<double> right;              ///< what the bench's own chain reads; nothing where the input is no reading
  std::string verdict;                      ///< one sentence
  std::vector<NextMeasurement> next = {};   ///< what tells the causes apart, the most telling first
  std::map<StageName, double> stages = {};  ///< what the bench's own chain makes of each stage
  bool of_arithmetic = false;               ///< the wrong chains are the firmware's; else what is truly there
  double raw = 0;                           ///< the number that was asked about
  std::vector<std::string> also_usual = {};  ///< with this part, though no number tells it: one sentence each
};

/// Makes the bench what a cause says it is: the device's settings and front end, its converter, rails that are new.
void take_over(Bench& bench, const Bench& so);

/// \param channel  id of one of the bench's
/// \returns a problem where the chain cannot be built or the input cannot be one of it
/// \source posterior ∝ prior of the mistake · chance that it gives the number within its rounding; an unknown mistake
/// gives any number of the plausible range alike
Result<Diagnosis> diagnose(const Bench& bench, const Catalogue& catalogue, const std::string& channel,
                           const Question& question);

}  // namespace fair_gauge
