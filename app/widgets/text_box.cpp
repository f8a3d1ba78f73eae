#include "widgets/text_box.h"

#include <QMimeData>
#include <QTextCursor>
#include <QToolTip>

namespace fair_gauge::app {

TextBox::TextBox(const char* name, const QString& means, int most, QWidget* parent)
    : QPlainTextEdit(parent), most_(most) {
  setObjectName(QLatin1String(name));
  setAccessibleName(means);
  setTabChangesFocus(true);
}

void TextBox::insertFromMimeData(const QMimeData* pasted) {
  const auto stay = document()->characterCount() - 1 - textCursor().selectedText().size();
  const auto characters = pasted->text().size();
  if (stay + characters <= most_) return QPlainTextEdit::insertFromMimeData(pasted);
  QToolTip::showText(mapToGlobal(QPoint(0, height())),
                     tr("What is pasted has %L1 characters; there is room for %L2")
                         .arg(characters)
                         .arg(std::max(qsizetype(0), most_ - stay)),
                     this);
}

}  // namespace fair_gauge::app

#include "moc_text_box.cpp"
