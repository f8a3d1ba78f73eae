#include "handoff/one_page.h"

#include <fmt/format.h>

#include <algorithm>
#include <cmath>

#include "files/markup.h"
#include "language/translation.h"
#include "quantity/number_format.h"
#include "wiring/wiring_list.h"

namespace fair_gauge {
namespace {

using Rows = std::vector<std::vector<std::string>>;

// Decimals for four digits of a number.
int four_digits(double value) {
  return value == 0 ? 1 : std::clamp(3 - static_cast<int>(std::floor(std::log10(std::abs(value)))), 0, 6);
}

// Each stage with what it shows in the middle of the wanted range.
Rows stages_of(const Chain& chain) {
  const Range& wanted = chain.channel.wanted;
  const auto values = evaluate(chain, {StageName::world, (wanted.from + wanted.to) / 2});
  Rows rows;
  for (std::size_t i = 0; i < chain.stages.size(); ++i) {
    const Stage& stage = chain.stages[i];
    const Dimension dimension = stage.unit->dimension;
    const std::string value =
        !values[i]                       ? std::string("–")
        : stage.name == StageName::bytes ? chain.bytes->text(*values[i])
        : stage.unit->symbol.empty()     ? shortest(*values[i])
        : dimension == Dimension::resistance || dimension == Dimension::current || dimension == Dimension::voltage
            ? with_prefix(*values[i], stage.unit->symbol, 4)
            : with_unit(*values[i], four_digits(*values[i]), stage.unit->symbol);
    rows.push_back({std::string(stage_title(stage.name)), value, stage.caption});
  }
  return rows;
}

Rows proof_of(const HandoffReport& report, const std::string& symbol) {
  const auto amount = [&](double value) {
    return with_unit(value, std::clamp(decimals_of_two_digits(value), 0, 6), symbol);
  };
  const std::string inputs = report.side             ? translated("pairs of raw number and side")
                             : report.blocks.empty() ? translated("raw numbers")
                                                     : translated("blocks of bytes");
  Rows rows = {{translated("Run"), fmt::format("{} {} {}", report.exhaustive ? translated("all") : translated("drawn:"),
                                               fixed(static_cast<double>(report.codes_checked), 0), inputs)},
               {translated("Worst error"),
                amount(report.worst_error) + translated(", rounding included") +
                    (report.at_raw.size() <= 24 && !report.at_raw.empty() ? translated(", at {}", report.at_raw) : "")},
               {translated("In the wanted range"), amount(report.worst_error_wanted)},
               {translated("Its uncertainty leaves room for"),
                amount(report.allowed_error + 0.5 / static_cast<double>(report.per_unit))}};
  if (report.proven_bound) rows.push_back({translated("Proven bound"), amount(*report.proven_bound)});
  if (report.largest_intermediate > 0)
    rows.push_back(
        {translated("Largest intermediate"),
         translated("{}, in {} bits", fixed(static_cast<double>(report.largest_intermediate), 0), report.word_bits)});
  if (!report.holds_for.empty()) rows.push_back({translated("Holds for"), report.holds_for});
  return rows;
}

std::string cost_of(const HandoffReport& report) {
  if (!report.cost) return translated("Not measured: no cross compiler and simulator were there, or it is Python.");
  return cost_words(report) + '.';
}

std::string calibration_of(const Channel& channel) {
  const Correction& correction = channel.correction;
  if (correction.empty()) return translated("None: the part is trusted as its sheet has it.");
  return fmt::format("{}{}{}{}",
                     correction.on.empty() ? translated("On an unknown day") : translated("On {}", correction.on),
                     correction.reference.empty() ? "" : translated(", against {}", correction.reference),
                     correction.note.empty() ? "" : ", " + correction.note,
                     correction.covered ? translated(". Points from {:.4g} to {:.4g} {}.", correction.covered->from,
                                                     correction.covered->to, base_unit(channel.quantity).symbol)
                                        : ".");
}

}  // namespace

std::string handoff_html(const Handoff& handoff, const Bench& bench, const Catalogue& catalogue,
                         const std::string& on) {
  const HandoffReport& report = handoff.report;
  const auto chain = build_chain(bench, catalogue, report.channel);
  const Channel* channel = find_by_id(bench.channels, report.channel);
  const std::string symbol(difference_symbol(report.unit));
  std::string body;
  if (chain)
    body +=
        html_heading(translated("The chain")) +
        html_table({translated("Stage"), translated("In the middle of the wanted range"), translated("What does it")},
                   stages_of(*chain));
  body += html_heading(translated("The arithmetic")) + "<p>" +
          html_escaped(translated("{} in {}; {} steps make 1 {}.", report.form, report.language == "c" ? "C" : "Python",
                                  report.per_unit, symbol)) +
          "</p>" + html_list(handoff.code.comments);
  body += html_heading(translated("Its proof")) + html_table({"", ""}, proof_of(report, symbol));
  body += html_heading(translated("What it costs")) + "<p>" + html_escaped(cost_of(report)) + "</p>";
  if (channel) {
    Rows wires;
    for (const WireRow& row : wiring_list(bench, catalogue).rows)
      if (row.device == channel->device) wires.push_back({row.conductor, row.from, row.pin, row.to, row.colour});
    if (!wires.empty())
      body += html_heading(translated("The wires")) +
              html_table({translated("Conductor"), translated("From"), translated("Pin"), translated("To"),
                          translated("Colour")},
                         wires);
    body += html_heading(translated("Calibration")) + "<p>" + html_escaped(calibration_of(*channel)) + "</p>";
  }
  std::string files;
  for (const auto& [name, text] : handoff.files) files += (files.empty() ? "" : ", ") + name;
  body += html_heading(translated("Files")) + "<p>" + html_escaped(files) + "</p>";
  if (!report.notes.empty()) body += html_heading(translated("To know")) + html_list(report.notes);
  body += "<p class=\"quiet\">" +
          html_escaped(translated("Chain {}: a bench that was changed since has another one. "
                                  "Not for medical, life-safety or trade use.",
                                  report.source)) +
          "</p>";
  const std::string name = channel && !channel->name.empty() ? channel->name : report.channel;
  return html_page(translated("Firmware of {}", name), on + " · " + bench.name, body);
}

}  // namespace fair_gauge
