// Files are replaced whole or not at all.
#include "files/file.h"

#include <gmock/gmock.h>
#include <sys/stat.h>
#include <unistd.h>

#include <filesystem>

#include "files/json_document.h"

namespace fair_gauge::files_test {

namespace fs = std::filesystem;

class Files : public testing::Test {
 protected:
  Files() : folder_(fs::temp_directory_path() / ("fair-gauge-files-" + std::to_string(::getpid()))) {
    fs::create_directories(folder_);
  }
  ~Files() override { fs::remove_all(folder_); }
  std::string path(const char* name) const { return (folder_ / name).string(); }
  fs::path folder_;
};

TEST_F(Files, AWrittenFileReadsBackAndLeavesNothingBeside) {
  ASSERT_TRUE(write_file(path("a"), "one"));
  ASSERT_TRUE(write_file(path("a"), "two"));
  EXPECT_EQ(*read_file(path("a")), "two");
  EXPECT_EQ(std::distance(fs::directory_iterator(folder_), fs::directory_iterator()), 1);
}

TEST_F(Files, AFailedWriteLeavesTheOldFileWhole) {
  EXPECT_THAT(to_text(write_file("/dev/full/a", "x").problem()), testing::HasSubstr("saving failed"));
  EXPECT_FALSE(write_file(path("missing/a"), "x"));
  ASSERT_TRUE(write_file(path("a"), "old"));
  fs::create_directory(path("b"));
  EXPECT_FALSE(write_file(path("b"), "x"));  // a folder stands there
  EXPECT_EQ(*read_file(path("a")), "old");
  EXPECT_EQ(std::distance(fs::directory_iterator(folder_), fs::directory_iterator()), 2);
}

TEST_F(Files, ALinkGoesOnPointingWhereItPointed) {
  ASSERT_TRUE(write_file(path("a"), "old"));
  fs::create_symlink(path("a"), path("link"));
  ASSERT_TRUE(write_file(path("link"), "new"));
  EXPECT_TRUE(fs::is_symlink(path("link")));
  EXPECT_EQ(*read_file(path("a")), "new");
}

TEST_F(Files, FoldersLargeAndMissingFilesAreRefused) {
  EXPECT_THAT(read_file(folder_.string()).problem().wrong, testing::HasSubstr("folder"));
  EXPECT_THAT(read_file(path("none")).problem().wrong, testing::HasSubstr("opening failed"));
  ASSERT_TRUE(write_file(path("a"), std::string(3 << 20, 'x')));
  EXPECT_THAT(read_file(path("a"), 1 << 20).problem().wrong, testing::HasSubstr("larger than 1 MB"));
}

TEST(JsonDocument, FindsThePlaceOfAPointer) {
  const auto document = parse_json("{\"a\": \"}{\",\n \"b\": [1, {\"c/d\": [[], 7]}]}", "f");
  EXPECT_EQ(document->place_of("/b/1/c~1d/1"), (Place{"f", 2, 24}));
  EXPECT_EQ(document->place_of("/b/0"), (Place{"f", 2, 8}));
  EXPECT_EQ(document->place_of("/b/9/x"), (Place{"f", 2, 7}));
}

}  // namespace fair_gauge::files_test
