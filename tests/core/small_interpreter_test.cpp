// Handed-over Python on the interpreter of small controllers, over all of its vectors: one channel of each kind of
// arithmetic, and a filter.
#include <gmock/gmock.h>

#include <fmt/format.h>

#include "demo.h"
#include "handoff/handoff.h"
#include "scratch_folder.h"

namespace fair_gauge::small_interpreter_test {

// Where tools/small-interpreter has put it; empty → there is none on this machine.
std::string interpreter() {
  std::string folder;
  if (FILE* said = ::popen(FAIR_GAUGE_SOURCE "/tools/small-interpreter 2>/dev/null", "r")) {
    char line[4096];
    if (std::fgets(line, sizeof line, said)) folder = line;
    ::pclose(said);
  }
  while (!folder.empty() && folder.back() == '\n') folder.pop_back();
  return folder;
}

class SmallInterpreter : public ScratchFolder {};

TEST_F(SmallInterpreter, GivesEveryVectorOfEachKindOfArithmetic) {
  const std::string where = interpreter();
  if (where.empty()) GTEST_SKIP() << "no node here, or the interpreter could not be fetched";
  struct Case {
    const char* channel;
    std::optional<HandoffForm> form;
  };
  // A line, a table, a formula; two numbers that meet; an integer compensation; light by float; a probe's bytes.
  const Case cases[] = {{"spawn_fridge", HandoffForm::integer},
                        {"substrate", HandoffForm::table},
                        {"substrate", HandoffForm::floating},
                        {"compost_probe", {}},
                        {"room_pressure", {}},
                        {"grow_light", {}},
                        {"rack", {}}};
  for (const Case& each : cases) {
    const auto done =
        hand_over(demo_bench(), shipped_parts(),
                  {.channel = each.channel, .language = Language::python, .form = each.form, .drawn_blocks = 2'000});
    ASSERT_TRUE(done) << each.channel;
    for (const auto& [name, text] : done->files) write(name, text);
    // The interpreter has no module for tables of text: the vectors are parted here.
    const std::string& name = done->code.name;
    write("main.py",
          fmt::format("import {0} as m\n"
                      "rows = open('/{0}_vectors.csv').read().split('\\n')\n"
                      "head = rows[0].split(',')\n"
                      "bad = count = 0\n"
                      "for row in rows[1:]:\n"
                      "    if not row: continue\n"
                      "    of = dict(zip(head, row.split(',')))\n"
                      "    raw = {1}\n"
                      "    want = (int(of['status']), int(of['value']) if of['value'] else None)\n"
                      "    count += 1\n"
                      "    bad += m.convert(raw{2}) != want\n"
                      "print(count, bad)\n",
                      name,
                      done->code.bytes ? "bytes(int(of['raw'][i:i + 2], 16) for i in range(0, len(of['raw']), 2))"
                                       : "int(of['raw'])",
                      done->code.side ? ", int(of['side'])" : ""));
    EXPECT_EQ(shell("node " FAIR_GAUGE_SOURCE "/tests/core/small_interpreter.mjs " + where + " . main.py"),
              fmt::format("{} 0\n", done->vectors.size()))
        << each.channel;
  }
}

}  // namespace fair_gauge::small_interpreter_test
