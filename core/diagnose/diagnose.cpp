#include "diagnose/diagnose.h"

#include <fmt/format.h>

#include <algorithm>
#include <cmath>
#include <map>
#include <set>

#include "diagnose/next_measurement.h"
#include "digital/checks.h"
#include "language/translation.h"
#include "quantity/number_format.h"
#include "stream/log_cell.h"

namespace fair_gauge {
namespace {

// Of a hundred mistakes so many are none of the table, and so many are two at once.
constexpr double unknown_share = 0.2, pair_share = 0.05;
// What the input itself shows, beside a guess at a mistake: surely, or perhaps.
constexpr double state_weight = 0.5, perhaps = 0.002;
constexpr std::size_t most_causes = 8;
// What a part's file warns of is so much more common with it.
constexpr double warned_of = 1.5;

// What was seen of the input, before any mistake.
struct Evidence {
  RawInput input;
  std::optional<double> right;  // shown unit
  std::vector<Cause> states;    // that leave no truth
};

bool finite(double value) { return std::isfinite(value); }

Cause state_cause(std::string code, std::string words, std::string fix, std::string next) {
  return {.code = std::move(code),
          .words = std::move(words),
          .gives = std::nullopt,
          .share = 0,
          .arithmetic = {},
          .fix = std::move(fix),
          .next = std::move(next)};
}

// A fault of the part, as a cause.
Cause of_fault(const std::string& code, const std::string& says) {
  const std::map<std::string, std::pair<const char*, const char*>> names = {
      {"checksum",
       {"checksum-ignored", translated("drop the reading and read again; look at pull-ups, speed and cable")}},
      {"saturated", {"saturated", translated("choose a lower gain or a shorter integration")}},
      {"not-ready", {"not-ready", translated("wait for the conversion, or for the ready bit")}},
      {"power-on-default", {"power-on-default", translated("start a conversion and wait for it before reading")}},
      {"disconnected", {"disconnected", translated("look at the sensor's leads")}},
      {"no-response", {"no-response", translated("look at supply, address and the line; was a conversion started?")}},
      {"out-of-range", {"clipped", translated("choose another range")}},
      {"underflow", {"clipped", translated("choose another range")}}};
  const auto known = names.find(code);
  return state_cause(known == names.end() ? code : known->second.first, says,
                     known == names.end() ? translated("read it again") : known->second.second,
                     translated("read the same bytes again, and those of a second part if there is one"));
}

double to_shown(const Chain& chain, double base) { return chain.shown->from_base(base); }

Result<Evidence> evidence_of_number(const Chain& chain, double raw) {
  Evidence found;
  found.input = raw_input(chain, raw);
  const LogCell cell = CellReader(chain).read(fmt::format("{:.17g}", raw));
  if (cell.reading) found.right = to_shown(chain, *cell.reading);
  if (!cell.fault.empty()) {
    found.states.push_back(of_fault(cell.fault, cell.says));
    return found;
  }
  if (found.right) return found;
  if (chain.decoder) {  // a number that means something else
    const ByteLayout& layout = chain.decoder->part().bytes;
    const auto reading = std::ranges::find(layout.readings, chain.channel.quantity, &ByteReading::quantity);
    for (const ByteState& state : layout.states)
      if (state.field == reading->field && !state.fault.empty() &&
          std::ranges::find(state.equals, raw) != state.equals.end()) {
        found.states.push_back(of_fault(state.fault, state.says));
        return found;
      }
  }
  const std::string why = cell.problem ? to_text(*cell.problem) : translated("the raw number is no reading");
  const ConverterLink& converter = *chain.converter;
  if (chain.channel.arrives_converted()) {
    found.states.push_back(state_cause(
        "no-response", why, translated("look at the sensor's wires: libraries send such a number when nothing answers"),
        translated("read the sensor's identity, or let the firmware print its error")));
    return found;
  }
  if (!chain.decoder && !converter.counts_pulses()) {
    const bool end = raw <= converter.lowest_code() || raw >= converter.largest_code();
    Cause open = state_cause("disconnected", why, translated("look at the sensor's leads, then measure its resistance"),
                             translated("measure the sensor's ohms with its plug pulled"));
    Cause clipped =
        state_cause("clipped", why,
                    translated("the input is at or beyond the end of the converter: change divider, gain or reference"),
                    translated("measure the volts at the pin"));
    if (!end) open.share = perhaps;
    // A pin that nothing drives floats near ground, unless a fixed resistor pulls it up.
    const bool resistive = chain.divider != nullptr;
    if (resistive || !end) found.states.push_back(open);
    if (end) found.states.push_back(clipped);
    if (!resistive && raw <= converter.lowest_code()) found.states.push_back(open);
    return found;
  }
  found.states.push_back(
      converter.counts_pulses() && !chain.decoder
          ? state_cause("no-response", why, translated("look at supply and line"),
                        translated("count the pulses of one conversion"))
          : state_cause("clipped", why, translated("look at the order of the bytes"), translated("print the bytes")));
  return found;
}

Result<Evidence> evidence_of_blocks(const Chain& chain, ByteBlocks blocks) {
  Evidence found;
  const Part& part = chain.decoder->part();
  blocks.insert(chain.trimming.begin(), chain.trimming.end());
  found.input.blocks = std::move(blocks);
  const Decoded decoded = chain.decoder->decode(found.input.blocks);
  const auto layout = std::ranges::find(part.bytes.readings, chain.channel.quantity, &ByteReading::quantity);
  const auto field = std::ranges::find(part.bytes.fields, layout->field, &ByteField::name);
  const auto block = std::ranges::find(part.bytes.blocks, field->block, &ByteBlock::name);
  const auto own = Decoder::find_block(found.input.blocks, *block);
  if (own.empty())
    return Problem{translated("the block {} is missing, of which {} is read", block->name,
                              translated_name(chain.channel.quantity)),
                   translated("{} bytes of {}", block->bytes, block->name)};
  found.input.raw = raw_of_block(part, chain.channel.quantity, own).value_or(std::nan(""));
  const bool read = decoded.reading(chain.channel.quantity) != nullptr;
  for (const DigitalFault& fault : decoded.faults)
    if (!read || fault.code == "power-on-default") found.states.push_back(of_fault(fault.code, fault.message));
  return found;
}

// Parts whose data blocks, one after the other, are so many bytes and pass their checks.
std::string parts_of_bytes(const Catalogue& catalogue, const std::vector<std::uint8_t>& bytes) {
  std::string names;
  for (const Part& part : catalogue.parts()) {
    if (!part.is_digital() || part.bytes.checks.empty()) continue;
    std::size_t at = 0;
    ByteBlocks blocks;
    for (const ByteBlock& block : part.bytes.blocks) {
      if (block.role != "data") continue;
      const auto size = static_cast<std::size_t>(block.bytes);
      if (at + size > bytes.size()) break;
      blocks[block.name].assign(bytes.begin() + static_cast<std::ptrdiff_t>(at),
                                bytes.begin() + static_cast<std::ptrdiff_t>(at + size));
      at += size;
    }
    const auto holds = [&](const ByteCheck& check) {
      const CheckKind* kind = check_kind(check.kind);
      const auto block = blocks.find(check.block);
      return kind && block != blocks.end() && kind->holds(block->second, check);
    };
    if (at == bytes.size() && std::ranges::all_of(part.bytes.checks, holds))
      names += (names.empty() ? "" : ", ") + (part.markings.empty() ? part.id : part.markings.front());
  }
  return names;
}

Result<Evidence> evidence_of(const Catalogue& catalogue, const Chain& chain, const Question& question) {
  if (question.raw) return evidence_of_number(chain, *question.raw);
  if (!chain.decoder) {
    if (!question.registers.empty() || question.bytes.empty() || question.bytes.size() > 4)
      return Problem{translated("\"{}\" has a raw number, no bytes", chain.channel.id),
                     translated("--raw, or up to 4 bytes of it")};
    double raw = 0;
    for (const std::uint8_t byte : question.bytes) raw = raw * 256 + byte;
    return evidence_of_number(chain, raw_from_bytes(chain, raw));
  }
  if (!question.registers.empty()) return evidence_of_blocks(chain, question.registers);
  const auto blocks = data_blocks(chain.decoder->part(), chain.channel.quantity, question.bytes);
  if (blocks) return evidence_of_blocks(chain, *blocks);
  if (chain.bytes)
    if (const auto raw = chain.bytes->raw(to_hex(question.bytes)))
      return evidence_of_number(chain, raw_from_bytes(chain, *raw));
  std::string wanted;
  for (const ByteBlock& block : chain.decoder->part().bytes.blocks)
    if (block.role == "data")
      wanted += translated("{}{} of {}", wanted.empty() ? "" : translated(" and "), block.bytes, block.name);
  std::string wrong = translated("{} bytes are not those of \"{}\"", question.bytes.size(), chain.decoder->part().id);
  if (const std::string others = parts_of_bytes(catalogue, question.bytes); !others.empty())
    wrong += translated(", but pass the check of {}", others);
  return Problem{wrong, translated("the bytes of its data blocks: {}", wanted)};
}

double rounding_of(const Question& question) {
  const double half = 0.5 * std::pow(10.0, -question.decimals);
  const double size = std::abs(*question.shown);
  return (question.decimals == 0 ? std::max(half, 0.001 * size) : half) + 1e-9 * size;
}

class Search {
 public:
  Search(const Bench& bench, const Catalogue& catalogue, const Chain& chain, const Question& question,
         Evidence evidence)
      : catalogue_(catalogue), chain_(chain), question_(question), evidence_(std::move(evidence)) {
    right_.bench = bench_of_channel(bench, chain.channel.id);
    right_.channel = chain.channel.id;
    right_.input = evidence_.input;
    baseline_ = right_.shows(catalogue);
    if (!evidence_.right && evidence_.states.empty() && finite(baseline_)) evidence_.right = baseline_;
    rows_ = wrongs_of(bench, catalogue, chain, right_);
    warnings_ = mistakes_of_parts(right_.bench, catalogue);
    expected_ = question.expected;
    weigh();
  }

