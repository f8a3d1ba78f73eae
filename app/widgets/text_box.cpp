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
  const QString text = pasted->text();
  const auto refuse = [this](const QString& why) { QToolTip::showText(mapToGlobal(QPoint(0, height())), why, this); };
  const auto stay = document()->characterCount() - 1 - textCursor().selectedText().size();
  if (stay + text.size() > most_)
    return refuse(tr("What is pasted has %L1 characters; there is room for %L2")
                      .arg(text.size())
                      .arg(std::max(qsizetype(0), most_ - stay)));
  qsizetype longest = 0;
  for (const QStringView line : QStringView(text).split(QLatin1Char('\n'))) longest = std::max(longest, line.size());
  if (longest > most_of_a_line)
    return refuse(
        tr("A line of what is pasted has %L1 characters; at most %L2 are taken").arg(longest).arg(most_of_a_line));
  QPlainTextEdit::insertFromMimeData(pasted);
}

}  // namespace fair_gauge::app

#include "moc_text_box.cpp"
