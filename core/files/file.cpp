#include "files/file.h"

#include <fcntl.h>
#include <fmt/format.h>
#include <sys/stat.h>
#include <unistd.h>

#include <cerrno>
#include <cstring>
#include <filesystem>

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
  return {.wrong = fmt::format("{} failed: {}", doing, std::strerror(errno)),
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
  const Descriptor file(::open(path.c_str(), O_RDONLY | O_CLOEXEC));
  if (file.number() < 0) return system_problem(path, "opening");
  struct stat about {};
  if (::fstat(file.number(), &about) != 0) return system_problem(path, "looking at the file");
  if (S_ISDIR(about.st_mode)) return Problem{"this is a folder", "a file", {.file = path}, ProblemKind::file};
  std::string text;
  char block[1 << 16];
  for (;;) {
    const ssize_t got = ::read(file.number(), block, sizeof block);
    if (got < 0 && errno == EINTR) continue;
    if (got < 0) return system_problem(path, "reading");
    if (got == 0) return text;
    text.append(block, static_cast<std::size_t>(got));
    if (text.size() > limit)
      return Problem{fmt::format("the file is larger than {} MB", limit >> 20), "a smaller file", {.file = path}};
  }
}

Result<std::size_t> write_file(const std::string& path, std::string_view text) {
  std::error_code ignored;
  // A link keeps pointing where it pointed: the file it names is replaced, not the link.
  const auto target =
      std::filesystem::is_symlink(path, ignored) ? std::filesystem::weakly_canonical(path, ignored).string() : path;
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
  struct stat old {};
  const mode_t mode = ::stat(target.c_str(), &old) == 0 ? old.st_mode & 0777 : 0644;
  if (::fchmod(file.number(), mode) != 0 || ::fsync(file.number()) != 0) return give_up("saving");
  if (::rename(temporary.c_str(), target.c_str()) != 0) return give_up("saving");
  flush_folder(target);
  return text.size();
}

}  // namespace fair_gauge
