#include "shell/manual.h"

#include <QDesktopServices>
#include <QDir>
#include <QFile>
#include <QFileInfo>
#include <QScrollBar>
#include <QTextBlock>
#include <QTextCursor>
#include <QVBoxLayout>
#include <algorithm>
#include <map>
#include <set>

#include "language/translation.h"
#include "parts/catalogue.h"
#include "shell/glossary.h"
#include "widgets/text.h"

namespace fair_gauge::app {
namespace {
constexpr const char* contents = "README";
constexpr const char* words_page = "glossary";
constexpr const char* word_scheme = "word";

QString text_of_file(const QString& path) {
  QFile file(path);
  return file.open(QIODevice::ReadOnly) ? QString::fromUtf8(file.readAll()) : QString();
}
}  // namespace

QString Manual::folder() {
  const QString data = text_of(data_folder());
  const QString installed = data + QStringLiteral("/manual");
  const QString english = QFileInfo::exists(installed) ? installed : data + QStringLiteral("/../docs/manual");
  const QString own = english + QLatin1Char('/') + text_of(language_in_use());
  return QFileInfo::exists(own) ? own : english;
}

QString Manual::page_about(const QString& page, int view) {
  static const std::map<QString, QStringList> pages = {
      {QStringLiteral("home"), {QStringLiteral("your-first-bench")}},
      {QStringLiteral("choose"), {QStringLiteral("choose-a-part")}},
      {QStringLiteral("board"),
       {QStringLiteral("your-first-bench"), QStringLiteral("wire-a-bus"), QStringLiteral("wire-a-bus"),
        QStringLiteral("pins-wires-and-cables"), QStringLiteral("pins-wires-and-cables"),
        QStringLiteral("choose-a-reference-or-gain"), QStringLiteral("set-registers"),
        QStringLiteral("read-a-parallel-converter")}},
      {QStringLiteral("wire"),
       {QStringLiteral("read-a-thermistor"), QStringLiteral("choose-the-fixed-resistor"),
        QStringLiteral("choose-a-reference-or-gain"), QStringLiteral("use-your-own-curve"),
        QStringLiteral("hold-a-meter-to-it")}},
      {QStringLiteral("read"),
       {QStringLiteral("connect-a-board"), QStringLiteral("read-bytes"), QStringLiteral("set-registers"),
        QStringLiteral("add-your-own-digital-part"), QStringLiteral("why-is-my-reading-wrong"),
        QStringLiteral("practise")}},
      {QStringLiteral("correct"),
       {QStringLiteral("calibrate"), QStringLiteral("the-budget"), QStringLiteral("calibrate"),
        QStringLiteral("work-out-the-dew-point")}},
      {QStringLiteral("watch"),
       {QStringLiteral("record-and-judge"), QStringLiteral("record-and-judge"), QStringLiteral("record-and-judge"),
        QStringLiteral("the-touch-test"), QStringLiteral("let-the-part-alarm")}},
      {QStringLiteral("handover"), {QStringLiteral("put-it-in-your-firmware")}},
      {QStringLiteral("logbook"), {QStringLiteral("keep-the-logbook")}}};
  const auto found = pages.find(page);
  if (found == pages.end()) return QLatin1String(contents);
  return found->second[std::clamp<qsizetype>(view, 0, found->second.size() - 1)];
}

Manual::Manual(const Theme& theme, const QString& folder, QWidget* parent) : QDialog(parent), theme_(theme) {
  setWindowTitle(tr("Manual"));
  // The contents first, then the pages in the order in which they are listed there.
  const QString first = text_of_file(folder + QStringLiteral("/README.md"));
  QStringList names = QDir(folder).entryList({QStringLiteral("*.md")}, QDir::Files);
  std::ranges::sort(names, {}, [&](const QString& name) {
    const auto at = first.indexOf(QStringLiteral("(%1)").arg(name));
    return std::pair(name == QLatin1String("README.md") ? -1 : at < 0 ? first.size() : at, name);
  });
  for (const QString& name : names) {
    const QString text = text_of_file(folder + QLatin1Char('/') + name);
    if (text.isEmpty()) continue;
    pages_.push_back(
        {QFileInfo(name).completeBaseName(), text.section(QLatin1Char('\n'), 0, 0).remove(QStringLiteral("# ")), text});
  }

  words_ = new QLineEdit;
  words_->setObjectName(QStringLiteral("manual_words"));
  words_->setPlaceholderText(tr("search"));
  words_->setAccessibleName(tr("Words to look for in the manual"));
  words_->setClearButtonEnabled(true);
  list_ = new QListWidget;
  list_->setObjectName(QStringLiteral("manual_pages"));
  list_->setAccessibleName(tr("Pages of the manual"));
  list_->setFrameShape(QFrame::NoFrame);
  list_->setHorizontalScrollBarPolicy(Qt::ScrollBarAlwaysOff);
  list_->setWordWrap(true);
  text_ = new QTextBrowser;
  text_->setObjectName(QStringLiteral("manual_text"));
  text_->setAccessibleName(tr("Page of the manual"));
  text_->setOpenLinks(false);
  text_->setFrameShape(QFrame::NoFrame);
  auto* left = column(8);
  left->addWidget(words_);
  left->addWidget(list_, 1);
  auto* all = new QHBoxLayout;
  all->setContentsMargins(16, 16, 16, 16);
  all->setSpacing(16);
  all->addLayout(left, 1);
  all->addWidget(text_, 3);
  setLayout(all);
  connect(words_, &QLineEdit::textChanged, this, &Manual::search);
  connect(list_, &QListWidget::currentItemChanged, this, [this](const QListWidgetItem* item) {
    if (item) show_page(item->data(Qt::UserRole).toString());
  });
  connect(text_, &QTextBrowser::highlighted, this, [this](const QUrl& link) {
    const Glossary::Term* term = link.scheme() == QLatin1String(word_scheme) ? glossary().in(link.path()) : nullptr;
    text_->setToolTip(term ? term->means : QString());
  });
  connect(text_, &QTextBrowser::anchorClicked, this, [this, folder](const QUrl& link) {
    if (link.scheme() == QLatin1String(word_scheme)) return open_at_word(link.path());
    const QString name = QFileInfo(link.path()).completeBaseName();
    if (std::ranges::find(pages_, name, &Page::name) != pages_.end()) {
      words_->clear();
      open_at(name);
      return;
    }
    // The reference of a format or its schema, which others show better: beside the manual, or among the data.
    QString path = QDir(folder).filePath(link.path());
    if (!QFileInfo::exists(path))
      path = text_of(data_folder()) + QStringLiteral("/schema/") + QFileInfo(path).fileName();
    QDesktopServices::openUrl(link.isRelative() ? QUrl::fromLocalFile(QDir::cleanPath(path)) : link);
  });
  connect(&theme, &Theme::changed, this, [this] {
    const int at = text_->verticalScrollBar()->value();
    show_page(shown_);
    text_->verticalScrollBar()->setValue(at);
  });
  const QSize wanted(theme.px(900), theme.px(620));
  resize(parent ? wanted.boundedTo(parent->size() - QSize(40, 40)) : wanted);
  search({});
}

void Manual::search(const QString& words) {
  const QSignalBlocker quiet(list_);
  list_->clear();
  const QStringList wanted = words.split(QLatin1Char(' '), Qt::SkipEmptyParts);
  for (const Page& page : pages_) {
    if (!std::ranges::all_of(wanted,
                             [&](const QString& word) { return page.text.contains(word, Qt::CaseInsensitive); }))
      continue;
    auto* item = new QListWidgetItem(page.name == QLatin1String(contents) ? tr("Contents") : page.title, list_);
    item->setData(Qt::UserRole, page.name);
    if (page.name == shown_) list_->setCurrentItem(item);
  }
  if (!wanted.isEmpty() && !list_->currentItem() && list_->count() > 0) {
    list_->setCurrentRow(0);
    show_page(list_->currentItem()->data(Qt::UserRole).toString());
  }
  if (list_->count() == 0)
    (new QListWidgetItem(tr("No page has all of these words."), list_))->setFlags(Qt::NoItemFlags);
  mark();
}

// What was looked for, where it stands.
void Manual::mark() {
  const QStringList wanted = words_->text().split(QLatin1Char(' '), Qt::SkipEmptyParts);
  QList<QTextEdit::ExtraSelection> marks;
  for (const QString& word : wanted)
    for (QTextCursor at = text_->document()->find(word); !at.isNull() && marks.size() < 200;
         at = text_->document()->find(word, at)) {
      QTextEdit::ExtraSelection mark;
      mark.cursor = at;
      mark.format.setBackground(theme_.colours().tint);
      marks << mark;
    }
  text_->setExtraSelections(marks);
}

void Manual::open_at(const QString& name) {
  const bool is_there = std::ranges::find(pages_, name, &Page::name) != pages_.end();
  show_page(is_there ? name : QLatin1String(contents));
  search(words_->text());
  show();
  raise();
  activateWindow();
  text_->setFocus();
}

void Manual::open_at_word(const QString& word) {
  words_->clear();
  open_at(QLatin1String(words_page));
  if (word.isEmpty()) return;
  text_->moveCursor(QTextCursor::Start);
  if (!text_->find(word)) return;
  const int below = text_->cursorRect().top() - text_->viewport()->height() / 4;
  text_->verticalScrollBar()->setValue(text_->verticalScrollBar()->value() + below);
}

void Manual::show_page(const QString& name) {
  const auto page = std::ranges::find(pages_, name, &Page::name);
  if (page == pages_.end()) {
    text_->setPlainText(tr("The manual is missing: reinstall the program, or read docs/manual."));
    return;
  }
  shown_ = name;
  text_->setMarkdown(page->text);
  wear();
  if (name != QLatin1String(words_page)) link_words();
  mark();
  text_->verticalScrollBar()->setValue(0);
}

// The theme's faces and colours on what the markdown became.
void Manual::wear() {
  const Colours& colours = theme_.colours();
  list_->setFont(theme_.font(Face::text));
  QPalette palette = text_->palette();
  palette.setColor(QPalette::Base, colours.sheet);
  palette.setColor(QPalette::Text, colours.ink);
  text_->setPalette(palette);
  text_->document()->setDefaultFont(theme_.font(Face::text));
  text_->document()->setDocumentMargin(12);
  QTextCursor all(text_->document());
  all.beginEditBlock();  // laid out once, not after every word
  for (QTextBlock block = text_->document()->begin(); block.isValid(); block = block.next()) {
    all.setPosition(block.position());
    QTextBlockFormat format = block.blockFormat();
    format.setLineHeight(130, QTextBlockFormat::ProportionalHeight);
    const bool is_code = format.nonBreakableLines();
    format.setBottomMargin(is_code ? 0 : block.textList() ? 4 : 10);
    all.setBlockFormat(format);
    for (auto it = block.begin(); !it.atEnd(); ++it) {
      const QTextCharFormat was = it.fragment().charFormat();
      QTextCharFormat now;
      now.setForeground(was.isAnchor() ? colours.accent : colours.ink);
      now.setFontUnderline(was.isAnchor());
      if (block.blockFormat().headingLevel() > 0)
        now.setFont(theme_.font(block.blockFormat().headingLevel() == 1 ? Face::title : Face::strong));
      else if (is_code || was.fontFixedPitch())
        now.setFont(theme_.font(Face::code));
      all.setPosition(it.fragment().position());
      all.setPosition(it.fragment().position() + it.fragment().length(), QTextCursor::KeepAnchor);
      all.mergeCharFormat(now);
    }
  }
  all.endEditBlock();
}

// A word of the trade leads to its meaning where a page first uses it; quietly, for it is read more often than asked.
void Manual::link_words() {
  // In running text these mostly mean something else: what counts, what is fair, a program's code.
  static const QStringList everyday = {QStringLiteral("code, count"), QStringLiteral("fair, tight, unfair"),
                                       QStringLiteral("Code, Codes, Rohwert"), QStringLiteral("fair, knapp, unfair")};
  std::set<const Glossary::Term*> linked;
  QTextCursor at(text_->document());
  at.beginEditBlock();
  for (QTextBlock block = text_->document()->begin(); block.isValid(); block = block.next()) {
    if (block.blockFormat().headingLevel() > 0 || block.blockFormat().nonBreakableLines()) continue;
    for (const Glossary::Use& use : glossary().uses(block.text())) {
      at.setPosition(block.position() + static_cast<int>(use.from));
      at.setPosition(at.position() + static_cast<int>(use.length), QTextCursor::KeepAnchor);
      const bool is_code = at.charFormat().font().family() == theme_.font(Face::code).family();
      if (at.charFormat().isAnchor() || is_code || linked.contains(use.term) || everyday.contains(use.term->word))
        continue;
      linked.insert(use.term);
      QUrl url;
      url.setScheme(QLatin1String(word_scheme));
      url.setPath(use.term->word);
      QTextCharFormat link;
      link.setAnchor(true);
      link.setAnchorHref(url.toString(QUrl::FullyEncoded));
      link.setUnderlineStyle(QTextCharFormat::DotLine);
      link.setUnderlineColor(theme_.colours().accent);
      at.mergeCharFormat(link);
    }
  }
  at.endEditBlock();
}

}  // namespace fair_gauge::app

#include "moc_manual.cpp"
