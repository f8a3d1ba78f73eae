#include "choose/need.h"

#include <array>

namespace fair_gauge {

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
  if (dimension_of_quantity(need.quantity) == Dimension::number)
    return Problem{"\"" + need.quantity + "\" is no quantity", "temperature, humidity, pressure or illuminance"};
  if (!(need.from < need.to)) return Problem{"the range ends before it begins", "from below to"};
  if (!(need.allowed > 0)) return Problem{"an allowed error of nothing cannot be kept", "an error above zero"};
  if (!(need.period_s > 0)) return Problem{"a period of nothing cannot be kept", "a time above zero"};
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

}  // namespace fair_gauge
