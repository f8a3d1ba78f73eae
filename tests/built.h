// What differs from one build of the program to another. The sanitized build links the tests that the plain build has
// compiled (FAIR_GAUGE_TEST_OBJECTS), so none of it may stand in a test's own code.
#pragma once

namespace fair_gauge::built {
// Paths of the programs to test; empty where a build has none.
extern const char *const command_line, *const stand_in, *const window;
}  // namespace fair_gauge::built

// Whether a sanitizer watches: everything takes several times as long then, and large tests draw fewer.
extern const bool is_sanitized;
