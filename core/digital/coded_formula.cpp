#include "digital/coded_formula.h"

#include <fmt/format.h>

#include <algorithm>
#include <array>
#include <cmath>
#include <limits>

#include "formulas/bmp180.h"
#include "formulas/bmp388.h"
#include "formulas/bmx280.h"
#include "formulas/ms56xx.h"
#include "formulas/platinum.h"
#include "formulas/tsl2561.h"
#include "language/translation.h"

namespace fair_gauge {
namespace {

constexpr double none = std::numeric_limits<double>::quiet_NaN();

template <class Number>
Number as(double value) {
  return static_cast<Number>(static_cast<std::int64_t>(value));
}

// Calls the formula with a recorder that writes the trace, or with none.
template <class Formula>
void with_recorder(const FormulaInput& input, Formula formula) {
  if (!input.trace) return formula(formulas::Unrecorded{});
  formula([&](const char* symbol, double value, const char* note) { input.trace->push_back({symbol, value, note}); });
}

formulas::bmx280::Trimming bmx280_trimming(std::span<const double> f) {
  formulas::bmx280::Trimming c;
  c.dig_T1 = as<std::int32_t>(f[0]), c.dig_T2 = as<std::int32_t>(f[1]), c.dig_T3 = as<std::int32_t>(f[2]);
  c.dig_P1 = as<std::int32_t>(f[3]);
  std::array<std::int32_t*, 8> p = {&c.dig_P2, &c.dig_P3, &c.dig_P4, &c.dig_P5,
                                    &c.dig_P6, &c.dig_P7, &c.dig_P8, &c.dig_P9};
  for (std::size_t i = 0; i < p.size(); ++i) *p[i] = as<std::int32_t>(f[4 + i]);
  if (f.size() < 20) return c;
  c.dig_H1 = as<std::int32_t>(f[14]), c.dig_H2 = as<std::int32_t>(f[15]), c.dig_H3 = as<std::int32_t>(f[16]);
  c.dig_H4 = as<std::int32_t>(f[17]), c.dig_H5 = as<std::int32_t>(f[18]), c.dig_H6 = as<std::int32_t>(f[19]);
  return c;
}

void bmx280(const FormulaInput& input, std::span<double> readings) {
  namespace formula = formulas::bmx280;
  const auto c = bmx280_trimming(input.fields);
  const auto adc_T = as<std::int32_t>(input.fields[12]), adc_P = as<std::int32_t>(input.fields[13]);
  const auto adc_H = readings.size() > 2 ? as<std::int32_t>(input.fields[20]) : 0;
  with_recorder(input, [&](auto&& record) {
    if (input.math == Math::integer) {
      std::int32_t t_fine = 0;
      readings[0] = formula::temperature_integer(c, adc_T, t_fine, record) / 100.0;
      readings[1] = formula::pressure_integer(c, adc_P, t_fine, record) / 256.0;
      if (readings.size() > 2) readings[2] = formula::humidity_integer(c, adc_H, t_fine, record) / 1024.0;
    } else {
      double t_fine = 0;
      readings[0] = formula::temperature(c, adc_T, t_fine, record);
      readings[1] = formula::pressure(c, adc_P, t_fine, record);
      if (readings.size() > 2) readings[2] = formula::humidity(c, adc_H, t_fine, record);
    }
  });
  if (readings[1] == 0) readings[1] = none;  // the sheet's guard against a division by zero
}

void bmp180(const FormulaInput& input, std::span<double> readings) {
  namespace formula = formulas::bmp180;
  const auto f = input.fields;
  const formula::Trimming c = {as<std::int32_t>(f[0]), as<std::int32_t>(f[1]), as<std::int32_t>(f[2]),
                               as<std::int32_t>(f[3]), as<std::int32_t>(f[4]), as<std::int32_t>(f[5]),
                               as<std::int32_t>(f[6]), as<std::int32_t>(f[7]), as<std::int32_t>(f[8]),
                               as<std::int32_t>(f[9]), as<std::int32_t>(f[10])};
  const int oss = std::clamp(static_cast<int>(input.settings[0]), 0, 3);
  with_recorder(input, [&](auto&& record) {
    std::int32_t B5 = 0;
    const auto T = formula::temperature(c, as<std::int32_t>(f[11]), B5, record);
    readings[0] = T ? *T / 10.0 : none;
    const auto p = T ? formula::pressure(c, as<std::int32_t>(f[12]) >> (8 - oss), oss, B5, record) : std::nullopt;
    readings[1] = p ? *p : none;
  });
}

void bmp388(const FormulaInput& input, std::span<double> readings) {
  std::array<double, 14> words;
  std::copy_n(input.fields.begin(), words.size(), words.begin());
  const auto c = formulas::bmp388::Trimming::from_words(words);
  with_recorder(input, [&](auto&& record) {
    readings[0] = formulas::bmp388::temperature(c, input.fields[14], record);
    readings[1] = formulas::bmp388::pressure(c, input.fields[15], readings[0], record);
  });
}

template <const formulas::ms56xx::Kind& kind>
void ms56xx(const FormulaInput& input, std::span<double> readings) {
  std::array<std::int64_t, 6> C;
  for (std::size_t i = 0; i < C.size(); ++i) C[i] = as<std::int64_t>(input.fields[i]);
  with_recorder(input, [&](auto&& record) {
    const auto reading = formulas::ms56xx::compensate(kind, C, as<std::int64_t>(input.fields[6]),
                                                      as<std::int64_t>(input.fields[7]), record);
    readings[0] = static_cast<double>(reading.TEMP) / 100.0;
    readings[1] = static_cast<double>(reading.P);
  });
}

void tsl2561(const FormulaInput& input, std::span<double> readings) {
  namespace formula = formulas::tsl2561;
  const double CH0 = input.fields[0], CH1 = input.fields[1], gain = input.settings[0], ms = input.settings[1];
  const auto package = input.settings[2] == 0 ? formula::Package::t : formula::Package::cs;
  with_recorder(input, [&](auto&& record) {
    readings[0] = input.math == Math::integer
                      ? formula::lux_integer(as<std::uint32_t>(CH0), as<std::uint32_t>(CH1), gain, ms, package, record)
                      : formula::lux(formula::scaled(CH0, CH1, gain, ms), package, record);
  });
}

// A resistance converter for a platinum thermometer: code / 2¹⁵ of the reference resistor.
void max31865(const FormulaInput& input, std::span<double> readings) {
  const double ohms = input.fields[0] / 32768 * input.settings[0];
  readings[0] = formulas::platinum_celsius(ohms, input.settings[1]);
  if (!input.trace) return;
  input.trace->push_back({"R", ohms, "RTD/32768·reference"});
  input.trace->push_back({"T", readings[0], translated("Callendar–Van Dusen of R/nominal")});
}

const std::vector<CodedFormula>& formulas_known() {
  using Names = std::vector<std::string_view>;
  static const Names bmp280_fields = {"dig_T1", "dig_T2", "dig_T3", "dig_P1", "dig_P2", "dig_P3", "dig_P4",
                                      "dig_P5", "dig_P6", "dig_P7", "dig_P8", "dig_P9", "adc_T",  "adc_P"};
  static const Names bme280_fields = [] {
    Names names = bmp280_fields;
    for (const char* name : {"dig_H1", "dig_H2", "dig_H3", "dig_H4", "dig_H5", "dig_H6", "adc_H"})
      names.emplace_back(name);
    return names;
  }();
  static const CodedFormula::Reading bmx_t = {Quantity::temperature, {"dig_T", "adc_T"}},
                                     bmx_p = {Quantity::pressure, {"dig_T", "adc_T", "dig_P", "adc_P"}},
                                     bmx_h = {Quantity::humidity, {"dig_T", "adc_T", "dig_H", "adc_H"}};
  static const Names ms_fields = {"C1", "C2", "C3", "C4", "C5", "C6", "D1", "D2"};
  static const std::vector<CodedFormula::Reading> ms_readings = {{Quantity::temperature, {"C5", "C6", "D2"}},
                                                                 {Quantity::pressure, {""}}};
  static const std::vector<CodedFormula> all = {
      {"bmp280", bmp280_fields, {}, {bmx_t, bmx_p}, bmx280},
      {"bme280", bme280_fields, {}, {bmx_t, bmx_p, bmx_h}, bmx280},
      {"bmp180",
       {"AC1", "AC2", "AC3", "AC4", "AC5", "AC6", "B1", "B2", "MB", "MC", "MD", "UT", "UP"},
       {"oversampling"},
       {{Quantity::temperature, {"AC5", "AC6", "MC", "MD", "UT"}}, {Quantity::pressure, {""}}},
       bmp180},
      {"bmp388",
       {"PAR_T1", "PAR_T2", "PAR_T3", "PAR_P1", "PAR_P2", "PAR_P3", "PAR_P4", "PAR_P5", "PAR_P6", "PAR_P7", "PAR_P8",
        "PAR_P9", "PAR_P10", "PAR_P11", "uncomp_T", "uncomp_P"},
       {},
       {{Quantity::temperature, {"PAR_T", "uncomp_T"}}, {Quantity::pressure, {""}}},
       bmp388},
      {"ms5611", ms_fields, {}, ms_readings, ms56xx<formulas::ms56xx::ms5611>},
      {"ms5607", ms_fields, {}, ms_readings, ms56xx<formulas::ms56xx::ms5607>},
      {"ms5637", ms_fields, {}, ms_readings, ms56xx<formulas::ms56xx::ms5637>},
      {"ms5803-14ba", ms_fields, {}, ms_readings, ms56xx<formulas::ms56xx::ms5803_14ba>},
      {"ms5837-30ba", ms_fields, {}, ms_readings, ms56xx<formulas::ms56xx::ms5837_30ba>},
      {"tsl2561", {"CH0", "CH1"}, {"gain", "integration_ms", "package"}, {{Quantity::illuminance, {""}}}, tsl2561},
      {"max31865", {"RTD"}, {"reference", "nominal"}, {{Quantity::temperature, {""}}}, max31865},
  };
  return all;
}

}  // namespace

std::string with_numbers(const std::string& line, const std::map<std::string, double>& known) {
  const auto in_symbol = [](char c) {
    return std::isalnum(static_cast<unsigned char>(c)) != 0 || c == '_' || c == '\'';
  };
  std::string text;
  for (std::size_t at = 0; at < line.size();) {
    std::size_t end = at;
    while (end < line.size() && in_symbol(line[end]) == in_symbol(line[at])) ++end;
    const std::string word = line.substr(at, end - at);
    const auto value = known.find(word);
    text += value == known.end() ? word : fmt::format("{:.7g}", value->second);
    at = end;
  }
  return text;
}

const CodedFormula* coded_formula(std::string_view name) {
  const auto& all = formulas_known();
  const auto found = std::ranges::find(all, name, &CodedFormula::name);
  return found == all.end() ? nullptr : &*found;
}

}  // namespace fair_gauge
