// Text that somebody might paste as bytes, as a curve, as calibration points, as a scan or as a log.
#include <cstddef>
#include <cstdint>
#include <string_view>

#include "digital/byte_text.h"
#include "fuzz/targets.h"
#include "quantity/quantity_text.h"
#include "sizing/own_curve.h"
#include "stream/listening.h"
#include "stream/log_series.h"
#include "truth/calibration_fit.h"
#include "wiring/bus_scan.h"

int fuzz_byte_text(const std::uint8_t* bytes, std::size_t size) {
  using namespace fair_gauge;
  const std::string_view text(reinterpret_cast<const char*>(bytes), size);
  (void)read_byte_text(text);
  Listener listener;
  Channel value{.id = "v"};
  value.arrives = Arrival{.unit = "[degF]"};
  for (const SerialLine& line : SerialText(true).take(text)) {
    listener.take(line);
    for (const RawItem& item : line.items) (void)number_for(value, item);
  }
  (void)with_channels({}, listener.proposals());
  (void)read_curve_points(text);
  (void)read_calibration_points(text);
  (void)read_address_scan(text);
  (void)read_serial_scan(text);
  (void)read_log_series(text, "");
  (void)parse_quantity(std::string(text), Dimension::temperature);
  return 0;
}
