#include "shell/announcements.h"

#include <QElapsedTimer>
#include <QHash>
#include <QTimer>
#include <QWidget>
#include <utility>

namespace fair_gauge::app {
namespace {

constexpr qint64 pause_ms = 1000;

struct Told {
  QString words;
  QElapsedTimer since;
  bool waits = false;  // what came too soon is looked at again
};

void pass_on(QAccessibleEvent* event) {
  if (!is_news(*event)) return;
  QAccessible::installUpdateHandler(nullptr);  // the library's own way, which a handler takes the place of
  QAccessible::updateAccessibility(event);
  QAccessible::installUpdateHandler(pass_on);
}

}  // namespace

bool is_news(QAccessibleEvent& event) {
  const bool is_name = event.type() == QAccessible::NameChanged;
  if (!is_name && event.type() != QAccessible::DescriptionChanged) return true;
  auto* widget = qobject_cast<QWidget*>(event.object());
  if (!widget) return true;
  if (!widget->isVisible()) return false;
  const QAccessibleInterface* shown = event.accessibleInterface();
  const QString words = shown ? shown->text(is_name ? QAccessible::Name : QAccessible::Description) : QString();
  static QHash<std::pair<const QObject*, bool>, Told> told;
  const std::pair<const QObject*, bool> key{widget, is_name};
  auto last = told.find(key);
  if (last == told.end()) {
    QObject::connect(widget, &QObject::destroyed, [key] { told.remove(key); });
  } else if (last->words == words) {
    return false;
  } else if (const qint64 left = pause_ms - last->since.elapsed(); !widget->hasFocus() && left > 0) {
    // The last words are told in any case, a little later.
    if (!std::exchange(last->waits, true))
      QTimer::singleShot(static_cast<int>(left) + 1, widget, [widget, key, type = event.type()] {
        told[key].waits = false;
        QAccessibleEvent again(widget, type);
        QAccessible::updateAccessibility(&again);
      });
    return false;
  }
  Told& now = told[key];
  now.words = words;
  now.since.start();
  return true;
}

void tell_news_only() { QAccessible::installUpdateHandler(pass_on); }

}  // namespace fair_gauge::app
