// Mistakes with a part that answers with bytes.
#include <fmt/format.h>

#include <set>

#include "diagnose/mistake_rows.h"
#include "digital/encoder.h"
#include "language/translation.h"

namespace fair_gauge::mistake_rows {
namespace {

class Digital : public Rows {
 public:
  explicit Digital(const Rows& ground) : Rows(ground) {}

  void on_blocks(const char* code, double prior, MistakeOf of, const std::string& words, const std::string& next,
                 const std::function<void(ByteBlocks&)>& change) {
    add({.code = code,
         .words = words,
         .fix = translated("put the number together as the sheet says"),
         .next = next,
         .prior = prior,
         .of = of,
         .change = [=](Firmware& wrong) { change(wrong.input.blocks); }});
  }
  void on_field(const char* code, double prior, const std::string& words, double number) {
    add({.code = code,
         .words = words,
         .fix = translated("put the number together as the sheet says"),
         .next = translated("print the bytes themselves beside the number"),
         .prior = prior,
         .change = [=](Firmware& wrong) { wrong.field = number; }});
  }

  void add_rows() {
    const ByteLayout& layout = part_.bytes;
    reading_ = std::ranges::find(layout.readings, chain_.channel.quantity, &ByteReading::quantity);
    field_ = *chain_.decoder->field(reading_->field);
    assembled();
    straight_field();
    if (wants({"trimming-order", "trimming-sign", "stale-temperature"})) trimming();
    settings();
    if (wants({"wrong-part"})) other_digital_parts();
  }

  const ByteBlock& block_of_field() const {
    return *std::ranges::find(part_.bytes.blocks, part_.bytes.fields[field_].block, &ByteBlock::name);
  }

  // The name under which the blocks hold this one.
  static std::string key_of(const ByteBlocks& blocks, const ByteBlock& wanted) {
    return blocks.contains(wanted.name) ? wanted.name : blocks.contains(wanted.also) ? wanted.also : wanted.name;
  }

  // By the device's settings, or its own where it does not know these; null where it has none that decodes.
  std::shared_ptr<const Decoder> decoder_of(const PartPointer& part) const {
    auto decoder = Decoder::make(part, device_.settings);
    if (!decoder) decoder = Decoder::make(part);
    return decoder ? std::make_shared<const Decoder>(std::move(*decoder)) : nullptr;
  }

  void assembled() {
    const FieldPlace& place = chain_.decoder->places()[field_];
    const ByteBlock& block = block_of_field();
    const auto bytes = Decoder::find_block(right_.input.blocks, block);
    const auto own = place.value(bytes);
    if (!own) return;
    const std::vector<std::size_t> at = bytes_of(place, bytes.size());
    const int bits = place.bits();
    const double span = std::exp2(bits), right = static_cast<double>(*own);
    const std::string key = key_of(right_.input.blocks, block);
    if (at.size() > 1) {
      on_blocks("bytes-swapped", 1, MistakeOf::either, translated("the bytes are put together in the opposite order"),
                translated("print the bytes themselves beside the number"), [=](ByteBlocks& blocks) {
                  auto& own_bytes = blocks[key];
                  for (std::size_t i = 0; i < at.size() / 2; ++i)
                    if (std::max(at[i], at[at.size() - 1 - i]) < own_bytes.size())
                      std::swap(own_bytes[at[i]], own_bytes[at[at.size() - 1 - i]]);
                });
      double sum = 0, whole = 0;
      for (const std::size_t each : at) sum += bytes[each], whole = whole * 256 + bytes[each];
      on_field("bytes-added", 0.4, translated("the bytes are added instead of put side by side"), sum);
      const auto without = [&](std::size_t gone, bool shifts) {
        std::vector<std::uint8_t> copy(bytes.begin(), bytes.end());
        copy[at[gone]] = 0;
        const double number = static_cast<double>(place.value(copy).value_or(0));
        return shifts ? std::floor(number / 256) : number;
      };
      on_field("byte-missing", 0.8, translated("the high byte is lost"), without(0, false));
      on_field("byte-missing", 0.5, translated("the low byte is lost"), without(at.size() - 1, false));
      on_field("byte-missing", 0.5, translated("the low byte is lost, the others in its place"),
               without(at.size() - 1, true));
      const int unused = static_cast<int>(at.size()) * 8 - bits;
      if (unused > 0) {
        const double turned = place.least() < 0 && whole >= std::exp2(8.0 * static_cast<double>(at.size()) - 1)
                                  ? whole - std::exp2(8.0 * static_cast<double>(at.size()))
                                  : whole;
        if (!same(turned, right)) on_field("not-shifted", 1, translated("the unused bits stay in the number"), turned);
        // A reading in proportion to its number: the whole word times the step that the sheet gives.
        const PartQuantity& quantity = *part_.measures(chain_.channel.quantity);
        if (quantity.resolution > 0 && std::abs(value_at(0)) < 1e-9)
          add({.code = "not-shifted",
               .words = translated("the unused bits stay in the number"),
               .fix = translated("shift the number down first"),
               .next = translated("print the bytes themselves beside the number"),
               .prior = 1,
               .change = [value = turned * quantity.resolution](Firmware& wrong) {
                 wrong.on_value.push_back([value](double) { return value; });
               }});
        if (!same(turned, whole))
          on_field("not-shifted", 0.3, translated("the unused bits stay in the number, without its sign"), whole);
      }
    }
    const FieldSign sign = part_.bytes.fields[field_].sign;
    const double plain = right < 0 ? right + span : right;
    if (sign == FieldSign::twos && right < 0) {
      on_field("signed-read-as-unsigned", 1.2, translated("a number with a sign is read without one"), plain);
      if (bits < 16)
        on_field("signed-read-as-unsigned", 0.5, translated("the sign is extended only to 16 bits without it"),
                 right + 65536);
      on_field("sign-magnitude", 0.4, translated("two's complement is read as sign and size"), -(plain - span / 2));
    }
    if (sign == FieldSign::magnitude && right < 0) {
      const double size = -right;
      on_field("sign-magnitude", 1.2, translated("sign and size are read as two's complement"), size + span / 2 - span);
      on_field("signed-read-as-unsigned", 1, translated("the sign is read as a number"), size + span / 2);
    }
    if (sign == FieldSign::none && right >= span / 2)
      on_field("unsigned-read-as-signed", 1, translated("a number without a sign is read with one"), right - span);
  }

