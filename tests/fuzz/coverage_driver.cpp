// Feeds a target with inputs that its own coverage chose (libFuzzer): `FAIR_GAUGE_FUZZ=TARGET
// fair_gauge_fuzz [-max_total_time=S] FOLDER…`. New cases go to the first folder. A crash leaves its input in
// ./crash-…. The target is no word of the command line, for libFuzzer starts itself anew by that.
#include <cstdint>
#include <cstdlib>
#include <iostream>

#include "fuzz/targets.h"

namespace {

FuzzTarget chosen = nullptr;

}  // namespace

extern "C" int LLVMFuzzerInitialize(int*, char***) {
  const char* name = std::getenv("FAIR_GAUGE_FUZZ");
  const auto& targets = fuzz_targets();
  const auto target = targets.find(name ? name : "");
  if (target == targets.end()) {
    std::cerr << "FAIR_GAUGE_FUZZ names which target? one of";
    for (const auto& [each, run] : targets) std::cerr << " " << each;
    std::cerr << "\n";
    std::exit(2);
  }
  chosen = target->second;
  return 0;
}

extern "C" int LLVMFuzzerTestOneInput(const std::uint8_t* bytes, std::size_t size) { return chosen(bytes, size); }