  Diagnosis run() {
    Diagnosis diagnosis{.causes = {}, .right = evidence_.right, .verdict = ""};
    const bool expected = !expected_ || (evidence_.right && expected_->contains(*evidence_.right));
    // The arithmetic is right also where it goes on beyond the ends of what is a reading.
    const double computed = evidence_.right.value_or(baseline_);
    const bool agrees = question_.shown && std::abs(computed - *question_.shown) <= rounding_of(question_);
    if (evidence_.right && (agrees || !question_.shown) && expected) {
      diagnosis.verdict = evidence_.states.empty()
                              ? translated("nothing is wrong with it: what is shown is what the number means")
                              : "";
      if (evidence_.states.empty()) return diagnosis;
    }
    arithmetic_ = question_.shown && !agrees;
    if (arithmetic_)
      arithmetic();
    else if (expected_ && !expected)
      world();
    for (Cause state : evidence_.states) {
      state.gives = question_.shown;
      state.share = (state.share > 0 ? state.share : state_weight) * all_weights_;
      found_.push_back(std::move(state));
    }
    finish(diagnosis);
    return diagnosis;
  }

 private:
  // A code that needs a number of its own is spread over those that it may have.
  void weigh() {
    std::map<std::string, double> ways;
    for (const Wrong& row : rows_)
      if (row.needs_number) ways[row.code] += 1;
    for (const Wrong& row : rows_) {
      weights_.push_back(row.prior / (row.needs_number ? ways[row.code] : 1) *
                         (std::ranges::find(warnings_, row.code, &Mistake::code) == warnings_.end() ? 1 : warned_of));
      all_weights_ += weights_.back();
    }
  }

