// A part that is not in the catalogue: its curve from points read off a graph, a pasted table, or a typed expression.
#pragma once

#include <string>
#include <vector>

#include "parts/part.h"
#include "quantity/result.h"
#include "quantity/unit.h"

namespace fair_gauge {

struct CurvePoint {
  double quantity;  ///< base units
  double output;    ///< V, Ω or A
  bool operator==(const CurvePoint&) const = default;
};

/// What the two columns are.
struct CurveColumns {
  const Unit* quantity = &base_unit(Dimension::temperature);  ///< in which the quantity is written and told
  Interface output = Interface::voltage;                      ///< or resistance, or current
};

/// Reads two numbers a line, quantity then output, parted by tab, semicolon, comma or spaces, as people write them
/// (32k6, 0,5 V, 1013 hPa); what follows # is passed over. Before the first point a heading may say what bare numbers
/// mean ("T (°C); R (kΩ)"), and which of several outputs is the nominal one ("Rmin; Rnom; Rmax"). A comma between
/// digits is a decimal mark where another separator stands.
/// \returns points in the order of their quantity, or the first line that is not understood
Result<std::vector<CurvePoint>> read_curve_points(std::string_view text, const CurveColumns& columns = {});

enum class CurveKind {
  line,       ///< straight, least squares; through two points exactly
  quadratic,  ///< slightly curved
  table,      ///< through every point, straight between them
  steinhart,  ///< thermistor by three points or more
  expression
};  ///< typed, y of x

std::span<const EnumName<CurveKind>> enum_names(CurveKind);

struct OwnCurve {
  Transfer transfer;
  std::vector<double> residuals;  ///< of the points, in units of the output
  double rms = 0;                 ///< of the residuals
  double largest_error = 0;       ///< of the points, in units of the quantity
  double from = 0;                ///< where there are points
  double to = 0;
  std::vector<std::string> warnings;
};

/// \param kind        not expression
/// \param points      in the order of their quantity; a table of a resistance that falls is straight in its logarithm
/// \returns the curve, or what is lacking: too few points, a curve that turns back within them
Result<OwnCurve> fit_own_curve(CurveKind kind, const std::vector<CurvePoint>& points, const CurveColumns& columns = {});

/// A typed expression over a range, checked against points if there are any.
Result<OwnCurve> typed_curve(const std::string& expression, double from, double to,
                             const std::vector<CurvePoint>& points = {}, const CurveColumns& columns = {});

/// The curve as a part of the user's own. \param interface  voltage, resistance or current
Part own_part(const std::string& name, Quantity quantity, Interface interface, const OwnCurve& curve);

}  // namespace fair_gauge
