// Hands a channel over and runs what came out over its vectors, in C and in Python.
#pragma once

#include <gtest/gtest.h>

#include <fmt/format.h>

#include "demo.h"
#include "handoff/handoff.h"
#include "scratch_folder.h"

namespace fair_gauge {

class HandoffTest : public ScratchFolder {
 protected:
  Handoff hand(const Bench& bench, const std::string& channel, Language language,
               std::optional<HandoffForm> form = std::nullopt, std::int64_t per_unit = 0, bool loaded = false,
               int drawn = is_sanitized ? 2'000 : 20'000) {
    auto done = hand_over(bench, shipped_parts(),
                          {.channel = channel,
                           .language = language,
                           .form = form,
                           .per_unit = per_unit,
                           .trimming_loaded = loaded,
                           .drawn_blocks = drawn,
                           .in_simulator = !is_sanitized});
    EXPECT_TRUE(done) << channel << ": " << (done ? "" : to_text(done.problem()));
    // What it gives on the controller, where there is a simulated one.
    if (done && language == Language::c && !loaded && !is_sanitized &&
        measuring_tools().find("simulator") != std::string::npos) {
      EXPECT_TRUE(done->report.cost && done->report.cost->compared > 0) << channel;
      EXPECT_EQ(done->report.cost ? done->report.cost->differing : 0, 0) << channel;
    }
    return done ? std::move(*done) : Handoff{};
  }

  void write_all(const Handoff& done) const {
    for (const auto& [name, text] : done.files) write(name, text);
  }

  // Compiles and runs it over its vectors; what differs, in words.
  std::string run_c(const Handoff& done, const std::string& before = "") const {
    write_all(done);
    const std::string& name = done.code.name;
    const bool bytes = done.code.bytes.has_value();
    std::string rows;
    for (const HandoffVector& vector : done.vectors) {
      std::string raw;
      if (bytes)
        for (std::size_t i = 0; i + 1 < vector.raw.size(); i += 2)
          raw += (raw.empty() ? "{0x" : ",0x") + vector.raw.substr(i, 2);
      else
        raw = fmt::format("{}u", static_cast<std::uint32_t>(std::stoll(vector.raw)));
      rows += fmt::format("{{{}{},{},{},{}}},\n", raw, bytes ? "}" : "", static_cast<int>(vector.status),
                          vector.value.value_or(-12345), vector.side.value_or(0));
    }
    write("main.c",
          fmt::format(
              "#include \"{0}.h\"\n#include <stdio.h>\nstruct row {{ {1}; int status; int32_t value, side; }};\nstatic "
              "const struct row rows[] = {{\n{2}}};\n"
              "int main(void) {{\n  int bad = 0;\n  {3}\n  for (unsigned i = 0; i < sizeof rows / sizeof *rows; "
              "++i) {{\n    int32_t value = -12345;\n"
              "    const int status = {0}_convert(rows[i].raw, &value{4});\n    if (status != rows[i].status || "
              "value != rows[i].value) ++bad;\n  }}\n"
              "  printf(\"%d differ\\n\", bad);\n  return 0;\n}}\n",
              name, bytes ? fmt::format("uint8_t raw[{}]", done.vectors.front().raw.size() / 2) : "uint32_t raw", rows,
              before, done.code.side ? ", rows[i].side" : ""));
    return shell("gcc -std=c99 -O1 -Wall -Wextra -Wpedantic -Wconversion -Wshadow -Werror " + name +
                 ".c main.c -o main -lm && ./main");
  }

  std::string run_python(const Handoff& done) const {
    write_all(done);
    const std::string& name = done.code.name;
    return shell(fmt::format(
        "python3 -B -c \"import csv, {0} as m\nbad = 0\nfor row in csv.DictReader(open('{0}_vectors.csv')):\n"
        "    raw = {1}\n    want = (int(row['status']), int(row['value']) if row['value'] else None)\n    bad += "
        "m.convert(raw{2}) != want\nprint(bad, 'differ', m.text(-5))\"",
        name, done.code.bytes ? "bytes.fromhex(row['raw'])" : "int(row['raw'])",
        done.code.side ? ", int(row['side'])" : ""));
  }

  // The most steps by which an interpreter whose floats have 32 bits gives other values than one with 64: its program
  // is rewritten so that every operation rounds.
  int narrow_steps(const Handoff& done) const {
    write_all(done);
    write("narrow.py", R"(import ast, csv, operator, struct, sys
def f(x):
    try:
        return struct.unpack('f', struct.pack('f', x))[0]
    except OverflowError:
        return float('inf')
def value(x):
    return f(x) if isinstance(x, float) else x
def op(name, a, b):
    if name == 'Div' or isinstance(a, float) or isinstance(b, float):
        a, b = f(a), f(b)
    return value(getattr(operator, {'Add': 'add', 'Sub': 'sub', 'Mult': 'mul', 'Div': 'truediv', 'Pow': 'pow',
                 'FloorDiv': 'floordiv', 'Mod': 'mod', 'LShift': 'lshift', 'RShift': 'rshift', 'BitAnd': 'and_',
                 'BitOr': 'or_', 'BitXor': 'xor'}[name])(a, b))
def call(name, *taken):
    return ast.Call(ast.Name(name, ast.Load()), list(taken), [])
class Narrow(ast.NodeTransformer):
    def visit_BinOp(self, node):
        self.generic_visit(node)
        return call('_op', ast.Constant(type(node.op).__name__), node.left, node.right)
    def visit_AugAssign(self, node):
        kept = ast.Name(node.target.id, ast.Load())
        return ast.Assign([node.target], self.visit(ast.BinOp(kept, node.op, node.value)))
    def visit_Call(self, node):
        self.generic_visit(node)
        return call('_value', node)
    def visit_Constant(self, node):
        return call('_value', node) if isinstance(node.value, float) else node
name, is_bytes = sys.argv[1], sys.argv[2] == 'bytes'
tree = ast.fix_missing_locations(Narrow().visit(ast.parse(open(name + '.py').read())))
program = {'_op': op, '_value': value}
exec(compile(tree, name, 'exec'), program)
worst = 0
for row in csv.DictReader(open(name + '_vectors.csv')):
    got = program['convert'](bytes.fromhex(row['raw']) if is_bytes else int(row['raw']))
    if got[1] is not None and row['value']:
        worst = max(worst, abs(got[1] - int(row['value'])))
print(worst)
)");
    return std::atoi(
        shell(fmt::format("python3 -B narrow.py {} {}", done.code.name, done.code.bytes ? "bytes" : "number")).c_str());
  }
};

}  // namespace fair_gauge
