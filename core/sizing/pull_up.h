// Pull-up resistors: of a two-wire bus, of a one-wire line, of any open-drain line.
#pragma once

#include <optional>
#include <string>
#include <vector>

#include "quantity/result.h"
#include "sizing/resistors.h"

namespace fair_gauge {

enum class PullUpVerdict { good, too_strong, too_weak, impossible };

std::string_view verdict_name(PullUpVerdict verdict);

/// What pulls a line up, how low it must get, and how fast it must rise.
struct PullUpSize {
  double minimum_ohm = 0;
  double maximum_ohm = 0;
  std::optional<double> recommended_ohm;
  std::optional<double> existing_ohm;  ///< all that are there, in parallel
  std::optional<double> rise_s;        ///< with the existing ones, else with the recommendation
  double rise_limit_s = 0;
  PullUpVerdict verdict = PullUpVerdict::good;  ///< of the existing ones, else of the recommendation
  std::vector<std::string> reasons;
};

struct TwoWireWish {
  double supply_v = 3.3;
  double speed_hz = 100e3;  ///< 100 k, 400 k or 1 M
  double capacitance_f = 100e-12;
  std::optional<double> sink_a;  ///< of the weakest device
  std::optional<double> low_level_v;
  std::vector<double> existing_ohm;
  ResistorChoice resistors;
};

/// \source two-wire bus specification: R ≥ (V − V_OL) ÷ I_OL, R ≤ t_r ÷ (0.8473 · C), C ≤ 400 pF (550 pF at 1 MHz);
/// check: 3.3 V, 400 kHz, 100 pF → 967 Ω to 3.54 kΩ
Result<PullUpSize> size_two_wire(const TwoWireWish& wish);

struct OneWireWish {
  double supply_v = 3.3;
  int sensors = 1;
  double cable_m = 1;
  bool parasite = false;
  double farad_per_m = 50e-12;
  double sensor_farad = 25e-12;
  double board_farad = 10e-12;  ///< the controller's pin and board
  std::vector<double> existing_ohm;
  ResistorChoice resistors;
};

/// The line must be high 9 µs after it is let go, when the controller samples. 4 mA from each sensor.
/// \source standard-speed one-wire timing: sampled 15 µs after a slot begins, let go after 6 µs
Result<PullUpSize> size_one_wire(const OneWireWish& wish);

struct OpenDrainWish {
  double supply_v = 3.3;
  double sink_a = 3e-3;
  double capacitance_f = 50e-12;
  double edge_s = 1e-6;  ///< from 30 % to 70 % of the supply
  double low_level_v = 0.4;
  std::vector<double> existing_ohm;
  ResistorChoice resistors;
};

Result<PullUpSize> size_open_drain(const OpenDrainWish& wish);

}  // namespace fair_gauge
