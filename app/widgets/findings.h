// How a finding of a check is shown: its colour and, as colour never stands alone, its mark.
#pragma once

#include <QString>

#include "quantity/finding.h"
#include "widgets/text.h"
#include "widgets/theme.h"

namespace fair_gauge::app {

inline Tint tint_of(Severity severity) {
  return severity == Severity::fault ? Tint::red : severity == Severity::warning ? Tint::amber : Tint::quiet;
}

inline QString mark_of(Severity severity) {
  return severity == Severity::fault     ? QStringLiteral("×  ")
         : severity == Severity::warning ? QStringLiteral("!  ")
                                         : QStringLiteral("·  ");
}

/// Puts the first of them below each other, in place of what was there.
inline void list_findings(QVBoxLayout* into, const Theme& theme, const std::vector<Finding>& findings,
                          std::size_t most) {
  clear(into);
  for (std::size_t i = 0; i < findings.size() && i < most; ++i) {
    const Severity severity = findings[i].severity;
    const QString mark = severity == Severity::note ? QString() : mark_of(severity);
    auto* line = new Text(theme, Face::small, mark + text_of(findings[i].words), tint_of(severity));
    line->setWordWrap(true);
    into->addWidget(line);
  }
}

}  // namespace fair_gauge::app
