// The end of a recording that is gone on with: what came in its last minutes.
#pragma once

#include <map>
#include <string>

#include "stream/channel_log.h"

namespace fair_gauge {

/// Raw numbers of a recording's last rows, by channel, in their order; seconds are since 1970 UTC. Cells that are no
/// reading are left out. At most the last half megabyte is looked at.
/// \param since  seconds since 1970; earlier rows are left out
/// \returns nothing where there is no such file, or where it is no recording
std::map<std::string, CameRaws> recorded_past(const Bench& bench, const Catalogue& catalogue, const std::string& path,
                                              double since);

}  // namespace fair_gauge