  double value_at(double number) const {
    Firmware probe = right_;
    probe.field = number;
    probe.correction = 0;
    return chain_.shown->to_base(probe.shows(catalogue_));
  }

  // Formulas that are a slope and an offset in the raw number.
  void straight_field() {
    const FieldPlace& place = chain_.decoder->places()[field_];
    const auto most = static_cast<double>(place.most());
    const double zero = value_at(0), some = value_at(std::floor(most / 4)), more = value_at(std::floor(most / 2));
    const double slope = (more - zero) / std::floor(most / 2);
    if (!(std::abs(zero + slope * std::floor(most / 4) - some) < 1e-6 * (1 + std::abs(more - zero))) || slope == 0)
      return;
    const std::string next = translated("work one reading out by hand from its bytes");
    if (std::abs(zero) > 1e-9) {
      const auto shift = [&](const char* code, double by, double prior, const char* words) {
        add({.code = code,
             .words = words,
             .fix = translated("take the offset off once"),
             .next = next,
             .prior = prior,
             .change = [=](Firmware& wrong) { wrong.on_value.push_back([=](double value) { return value + by; }); }});
      };
      shift("offset-forgotten", -zero, 1.2, translated("the formula's offset is forgotten"));
      shift("offset-twice", zero, 0.8, translated("the formula's offset is used twice"));
      add({.code = "integer-division",
           .words = translated("the quotient of the raw number is cut to a whole number: it is 0"),
           .fix = translated("multiply first, then divide"),
           .next = next,
           .change = [](Firmware& wrong) { wrong.field = 0; }});
    }
    for (const double other : {0.5, 0.25, 0.125, 0.0625, 0.03125, 0.0078125, 0.01, 0.1})
      if (std::abs(zero) < 1e-9 && !same(other, slope) && chain_.channel.quantity == Quantity::temperature)
        add({.code = "slope",
             .words = translated("one step is taken as {:g} °C, it is {:g}", other, slope),
             .fix = translated("use the step of the sheet"),
             .next = next,
             .prior = 0.8,
             .needs_number = true,
             .change = [=](Firmware& wrong) {
               wrong.on_value.push_back([=](double value) { return value * other / slope; });
             }});
  }

