// Labels in the theme's faces, and the small layouts every page uses.
#pragma once

#include <QBoxLayout>
#include <QGridLayout>
#include <QLabel>
#include <QPointer>
#include <QScrollArea>
#include <map>

#include "widgets/theme.h"

namespace fair_gauge::app {

enum class Tint { ink, quiet, accent, amber, red, second, bar };

/// A label in one of the theme's faces that follows theme changes.
class Text : public QLabel {
  Q_OBJECT
 public:
  Text(const Theme& theme, Face face, const QString& text = {}, Tint tint = Tint::ink, QWidget* parent = nullptr);
  /// Numbers in it get the decimal mark of the person's language.
  void setText(const QString& text);
  /// For code, paths and what a person has typed: as it stands.
  void set_verbatim(const QString& text);
  void set_tint(Tint tint);
  /// The mouse can mark and copy it. Not a state of its own while the mouse is elsewhere: text that can be marked is a
  /// document, and costs a document's time to lay out.
  void let_select() { selectable_ = true; }
  int heightForWidth(int width) const override;

 private:
  void changeEvent(QEvent* event) override;
  void enterEvent(QEnterEvent* event) override;
  void leaveEvent(QEvent* event) override;
  void wear();

  const Theme& theme_;
  QPointer<const Theme> alive_;
  Face face_;
  Tint tint_;
  bool selectable_ = false;
  // Measuring is most of what a repaint costs: layouts ask again and again for what has not changed.
  mutable QString measured_;
  mutable std::map<int, int> heights_;
};

QColor colour_of(const Theme& theme, Tint tint);

/// A vertical or horizontal layout without margins and with a gap on the grid.
QVBoxLayout* column(int gap = 4);
QHBoxLayout* row(int gap = 8);
QGridLayout* grid(int across = 8, int down = 4);

/// Makes a box scroll up and down, never sideways: a stop of the Tab key while there is something to scroll.
void scrolls_downwards(QScrollArea& box);

/// A page's part in a box that scrolls up and down when it is taller than its place, never sideways.
QScrollArea* scrolled(QWidget* inside);
/// A page's title beside its tabs: where it has no room it ends in dots, or goes.
class PageTitle : public Text {
  Q_OBJECT
 public:
  explicit PageTitle(const Theme& theme, const QString& whole = {});
  void set_whole(const QString& whole);

 protected:
  void resizeEvent(QResizeEvent* event) override;

 private:
  QString whole_;
};
QHBoxLayout* page_head(PageTitle* title, QWidget* tabs);
/// At the largest text what stands in a row there is not room for stands one above the other.
void stack_when_huge(const Theme& theme, QBoxLayout* row);
/// The same at any text that is larger than usual.
void stack_when_large(const Theme& theme, QBoxLayout* row);
/// A narrow side and what stands beside it; at the largest text one above the other, as wide as there is room and each
/// high enough to work in. \param width  of the narrow one at normal text, px \param others  with their stretch
QBoxLayout* sides(const Theme& theme, int gap, QWidget* narrow, int width,
                  const std::vector<std::pair<QWidget*, int>>& others);
/// What is asked in a narrow column, what is found in a wide one beside it; each scrolls by itself.
/// \param width  of the narrow one at normal text, px
QHBoxLayout* asked_and_found(const Theme& theme, QLayout* asked, int width, QLayout* found);

/// Deletes everything a layout holds.
void clear(QLayout* layout);

inline QString text_of(const std::string& text) { return QString::fromStdString(text); }
inline QString text_of(const char* text) { return QString::fromUtf8(text); }
inline QString text_of(std::string_view text) {
  return QString::fromUtf8(text.data(), static_cast<qsizetype>(text.size()));
}

/// A text for the eye: the numbers in it with the decimal mark of the person's language. The core's sentences and the
/// files of parts have a point. Versions, addresses, paths and dates stay as they are; not for code, nor for what is
/// read back.
QString in_own_marks(const QString& text);

/// The same text with each number held to the unit after it, so that no line ends between them.
QString unbroken(QString text);

/// With a capital at its beginning and a full stop at its end.
QString sentence(const std::string& words);

}  // namespace fair_gauge::app
