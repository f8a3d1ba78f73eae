// A bench with one uncompensated bridge: its span and its zero are each a third more or less from piece to piece.
#pragma once

#include "bench/bench.h"

namespace fair_gauge {

/// Channel "p", 0 to 390 hPa of a 40 kPa bridge on a 24-bit converter. \param tolerance  in pascals
inline Bench bridge_bench(double tolerance) {
  Bench bench;
  bench.rails = {{.id = "v", .voltage = {.nominal_v = 5}}};
  bench.converters = {{.id = "adc", .bits = 24, .reference_rail = "v"}};
  bench.devices = {{.id = "cell", .part = "MPS20N0040D", .converter = "adc", .rail = "v"}};
  bench.channels = {{.id = "p",
                     .device = "cell",
                     .quantity = Quantity::pressure,
                     .kind = PressureKind::gauge,
                     .wanted = {0, 39'000},
                     .tolerance = tolerance,
                     .unit = "hPa"}};
  return bench;
}

}  // namespace fair_gauge
