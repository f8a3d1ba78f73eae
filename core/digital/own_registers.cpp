#include "digital/own_registers.h"

#include <fmt/format.h>

#include <algorithm>
#include <charconv>
#include <optional>

#include "digital/registers.h"
#include "files/delimited.h"
#include "language/translation.h"

namespace fair_gauge {
namespace {

// A whole number from 0, also as 0x1F or 0b101; the rest of the text behind it.
std::optional<unsigned> whole_number(std::string_view text, std::string_view* rest = nullptr) {
  int base = 10;
  if (text.starts_with("0x") || text.starts_with("0X")) base = 16, text.remove_prefix(2);
  if (text.starts_with("0b") || text.starts_with("0B")) base = 2, text.remove_prefix(2);
  unsigned number = 0;
  const auto read = std::from_chars(text.data(), text.data() + text.size(), number, base);
  if (read.ec != std::errc{}) return std::nullopt;
  const std::string_view behind(read.ptr, static_cast<std::size_t>(text.data() + text.size() - read.ptr));
  if (rest) *rest = behind;
  return rest || behind.empty() ? std::optional(number) : std::nullopt;
}

// "0 the pin; 1 the supply".
Result<std::vector<SettingChoice>> choices_of(const std::string& text, unsigned most) {
  std::vector<SettingChoice> choices;
  for (std::size_t from = 0; from <= text.size();) {
    const std::size_t end = std::min(text.find(';', from), text.size());
    const std::string one(trimmed(std::string_view(text).substr(from, end - from)));
    from = end + 1;
    if (one.empty()) continue;
    std::string_view words;
    const auto number = whole_number(one, &words);
    const std::string means(trimmed(words));
    if (!number || means.empty())
      return Problem{translated("\"{}\" is no choice", one),
                     translated("a number and what it means, such as 3 1.1 V inside")};
    if (*number > most)
      return Problem{translated("{} has no room in the field's bits", *number), translated("0 to {}", most)};
    choices.push_back({.value = static_cast<double>(*number), .means = means});
  }
  return choices;
}

}  // namespace

Result<std::vector<PartRegister>> registers_of_rows(const std::vector<OwnRegisterRow>& rows) {
  std::vector<PartRegister> registers;
  for (std::size_t i = 0; i < rows.size(); ++i) {
    const OwnRegisterRow& row = rows[i];
    const auto wrong = [&](const std::string& what, const std::string& expected) {
      return Problem{translated("register row {}: {}", i + 1, what), expected};
    };
    const std::string name(trimmed(row.reg)), address(trimmed(row.address));
    if (name.empty() && registers.empty())
      return wrong(translated("no register is named"), translated("the sheet's name of the register"));
    auto reg = name.empty() ? registers.end() - 1 : std::ranges::find(registers, name, &PartRegister::name);
    if (reg == registers.end()) {
      if (!whole_number(address))
        return wrong(
            address.empty() ? translated("{} has no address", name) : translated("\"{}\" is no address", address),
            translated("a number such as 0x7C"));
      registers.push_back({.address = address, .name = name});
      reg = registers.end() - 1;
    } else if (!address.empty() && address != reg->address) {
      return wrong(translated("{} stands at {} already", reg->name, reg->address),
                   translated("one address a register"));
    }
    const RegisterField field{.name = std::string(trimmed(row.field)), .bits = std::string(trimmed(row.bits))};
    if (field.name.empty()) return wrong(translated("the field has no name"), translated("the sheet's own name of it"));
    const auto bits = field_bits(field);
    if (!bits)
      return wrong(translated("\"{}\" are no bits", field.bits), translated("bits of 15 to 0, such as 7:6 or 3"));
    if (bits->high > 7) reg->bits = 16;
    for (const RegisterField& other : reg->fields) {
      const auto taken = *field_bits(other);
      if (bits->low <= taken.high && taken.low <= bits->high)
        return wrong(translated("{} and {} share a bit of {}", field.name, other.name, reg->name),
                     translated("bits that no other field has"));
    }
    const unsigned most = (1u << (bits->high - bits->low + 1)) - 1;
    auto choices = choices_of(row.choices, most);
    if (!choices) return wrong(choices.problem().wrong, choices.problem().expected);
    const std::string after(trimmed(row.power_on));
    const auto number = after.empty() ? std::optional(0u) : whole_number(after);
    if (!number || *number > most)
      return wrong(translated("\"{}\" cannot stand in {} after power-on", after, field.name),
                   translated("0 to {}", most));
    reg->fields.push_back({.name = field.name, .bits = field.bits, .choices = std::move(*choices)});
    reg->power_on = with_field(field, static_cast<unsigned>(reg->power_on), *number);
  }
  return registers;
}

}  // namespace fair_gauge
