// What can be set at each stage of a chain, as rows of data: the worktop shows them, nothing else knows them.
#pragma once

#include <QString>
#include <QStringList>
#include <functional>
#include <variant>
#include <vector>

#include "shell/workbench.h"

namespace fair_gauge::app {

/// The pieces of a bench that belong to one channel. Pointers may be null where the bench has none.
struct ChannelPieces {
  Bench* bench;
  Channel* channel;
  Device* device;
  Converter* converter;
  Rail* feeding_rail;
  KnownVoltage* reference;
};
ChannelPieces pieces_of(Bench& bench, const std::string& channel_id);

/// A quantity that can be typed.
struct QuantityRow {
  Dimension dimension;
  const Unit* unit;
  std::function<double(const ChannelPieces&)> get;
  std::function<void(ChannelPieces&, double)> set;
  double least;
  double most;
  bool is_fraction = false;  ///< stored as a fraction, shown and typed in per cent
  /// Where there need be no value, which `get` says by not a number. May be empty.
  std::function<void(ChannelPieces&)> forget = {};
};

/// One of a few.
struct ChoiceRow {
  QStringList choices;
  std::function<int(const ChannelPieces&)> get;
  std::function<void(ChannelPieces&, int)> set;
};

/// Words of the user's own.
struct WordsRow {
  std::function<std::string(const ChannelPieces&)> get;
  std::function<void(ChannelPieces&, const std::string&)> set;
  /// Why such words are not taken; nothing → they are. May be empty.
  std::function<std::optional<Problem>(const ChannelPieces&, const std::string&)> wrong = {};
};

struct FieldRow {
  QString label;
  QString why;  ///< what it means, as a tooltip
  std::variant<QuantityRow, ChoiceRow, WordsRow> kind;
};

/// The rows of one stage for the chosen channel.
std::vector<FieldRow> fields_of_stage(StageName stage, const Workbench& workbench);

/// A row's value as it is shown: prefixed volts and ohms, per cent for fractions, else the number with its unit.
QString text_of_row(const QuantityRow& row, double value, const NumberStyle& style);
/// Why a value is not taken: "0.1 Ω to 100 MΩ can be".
QString limits_of_row(const QuantityRow& row, const NumberStyle& style);

}  // namespace fair_gauge::app
