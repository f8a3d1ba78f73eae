#include "files/readable_text.h"

#include <fmt/format.h>
#include <iconv.h>
#include <unistd.h>

#include <cerrno>
#include <cstdio>
#include <cstring>
#include <filesystem>
#include <vector>

#include "language/translation.h"

namespace fair_gauge {
namespace {

using FileHandle = std::unique_ptr<std::FILE, int (*)(std::FILE*)>;

Problem cannot(const char* what, const std::string& path) {
  return {translated("{} failed: {}", what, std::strerror(errno)),
          translated("a text file that can be read"),
          {.file = path},
          ProblemKind::file};
}

// Half a character at the end of a piece stays for the next one; what is none becomes a question mark.
bool copy_as_utf8(std::FILE* from, std::FILE* to, const char* encoding) {
  const iconv_t converter = iconv_open("UTF-8", encoding);
  if (converter == reinterpret_cast<iconv_t>(-1)) return false;
  std::vector<char> in(1 << 20), out(2 << 20);
  std::size_t kept = 0;
  bool good = true;
  while (good) {
    const std::size_t got = std::fread(in.data() + kept, 1, in.size() - kept, from);
    if (got == 0) break;
    char* at = in.data();
    std::size_t left = kept + got;
    while (left > 1 && good) {
      char* into = out.data();
      std::size_t room = out.size();
      const bool whole = iconv(converter, &at, &left, &into, &room) != static_cast<std::size_t>(-1);
      const int why = errno;
      const auto made = static_cast<std::size_t>(into - out.data());
      good = std::fwrite(out.data(), 1, made, to) == made;
      if (!whole && why == EINVAL) break;
      if (!whole && why == EILSEQ && left >= 2) at += 2, left -= 2, good = good && std::fputc('?', to) != EOF;
    }
    kept = left;
    std::memmove(in.data(), at, left);
  }
  iconv_close(converter);
  return good && std::fflush(to) == 0;
}

}  // namespace

Result<ReadableText> ReadableText::of(const std::string& path) {
  ReadableText text;
  text.path_ = std::make_shared<const std::string>(path);
  std::error_code error;
  if (path == "-" || !std::filesystem::is_regular_file(path, error)) return text;
  const FileHandle file(std::fopen(path.c_str(), "rb"), std::fclose);
  if (!file) return cannot("reading", path);
  unsigned char mark[2] = {};
  if (std::fread(mark, 1, 2, file.get()) != 2) return text;
  const bool little = mark[0] == 0xFF && mark[1] == 0xFE, big = mark[0] == 0xFE && mark[1] == 0xFF;
  if (!little && !big) return text;
  std::string copy = (std::filesystem::temp_directory_path(error) / "fair-gauge-XXXXXX").string();
  const int number = mkstemp(copy.data());
  if (number < 0) return cannot(translated("making a copy in UTF-8"), path);
  text.path_ = std::shared_ptr<const std::string>(new std::string(copy), [](const std::string* gone) {
    unlink(gone->c_str());
    delete gone;
  });
  text.was_utf16_ = true;
  const FileHandle to(fdopen(number, "wb"), std::fclose);
  if (!to || !copy_as_utf8(file.get(), to.get(), little ? "UTF-16LE" : "UTF-16BE"))
    return cannot(translated("making a copy in UTF-8"), path);
  return text;
}

}  // namespace fair_gauge
