// What stands where a page works on a channel and the bench has none yet: what the page is for, and the ways to a
// channel.
#pragma once

#include <QPushButton>
#include <QWidget>

#include "widgets/text.h"

namespace fair_gauge::app {

enum class Page;

class BeginHere : public QWidget {
  Q_OBJECT
 public:
  explicit BeginHere(const Theme& theme, QWidget* parent = nullptr);

  /// True for the pages that have nothing to show without a channel.
  static bool is_for(Page page);
  /// \param page  one that `is_for` holds for
  /// \param bare  the channel whose numbers come while nobody has said which sensor makes them; empty → there is none
  void set_page(Page page, const QString& bare);

 signals:
  void page_wanted(fair_gauge::app::Page page);
  void demonstration_wanted();

 private:
  Text* title_;
  Text *words_, *how_;
  QPushButton *listen_, *demonstration_;
};

}  // namespace fair_gauge::app
