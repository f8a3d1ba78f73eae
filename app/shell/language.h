// The language of the window's texts: those of the core and its own, out of one catalogue.
#pragma once

#include <QStringList>

namespace fair_gauge::app {

/// The codes, such as "de", of the translations that ship: files data/translations/CODE.po.
QStringList translated_languages();

/// The code itself; of an empty one what the system asks for, if there is a translation, else "en".
QString language_meant(const QString& code);

/// From now on texts come in that language. What was built or loaded before keeps its own. \param code  "" → as the
/// system's, "en" → English
void use_language(const QString& code);

/// Lets tr() look in the same catalogue, and Qt's own windows in theirs. \pre the application is there
void install_window_texts(const QString& code);

}  // namespace fair_gauge::app
