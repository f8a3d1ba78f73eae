#include "read/part_box.h"

#include <QCompleter>
#include <QLineEdit>
#include <QListView>

#include "widgets/text.h"

namespace fair_gauge::app {

PartBox::PartBox(Workbench& workbench, const char* name) : workbench_(workbench) {
  setView(new QListView);
  setObjectName(QLatin1String(name));
  setAccessibleName(tr("Part"));
  setEditable(true);
  setInsertPolicy(QComboBox::NoInsert);
  setSizePolicy(QSizePolicy::Ignored, QSizePolicy::Fixed);
  list_parts();
  completer()->setFilterMode(Qt::MatchContains);
  completer()->setCompletionMode(QCompleter::PopupCompletion);
  connect(this, &QComboBox::activated, this,
          [this](int index) { emit part_chosen(itemData(index).toString().toStdString()); });
  connect(lineEdit(), &QLineEdit::editingFinished, this, &PartBox::take_words);
}

void PartBox::list_parts() {
  clear();
  for (const Part& part : workbench_.catalogue().parts()) {
    if (!part.is_digital()) continue;
    QString markings;
    for (const std::string& marking : part.markings)
      markings += (markings.isEmpty() ? QString() : QStringLiteral(" ")) + text_of(marking);
    addItem(in_own_marks(text_of(part.name)) + QStringLiteral("   ") + markings, text_of(part.id));
  }
  if (!part_id_.empty()) show_part(part_id_);
}

void PartBox::show_part(const std::string& id) {
  part_id_ = id;
  setCurrentIndex(findData(text_of(id)));
  setEditText(itemText(currentIndex()));
  lineEdit()->setCursorPosition(0);
  setToolTip(currentText());  // what is printed on it stands at its end
}

void PartBox::take_words() {
  const QString typed = currentText();
  const int meant = findText(typed, Qt::MatchContains);
  if (typed == itemText(findData(text_of(part_id_)))) return;
  if (!typed.trimmed().isEmpty() && meant >= 0) {
    emit part_chosen(itemData(meant).toString().toStdString());
    return;
  }
  show_part(part_id_);
  if (!typed.trimmed().isEmpty())
    emit refused(tr("No part here is called “%1”: type what is printed on it.").arg(typed.trimmed()));
}

}  // namespace fair_gauge::app

#include "moc_part_box.cpp"
