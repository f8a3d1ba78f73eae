#include "files/file.h"

#include <fcntl.h>
#include <fmt/format.h>
#include <sys/stat.h>
#include <unistd.h>

#include <cerrno>
#include <cstring>
#include <filesystem>
#include <utility>

#include "language/translation.h"

namespace fair_gauge {
namespace {

class Descriptor {
 public:
  explicit Descriptor(int number) : number_(number) {}
  Descriptor(const Descriptor&) = delete;
  Descriptor& operator=(const Descriptor&) = delete;
  ~Descriptor() {
    if (number_ >= 0) ::close(number_);
  }
  int number() const { return number_; }

 private:
  int number_;
};

Problem system_problem(const std::string& path, std::string_view doing) {
  return {.wrong = translated("{} failed: {}", doing, std::strerror(errno)),
          .expected = "",
          .place = {.file = path},
          .kind = ProblemKind::file};
}

// A rename is durable only once the folder that holds the name is flushed too.
void flush_folder(const std::filesystem::path& file) {
  const auto folder = file.parent_path().empty() ? std::filesystem::path(".") : file.parent_path();
  const Descriptor handle(::open(folder.c_str(), O_RDONLY | O_DIRECTORY | O_CLOEXEC));
  if (handle.number() >= 0) ::fsync(handle.number());
}

}  // namespace

Result<std::string> read_file(const std::string& path, std::size_t limit) {
  const bool handed = path.starts_with("/dev/") || path.starts_with("/proc/");
  // Without waiting: a pipe that nobody writes to would keep us for ever.
  const Descriptor file(::open(path.c_str(), O_RDONLY | O_CLOEXEC | (handed ? 0 : O_NONBLOCK)));
  if (file.number() < 0) return system_problem(path, "opening");
  struct stat about {};
  if (::fstat(file.number(), &about) == 0 && !handed && !S_ISREG(about.st_mode) && !S_ISDIR(about.st_mode))
    return Problem{translated("this is a device or a pipe"), translated("a file"), {.file = path}, ProblemKind::file};
  if (::fstat(file.number(), &about) != 0) return system_problem(path, translated("looking at the file"));
  if (S_ISDIR(about.st_mode))
    return Problem{translated("this is a folder"), translated("a file"), {.file = path}, ProblemKind::file};
  std::string text;
  char block[1 << 16];
  for (;;) {
    const ssize_t got = ::read(file.number(), block, sizeof block);
    if (got < 0 && errno == EINTR) continue;
    if (got < 0) return system_problem(path, "reading");
    if (got == 0) return text;
    text.append(block, static_cast<std::size_t>(got));
    if (text.size() > limit)
      return Problem{
          translated("the file is larger than {} MB", limit >> 20), translated("a smaller file"), {.file = path}};
  }
}

Result<std::size_t> write_file(const std::string& path, std::string_view text) {
  std::error_code ignored;
  // A link keeps pointing where it pointed: the file it names is replaced, not the link.
  const auto target =
      std::filesystem::is_symlink(path, ignored) ? std::filesystem::weakly_canonical(path, ignored).string() : path;
  struct stat old {};
  const bool there = ::stat(target.c_str(), &old) == 0;
  if (there && !S_ISREG(old.st_mode))
    return Problem{translated("this is no file but a folder, a device or a pipe"),
                   translated("the name of a file"),
                   {.file = path},
                   ProblemKind::file};
  if (there && (::access(target.c_str(), W_OK) != 0 || (old.st_mode & 0222) == 0)) {
    errno = EACCES;  // a rename would replace it; the person said that nobody should
    return system_problem(path, "saving");
  }
  std::string temporary = target + ".XXXXXX";
  const Descriptor file(::mkstemp(temporary.data()));
  if (file.number() < 0) return system_problem(path, "saving");
  const auto give_up = [&](std::string_view doing) {
    Problem problem = system_problem(path, doing);
    ::unlink(temporary.c_str());
    return problem;
  };
  for (std::size_t done = 0; done < text.size();) {
    const ssize_t wrote = ::write(file.number(), text.data() + done, text.size() - done);
    if (wrote < 0 && errno == EINTR) continue;
    if (wrote <= 0) return give_up("saving");
    done += static_cast<std::size_t>(wrote);
  }
  const mode_t mode = there ? old.st_mode & 0777 : 0644;
  if (::fchmod(file.number(), mode) != 0 || ::fsync(file.number()) != 0) return give_up("saving");
  if (::rename(temporary.c_str(), target.c_str()) != 0) return give_up("saving");
  flush_folder(target);
  return text.size();
}

Result<KeptFile> write_keeping_former(const std::string& path, std::string_view text) {
  KeptFile kept{.path = path};
  if (std::error_code error; std::filesystem::exists(path, error)) {
    if (const auto there = read_file(path); there && *there == text) return kept;
    kept.former = path + ".former";
    for (int i = 2; std::filesystem::exists(kept.former, error); ++i)
      kept.former = fmt::format("{}.former-{}", path, i);
    std::filesystem::copy_file(path, kept.former, error);
    if (error)
      return Problem{translated("what stands there cannot be kept: {}", error.message()),
                     translated("another name, or a folder that can be written to"),
                     {.file = path},
                     ProblemKind::file};
  }
  const auto written = write_file(path, text);
  return written ? Result<KeptFile>(kept) : Result<KeptFile>(written.problem());
}

std::string where_kept(const KeptFile& file) {
  return file.former.empty() ? file.path
                             : translated("{} (what had this name before is kept as {})", file.path,
                                          std::filesystem::path(file.former).filename().string());
}

namespace {

// What a person made and no run can make again.
bool is_keepsake(const std::string& path) {
  const Descriptor file(::open(path.c_str(), O_RDONLY | O_CLOEXEC | O_NONBLOCK));
  char start[512] = {};
  const ssize_t got = file.number() < 0 ? 0 : ::read(file.number(), start, sizeof start - 1);
  const std::string_view text(start, got > 0 ? static_cast<std::size_t>(got) : 0);
  return text.find("\"fair_gauge_bench\"") != std::string_view::npos || path.ends_with(".fairgauge.json") ||
         path.ends_with(".logbook.ndjson") || (text.find('{') < 4 && text.find("\"parts\"") != std::string_view::npos);
}

}  // namespace

Result<OutputFile> OutputFile::open(const std::string& path, const std::vector<std::string>& inputs,
                                    Replacing replacing) {
  const auto refuse = [&](std::string wrong, std::string expected) {
    return Problem{std::move(wrong), std::move(expected), {.file = path}, ProblemKind::file};
  };
  OutputFile file;
  file.path_ = path;
  if (path == "-") {
    file.number_ = ::dup(STDOUT_FILENO);
    if (file.number_ < 0) return system_problem(path, "opening");
    return file;
  }
  struct stat there {};
  const bool exists = ::stat(path.c_str(), &there) == 0;
  for (const std::string& input : inputs) {
    struct stat read {};
    const bool known = input == "-" ? ::fstat(STDIN_FILENO, &read) == 0 : ::stat(input.c_str(), &read) == 0;
    if (exists && known && read.st_ino == there.st_ino && read.st_dev == there.st_dev && S_ISREG(there.st_mode))
      return refuse(translated("this file is being read"), translated("another file to write to"));
  }
  if (exists && S_ISDIR(there.st_mode)) return refuse(translated("this is a folder"), translated("the name of a file"));
  if (exists && S_ISBLK(there.st_mode)) return refuse(translated("this is a disk"), translated("the name of a file"));
  if (exists && !S_ISREG(there.st_mode)) {  // a pipe, a terminal, /dev/null: written into, never replaced
    file.number_ = ::open(path.c_str(), O_WRONLY | O_CLOEXEC | O_NONBLOCK);
    if (file.number_ < 0) return system_problem(path, "opening");
    ::fcntl(file.number_, F_SETFL, ::fcntl(file.number_, F_GETFL) & ~O_NONBLOCK);
    return file;
  }
  if (exists && replacing == Replacing::never_a_bench && is_keepsake(path))
    return refuse(translated("a bench, a logbook or parts stand in this file"),
                  translated("another file, or --force to write over it"));
  if (exists && ::access(path.c_str(), W_OK) != 0) return system_problem(path, "opening");
  std::error_code ignored;
  if (std::filesystem::is_symlink(path, ignored))
    file.path_ = std::filesystem::weakly_canonical(path, ignored).string();
  file.temporary_ = file.path_ + ".XXXXXX";
  file.number_ = ::mkostemp(file.temporary_.data(), O_CLOEXEC);
  if (file.number_ < 0) {
    file.temporary_.clear();
    return system_problem(path, "opening");
  }
  ::fchmod(file.number_, exists ? there.st_mode & 0777 : 0644);
  return file;
}

OutputFile::OutputFile(OutputFile&& other) noexcept
    : path_(std::move(other.path_)),
      temporary_(std::exchange(other.temporary_, {})),
      number_(std::exchange(other.number_, -1)),
      written_(other.written_),
      error_(other.error_) {}

OutputFile::~OutputFile() {
  if (number_ >= 0) ::close(number_);
  if (!temporary_.empty()) ::unlink(temporary_.c_str());
}

bool OutputFile::write(std::string_view text) {
  for (std::size_t done = 0; done < text.size() && error_ == 0;) {
    const ssize_t wrote = ::write(number_, text.data() + done, text.size() - done);
    if (wrote < 0 && errno == EINTR) continue;
    if (wrote <= 0) error_ = errno;
    done += wrote > 0 ? static_cast<std::size_t>(wrote) : 0;
  }
  written_ += text.size();
  return error_ == 0;
}

Result<std::size_t> OutputFile::commit() {
  const auto failed = [&](int error) {
    errno = error;
    return system_problem(path_, "writing");
  };
  if (error_ != 0) return failed(error_);
  if (temporary_.empty()) return written_;
  if (::fsync(number_) != 0 || ::rename(temporary_.c_str(), path_.c_str()) != 0) return failed(errno);
  temporary_.clear();
  flush_folder(path_);
  return written_;
}

}  // namespace fair_gauge
