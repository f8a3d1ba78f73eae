// A part ↔ a JSON object of a part file.
#pragma once

#include <string>
#include <vector>

#include "files/json_document.h"
#include "language/translation.h"
#include "parts/controller.h"
#include "parts/part.h"

namespace fair_gauge {

/// Fills `part` from an object. \param pointer  where it stands in the document
void read_part(const JsonDocument& document, const Json& json, const std::string& pointer, Part& part,
               std::vector<Problem>& problems, Texts texts = Texts::as_written);

Json part_json(const Part& part);

/// The same of a controller.
void read_controller(const JsonDocument& document, const Json& json, const std::string& pointer, Controller& controller,
                     std::vector<Problem>& problems, Texts texts = Texts::as_written);
Json controller_json(const Controller& controller);

}  // namespace fair_gauge
