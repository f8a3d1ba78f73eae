// The bytes that the bench's digital parts send, checks in place, for the raw numbers that their channels answer.
#pragma once

#include <map>
#include <memory>
#include <string>
#include <vector>

#include "chain/chain.h"
#include "digital/decoder.h"

namespace fair_gauge {

class SimulatedLine {
 public:
  SimulatedLine() = default;
  /// The catalogue must outlive it.
  SimulatedLine(const Bench& bench, const Catalogue& catalogue);
  SimulatedLine(const Bench& bench, const Catalogue&& catalogue) = delete;

  /// The whole block that a channel's number goes out in, with the latest numbers of the part's other channels.
  /// Empty for a channel that is read by the controller's own converter.
  std::vector<std::uint8_t> bytes(const std::string& channel_id, double raw);

 private:
  struct Sender {
    std::shared_ptr<const Decoder> decoder;
    ByteBlocks blocks;
  };
  struct Member {
    std::string device;
    FieldBytes field;
  };
  std::map<std::string, Sender> senders_;
  std::map<std::string, Member> members_;
};

}  // namespace fair_gauge
