// Where a file is to be saved, asked of the person.
#pragma once

#include <QFileDialog>
#include <QStringList>

namespace fair_gauge::app {

/// \param parent   wears the theme, and so does the dialog
/// \param name     proposed, without a suffix; what does not belong into a file's name becomes a dash
/// \param kinds    of file, each with its one suffix, "PDF (*.pdf)"; the first is chosen until another is
/// \param options  such as that an existing file needs no question
/// \returns the path, with the suffix of the chosen kind where none of theirs was typed; empty where it was given up.
/// Before a file that is there already is replaced, the person was asked.
QString ask_where_to_save(QWidget* parent, const QString& title, const QString& name, const QStringList& kinds,
                          QFileDialog::Options options = {});

}  // namespace fair_gauge::app