  void take(const std::string& code, const std::string& words, const std::string& fix, const std::string& next,
            double weight, bool needs_number, std::optional<double> gives, const Firmware* wrong) {
    Cause cause{
        .code = code, .words = words, .gives = gives, .share = weight, .arithmetic = {}, .fix = fix, .next = next};
    if (wrong) {
      cause.wrong = std::make_shared<const Firmware>(*wrong);
      if (!question_.measured.empty() || !question_.also.empty())
        weight *= Probes(catalogue_, chain_, right_, question_, arithmetic_).fits(*wrong);
      cause.share = weight;
      cause.arithmetic = wrong->arithmetic(catalogue_);
    }
    // Where the arithmetic is what errs, the bench may well be right.
    if (wrong && !arithmetic_ && wrong->errs_in_bench_alone() && wrong->bench.channels == right_.bench.channels)
      cause.so = std::make_shared<const Bench>(wrong->bench);
    const auto known = std::ranges::find(found_, code, &Cause::code);
    if (known == found_.end()) {
      found_.push_back(std::move(cause));
    } else {
      // Values that a code may have are several chances; ways that come to the same are one.
      const double both = needs_number ? known->share + weight : std::max(known->share, weight);
      if (weight > known->share) *known = std::move(cause);
      known->share = both;
    }
  }

