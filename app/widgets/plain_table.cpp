#include "widgets/plain_table.h"

#include <QAbstractItemDelegate>
#include <QApplication>
#include <QClipboard>
#include <QComboBox>
#include <QHeaderView>
#include <QShortcut>
#include <algorithm>
#include <functional>
#include <vector>

#include "widgets/text.h"

namespace fair_gauge::app {
namespace {

constexpr int face_role = Qt::UserRole + 100;
constexpr char shares_width[] = "shares_width";

class PlainTable : public QTableWidget {
 protected:
  void resizeEvent(QResizeEvent* event) override {
    QTableWidget::resizeEvent(event);
    if (property(shares_width).toBool()) share_width(*this);
  }
};

}  // namespace

QTableWidget* plain_table(const Theme& theme, const char* name, const QString& means, const QStringList& heads,
                          const QList<int>& widths) {
  auto* table = new PlainTable;
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
  table->horizontalHeader()->setTextElideMode(Qt::ElideRight);
  table->horizontalHeader()->setMinimumSectionSize(16);  // Qt's own is the font's widest letter and more
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
    if (table->property(shares_width).toBool()) share_width(*table);
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
  for (int r = 0; r < table.rowCount(); ++r) {
    width = std::max(width, table.itemDelegate()->sizeHint(option, table.model()->index(r, column)).width());
    const QWidget* in_cell = table.cellWidget(r, column);
    if (const auto* choice = qobject_cast<const QComboBox*>(in_cell)) {
      const QFontMetrics metrics = choice->fontMetrics();
      const int mark = metrics.height() * 5 / 2;  // which opens it, and the air around the words
      width = std::max(width, metrics.horizontalAdvance(choice->currentText()) + mark);
    } else if (in_cell) {
      width = std::max(width, in_cell->sizeHint().width());
    }
  }
  return width;
}

void share_width(QTableWidget& table) {
  table.setProperty(shares_width, true);
  const int room = table.viewport()->width();
  std::vector<int> wanted;
  int all = 0, with_room = 0;
  bool is_cut = false;
  for (int c = 0; c < table.columnCount(); ++c) {
    wanted.push_back(wanted_by_cells(table, c));
    const bool stretches = table.horizontalHeader()->sectionResizeMode(c) == QHeaderView::Stretch;
    is_cut =
        is_cut || wanted.back() > table.columnWidth(c) || table.columnViewportPosition(c) + table.columnWidth(c) > room;
    all += wanted.back();
    with_room += stretches ? wanted.back() : std::max(wanted.back(), table.columnWidth(c));
  }
  if (!is_cut) return;
  int widest = room, air = 0;
  if (all <= room) {
    air = (room - all) / table.columnCount();
  } else {  // the narrow ones whole, the others alike
    std::vector<int> sorted = wanted;
    std::ranges::sort(sorted);
    int left = room, columns = static_cast<int>(sorted.size());
    for (const int each : sorted) {
      widest = left / columns;
      if (each > widest) break;
      left -= each;
      if (--columns == 0) break;
    }
  }
  for (int c = 0; c < table.columnCount(); ++c) {
    const int own = wanted[static_cast<std::size_t>(c)];
    table.setColumnWidth(c, with_room <= room ? std::max(own, table.columnWidth(c)) : std::min(own, widest) + air);
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
