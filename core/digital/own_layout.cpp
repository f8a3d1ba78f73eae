#include "digital/own_layout.h"

#include <fmt/format.h>

#include <algorithm>
#include <cctype>
#include <cmath>

#include "digital/checks.h"
#include "digital/decoder.h"
#include "digital/field_bytes.h"
#include "language/translation.h"
#include "parts/expression.h"

namespace fair_gauge {
namespace {

bool is_symbol(const std::string& name) {
  return !name.empty() && !std::isdigit(static_cast<unsigned char>(name.front())) &&
         std::ranges::all_of(name, [](unsigned char c) { return std::isalnum(c) || c == '_'; });
}

// "own-" and the name's letters and digits.
std::string id_of(const std::string& name) {
  std::string id = "own-";
  for (const char c : name)
    id += std::isalnum(static_cast<unsigned char>(c)) ? static_cast<char>(std::tolower(static_cast<unsigned char>(c)))
                                                      : '-';
  return id;
}

Result<ByteReading> reading_of(const OwnReading& own, const std::vector<ByteField>& fields) {
  std::vector<double> numbers(fields.size());
  std::map<std::string, double*> names;
  for (std::size_t i = 0; i < fields.size(); ++i) names[fields[i].name] = &numbers[i];
  const auto expression = Expression::read(own.formula, names);
  if (!expression) return expression.problem();
  const auto used = expression->uses();
  const auto first = std::ranges::find_if(
      fields, [&](const ByteField& field) { return std::ranges::find(used, field.name) != used.end(); });
  if (first == fields.end())
    return Problem{translated("the formula uses no field"),
                   translated("a formula of the fields' names, such as raw / 16")};
  return ByteReading{.quantity = own.quantity, .field = first->name, .expression = own.formula};
}

}  // namespace

Result<Controller> controller_of_registers(const std::string& name, std::vector<PartRegister> registers) {
  if (name.empty()) return Problem{translated("the controller has no name"), translated("a few words on what it is")};
  if (registers.empty()) return Problem{translated("there is no register"), translated("a row of the register table")};
  Controller controller{.id = id_of(name), .name = name, .source = translated("registers of the user's own")};
  controller.layout.registers = std::move(registers);
  return controller;
}

Result<Part> part_of_layout(const OwnLayout& layout) {
  Part part{.id = id_of(layout.name),
            .name = layout.name,
            .interface = layout.interface,
            .source = translated("a layout of the user's own")};
  part.bytes.registers = layout.registers;
  if (layout.name.empty())
    return Problem{translated("the part has no name"), translated("a few words on what it measures")};
  if (layout.bytes < 1 || layout.bytes > 64)
    return Problem{translated("{} bytes", layout.bytes), translated("1 to 64 bytes")};
  part.bytes.blocks = {{.name = "frame", .bytes = layout.bytes, .role = "data"}};
  for (std::size_t i = 0; i < layout.fields.size(); ++i) {
    ByteField field = layout.fields[i];
    if (!is_symbol(field.name))
      return Problem{translated("field {}: \"{}\" is no name", i + 1, field.name),
                     translated("letters, digits and _, a letter first")};
    field.block = "frame";
    field.role = "data";
    if (const auto place = FieldPlace::read(field.bits, field.sign); !place)
      return Problem{translated("field {}: {}", i + 1, place.problem().wrong), place.problem().expected};
    part.bytes.fields.push_back(std::move(field));
    if (const auto bytes = FieldBytes::of_field(part, part.bytes.fields.back().name); !bytes)
      return Problem{translated("field {}: {}", i + 1, bytes.problem().wrong), bytes.problem().expected};
  }
  if (part.bytes.fields.empty())
    return Problem{translated("there are no fields"), translated("a field, such as raw in bytes 0 1")};
  for (std::size_t i = 0; i < layout.readings.size(); ++i) {
    const OwnReading& own = layout.readings[i];
    auto reading = reading_of(own, part.bytes.fields);
    if (!reading)
      return Problem{translated("formula {}: {}", i + 1, reading.problem().wrong), reading.problem().expected};
    if (!(own.minimum < own.maximum))
      return Problem{translated("formula {}: its range ends before it begins", i + 1), translated("from below to")};
    if (part.measures(own.quantity))
      return Problem{translated("formula {}: {} is there already", i + 1, translated_name(own.quantity)),
                     translated("another quantity")};
    part.quantities.push_back({.quantity = own.quantity, .minimum = own.minimum, .maximum = own.maximum});
    part.bytes.readings.push_back(std::move(*reading));
  }
  if (part.bytes.readings.empty())
    return Problem{translated("there is no formula"), translated("a formula of the fields, such as raw / 16")};
  if (!layout.check.empty()) {
    if (!check_kind(layout.check))
      return Problem{translated("\"{}\" is no check", layout.check),
                     translated("crc8-ff, crc8-00, crc8-onewire, sum8 or crc16-a001")};
    const int own_bytes = layout.check == "crc16-a001" ? 2 : 1;
    if (layout.bytes <= own_bytes)
      return Problem{translated("there is nothing that the check could cover"),
                     translated("more bytes than the check has")};
    constexpr int word = 2;
    if (layout.checks_each_word && layout.bytes % (word + own_bytes) != 0)
      return Problem{
          translated("{} bytes are not whole words, each with its check", layout.bytes),
          translated("{}, {} or {} bytes", word + own_bytes, 2 * (word + own_bytes), 3 * (word + own_bytes))};
    const int covered = layout.checks_each_word ? word : layout.bytes - own_bytes;
    for (int at = covered; at < layout.bytes; at += covered + own_bytes)
      part.bytes.checks.push_back(
          {.kind = layout.check, .block = "frame", .from = at - covered, .to = at - 1, .at = at});
  }
  auto decoder = Decoder::make(part);
  if (!decoder) return decoder.problem();
  for (ByteReading& reading : part.bytes.readings) {  // its resolution: one step of the field, in the middle
    std::vector<double> fields(part.bytes.fields.size()), low(part.bytes.readings.size()), high(low);
    const std::size_t at = *decoder->field(reading.field);
    fields[at] =
        (static_cast<double>(decoder->places()[at].least()) + static_cast<double>(decoder->places()[at].most())) / 2;
    decoder->evaluate(fields, low);
    fields[at] += 1;
    decoder->evaluate(fields, high);
    const auto index = static_cast<std::size_t>(&reading - part.bytes.readings.data());
    if (std::isfinite(high[index] - low[index])) part.quantities[index].resolution = std::abs(high[index] - low[index]);
  }
  return part;
}

}  // namespace fair_gauge