  // The words of trimming: those of two bytes.
  void trimming() {
    const ByteLayout& layout = part_.bytes;
    std::vector<std::size_t> words;
    for (std::size_t i = 0; i < layout.fields.size(); ++i)
      if (layout.fields[i].role == "trimming" && chain_.decoder->places()[i].runs().size() == 2 &&
          chain_.decoder->places()[i].bits() == 16)
        words.push_back(i);
    if (words.empty()) return;
    const std::string next = translated("print the trimming words and compare them with the bytes");
    std::vector<std::pair<std::string, std::pair<std::size_t, std::size_t>>> pairs;
    for (const std::size_t word : words) {
      const ByteBlock& block = *std::ranges::find(layout.blocks, layout.fields[word].block, &ByteBlock::name);
      const auto& runs = chain_.decoder->places()[word].runs();
      pairs.push_back({key_of(right_.input.blocks, block),
                       {static_cast<std::size_t>(runs[0].byte), static_cast<std::size_t>(runs[1].byte)}});
    }
    on_blocks("trimming-order", 1.2, MistakeOf::arithmetic,
              translated("the bytes of every trimming word are exchanged"), next, [=](ByteBlocks& blocks) {
                for (const auto& [key, at] : pairs) {
                  auto& bytes = blocks[key];
                  if (std::max(at.first, at.second) < bytes.size()) std::swap(bytes[at.first], bytes[at.second]);
                }
              });
    const auto with_signs = [&](double prior, const std::string& what,
                                const std::function<FieldSign(std::size_t, FieldSign)>& sign) {
      auto copy = std::make_shared<Part>(part_);
      for (const std::size_t word : words) copy->bytes.fields[word].sign = sign(word, copy->bytes.fields[word].sign);
      if (copy->bytes.fields == part_.bytes.fields) return;
      const auto decoder = decoder_of(copy);
      if (!decoder) return;
      add({.code = "trimming-sign",
           .words = what,
           .fix = translated("give every word the type that the sheet lists"),
           .next = next,
           .prior = prior,
           .change = [decoder](Firmware& wrong) { wrong.decoder = decoder; }});
    };
    with_signs(1, translated("all trimming words are read without a sign"),
               [](std::size_t, FieldSign) { return FieldSign::none; });
    with_signs(0.7, translated("all trimming words are read with a sign"),
               [](std::size_t, FieldSign) { return FieldSign::twos; });
    for (const std::size_t one : words)
      with_signs(0.3,
                 translated("the trimming word {} is read {} a sign", layout.fields[one].name,
                            layout.fields[one].sign == FieldSign::none ? translated("with") : translated("without")),
                 [one](std::size_t word, FieldSign sign) {
                   return word != one ? sign : sign == FieldSign::none ? FieldSign::twos : FieldSign::none;
                 });
    stale_temperature();
  }

  // The term that the temperature's formula hands on is 0: at the temperature at which it is.
  void stale_temperature() {
    const ByteLayout& layout = part_.bytes;
    const auto temperature = std::ranges::find(layout.readings, Quantity::temperature, &ByteReading::quantity);
    if (temperature == layout.readings.end() || temperature == reading_) return;
    const auto at = static_cast<std::size_t>(temperature - layout.readings.begin());
    const double where = layout.formula.starts_with("ms56") || layout.formula.starts_with("ms58") ? 20
                         : layout.formula == "bmp180"                                             ? 0.05
                                                                                                  : 0;
    add({.code = "stale-temperature",
         .words = translated("the temperature's formula has not run before: the term that it hands on is 0"),
         .fix = translated("read and work out the temperature first, from the same conversion"),
         .next = translated("work out the temperature beside it, in the same round"),
         .prior = 1.2,
         .change = [shared = chain_.decoder, at, where](Firmware& wrong) {
           const Decoder& decoder = *shared;
           const ByteLayout& own = decoder.part().bytes;
           std::vector<double> fields;
           for (std::size_t i = 0; i < own.fields.size(); ++i) {
             const auto block = std::ranges::find(own.blocks, own.fields[i].block, &ByteBlock::name);
             fields.push_back(static_cast<double>(
                 decoder.places()[i].value(Decoder::find_block(wrong.input.blocks, *block)).value_or(0)));
           }
           solve_field(decoder, fields, at, where);
           for (std::size_t i = 0; i < own.fields.size(); ++i) {
             if (own.fields[i].name != own.readings[at].field) continue;
             const auto block = std::ranges::find(own.blocks, own.fields[i].block, &ByteBlock::name);
             auto& bytes = wrong.input.blocks[key_of(wrong.input.blocks, *block)];
             if (bytes.size() == static_cast<std::size_t>(block->bytes))
               decoder.places()[i].put(bytes, static_cast<std::int64_t>(fields[i]));
           }
         }});
  }

  void settings() {
    for (const PartSetting& setting : part_.bytes.settings) {
      const bool gain = setting.key.find("gain") != std::string::npos,
                 time = setting.key.find("integration") != std::string::npos || setting.key == "mtreg";
      const bool reference = setting.key == "reference" || setting.key == "nominal";
      const char* code = gain                          ? "gain"
                         : time                        ? "integration-time"
                         : setting.key == "full_scale" ? "full-scale"
                         : setting.key == "excitation" ? "excitation"
                         : reference                   ? "reference"
                                                       : "setting";
      const double now = chain_.decoder->settings().at(setting.key);
      std::set<double> others;
      for (const SettingChoice& choice : setting.choices) others.insert(choice.value);
      if (setting.key == "excitation") others.insert(std::begin(usual_volts), std::end(usual_volts));
      if (setting.key == "reference") others.insert({400, 430, 4000, 4300, 2.5, 3.3, 5});
      if (setting.key == "nominal") others.insert({100, 500, 1000});
      for (const double other : others) {
        if (same(other, now) ||
            (!setting.choices.empty() ? false : !(other >= setting.minimum && other <= setting.maximum)))
          continue;
        add({.code = code,
             .words = translated("{} is taken as {:g}, it is {:g}", setting.key, other, now),
             .fix = translated("use the same setting in the part and in the formula"),
             .next = translated("read the part's configuration back"),
             .prior = 1,
             .of = MistakeOf::either,
             .needs_number = setting.key == "excitation" || reference,
             .change = [key = setting.key,
                        other](Firmware& wrong) { wrong.bench.devices.front().settings[key] = other; },
             .truly = translated("{} is {:g}, the bench says {:g}", setting.key, other, now)});
      }
    }
  }

