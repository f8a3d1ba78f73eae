// Rooms may only use the rooms below them, and no room of the core or the command line knows Qt.
#include <gtest/gtest.h>

#include <filesystem>
#include <fstream>
#include <map>
#include <set>
#include <string>

namespace {

namespace fs = std::filesystem;

const std::map<std::string, std::set<std::string>> allowed = {
    {"language", {}},
    {"quantity", {"language"}},
    {"files", {"language", "quantity"}},
    {"formulas", {"language", "quantity"}},
    {"parts", {"language", "quantity", "files", "formulas"}},
    {"digital", {"language", "quantity", "files", "formulas", "parts"}},
    {"bench", {"language", "quantity", "files"}},
    {"chain", {"language", "quantity", "files", "formulas", "parts", "bench", "digital"}},
    {"truth", {"language", "quantity", "files", "formulas", "parts", "bench", "chain"}},
    {"sizing", {"language", "quantity", "files", "formulas", "parts", "bench", "chain"}},
    {"stream", {"language", "quantity", "files", "formulas", "parts", "digital", "bench", "chain", "truth", "sim"}},
    {"sim", {"language", "quantity", "files", "formulas", "parts", "bench", "chain", "digital"}},
    {"wiring", {"language", "quantity", "files", "parts", "digital", "bench", "chain", "sizing"}},
    {"choose",
     {"language", "quantity", "files", "parts", "digital", "bench", "chain", "truth", "sim", "sizing", "wiring"}},
    {"logbook", {"language", "quantity", "files", "bench", "parts", "chain", "truth"}},
    {"calibrate",
     {"language", "quantity", "files", "parts", "digital", "bench", "chain", "truth", "sizing", "logbook"}},
    {"handoff",
     {"language", "quantity", "files", "formulas", "parts", "digital", "bench", "chain", "truth", "wiring", "stream"}},
    {"diagnose",
     {"language", "quantity", "files", "formulas", "parts", "digital", "bench", "chain", "truth", "sim", "stream"}},
    {"overview", {"language", "quantity", "files", "parts", "bench", "chain", "truth", "wiring", "logbook", "handoff"}},
};

template <class Visit>
void for_each_include(const fs::path& folder, Visit visit) {
  for (const auto& entry : fs::recursive_directory_iterator(folder)) {
    if (entry.path().extension() != ".h" && entry.path().extension() != ".cpp") continue;
    std::ifstream file(entry.path());
    for (std::string line; std::getline(file, line);) {
      const auto from = line.find_first_of("<\"") + 1;
      const auto to = line.find_first_of(">\"", from);
      if (line.starts_with("#include ") && to != std::string::npos) visit(entry.path(), line.substr(from, to - from));
    }
  }
}

TEST(Dependencies, PointOneWay) {
  const fs::path core = fs::path(FAIR_GAUGE_SOURCE) / "core";
  int rooms = 0;
  for (const auto& entry : fs::directory_iterator(core)) {
    if (!entry.is_directory()) continue;
    const std::string room = entry.path().filename();
    ++rooms;
    ASSERT_TRUE(allowed.contains(room)) << "core/" << room << " is not in the list of rooms";
    EXPECT_TRUE(fs::exists(entry.path() / "README.md")) << "core/" << room << " has no README.md";
    for_each_include(entry.path(), [&](const fs::path& file, const std::string& name) {
      const std::string used = name.substr(0, name.find('/'));
      if (name.find('/') == std::string::npos || !allowed.contains(used) || used == room) return;
      EXPECT_TRUE(allowed.at(room).contains(used)) << file << " may not use " << used;
    });
  }
  EXPECT_EQ(rooms, static_cast<int>(allowed.size()));
}

TEST(Dependencies, NoQtBelowTheWindow) {
  for (const char* folder : {"core", "cli", "standin"})
    for_each_include(fs::path(FAIR_GAUGE_SOURCE) / folder, [](const fs::path& file, const std::string& name) {
      EXPECT_FALSE(name.size() > 1 && name[0] == 'Q' && std::isupper(static_cast<unsigned char>(name[1])))
          << file << " uses " << name;
      EXPECT_FALSE(name.starts_with("qcustomplot")) << file;
    });
}

}  // namespace
