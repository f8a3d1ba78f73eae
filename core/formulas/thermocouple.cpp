// The coefficients of IEC 60584-1 (ITS-90), in millivolts and powers of °C.
#include "formulas/thermocouple.h"

#include <array>
#include <boost/math/tools/roots.hpp>
#include <cmath>
#include <span>
#include <vector>

namespace fair_gauge::formulas {
namespace {

struct Piece {
  double from;
  double to;
  std::vector<double> coefficients;  ///< mV, ascending powers of °C
};

struct Type {
  char letter;
  std::vector<Piece> pieces;
};

const std::vector<Type>& types() {
  static const std::vector<Type> all = {
      {'B',
       {{0,
         630.615,
         {0, -0.246508183460e-3, 0.590404211710e-5, -0.132579316360e-8, 0.156682919010e-11, -0.169445292400e-14,
          0.629903470940e-18}},
        {630.615,
         1820,
         {-0.389381686210e1, 0.285717474700e-1, -0.848851047850e-4, 0.157852801640e-6, -0.168353448640e-9,
          0.111097940130e-12, -0.445154310330e-16, 0.989756408210e-20, -0.937913302890e-24}}}},
      {'E',
       {{-270,
         0,
         {0, 0.586655087080e-1, 0.454109771240e-4, -0.779980486860e-6, -0.258001608430e-7, -0.594525830570e-9,
          -0.932140586670e-11, -0.102876055340e-12, -0.803701236210e-15, -0.439794973910e-17, -0.164147763550e-19,
          -0.396736195160e-22, -0.558273287210e-25, -0.346578420130e-28}},
        {0,
         1000,
         {0, 0.586655087100e-1, 0.450322755820e-4, 0.289084072120e-7, -0.330568966520e-9, 0.650244032700e-12,
          -0.191974955040e-15, -0.125366004970e-17, 0.214892175690e-20, -0.143880417820e-23, 0.359608994810e-27}}}},
      {'J',
       {{-210,
         760,
         {0, 0.503811878150e-1, 0.304758369300e-4, -0.856810657200e-7, 0.132281952950e-9, -0.170529583370e-12,
          0.209480906970e-15, -0.125383953360e-18, 0.156317256970e-22}},
        {760,
         1200,
         {0.296456256810e3, -0.149761277860e1, 0.317871039240e-2, -0.318476867010e-5, 0.157208190040e-8,
          -0.306913690560e-12}}}},
      {'K',
       {{-270,
         0,
         {0, 0.394501280250e-1, 0.236223735980e-4, -0.328589067840e-6, -0.499048287770e-8, -0.675090591730e-10,
          -0.574103274280e-12, -0.310888728940e-14, -0.104516093650e-16, -0.198892668780e-19, -0.163226974860e-22}},
        {0,
         1372,
         {-0.176004136860e-1, 0.389212049750e-1, 0.185587700320e-4, -0.994575928740e-7, 0.318409457190e-9,
          -0.560728448890e-12, 0.560750590590e-15, -0.320207200030e-18, 0.971511471520e-22, -0.121047212750e-25}}}},
      {'N',
       {{-270,
         0,
         {0, 0.261591059620e-1, 0.109574842280e-4, -0.938411115540e-7, -0.464120397590e-10, -0.263033577160e-11,
          -0.226534380030e-13, -0.760893007910e-16, -0.934196678350e-19}},
        {0,
         1300,
         {0, 0.259293946010e-1, 0.157101418800e-4, 0.438256272370e-7, -0.252611697940e-9, 0.643118193390e-12,
          -0.100634715190e-14, 0.997453389920e-18, -0.608632456070e-21, 0.208492293390e-24, -0.306821961510e-28}}}},
      {'R',
       {{-50,
         1064.18,
         {0, 0.528961729765e-2, 0.139166589782e-4, -0.238855693017e-7, 0.356916001063e-10, -0.462347666298e-13,
          0.500777441034e-16, -0.373105886191e-19, 0.157716482367e-22, -0.281038625251e-26}},
        {1064.18,
         1664.5,
         {0.295157925316e1, -0.252061251332e-2, 0.159564501865e-4, -0.764085947576e-8, 0.205305291024e-11,
          -0.293359668173e-15}},
        {1664.5,
         1768.1,
         {0.152232118209e3, -0.268819888545, 0.171280280471e-3, -0.345895706453e-7, -0.934633971046e-14}}}},
      {'S',
       {{-50,
         1064.18,
         {0, 0.540313308631e-2, 0.125934289740e-4, -0.232477968689e-7, 0.322028823036e-10, -0.331465196389e-13,
          0.255744251786e-16, -0.125068871393e-19, 0.271443176145e-23}},
        {1064.18,
         1664.5,
         {0.132900444085e1, 0.334509311344e-2, 0.654805192818e-5, -0.164856259209e-8, 0.129989605174e-13}},
        {1664.5,
         1768.1,
         {0.146628232636e3, -0.258430516752, 0.163693574641e-3, -0.330439046987e-7, -0.943223690612e-14}}}},
      {'T',
       {{-270,
         0,
         {0, 0.387481063640e-1, 0.441944343470e-4, 0.118443231050e-6, 0.200329735540e-7, 0.901380195590e-9,
          0.226511565930e-10, 0.360711542050e-12, 0.384939398830e-14, 0.282135219250e-16, 0.142515947790e-18,
          0.487686622860e-21, 0.107955392700e-23, 0.139450270620e-26, 0.797951539270e-30}},
        {0,
         400,
         {0, 0.387481063640e-1, 0.332922278800e-4, 0.206182434040e-6, -0.218822568460e-8, 0.109968809280e-10,
          -0.308157587720e-13, 0.454791352900e-16, -0.275129016730e-19}}}},
  };
  return all;
}

const Type* type_of(char letter) {
  for (const Type& type : types())
    if (type.letter == letter) return &type;
  return nullptr;
}

double millivolts(const Type& type, double celsius) {
  const Piece* piece = &type.pieces.front();
  for (const Piece& next : type.pieces)
    if (celsius > next.from) piece = &next;
  double sum = 0;
  for (auto c = piece->coefficients.rbegin(); c != piece->coefficients.rend(); ++c) sum = sum * celsius + *c;
  // Type K has, above 0 °C, the order–disorder term of its positive leg.
  if (type.letter == 'K' && celsius > 0)
    sum += 0.118597600000 * std::exp(-0.118343200000e-3 * (celsius - 126.9686) * (celsius - 126.9686));
  return sum;
}

}  // namespace

std::optional<ThermocoupleRange> thermocouple_range(char letter) {
  const Type* type = type_of(letter);
  if (!type) return std::nullopt;
  constexpr double second_zero_of_b = 42.15;  // °C: type B is back at 0 V here, and lower in between
  const double lowest = type->pieces.front().from;
  return ThermocoupleRange{lowest, type->pieces.back().to, letter == 'B' ? second_zero_of_b : lowest};
}

double thermocouple_volts(char letter, double celsius) {
  const Type* type = type_of(letter);
  if (!type || !(celsius >= type->pieces.front().from && celsius <= type->pieces.back().to)) return std::nan("");
  return millivolts(*type, celsius) / 1000;
}

double thermocouple_celsius(char letter, double volts, double cold_celsius) {
  const Type* type = type_of(letter);
  if (!type) return std::nan("");
  const auto range = *thermocouple_range(letter);
  const double wanted = 1000 * (volts + thermocouple_volts(letter, cold_celsius));
  const auto miss = [&](double celsius) { return millivolts(*type, celsius) - wanted; };
  constexpr double slack = 1e-9;  // mV: a range's own end may be missed by rounding
  const double below = miss(range.lowest_invertible), above = miss(range.highest);
  if (std::isnan(wanted) || below > slack || above < -slack) return std::nan("");
  if (below >= 0) return range.lowest_invertible;
  if (above <= 0) return range.highest;
  std::uintmax_t steps = 200;
  const auto close = [](double a, double b) { return std::abs(b - a) < 1e-9; };
  const auto bracket =
      boost::math::tools::toms748_solve(miss, range.lowest_invertible, range.highest, below, above, close, steps);
  return (bracket.first + bracket.second) / 2;
}

}  // namespace fair_gauge::formulas
