#include "shell/glossary.h"

#include <QAbstractButton>
#include <QAbstractItemView>
#include <QApplication>
#include <QFile>
#include <QHeaderView>
#include <QHelpEvent>
#include <QLabel>
#include <QRegularExpression>
#include <QToolTip>
#include <algorithm>

#include "language/translation.h"
#include "shell/manual.h"

namespace fair_gauge::app {
namespace {

// Links by their words, without stars.
QString plain(QString markdown) {
  static const QRegularExpression link(QStringLiteral("\\[([^\\]]*)\\]\\([^)]*\\)"));
  return markdown.replace(link, QStringLiteral("\\1")).remove(QLatin1Char('*')).trimmed();
}

Glossary read_glossary() {
  QFile page(Manual::folder() + QStringLiteral("/glossary.md"));
  return Glossary(page.open(QIODevice::ReadOnly) ? QString::fromUtf8(page.readAll()) : QString());
}

}  // namespace

Glossary::Glossary(const QString& page) {
  static const QRegularExpression row(QStringLiteral("^\\| *\\*\\*(.+?)\\*\\* *\\| *(.+?) *\\|$"));
  constexpr qsizetype shortest = 3;  // of a form: a letter stands for too much
  for (const QString& line : page.split(QLatin1Char('\n'))) {
    const auto match = row.match(line.trimmed());
    if (!match.hasMatch()) continue;
    terms_.push_back({match.captured(1), plain(match.captured(2))});
    // "code, count" are two words for one thing, "accuracy, of a part" is one.
    for (const QString& form : match.captured(1).split(QStringLiteral(", ")))
      if (form.size() >= shortest && !form.startsWith(QStringLiteral("of ")))
        forms_.push_back({form.toLower(), terms_.size() - 1});
  }
  std::ranges::stable_sort(forms_, std::ranges::greater(), [](const Form& form) { return form.words.size(); });
}

const Glossary::Term* Glossary::in(const QString& text) const {
  const auto all = uses(text);
  const auto longest = std::ranges::max_element(all, {}, &Use::length);
  return longest == all.end() ? nullptr : longest->term;
}

std::vector<Glossary::Use> Glossary::uses(const QString& text) const {
  std::vector<Use> all;
  const QString lower = text.toLower();
  const auto is_letter = [&](qsizetype at) { return at >= 0 && at < lower.size() && lower[at].isLetter(); };
  for (const Form& form : forms_)
    for (qsizetype at = lower.indexOf(form.words); at >= 0; at = lower.indexOf(form.words, at + 1)) {
      qsizetype end = at + form.words.size();
      if (end < lower.size() && lower[end] == QLatin1Char('s')) ++end;
      const bool is_free = std::ranges::none_of(
          all, [&](const Use& other) { return at < other.from + other.length && other.from < end; });
      if (is_free && !is_letter(at - 1) && !is_letter(end)) all.push_back({at, end - at, &terms_[form.term]});
    }
  std::ranges::sort(all, {}, &Use::from);
  return all;
}

const Glossary& glossary() { return once_in_each_language<read_glossary>(); }

GlossaryTips::GlossaryTips(QObject* parent) : QObject(parent) { qApp->installEventFilter(this); }

QString GlossaryTips::words_on(const QWidget& widget, const QPoint& at) {
  if (const auto* header = qobject_cast<const QHeaderView*>(widget.parentWidget());
      header && header->viewport() == &widget)
    return header->model() ? header->model()->headerData(header->logicalIndexAt(at), header->orientation()).toString()
                           : QString();
  if (const auto* view = qobject_cast<const QAbstractItemView*>(widget.parentWidget());
      view && view->viewport() == &widget)
    return view->indexAt(at).data().toString();
  if (const auto* label = qobject_cast<const QLabel*>(&widget)) return label->text();
  if (const auto* button = qobject_cast<const QAbstractButton*>(&widget))
    return button->text().isEmpty() ? button->accessibleName() : button->text();
  return widget.accessibleName();
}

bool GlossaryTips::eventFilter(QObject* object, QEvent* event) {
  if (event->type() != QEvent::ToolTip || !object->isWidgetType()) return false;
  auto* widget = static_cast<QWidget*>(object);
  if (!widget->toolTip().isEmpty()) return false;
  const auto* help = static_cast<QHelpEvent*>(event);
  const QString words = words_on(*widget, help->pos());
  constexpr qsizetype most = 60;  // a sentence explains itself
  const Glossary::Term* term = words.size() > most ? nullptr : glossary().in(words);
  if (!term) return false;
  QToolTip::showText(help->globalPos(),
                     QStringLiteral("<b>%1</b><br>%2").arg(term->word.toHtmlEscaped(), term->means.toHtmlEscaped()),
                     widget);
  return true;
}

}  // namespace fair_gauge::app

#include "moc_glossary.cpp"
