// fair-gauge: the window.
#include <fcntl.h>
#include <unistd.h>

#include <QApplication>
#include <QCommandLineParser>
#include <QElapsedTimer>
#include <QScreen>
#include <QSocketNotifier>
#include <QStyleFactory>
#include <QTimer>
#include <algorithm>
#include <cmath>
#include <csignal>
#include <cstdio>
#include <cstdlib>
#include <future>
#include <memory>
#include <string>
#include <string_view>
#include <vector>

#include "language/translation.h"
#include "shell/announcements.h"
#include "shell/language.h"
#include "shell/main_window.h"
#include "shell/memory.h"
#include "shell/screenshots.h"
#include "shell/settings.h"
#include "shell/walk.h"

namespace fair_gauge::app {
namespace {

int end_pipe[2] = {-1, -1};

// The words of the call, before there is an application that could take them apart.
class Asked {
 public:
  Asked(int count, char** words) : words_(words + 1, words + count) {}
  bool has(std::string_view word) const { return std::ranges::find(words_, word) != words_.end(); }
  std::string_view after(std::string_view name) const {
    const auto found = std::ranges::find(words_, name);
    return found == words_.end() || std::next(found) == words_.end() ? std::string_view() : *std::next(found);
  }
  bool lacks_display() const {
    const auto is_set = [](const char* name) { return !qEnvironmentVariableIsEmpty(name); };
    return !is_set("DISPLAY") && !is_set("WAYLAND_DISPLAY") && !is_set("QT_QPA_PLATFORM") && !has("-platform");
  }
  /// As it is asked for, else as the settings say; pictures are of the English window.
  QString language() const {
    QString asked = QString::fromStdString(std::string(after("--language")));
    if (!asked.isEmpty()) return asked;
    return has("--screenshots") ? QStringLiteral("en") : Settings::read().language;
  }

 private:
  std::vector<std::string_view> words_;
};

// What may be said when the program is called.
struct Words {
  QCommandLineParser parser;
  QCommandLineOption help = parser.addHelpOption(), version = parser.addVersionOption();
  QCommandLineOption demo{QStringLiteral("demo"), QApplication::tr("open the demonstration bench with its simulation")};
  QCommandLineOption screenshots{QStringLiteral("screenshots"),
                                 QApplication::tr("write pictures of the main views and exit"),
                                 QStringLiteral("folder")};
  QCommandLineOption dark{QStringLiteral("dark"), QApplication::tr("dark paper")};
  QCommandLineOption scale{QStringLiteral("text-scale"), QApplication::tr("size of text, 0.8 to 2"),
                           QStringLiteral("factor"), QStringLiteral("1")};
  QCommandLineOption spoken{QStringLiteral("language"),
                            QApplication::tr("language of the window: en, or one that is translated"),
                            QStringLiteral("code")};
  QCommandLineOption size{QStringLiteral("size"), QApplication::tr("size of the window"),
                          QStringLiteral("WIDTHxHEIGHT"), QStringLiteral("1280x800")};
  QCommandLineOption first_paint{QStringLiteral("exit-after-first-paint"), QApplication::tr("for measuring the start")};

  Words() {
    parser.setApplicationDescription(
        QApplication::tr("From raw counts and bytes to physical units whose error is known."));
    parser.addPositionalArgument(QStringLiteral("bench"),
                                 QApplication::tr("a bench, a log or a capture of lines to open"),
                                 QStringLiteral("[file]"));
    parser.addOptions({demo, screenshots, dark, scale, spoken, size, first_paint});
  }
  bool has(const QCommandLineOption& option) const { return parser.isSet(option); }
};

void name_program() {
  QApplication::setApplicationDisplayName(QStringLiteral("Fair Gauge"));
  QApplication::setApplicationVersion(QStringLiteral(FAIR_GAUGE_VERSION));
  QApplication::setWindowIcon(QIcon(QStringLiteral(":/icons/program.svg")));
  QApplication::setDesktopFileName(QStringLiteral("example.fairgauge.FairGauge"));
  QApplication::setStyle(QStyleFactory::create(QStringLiteral("Fusion")));
}

// The colours and the size of text that are asked for, or else those of the settings.
void set_up(Theme& theme, const Words& words, const Settings& settings, bool wants_dark) {
  const double text_scale = words.has(words.scale) || words.has(words.screenshots)
                                ? words.parser.value(words.scale).toDouble()
                                : settings.text_scale;
  theme.set(words.has(words.dark) || wants_dark ? Theme::Tone::dark : Theme::Tone::light,
            std::isfinite(text_scale) ? text_scale : 1);
}

void give_size(MainWindow& window, const Words& words) {
  const QString wanted = words.parser.value(words.size);
  QSize first(wanted.section(QLatin1Char('x'), 0, 0).toInt(), wanted.section(QLatin1Char('x'), 1).toInt());
  if (!words.has(words.size) && !words.has(words.screenshots))  // 40 for the frame of the desktop
    first = first.boundedTo(window.screen()->availableSize() - QSize(0, 40));
  window.resize(first);
}

// A polite end (SIGTERM, SIGHUP, SIGINT) keeps what is unsaved. The handler may do no more than write a byte.
void end_politely(MainWindow& window, Workbench& workbench) {
  if (::pipe2(end_pipe, O_CLOEXEC | O_NONBLOCK) != 0) return;
  for (const int signal : {SIGTERM, SIGHUP, SIGINT})
    std::signal(signal, [](int) { (void)!::write(end_pipe[1], "!", 1); });
  auto* end = new QSocketNotifier(end_pipe[0], QSocketNotifier::Read, &window);
  QObject::connect(end, &QSocketNotifier::activated, &window, [&workbench] {
    workbench.document().write_autosave();
    workbench.document().finish_autosave();
    std::_Exit(0);
  });
}

int take_pictures(MainWindow& window, Theme& theme, Workbench& workbench, const QString& folder) {
  const auto written = take_screenshots(window, theme, workbench, folder);
  if (written)
    std::printf("%d pictures in %s\n", *written, qPrintable(folder));
  else
    std::fprintf(stderr, "%s\n", to_text(written.problem()).c_str());
  return written ? 0 : 4;
}

}  // namespace
}  // namespace fair_gauge::app

