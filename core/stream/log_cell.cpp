#include "stream/log_cell.h"

#include <fmt/format.h>

#include <algorithm>
#include <cmath>

#include "files/delimited.h"
#include "language/translation.h"
#include "quantity/quantity_text.h"

namespace fair_gauge {
namespace {

const ByteReading* reading_of(const Part& part, Quantity quantity) {
  const auto found = std::ranges::find(part.bytes.readings, quantity, &ByteReading::quantity);
  return found == part.bytes.readings.end() ? nullptr : &*found;
}

// Digits with their number: 12 and 0012 may mean other things. 0 → not plain.
std::uint64_t key_of(std::string_view cell) {
  constexpr std::size_t longest = 15;
  if (cell.empty() || cell.size() > longest) return 0;
  std::uint64_t number = 0;
  for (const char c : cell) {
    if (c < '0' || c > '9') return 0;
    number = number * 10 + static_cast<std::uint64_t>(c - '0');
  }
  return number << 4 | cell.size();
}

}  // namespace

const CellMemory::Known* CellMemory::find(std::string_view cell) const {
  const std::uint64_t key = key_of(cell);
  const Place& place = places_[(key >> 4) & (places_.size() - 1)];
  return key != 0 && place.key == key ? &place.known : nullptr;
}

void CellMemory::keep(std::string_view cell, const LogCell& read) {
  const std::uint64_t key = key_of(cell);
  if (key == 0 || !read.fault.empty() || !read.raw) return;
  places_[(key >> 4) & (places_.size() - 1)] = {key, {*read.raw, read.reading.value_or(std::nan(""))}};
}

std::string block_of(const Part& part, Quantity quantity) {
  const ByteReading* reading = reading_of(part, quantity);
  const auto field = std::ranges::find(part.bytes.fields, reading ? reading->field : "", &ByteField::name);
  return field == part.bytes.fields.end() ? "" : field->block;
}

std::optional<ByteBlocks> data_blocks(const Part& part, Quantity quantity, std::span<const std::uint8_t> bytes) {
  std::size_t all = 0;
  for (const ByteBlock& block : part.bytes.blocks)
    if (block.role == "data") all += static_cast<std::size_t>(block.bytes);
  ByteBlocks blocks;
  if (bytes.size() == all) {
    std::size_t at = 0;
    for (const ByteBlock& block : part.bytes.blocks) {
      if (block.role != "data") continue;
      const auto piece = bytes.subspan(at, static_cast<std::size_t>(block.bytes));
      blocks[block.name].assign(piece.begin(), piece.end());
      at += piece.size();
    }
    return blocks;
  }
  const std::string own = block_of(part, quantity);
  for (const ByteBlock& block : part.bytes.blocks)
    if (block.name == own && (bytes.size() == static_cast<std::size_t>(block.bytes) ||
                              (block.shorter > 0 && bytes.size() == static_cast<std::size_t>(block.shorter)))) {
      blocks[block.name].assign(bytes.begin(), bytes.end());
      return blocks;
    }
  return std::nullopt;
}

CellReader::CellReader(const Chain& chain) : chain_(chain) {
  double most = chain.converter->largest_code();
  if (chain.bytes) {
    const auto whole = chain.bytes->block(0).size();
    lengths_.push_back(whole);
    std::size_t own = 0;
    for (const char c : chain.bytes->text(0)) own += c != ' ' ? 1u : 0u;
    lengths_.push_back(own / 2);
    most = std::max(most, std::exp2(4.0 * static_cast<double>(own)) - 1);
  }
  if (chain.decoder) {
    const Part& part = chain.decoder->part();
    std::size_t all = 0;
    for (const ByteBlock& block : part.bytes.blocks) {
      if (block.role == "data") all += static_cast<std::size_t>(block.bytes);
      if (block.shorter > 0) lengths_.push_back(static_cast<std::size_t>(block.shorter));
    }
    lengths_.push_back(all);
    if (const ByteReading* reading = reading_of(part, chain.channel.quantity))
      for (const ByteState& state : part.bytes.states)
        if (state.fault == "power-on-default" && state.field == reading->field)
          for (const double raw : state.equals) power_on_.emplace_back(raw, state.says);
  }
  digits_ = fmt::format("{:.0f}", most).size();
}

std::optional<std::vector<std::uint8_t>> CellReader::bytes_of(std::string_view cell) const {
  const bool marked = cell.starts_with('x') || cell.starts_with('X');
  if (marked) cell.remove_prefix(1);
  const bool hexadecimal = !cell.empty() && std::ranges::all_of(cell, [](char c) {
    return std::isxdigit(static_cast<unsigned char>(c)) != 0;
  });
  if (!hexadecimal || cell.size() % 2 != 0 || std::ranges::find(lengths_, cell.size() / 2) == lengths_.end())
    return std::nullopt;
  if (!marked && cell.size() <= digits_ && parse_number(cell)) return std::nullopt;
  auto bytes = read_hex(cell);
  return bytes ? std::optional(std::move(*bytes)) : std::nullopt;
}

LogCell CellReader::read_bytes(const std::vector<std::uint8_t>& bytes, MissingTrimming missing) const {
  LogCell cell;
  const auto blocks =
      chain_.decoder ? data_blocks(chain_.decoder->part(), chain_.channel.quantity, bytes) : std::nullopt;
  if (!blocks) {
    const auto raw = chain_.bytes->raw(to_hex(bytes));
    if (!raw) {
      cell.problem = raw.problem();
      return cell;
    }
    cell.raw = raw_from_bytes(chain_, *raw);
    if (auto reading = read_raw(chain_, *cell.raw))
      cell.reading = *reading;
    else
      cell.problem = reading.problem();
    return cell;
  }
  ByteBlocks all = chain_.trimming;
  const Part& part = chain_.decoder->part();
  const ByteBlock* lacks = nullptr;  // of what only the specimen knows
  for (const ByteBlock& block : part.bytes.blocks) {
    if (block.role != "trimming" || block.optional || !Decoder::find_block(chain_.trimming, block).empty()) continue;
    if (missing == MissingTrimming::of_the_file)
      all[block.name] = *read_hex(block.example);
    else if (!lacks)
      lacks = &block;
  }
  all.insert(blocks->begin(), blocks->end());
  if (const auto own = blocks->find(block_of(part, chain_.channel.quantity)); own != blocks->end())
    cell.raw = raw_of_block(part, chain_.channel.quantity, own->second);
  const Decoded decoded = chain_.decoder->decode(all);
  const DigitalReading* reading = decoded.reading(chain_.channel.quantity);
  if (reading) {
    // By the formula with all fields of these bytes; then the channel's own correction.
    double value = reading->value;
    for (std::size_t i = chain_.compensated_node; i > chain_.world_node; --i)
      value = chain_.links[i - 1]->inverse_continuous(value);
    const Correction& correction = chain_.channel.correction;
    if (correction.placed == CorrectionPlace::raw && !correction.empty() && cell.raw)
      value = read_raw(chain_, *cell.raw).value_or(std::nan(""));
    if (std::isfinite(value)) cell.reading = value;
  }
  for (const DigitalFault& fault : decoded.faults)
    if (!reading || fault.code == "power-on-default") {
      cell.fault = fault.code;
      cell.says = fault.message;
      if (!reading) cell.problem = Problem{fault.message, translated("bytes that are a reading")};
      if (!reading && lacks) {
        cell.says = translated(
            "this specimen's trimming, the {} bytes of {}, is not on the bench: read them from the "
            "part once, and type them in Wire, at Raw",
            lacks->bytes, lacks->name);
        cell.problem = Problem{cell.says, translated("\"trimming\" of its device")};
      }
      break;
    }
  return cell;
}

LogCell CellReader::read(std::string_view text) const {
  const std::string_view cell = trimmed(text);
  if (const auto bytes = bytes_of(cell)) return read_bytes(*bytes);
  LogCell result;
  if (cell.empty()) {
    result.problem = Problem{translated("the field is empty"), translated("a raw number")};
    return result;
  }
  const bool hexadecimal = cell.starts_with("0x") || cell.starts_with("0X");
  const auto whole = hexadecimal ? parse_quantity(std::string(cell), Dimension::number) : Problem{};
  const auto number =
      hexadecimal ? (whole ? Result<double>(whole->base) : Result<double>(whole.problem())) : parse_number(cell);
  if (!number || !std::isfinite(*number)) {
    result.problem = Problem{translated("\"{}\" is not a number", cell.substr(0, 40)), translated("a raw number")};
    return result;
  }
  result.raw = *number;
  const auto default_value = std::ranges::find(power_on_, *number, &std::pair<double, std::string>::first);
  if (default_value != power_on_.end()) result.fault = "power-on-default", result.says = default_value->second;
  if (const auto reading = read_raw(chain_, *number))
    result.reading = *reading;
  else
    result.problem = reading.problem();
  return result;
}

}  // namespace fair_gauge
