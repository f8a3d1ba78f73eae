#include "stream/row_chains.h"

#include <fmt/format.h>

#include <algorithm>
#include <cmath>

#include "language/translation.h"
#include "stream/log_time.h"
#include "truth/error_budget.h"

namespace fair_gauge {
namespace {

double grain_of(const Chain& chain) {
  const Range& wanted = chain.channel.wanted;
  const auto budget = error_budget(chain, (wanted.from + wanted.to) / 2);
  return budget && budget->expanded > 0 ? budget->expanded / 50 : (wanted.to - wanted.from) / 1e4;
}

}  // namespace

LogCell RowChains::Beside::read(std::string_view cell) const {
  if (const CellMemory::Known* now = known.find(cell); now && now->reading == now->reading)
    return {.raw = now->raw, .reading = now->reading, .problem = {}, .fault = {}, .says = {}};
  LogCell read = cells.read(cell);
  known.keep(cell, read);
  return read;
}

RowChains::RowChains(const Bench& bench, const Catalogue& catalogue, const Chain& chain)
    : RowChains(bench, catalogue, chain, 0) {}

RowChains::RowChains(const Bench& bench, const Catalogue& catalogue, const Chain& chain, int depth)
    : bench_(bench), catalogue_(catalogue), derived_(chain.derived), channel_(chain.channel.id) {
  constexpr int deepest = 3;  // a derived one, what it is worked out from, what that needs
  own_ = std::make_unique<const Beside>(chain);
  std::vector<std::string> wanted = chain.side_channels;
  if (derived_) {
    first_.reset(new RowChains(bench, catalogue, *chain.inputs.front(), depth + 1));
    beside_id_ = chain.channel.derived->beside;
    wanted = beside_id_.empty() ? std::vector<std::string>() : std::vector{beside_id_};
  }
  for (const std::string& id : wanted) {
    const auto other = build_chain(bench, catalogue, id);
    if (!other || depth >= deepest || std::ranges::find(others_, id, &Other::id) != others_.end()) continue;
    others_.push_back({id, other->channel.name_on_line(),
                       std::unique_ptr<RowChains>(new RowChains(bench, catalogue, *other, depth + 1)),
                       grain_of(*other)});
  }
}

std::optional<Problem> RowChains::begin(const std::vector<std::string_view>& names, TimeForm form) {
  time_form_ = form;
  names_.assign(names.begin(), names.end());
  if (first_) (void)first_->begin(names, form);
  for (Other& other : others_) {
    (void)other.reader->begin(names, form);
    auto at = std::ranges::find(names, other.id);
    if (at == names.end()) at = std::ranges::find(names, other.line_name);
    if (at != names.end())
      other.column = static_cast<std::size_t>(at - names.begin()), is_beside_ = true;
    else if (other.id == beside_id_)
      return Problem{
          translated("the log has no column \"{}\", beside which \"{}\" is worked out", beside_id_, channel_),
          translated("a log of both channels"),
          {.line = 1, .column = 1}};
  }
  is_beside_ = is_beside_ || derived_;
  time_ = time_places(names);
  if (accumulates() && !time_.moment)
    return Problem{translated("the log has no time, over which \"{}\" comes together", channel_),
                   translated("a column called time"),
                   {.line = 1, .column = 1}};
  return std::nullopt;
}

std::unique_ptr<RowChains> RowChains::another() const {
  auto same = std::make_unique<RowChains>(bench_, catalogue_, own_->chain);
  (void)same->begin({names_.begin(), names_.end()}, time_form_);  // went well here
  return same;
}

bool RowChains::has_seen_all() const {
  return (!first_ || first_->has_seen_all()) && std::ranges::all_of(others_, [](const Other& other) {
           return !other.column || (other.is_seen && other.reader->has_seen_all());
         });
}

std::vector<std::string> RowChains::needs() const {
  std::vector<std::string> all = first_ ? first_->needs() : std::vector<std::string>();
  for (const Other& other : others_) {
    std::ranges::copy(other.reader->needs(), std::back_inserter(all));
    all.push_back(other.id);
  }
  std::ranges::sort(all);
  all.erase(std::unique(all.begin(), all.end()), all.end());
  return all;
}

Result<double> RowChains::derived_from(double first, double seconds) {
  if (accumulates()) {
    day_.take(seconds, first);
    return derived_->at(day_.area(), 1);
  }
  if (beside_id_.empty()) return derived_->inverse(first);
  const auto other = std::ranges::find(others_, beside_id_, &Other::id);
  if (other == others_.end() || !other->now)
    return Problem{
        translated("nothing is known yet of {}, beside which it is worked out", derived_->setup().beside_name),
        translated("a reading of it before or in this row")};
  const double value = derived_->at(first, *other->now);
  if (std::isfinite(value)) return value;
  return Problem{translated("there is no {} here", derived_->setup().quantity->name),
                 translated("readings within the formula's range")};
}

const RowChains::Beside* RowChains::beside() {
  std::vector<double> key;
  SideValues values;
  for (const Other& other : others_) {
    key.push_back(other.now ? std::round(*other.now / other.grain) : std::numeric_limits<double>::infinity());
    if (other.now) values[other.id] = key.back() * other.grain;
  }
  if (values.empty()) return own_.get();
  auto found = known_.find(key);
  if (found == known_.end()) {
    constexpr std::size_t most = 4096;
    if (known_.size() >= most) known_.clear();
    auto chain = build_chain(bench_, catalogue_, channel_, values);
    found = known_.emplace(key, chain ? std::make_unique<const Beside>(std::move(*chain)) : nullptr).first;
  }
  return found->second.get();
}

LogCell RowChains::read(const std::vector<std::string_view>& cells, std::size_t column) {
  for (Other& other : others_)
    if (other.column && *other.column < cells.size() && !cells[*other.column].empty()) {
      other.is_seen = true;
      if (const LogCell cell = other.reader->read(cells, *other.column); cell.fault.empty())
        other.now = cell.reading;  // nothing where it failed
      else
        other.now.reset();
    }
  if (derived_) {
    LogCell cell = first_->read(cells, column);
    if (!cell.reading && cell.raw) day_.miss();
    if (!cell.reading) return cell;
    const auto value = derived_from(*cell.reading, time_.seconds(cells, time_form_));
    cell.reading = value ? std::optional(*value) : std::nullopt;
    if (!value) cell.problem = value.problem();
    return cell;
  }
  const Beside* now = beside();
  if (now) return now->read(column < cells.size() ? cells[column] : std::string_view());
  return {.raw = {},
          .reading = {},
          .problem = Problem{translated("beside these readings it cannot be worked out"),
                             translated("readings within its range")},
          .fault = {},
          .says = {}};
}

void RowChains::forget(const DayDose& before) {
  day_ = before;
  if (first_) first_->forget();
  for (Other& other : others_) other.reader->forget(), other.now.reset(), other.is_seen = false;
}

void RowChains::know(const std::string& channel, double raw) {
  if (first_) first_->know(channel, raw);
  for (Other& other : others_) {
    other.reader->know(channel, raw);
    if (other.id != channel) continue;
    const auto reading = other.reader->reading(raw);
    other.now = reading ? std::optional(*reading) : std::nullopt;
  }
}

Result<double> RowChains::reading(double raw, double seconds) {
  if (derived_) {
    const auto first = first_->reading(raw);
    if (!first) day_.miss();
    return first ? derived_from(*first, seconds) : first;
  }
  const Beside* now = beside();
  if (!now)
    return Problem{translated("beside these readings it cannot be worked out"),
                   translated("readings within its range")};
  return read_raw(now->chain, raw);
}

}  // namespace fair_gauge