int main(int count, char** given) {
  using namespace fair_gauge::app;
  const Asked asked(count, given);
  // Also without a display.
  if (count == 2 && (asked.has("--version") || asked.has("-v")))
    return std::puts("Fair Gauge " FAIR_GAUGE_VERSION) < 0 ? 1 : 0;
  share_one_heap();
  QCoreApplication::setApplicationName(QStringLiteral("fair-gauge"));
  QCoreApplication::setOrganizationName(QStringLiteral("fair-gauge"));
  // The language first: it is asked for by everything that is read and built.
  const QString language = asked.language();
  use_language(language);
  if (asked.has("--help") || asked.has("-h")) qputenv("QT_QPA_PLATFORM", "offscreen");
  if (asked.lacks_display()) {
    std::fprintf(
        stderr, "%s\n",
        fair_gauge::translated("fair-gauge needs a display, and neither DISPLAY nor WAYLAND_DISPLAY names one; "
                               "fair-gauge-cli works without"));
    return 1;
  }
  // Read while the library of the window is still waking up.
  auto catalogue = std::async(
      std::launch::async, [] { return std::make_shared<const fair_gauge::Catalogue>(fair_gauge::load_catalogue()); });
  QApplication application(count, given);
  install_window_texts(language);
  name_program();
  tell_news_only();

  Words words;
  // Not by process(), which ends the program while the catalogue is being read beside it.
  if (!words.parser.parse(QApplication::arguments()))
    return std::fprintf(stderr, "%s\n", qPrintable(words.parser.errorText())), 1;
  if (words.has(words.help)) return std::puts(qPrintable(words.parser.helpText())) < 0 ? 1 : 0;
  if (words.has(words.version)) return std::puts("Fair Gauge " FAIR_GAUGE_VERSION) < 0 ? 1 : 0;
  const bool for_pictures = words.has(words.screenshots);

  for (const QString& missing : Theme::load_faces())
    std::fprintf(stderr, "the face %s could not be loaded\n", qPrintable(missing));
  Settings settings = for_pictures ? Settings() : Settings::read();
  settings.language = language;
  const bool wants_dark = settings.tone() == Theme::Tone::dark;  // asked before the program's own colours are in place
  if (settings.decimal_mark != DecimalMark::as_language || !language.isEmpty()) settings.set_locale();
  Theme theme;
  Workbench workbench(catalogue.get());
  set_up(theme, words, settings, wants_dark);
  MainWindow window(theme, workbench);
  give_size(window, words);

  const auto files = words.parser.positionalArguments();
  if (!files.isEmpty())
    window.take_file(files.front());
  else if (words.has(words.demo) || for_pictures)
    window.open_demonstration();
  if (for_pictures) return take_pictures(window, theme, workbench, words.parser.value(words.screenshots));
  if (files.isEmpty()) window.offer_homeless_leftovers();
  end_politely(window, workbench);
  if (!words.has(words.size)) window.take_up_again();
  window.show();
  if (files.isEmpty() && !Walk::was_walked() && !words.has(words.first_paint)) window.walk();
  QTimer::singleShot(0, &window, give_freed_memory_back);
  // A timer of zero fires once the events of showing, the first paint among them, are done.
  if (words.has(words.first_paint)) QTimer::singleShot(0, [&window] { window.repaint(), std::_Exit(0); });
  return QApplication::exec();
}
