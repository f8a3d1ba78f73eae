// What written code costs on an 8-bit controller: compiled by its cross compiler, run in a simulated one that counts
// cycles. Nothing where these are not installed.
#pragma once

#include <cstdint>
#include <optional>
#include <string>
#include <vector>

#include "handoff/byte_plan.h"

namespace fair_gauge {

struct HandoffCost {
  int flash_bytes = 0;    ///< text and data of the object file, library excluded
  int library_bytes = 0;  ///< by which the compiler's library makes a program larger that has none of it yet; measured
                          ///< where there are calls
  int ram_bytes = 0;      ///< constant tables included
  int cycles_worst = 0;   ///< of one call, return included; 0 → not measured
  int compared = 0;       ///< calls whose result there was held against what is expected
  int differing = 0;      ///< of these
};

/// A call and what it is to give.
struct HandoffCall {
  std::string input;  ///< in C, as text: "1873UL", bytes "{0x66,0x66}", or with a side "{1873UL,255}"
  HandoffStatus status = HandoffStatus::ok;
  std::int32_t value = 0;  ///< steps, where ok
};

/// What NAME_convert takes besides the place of the value.
enum class HandoffArguments { number, bytes, number_and_side };

/// \param name, header, source  of the written code
/// \param calls  run one after the other; those that the controller's memory holds, spread over all of them
/// \param slack  steps that a result may be off there: another library's functions round otherwise
/// \param trimming  loaded before the first call; empty → it is compiled in, or there is none
/// \returns nothing where the compiler is missing or refuses
std::optional<HandoffCost> measure_handoff(const std::string& name, const std::string& header,
                                           const std::string& source, std::vector<HandoffCall> calls,
                                           HandoffArguments arguments, int slack = 0,
                                           const std::vector<std::uint8_t>& trimming = {});

/// The controller that is measured on, as the cross compiler and the simulator call it: 8 bits, 32 KB, with a
/// multiplier of two cycles. Their option, fixed so that figures can be compared.
inline constexpr const char* measured_controller = "atmega328p";

/// What it is measured with, for the report; empty where nothing is there.
std::string measuring_tools();

}  // namespace fair_gauge
