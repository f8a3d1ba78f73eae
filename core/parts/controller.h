// A controller's own registers as a file in data/controllers describes them: which input is read, against what, how
// fast. Choosing their values works as for a part, in core/digital/registers.h.
#pragma once

#include <string>
#include <vector>

#include "files/file.h"
#include "language/translation.h"
#include "parts/byte_layout.h"
#include "quantity/result.h"

namespace fair_gauge {

struct Controller {
  std::string id;
  std::string name;                   ///< our own plain description
  std::vector<std::string> markings;  ///< what is printed on its package
  double clock_hz = 0;                ///< that it usually runs at; expressions name it clock_hz
  ByteLayout layout;                  ///< its registers, figures and forbidden settings; nothing else of it is used
  std::vector<std::string> cautions;
  std::string source;  ///< where the layout comes from
  UnknownKeys unknown;

  bool operator==(const Controller&) const = default;
};

/// The controllers of one file. \param problems  takes what is wrong with those that are left out
std::vector<Controller> read_controllers(std::string text, const std::string& file, std::vector<Problem>& problems,
                                         Texts texts = Texts::as_written);

/// Those that ship with the program, then the user's own; one of the same id takes the place of an earlier one.
std::vector<Controller> load_controllers(std::vector<Problem>* problems = nullptr);

/// Writes one of the user's own as ID.json in their folder; another of that name is kept beside it.
Result<KeptFile> save_user_controller(const Controller& controller);

}  // namespace fair_gauge
