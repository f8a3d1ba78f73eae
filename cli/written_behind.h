// Writes a file while its next piece is made: a thread of its own takes what is ready.
#pragma once

#include <condition_variable>
#include <deque>
#include <mutex>
#include <string>
#include <string_view>
#include <system_error>
#include <thread>

#include "files/file.h"

namespace fair_gauge::cli {

class WrittenBehind {
 public:
  /// \param file  stays where it is, untouched by others until finish()
  explicit WrittenBehind(OutputFile& file) : file_(file) {
    try {
      thread_ = std::thread([this] { write(); });
    } catch (const std::system_error&) {  // there may be none: every piece is written as it comes then
    }
  }
  WrittenBehind(const WrittenBehind&) = delete;
  WrittenBehind& operator=(const WrittenBehind&) = delete;
  ~WrittenBehind() { finish(); }

  /// Takes a piece; waits where several megabytes have not been written yet. \returns false once writing failed: the
  /// file's commit() says why
  bool write(std::string_view text) {
    next_.append(text);
    return next_.size() < piece || pass_on();
  }
  /// Has what came so far written soon, however little: somebody waits for it. \returns the same
  bool flush() { return next_.empty() || pass_on(); }
  /// Everything is written, or failed. \returns the same
  bool finish() {
    pass_on();
    if (!thread_.joinable()) return works_;
    {
      const std::scoped_lock lock(mutex_);
      ended_ = true;
    }
    change_.notify_all();
    thread_.join();
    return works_;
  }

 private:
  static constexpr std::size_t piece = 1u << 20, most_pieces = 4;

  bool pass_on() {
    if (!thread_.joinable()) {
      works_ = file_.write(next_) && works_;
      next_.clear();
      return works_;
    }
    std::unique_lock lock(mutex_);
    change_.wait(lock, [&] { return waiting_.size() < most_pieces; });
    waiting_.push_back(std::move(next_));
    next_ = std::move(spare_);
    next_.clear();
    next_.reserve(piece + piece / 8);
    change_.notify_all();
    return works_;
  }
  void write() {
    std::unique_lock lock(mutex_);
    for (;;) {
      change_.wait(lock, [&] { return ended_ || !waiting_.empty(); });
      if (waiting_.empty()) return;
      std::string text = std::move(waiting_.front());
      lock.unlock();
      const bool wrote = file_.write(text);
      lock.lock();
      waiting_.pop_front();
      spare_ = std::move(text);
      works_ = works_ && wrote;
      change_.notify_all();
    }
  }

  OutputFile& file_;
  std::string next_;  // of the caller
  std::mutex mutex_;  // for what follows
  std::condition_variable change_;
  std::deque<std::string> waiting_;
  std::string spare_;
  bool ended_ = false, works_ = true;
  std::thread thread_;  // last: it uses what stands above
};

}  // namespace fair_gauge::cli
