#include "widgets/plain_table.h"

#include <QAbstractItemDelegate>
#include <QApplication>
#include <QClipboard>
#include <QHeaderView>
#include <QShortcut>
#include <algorithm>
#include <functional>

#include "widgets/text.h"

namespace fair_gauge::app {
namespace {

constexpr int face_role = Qt::UserRole + 100;

}  // namespace

QTableWidget* plain_table(const Theme& theme, const char* name, const QString& means, const QStringList& heads,
                          const QList<int>& widths) {
  auto* table = new QTableWidget;
  table->setObjectName(QLatin1String(name));
  table->setAccessibleName(means);
  table->setColumnCount(static_cast<int>(heads.size()));
  table->setHorizontalHeaderLabels(heads);
  table->verticalHeader()->hide();
  table->setShowGrid(false);
  table->setWordWrap(false);          // a row is one line: what is too long ends in dots where the cell does
  table->setTabKeyNavigation(false);  // Tab goes on to the next control, the arrows go through the rows
  table->setEditTriggers(QAbstractItemView::NoEditTriggers);
  table->setSelectionBehavior(QAbstractItemView::SelectRows);
  table->setHorizontalScrollBarPolicy(Qt::ScrollBarAlwaysOff);
  table->horizontalHeader()->setDefaultAlignment(Qt::AlignLeft | Qt::AlignVCenter);
  table->horizontalHeader()->setHighlightSections(false);
  const auto fit = [table, widths, &theme] {
    table->verticalHeader()->setDefaultSectionSize(theme.px(26));
    for (int r = 0; r < table->rowCount(); ++r)
      for (int c = 0; c < table->columnCount(); ++c)
        if (QTableWidgetItem* item = table->item(r, c); item && item->data(face_role).isValid())
          item->setFont(theme.font(static_cast<Face>(item->data(face_role).toInt())));
    for (int c = 0; c < widths.size(); ++c) {
      table->horizontalHeader()->setSectionResizeMode(c, widths[c] == 0 ? QHeaderView::Stretch : QHeaderView::Fixed);
      if (widths[c] > 0) table->setColumnWidth(c, theme.column_px(widths[c]));
    }
  };
  fit();
  // The chosen rows, or all of them, as text that a spreadsheet takes.
  auto* copy = new QShortcut(QKeySequence::Copy, table);
  copy->setContext(Qt::WidgetWithChildrenShortcut);
  QObject::connect(copy, &QShortcut::activated, table,
                   [table] { QApplication::clipboard()->setText(text_of_table(*table)); });
  QObject::connect(&theme, &Theme::changed, table, fit);
  return table;
}

int wanted_by_cells(const QTableWidget& table, int column) {
  QStyleOptionViewItem option;
  option.initFrom(&table);
  option.widget = &table;
  const QTableWidgetItem* head = table.horizontalHeaderItem(column);
  int width = head ? table.horizontalHeader()->fontMetrics().horizontalAdvance(head->text()) + 12 : 0;
  for (int r = 0; r < table.rowCount(); ++r)
    width = std::max(width, table.itemDelegate()->sizeHint(option, table.model()->index(r, column)).width());
  return width;
}

void widen_columns(QTableWidget& table) {
  int spare = table.columnWidth(0) - wanted_by_cells(table, 0);
  for (int c = 1; c < table.columnCount(); ++c) {
    const int more = std::min(spare, wanted_by_cells(table, c) - table.columnWidth(c));
    if (more <= 0) continue;
    table.setColumnWidth(c, table.columnWidth(c) + more);
    spare -= more;
  }
}

QString text_of_table(const QTableWidget& table) {
  QStringList lines;
  const auto line = [&](const std::function<QString(int)>& cell) {
    QStringList cells;
    for (int c = 0; c < table.columnCount(); ++c) cells << cell(c).simplified();
    lines << cells.join(QLatin1Char('\t'));
  };
  line([&](int c) { return table.horizontalHeaderItem(c) ? table.horizontalHeaderItem(c)->text() : QString(); });
  const bool some = table.selectionModel() && table.selectionModel()->hasSelection();
  for (int r = 0; r < table.rowCount(); ++r)
    if (!some || table.selectionModel()->isRowSelected(r))
      line([&](int c) { return table.item(r, c) ? table.item(r, c)->text() : QString(); });
  return lines.join(QLatin1Char('\n'));
}

void put_row(QTableWidget& table, int at, const QStringList& cells, const Theme& theme, const QColor& ink,
             int figures_from, int figures_to) {
  for (int c = 0; c < cells.size(); ++c) {
    QTableWidgetItem* item = table.item(at, c);
    if (!item) table.setItem(at, c, item = new QTableWidgetItem);
    const QString cell = in_own_marks(cells[c]);
    item->setText(cell);
    item->setToolTip(cell);
    item->setForeground(ink);
    const Face face = c >= figures_from && c <= figures_to ? Face::code : Face::text;
    item->setFont(theme.font(face));
    item->setData(face_role, static_cast<int>(face));  // for when the text's size changes
  }
}

}  // namespace fair_gauge::app
