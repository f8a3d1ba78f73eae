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

#include "shell/announcements.h"
#include "shell/language.h"
#include "shell/main_window.h"
#include "shell/memory.h"
#include "shell/screenshots.h"
#include "shell/settings.h"
#include "shell/walk.h"

namespace {
int end_pipe[2] = {-1, -1};
}

int main(int count, char** words) {
  using namespace fair_gauge::app;
  // Also without a display.
  if (count == 2 && (std::string_view(words[1]) == "--version" || std::string_view(words[1]) == "-v"))
    return std::puts("Fair Gauge " FAIR_GAUGE_VERSION) < 0 ? 1 : 0;
  share_one_heap();
  QCoreApplication::setApplicationName(QStringLiteral("fair-gauge"));
  QCoreApplication::setOrganizationName(QStringLiteral("fair-gauge"));
  // The language first: it is asked for by everything that is read and built.
  const std::vector<std::string_view> asked(words + 1, words + count);
  const auto is_asked = [&](std::string_view word) { return std::ranges::find(asked, word) != asked.end(); };
  if (is_asked("--help") || is_asked("-h")) qputenv("QT_QPA_PLATFORM", "offscreen");
  const auto is_set = [](const char* name) { return !qEnvironmentVariableIsEmpty(name); };
  if (!is_set("DISPLAY") && !is_set("WAYLAND_DISPLAY") && !is_set("QT_QPA_PLATFORM") && !is_asked("-platform")) {
    std::fputs(
        "fair-gauge needs a display, and neither DISPLAY nor WAYLAND_DISPLAY names one; fair-gauge-cli works "
        "without\n",
        stderr);
    return 1;
  }
  const auto word_after = [&](std::string_view name) {
    const auto found = std::ranges::find(asked, name);
    return found == asked.end() || std::next(found) == asked.end() ? std::string_view() : *std::next(found);
  };
  const bool for_pictures = is_asked("--screenshots");
  QString language = QString::fromStdString(std::string(word_after("--language")));
  if (language.isEmpty()) language = for_pictures ? QStringLiteral("en") : Settings::read().language;
  use_language(language);
  // Read while the library of the window is still waking up.
  auto catalogue = std::async(
      std::launch::async, [] { return std::make_shared<const fair_gauge::Catalogue>(fair_gauge::load_catalogue()); });
  QApplication application(count, words);
  install_window_texts(language);
  QApplication::setApplicationDisplayName(QStringLiteral("Fair Gauge"));
  QApplication::setApplicationVersion(QStringLiteral(FAIR_GAUGE_VERSION));
  QApplication::setWindowIcon(QIcon(QStringLiteral(":/icons/program.svg")));
  QApplication::setDesktopFileName(QStringLiteral("example.fairgauge.FairGauge"));
  tell_news_only();
  QApplication::setStyle(QStyleFactory::create(QStringLiteral("Fusion")));

  QCommandLineParser parser;
  parser.setApplicationDescription(
      QApplication::tr("From raw counts and bytes to physical units whose error is known."));
  const QCommandLineOption help = parser.addHelpOption(), version = parser.addVersionOption();
  parser.addPositionalArgument(QStringLiteral("bench"), QApplication::tr("a bench file to open"),
                               QStringLiteral("[bench]"));
  const QCommandLineOption demo(QStringLiteral("demo"),
                                QApplication::tr("open the demonstration bench with the simulated shed"));
  const QCommandLineOption screenshots(QStringLiteral("screenshots"),
                                       QApplication::tr("write pictures of the main views and exit"),
                                       QStringLiteral("folder"));
  const QCommandLineOption dark(QStringLiteral("dark"), QApplication::tr("dark paper"));
  const QCommandLineOption scale(QStringLiteral("text-scale"), QApplication::tr("size of text, 0.8 to 2"),
                                 QStringLiteral("factor"), QStringLiteral("1"));
  const QCommandLineOption spoken(QStringLiteral("language"),
                                  QApplication::tr("language of the window: en, or one that is translated"),
                                  QStringLiteral("code"));
  const QCommandLineOption size(QStringLiteral("size"), QApplication::tr("size of the window"),
                                QStringLiteral("WIDTHxHEIGHT"), QStringLiteral("1280x800"));
  const QCommandLineOption first_paint(QStringLiteral("exit-after-first-paint"),
                                       QApplication::tr("for measuring the start"));
  parser.addOptions({demo, screenshots, dark, scale, spoken, size, first_paint});
  // Not by process(), which ends the program while the catalogue is being read beside it.
  const bool understood = parser.parse(QApplication::arguments());
  if (!understood) return std::fprintf(stderr, "%s\n", qPrintable(parser.errorText())), 1;
  if (parser.isSet(help)) return std::puts(qPrintable(parser.helpText())) < 0 ? 1 : 0;
  if (parser.isSet(version)) return std::puts("Fair Gauge " FAIR_GAUGE_VERSION) < 0 ? 1 : 0;

  for (const QString& missing : Theme::load_faces())
    std::fprintf(stderr, "the face %s could not be loaded\n", qPrintable(missing));
  Settings settings = parser.isSet(screenshots) ? Settings() : Settings::read();
  settings.language = language;
  const bool wants_dark = settings.tone() == Theme::Tone::dark;  // asked before the program's own colours are in place
  if (settings.decimal_mark != DecimalMark::as_language || !language.isEmpty()) settings.set_locale();
  Theme theme;
  Workbench workbench(catalogue.get());
  const double text_scale =
      parser.isSet(scale) || parser.isSet(screenshots) ? parser.value(scale).toDouble() : settings.text_scale;
  theme.set(parser.isSet(dark) || wants_dark ? Theme::Tone::dark : Theme::Tone::light,
            std::isfinite(text_scale) ? text_scale : 1);
  MainWindow window(theme, workbench);

  const QString wanted = parser.value(size);
  QSize first(wanted.section(QLatin1Char('x'), 0, 0).toInt(), wanted.section(QLatin1Char('x'), 1).toInt());
  if (!parser.isSet(size) && !parser.isSet(screenshots))  // 40 for the frame of the desktop
    first = first.boundedTo(window.screen()->availableSize() - QSize(0, 40));
  window.resize(first);

  const auto files = parser.positionalArguments();
  if (!files.isEmpty())
    window.open(files.front());
  else if (parser.isSet(demo) || parser.isSet(screenshots))
    window.open_demonstration();
  if (parser.isSet(screenshots)) {
    const auto written = take_screenshots(window, theme, workbench, parser.value(screenshots));
    if (written)
      std::printf("%d pictures in %s\n", *written, qPrintable(parser.value(screenshots)));
    else
      std::fprintf(stderr, "%s\n", fair_gauge::to_text(written.problem()).c_str());
    return written ? 0 : 4;
  }
  if (files.isEmpty() && !parser.isSet(screenshots)) window.offer_homeless_leftovers();
  // A polite end (SIGTERM, SIGHUP, SIGINT) keeps what is unsaved. The handler may do no more than write a byte.
  if (::pipe2(end_pipe, O_CLOEXEC | O_NONBLOCK) == 0) {
    for (const int signal : {SIGTERM, SIGHUP, SIGINT})
      std::signal(signal, [](int) { (void)!::write(end_pipe[1], "!", 1); });
    auto* end = new QSocketNotifier(end_pipe[0], QSocketNotifier::Read, &window);
    QObject::connect(end, &QSocketNotifier::activated, &window, [&workbench] {
      workbench.document().write_autosave();
      workbench.document().finish_autosave();
      std::_Exit(0);
    });
  }
  if (!parser.isSet(size)) window.take_up_again();
  window.show();
  if (files.isEmpty() && !Walk::was_walked() && !parser.isSet(first_paint)) window.walk();
  QTimer::singleShot(0, &window, give_freed_memory_back);
  // A timer of zero fires once the events of showing, the first paint among them, are done.
  if (parser.isSet(first_paint)) QTimer::singleShot(0, [&window] { window.repaint(), std::_Exit(0); });
  return QApplication::exec();
}
