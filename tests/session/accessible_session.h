// A real session for the tests: a screen, a bus, and what a screen reader asks over it (AT-SPI), beside the program as
// it is started by its users. All of it ends with the session.
#pragma once

#include <QDBusConnection>
#include <QDBusMessage>
#include <QProcess>
#include <QStringList>
#include <QTemporaryDir>
#include <functional>
#include <memory>
#include <optional>
#include <vector>

namespace fair_gauge::session {

/// One thing that a screen reader can be at, as the program told it.
struct Thing {
  QString path;
  QString role, name;
  quint64 states = 0;
  bool has(unsigned state) const { return (states >> state & 1) != 0; }
};

/// Numbers of states, from AT-SPI's own list.
namespace state {
constexpr unsigned checked = 4, enabled = 8, focusable = 11, focused = 12, selected = 23, showing = 25;
}

class Session {
 public:
  /// \param words  of the program's command line
  explicit Session(const QStringList& words);
  Session(const Session&) = delete;
  Session& operator=(const Session&) = delete;
  ~Session();

  /// What a session needs and this machine lacks; empty → nothing.
  const QString& lacking() const { return lacking_; }
  /// Whether the program's window came.
  bool has_window() const { return has_window_; }

  /// Everything that is on the screen, from the window downwards. What hides is left out with all that is in it.
  std::vector<Thing> things();
  /// The one with this name that is shown; the first of several.
  std::optional<Thing> find(const QString& name);
  /// The first whose name begins so.
  std::optional<Thing> find_beginning(const QString& name);
  /// A thing's states as they are now; no name, no role.
  Thing state_of(const QString& path) const;
  /// The name of the label that belongs to it, or else its own description.
  QString label_of(const Thing& thing) const;
  /// The text that stands in it.
  QString text_of(const Thing& thing) const;
  /// Presses a button by its action, as a screen reader does. \returns false if there is none
  bool press(const Thing& thing);
  /// Clicks into the middle of a thing with the mouse of the screen. \returns false if it has no place
  bool click(const Thing& thing);
  /// One key, given to the screen. \param symbol  of X, such as 0xff09 for Tab
  void key(int symbol);
  /// Text, key by key, at the pace of a person.
  void type(const QString& text);
  /// Puts the keys' focus there.
  bool focus(const Thing& thing);
  /// Waits, a few seconds at most. \returns whether it came true
  static bool wait_for(const std::function<bool()>& condition);

 private:
  QDBusMessage ask(const QString& path, const QString& interface, const QString& method,
                   const QVariantList& arguments = {}) const;
  void walk(const QString& path, std::vector<Thing>& found, int depth) const;
  void name_it(Thing& thing) const;  ///< asks for its role and its name
  QVariant property(const QString& path, const QString& interface, const QString& name) const;
  QString frame() const;
  QString start(const QStringList& words);

  QTemporaryDir home_;
  QProcessEnvironment environment_;
  QProcess screen_, manager_, session_bus_, access_, program_;
  std::unique_ptr<QDBusConnection> bus_;
  QString service_, lacking_;
  bool has_window_ = false;
};

}  // namespace fair_gauge::session
