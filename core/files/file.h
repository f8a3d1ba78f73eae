// Files read defensively and written atomically.
#pragma once

#include <cstddef>
#include <string>
#include <string_view>

#include "quantity/result.h"

namespace fair_gauge {

/// The whole of a file.
/// \param limit  bytes; a larger file is refused before it is read
Result<std::string> read_file(const std::string& path, std::size_t limit = 64u << 20);

/// Writes `text` beside `path`, flushes it to the disk and renames it over `path`: the old file stays whole until the
/// new one is. On failure the old file is untouched and nothing is left behind.
/// \returns the number of bytes written
Result<std::size_t> write_file(const std::string& path, std::string_view text);

}  // namespace fair_gauge
