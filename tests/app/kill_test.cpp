// Kills at random moments: what was confirmed is there afterwards. FAIR_GAUGE_KILLS sets how often; a few by default,
// for a look at everything some hundreds.
#include <gmock/gmock.h>

#include <QElapsedTimer>
#include <QFile>
#include <QProcess>
#include <QSettings>
#include <QTemporaryDir>
#include <random>

#include "../built.h"
#include "correct/session_points.h"
#include "logbook/logbook.h"
#include "parts/catalogue.h"
#include "window.h"

namespace fair_gauge::app::kill_test {

class KillTest : public testing::Test {
 protected:
  KillTest() {
    path_ = folder_.filePath(QStringLiteral("mine.fairgauge.json"));
    QFile::copy(QString::fromStdString(data_folder()) + QStringLiteral("/demo/fernhollow.fairgauge.json"), path_);
    QFile::setPermissions(path_, QFile::ReadOwner | QFile::WriteOwner);
  }
  static int kills(int otherwise) {
    const int told = qEnvironmentVariableIntValue("FAIR_GAUGE_KILLS");
    return told > 0 ? told : otherwise;
  }
  // Runs this program in one of its other ways for a random time, and kills it.
  void run_and_kill(const QStringList& words, int least_ms, int most_ms) {
    QProcess other;
    other.start(QCoreApplication::applicationFilePath(), words);
    ASSERT_TRUE(other.waitForStarted());
    said_.clear();
    QElapsedTimer clock;
    clock.start();
    const int lifetime = std::uniform_int_distribution<int>(least_ms, most_ms)(random_);
    while (clock.elapsed() < lifetime) {
      other.waitForReadyRead(10);
      while (other.canReadLine()) {
        const QList<QByteArray> line = other.readLine().trimmed().split(' ');
        said_.push_back({line.front().toStdString(), clock.elapsed(), line.back().toInt()});
      }
    }
    ASSERT_EQ(other.state(), QProcess::Running) << other.readAllStandardError().toStdString();
    other.kill();
    killed_ = clock.elapsed();
    other.waitForFinished();
  }
  // The last of a kind that was said so long before the kill; 0 → none.
  int last(const std::string& kind, qint64 before_ms = 0) const {
    int number = 0;
    for (const Said& each : said_)
      if (each.kind == kind && killed_ - each.when > before_ms) number = each.number;
    return number;
  }
  // Pipe and disk take their time where other tests run beside this one, sanitized ones above all.
  static qint64 slack() {
    if (is_sanitized) return 4000;
    return qEnvironmentVariableIntValue("FAIR_GAUGE_KILLS") > 0 ? 600 : 3000;
  }

  struct Said {
    std::string kind;
    qint64 when;
    int number;
  };
  QTemporaryDir folder_;
  QString path_;
  std::mt19937 random_{qEnvironmentVariableIsSet("FAIR_GAUGE_KILLS") ? std::random_device()() : 1U};
  std::vector<Said> said_;
  qint64 killed_ = 0;
};

TEST_F(KillTest, LosesNoEditOlderThanASecond) {
  for (int kill = 0; kill < kills(4); ++kill) {
    run_and_kill({QStringLiteral("--edit"), path_}, 300, 3000);
    const int must = last("edit", 1000 + slack());
    Document document;
    ASSERT_TRUE(document.open(path_));
    const auto leftover = document.leftover();
    if (must > 0) {
      ASSERT_TRUE(leftover) << "after " << killed_ << " ms, edit " << must;
      EXPECT_GE(std::stoi(leftover->content.place), must) << "after " << killed_ << " ms";
    }
    if (leftover) document.drop(*leftover);
  }
}

// The real window on a live bench: it edits, records, takes points of a calibration and writes the logbook. A recording
// is gone on with after every other kill.
TEST_F(KillTest, LosesNothingThatTheWindowConfirmed) {
  std::size_t entries = 0;
  for (int kill = 0; kill < kills(2); ++kill) {
    const QString recording = folder_.filePath(QStringLiteral("week%1.csv").arg(kill / 2));
    const auto rows = [&] {
      QFile file(recording);
      if (!file.open(QIODevice::ReadOnly)) return 0;
      return static_cast<int>(file.readAll().count('\n'));
    };
    const int before = rows();
    run_and_kill({QStringLiteral("--use"), path_, recording}, 2000, 7000);
    if (testing::Test::HasFatalFailure()) return;
    const std::string when = "kill " + std::to_string(kill) + " after " + std::to_string(killed_) + " ms";
    // Rows stand in the file within a second of when they were counted; every one is whole but perhaps the last.
    EXPECT_GE(rows() - before, last("rows", 1000 + slack())) << when;
    QFile file(recording);
    if (file.open(QIODevice::ReadOnly)) {
      const QList<QByteArray> lines = file.readAll().split('\n');
      for (int i = 1; i + 1 < lines.size(); ++i)
        EXPECT_EQ(lines[i].count(','), lines[0].count(',')) << when << ": " << lines[i].toStdString();
    }
    // A point and an entry were there before they were said.
    QSettings().sync();
    Workbench workbench(shared_catalogue());
    ASSERT_TRUE(workbench.document().open(path_)) << when;
    const auto points = kept_points(workbench, "substrate");
    if (last("point") > 0) {
      ASSERT_FALSE(points.empty()) << when;
      EXPECT_GE(points.front().reading, last("point")) << when;
    }
    const auto logbook = read_logbook(logbook_path(path_.toStdString()));
    ASSERT_TRUE(logbook) << when;
    EXPECT_TRUE(logbook->problems.empty()) << when << ": " << to_text(logbook->problems.front());
    entries += static_cast<std::size_t>(last("entry"));
    EXPECT_GE(logbook->entries.size(), entries) << when;
    entries = logbook->entries.size();
    const auto leftover = workbench.document().leftover();
    if (const int must = last("edit", 1000 + slack()); must > 0) {
      ASSERT_TRUE(leftover) << when << ", edit " << must;
      EXPECT_GE(std::stoi(leftover->content.place), must) << when;
    }
    if (leftover) workbench.document().drop(*leftover);
  }
}

}  // namespace fair_gauge::app::kill_test
