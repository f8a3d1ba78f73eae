#include "stream/log_listening.h"

#include <algorithm>
#include <functional>

#include "files/delimited.h"
#include "language/translation.h"
#include "quantity/quantity_text.h"
#include "stream/log_heading.h"

namespace fair_gauge {
namespace {

constexpr std::size_t most_taken = 5000;

int decimals_of(std::string_view cell) {
  const auto mark = cell.find_last_of(".,");
  return mark == std::string_view::npos || cell.find_first_of("eE") != std::string_view::npos
             ? 0
             : static_cast<int>(cell.size() - mark - 1);
}

}  // namespace

Result<std::vector<LineProposal>> proposals_of_log(std::string_view beginning, const LogChoice& choice,
                                                   std::vector<std::string>* left_out) {
  beginning = from_heading(beginning, {.separator = choice.separator});
  const LogDialect dialect = dialect_of(beginning, choice);
  Rows rows(beginning);
  std::string_view row;
  rows.next(row);
  const auto names = cells_of(heading_text(row), dialect.separator);
  const TimePlaces time = time_places(names);
  Listener listener;
  for (std::size_t taken = 0; taken < most_taken && rows.next(row); ++taken) {
    const auto cells = cells_of(row, dialect.separator);
    SerialLine line;
    for (std::size_t i = 0; i < std::min(cells.size(), names.size()); ++i)
      if (const auto number = parse_number(cells[i]);
          number && i != time.moment && i != time.of_day && !names[i].empty() && !parse_number(names[i]))
        line.items.push_back({.name = std::string(names[i]),
                              .number = *number,
                              .bytes = {},
                              .unit = {},
                              .decimals = decimals_of(cells[i])});
    listener.take(line, std::max(-1.0, time.seconds(cells, dialect.time)));
  }
  auto proposals = listener.proposals();
  if (proposals.empty())
    return Problem{translated("the log has no column of numbers under a name"),
                   translated("a heading, and rows of numbers below it")};
  // Row numbers and batteries are no channels where others say what they are.
  const auto says_what = [](const LineProposal& each) { return each.quantity.has_value(); };
  if (std::ranges::none_of(proposals, says_what)) return proposals;
  if (left_out)
    for (const LineProposal& each : proposals)
      if (!says_what(each)) left_out->push_back(each.name);
  std::erase_if(proposals, std::not_fn(says_what));
  return proposals;
}

std::vector<LineProposal> unknown_to(const Bench& bench, std::vector<LineProposal> proposals) {
  std::erase_if(proposals, [&](const LineProposal& proposal) {
    return std::ranges::any_of(bench.channels, [&](const Channel& channel) {
      return proposal.name == channel.id || proposal.name == channel.name_on_line();
    });
  });
  return proposals;
}

}  // namespace fair_gauge