  bool meets(double value) const {
    return finite(value) && std::abs(value - *question_.shown) <= rounding_of(question_);
  }

  void arithmetic() {
    std::vector<std::size_t> likely;
    for (std::size_t i = 0; i < rows_.size(); ++i) {
      const Wrong& row = rows_[i];
      if (row.of == MistakeOf::world) continue;
      Firmware wrong = right_;
      row.change(wrong);
      const double value = wrong.shows(catalogue_);
      if (meets(value) && !same_as_right(value))
        take(row.code, row.words, row.fix, row.next, weights_[i], row.needs_number, value, &wrong);
      if (!row.needs_number || row.code == "reference") likely.push_back(i);
    }
    if (found_.empty()) pairs(likely);
  }

  bool same_as_right(double value) const { return std::abs(value - baseline_) < 1e-9 * (1 + std::abs(value)); }

  // All pairs together are as common as pair_share of all mistakes.
  void pairs(const std::vector<std::size_t>& likely) {
    // Most leave the bench as it is: then its chain is at hand, and that of the one that does not is built once.
    std::map<std::size_t, Chain> changed;
    std::set<std::size_t> broken;
    for (const std::size_t i : likely) {
      Firmware wrong = right_;
      rows_[i].change(wrong);
      if (wrong.channel == right_.channel && wrong.bench == right_.bench) continue;
      if (auto chain = build_chain(wrong.bench, catalogue_, wrong.channel))
        changed.emplace(i, std::move(*chain));
      else
        broken.insert(i);
    }
    double all = 0;
    for (const std::size_t i : likely)
      for (const std::size_t j : likely) all += i < j ? weights_[i] * weights_[j] : 0;
    const double each = all > 0 ? pair_share * all_weights_ / all : 0;
    for (const std::size_t i : likely)
      for (const std::size_t j : likely) {
        const Wrong &first = rows_[i], &second = rows_[j];
        if (i >= j || first.code == second.code || broken.contains(i) || broken.contains(j)) continue;
        Firmware wrong = right_;
        first.change(wrong);
        second.change(wrong);
        const auto one = changed.find(i), other = changed.find(j);
        if (one == changed.end() || other == changed.end())
          wrong.built = one != changed.end() ? &one->second : other != changed.end() ? &other->second : &chain_;
        const double value = wrong.shows(catalogue_);
        wrong.built = nullptr;  // what is kept outlives this search
        if (meets(value) && !same_as_right(value))
          take(first.code + "+" + second.code, translated("{}; and {}", first.words, second.words),
               first.fix + "; " + second.fix, first.next, each * weights_[i] * weights_[j],
               first.needs_number || second.needs_number, value, &wrong);
      }
  }

  // The arithmetic is right: what made this raw number, while the truth is within what is expected?
  void world() {
    for (std::size_t i = 0; i < rows_.size(); ++i) {
      const Wrong& row = rows_[i];
      if (row.of == MistakeOf::arithmetic) continue;
      Firmware read_through = right_;
      row.change(read_through);
      const double truth = read_through.shows(catalogue_);
      if (!finite(truth) || !expected_->contains(truth) || same_as_right(truth)) continue;
      take(row.code,
           translated("{}: the truth would be {:.5g} {}", row.truly.empty() ? row.words : row.truly, truth,
                      chain_.shown->symbol),
           row.fix, row.next, weights_[i], row.needs_number, question_.shown ? question_.shown : evidence_.right,
           &read_through);
    }
  }

