#include "widgets/edit_table.h"

#include <QHeaderView>

#include "widgets/form.h"
#include "widgets/plain_table.h"
#include "widgets/text.h"

namespace fair_gauge::app {

QTableWidget* edit_table(const Theme& theme, const char* name, const QString& means, const QStringList& heads,
                         const QList<int>& widths) {
  auto* table = plain_table(theme, name, means, heads, widths);
  table->setEditTriggers(QAbstractItemView::AllEditTriggers);
  const auto fit = [table, &theme] { table->verticalHeader()->setDefaultSectionSize(theme.px(36)); };
  fit();  // its rows hold choices
  QObject::connect(&theme, &Theme::changed, table, fit);
  return table;
}

void fit_height(QTableWidget& table, int most_rows) {
  const int rows = std::clamp(table.rowCount(), 1, most_rows);
  table.setFixedHeight(table.horizontalHeader()->sizeHint().height() +
                       rows * table.verticalHeader()->defaultSectionSize() + 4);
}

QComboBox* choice_in(QTableWidget& table, int line, int place, const QStringList& choices, int chosen,
                     const QString& means, std::function<void(int)> given) {
  const QStringList words = in_own_marks(choices.join(QLatin1Char('\n'))).split(QLatin1Char('\n'));
  auto* box = qobject_cast<QComboBox*>(table.cellWidget(line, place));
  bool is_same = box && box->count() == words.size();
  for (int i = 0; is_same && i < box->count(); ++i) is_same = box->itemText(i) == words[i];
  if (is_same) {  // building and painting them is most of what a table costs
    QObject::disconnect(box, &QComboBox::activated, &table, nullptr);
    box->setAccessibleName(means);
  } else {
    box = choice_box(words, "", means);
    table.setCellWidget(line, place, box);
  }
  box->setCurrentIndex(chosen);
  QObject::connect(box, &QComboBox::activated, &table, std::move(given), Qt::QueuedConnection);
  return box;
}

}  // namespace fair_gauge::app
