#include "session/accessible_session.h"
#include "../built.h"

#include <QCoreApplication>
#include <QDBusArgument>
#include <QDBusInterface>
#include <QDBusReply>
#include <QElapsedTimer>
#include <QFile>
#include <QThread>

namespace fair_gauge::session {
namespace {

const QString accessible = QStringLiteral("org.a11y.atspi.Accessible");
const QString root = QStringLiteral("/org/a11y/atspi/accessible/root");

// The first line that a program says, such as the address it is reached at.
QString first_line(QProcess& process) {
  while (process.state() == QProcess::Running && !process.canReadLine())
    if (!process.waitForReadyRead(10'000)) break;
  return QString::fromUtf8(process.readLine()).trimmed();
}

struct Reference {
  QString service, path;
};

std::vector<Reference> references_in(const QDBusArgument& list) {
  std::vector<Reference> found;
  list.beginArray();
  while (!list.atEnd()) {
    Reference each;
    QDBusObjectPath path;
    list.beginStructure();
    list >> each.service >> path;
    list.endStructure();
    each.path = path.path();
    found.push_back(each);
  }
  list.endArray();
  return found;
}

std::vector<Reference> references_in(const QDBusMessage& answer) {
  if (answer.type() != QDBusMessage::ReplyMessage || answer.arguments().isEmpty()) return {};
  return references_in(answer.arguments().front().value<QDBusArgument>());
}

}  // namespace

bool Session::wait_for(const std::function<bool()>& condition) {
  QElapsedTimer clock;
  clock.start();
  while (!condition()) {
    if (clock.elapsed() > 60'000) return false;
    QThread::msleep(20);
  }
  return true;
}

Session::Session(const QStringList& words) { lacking_ = start(words); }

QString Session::start(const QStringList& words) {
  environment_ = QProcessEnvironment::systemEnvironment();
  for (const auto* name : {"QT_QPA_PLATFORM", "WAYLAND_DISPLAY", "AT_SPI_BUS_ADDRESS"})
    environment_.remove(QString::fromLatin1(name));
  environment_.insert(QStringLiteral("HOME"), home_.path());
  environment_.insert(QStringLiteral("XDG_RUNTIME_DIR"), home_.path());
  environment_.insert(QStringLiteral("QT_LINUX_ACCESSIBILITY_ALWAYS_ON"), QStringLiteral("1"));
  const auto begin = [&](QProcess& process, const QString& program, const QStringList& arguments) {
    process.setProcessEnvironment(environment_);
    process.setStandardErrorFile(QProcess::nullDevice());
    process.start(program, arguments);
    return process.waitForStarted();
  };
  if (!begin(screen_, QStringLiteral("Xvfb"),
             {QStringLiteral("-displayfd"), QStringLiteral("1"), QStringLiteral("-screen"), QStringLiteral("0"),
              QStringLiteral("1280x800x24")}))
    return QStringLiteral("Xvfb is missing");
  environment_.insert(QStringLiteral("DISPLAY"), QStringLiteral(":") + first_line(screen_));
  if (!begin(manager_, QStringLiteral("evilwm"), {QStringLiteral("-fn"), QStringLiteral("cursor")}))
    return QStringLiteral("evilwm is missing");  // who gives the focus
  if (!begin(session_bus_, QStringLiteral("dbus-daemon"),
             {QStringLiteral("--session"), QStringLiteral("--nofork"), QStringLiteral("--print-address=1")}))
    return QStringLiteral("dbus-daemon is missing");
  const QString address = first_line(session_bus_);
  environment_.insert(QStringLiteral("DBUS_SESSION_BUS_ADDRESS"), address);
  if (!begin(access_, QStringLiteral("/usr/libexec/at-spi-bus-launcher"), {QStringLiteral("--launch-immediately")}))
    return QStringLiteral("at-spi2-core is missing");
  QString access_address;
  {
    QDBusConnection session = QDBusConnection::connectToBus(address, QStringLiteral("session"));
    wait_for([&] {
      const QDBusReply<QString> reply =
          session.call(QDBusMessage::createMethodCall(QStringLiteral("org.a11y.Bus"), QStringLiteral("/org/a11y/bus"),
                                                      QStringLiteral("org.a11y.Bus"), QStringLiteral("GetAddress")));
      access_address = reply.value();
      return !access_address.isEmpty();
    });
  }
  QDBusConnection::disconnectFromBus(QStringLiteral("session"));
  bus_ = std::make_unique<QDBusConnection>(QDBusConnection::connectToBus(access_address, QStringLiteral("access")));
  if (!bus_->isConnected()) return QStringLiteral("the bus of the screen readers did not come: ") + access_address;
  if (!begin(program_, QString::fromUtf8(fair_gauge::built::window), words))
    return QStringLiteral("the program did not start");
  has_window_ = wait_for([&] {
    for (const Reference& each : references_in(bus_->call(QDBusMessage::createMethodCall(
             QStringLiteral("org.a11y.atspi.Registry"), root, accessible, QStringLiteral("GetChildren")))))
      service_ = each.service;
    return !service_.isEmpty() && !frame().isEmpty();
  });
  return {};
}

Session::~Session() {
  for (QProcess* process : {&program_, &access_, &session_bus_, &manager_, &screen_}) {
    process->terminate();
    if (!process->waitForFinished(5'000)) process->kill(), process->waitForFinished();
  }
  bus_.reset();
  QDBusConnection::disconnectFromBus(QStringLiteral("access"));
}

QDBusMessage Session::ask(const QString& path, const QString& interface, const QString& method,
                          const QVariantList& arguments) const {
  QDBusMessage message = QDBusMessage::createMethodCall(service_, path, interface, method);
  message.setArguments(arguments);
  return bus_->call(message, QDBus::Block, 10'000);
}

QString Session::frame() const {
  const auto children = references_in(ask(root, accessible, QStringLiteral("GetChildren")));
  return children.empty() ? QString() : children.front().path;
}

QVariant Session::property(const QString& path, const QString& interface, const QString& name) const {
  const QDBusMessage answer =
      ask(path, QStringLiteral("org.freedesktop.DBus.Properties"), QStringLiteral("Get"), {interface, name});
  return answer.arguments().value(0).value<QDBusVariant>().variant();
}

Thing Session::state_of(const QString& path) const {
  Thing thing{.path = path};
  const QDBusMessage states = ask(path, accessible, QStringLiteral("GetState"));
  if (states.type() != QDBusMessage::ReplyMessage) return thing;  // gone meanwhile
  const auto words = qdbus_cast<QList<quint32>>(states.arguments().front());
  for (qsizetype i = 0; i < words.size(); ++i) thing.states |= quint64{words[i]} << (32 * i);
  return thing;
}

void Session::name_it(Thing& thing) const {
  thing.role = ask(thing.path, accessible, QStringLiteral("GetRoleName")).arguments().value(0).toString();
  thing.name = property(thing.path, accessible, QStringLiteral("Name")).toString();
}

QString Session::label_of(const Thing& thing) const {
  constexpr quint32 labelled_by = 2;
  const QDBusMessage answer = ask(thing.path, accessible, QStringLiteral("GetRelationSet"));
  if (answer.type() == QDBusMessage::ReplyMessage) {
    const auto relations = answer.arguments().front().value<QDBusArgument>();
    relations.beginArray();
    while (!relations.atEnd()) {
      quint32 kind = 0;
      relations.beginStructure();
      relations >> kind;
      const std::vector<Reference> labels = references_in(relations);
      relations.endStructure();
      if (kind == labelled_by && !labels.empty())
        return property(labels.front().path, accessible, QStringLiteral("Name")).toString();
    }
  }
  return property(thing.path, accessible, QStringLiteral("Description")).toString();
}

QString Session::text_of(const Thing& thing) const {
  return ask(thing.path, QStringLiteral("org.a11y.atspi.Text"), QStringLiteral("GetText"), {0, -1})
      .arguments()
      .value(0)
      .toString();
}

void Session::walk(const QString& path, std::vector<Thing>& found, int depth) const {
  Thing thing = state_of(path);
  if (depth > 40 || !thing.has(state::showing)) return;
  name_it(thing);
  if (thing.name.isEmpty() && !state_of(path).has(state::showing)) return;  // gone while it was asked
  found.push_back(thing);
  if (thing.role == QLatin1String("table")) return;  // its cells are said as one with it
  for (const Reference& child : references_in(ask(path, accessible, QStringLiteral("GetChildren"))))
    walk(child.path, found, depth + 1);
}

std::vector<Thing> Session::things() {
  std::vector<Thing> found;
  for (const Reference& window : references_in(ask(root, accessible, QStringLiteral("GetChildren"))))
    walk(window.path, found, 0);
  return found;
}

std::optional<Thing> Session::find(const QString& name) {
  for (const Thing& each : things())
    if (each.name == name) return each;
  return std::nullopt;
}

std::optional<Thing> Session::find_beginning(const QString& name) {
  for (const Thing& each : things())
    if (each.name.startsWith(name)) return each;
  return std::nullopt;
}

bool Session::press(const Thing& thing) {
  const QDBusMessage done = ask(thing.path, QStringLiteral("org.a11y.atspi.Action"), QStringLiteral("DoAction"), {0});
  return done.type() == QDBusMessage::ReplyMessage && done.arguments().value(0).toBool();
}

bool Session::focus(const Thing& thing) {
  const QDBusMessage done = ask(thing.path, QStringLiteral("org.a11y.atspi.Component"), QStringLiteral("GrabFocus"));
  return done.type() == QDBusMessage::ReplyMessage && done.arguments().value(0).toBool();
}

bool Session::click(const Thing& thing) {
  QThread::msleep(600);  // a person's second click, not a double one
  constexpr quint32 of_the_screen = 0;
  const QDBusMessage answer =
      ask(thing.path, QStringLiteral("org.a11y.atspi.Component"), QStringLiteral("GetExtents"), {of_the_screen});
  if (answer.type() != QDBusMessage::ReplyMessage) return false;
  int x = 0, y = 0, width = 0, height = 0;
  const auto extents = answer.arguments().front().value<QDBusArgument>();
  extents.beginStructure();
  extents >> x >> y >> width >> height;
  extents.endStructure();
  QDBusMessage message = QDBusMessage::createMethodCall(
      QStringLiteral("org.a11y.atspi.Registry"), QStringLiteral("/org/a11y/atspi/registry/deviceeventcontroller"),
      QStringLiteral("org.a11y.atspi.DeviceEventController"), QStringLiteral("GenerateMouseEvent"));
  message.setArguments({x + width / 2, y + height / 2, QStringLiteral("b1c")});
  return bus_->call(message, QDBus::Block, 10'000).type() == QDBusMessage::ReplyMessage;
}

void Session::key(int symbol) {
  constexpr quint32 symbol_given = 3;  // pressed and let go
  QDBusMessage message = QDBusMessage::createMethodCall(
      QStringLiteral("org.a11y.atspi.Registry"), QStringLiteral("/org/a11y/atspi/registry/deviceeventcontroller"),
      QStringLiteral("org.a11y.atspi.DeviceEventController"), QStringLiteral("GenerateKeyboardEvent"));
  message.setArguments({symbol, QString(), symbol_given});
  bus_->call(message, QDBus::Block, 10'000);
}

void Session::type(const QString& text) {
  for (const QChar each : text) {
    key(each.unicode());
    QThread::msleep(120);
  }
}

}  // namespace fair_gauge::session
