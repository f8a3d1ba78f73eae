// What a screen reader is told: names that changed, of what is seen, and of a live number not more often than it can be
// heard.
#pragma once

#include <QAccessible>

namespace fair_gauge::app {

/// Whether an event is worth saying. Of a name or description: its object is visible, the words are others than those
/// told last, and, unless it has the focus, those are a second old: else the event comes again then. Any other event
/// is.
bool is_news(QAccessibleEvent& event);

/// From now on only news goes to the desktop's accessibility.
void tell_news_only();

}  // namespace fair_gauge::app
