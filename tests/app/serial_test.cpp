// The stand-in's counts arrive through a pseudo-terminal, and every way a line can fail is named.
#include <fcntl.h>
#include <poll.h>
#include <unistd.h>

#include <QApplication>
#include <QClipboard>
#include <QComboBox>
#include <QPlainTextEdit>
#include <QProcess>
#include <QScrollBar>
#include <QTemporaryDir>
#include <QThread>
#include <atomic>
#include <chrono>
#include <thread>

#include "../built.h"
#include "board.h"
#include "shell/shelf.h"
#include "sources/line_reader.h"
#include "sources/recording.h"
#include "sources/sources_beside.h"
#include "window.h"

namespace fair_gauge::app::serial_test {

using testing::HasSubstr;

const QStringList often{QStringLiteral("--rate"), QStringLiteral("50")};

class SerialTest : public WindowTest {
 protected:
  void connect_to(const QString& path, int baud = 115200) {
    window_.show_page(Page::read);
    find<QComboBox>("port")->setCurrentText(path);
    auto* speed = find<QComboBox>("speed");
    speed->setCurrentIndex(speed->findData(baud));
    QTest::mouseClick(find<QPushButton>("connect"), Qt::LeftButton);
  }
  bool reaches(LineState state) {
    return comes([&] { return workbench_.source().state() == state; });
  }
  bool has_reading(const char* channel) {
    return comes([&] { return !workbench_.samples(channel).empty(); });
  }
};

TEST_F(SerialTest, CountsBecomeALiveTemperature) {
  const Board board(often);
  ASSERT_FALSE(board.path.isEmpty());
  connect_to(board.path);
  ASSERT_TRUE(has_reading("substrate"));
  ASSERT_TRUE(has_reading("spawn_fridge"));
  ASSERT_TRUE(workbench_.chosen().reading);
  EXPECT_NEAR(*workbench_.chosen().reading, 24, 2);  // the simulation just after midnight
  EXPECT_THAT(find<QPlainTextEdit>("raw_lines")->toPlainText().toStdString(), HasSubstr("substrate:"));
  EXPECT_THAT(find<Text>("line_state")->text().toStdString(), HasSubstr("Connected"));
}

TEST_F(SerialTest, EveryFormArrives) {
  for (const char* form : {"csv", "hex", "bytes"}) {
    const Board board(often + QStringList{QStringLiteral("--form"), QLatin1String(form)});
    workbench_.listen_to_line(board.path, 115200);
    EXPECT_TRUE(has_reading("substrate")) << form;
    workbench_.stop_listening();
  }
}

TEST_F(SerialTest, ABareNumberBelongsToTheChosenChannel) {
  const Board board(often + QStringList{QStringLiteral("--form"), QStringLiteral("bare"), QStringLiteral("--channel"),
                                        QStringLiteral("substrate")});
  workbench_.listen_to_line(board.path, 115200);
  EXPECT_TRUE(has_reading("substrate"));
}

TEST_F(SerialTest, AGarbledLineIsMarkedAndTheNextOneRead) {
  const Board board(often + QStringList{QStringLiteral("--garble"), QStringLiteral("3")});
  connect_to(board.path);
  ASSERT_TRUE(comes([&] {
    return std::ranges::any_of(workbench_.raw_lines(), [](const RawLine& line) { return !line.fault.isEmpty(); });
  }));
  const auto before = workbench_.samples("substrate").size();
  EXPECT_TRUE(comes([&] { return workbench_.samples("substrate").size() > before + 5; }));
  EXPECT_EQ(workbench_.source().state(), LineState::running);
}

TEST_F(SerialTest, AWrongSpeedIsNamedAndTheRightOneHeals) {
  const Board board(often + QStringList{QStringLiteral("--baud"), QStringLiteral("9600")});
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
  Board board(often, link);
  connect_to(link);
  ASSERT_TRUE(has_reading("substrate"));
  board.hang_up();
  ASSERT_TRUE(reaches(LineState::hung_up));
  const auto kept = workbench_.samples("substrate").size();
  EXPECT_GT(kept, 0u);  // nothing recorded is lost
  const Board again(often, link);
  EXPECT_TRUE(reaches(LineState::running));
  EXPECT_TRUE(comes([&] { return workbench_.samples("substrate").size() > kept; }));
}

TEST_F(SerialTest, SilenceIsNamed) {
  const Board board(often + QStringList{QStringLiteral("--pause-after"), QStringLiteral("5"), QStringLiteral("--pause"),
                                        QStringLiteral("60")});
  connect_to(board.path);
  EXPECT_TRUE(reaches(LineState::silent));
}

TEST_F(SerialTest, AMissingLineIsNamed) {
  connect_to(QStringLiteral("/dev/no-such-line"));
  EXPECT_TRUE(reaches(LineState::missing));
  EXPECT_THAT(workbench_.source().words().toStdString(), HasSubstr("There is no line"));
}

TEST_F(SerialTest, ALineHeldByAnotherProgramIsNamed) {
  const Board board(often);
  QProcess other;
  other.start(QStringLiteral("sh"), {QStringLiteral("-c"), QStringLiteral("exec sleep 30 < \"$0\""), board.path});
  ASSERT_TRUE(other.waitForStarted());
  ASSERT_TRUE(comes([&] { return !LineReader::holder_of(board.path).isEmpty(); }));
  connect_to(board.path);
  EXPECT_TRUE(reaches(LineState::held));
  EXPECT_THAT(workbench_.source().words().toStdString(), HasSubstr("another program"));
  other.kill();
  other.waitForFinished();
  EXPECT_TRUE(reaches(LineState::running));
}

TEST_F(SerialTest, ANameIsGivenToAChannel) {
  workbench_.document().edit(QStringLiteral("names"), [](Bench& bench) { bench.channels[0].line_name = "probe_7"; });
  const Board board(often);
  connect_to(board.path);
  ASSERT_TRUE(has_reading("spawn_fridge"));
  EXPECT_TRUE(workbench_.samples("substrate").empty());
  QComboBox* box = nullptr;
  ASSERT_TRUE(comes([&] {
    for (auto* candidate : window_.findChildren<QComboBox*>())
      if (candidate->accessibleName() == QStringLiteral("Channel of substrate")) box = candidate;
    return box != nullptr;
  }));
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
  board.start(QString::fromUtf8(fair_gauge::built::stand_in), {QStringLiteral("--link"), path});
  ASSERT_TRUE(board.waitForFinished(5000));
  EXPECT_EQ(board.exitCode(), 4);
  EXPECT_THAT(QString::fromUtf8(board.readAllStandardError()).toStdString(), HasSubstr("File exists"));
  ASSERT_TRUE(file.open(QIODevice::ReadOnly));
  EXPECT_EQ(file.readAll(), QByteArray("mine"));
  const QString link = folder.filePath(QStringLiteral("link"));
  for (int i = 0; i < 2; ++i) {
    QProcess again;
    again.start(QString::fromUtf8(fair_gauge::built::stand_in), {QStringLiteral("--link"), link});
    ASSERT_TRUE(again.waitForReadyRead(60'000));
    EXPECT_EQ(QFile::symLinkTarget(link), QString::fromUtf8(again.readLine()).trimmed()) << "killed once, begun again";
    again.kill();
    again.waitForFinished(60'000);
  }
}

// A board that sends as fast as a line can. The line holds 4 kB: where the machine is too busy to take them out in time
// it waits, and knows for how long.
class HastyBoard {
 public:
  HastyBoard() : line_(posix_openpt(O_RDWR | O_NOCTTY | O_NONBLOCK)) {
    grantpt(line_);
    unlockpt(line_);
    path = folder_.filePath(QStringLiteral("board"));  // no other test's board gets this name
    QFile::link(QString::fromUtf8(ptsname(line_)), path);
  }
  ~HastyBoard() {
    wait();
    QFile::remove(path);
    close(line_);
  }
  HastyBoard(const HastyBoard&) = delete;
  HastyBoard& operator=(const HastyBoard&) = delete;
  void send(int lines, int a_second) {
    sender_ = std::thread([this, lines, a_second] {
      const auto begun = std::chrono::steady_clock::now();
      for (int i = 0; i < lines; ++i) {
        std::this_thread::sleep_until(begun + std::chrono::microseconds(1'000'000LL * i / a_second));
        say("spin:" + std::to_string(i) + "\n");
      }
    });
  }
  void say(const std::string& text) {
    std::string_view rest = text;
    const auto begun = std::chrono::steady_clock::now();
    while (!rest.empty() && lost == 0) {
      const ssize_t written = write(line_, rest.data(), rest.size());
      if (written > 0) rest.remove_prefix(static_cast<std::size_t>(written));
      pollfd room{line_, POLLOUT, 0};
      if (!rest.empty() && poll(&room, 1, 20'000) <= 0) ++lost;  // nobody listens any more
    }
    const auto waited = std::chrono::steady_clock::now() - begun;
    longest_wait_ms = std::max(longest_wait_ms.load(), std::chrono::duration<double, std::milli>(waited).count());
  }
  void wait() {
    if (sender_.joinable()) sender_.join();
  }
  QString path;
  std::atomic<int> lost = 0;
  std::atomic<double> longest_wait_ms = 0;

 private:
  QTemporaryDir folder_;
  int line_;
  std::thread sender_;
};

TEST_F(SerialTest, NoLineIsLostWhileTheWindowStandsStillAndEachHasItsOwnTime) {
  constexpr int lines = 3000, a_second = 2000;
  workbench_.document().edit(QStringLiteral("names"), [](Bench& bench) { bench.channels[0].line_name = "spin"; });
  HastyBoard board;
  workbench_.listen_to_line(board.path, 115200);
  ASSERT_TRUE(comes([&] { return workbench_.source().words().startsWith(QLatin1String("Listening")); }));
  std::vector<int> came;
  QObject::connect(&workbench_, &Workbench::line_came, &window_,
                   [&](const RawLine& line) { came.push_back(line.text.mid(5).toInt()); });
  board.send(lines, a_second);
  QThread::msleep(1000);  // a window that is busy
  ASSERT_TRUE(comes([&] { return !came.empty() && came.back() == lines - 1; })) << board.lost;
  EXPECT_EQ(board.lost, 0);
  // Read by the window itself the line would be full after a fifth of its second.
  EXPECT_LT(board.longest_wait_ms, is_sanitized ? 5000 : 600);
  ASSERT_EQ(came.size(), static_cast<std::size_t>(lines));
  EXPECT_TRUE(std::ranges::is_sorted(came));
  const auto& samples = workbench_.samples("substrate");
  const auto half = samples[samples.size() / 2].seconds - samples.front().seconds;
  EXPECT_NEAR(half, lines / 2.0 / a_second, 0.25) << "when it came, not when it was looked at";
  EXPECT_TRUE(std::ranges::is_sorted(samples, {}, [](const auto& sample) { return sample.seconds; }));
}

// An adapter hands over every 20 ms what came meanwhile: four lines each time, which the board sent 5 ms apart.
TEST_F(SerialTest, LinesThatAreHandedOverTogetherCameOneAfterTheOther) {
  workbench_.document().edit(QStringLiteral("names"), [](Bench& bench) { bench.channels[0].line_name = "spin"; });
  HastyBoard board;
  workbench_.listen_to_line(board.path, 115200);
  ASSERT_TRUE(comes([&] { return workbench_.source().words().startsWith(QLatin1String("Listening")); }));
  constexpr int portions = 30;
  for (int i = 0; i < portions; ++i) {
    QThread::msleep(20);
    board.say("spin:1870\nspin:1872\nspin:1871\nspin:1873\n");
  }
  constexpr std::size_t looked_at = 4 * portions - 8;  // without the first, which may begin anywhere
  ASSERT_TRUE(comes([&] { return workbench_.samples("substrate").size() > looked_at; }));
  const auto& samples = workbench_.samples("substrate");
  std::vector<double> steps;
  for (std::size_t i = samples.size() - looked_at; i < samples.size(); ++i)
    steps.push_back(samples[i].seconds - samples[i - 1].seconds);
  std::ranges::sort(steps);
  EXPECT_GT(steps[steps.size() / 4], 0.002) << "most of them stand apart";
  EXPECT_LT(steps[steps.size() / 2], 0.012);
}

TEST_F(SerialTest, TheNewestLineStaysInSightUntilOneScrollsAwayFromIt) {
  HastyBoard board;
  window_.resize(1280, 900);
  workbench_.listen_to_line(board.path, 115200);
  window_.show_page(Page::read);
  ASSERT_TRUE(comes([&] { return workbench_.source().words().startsWith(QLatin1String("Listening")); }));
  auto* lines = find<QPlainTextEdit>("raw_lines");
  const QScrollBar* bar = lines->verticalScrollBar();
  const auto more_come = [&](int more) {
    const int all = lines->blockCount() + more;
    board.send(more, 5000);
    board.wait();
    return comes([&] { return lines->blockCount() >= all - 1; });  // an empty one is counted at first
  };
  ASSERT_TRUE(more_come(100));
  ASSERT_GT(bar->maximum(), 0);
  EXPECT_EQ(bar->value(), bar->maximum());
  board.say("a line that needs two rows of the box as soon as it is less wide: " + std::string(40, 'w') + "\n");
  ASSERT_TRUE(comes([&] { return lines->toPlainText().contains(QLatin1String("www")); }));
  window_.resize(1000, 640);
  ASSERT_TRUE(comes([&] { return lines->height() < 400; }));
  EXPECT_TRUE(comes([&] { return bar->value() == bar->maximum(); })) << "though the box has become smaller";
  ASSERT_TRUE(more_come(50));
  EXPECT_EQ(bar->value(), bar->maximum());
  QTest::mouseClick(lines->viewport(), Qt::LeftButton);
  QTest::keyClick(lines, Qt::Key_PageUp);
  const int left_at = bar->value();
  ASSERT_LT(left_at, bar->maximum());
  ASSERT_TRUE(more_come(50));
  EXPECT_EQ(bar->value(), left_at) << "one reads what was";
}

// The next morning: the bench is opened, and one click listens to the boards of the day before.
TEST_F(SerialTest, ABenchIsReadAgainByItsLines) {
  HastyBoard board, other, third;
  QTemporaryDir folder;
  const QString path = folder.filePath(QStringLiteral("shelf.fairgauge.json"));
  ASSERT_TRUE(workbench_.document().save(path));
  window_.open(path);
  EXPECT_TRUE(window_.banner_text().isEmpty()) << "it was never read";
  workbench_.listen_to_line(board.path, 9600);
  EXPECT_EQ(workbench_.beside_sources().add(other.path, 19200, QStringLiteral("north.")), QString());
  EXPECT_EQ(workbench_.beside_sources().add(third.path, 9600, {}), QString()) << "its names are its own";
  ASSERT_TRUE(comes([&] { return workbench_.lines_listened_to().size() == 3; }));
  workbench_.stop_listening();  // one after the other
  workbench_.beside_sources().remove(0);
  workbench_.beside_sources().remove(0);
  ASSERT_TRUE(workbench_.lines_listened_to().empty());
  window_.open(path);
  EXPECT_THAT(window_.banner_text().toStdString(), HasSubstr(board.path.toStdString()));
  window_.show_view(Page::read, 0);
  EXPECT_EQ(find<QComboBox>("port")->currentText(), board.path);
  EXPECT_EQ(find<QComboBox>("speed")->currentData().toInt(), 9600);
  for (QPushButton* button : window_.findChildren<QPushButton*>())
    if (button->text() == QLatin1String("Listen again")) QTest::mouseClick(button, Qt::LeftButton);
  const auto again = workbench_.lines_listened_to();
  ASSERT_EQ(again.size(), 3u);
  EXPECT_EQ(again[0], (KnownLine{board.path, 9600, false, {}}));
  EXPECT_EQ(again[1], (KnownLine{other.path, 19200, true, QStringLiteral("north.")}));
  EXPECT_EQ(again[2], (KnownLine{third.path, 9600, true, {}}));
  EXPECT_TRUE(comes([&] { return workbench_.source().words().contains(board.path); }));
  workbench_.beside_sources().remove(0);
  workbench_.beside_sources().remove(0);
  workbench_.stop_listening();
}

TEST_F(SerialTest, AFloodLeavesTheWindowItsTime) {
  HastyBoard board;
  workbench_.listen_to_line(board.path, 115200);
  window_.show_page(Page::wire);
  window_.show_page(Page::read);
  ASSERT_TRUE(comes([&] { return workbench_.source().words().startsWith(QLatin1String("Listening")); }));
  constexpr int lines = 5000;
  int came = 0;
  QObject::connect(&workbench_, &Workbench::line_came, &window_, [&] { ++came; });
  board.send(lines, 5000);
  ASSERT_TRUE(comes([&] { return workbench_.raw_lines().size() > 100; }));
  QElapsedTimer clock;
  clock.start();
  for (const Page page : {Page::wire, Page::read, Page::wire}) {
    window_.show_page(page);
    QTest::qWait(0);
  }
  EXPECT_LT(clock.elapsed(), 3 * 300 * (is_sanitized ? 10 : 1));
  board.wait();
  EXPECT_EQ(board.lost, 0);
  EXPECT_TRUE(comes([&] { return came == lines; })) << came << " of them";
  workbench_.stop_listening();
}

// Scratchpads: 25.0625 °C, one with a turned bit, and the one that stands there before the first conversion.
TEST_F(SerialTest, BytesThatAreNoReadingAreNotShownAsOne) {
  workbench_.choose_channel("rack");
  HastyBoard board;
  workbench_.listen_to_line(board.path, 115200);
  ASSERT_TRUE(comes([&] { return workbench_.source().words().startsWith(QLatin1String("Listening")); }));
  const auto samples = [&] { return workbench_.samples("rack").size(); };
  const auto shelf_says = [&](const char* words) {
    return comes([&] {
      return std::ranges::any_of(window_.findChildren<ShelfItem*>(),
                                 [&](const ShelfItem* item) { return item->toolTip().contains(QLatin1String(words)); });
    });
  };
  board.say("begin\nrack:x91014b467fff0f1025\n");
  ASSERT_TRUE(comes([&] { return samples() == 1; }));
  EXPECT_NEAR(*workbench_.chosen().reading, 25.0625, 0.2);
  EXPECT_TRUE(workbench_.chosen().stalled().isEmpty());
  for (const auto& [bytes, code, words] :
       {std::tuple("x91014a467fff0f1025", "checksum", "CRC"),
        std::tuple("x50054b467fff0c101c", "power-on-default", "85"), std::tuple("x9101", "", ""),
        std::tuple("x91014b", "short-frame", "bytes"), std::tuple("nan", "no-response", "no number came")}) {
    const auto before = samples();
    board.say(std::string("rack:") + bytes + "\n");
    if (!*code) {  // temperature alone, as a sketch may send it
      EXPECT_TRUE(comes([&] { return samples() == before + 1 && workbench_.chosen().reading; }));
      continue;
    }
    const auto refused = [&] { return workbench_.chosen().refused; };
    ASSERT_TRUE(comes([&, expected = code] { return refused() && refused()->code == expected; })) << bytes;
    EXPECT_FALSE(workbench_.chosen().reading);
    EXPECT_EQ(samples(), before) << "nothing is invented";
    EXPECT_TRUE(shelf_says(words)) << bytes << workbench_.chosen().refused->message;
    QTest::qWait(60);
    EXPECT_THAT(find<QLabel>("tape_value")->text().toStdString(), HasSubstr(fault_words(code)));
  }
  board.say("rack:x91014b467fff0f1025\n");
  EXPECT_TRUE(comes([&] { return workbench_.chosen().stalled().isEmpty() && workbench_.chosen().reading; }));
}

// The shed, two boards that send the same name, a file that another program writes to and pasted lines, all at once;
// each keeps its channel, a recording has all of them.
TEST_F(SerialTest, SeveralSourcesAreListenedToAtOnce) {
  workbench_.document().edit(QStringLiteral("names"), [](Bench& bench) {
    find_by_id(bench.channels, "spawn_fridge")->line_name = "barn.t";
    find_by_id(bench.channels, "steamer")->line_name = "file.t";
    for (Channel& channel : bench.channels) channel.period_s = 0.2;
  });
  workbench_.listen_to_simulation();
  const auto of_shed = workbench_.samples("steamer").size();
  window_.show_page(Page::read);
  const QTemporaryDir folder;
  const QString recorded = folder.filePath(QStringLiteral("all.csv"));
  ASSERT_TRUE(workbench_.recording().begin(workbench_.bench(), workbench_.catalogue(), recorded).isEmpty());
  const auto add = [&](const QString& path, const QString& prefix) {
    find<QComboBox>("port")->setCurrentText(path);
    auto* field = find<QLineEdit>("beside_prefix");
    click_into(*field);
    EXPECT_EQ(type_slowly(*field, prefix), prefix);
    click("listen_beside");
  };
  HastyBoard barn;
  add(barn.path, QStringLiteral("barn."));
  const QString path = folder.filePath(QStringLiteral("grows.csv"));
  QFile file(path);
  ASSERT_TRUE(file.open(QIODevice::WriteOnly | QIODevice::Unbuffered));
  file.write("t,other\n1111,1\n1112,1\n11");
  add(path, QStringLiteral("file."));
  ASSERT_EQ(workbench_.beside_sources().all().size(), 2u);
  EXPECT_TRUE(comes([&] { return workbench_.is_listening(); }));
  add(path, QStringLiteral("again."));
  EXPECT_EQ(workbench_.beside_sources().all().size(), 2u) << "one that is listened to is refused";
  add(QStringLiteral("/dev/no-such-line"), QStringLiteral("two words"));
  EXPECT_EQ(workbench_.beside_sources().all().size(), 2u);
  ASSERT_TRUE(comes([&] {
    barn.say("t:1234\n");
    return !workbench_.samples("spawn_fridge").empty() && workbench_.samples("spawn_fridge").back().raw == 1234;
  }));
  QTest::qWait(300);
  file.write("13,1\n2222,1\n");  // the rest of a line that had begun, and a whole one
  ASSERT_TRUE(comes(
      [&] { return !workbench_.samples("steamer").empty() && workbench_.samples("steamer").back().raw == 2222; }));
  QTest::qWait(1200);
  EXPECT_EQ(workbench_.samples("steamer").back().raw, 2222) << "the shed leaves it alone now";
  EXPECT_GE(workbench_.samples("steamer").size(), of_shed);
  EXPECT_GT(workbench_.samples("substrate").back().seconds, workbench_.samples("steamer").back().seconds)
      << "and goes on with the others";
  // Written anew, it is read from its beginning.
  file.resize(0), file.seek(0);
  QTest::qWait(500);
  file.write("t,other\n333,1\n");
  ASSERT_TRUE(comes([&] { return workbench_.samples("steamer").back().raw == 333; }));
  QApplication::clipboard()->setText(QStringLiteral("barn.t:77\nfile.t:78"));
  click("paste_lines");
  EXPECT_EQ(workbench_.samples("spawn_fridge").back().raw, 77);
  EXPECT_EQ(workbench_.samples("steamer").back().raw, 78);
  // Gone, it is said, and the other goes on; stopped, nothing comes of it any more.
  file.remove();
  ASSERT_TRUE(comes([&] { return workbench_.beside_sources().all()[1].source->state() == LineState::missing; }));
  click("stop_beside_1");
  QTest::qWait(50);
  ASSERT_EQ(workbench_.beside_sources().all().size(), 1u);
  ASSERT_TRUE(comes([&] {
    barn.say("t:1235\n");
    return workbench_.samples("spawn_fridge").back().raw == 1235;
  }));
  workbench_.stop_listening();
  EXPECT_TRUE(workbench_.is_listening()) << "the second one is still there";
  click("stop_beside_0");
  QTest::qWait(50);
  EXPECT_FALSE(workbench_.is_listening());
  EXPECT_TRUE(workbench_.recording().end().isEmpty());
  QFile all(recorded);
  ASSERT_TRUE(all.open(QIODevice::ReadOnly));
  const QByteArray text = all.readAll();
  const auto column = [&](const char* name) { return text.left(text.indexOf('\n')).split(',').indexOf(name); };
  const auto has = [&](const char* name, const char* value) {
    const auto at = column(name);
    for (const QByteArray& line : text.split('\n'))
      if (const auto cells = line.split(','); at >= 0 && cells.size() > at && cells[at].trimmed() == value) return true;
    return false;
  };
  EXPECT_TRUE(has("spawn_fridge", "1234")) << text.left(2000).toStdString();
  EXPECT_TRUE(has("steamer", "2222"));
  EXPECT_TRUE(has("steamer", "333"));
  while (workbench_.document().can_undo()) workbench_.document().undo();
}

// A growing file as the only source, from an empty start: what is appended becomes channels.
TEST_F(SerialTest, AGrowingFileIsFollowedLikeALine) {
  const QTemporaryDir folder;
  const QString path = folder.filePath(QStringLiteral("readings.txt"));
  QFile file(path);
  ASSERT_TRUE(file.open(QIODevice::WriteOnly | QIODevice::Unbuffered));
  file.write("substrate:100\n");
  connect_to(path);
  ASSERT_TRUE(reaches(LineState::running));
  EXPECT_THAT(workbench_.source().words().toStdString(), HasSubstr("Following readings.txt"));
  file.write("substrate:2222\n");
  ASSERT_TRUE(has_reading("substrate"));
  EXPECT_EQ(workbench_.samples("substrate").back().raw, 2222);
  // Back to a line and to the file again.
  HastyBoard board;
  workbench_.listen_to_line(board.path, 115200);
  ASSERT_TRUE(comes([&] {
    board.say("substrate:55\n");
    return !workbench_.samples("substrate").empty() && workbench_.samples("substrate").back().raw == 55;
  }));
  workbench_.listen_to_line(path, 0);
  file.write("substrate:2223\n");
  EXPECT_TRUE(comes(
      [&] { return !workbench_.samples("substrate").empty() && workbench_.samples("substrate").back().raw == 2223; }));
  workbench_.stop_listening();
}

}  // namespace fair_gauge::app::serial_test
