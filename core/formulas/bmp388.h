// Air pressure and temperature: the parts that print BMP388 and BMP390. The sheet gives the floating-point form.
#pragma once

#include <array>
#include <cmath>
#include <cstdint>

#include "formulas/recorder.h"

namespace fair_gauge::formulas::bmp388 {

struct Trimming {
  double T1 = 0, T2 = 0, T3 = 0;
  double P1 = 0, P2 = 0, P3 = 0, P4 = 0, P5 = 0, P6 = 0, P7 = 0, P8 = 0, P9 = 0, P10 = 0, P11 = 0;

  /// The sheet's scaling of the 14 stored words, T1…T3 then P1…P11.
  /// \source data sheet, section 8.4
  static Trimming from_words(const std::array<double, 14>& w) {
    return {.T1 = w[0] * 256,
            .T2 = std::ldexp(w[1], -30),
            .T3 = std::ldexp(w[2], -48),
            .P1 = std::ldexp(w[3] - 16384, -20),
            .P2 = std::ldexp(w[4] - 16384, -29),
            .P3 = std::ldexp(w[5], -32),
            .P4 = std::ldexp(w[6], -37),
            .P5 = w[7] * 8,
            .P6 = std::ldexp(w[8], -6),
            .P7 = std::ldexp(w[9], -8),
            .P8 = std::ldexp(w[10], -15),
            .P9 = std::ldexp(w[11], -48),
            .P10 = std::ldexp(w[12], -48),
            .P11 = std::ldexp(w[13], -65)};
  }
};

/// \param uncomp  24 bits
/// \returns °C, which is also the carried-over term t_lin
/// \source data sheet, section 8.5
template <Recorder R>
double temperature(const Trimming& c, double uncomp, R&& record) {
  const double partial_data1 = uncomp - c.T1;
  const double partial_data2 = partial_data1 * c.T2;
  const double t_lin = partial_data2 + partial_data1 * partial_data1 * c.T3;
  record("partial_data1", partial_data1, "uncomp_T − PAR_T1");
  record("partial_data2", partial_data2, "partial_data1·PAR_T2");
  record("t_lin", t_lin, "partial_data2 + partial_data1²·PAR_T3");
  return t_lin;
}

/// \param uncomp  24 bits
/// \param t_lin   of the same conversion
/// \returns pascals
/// \source data sheet, section 8.6
template <Recorder R>
double pressure(const Trimming& c, double uncomp, double t_lin, R&& record) {
  const double t2 = t_lin * t_lin, t3 = t2 * t_lin;
  const double out1 = c.P5 + c.P6 * t_lin + c.P7 * t2 + c.P8 * t3;
  const double out2 = uncomp * (c.P1 + c.P2 * t_lin + c.P3 * t2 + c.P4 * t3);
  const double out3 = uncomp * uncomp * (c.P9 + c.P10 * t_lin) + uncomp * uncomp * uncomp * c.P11;
  record("partial_out1", out1, "PAR_P5 + PAR_P6·t_lin + PAR_P7·t_lin² + PAR_P8·t_lin³");
  record("partial_out2", out2, "uncomp_P·(PAR_P1 + PAR_P2·t_lin + PAR_P3·t_lin² + PAR_P4·t_lin³)");
  record("partial_out3", out3, "uncomp_P²·(PAR_P9 + PAR_P10·t_lin) + uncomp_P³·PAR_P11");
  record("P", out1 + out2 + out3, "partial_out1 + partial_out2 + partial_out3");
  return out1 + out2 + out3;
}

}  // namespace fair_gauge::formulas::bmp388
