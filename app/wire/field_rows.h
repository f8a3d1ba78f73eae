// How a row of a stage's fields is written: its label, why it is there, and what it reads and changes. The texts are
// English, marked by to_translate.
#pragma once

#include <utility>

#include "wire/stage_fields.h"
#include "wire/words.h"

namespace fair_gauge::app {

using Pieces = ChannelPieces;
inline constexpr double huge = 1e12;

inline FieldRow quantity(const char* label, const char* why, Dimension dimension, const Unit& unit, double least,
                         double most, std::function<double(const Pieces&)> get,
                         std::function<void(Pieces&, double)> set) {
  return {tr(label), tr(why), QuantityRow{dimension, &unit, std::move(get), std::move(set), least, most}};
}

inline FieldRow fraction(const char* label, const char* why, std::function<double(const Pieces&)> get,
                         std::function<void(Pieces&, double)> set) {
  return {tr(label), tr(why),
          QuantityRow{Dimension::humidity, unit_by_ucum("%"), std::move(get), std::move(set), 0, 100, true}};
}

inline FieldRow choice(const char* label, const char* why, QStringList choices, std::function<int(const Pieces&)> get,
                       std::function<void(Pieces&, int)> set) {
  return {tr(label), tr(why), ChoiceRow{std::move(choices), std::move(get), std::move(set)}};
}

}  // namespace fair_gauge::app
