// How a finding of a check is shown: its colour and, as colour never stands alone, its mark.
#pragma once

#include <QString>

#include "widgets/theme.h"
#include "wiring/bus_check.h"

namespace fair_gauge::app {

inline Tint tint_of(Severity severity) {
  return severity == Severity::fault ? Tint::red : severity == Severity::warning ? Tint::amber : Tint::quiet;
}

inline QString mark_of(Severity severity) {
  return severity == Severity::fault     ? QStringLiteral("×  ")
         : severity == Severity::warning ? QStringLiteral("!  ")
                                         : QStringLiteral("·  ");
}

}  // namespace fair_gauge::app
