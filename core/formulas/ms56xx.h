// Pressure and temperature with second-order compensation: the parts that print MS5611, MS5607, MS5637, MS5803-14BA and
// MS5837-30BA.
// The sheets give one form, in whole numbers.
#pragma once

#include <array>
#include <cstdint>
#include <string_view>
#include <utility>

#include "formulas/recorder.h"

namespace fair_gauge::formulas::ms56xx {

/// What differs between the parts of the family.
struct Kind {
  int off_shift, off_slope_shift;    ///< OFF = C2·2^off_shift + C4·dT/2^off_slope_shift
  int sens_shift, sens_slope_shift;  ///< SENS = C1·2^sens_shift + C3·dT/2^sens_slope_shift
  // Below 20 °C; numerators over powers of two.
  int t2_factor, t2_shift;
  int off2_factor, off2_shift, sens2_factor, sens2_shift;
  int cold_off2, cold_sens2, cold_sens2_shift;  ///< added below −15 °C
  // From 20 °C up: T2 = factor·dT²/2^shift, OFF2 = (TEMP − 2000)²/2⁴ where `warm_off2`.
  int warm_t2_factor = 0, warm_t2_shift = 0;
  bool warm_off2 = false;
  int p_shift = 15;     ///< P = (D1·SENS/2²¹ − OFF)/2^p_shift
  int p_pascals = 1;    ///< of one step of P
  bool floors = false;  ///< the sheet's example divides downwards where others cut: −18.58 becomes −19
};
inline constexpr Kind ms5611 = {16, 7, 15, 8, 1, 31, 5, 1, 5, 2, 7, 11, 1};
inline constexpr Kind ms5607 = {17, 6, 16, 7, 1, 31, 61, 4, 2, 0, 15, 8, 0};
inline constexpr Kind ms5637 = {17, 6, 16, 7, 3, 33, 61, 4, 29, 4, 17, 9, 0, 5, 38};
inline constexpr Kind ms5803_14ba = {16, 7, 15, 8, 3, 33, 3, 1, 5, 3, 7, 4, 0, 7, 37, true, 15, 10, true};
inline constexpr Kind ms5837_30ba = {16, 7, 15, 8, 3, 33, 3, 1, 5, 3, 7, 4, 0, 2, 37, true, 13, 10, true};

/// By the formula's name in part files; null for one of another family.
inline const Kind* kind_of(std::string_view formula) {
  constexpr std::array<std::pair<std::string_view, const Kind*>, 5> kinds = {{{"ms5611", &ms5611},
                                                                              {"ms5607", &ms5607},
                                                                              {"ms5637", &ms5637},
                                                                              {"ms5803-14ba", &ms5803_14ba},
                                                                              {"ms5837-30ba", &ms5837_30ba}}};
  for (const auto& [name, kind] : kinds)
    if (name == formula) return kind;
  return nullptr;
}

struct Reading {
  std::int64_t TEMP = 0;  ///< 0.01 °C
  std::int64_t P = 0;     ///< pascals
};

/// \param C   words C1…C6 of the trimming memory
/// \param D1  raw pressure, 24 bits
/// \param D2  raw temperature, 24 bits
/// \source data sheets, figures "pressure and temperature calculation" and "second order temperature compensation"
/// check of the MS5611: C 40127 36924 23317 23282 33464 28312, D1 9085466, D2 8569150 → dT 2366, TEMP 2007, P 100009
/// of the MS5803-14BA: C 46546 42845 29751 29457 32745 29059, D1 4311550, D2 8387300 → TEMP 2015, 1000.5 mbar
/// of the MS5837-30BA: C 34982 36352 20328 22354 26646 26146, D1 4958179, D2 6815414 → TEMP 1981, 3999.8 mbar
template <Recorder R>
Reading compensate(const Kind& kind, const std::array<std::int64_t, 6>& C, std::int64_t D1, std::int64_t D2,
                   R&& record) {
  const auto power = [](int shift) { return std::int64_t{1} << shift; };
  const auto divided = [&](std::int64_t number, int shift) {
    return kind.floors ? number >> shift : number / power(shift);
  };
  const std::int64_t dT = D2 - C[4] * 256;
  std::int64_t TEMP = 2000 + divided(dT * C[5], 23);
  std::int64_t OFF = C[1] * power(kind.off_shift) + divided(C[3] * dT, kind.off_slope_shift);
  std::int64_t SENS = C[0] * power(kind.sens_shift) + divided(C[2] * dT, kind.sens_slope_shift);
  record("dT", static_cast<double>(dT), "D2 − C5·2⁸");
  record("TEMP", static_cast<double>(TEMP), "2000 + dT·C6/2²³");
  record("OFF", static_cast<double>(OFF), "C2·2ⁿ + C4·dT/2ᵐ by the sheet");
  record("SENS", static_cast<double>(SENS), "C1·2ⁿ + C3·dT/2ᵐ by the sheet");
  std::int64_t T2 = kind.warm_t2_factor * dT * dT / power(kind.warm_t2_shift), SENS2 = 0;
  std::int64_t OFF2 = kind.warm_off2 ? (TEMP - 2000) * (TEMP - 2000) / 16 : 0;
  if (TEMP < 2000) {
    const std::int64_t below = (TEMP - 2000) * (TEMP - 2000);
    T2 = kind.t2_factor * dT * dT / power(kind.t2_shift);
    OFF2 = kind.off2_factor * below / power(kind.off2_shift);
    SENS2 = kind.sens2_factor * below / power(kind.sens2_shift);
    if (TEMP < -1500) {
      const std::int64_t cold = (TEMP + 1500) * (TEMP + 1500);
      OFF2 += kind.cold_off2 * cold;
      SENS2 += kind.cold_sens2 * cold / power(kind.cold_sens2_shift);
    }
  }
  record("T2", static_cast<double>(T2), "second order, by the sheet for this temperature");
  record("OFF2", static_cast<double>(OFF2), "second order");
  record("SENS2", static_cast<double>(SENS2), "second order");
  TEMP -= T2;
  OFF -= OFF2;
  SENS -= SENS2;
  record("TEMP'", static_cast<double>(TEMP), "TEMP − T2, in 0.01 °C");
  const std::int64_t P = divided(divided(D1 * SENS, 21) - OFF, kind.p_shift) * kind.p_pascals;
  record("P", static_cast<double>(P),
         kind.p_shift == 15 ? "(D1·(SENS − SENS2)/2²¹ − (OFF − OFF2))/2¹⁵, in Pa"
                            : "(D1·(SENS − SENS2)/2²¹ − (OFF − OFF2))/2¹³, in Pa");
  return {TEMP, P};
}

}  // namespace fair_gauge::formulas::ms56xx
