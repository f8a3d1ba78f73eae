// Controllers to begin a bench with: bench files without channels, with a description of the board.
#pragma once

#include <string>
#include <vector>

#include "bench/bench.h"
#include "quantity/result.h"

namespace fair_gauge {

struct BoardPreset {
  std::string id;  ///< name of its file
  Bench bench;     ///< rails, converters, buses and pins; no devices, no channels
};

/// The presets of some folders, in the order of their names; one of a later folder takes the place of an earlier one of
/// the same name. \param problems  takes the faults of files that are left out; may be null
std::vector<BoardPreset> load_board_presets(const std::vector<std::string>& folders,
                                            std::vector<Problem>* problems = nullptr);

/// A new bench from a preset. \param name  of the bench
Bench bench_of_preset(const BoardPreset& preset, std::string name);

/// Whether a bench has nothing of a board yet: no supply, converter or bus.
bool has_no_board(const Bench& bench);

/// What a preset has of a board, on a bench that has none.
void take_board(Bench& bench, const BoardPreset& preset);

/// Keeps what a bench has of a board for new benches: rails, converters, buses and pins, without what was measured on
/// this specimen, without devices and channels. \param name  what the board is, in plain words; its file is called by
/// it \param folder  is made if it is missing \returns the file's path; a problem where the name has no letter, such a
/// preset is there already, or it cannot be written
Result<std::string> save_board_preset(const Bench& bench, const std::string& name, const std::string& folder);

/// What a channel still lacks before it can be read, in sentences; empty → nothing.
std::vector<std::string> lacks_of(const Bench& bench, const Channel& channel);

}  // namespace fair_gauge
