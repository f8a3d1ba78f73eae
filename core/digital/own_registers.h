// Registers as a person types them from a data sheet, a row for each field: the register it stands in, its bits and
// what its values mean.
#pragma once

#include <string>
#include <vector>

#include "parts/byte_layout.h"
#include "quantity/result.h"

namespace fair_gauge {

struct OwnRegisterRow {
  std::string reg;       ///< name of the register; empty → the row's above
  std::string address;   ///< "0x7C"; empty → as in an earlier row of that register
  std::string field;     ///< by the sheet's name
  std::string bits;      ///< "7:6", or "3"
  std::string choices;   ///< "0 the pin; 1 the supply; 3 1.1 V inside"; empty → any number
  std::string power_on;  ///< the field's number after power-on; empty → 0
};

/// \returns the registers, 16 bits wide where a bit above 7 is named; or the first thing that is not understood, with
///          its row
Result<std::vector<PartRegister>> registers_of_rows(const std::vector<OwnRegisterRow>& rows);

}  // namespace fair_gauge
