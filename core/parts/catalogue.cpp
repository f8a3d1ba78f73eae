#include "parts/catalogue.h"

#include <algorithm>
#include <array>
#include <atomic>
#include <cctype>
#include <cstdlib>
#include <filesystem>
#include <functional>
#include <future>
#include <sstream>
#include <thread>

#include "files/file.h"
#include "language/translation.h"
#include "parts/expression.h"
#include "parts/part_json.h"
#include "quantity/letters.h"
#include "quantity/number_format.h"

namespace fair_gauge {
namespace {

std::string environment(const char* name) {
  const char* value = std::getenv(name);
  return value ? value : "";
}

void check_part(const Part& part, const JsonDocument& document, const std::string& pointer,
                std::vector<Problem>& problems) {
  for (const Mistake& mistake : part.mistakes) {
    if (mistake.value.empty()) continue;
    const auto value = Expression::read(mistake.value);
    if (!value || mistake.code.empty())
      problems.push_back({value ? translated("a mistake of \"{}\" has a value without a code", part.id)
                                : translated("a mistake of \"{}\" has the value {}", part.id, mistake.value),
                          value ? translated("the code under which it is named") : value.problem().wrong,
                          document.place_of(pointer)});
  }
  for (const PartQuantity& quantity : part.quantities)
    if (!(quantity.minimum < quantity.maximum))
      problems.push_back({translated("the range of \"{}\" ends before it begins", part.id),
                          translated("minimum below maximum"), document.place_of(pointer + "/quantities")});
  if (part.transfer.type.empty() == part.bytes.blocks.empty())
    problems.push_back({translated("\"{}\" must have either a transfer or bytes", part.id),
                        translated("\"transfer\" for an analog part, \"bytes\" for a digital one"),
                        document.place_of(pointer)});
  if (part.quantities.empty())
    problems.push_back({translated("\"{}\" measures nothing", part.id), translated("one quantity or more"),
                        document.place_of(pointer)});
}

// Not LM35 at the beginning of LM358: a digit goes on with the number.
bool begins_with_marking(std::string_view key, const std::string& marking) {
  return marking.size() >= 4 && key.size() > marking.size() && key.starts_with(small_letters(marking)) &&
         !std::isdigit(static_cast<unsigned char>(key[marking.size()]));
}

}  // namespace

std::span<const EnumName<AccuracyOf>> enum_names(AccuracyOf) {
  static constexpr std::array table = {EnumName{AccuracyOf::reading, "reading"}, EnumName{AccuracyOf::span, "span"},
                                       EnumName{AccuracyOf::points, "points"},
                                       EnumName{AccuracyOf::numbers, "numbers"}};
  return table;
}
std::span<const EnumName<FieldSign>> enum_names(FieldSign) {
  static constexpr std::array table = {EnumName{FieldSign::none, "none"}, EnumName{FieldSign::twos, "twos"},
                                       EnumName{FieldSign::magnitude, "magnitude"}};
  return table;
}
std::span<const EnumName<Basis>> enum_names(Basis) {
  static constexpr std::array table = {EnumName{Basis::typical, to_translate("typical")},
                                       EnumName{Basis::maximum, to_translate("maximum")}};
  return table;
}

std::span<const EnumName<CurrentOf>> enum_names(CurrentOf) {
  static constexpr std::array table = {EnumName{CurrentOf::shutdown, to_translate("shutdown")},
                                       EnumName{CurrentOf::idle, to_translate("idle")},
                                       EnumName{CurrentOf::converting, to_translate("converting")},
                                       EnumName{CurrentOf::average, to_translate("average")}};
  return table;
}
std::span<const EnumName<Bears>> enum_names(Bears) {
  static constexpr std::array table = {EnumName{Bears::dry, "dry"}, EnumName{Bears::damp, "damp"},
                                       EnumName{Bears::wet, "wet"}};
  return table;
}

std::span<const EnumName<Rest>> enum_names(Rest) {
  static constexpr std::array table = {EnumName{Rest::by_itself, "by-itself"}, EnumName{Rest::when_told, "when-told"},
                                       EnumName{Rest::never, "never"}};
  return table;
}
std::span<const EnumName<AlarmEquality>> enum_names(AlarmEquality) {
  static constexpr std::array table = {EnumName{AlarmEquality::none, "none"}, EnumName{AlarmEquality::upper, "upper"},
                                       EnumName{AlarmEquality::both, "both"}};
  return table;
}

std::span<const EnumName<LimitForm>> enum_names(LimitForm) {
  static constexpr std::array table = {EnumName{LimitForm::twos, "twos"}, EnumName{LimitForm::positive, "positive"},
                                       EnumName{LimitForm::floating, "floating"}};
  return table;
}

std::span<const EnumName<Interface>> enum_names(Interface) {
  using enum Interface;
  static constexpr std::array table = {EnumName{voltage, to_translate("voltage")},
                                       EnumName{ratiometric, to_translate("ratiometric")},
                                       EnumName{resistance, to_translate("resistance")},
                                       EnumName{current, to_translate("current")},
                                       EnumName{bridge, to_translate("bridge")},
                                       EnumName{thermocouple, to_translate("thermocouple")},
                                       EnumName{i2c, to_translate("i2c")},
                                       EnumName{spi, to_translate("spi")},
                                       EnumName{one_wire, to_translate("one-wire")},
                                       EnumName{single_wire, to_translate("single-wire")},
                                       EnumName{serial_bridge, to_translate("serial-bridge")},
                                       EnumName{pulse_count, to_translate("pulse-count")}};
  return table;
}

const PartInterface* Part::on(Interface kind) const {
  const auto found = std::ranges::find(interfaces, kind, &PartInterface::kind);
  return found == interfaces.end() ? nullptr : &*found;
}

bool PartIdentity::is_of(std::uint32_t answer) const {
  const auto bits_that_tell = mask > 0 ? static_cast<std::uint32_t>(mask) : ~std::uint32_t{0};
  return std::ranges::any_of(values, [&](double value) {
    return (static_cast<std::uint32_t>(value) & bits_that_tell) == (answer & bits_that_tell);
  });
}

std::optional<double> Part::current(CurrentOf of) const {
  const auto found = std::ranges::find(supply.currents, of, &PartCurrent::of);
  return found == supply.currents.end() ? std::nullopt : std::optional(found->usual_a());
}

std::optional<double> Part::resting_a() const {
  if (supply.rest != Rest::never)
    for (const CurrentOf of : {CurrentOf::shutdown, CurrentOf::idle})
      if (const auto amps = current(of)) return amps;
  for (const CurrentOf of : {CurrentOf::idle, CurrentOf::average, CurrentOf::converting})
    if (const auto amps = current(of)) return amps;
  return std::nullopt;
}

std::optional<double> Part::converting_a() const {
  for (const CurrentOf of : {CurrentOf::converting, CurrentOf::average, CurrentOf::idle})
    if (const auto amps = current(of)) return amps;
  return std::nullopt;
}

const PartQuantity* Part::measures(Quantity wanted) const {
  const auto found = std::ranges::find(quantities, wanted, &PartQuantity::quantity);
  return found == quantities.end() ? nullptr : &*found;
}

std::vector<Problem> Catalogue::add(std::string text, const std::string& file, Texts texts) {
  const auto document = parse_json(std::move(text), file);
  if (!document) return {document.problem()};
  std::vector<Problem> problems;
  if (!document->value.is_object() || !document->value.contains("parts") || !document->value["parts"].is_array())
    return {Problem{translated("there are no parts in this file"), translated("an object with a list \"parts\""),
                    document->place_of("")}};
  const Json& list = document->value["parts"];
  for (std::size_t i = 0; i < list.size(); ++i) {
    Part part;
    std::vector<Problem> faults;
    const std::string pointer = "/parts/" + std::to_string(i);
    read_part(*document, list[i], pointer, part, faults, texts);
    if (faults.empty()) check_part(part, *document, pointer, faults);
    problems.insert(problems.end(), faults.begin(), faults.end());
    if (faults.empty()) put(std::move(part));
  }
  return problems;
}

void Catalogue::put(Part part) {
  if (parts_.use_count() > 1) parts_ = std::make_shared<std::vector<Part>>(*parts_);
  const auto same = std::ranges::find(*parts_, part.id, &Part::id);
  if (same != parts_->end())
    *same = std::move(part);
  else
    parts_->push_back(std::move(part));
}

namespace {

// Whether any of the words stands in quotes in a text.
bool holds_any(const std::string& text, const std::vector<std::string>& words) {
  return std::ranges::any_of(words, [&](const std::string& word) {
    const std::string quoted = '"' + word + '"';
    return std::search(text.begin(), text.end(), std::boyer_moore_horspool_searcher(quoted.begin(), quoted.end())) !=
           text.end();
  });
}

}  // namespace

std::vector<Problem> Catalogue::add_folder(const std::string& folder, Texts texts,
                                           const std::vector<std::string>& only) {
  std::vector<std::filesystem::path> files;
  std::error_code error;
  for (const auto& entry : std::filesystem::directory_iterator(folder, error))
    if (entry.path().extension() == ".json") files.push_back(entry.path());
  std::ranges::sort(files);
  // Each file by itself, by all cores: what takes long is reading JSON.
  struct Read {
    Catalogue parts;
    std::vector<Problem> problems;
  };
  std::vector<Read> reads(files.size());
  std::atomic<std::size_t> next = 0;
  const auto work = [&] {
    for (std::size_t i; (i = next++) < files.size();) {
      auto text = read_file(files[i].string(), 4u << 20);
      if (text && !only.empty() && !holds_any(*text, only)) continue;
      reads[i].problems = text ? reads[i].parts.add(std::move(*text), files[i].string(), texts)  //
                               : std::vector{text.problem()};
    }
  };
  std::vector<std::future<void>> others;
  for (unsigned core = std::clamp(std::thread::hardware_concurrency(), 1u, 4u); core > 1; --core)
    others.push_back(std::async(std::launch::async | std::launch::deferred, work));  // where there is no thread: here
  work();
  for (auto& other : others) other.get();
  std::vector<Problem> problems;
  for (Read& read : reads) {
    for (Part& part : *read.parts.parts_) put(std::move(part));
    std::ranges::move(read.problems, std::back_inserter(problems));
  }
  return problems;
}

const Part* Catalogue::find(std::string_view wanted) const {
  const auto by_id = std::ranges::find(*parts_, wanted, &Part::id);
  if (by_id != parts_->end()) return &*by_id;
  const std::string key = small_letters(wanted);
  for (const Part& part : *parts_)
    for (const std::string& marking : part.markings)
      if (small_letters(marking) == key) return &part;
  // What is printed on a package goes on after the marking: TMP36GT9Z, SHT31-DIS. The longest one that fits.
  const Part* best = nullptr;
  std::size_t longest = 0;
  for (const Part& part : *parts_)
    for (const std::string& marking : part.markings)
      if (marking.size() > longest && begins_with_marking(key, marking)) best = &part, longest = marking.size();
  return best;
}

PartPointer Catalogue::share(std::string_view wanted) const {
  const Part* part = find(wanted);
  return part ? PartPointer(parts_, part) : nullptr;
}

namespace {

// As it is typed on a keyboard: small letters, and a plain hyphen for the dash of "4–20 mA" and the minus of "−40".
std::string as_typed(std::string_view text) {
  std::string typed = small_letters(text);
  for (const std::string_view dash : {"–", "−"})
    for (std::size_t at = 0; (at = typed.find(dash, at)) != std::string::npos;) typed.replace(at, dash.size(), "-");
  return typed;
}

}  // namespace

std::vector<const Part*> Catalogue::search(std::string_view text) const {
  std::vector<std::string> words;
  for (std::istringstream in{as_typed(text)}; in;)
    if (std::string word; in >> word) words.push_back(std::move(word));
  std::vector<const Part*> found;
  for (const Part& part : *parts_) {
    std::string said = part.name + "\n" + part.id;
    for (const std::string& marking : part.markings) said += "\n" + marking;
    said = as_typed(said);
    std::string unspaced = said;  // 4-20mA, 3.3v
    std::erase(unspaced, ' ');
    if (std::ranges::all_of(words, [&](const std::string& word) {
          return said.find(word) != std::string::npos || unspaced.find(word) != std::string::npos;
        }))
      found.push_back(&part);
  }
  if (found.empty())
    if (const Part* part = find(text)) found.push_back(part);
  return found;
}

namespace {

// What people call a thing, and the word of our descriptions for it; an empty one says nothing of a part.
constexpr std::pair<const char*, const char*> called_so[] = {{to_translate("light"), to_translate("illuminance")},
                                                             {to_translate("brightness"), to_translate("illuminance")},
                                                             {to_translate("photoresistor"), "ldr"},
                                                             {to_translate("thermometer"), to_translate("temperature")},
                                                             {to_translate("hygrometer"), to_translate("humidity")},
                                                             {to_translate("moisture"), to_translate("humidity")},
                                                             {to_translate("barometer"), to_translate("pressure")},
                                                             {"kohm", "kΩ"},
                                                             {"ohm", "Ω"},
                                                             {to_translate("sensor"), ""},
                                                             {to_translate("probe"), ""}};

// The words of `text` as descriptions have them, and markings without the dash that some put in: PT-100.
std::string in_our_words(std::string_view text) {
  std::string all;
  for (std::istringstream in{as_typed(text)}; in;) {
    std::string word;
    if (!(in >> word)) break;
    const auto known = std::ranges::find_if(
        called_so, [&](const auto& pair) { return word == pair.first || word == as_typed(translated(pair.first)); });
    if (known != std::end(called_so)) {
      word = translated(known->second);
    } else {
      if (std::isalpha(static_cast<unsigned char>(word.front()))) std::erase(word, '-');
      for (const auto& [typed, ours] : {std::pair{"kohm", "kΩ"}, {"ohm", "Ω"}})
        if (word.ends_with(typed)) word.replace(word.size() - std::string_view(typed).size(), std::string::npos, ours);
    }
    if (!word.empty()) all += (all.empty() ? "" : " ") + word;
  }
  return all;
}

// Ohms at the temperature by which a resistive part is called; 0 where it is none.
double nominal_ohms(const Part& part) {
  for (const char* number : {"r25", "r0"})
    if (const auto found = part.transfer.numbers.find(number); found != part.transfer.numbers.end())
      return found->second;
  return 0;
}

}  // namespace

std::vector<const Part*> Catalogue::suggest(std::string_view text) const {
  std::vector<const Part*> found = search(text);
  if (found.empty())
    if (const std::string ours = in_our_words(text); !ours.empty()) found = search(ours);
  const std::string typed = as_typed(text);
  std::string ohms = in_our_words(text);  // 10 kΩ as a code, 10k
  std::erase(ohms, ' ');
  if (ohms.ends_with("Ω")) ohms.erase(ohms.size() - std::string_view("Ω").size());
  const auto meant = [&](const Part* part) {
    return std::ranges::any_of(part->markings,
                               [&](const std::string& each) { return as_typed(each).starts_with(typed); }) ||
           (nominal_ohms(*part) > 0 && as_typed(resistor_code(nominal_ohms(*part))) == ohms);
  };
  std::stable_partition(found.begin(), found.end(), meant);  // clang 14 has no std::ranges one
  return found;
}

std::string data_folder() {
  std::error_code error;
  if (std::string set = environment("FAIR_GAUGE_DATA"); !set.empty()) return set;
  const auto program = std::filesystem::read_symlink("/proc/self/exe", error);
  const auto installed = program.parent_path().parent_path() / "share" / "fair-gauge";
  if (!error && std::filesystem::exists(installed / "parts", error)) return installed.string();
  return FAIR_GAUGE_SOURCE_DATA;
}

std::string user_parts_folder() {
  std::string base = environment("XDG_DATA_HOME");
  if (base.empty()) base = environment("HOME") + "/.local/share";
  return base + "/fair-gauge/parts";
}

Result<KeptFile> save_user_part(const Part& part) {
  std::error_code error;
  std::filesystem::create_directories(user_parts_folder(), error);
  const std::string path = user_parts_folder() + "/" + part.id + ".json";
  const Json file = {{"parts", Json::array({part_json(part)})}};
  return write_keeping_former(path, file.dump(2, ' ', false, Json::error_handler_t::replace) + "\n");
}

Result<std::vector<std::string>> take_user_parts(const std::string& path) {
  const auto text = read_file(path);
  if (!text) return text.problem();
  Catalogue brought;
  if (const auto faults = brought.add(*text, path); !faults.empty()) return faults.front();
  if (brought.parts().empty()) return Problem{translated("the file holds no part"), "{\"parts\": […]}", {.file = path}};
  std::error_code error;
  std::filesystem::create_directories(user_parts_folder(), error);
  const auto kept =
      write_keeping_former(user_parts_folder() + "/" + std::filesystem::path(path).stem().string() + ".json", *text);
  if (!kept) return kept.problem();
  std::vector<std::string> names;
  for (const Part& part : brought.parts()) names.push_back(part.name);
  return names;
}

Catalogue load_catalogue(std::vector<Problem>* problems, const std::vector<std::string>& only) {
  Catalogue catalogue;
  const std::string shipped = data_folder() + "/parts";
  auto faults = catalogue.add_folder(shipped, Texts::in_language, only);
  // A word that is no id or marking as it stands, or a part that needs another file's: all of them then.
  const auto is_called = [&](const std::string& word) {
    const Part* part = catalogue.find(word);
    return part && (part->id == word || std::ranges::find(part->markings, word) != part->markings.end());
  };
  if (!only.empty() &&
      !(std::ranges::all_of(only, is_called) && std::ranges::all_of(catalogue.parts(), [&](const Part& part) {
          return part.element.part.empty() || is_called(part.element.part);
        })))
    return load_catalogue(problems);
  if (catalogue.parts().empty() && faults.empty())
    faults.push_back({translated("the parts that ship with the program are missing"),
                      translated("a folder of part files: reinstall the program, or set FAIR_GAUGE_DATA"),
                      {.file = shipped},
                      ProblemKind::file});
  for (Problem& fault : catalogue.add_folder(user_parts_folder())) faults.push_back(std::move(fault));
  if (problems) *problems = std::move(faults);
  return catalogue;
}

std::vector<std::string> data_folders(const std::string& kind) {
  const std::string own = user_parts_folder();
  return {data_folder() + "/" + kind, own.substr(0, own.size() - std::string("parts").size()) + kind};
}

}  // namespace fair_gauge
