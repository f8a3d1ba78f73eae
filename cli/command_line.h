// The words of a command line: options, flags and commands. The library behind them stays in command_line.cpp, so that
// a command's file compiles in a moment.
#pragma once

#include <cstdint>
#include <functional>
#include <initializer_list>
#include <limits>
#include <memory>
#include <string>
#include <vector>

namespace fair_gauge::cli {

enum class Presence { optional, required };

/// What a number may be, both ends included; not a number is never among it.
struct NumberRange {
  double from = -std::numeric_limits<double>::max();
  double to = std::numeric_limits<double>::max();
};

/// A program or one of its commands. A handle: copies speak of the same one. Targets must outlive parse().
class Command {
 public:
  explicit Command(const std::string& description);

  /// A command below this one; one of them has to be named. \param run  is called once its words are read
  Command add(const std::string& name, const std::string& what, std::function<void()> run = {});

  void option(const std::string& name, std::string& target, const std::string& what = "",
              Presence presence = Presence::optional);
  /// An option that may be given again.
  void option(const std::string& name, std::vector<std::string>& target, const std::string& what = "",
              Presence presence = Presence::optional);
  void option(const std::string& name, double& target, const std::string& what, NumberRange range = {},
              Presence presence = Presence::optional);
  void option(const std::string& name, int& target, const std::string& what, NumberRange range = {});
  void option(const std::string& name, std::int64_t& target, const std::string& what, NumberRange range = {});
  void option(const std::string& name, std::uint64_t& target, const std::string& what);
  /// An option with the words that it may be.
  void choice(const std::string& name, std::string& target, std::initializer_list<const char*> words,
              const std::string& what, Presence presence = Presence::optional);
  void flag(const std::string& name, bool& target, const std::string& what);
  /// Of these options at least one and at most `most` have to be given.
  void some_of(std::initializer_list<const char*> names, std::size_t most);
  /// These two options exclude each other.
  void not_both(const std::string& one, const std::string& other);

  /// Reads the words and runs what they ask for. \returns 0, 1 after --help; −1 for words that are not understood,
  /// which it has said on standard error
  int parse(int count, char** words);

 private:
  struct Words;
  explicit Command(std::shared_ptr<Words> words);
  std::shared_ptr<Words> words_;
};

}  // namespace fair_gauge::cli
