// What the files build_*.cpp share: one object that puts one chain together. Nobody else includes this.
#pragma once

#include <string>
#include <utility>

#include "chain/chain.h"
#include "chain/digital_link.h"
#include "language/translation.h"

namespace fair_gauge {

class Builder {
 public:
  Builder(const Bench& bench, const Catalogue& catalogue, const Channel& channel, SideValues beside, int depth = 0)
      : bench_(bench), catalogue_(catalogue), asked_(channel), beside_(std::move(beside)), depth_(depth) {
    chain_.channel = channel;
  }
  Result<Chain> build();

 private:
  Result<Chain> build_derived(const DerivedFrom& from);
  std::optional<Problem> fault_of_derived(const DerivedFrom& from, const DerivedQuantity& quantity) const;
  std::optional<Problem> lacks_absolute(const DerivedFrom& from, const DerivedQuantity& quantity) const;
  /// \param rest  what it read at rest, where it is held against that
  Result<Chain> input_chain(const std::string& id, Quantity quantity, std::optional<double> rest = {}) const;
  Result<Chain> build_arriving();
  static std::string decimals_words(int decimals);
  Result<Chain> build_behind(const Unit& unit, const std::string& form);
  Result<Chain> build_digital();
  void add_raw_number(const DigitalLink& link, const ByteReading& reading,
                      const std::optional<DigitalLink::Setup::Floating>& floating);
  Result<TransferLaw> law_of_device();
  std::optional<Problem> check_front_end(const TransferLaw& law) const;
  std::size_t add_link(LinkPointer link);
  void add_stage(StageName name, std::string caption, const Unit& unit, std::size_t node);
  void add_reading_links();
  std::optional<Range> proven() const;
  void add_raw_correction();
  bool holds_here(const AccuracyBand& band, const std::vector<AccuracyBand>& all) const;
  PartQuantity of_grade(PartQuantity range, const std::string& wanted) const;
  Result<std::optional<PartQuantity>> accuracy_of_element() const;
  std::vector<SensorLink::Specimen> specimens(const PartQuantity& range) const;
  void add_sensor(const TransferLaw& law);
  void add_front_end(const TransferLaw& law);
  double load_ohm() const;
  // Of a part over which some voltage has to stay; 0 → no limit.
  double highest_over_load() const;
  double beside_load(double ohm) const;
  void add_pin_load(double source_ohm, std::size_t before);
  std::size_t add_gain(GainLink::Setup setup, std::string caption);
  double add_level_divider();
  void add_amplifier();
  double divider_source_ohm(const TransferLaw& law) const;
  void add_divider();
  std::pair<std::string, std::string> states_at_ends() const;
  double settling_error() const;
  void add_converter();
  void add_converter_bytes();
  void add_pulse_counter(const TransferLaw& law);
  void add_reading_stages(const TransferLaw& law);
  void add_shown_stages();

  const Bench& bench_;
  const Catalogue& catalogue_;
  const Channel& asked_;
  SideValues beside_;
  int depth_;                   // of chains that measure what others need
  std::optional<double> rest_;  // reading that this one is held against, of the same sensor
  Chain chain_;
  const Device* device_ = nullptr;
  const Part* part_ = nullptr;
  const PartQuantity* quantity_ = nullptr;
  const Converter* converter_ = nullptr;
  std::optional<SharedVoltage> supply_;
  std::shared_ptr<const Chain> beside_chain_;
  bool pulses_ = false;
};

/// The cause under which a rail is off for all that hang on it.
inline std::string rail_cause(const std::string& rail) { return rail.empty() ? "" : translated("rail {}", rail); }

}  // namespace fair_gauge
