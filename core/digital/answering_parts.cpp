#include "digital/answering_parts.h"

#include <algorithm>

#include "digital/checks.h"
#include "digital/decoder.h"
#include "language/translation.h"

namespace fair_gauge {
namespace {

enum class Answer { none, possible, proven };

bool has_length(const ByteBlock& block, const std::vector<std::uint8_t>& bytes) {
  const auto length = static_cast<int>(bytes.size());
  return length > 0 && (length == block.bytes || length == block.shorter);
}

// One block of a part, to which bytes are held. Parts with a stored trimming give no reading without it: of them the
// length and the checks have to do.
class BlockJudge {
 public:
  BlockJudge(const Part& part, const ByteBlock& block) : part_(part), block_(block) {
    const bool alone = std::ranges::all_of(
        part.bytes.blocks, [&](const ByteBlock& each) { return each.name == block.name || each.optional; });
    if (!alone) return;
    if (auto made = Decoder::make(part)) decoder_ = std::move(*made);
  }

  Answer judge(const std::vector<std::uint8_t>& bytes) const {
    if (!has_length(block_, bytes)) return Answer::none;
    Answer answer = Answer::possible;
    for (const ByteCheck& check : part_.bytes.checks) {
      const CheckKind* kind = check_kind(check.kind);
      if (!kind || check.block != block_.name || std::ssize(bytes) != block_.bytes)
        continue;  // the short form has none
      if (!kind->holds(bytes, check)) return Answer::none;
      if (kind->write) answer = Answer::proven;
    }
    return decoder_ && !decoder_->decode({{block_.name, bytes}}).ok() ? Answer::none : answer;
  }

 private:
  const Part& part_;
  const ByteBlock& block_;
  std::optional<Decoder> decoder_;
};

}  // namespace

std::vector<AnsweringPart> parts_that_answer(const Catalogue& catalogue,
                                             const std::vector<std::vector<std::uint8_t>>& answers) {
  constexpr std::size_t most_without_proof = 8;
  std::vector<AnsweringPart> found;
  for (const Part& part : catalogue.parts())
    for (const ByteBlock& block : part.bytes.blocks) {
      if (block.role == "trimming" || block.role == "status") continue;
      if (std::ranges::none_of(answers, [&](const auto& bytes) { return has_length(block, bytes); })) continue;
      const BlockJudge judge(part, block);
      std::size_t possible = 0, proven = 0;
      for (const auto& bytes : answers) {
        const Answer answer = judge.judge(bytes);
        if (answer != Answer::none) ++possible;
        if (answer == Answer::proven) ++proven;
      }
      if (2 * possible <= answers.size()) continue;
      found.push_back({&part, block.name, 2 * proven > answers.size()});
      break;
    }
  if (std::ranges::any_of(found, &AnsweringPart::is_proven))
    std::erase_if(found, [](const AnsweringPart& each) { return !each.is_proven; });
  else if (found.size() > most_without_proof)
    found.clear();
  return found;
}

std::string markings_of(const std::vector<AnsweringPart>& parts) {
  constexpr std::size_t most = 4;
  std::string words;
  const std::size_t named = parts.size() == most + 1 ? parts.size() : std::min(parts.size(), most);
  for (std::size_t i = 0; i < named; ++i) {
    const Part& part = *parts[i].part;
    if (i > 0) words += i + 1 == parts.size() ? translated(" or ") : ", ";
    words += part.markings.empty() ? part.name : part.markings.front();
  }
  return named == parts.size() ? words : translated("{} or one of {} more", words, parts.size() - named);
}

}  // namespace fair_gauge
