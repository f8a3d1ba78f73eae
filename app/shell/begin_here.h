// What stands where a page works on a channel and the bench has none yet: what the page is for, and the ways to a
// channel.
#pragma once

#include <QPushButton>
#include <QWidget>

#include "digital/answering_parts.h"
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
  /// \param answering  the parts that may have sent its bytes
  void set_page(Page page, const QString& bare, const std::vector<AnsweringPart>& answering);

 signals:
  /// A part of the catalogue, by its id, is the one.
  void part_wanted(const std::string& id);
  void page_wanted(fair_gauge::app::Page page);
  void demonstration_wanted();

 private:
  void list_answering(const std::vector<AnsweringPart>& answering);

  const Theme& theme_;
  Text* title_;
  Text *words_, *how_, *answer_;
  QVBoxLayout* answering_;
  std::vector<std::string> listed_;  // ids of the parts in it
  QPushButton *listen_, *demonstration_;
};

}  // namespace fair_gauge::app
