#include "bench/bench.h"

#include <array>

#include "language/translation.h"

namespace fair_gauge {

#define FAIR_GAUGE_NAMES(E, ...)                       \
  std::span<const EnumName<E>> enum_names(E) {         \
    using enum E;                                      \
    static constexpr std::array table = {__VA_ARGS__}; \
    return table;                                      \
  }

FAIR_GAUGE_NAMES(CodeConvention, EnumName{steps, "steps"}, EnumName{codes, "codes"})
FAIR_GAUGE_NAMES(Rounding, EnumName{nearest, "nearest"}, EnumName{truncate, "truncate"})
FAIR_GAUGE_NAMES(Justification, EnumName{right, "right"}, EnumName{left, "left"}, EnumName{scaled, "scaled"})
FAIR_GAUGE_NAMES(FrontEndKind, EnumName{direct, "direct"}, EnumName{divider, "divider"}, EnumName{load, "load"},
                 EnumName{level_divider, "level-divider"}, EnumName{amplifier, "amplifier"},
                 EnumName{transimpedance, "transimpedance"})
FAIR_GAUGE_NAMES(AmplifierKind, EnumName{non_inverting, "non-inverting"}, EnumName{inverting, "inverting"},
                 EnumName{difference, "difference"}, EnumName{bridge, "bridge"})
FAIR_GAUGE_NAMES(Polarity, EnumName{unipolar, "unipolar"}, EnumName{bipolar, "bipolar"})
FAIR_GAUGE_NAMES(Position, EnumName{top, "top"}, EnumName{bottom, "bottom"})
FAIR_GAUGE_NAMES(CorrectionPlace, EnumName{physical, "physical"}, EnumName{raw, "raw"}, EnumName{part, "part"},
                 EnumName{firmware, "firmware"})
FAIR_GAUGE_NAMES(ArrivesAs, EnumName{raw, "raw"}, EnumName{value, "value"})
FAIR_GAUGE_NAMES(FilterKind, EnumName{mean, "mean"}, EnumName{median, "median"}, EnumName{exponential, "exponential"})
FAIR_GAUGE_NAMES(BusKind, EnumName{two_wire, "two-wire"}, EnumName{one_wire, "one-wire"},
                 EnumName{single_wire, "single-wire"}, EnumName{alert, "alert"})
FAIR_GAUGE_NAMES(CableKind, EnumName{flat_ribbon, "flat-ribbon"}, EnumName{twisted_pair, "twisted-pair"},
                 EnumName{shielded_pair, "shielded-pair"}, EnumName{round_cable, "round-cable"},
                 EnumName{single_wires, "single-wires"})
FAIR_GAUGE_NAMES(AccessoryKind, EnumName{display, "display"}, EnumName{lamp, "lamp"},
                 EnumName{potentiometer, "potentiometer"}, EnumName{relay, "relay"}, EnumName{other, "other"})

#undef FAIR_GAUGE_NAMES

std::string name_of(const Bench& bench, const Device& device) {
  std::string name;
  int more = 0;
  for (const Channel& channel : bench.channels) {
    if (channel.device != device.id) continue;
    if (name.empty())
      name = channel.name;
    else
      ++more;
  }
  if (name.empty()) return device.id;
  return more > 0 ? name + translated(" and ") + std::to_string(more) + translated(" more") : name;
}

bool hangs_on(const Device& device, std::string_view bus) { return device.bus == bus || device.alert == bus; }

const KnownVoltage& reference_of(const Bench& bench, const Converter& converter) {
  const Rail* rail = find_by_id(bench.rails, converter.reference_rail);
  return rail ? rail->voltage : converter.reference;
}

}  // namespace fair_gauge
