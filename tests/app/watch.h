// What the Watch tests begin with: a folder for logs, and a page that has come to rest.
#pragma once

#include <QFile>
#include <QTemporaryDir>

#include <cmath>
#include <random>

#include "watch/watch_page.h"
#include "window.h"

namespace fair_gauge::app {

class WatchTest : public WindowTest {
 protected:
  WatchTest() { workbench_.choose_channel("substrate"); }
  void settle() {
    EXPECT_TRUE(comes([this] { return !window_.watch().log().is_reading(); }));
    QTest::qWait(20);
  }
  QString file(const char* name) { return folder_.filePath(QLatin1String(name)); }
  // Rows of counts, ten seconds apart but where `times` says otherwise.
  QString log_of(const std::vector<int>& counts, const std::function<double(std::size_t)>& time) {
    const QString path = file("log.csv");
    QFile out(path);
    EXPECT_TRUE(out.open(QIODevice::WriteOnly));
    out.write("time,counts\n");
    for (std::size_t i = 0; i < counts.size(); ++i)
      out.write(QStringLiteral("%1,%2\n").arg(time(i), 0, 'f', 3).arg(counts[i]).toUtf8());
    return path;
  }
  void open(const QString& path) {
    window_.watch().open(path);
    settle();
  }
  std::vector<int> noisy(std::size_t count, double sigma) {
    std::mt19937 random(7);
    std::normal_distribution<double> normal(2230, sigma);
    std::vector<int> counts;
    for (std::size_t i = 0; i < count; ++i) counts.push_back(static_cast<int>(std::lround(normal(random))));
    return counts;
  }
  QString figure(int row) { return find<QTableWidget>("signal_figures")->item(row, 1)->text(); }

  QTemporaryDir folder_;
};

}  // namespace fair_gauge::app
