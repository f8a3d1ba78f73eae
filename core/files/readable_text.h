// A text file as UTF-8, whichever encoding its byte order mark tells of.
#pragma once

#include <memory>
#include <string>

#include "quantity/result.h"

namespace fair_gauge {

/// The path of a file, or of a copy in UTF-8 of one that is UTF-16; the copy goes with this object.
class ReadableText {
 public:
  /// \param path  of a file, whatever its size; "-" stays what it is \returns why it cannot be read or copied
  static Result<ReadableText> of(const std::string& path);

  const std::string& path() const { return *path_; }
  bool was_utf16() const { return was_utf16_; }

 private:
  std::shared_ptr<const std::string> path_;
  bool was_utf16_ = false;
};

}  // namespace fair_gauge
