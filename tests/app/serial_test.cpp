// The stand-in's counts arrive through a pseudo-terminal, and every way a line can fail is named.
#include <fcntl.h>
#include <unistd.h>

#include <QComboBox>
#include <QPlainTextEdit>
#include <QProcess>
#include <QTemporaryDir>

#include "sources/serial_source.h"
#include "window.h"

namespace fair_gauge::app::serial_test {

using testing::HasSubstr;

class Board {
 public:
  explicit Board(const QStringList& options) {
    process_.start(QStringLiteral(FAIR_GAUGE_STAND_IN),
                   QStringList{QStringLiteral("--rate"), QStringLiteral("50")} + options);
    if (process_.waitForReadyRead(5000)) path = QString::fromUtf8(process_.readLine()).trimmed();
  }
  ~Board() { hang_up(); }
  void hang_up() {
    process_.kill();
    process_.waitForFinished(3000);
  }
  QString path;

 private:
  QProcess process_;
};

class SerialTest : public WindowTest {
 protected:
  void connect_to(const QString& path, int baud = 115200) {
    window_.show_page(Page::read);
    find<QComboBox>("port")->setCurrentText(path);
    auto* speed = find<QComboBox>("speed");
    speed->setCurrentIndex(speed->findData(baud));
    QTest::mouseClick(find<QPushButton>("connect"), Qt::LeftButton);
  }
  bool reaches(LineState state, int milliseconds = 8000) {
    return QTest::qWaitFor([&] { return workbench_.source().state() == state; }, milliseconds);
  }
  bool has_reading(const char* channel) {
    return QTest::qWaitFor([&] { return !workbench_.samples(channel).empty(); }, 5000);
  }
};

TEST_F(SerialTest, CountsBecomeALiveTemperature) {
  const Board board({});
  ASSERT_FALSE(board.path.isEmpty());
  connect_to(board.path);
  ASSERT_TRUE(has_reading("substrate"));
  ASSERT_TRUE(has_reading("spawn_fridge"));
  ASSERT_TRUE(workbench_.chosen().reading);
  EXPECT_NEAR(*workbench_.chosen().reading, 24, 2);  // the simulated shed just after midnight
  EXPECT_THAT(find<QPlainTextEdit>("raw_lines")->toPlainText().toStdString(), HasSubstr("substrate:"));
  EXPECT_THAT(find<Text>("line_state")->text().toStdString(), HasSubstr("Connected"));
}

TEST_F(SerialTest, EveryFormArrives) {
  for (const char* form : {"csv", "hex", "bytes"}) {
    const Board board({QStringLiteral("--form"), QLatin1String(form)});
    workbench_.listen_to_line(board.path, 115200);
    EXPECT_TRUE(has_reading("substrate")) << form;
    workbench_.stop_listening();
  }
}

TEST_F(SerialTest, ABareNumberBelongsToTheChosenChannel) {
  const Board board(
      {QStringLiteral("--form"), QStringLiteral("bare"), QStringLiteral("--channel"), QStringLiteral("substrate")});
  workbench_.listen_to_line(board.path, 115200);
  EXPECT_TRUE(has_reading("substrate"));
}

TEST_F(SerialTest, AGarbledLineIsMarkedAndTheNextOneRead) {
  const Board board({QStringLiteral("--garble"), QStringLiteral("3")});
  connect_to(board.path);
  ASSERT_TRUE(QTest::qWaitFor(
      [&] {
        return std::ranges::any_of(workbench_.raw_lines(), [](const RawLine& line) { return !line.fault.isEmpty(); });
      },
      5000));
  const auto before = workbench_.samples("substrate").size();
  EXPECT_TRUE(QTest::qWaitFor([&] { return workbench_.samples("substrate").size() > before + 5; }, 5000));
  EXPECT_EQ(workbench_.source().state(), LineState::running);
}

TEST_F(SerialTest, AWrongSpeedIsNamedAndTheRightOneHeals) {
  const Board board({QStringLiteral("--baud"), QStringLiteral("9600")});
  connect_to(board.path, 115200);
  ASSERT_TRUE(reaches(LineState::noise));
  EXPECT_THAT(workbench_.source().words().toStdString(), HasSubstr("115200 baud is probably not the board's"));
  workbench_.listen_to_line(board.path, 9600);
  EXPECT_TRUE(has_reading("substrate"));
  EXPECT_TRUE(reaches(LineState::running));
}

TEST_F(SerialTest, AHangUpIsNamedAndTheLineComesBack) {
  const QTemporaryDir folder;
  const QString link = folder.filePath(QStringLiteral("board"));
  Board board({QStringLiteral("--link"), link});
  connect_to(link);
  ASSERT_TRUE(has_reading("substrate"));
  board.hang_up();
  ASSERT_TRUE(reaches(LineState::hung_up));
  const auto kept = workbench_.samples("substrate").size();
  EXPECT_GT(kept, 0u);  // nothing recorded is lost
  const Board again({QStringLiteral("--link"), link});
  EXPECT_TRUE(reaches(LineState::running));
  EXPECT_TRUE(QTest::qWaitFor([&] { return workbench_.samples("substrate").size() > kept; }, 5000));
}

TEST_F(SerialTest, SilenceIsNamed) {
  const Board board(
      {QStringLiteral("--pause-after"), QStringLiteral("5"), QStringLiteral("--pause"), QStringLiteral("60")});
  connect_to(board.path);
  EXPECT_TRUE(reaches(LineState::silent, 12000));
}

TEST_F(SerialTest, AMissingLineIsNamed) {
  connect_to(QStringLiteral("/dev/no-such-line"));
  EXPECT_EQ(workbench_.source().state(), LineState::missing);
  EXPECT_THAT(workbench_.source().words().toStdString(), HasSubstr("There is no line"));
}

TEST_F(SerialTest, ALineHeldByAnotherProgramIsNamed) {
  const Board board({});
  QProcess other;
  other.start(QStringLiteral("sh"), {QStringLiteral("-c"), QStringLiteral("exec sleep 30 < \"$0\""), board.path});
  ASSERT_TRUE(other.waitForStarted());
  ASSERT_TRUE(QTest::qWaitFor([&] { return !SerialSource::holder_of(board.path).isEmpty(); }, 5000));
  connect_to(board.path);
  EXPECT_EQ(workbench_.source().state(), LineState::held);
  EXPECT_THAT(workbench_.source().words().toStdString(), HasSubstr("another program"));
  other.kill();
  other.waitForFinished();
  EXPECT_TRUE(reaches(LineState::running));
}

TEST_F(SerialTest, ANameIsGivenToAChannel) {
  workbench_.document().edit(QStringLiteral("names"), [](Bench& bench) { bench.channels[0].line_name = "probe_7"; });
  const Board board({});
  connect_to(board.path);
  ASSERT_TRUE(has_reading("spawn_fridge"));
  EXPECT_TRUE(workbench_.samples("substrate").empty());
  QComboBox* box = nullptr;
  for (auto* candidate : window_.findChildren<QComboBox*>())
    if (candidate->accessibleName() == QStringLiteral("Channel of substrate")) box = candidate;
  ASSERT_TRUE(box);
  box->setCurrentIndex(box->findData(QStringLiteral("substrate")));
  emit box->activated(box->currentIndex());
  EXPECT_TRUE(has_reading("substrate"));
}

// A file that somebody has is no place for the board's link; the link of an earlier run is.
TEST(StandIn, ItsLinkReplacesNothingButALink) {
  const QTemporaryDir folder;
  const QString path = folder.filePath(QStringLiteral("board"));
  QFile file(path);
  ASSERT_TRUE(file.open(QIODevice::WriteOnly));
  file.write("mine");
  file.close();
  QProcess board;
  board.start(QStringLiteral(FAIR_GAUGE_STAND_IN), {QStringLiteral("--link"), path});
  ASSERT_TRUE(board.waitForFinished(5000));
  EXPECT_EQ(board.exitCode(), 4);
  EXPECT_THAT(QString::fromUtf8(board.readAllStandardError()).toStdString(), HasSubstr("File exists"));
  ASSERT_TRUE(file.open(QIODevice::ReadOnly));
  EXPECT_EQ(file.readAll(), QByteArray("mine"));
  const QString link = folder.filePath(QStringLiteral("link"));
  for (int i = 0; i < 2; ++i) {
    const Board again({QStringLiteral("--link"), link});
    EXPECT_EQ(QFile::symLinkTarget(link), again.path) << "killed once, begun again";
  }
}

}  // namespace fair_gauge::app::serial_test
