#include "bench/bench.h"

#include <fmt/ranges.h>

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
FAIR_GAUGE_NAMES(FrontEndKind, EnumName{direct, to_translate("direct")}, EnumName{divider, to_translate("divider")},
                 EnumName{load, to_translate("load")}, EnumName{level_divider, to_translate("level-divider")},
                 EnumName{amplifier, to_translate("amplifier")},
                 EnumName{transimpedance, to_translate("transimpedance")})
FAIR_GAUGE_NAMES(AmplifierKind, EnumName{non_inverting, "non-inverting"}, EnumName{inverting, "inverting"},
                 EnumName{difference, "difference"}, EnumName{bridge, "bridge"})
FAIR_GAUGE_NAMES(Polarity, EnumName{unipolar, "unipolar"}, EnumName{bipolar, "bipolar"})
FAIR_GAUGE_NAMES(Position, EnumName{top, "top"}, EnumName{bottom, "bottom"})
FAIR_GAUGE_NAMES(CorrectionPlace, EnumName{physical, "physical"}, EnumName{raw, "raw"}, EnumName{part, "part"},
                 EnumName{firmware, "firmware"})
FAIR_GAUGE_NAMES(ArrivesAs, EnumName{raw, "raw"}, EnumName{value, "value"})
FAIR_GAUGE_NAMES(FilterKind, EnumName{mean, to_translate("mean")}, EnumName{median, to_translate("median")},
                 EnumName{exponential, to_translate("exponential")})
FAIR_GAUGE_NAMES(BusKind, EnumName{two_wire, to_translate("two-wire")}, EnumName{one_wire, to_translate("one-wire")},
                 EnumName{single_wire, to_translate("single-wire")}, EnumName{alert, to_translate("alert")})
FAIR_GAUGE_NAMES(CableKind, EnumName{flat_ribbon, to_translate("flat-ribbon")},
                 EnumName{twisted_pair, to_translate("twisted-pair")},
                 EnumName{shielded_pair, to_translate("shielded-pair")},
                 EnumName{round_cable, to_translate("round-cable")},
                 EnumName{single_wires, to_translate("single-wires")})
FAIR_GAUGE_NAMES(AccessoryKind, EnumName{display, to_translate("display")}, EnumName{lamp, to_translate("lamp")},
                 EnumName{potentiometer, to_translate("potentiometer")}, EnumName{relay, to_translate("relay")},
                 EnumName{other, to_translate("other")})

#undef FAIR_GAUGE_NAMES

std::string name_of(const Bench& bench, const Device& device) {
  std::vector<std::string> names;
  for (const Channel& channel : bench.channels)
    if (channel.device == device.id) names.push_back(channel.name);
  if (names.empty()) return device.id;
  constexpr std::size_t short_enough = 24;  // bytes; a longer name is not read at one glance
  std::string all = fmt::format("{}", fmt::join(names, ", "));
  if (names.size() == 1 || all.size() <= short_enough) return all;
  return translated("{} and {} more", names.front(), names.size() - 1);
}

bool hangs_on(const Device& device, std::string_view bus) { return device.bus == bus || device.alert == bus; }

const KnownVoltage& reference_of(const Bench& bench, const Converter& converter) {
  const Rail* rail = find_by_id(bench.rails, converter.reference_rail);
  return rail ? rail->voltage : converter.reference;
}

}  // namespace fair_gauge
