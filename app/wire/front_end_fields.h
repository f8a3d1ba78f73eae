// The rows of a front end: what can be set between a sensor and the converter's pin.
#pragma once

#include "wire/stage_fields.h"

namespace fair_gauge::app {

/// The rows that this kind of front end has, for a part of this interface.
std::vector<FieldRow> front_end_fields(const Part& part, const FrontEnd& front_end);

}  // namespace fair_gauge::app
