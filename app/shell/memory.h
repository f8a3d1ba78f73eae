// A window stays open for weeks: what it has freed goes back to the machine.
#pragma once

namespace fair_gauge::app {

/// One heap for all threads, instead of one for each that keeps what it once needed. Before the first thread.
void share_one_heap();

/// Blocks from 128 KB on go back as soon as they are freed. Once the window stands: the start asks for many of them.
void give_freed_memory_back();

}  // namespace fair_gauge::app
