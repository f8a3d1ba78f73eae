// Opens a bench file and builds the chain of one of its channels: the beginning of most commands.
#pragma once

#include <optional>

#include "bench/bench_file.h"
#include "chain/chain.h"
#include "command.h"

namespace fair_gauge::cli {

/// \param only_for  a channel: parts that it does not need are not read
/// The bench; what it holds of parts instead of their sheets counts from then on.
Result<LoadedBench> load_with_figures(Session& session, const std::string& file, const std::string& only_for = {});

/// The bench with what was wrong in it, the first of which is said on standard error. Nothing if it cannot be read.
std::optional<LoadedBench> open_loaded(Session& session, const std::string& file, const std::string& only_for = {});

/// The bench; says the file's faults on standard error. Nothing if it cannot be read: the exit code is set then.
std::optional<Bench> open_bench(Session& session, const std::string& file);

/// Which part files are read: those of one channel are enough where nothing is looked for beside it.
enum class PartsRead { all, of_channel };

/// The chain of a channel of a bench file; nothing if there is none: the exit code is set then.
std::optional<Chain> open_chain(Session& session, const std::string& file, const std::string& channel,
                                PartsRead parts = PartsRead::all);

/// Writes a bench, "-" to standard output. \param over  also where a file is already
/// \returns false where it refused, which it has said
bool write_bench(Session& session, const Bench& bench, const std::string& path, bool over);

}  // namespace fair_gauge::cli
