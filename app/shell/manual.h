// The manual inside the program: its pages, a search over them, and which page belongs to a view.
#pragma once

#include <QDialog>
#include <QLineEdit>
#include <QListWidget>
#include <QTextBrowser>
#include <vector>

#include "widgets/theme.h"

namespace fair_gauge::app {

class Manual : public QDialog {
  Q_OBJECT
 public:
  Manual(const Theme& theme, const QString& folder, QWidget* parent);
  /// Opens at a page. \param name  of its file, without ".md"; one that is not there → the contents
  void open_at(const QString& name);
  /// Opens the page of words at one of them.
  void open_at_word(const QString& word);
  /// The name of the page that is shown.
  const QString& shown() const { return shown_; }

  /// Where the manual that belongs to this program lies, in the language in use if there is one, else in English.
  static QString folder();
  /// The page about a page of the window and one of its views, by page_key().
  static QString page_about(const QString& page, int view);

 private:
  struct Page {
    QString name, title, text;
  };
  void show_page(const QString& name);
  void search(const QString& words);
  void mark();
  void wear();
  void link_words();

  const Theme& theme_;
  std::vector<Page> pages_;
  QString shown_;
  QLineEdit* words_;
  QListWidget* list_;
  QTextBrowser* text_;
};

}  // namespace fair_gauge::app
