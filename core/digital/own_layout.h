// A digital part of the user's own: a table of fields, a typed formula, a check.
#pragma once

#include <string>
#include <vector>

#include "parts/controller.h"
#include "parts/part.h"
#include "quantity/result.h"

namespace fair_gauge {

struct OwnReading {
  Quantity quantity = Quantity::temperature;
  std::string formula;  ///< of field names, in base units: "raw / 256 - 40"
  double minimum = -40;
  double maximum = 125;
};

struct OwnLayout {
  std::string name;
  Interface interface = Interface::i2c;
  int bytes = 2;  ///< of its one frame
  std::vector<ByteField> fields;
  std::vector<OwnReading> readings;
  std::string check;              ///< a name of core/digital/checks.h over all bytes but the last; empty → none
  bool checks_each_word = false;  ///< instead: it follows every two bytes and covers these
  std::vector<PartRegister> registers;
};

/// \returns the part, able to decode; or the first thing that is not understood, with the row that it stands in
Result<Part> part_of_layout(const OwnLayout& layout);

/// A controller's registers under a name of the user's own. \returns a problem without a name or a register
Result<Controller> controller_of_registers(const std::string& name, std::vector<PartRegister> registers);

}  // namespace fair_gauge
