// Runs the window's tests with a home of their own, so that no test meets a person's files.
#include <gtest/gtest.h>

#include <QApplication>
#include <QStyleFactory>
#include <QTemporaryDir>

int main(int count, char** words) {
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
