#include "sources/live_source.h"

namespace fair_gauge::app {

void LiveSource::set_state(LineState state, const QString& words) {
  if (state == state_ && words == words_) return;
  state_ = state;
  words_ = words;
  emit state_changed();
}

}  // namespace fair_gauge::app

#include "moc_live_source.cpp"
