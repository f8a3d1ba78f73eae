// What written code costs on an 8-bit controller: compiled by its cross compiler, run in a simulated one that counts
// cycles. Nothing where these are not installed.
#pragma once

#include <cstdint>
#include <optional>
#include <string>
#include <vector>

namespace fair_gauge {

struct HandoffCost {
  int flash_bytes = 0;    ///< text and data of the object file, library excluded
  int library_bytes = 0;  ///< by which the compiler's library makes a program larger that has none of it yet; measured
                          ///< where there are calls
  int ram_bytes = 0;      ///< constant tables included
  int cycles_worst = 0;   ///< of one call, return included; 0 → not measured
};

/// \param name, header, source  of the written code
/// What NAME_convert takes besides the place of the value.
enum class HandoffArguments { number, bytes, number_and_side };

/// \param calls  arguments of NAME_convert in C, as text: "1873UL", bytes "{0x66,0x66}", or with a side "{1873UL,255}"
/// \returns nothing where the compiler is missing or refuses
std::optional<HandoffCost> measure_handoff(const std::string& name, const std::string& header,
                                           const std::string& source, const std::vector<std::string>& calls,
                                           HandoffArguments arguments);

/// The controller that is measured on, as the cross compiler and the simulator call it: 8 bits, 32 KB, with a
/// multiplier of two cycles. Their option, fixed so that figures can be compared.
inline constexpr const char* measured_controller = "atmega328p";

/// What it is measured with, for the report; empty where nothing is there.
std::string measuring_tools();

}  // namespace fair_gauge