  void finish(Diagnosis& diagnosis) {
    // An unknown mistake would give any number of the range that the channel may have.
    const Range& wanted = chain_.channel.wanted;
    const double base_span = 3 * std::abs(wanted.to - wanted.from);
    const double span =
        std::max(base_span / std::abs(chain_.shown->scale), question_.shown ? 2 * std::abs(*question_.shown) : 0.0);
    const bool by_shown = arithmetic_;
    const double within = by_shown    ? 2 * rounding_of(question_) / span
                          : expected_ ? (expected_->to - expected_->from) / span
                                      : 1;
    double all = unknown_share * all_weights_ * std::clamp(within, 0.0, 1.0);
    for (const Cause& cause : found_) all += cause.share;
    for (Cause& cause : found_) cause.share /= all;
    std::ranges::stable_sort(found_, std::greater{}, &Cause::share);
    if (found_.size() > most_causes) found_.resize(most_causes);
    const auto words_of = [](const Mistake& mistake) {
      return mistake.shows.empty() ? mistake.what : mistake.what + ": " + mistake.shows;
    };
    for (Cause& cause : found_) {
      const auto warning = std::ranges::find(warnings_, cause.code.substr(0, cause.code.find('+')), &Mistake::code);
      if (warning != warnings_.end()) cause.of_part = words_of(*warning);
    }
    diagnosis.of_arithmetic = arithmetic_;
    diagnosis.raw = right_.input.raw;
    diagnosis.stages = right_.stages(catalogue_);
    for (Cause& cause : found_)
      if (cause.wrong) {
        cause.stages = cause.wrong->stages(catalogue_);
        if (cause.wrong->channel != right_.channel)  // another channel's stages are not this one's
          std::erase_if(cause.stages, [](const auto& stage) { return stage.first != StageName::shown; });
      }
    for (const Mistake& mistake : warnings_)
      if (mistake.code.empty()) diagnosis.also_usual.push_back(words_of(mistake));
    diagnosis.causes = std::move(found_);
    Probes(catalogue_, chain_, right_, question_, arithmetic_).foretell(diagnosis);
    if (diagnosis.causes.empty())
      diagnosis.verdict = translated("none of the known mistakes explains it");
    else if (diagnosis.verdict.empty())
      diagnosis.verdict = diagnosis.causes.front().words;
  }

  const Catalogue& catalogue_;
  const Chain& chain_;
  const Question& question_;
  Evidence evidence_;
  Firmware right_;
  std::vector<Wrong> rows_;
  std::vector<Mistake> warnings_;  // of the parts' files
  std::vector<double> weights_;    // of the rows, how common each is
  double all_weights_ = 0;
  double baseline_ = 0;  // shown without a mistake, whatever the input is worth
  bool arithmetic_ = false;
  std::optional<Range> expected_;
  std::vector<Cause> found_;
};

}  // namespace

std::optional<StageName> first_difference(const std::map<StageName, double>& right,
                                          const std::map<StageName, double>& wrong) {
  using enum StageName;
  for (const StageName stage : {raw, bytes, converter, front_end, sensor, compensated, corrected, shown}) {
    const auto a = right.find(stage), b = wrong.find(stage);
    if (a == right.end() || b == wrong.end()) continue;
    if (std::abs(a->second - b->second) > 1e-9 * (std::abs(a->second) + std::abs(b->second))) return stage;
  }
  return std::nullopt;
}

void take_over(Bench& bench, const Bench& so) {
  for (const Rail& rail : so.rails)
    if (!find_by_id(bench.rails, rail.id)) bench.rails.push_back(rail);
  for (const Device& other : so.devices)
    if (Device* device = find_by_id(bench.devices, other.id))
      device->settings = other.settings, device->front_end = other.front_end;
  for (const Converter& other : so.converters)
    if (Converter* converter = find_by_id(bench.converters, other.id)) *converter = other;
}

Result<Diagnosis> diagnose(const Bench& bench, const Catalogue& catalogue, const std::string& channel,
                           const Question& question) {
  const auto chain = build_chain(bench, catalogue, channel);
  if (!chain) return chain.problem();
  auto evidence = evidence_of(catalogue, *chain, question);
  if (!evidence) return evidence.problem();
  return Search(bench, catalogue, *chain, question, std::move(*evidence)).run();
}

}  // namespace fair_gauge
