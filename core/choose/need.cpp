#include "choose/need.h"

#include <array>

#include "files/json_fields.h"
#include "language/translation.h"

namespace fair_gauge {

template <>
struct Fields<Need> {
  static void list(auto& self, auto&& visit) {
    visit("quantity", self.quantity, {.required = true});
    visit("kind", self.kind);
    visit("from", self.from, {.required = true});
    visit("to", self.to, {.required = true});
    visit("allowed", self.allowed, {.minimum = 1e-9, .required = true});
    visit("resolution", self.resolution, {.minimum = 0});
    visit("period_s", self.period_s, {.minimum = 1e-4, .maximum = 1e7});
    visit("rail", self.rail);
    visit("converter", self.converter);
    visit("interfaces", self.interfaces);
    visit("place", self.place);
    visit("use", self.use);
    visit("cable_m", self.cable_m, {.minimum = 0, .maximum = 1000});
    visit("own_only", self.own_only);
  }
};

std::span<const EnumName<NeedPlace>> enum_names(NeedPlace) {
  static constexpr std::array table = {EnumName{NeedPlace::indoors, "indoors"}, EnumName{NeedPlace::humid, "humid"},
                                       EnumName{NeedPlace::surface, "surface"}, EnumName{NeedPlace::liquid, "liquid"}};
  return table;
}

std::span<const EnumName<NeedUse>> enum_names(NeedUse) {
  static constexpr std::array table = {EnumName{NeedUse::display, "display"}, EnumName{NeedUse::control, "control"}};
  return table;
}

std::optional<Problem> need_problem(const Need& need) {
  if (need.quantity != Quantity::temperature && need.quantity != Quantity::humidity &&
      need.quantity != Quantity::pressure && need.quantity != Quantity::illuminance)
    return Problem{translated("no part is chosen for {}", translated_name(need.quantity)),
                   translated("temperature, humidity, pressure or illuminance")};
  if (!(need.from < need.to))
    return Problem{translated("the range ends before it begins"), translated("from below to")};
  if (!(need.allowed > 0))
    return Problem{translated("an allowed error of nothing cannot be kept"), translated("an error above zero")};
  if (!(need.period_s > 0))
    return Problem{translated("a period of nothing cannot be kept"), translated("a time above zero")};
  return std::nullopt;
}

Result<Need> need_from_text(std::string text, const std::string& file) {
  const auto document = parse_json(std::move(text), file);
  if (!document) return document.problem();
  std::vector<Problem> problems;
  Need need;
  JsonReader(*document, problems).read(document->value, need, "");
  if (!problems.empty()) return problems.front();
  if (auto problem = need_problem(need)) {
    problem->place.file = file;
    return *problem;
  }
  return need;
}

std::string need_to_text(const Need& need) { return to_json_value(need).dump(); }

}  // namespace fair_gauge
