#include "shell/memory.h"

#include <malloc.h>

namespace fair_gauge::app {

void share_one_heap() { mallopt(M_ARENA_MAX, 1); }

void give_freed_memory_back() {
  constexpr int from_bytes = 128 * 1024;
  mallopt(M_MMAP_THRESHOLD, from_bytes);
  mallopt(M_TRIM_THRESHOLD, from_bytes);
}

}  // namespace fair_gauge::app
