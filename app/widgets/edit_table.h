// A table that is typed into: cells that take words, choices in cells, as high as its rows.
#pragma once

#include <QComboBox>
#include <QTableWidget>
#include <functional>

#include "widgets/theme.h"

namespace fair_gauge::app {

/// \param widths  as of a plain table
QTableWidget* edit_table(const Theme& theme, const char* name, const QString& means, const QStringList& heads,
                         const QList<int>& widths);

/// As high as its rows, up to so many of them.
void fit_height(QTableWidget& table, int most_rows = 8);

/// A choice in a cell. \param given  takes the chosen place once the click is over: it may build the table anew
QComboBox* choice_in(QTableWidget& table, int line, int place, const QStringList& choices, int chosen,
                     const QString& means, std::function<void(int)> given);

}  // namespace fair_gauge::app
