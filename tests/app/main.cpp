// Runs the window's tests with a home of their own, so that no test meets a person's files.
#include <gtest/gtest.h>

#include <QApplication>
#include <QSettings>
#include <QStyleFactory>
#include <QTemporaryDir>
#include <QTimer>
#include <cstdio>
#include <string_view>

#include "correct/session_points.h"
#include "files/file.h"
#include "language/translation.h"
#include "logbook/logbook_page.h"
#include "parts/catalogue.h"
#include "shell/document.h"
#include "shell/language.h"
#include "shell/main_window.h"
#include "sources/recording.h"
#include "watch/watch_page.h"

namespace {

// What the kill test runs and kills: a bench that is edited every few milliseconds, each edit said on standard output.
int edit_for_ever(int count, char** words) {
  QCoreApplication application(count, words);
  fair_gauge::app::Document document;
  if (!document.open(QString::fromLocal8Bit(words[2]))) return 1;
  int edits = 0;
  QTimer timer;
  QObject::connect(&timer, &QTimer::timeout, [&] {
    ++edits;
    document.edit(QStringLiteral("Place"), [&](fair_gauge::Bench& bench) { bench.place = std::to_string(edits); });
    std::printf("edit %d\n", edits);
    std::fflush(stdout);
  });
  timer.start(20);
  return QCoreApplication::exec();
}

void name_application() {
  QApplication::setApplicationName(QStringLiteral("fair-gauge-tests"));
  QApplication::setOrganizationName(QStringLiteral("fair-gauge-tests"));
  QApplication::setStyle(QStyleFactory::create(QStringLiteral("Fusion")));
}

// The same with the whole window on a live bench, which records into a file: edits, points of a calibration and entries
// of the logbook, each said once it is done.
int use_for_ever(int count, char** words) {
  using namespace fair_gauge::app;
  QApplication application(count, words);
  name_application();
  Theme::load_faces();
  Theme theme;
  Workbench workbench(std::make_shared<const fair_gauge::Catalogue>(fair_gauge::load_catalogue()));
  MainWindow window(theme, workbench);
  window.open(QString::fromLocal8Bit(words[2]));
  window.show();
  workbench.document().edit(QStringLiteral("often"), [](fair_gauge::Bench& bench) {
    for (fair_gauge::Channel& channel : bench.channels) channel.period_s = 0.2;
  });
  workbench.listen_to_simulation();
  if (!window.watch().record_to(QString::fromLocal8Bit(words[3])).isEmpty()) return 1;
  int step = 0, entries = 0;
  std::uint64_t rows = 0;
  const auto say = [](const char* what, int number) {
    std::printf("%s %d\n", what, number);
    std::fflush(stdout);
  };
  QTimer timer;
  QObject::connect(&timer, &QTimer::timeout, [&] {
    ++step;
    if (const std::uint64_t now = workbench.recording().rows(); now != std::exchange(rows, now))
      say("rows", static_cast<int>(now));
    if (step % 17 == 0) {
      window.show_page(static_cast<Page>(step / 17 % 9));
    } else if (step % 7 == 0) {
      keep_points(workbench, "substrate", {{.reference = 20, .reading = static_cast<double>(step)}});
      say("point", step);
    } else if (step % 11 == 0) {
      fair_gauge::LogEntry entry;
      entry.words = "step " + std::to_string(step);
      if (window.logbook().write(entry).isEmpty()) say("entry", ++entries);
    } else {
      workbench.document().edit(QStringLiteral("Place"),
                                [&](fair_gauge::Bench& bench) { bench.place = std::to_string(step); });
      say("edit", step);
    }
  });
  timer.start(40);
  return QApplication::exec();
}

// "de", or "marked": every text that can be translated between marks.
void speak(const std::string& language) {
  using fair_gauge::Translation;
  const auto text = fair_gauge::read_file(FAIR_GAUGE_SOURCE "/data/translations/de.po", 16u << 20);
  auto german = Translation::of_po(*text);
  if (language == "marked") {
    std::vector<std::pair<std::string, std::string>> entries;
    for (const auto& [english, other] : german.entries()) entries.emplace_back(english, "⟦" + english + "⟧");
    german = Translation::of_entries(entries);
  }
  fair_gauge::use_translation(std::make_shared<const Translation>(std::move(german)));
}

// Every test begins on a machine on which nothing was set.
class NothingSet : public testing::EmptyTestEventListener {
  void OnTestStart(const testing::TestInfo& /*test*/) override { QSettings().clear(); }
};

}  // namespace

int main(int count, char** words) {
  if (count == 3 && std::string_view(words[1]) == "--edit") return edit_for_ever(count, words);
  if (count == 4 && std::string_view(words[1]) == "--use") return use_for_ever(count, words);
  const QTemporaryDir home;
  for (const char* name : {"HOME", "XDG_CONFIG_HOME", "XDG_STATE_HOME", "XDG_DATA_HOME"})
    qputenv(name, home.path().toUtf8());
  qputenv("LC_ALL", "C");
  if (qEnvironmentVariableIsEmpty("QT_QPA_PLATFORM")) qputenv("QT_QPA_PLATFORM", "offscreen");
  testing::InitGoogleTest(&count, words);
  // In another language only the tests of it run, and they only there.
  if (const QByteArray language = qgetenv("FAIR_GAUGE_TEST_LANGUAGE"); !language.isEmpty())
    speak(language.toStdString());
  else
    testing::GTEST_FLAG(filter) +=
        testing::GTEST_FLAG(filter).find('-') == std::string::npos ? "-LanguageTest.*" : ":LanguageTest.*";
  QApplication application(count, words);
  name_application();
  fair_gauge::app::install_window_texts(QString());
  testing::UnitTest::GetInstance()->listeners().Append(new NothingSet);
  return RUN_ALL_TESTS();
}
