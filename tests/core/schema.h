// Documents held against the published JSON Schemas.
#pragma once

#include <vector>

#include "files/json_document.h"

namespace fair_gauge {

/// Everything in which a document differs from a JSON Schema (draft 7), each with its place.
std::vector<Problem> schema_problems(const JsonDocument& document, const Json& schema);

}  // namespace fair_gauge
