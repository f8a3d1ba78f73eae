// A table to be read: no grid, no boxes, heads and cells flush left.
#pragma once

#include <QTableWidget>

#include "widgets/theme.h"

namespace fair_gauge::app {

/// \param widths  pixels of the columns at normal text size; 0 → takes what is left
QTableWidget* plain_table(const Theme& theme, const char* name, const QString& means, const QStringList& heads,
                          const QList<int>& widths);

/// Width at which the head and every cell of a column can be read, in pixels.
int wanted_by_cells(const QTableWidget& table, int column);

/// Where a head or a cell cannot be read, the columns share the table's width anew: each gets what it needs, the widest
/// less if all of them do not fit. From then on also when its size or the text's changes.
void share_width(QTableWidget& table);

/// Its heads and its chosen rows, or all where none is chosen: cells parted by tabs, a row a line. What Ctrl+C copies.
QString text_of_table(const QTableWidget& table);

/// Fills a row; figures stand in the fixed-width face. \param figures  from this column on; −1 → none
void put_row(QTableWidget& table, int at, const QStringList& cells, const Theme& theme, const QColor& ink,
             int figures_from = 1, int figures_to = 99);

}  // namespace fair_gauge::app
