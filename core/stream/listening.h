// What comes over a line that nobody has described yet: what each name may be, and the channels that follow.
#pragma once

#include <map>
#include <string>
#include <vector>

#include "bench/bench.h"
#include "parts/catalogue.h"
#include "stream/serial_text.h"

namespace fair_gauge {

/// The number that a channel takes from an item of a line: in the unit in which its value arrives, or raw. Nothing
/// where they do not fit: a unit for a raw number, a unit of another quantity, bytes for a value.
std::optional<double> number_for(const Channel& channel, const RawItem& item);

enum class ProposedForm {
  code,   ///< a raw number of a converter
  volts,  ///< a voltage that the firmware worked out
  bytes,  ///< of a digital part
  value,  ///< converted already
};

/// What one name of a line may be.
struct LineProposal {
  std::string name;  ///< as it comes
  ProposedForm form = ProposedForm::code;
  std::size_t count = 0;  ///< how often it came
  double lowest = 0, highest = 0;
  int bits = 0;                                    ///< of a code: from the largest seen, one of 8, 10, 12, 16, 24
  std::size_t bytes = 0;                           ///< how many came at once
  std::optional<Quantity> quantity;                ///< of a value, or as the name has it; nothing → not known
  std::string unit;                                ///< UCUM code of a value; empty → not known
  bool unit_guessed = false;                       ///< it did not come with the number
  int decimals = 0;                                ///< of a value
  double period_s = 0;                             ///< between two of them; 0 → not known
  std::string words;                               ///< what was seen and what it is taken for, a sentence
  std::vector<std::vector<std::uint8_t>> answers;  ///< the last bytes that came, eight at most
};

/// Listens to lines and says what each name may be.
class Listener {
 public:
  /// \param seconds  when the line came, by any clock; negative → not known
  void take(const SerialLine& line, double seconds = -1);
  /// In the order in which the names came first; at most a thousand of them.
  std::vector<LineProposal> proposals() const;

 private:
  struct Seen {
    std::size_t order = 0, count = 0, bytes = 0;
    double lowest = 0, highest = 0, first_s = -1, last_s = -1;
    int decimals = 0;
    std::string unit;
    bool odd_units = false;
    std::vector<std::vector<std::uint8_t>> answers;
  };
  std::map<std::string, Seen> seen_;
};

/// The bench with a channel for every proposal: a value is ready to be read, others still need their sensor.
/// Names that a channel of the bench has already are left out. \param added  ids of the new channels
Bench with_channels(Bench bench, const std::vector<LineProposal>& proposals, std::vector<std::string>* added = nullptr);

/// Whether a part can be what makes the numbers that come under a name: bytes are a digital part's, codes an analog
/// one's. \param proposals  of what comes just now
bool may_make(const Part& part, const std::vector<LineProposal>& proposals, const std::string& name);

/// What comes under a name is a channel's from now on, and no other's. Bytes are also those of its part's other
/// channels whose numbers stand in the same bytes: temperature and humidity of one frame.
/// \param bytes  how many come at once; 0 → a number comes
void give_line_name(Bench& bench, const Catalogue& catalogue, const std::string& channel, const std::string& name,
                    std::size_t bytes);

/// Channels that wait for what comes under a name which nobody has yet: name → id. By the controller's pin, where it is
/// called as the name is; else the bench's only channel, or part, that such numbers can be of, where only one name of
/// its kind is open. Of several that could be meant none is.
std::map<std::string, std::string> waiting_channels(const Bench& bench, const Catalogue& catalogue,
                                                    const std::vector<LineProposal>& proposals);

/// The bytes that came last under a name; empty where none did.
std::vector<std::vector<std::uint8_t>> answers_of(const std::vector<LineProposal>& proposals, const std::string& name);
/// How many of them came at once; 0 where none did.
std::size_t bytes_at_once(const std::vector<LineProposal>& proposals, const std::string& name);

/// Of the channels so added, the one to look at first: one that is read already, where there is such. Not empty.
std::string first_to_look_at(const Bench& bench, const std::vector<std::string>& added);

}  // namespace fair_gauge
