// Properties of everything that goes both ways: corrections wherever they are placed, blocks against single values,
// formulas against their inverses.
#include <gtest/gtest.h>

#include <algorithm>

#include <cmath>
#include <random>

#include "demo.h"
#include "formulas/air.h"
#include "truth/calibration_fit.h"
#include "truth/model_choice.h"

namespace fair_gauge::way_back_test {

class Chance {
 public:
  explicit Chance(unsigned seed) : random_(seed) {}
  double between(double low, double high) { return std::uniform_real_distribution<double>(low, high)(random_); }

 private:
  std::mt19937 random_;
};

Correction random_correction(Chance& chance, int kind, const Range& range) {
  Correction correction;
  const double span = range.to - range.from;
  correction.origin = chance.between(range.from, range.to);
  if (kind == 4) {
    for (int i = 0; i <= 4; ++i)
      correction.table.push_back({range.from + span * i / 4, chance.between(-0.02, 0.02) * span});
    return correction;
  }
  for (int k = 0; k <= kind; ++k)
    correction.coefficients.push_back(chance.between(-0.01, 0.01) * span / std::pow(span, k));
  return correction;
}

TEST(WayBack, ACorrectionIsUndoneByTheWorldsSide) {
  Chance chance(11);
  const Range range{0, 50};
  for (int round = 0; round < 400; ++round) {
    const CorrectionLink link(random_correction(chance, round % 5, range), "°C", {}, 0);
    const double reading = chance.between(range.from, range.to);
    const auto corrected = link.inverse(reading);
    ASSERT_TRUE(corrected);
    const auto back = link.forward(*corrected);
    ASSERT_TRUE(back) << back.problem().wrong;
    EXPECT_NEAR(*back, reading, 1e-6) << round;
  }
}

TEST(WayBack, WhateverTheCorrectionATypedValueIsWhatIsShown) {
  Chance chance(12);
  Bench bench = demo_bench();
  for (const char* id : {"substrate", "spawn_fridge", "room", "rack", "grow_light", "room_humidity"}) {
    Channel& channel = *find_by_id(bench.channels, id);
    for (int kind = 0; kind < 5; ++kind) {
      channel.correction = random_correction(chance, kind, channel.wanted);
      const auto chain = build_chain(bench, shipped_parts(), id);
      ASSERT_TRUE(chain) << id;
      const double world = chance.between(channel.wanted.from, channel.wanted.to);
      const auto values = evaluate(*chain, {StageName::world, world});
      const auto& shown = values[static_cast<std::size_t>(chain->stage(StageName::shown) - chain->stages.data())];
      ASSERT_TRUE(shown) << id << " " << kind << ": " << shown.problem().wrong;
      EXPECT_NEAR(chain->shown->to_base(*shown), world, 0.6 * step_at(*chain, world) + 1e-6 * std::abs(world))
          << id << " " << kind;
    }
  }
}

TEST(WayBack, BlocksGiveWhatSingleValuesGive) {
  const Bench bench = demo_bench();
  Chance chance(13);
  for (const Channel& channel : bench.channels) {
    const Chain chain = demo_chain(channel.id, bench);
    const double world = (channel.wanted.from + channel.wanted.to) / 2;
    double value = world;
    for (std::size_t i = chain.world_node; i < chain.converter_node; ++i) {
      const auto sources = chain.links[i]->sources(value);
      constexpr std::size_t size = 16;
      std::vector<std::vector<double>> columns(sources.size(), std::vector<double>(size));
      for (std::size_t k = 0; k < sources.size(); ++k)
        for (double& each : columns[k])
          each = sources[k].width > 0 ? chance.between(-sources[k].width, sources[k].width) : 0;
      std::vector<double> block(size, value);
      std::vector<Column> views(columns.begin(), columns.end());
      chain.links[i]->forward_off_block(block, views);
      for (std::size_t t = 0; t < size; ++t) {
        std::vector<double> each;
        for (const auto& column : columns) each.push_back(column[t]);
        const double single = chain.links[i]->forward_off(value, each);
        EXPECT_NEAR(block[t], single, 1e-9 * std::max(1.0, std::abs(single))) << channel.id << " link " << i;
      }
      std::vector<double> back = block;
      chain.links[i]->inverse_continuous_block(back);
      for (std::size_t t = 0; t < size; ++t) {
        const double single = chain.links[i]->inverse_continuous(block[t]);
        if (std::isfinite(single)) {
          EXPECT_NEAR(back[t], single, 1e-9 * std::max(1.0, std::abs(single))) << channel.id << " link " << i;
        }
      }
      value = chain.links[i]->forward_off(value, {});
    }
  }
}

TEST(WayBack, OfTheAirsFormulas) {
  using namespace formulas;
  Chance chance(14);
  for (int i = 0; i < 500; ++i) {
    const double celsius = chance.between(-30, 60), rh = chance.between(3, 100);
    const double dew = dew_point(celsius, rh);
    EXPECT_NEAR(100 * saturation_pressure(dew) / saturation_pressure(celsius), rh, 1e-4);
    EXPECT_LE(dew, celsius + 1e-6);
    if (const auto frost = frost_point(celsius, rh)) {
      EXPECT_LE(*frost, 0.001);
      EXPECT_GE(*frost, dew - 1e-6) << "the frost point lies above the dew point";
    }
    EXPECT_GE(wet_bulb(celsius, rh), dew - 0.01) << celsius << ", " << rh;
    EXPECT_LE(wet_bulb(celsius, rh), celsius + 0.011);
    const double metres = chance.between(-400, 9000), pascal = standard_pressure(metres);
    EXPECT_NEAR(standard_altitude(pascal), metres, 1e-6);
    if (pascal < 105000 && pascal > 30000) {
      EXPECT_NEAR(saturation_pressure(boiling_point(pascal)), pascal, 1e-3 * pascal);
    }
  }
}

TEST(WayBack, AFitOfPointsOnItsOwnModelLeavesNothing) {
  Chance chance(15);
  for (int round = 0; round < 100; ++round) {
    const FitModel model = std::array{FitModel::offset, FitModel::line, FitModel::quadratic,
                                      FitModel::cubic}[static_cast<std::size_t>(round % 4)];
    std::vector<double> coefficients;
    for (int k = 0; k <= round % 4; ++k) coefficients.push_back(chance.between(-1, 1) / std::pow(20, k));
    std::vector<CalibrationPoint> points;
    for (int i = 0; i < 8; ++i) {
      const double reading = 5.0 * i + chance.between(0, 2);
      double correction = 0;
      for (std::size_t k = 0; k < coefficients.size(); ++k)
        correction += coefficients[k] * std::pow(reading - 20, static_cast<double>(k));
      points.push_back({reading + correction, reading, chance.between(0.01, 0.1)});
    }
    const auto fit = fit_calibration(model, points, 20);
    ASSERT_TRUE(fit);
    for (std::size_t k = 0; k < coefficients.size(); ++k)
      EXPECT_NEAR(fit->coefficients[k], coefficients[k], 1e-8) << round;
    // The correction that the bench gets says the same.
    const Correction correction = correction_of(*fit, points, 0.05, "2026-11-24", "made up");
    const CorrectionLink link(correction, "°C", {}, 0);
    for (const CalibrationPoint& point : points) EXPECT_NEAR(*link.inverse(point.reading), point.reference, 1e-7);
    EXPECT_EQ(correction.covered->from, std::ranges::min(points, {}, &CalibrationPoint::reading).reading);
    EXPECT_GE(correction.standard_uncertainty, 0.05);
  }
}

}  // namespace fair_gauge::way_back_test
