// The report of a hand-over, as it is written beside the code.
#include "files/json_document.h"
#include "handoff/handoff.h"

namespace fair_gauge {
namespace {

Json blocks_of(const std::vector<PlannedBlock>& blocks) {
  Json list = Json::array();
  for (const PlannedBlock& block : blocks) list.push_back({{"name", block.name}, {"bytes", block.bytes}});
  return list;
}

Json sides_of(const HandoffReport& report) {
  if (!report.side) return Json::array();
  const SideInput& side = *report.side;
  return {{{"channel", side.channel},
           {"argument", "side"},
           {"unit", side.unit},
           {"per_unit", side.per_unit},
           {"lowest", side.lowest},
           {"highest", side.highest}}};
}

}  // namespace

std::string cost_words(const HandoffReport& report) {
  if (!report.cost) return "";
  const auto& [flash, library, ram, cycles, compared, differing] = *report.cost;
  const std::string on(translated(report.measured_on));
  return cycles > 0 ? translated("{} bytes of flash, {} of RAM, at most {} cycles a call ({})", flash, ram, cycles, on)
                    : translated("{} bytes of flash, {} of RAM ({})", flash, ram, on);
}

std::string report_json(const HandoffReport& report) {
  const auto measured = [&](int HandoffCost::*figure) {
    return report.cost && report.cost.value().*figure > 0 ? Json(report.cost.value().*figure) : Json(nullptr);
  };
  Json json = {
      {"channel", report.channel},
      {"language", report.language},
      {"form", report.form},
      {"unit", report.unit},
      {"per_unit", report.per_unit},
      {"blocks", blocks_of(report.blocks)},
      {"trimming_blocks", blocks_of(report.trimming_blocks)},
      {"side_inputs", sides_of(report)},
      {"codes_checked", report.codes_checked},
      {"exhaustive", report.exhaustive},
      {"worst_error", report.worst_error},
      {"at_raw", !report.exhaustive && !report.side ? Json(report.at_raw)
                 : report.at_raw.empty()            ? Json(nullptr)
                                                    : Json(std::stoll(report.at_raw))},
      {"worst_error_wanted", report.worst_error_wanted},
      {"allowed_error", report.allowed_error},
      {"holds_for", report.holds_for},
      {"largest_intermediate",
       report.form == "float" || report.largest_intermediate == 0 ? Json(nullptr) : Json(report.largest_intermediate)},
      {"word_bits", report.word_bits},
      {"overflow", false},
      {"flash_bytes", measured(&HandoffCost::flash_bytes)},
      {"ram_bytes", report.cost ? Json(report.cost->ram_bytes) : Json(nullptr)},
      {"cycles_worst", measured(&HandoffCost::cycles_worst)},
      {"measured_on", report.measured_on.empty() ? Json(nullptr) : Json(report.measured_on)},
      {"source", report.source},
      {"notes", report.notes}};
  if (report.at_side) json["at_side"] = *report.at_side;
  if (!report.exhaustive) json["proven_bound"] = report.proven_bound ? Json(*report.proven_bound) : Json(nullptr);
  return json.dump(2) + "\n";
}

}  // namespace fair_gauge
