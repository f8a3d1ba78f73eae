// Runs the window's tests with a home of their own, so that no test meets a person's files.
#include <gtest/gtest.h>

#include <QApplication>
#include <QStyleFactory>
#include <QTemporaryDir>
#include <QTimer>
#include <cstdio>
#include <string_view>

#include "shell/document.h"

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
    std::printf("%d\n", edits);
    std::fflush(stdout);
  });
  timer.start(20);
  return QCoreApplication::exec();
}

}  // namespace

int main(int count, char** words) {
  if (count == 3 && std::string_view(words[1]) == "--edit") return edit_for_ever(count, words);
  const QTemporaryDir home;
  for (const char* name : {"HOME", "XDG_CONFIG_HOME", "XDG_STATE_HOME", "XDG_DATA_HOME"})
    qputenv(name, home.path().toUtf8());
  qputenv("LC_ALL", "C");
  if (qEnvironmentVariableIsEmpty("QT_QPA_PLATFORM")) qputenv("QT_QPA_PLATFORM", "offscreen");
  testing::InitGoogleTest(&count, words);
  QApplication application(count, words);
  QApplication::setApplicationName(QStringLiteral("fair-gauge-tests"));
  QApplication::setOrganizationName(QStringLiteral("fair-gauge-tests"));
  QApplication::setStyle(QStyleFactory::create(QStringLiteral("Fusion")));
  return RUN_ALL_TESTS();
}
