// Air, water and fixed points against published tables.
#include "formulas/air.h"

#include <gmock/gmock.h>

#include <cmath>

namespace fair_gauge::formulas {
namespace {

TEST(SaturationPressure, IsThatOfTheTables) {
  // ASHRAE handbook, table of thermodynamic properties of water at saturation (Hyland and Wexler), pascals.
  struct Row {
    double celsius, pascal;
  };
  for (const Row& row :
       {Row{0, 611.2}, {10, 1228.0}, {20, 2338.9}, {25, 3169.2}, {40, 7383.8}, {60, 19943.0}, {100, 101419.0}})
    EXPECT_NEAR(saturation_pressure(row.celsius), row.pascal, 5e-4 * row.pascal) << row.celsius;
  for (const Row& row : {Row{-10, 259.9}, {-20, 103.24}, {-40, 12.84}})
    EXPECT_NEAR(saturation_pressure(row.celsius, Over::ice), row.pascal, 1e-3 * row.pascal) << row.celsius;
  // The short formula stays within half a per cent of it from 0 to 60 °C, and over ice down to −40 °C.
  for (double t = 0; t <= 60; t += 5) EXPECT_NEAR(saturation_pressure_magnus(t) / saturation_pressure(t), 1, 5e-3) << t;
  for (double t = -40; t < 0; t += 5)
    EXPECT_NEAR(saturation_pressure_magnus(t, Over::ice) / saturation_pressure(t, Over::ice), 1, 5e-3) << t;
  EXPECT_NEAR(enhancement_factor(101325), 1.0047, 1e-4);
}

TEST(DewPoint, IsThatOfThePsychrometricTables) {
  // Usual tables, tenths of a degree.
  struct Row {
    double celsius, rh, dew;
  };
  for (const Row& row : {Row{25, 50, 13.9}, {20, 50, 9.3}, {20, 100, 20.0}, {30, 80, 26.2}, {10, 30, -6.8}})
    EXPECT_NEAR(dew_point(row.celsius, row.rh), row.dew, 0.12) << row.celsius << ", " << row.rh;
  EXPECT_FALSE(frost_point(20, 60));
  // −10 °C at 80 %: dew −12.8 °C over water, frost −11.3 °C over ice.
  EXPECT_NEAR(dew_point(-10, 80), -12.8, 0.15);
  EXPECT_NEAR(*frost_point(-10, 80), -11.4, 0.2);
}

TEST(Humidity, FollowsFromTheVapourPressure) {
  EXPECT_NEAR(absolute_humidity(20, 100), 17.3, 0.05);  // tables of saturated air: 17.3 g/m³
  EXPECT_NEAR(absolute_humidity(30, 100), 30.4, 0.1);
  EXPECT_NEAR(vapour_pressure_deficit(25, 60), 3169.2 * 0.4, 1);
  EXPECT_NEAR(wet_bulb(20, 50), 13.8, 0.1);  // psychrometric chart at 1013.25 hPa
  EXPECT_NEAR(wet_bulb(30, 40), 20.1, 0.15);
  for (double rh = 5; rh <= 100; rh += 5) EXPECT_NEAR(humidity_from_wet_bulb(25, wet_bulb(25, rh)), rh, 1e-4);
}

TEST(BoilingPoint, IsThatOfTheSteamTables) {
  // IAPWS-IF97 saturation temperatures.
  for (const auto& [pascal, celsius] :
       {std::pair{101325.0, 99.97}, {70000.0, 89.93}, {50000.0, 81.32}, {110000.0, 102.29}})
    EXPECT_NEAR(boiling_point(pascal), celsius, 0.03) << pascal;
}

TEST(Atmosphere, IsThatOfTheStandard) {
  // ISO 2533: pressure by height.
  for (const auto& [metres, hectopascal] :
       {std::pair{0.0, 1013.25}, {500.0, 954.61}, {1000.0, 898.75}, {2000.0, 794.95}, {5000.0, 540.20}}) {
    EXPECT_NEAR(standard_pressure(metres) / 100, hectopascal, 0.03) << metres;
    EXPECT_NEAR(standard_altitude(hectopascal * 100), metres, 0.5) << hectopascal;
  }
}

TEST(Reduction, DiffersBetweenTheTwoKindsAndGoesBack) {
  // By hand at 500 m, 950 hPa: standard 950 · 1013.25 ÷ 954.61; by a warm 30 °C the column is lighter.
  EXPECT_NEAR(to_sea_level(95000, 500, Reduction::standard_atmosphere) / 100, 950 * 1013.25 / 954.61, 0.03);
  // exp(9.80665 · 500 ÷ (287.05 · (303.15 + 1.625))) = 1.05764
  EXPECT_NEAR(to_sea_level(95000, 500, Reduction::air_temperature, 30), 95000 * 1.05764, 3);
  for (const Reduction by : {Reduction::standard_atmosphere, Reduction::air_temperature})
    EXPECT_NEAR(from_sea_level(to_sea_level(97000, 350, by, 5), 350, by, 5), 97000, 1e-6);
}

TEST(Water, HasTheDensityAndTheColumnOfTheTables) {
  // Tanaka et al. 2001, table 1, kg/m³.
  for (const auto& [celsius, density] :
       {std::pair{0.0, 999.843}, {4.0, 999.975}, {10.0, 999.702}, {20.0, 998.207}, {30.0, 995.649}})
    EXPECT_NEAR(water_density(celsius), density, 2e-3) << celsius;
  EXPECT_NEAR(water_column(0.01, 4), 98.064, 1e-3);
  EXPECT_NEAR(gravity(45), 9.8062, 1e-4);
  EXPECT_NEAR(gravity(0), 9.7803, 1e-4);
  EXPECT_NEAR(gravity(90), 9.8322, 1e-4);
}

TEST(Salts, HoldTheirPublishedHumidity) {
  // Greenspan 1977 at 25 °C.
  const double at_25[] = {11.30, 32.78, 52.89, 75.29, 84.34, 97.30};
  for (std::size_t i = 0; i < salts().size(); ++i)
    EXPECT_NEAR(*salt_humidity(salts()[i], 25), at_25[i], 1e-9) << salts()[i].name;
  EXPECT_NEAR(*salt_humidity(salts()[3], 22.5), (75.47 + 75.29) / 2, 1e-9);
  EXPECT_FALSE(salt_humidity(salts()[0], 60));
  EXPECT_FALSE(salt_humidity(salts()[0], std::nan("")));
}

TEST(InverseSquare, QuartersAtTwiceTheDistance) { EXPECT_DOUBLE_EQ(inverse_square(1000, 0.5, 1.0), 250); }

}  // namespace
TEST(Air, RefusesWhatItsFormulasDoNotHoldFor) {
  for (const double rh : {0.0, -5.0, std::nan("")}) EXPECT_TRUE(std::isnan(dew_point(20, rh))) << rh;
  for (const double pascal : {0.0, 500.0, 6e6, std::nan("")}) EXPECT_TRUE(std::isnan(boiling_point(pascal))) << pascal;
}

}  // namespace fair_gauge::formulas
