// Words of the Wire page outside its widgets, ready to be translated.
#pragma once

#include <QCoreApplication>
#include <QString>

namespace fair_gauge::app {

inline QString tr(const char* text) { return QCoreApplication::translate("Wire", text); }

}  // namespace fair_gauge::app
