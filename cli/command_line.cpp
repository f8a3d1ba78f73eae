#include "command_line.h"

#include <CLI/CLI.hpp>

namespace fair_gauge::cli {
namespace {

CLI::Validator within(NumberRange range) {
  return CLI::Validator(
      [range](std::string& text) -> std::string {
        double number = 0;
        if (!CLI::detail::lexical_cast(text, number)) return "\"" + text + "\" is no number";
        if (number >= range.from && number <= range.to) return "";
        return "\"" + text + "\" is not between " + CLI::detail::to_string(range.from) + " and " +
               CLI::detail::to_string(range.to);
      },
      "");
}

CLI::Option* present(CLI::Option* option, Presence presence) {
  return option->required(presence == Presence::required);
}

}  // namespace

struct Command::Words {
  std::shared_ptr<CLI::App> program;  // that owns all its commands
  CLI::App* command;
};

Command::Command(std::shared_ptr<Words> words) : words_(std::move(words)) {}

Command::Command(const std::string& description)
    : words_(std::make_shared<Words>(Words{std::make_shared<CLI::App>(description), nullptr})) {
  words_->command = words_->program.get();
  words_->command->fallthrough(false);
  words_->program->set_version_flag("--version", "Fair Gauge " FAIR_GAUGE_VERSION);
}

Command Command::add(const std::string& name, const std::string& what, std::function<void()> run) {
  words_->command->require_subcommand(1);
  CLI::App* command = words_->command->add_subcommand(name, what);
  if (run) command->callback(std::move(run));
  return Command(std::make_shared<Words>(Words{words_->program, command}));
}

void Command::option(const std::string& name, std::string& target, const std::string& what, Presence presence) {
  present(words_->command->add_option(name, target, what), presence);
}

void Command::option(const std::string& name, std::vector<std::string>& target, const std::string& what,
                     Presence presence) {
  present(words_->command->add_option(name, target, what), presence)->take_all()->allow_extra_args(false);
}

void Command::option(const std::string& name, double& target, const std::string& what, NumberRange range,
                     Presence presence) {
  present(words_->command->add_option(name, target, what), presence)->check(within(range));
}

void Command::option(const std::string& name, int& target, const std::string& what, NumberRange range) {
  words_->command->add_option(name, target, what)->check(within(range));
}

void Command::option(const std::string& name, std::int64_t& target, const std::string& what, NumberRange range) {
  words_->command->add_option(name, target, what)->check(within(range));
}

void Command::option(const std::string& name, std::uint64_t& target, const std::string& what) {
  words_->command->add_option(name, target, what);
}

void Command::choice(const std::string& name, std::string& target, std::initializer_list<const char*> words,
                     const std::string& what, Presence presence) {
  present(words_->command->add_option(name, target, what), presence)
      ->check(CLI::IsMember(std::vector<std::string>(words.begin(), words.end())));
}

void Command::flag(const std::string& name, bool& target, const std::string& what) {
  words_->command->add_flag(name, target, what);
}

void Command::some_of(std::initializer_list<const char*> names, std::size_t most) {
  auto* group = words_->command->add_option_group("input");
  for (const char* name : names) group->add_option(words_->command->get_option(name));
  group->require_option(1, most);
}

void Command::not_both(const std::string& one, const std::string& other) {
  words_->command->get_option(one)->excludes(words_->command->get_option(other));
}

int Command::parse(int count, char** words) {
  try {
    words_->program->parse(count, words);
  } catch (const CLI::ParseError& error) {
    return words_->program->exit(error) == 0 ? 1 : -1;
  }
  return 0;
}

}  // namespace fair_gauge::cli