  // Of the bytes that make a number up, each once, in the order in which the number takes them.
  static std::vector<std::size_t> bytes_of(const FieldPlace& place, std::size_t size) {
    std::vector<std::size_t> at;
    for (const BitRun& run : place.runs()) {
      const auto byte = static_cast<std::size_t>(run.byte < 0 ? static_cast<int>(size) + run.byte : run.byte);
      if (at.empty() || at.back() != byte) at.push_back(byte);
    }
    return at;
  }

  static const std::string& marking_of(const Part& part) {
    return part.markings.empty() ? part.id : part.markings.front();
  }
  void add_wrong_part(const Part& other, Wrong row) {
    row.code = "wrong-part";
    row.words = translated("the formula is that of {} ({})", other.name, marking_of(other));
    row.fix = translated("use the formula of the part that is fitted");
    row.next = translated("read the identity register or what is printed on the part");
    add(std::move(row));
  }

  // The bytes of the number alone by the formula of a part that sends as many in a frame of another length.
  void other_formula(const Part& other, const ByteReading& reading, const ByteBlock& its, const std::string& key) {
    const bool trimmed =
        std::ranges::any_of(other.bytes.fields, [](const ByteField& each) { return each.role == "trimming"; });
    const auto decoder = trimmed || !reading.tied.empty() ? nullptr : decoder_of(catalogue_.share(other.id));
    if (!decoder) return;
    const std::vector<std::uint8_t>& bytes = right_.input.blocks.at(key);
    const auto from = bytes_of(chain_.decoder->places()[field_], bytes.size());
    const auto to = bytes_of(decoder->places()[*decoder->field(reading.field)], static_cast<std::size_t>(its.bytes));
    if (from.size() != to.size() || from.size() < 2) return;
    std::vector<std::uint8_t> put(static_cast<std::size_t>(its.bytes));
    for (std::size_t i = 0; i < to.size(); ++i)
      if (to[i] < put.size() && from[i] < bytes.size()) put[to[i]] = bytes[from[i]];
    add_wrong_part(other,
                   {.prior = 0.4, .needs_number = true, .change = [decoder, put, name = its.name](Firmware& wrong) {
                      wrong.decoder = decoder;
                      wrong.input.blocks[name] = put;
                    }});
  }

  // The same bytes by the layout of another part of the same length.
  void other_digital_parts() {
    const ByteBlock& block = block_of_field();
    const std::string key = key_of(right_.input.blocks, block);
    const auto bytes = right_.input.blocks.find(key);
    if (bytes == right_.input.blocks.end()) return;
    for (const Part& other : catalogue_.parts()) {
      if (!other.is_digital() || other.id == part_.id) continue;
      const auto reading = std::ranges::find(other.bytes.readings, chain_.channel.quantity, &ByteReading::quantity);
      if (reading == other.bytes.readings.end()) continue;
      const auto field = std::ranges::find(other.bytes.fields, reading->field, &ByteField::name);
      if (field == other.bytes.fields.end()) continue;
      const auto its = std::ranges::find(other.bytes.blocks, field->block, &ByteBlock::name);
      if (static_cast<std::size_t>(its->bytes) != bytes->second.size() &&
          static_cast<std::size_t>(its->shorter) != bytes->second.size()) {
        other_formula(other, *reading, *its, key);
        continue;
      }
      const auto decoder = decoder_of(catalogue_.share(other.id));
      if (!decoder) continue;
      add_wrong_part(other, {.prior = 0.5,
                             .of = MistakeOf::either,
                             .change =
                                 [decoder, key, name = its->name](Firmware& wrong) {
                                   wrong.decoder = decoder;
                                   wrong.input.blocks[name] = wrong.input.blocks[key];
                                 },
                             .truly = translated("what is fitted is {} ({})", other.name, marking_of(other))});
    }
  }

  std::vector<ByteReading>::const_iterator reading_;
  std::size_t field_ = 0;
};

}  // namespace

void add_digital(const Rows& ground) { Digital(ground).add_rows(); }

}  // namespace fair_gauge::mistake_rows
