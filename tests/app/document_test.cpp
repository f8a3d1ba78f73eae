// What is unsaved is kept: over a kill, beside another window, through undo and opening; and a file that somebody else
// has changed is not written over.
#include <gmock/gmock.h>

#include <QFile>
#include <QTemporaryDir>
#include <QTest>

#include "parts/catalogue.h"
#include "shell/document.h"

namespace fair_gauge::app::document_test {

using testing::HasSubstr;

class DocumentTest : public testing::Test {
 protected:
  DocumentTest() {
    path_ = folder_.filePath(QStringLiteral("mine.fairgauge.json"));
    QFile::copy(QString::fromStdString(data_folder()) + QStringLiteral("/demo/fernhollow.fairgauge.json"), path_);
    QFile::setPermissions(path_, QFile::ReadOwner | QFile::WriteOwner);
  }
  // As after a crash: a session that ended with something unsaved.
  void leave_behind(const std::string& name) {
    Document crashed;
    ASSERT_TRUE(crashed.open(path_));
    crashed.edit(QStringLiteral("Name"), [&](Bench& bench) { bench.name = name; });
    crashed.write_autosave();
    crashed.finish_autosave();
  }
  QTemporaryDir folder_;
  QString path_;
};

TEST_F(DocumentTest, EditsWithoutAPauseDoNotStarveTheAutosave) {
  Document document;
  ASSERT_TRUE(document.open(path_));
  for (int i = 0; i < 8; ++i) {
    document.edit(QStringLiteral("Name"), [&](Bench& bench) { bench.name = "edit " + std::to_string(i); });
    QTest::qWait(250);
  }
  document.finish_autosave();
  Document other;
  ASSERT_TRUE(other.open(path_));
  EXPECT_FALSE(other.leftover()) << "the session that wrote it still lives";
  QFile kept;
  const QDir folder(Document::autosave_folder());
  bool found = false;
  for (const QString& name : folder.entryList({QStringLiteral("*.fairgauge.json")}))
    if (const auto loaded = load_bench(folder.filePath(name).toStdString()); loaded)
      found = found || loaded->bench.name >= "edit 3";
  EXPECT_TRUE(found) << "nothing was kept within a second of the first edit";
  document.drop_leftover();
}

TEST_F(DocumentTest, ALeftoverStaysUntilWhatItHoldsIsSaved) {
  leave_behind("from the crash");
  Document document;
  ASSERT_TRUE(document.open(path_));
  const auto leftover = document.leftover();
  ASSERT_TRUE(leftover);
  EXPECT_EQ(leftover->content.name, "from the crash");
  document.bring_back(*leftover);
  document.edit(QStringLiteral("Place"), [](Bench& bench) { bench.place = "elsewhere"; });
  document.write_autosave();
  document.undo();
  document.undo();  // back to the file as it is: what the crash left is not dropped by that
  ASSERT_TRUE(document.is_saved());
  document.write_autosave();
  document.finish_autosave();
  EXPECT_TRUE(QFile::exists(leftover->file));
  document.redo();
  ASSERT_TRUE(document.save(path_));
  EXPECT_FALSE(QFile::exists(leftover->file));
}

TEST_F(DocumentTest, ASaveInOneWindowLeavesTheOtherWindowsChangesAlone) {
  Document one, other;
  ASSERT_TRUE(one.open(path_));
  ASSERT_TRUE(other.open(path_));
  one.edit(QStringLiteral("Name"), [](Bench& bench) { bench.name = "mine, unsaved"; });
  one.write_autosave();
  one.finish_autosave();
  ASSERT_TRUE(other.save(path_));
  const QDir folder(Document::autosave_folder());
  int kept = 0;
  for (const QString& name : folder.entryList({QStringLiteral("*.fairgauge.json")}))
    if (const auto loaded = load_bench(folder.filePath(name).toStdString()); loaded)
      kept += loaded->bench.name == "mine, unsaved";
  EXPECT_EQ(kept, 1);
  one.drop_leftover();
}

TEST_F(DocumentTest, AFileThatSomebodyElseHasChangedIsNotWrittenOver) {
  Document document;
  ASSERT_TRUE(document.open(path_));
  document.edit(QStringLiteral("Name"), [](Bench& bench) { bench.name = "here"; });
  Bench outside = document.bench();
  outside.name = "there";
  ASSERT_TRUE(save_bench(outside, path_.toStdString()));
  const auto refused = document.save(path_);
  ASSERT_FALSE(refused);
  EXPECT_THAT(to_text(refused.problem()), HasSubstr("since it was opened here"));
  EXPECT_EQ(load_bench(path_.toStdString())->bench.name, "there");
  EXPECT_FALSE(document.is_saved());
  ASSERT_TRUE(document.save(path_, Document::Overwrite::anyway));
  EXPECT_EQ(load_bench(path_.toStdString())->bench.name, "here");
  EXPECT_TRUE(document.save(path_)) << "what was written here is no change from outside";
}

TEST_F(DocumentTest, UndoKeepsChangesOfDifferentThingsApart) {
  Document document;
  ASSERT_TRUE(document.open(path_));
  const Bench before = document.bench();
  for (const std::size_t channel : {0u, 1u})  // the same label, within a second
    document.edit(QStringLiteral("Allowed error"), [&](Bench& bench) { bench.channels[channel].tolerance = 7; });
  document.undo();
  EXPECT_EQ(document.bench().channels[0].tolerance, 7);
  EXPECT_EQ(document.bench().channels[1].tolerance, before.channels[1].tolerance);
}

TEST_F(DocumentTest, OpeningAnotherFileDoesNotTouchItsLeftover) {
  leave_behind("of mine");
  Document document;
  ASSERT_TRUE(document.open(QString::fromStdString(data_folder()) + QStringLiteral("/demo/fernhollow.fairgauge.json")));
  document.edit(QStringLiteral("Name"), [](Bench& bench) { bench.name = "pending"; });
  ASSERT_TRUE(document.open(path_));  // while the autosave of the other is pending
  QTest::qWait(1300);
  ASSERT_TRUE(document.leftover());
  EXPECT_EQ(document.leftover()->content.name, "of mine");
  document.drop(*document.leftover());
  for (const auto& each : document.homeless_leftovers()) document.drop(each);
}

TEST_F(DocumentTest, ABenchWithoutAFileIsOfferedAgain) {
  {
    Document document;
    document.edit(QStringLiteral("Name"), [](Bench& bench) { bench.name = "never named a file"; });
    document.write_autosave();
  }
  Document document;
  const auto all = document.homeless_leftovers();
  ASSERT_EQ(all.size(), 1u);
  EXPECT_EQ(all.front().content.name, "never named a file");
  document.drop(all.front());
}

TEST_F(DocumentTest, AChannelOfAFaultyValueHasAReasonUntilItIsMended) {
  QFile file(path_);
  ASSERT_TRUE(file.open(QIODevice::ReadOnly));
  QByteArray text = file.readAll();
  file.close();
  text.replace("\"fixed_ohm\": 8200", "\"fixed_ohm\": \"8200\"");
  ASSERT_TRUE(file.open(QIODevice::WriteOnly | QIODevice::Truncate));
  file.write(text);
  file.close();
  Document document;
  const auto problems = document.open(path_);
  ASSERT_TRUE(problems);
  ASSERT_FALSE(problems->empty());
  ASSERT_TRUE(document.fault_of("substrate"));
  EXPECT_THAT(to_text(*document.fault_of("substrate")), HasSubstr("fixed_ohm"));
  EXPECT_FALSE(document.fault_of("room"));
  document.edit(QStringLiteral("Fixed resistor"), [](Bench& bench) { bench.devices[0].front_end.fixed_ohm = 8200; });
  EXPECT_FALSE(document.fault_of("substrate"));
}

}  // namespace fair_gauge::app::document_test
