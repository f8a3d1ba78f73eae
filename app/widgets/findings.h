// How a finding of a check is shown: its colour and, as colour never stands alone, its mark.
#pragma once

#include <QString>

#include "widgets/theme.h"
#include "wiring/bus_check.h"

namespace fair_gauge::app {

inline Tint tint_of(Weight weight) {
  return weight == Weight::fault ? Tint::red : weight == Weight::warning ? Tint::amber : Tint::quiet;
}

inline QString mark_of(Weight weight) {
  return weight == Weight::fault     ? QStringLiteral("×  ")
         : weight == Weight::warning ? QStringLiteral("!  ")
                                     : QStringLiteral("·  ");
}

}  // namespace fair_gauge::app
