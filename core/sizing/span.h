// Which reference and gain suit a sensor's span, and which gain and offset an amplifier needs.
#pragma once

#include <optional>
#include <string>
#include <vector>

#include "chain/links.h"
#include "sizing/resistors.h"

namespace fair_gauge {

/// The sensor's volts over the wanted range.
struct SensorSpan {
  TransferLaw law;  ///< of a sensor that gives a voltage
  PartQuantity range;
  double from = 0;  ///< base units
  double to = 1;
};

/// One reference with one gain.
struct SpanCandidate {
  double reference_v = 0;
  double gain = 1;
  double step_v = 0;         ///< at the sensor
  double step_physical = 0;  ///< largest over the range, base units
  double span_used = 0;      ///< share of the codes between both ends of the range
  bool clips = false;
  std::optional<double>
      clips_above;  ///< the quantity beyond which codes end, if within the range; also below, for a falling sensor
  std::optional<double> clips_below;
};

/// Every reference with every gain, best first: those that do not clip, the finest step before the others.
Result<std::vector<SpanCandidate>> compare_spans(const SensorSpan& sensor, int bits,
                                                 const std::vector<double>& references_v,
                                                 const std::vector<double>& gains);

/// "A reference of 1.1 V would give 3 times the resolution and clip above 60 °C."
std::string compare_in_words(const SpanCandidate& other, const SpanCandidate& present, const Unit& unit);

/// The reference for which one step is exactly `step` units of the quantity; a problem for a curved sensor.
Result<double> reference_for_step(const SensorSpan& sensor, int bits, double step);

struct GainWish {
  double low_v = 0;  ///< sensor's volts at the ends of the range, in any order
  double high_v = 1;
  double reference_v = 3.3;
  double headroom = 0.05;   ///< share of the reference kept free at each end
  double tolerance = 0.01;  ///< of the resistors
  ResistorChoice resistors;
  double amplifier_noise = 20e-9;  ///< V/√Hz at the input
  double bandwidth_hz = 1000;
};

struct AmplifierSize {
  double gain_wanted = 1;
  double gain = 1;  ///< with standard resistors
  double feedback_ohm = 0;
  double input_ohm = 0;
  double offset_v = 0;  ///< to add at the output
  double at_low_v = 0;  ///< output for low_v
  double at_high_v = 0;
  double span_used = 0;   ///< share of the reference
  double gain_error = 0;  ///< relative half-width from the resistors
  double noise_v = 0;     ///< rms at the output, amplifier and resistors
};

/// Without offset (gain alone, from ground) and with offset (the range fills the span).
struct GainSize {
  AmplifierSize plain;
  AmplifierSize shifted;
  std::vector<std::string> reasons;
};

/// Gain 1 + feedback ÷ input of a non-inverting amplifier. The span is never exceeded.
Result<GainSize> size_gain(const GainWish& wish);

}  // namespace fair_gauge
