// A page of HTML as a PDF.
#pragma once

#include <QString>

namespace fair_gauge::app {

/// Writes `html` on A4 pages. \returns what went wrong in words, or nothing
QString print_html(const QString& html, const QString& path);

}  // namespace fair_gauge::app
