// Files read defensively and written atomically.
#pragma once

#include <cstddef>
#include <string>
#include <string_view>
#include <vector>

#include "quantity/result.h"

namespace fair_gauge {

/// The whole of a file. A folder or a pipe in the file system is refused; what the shell hands over (/dev/stdin) is
/// not. \param limit  bytes; a larger file is refused before it is read
Result<std::string> read_file(const std::string& path, std::size_t limit = 64u << 20);

/// Writes `text` beside `path`, flushes it to the disk and renames it over `path`: the old file stays whole until the
/// new one is. On failure the old file is untouched and nothing is left behind.
/// \returns the number of bytes written
Result<std::size_t> write_file(const std::string& path, std::string_view text);

/// A file that was written by a name somebody gave, and where what bore that name before is kept.
struct KeptFile {
  std::string path;
  std::string former;  ///< empty → nothing stood there, or the same
};

/// As write_file, but what stands there is not lost: it is kept as PATH.former, PATH.former-2, …
Result<KeptFile> write_keeping_former(const std::string& path, std::string_view text);

/// Its path, and in brackets the former one's.
std::string where_kept(const KeptFile& file);

enum class Replacing {
  never_a_bench,  ///< nor a logbook or a part file
  anything
};

/// A file that is written piece by piece: beside its place, and put there when it is whole. What stands there stays as
/// it is until then, and nothing is left after a fault.
class OutputFile {
 public:
  /// \param path     "-" is standard output
  /// \param inputs   files that are read meanwhile: one of them (also by another name) is refused as output
  /// \returns the file, or why it must not or cannot be written: a device, a folder, a bench, an input
  static Result<OutputFile> open(const std::string& path, const std::vector<std::string>& inputs = {},
                                 Replacing replacing = Replacing::never_a_bench);
  OutputFile(OutputFile&& other) noexcept;
  OutputFile& operator=(OutputFile&&) = delete;
  ~OutputFile();

  /// \returns false if it could not be written; commit() says why
  bool write(std::string_view text);
  /// Flushes it to the disk and puts it in its place. \returns the number of bytes written
  Result<std::size_t> commit();

 private:
  OutputFile() = default;
  std::string path_, temporary_;  // the temporary one is empty where there is nothing to rename
  int number_ = -1;
  std::size_t written_ = 0;
  int error_ = 0;
};

}  // namespace fair_gauge
