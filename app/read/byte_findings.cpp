#include "read/byte_findings.h"

#include <cmath>

#include "diagnose/other_ways.h"
#include "digital/light_settings.h"
#include "digital/stale_term.h"
#include "parts/setting_name.h"
#include "quantity/number_format.h"

namespace fair_gauge::app {

ByteFindings::ByteFindings(const Theme& theme, const Workbench& workbench, QWidget* parent)
    : QWidget(parent), theme_(theme), workbench_(workbench) {
  stale_ = new Text(theme, Face::small, {}, Tint::quiet);
  stale_->setObjectName(QStringLiteral("bytes_stale"));
  stale_->setWordWrap(true);
  others_ = grid(16, 2);
  advice_ = grid(16, 2);
  auto* all = column(8);
  all->addWidget(stale_);
  all->addLayout(others_);
  all->addLayout(advice_);
  setLayout(all);
}

void ByteFindings::show_findings(const Part& part, const Decoded& decoded,
                                 const std::map<std::string, double>& settings, const ByteBlocks& blocks) {
  show_stale(*Decoder::make(part, settings), blocks);
  show_others(part, decoded, settings, blocks);
  show_light_advice(part, decoded, settings);
}

// Of a light sensor: which gain and time suit the light that is seen, or that is typed in the strip.
void ByteFindings::show_light_advice(const Part& part, const Decoded& decoded,
                                     const std::map<std::string, double>& settings) {
  clear(advice_);
  if (!has_light_settings(part)) return;
  const DigitalReading* reading = decoded.reading(Quantity::illuminance);
  const double lux = reading && reading->value > 0 ? reading->value : 500;
  const auto found = light_settings(part, lux);
  int line = 0;
  advice_->addWidget(new Text(theme_, Face::label,
                              tr("SETTINGS FOR %1 LX, WITH ROOM FOR TWICE AS MUCH").arg(lux, 0, 'g', 3), Tint::quiet),
                     line++, 0, 1, 4);
  if (!found) {
    advice_->addWidget(new Text(theme_, Face::small, text_of(to_text(found.problem())), Tint::amber), line, 0, 1, 4);
    return;
  }
  for (const LightSetting& each : *found) {
    if (line > 4) break;
    QStringList words;
    for (const PartSetting& setting : part.bytes.settings)
      if (const auto chosen = each.settings.find(setting.key); chosen != each.settings.end())
        words << in_own_marks(text_of(setting_name(setting))) + QLatin1Char(' ') +
                     text_of(shortest(chosen->second, workbench_.style()));
    advice_->addWidget(new Text(theme_, Face::small, words.join(QStringLiteral(", "))), line, 0);
    advice_->addWidget(new Text(theme_, Face::code, tr("step %1 lx").arg(each.step_lux, 0, 'g', 2), Tint::accent), line,
                       1);
    advice_->addWidget(
        new Text(theme_, Face::small, tr("uses %1 % of full scale").arg(100 * each.share, 0, 'f', 0), Tint::quiet),
        line++, 2);
  }
  const auto automatic = automatic_gain(part, lux, Decoder::make(part, settings)->settings());
  if (automatic.size() > 1) {
    QStringList steps;
    for (const LightSetting& each : automatic) {
      QStringList words;
      for (const auto& [key, value] : each.settings) words << QString::number(value);
      steps << words.join(QLatin1Char('/')) +
                   (each.share >= 1 ? tr(" full") : QStringLiteral(" %1 %").arg(100 * each.share, 0, 'f', 0));
    }
    auto* words = new Text(theme_, Face::small,
                           tr("An automatic gain would go: %1").arg(steps.join(QStringLiteral(" → "))), Tint::quiet);
    words->setWordWrap(true);
    advice_->addWidget(words, line, 0, 1, 4);
  }
  advice_->setColumnStretch(3, 1);
}

// The usual mistake with parts whose formulas carry a temperature over: an old one is used.
void ByteFindings::show_stale(const Decoder& decoder, const ByteBlocks& blocks) {
  constexpr double lag_k = 10;
  QStringList words;
  for (const StaleReading& stale : with_stale_temperature(decoder, blocks, lag_k)) {
    const Unit& unit = base_unit(stale.quantity->quantity);
    words << tr("%1 %2%3").arg(text_of(translated_name(stale.quantity->quantity)),
                               stale.difference > 0 ? QStringLiteral("+") : QString(),
                               text_of(with_unit(stale.difference, decimals_for(std::abs(stale.difference), 2),
                                                 difference_symbol(unit), workbench_.style())));
  }
  stale_->setText(words.isEmpty() ? QString()
                                  : tr("If the temperature carried over were an old one, %1 °C lower: %2. Read and "
                                       "compute the temperature first, every time.")
                                        .arg(lag_k)
                                        .arg(words.join(QStringLiteral(", "))));
  stale_->setVisible(!words.isEmpty());
}

// Shown when something is wrong with the reading, or when it is outside what is plausible.
void ByteFindings::show_others(const Part& part, const Decoded& decoded, const std::map<std::string, double>& settings,
                               const ByteBlocks& blocks) {
  clear(others_);
  int line = 1;
  for (const LikelyWay& likely : likely_ways_of_bytes(workbench_.catalogue(), part, decoded, settings, blocks)) {
    const OtherWay& other = likely.way;
    others_->addWidget(new Text(theme_, Face::small, text_of(other.words)), line, 0);
    others_->addWidget(
        new Text(theme_, Face::code,
                 text_of(with_unit(other.value, 2, base_unit(likely.quantity).symbol, workbench_.style())),
                 Tint::amber),
        line, 1);
    others_->addWidget(
        new Text(theme_, Face::small, tr("%1, raw %2").arg(text_of(translated_name(likely.quantity))).arg(other.raw),
                 Tint::quiet),
        line++, 2);
  }
  if (line > 1)
    others_->addWidget(new Text(theme_, Face::label, tr("OTHER WAYS TO READ IT THAT WOULD MAKE SENSE"), Tint::quiet), 0,
                       0, 1, 3);
  others_->setColumnStretch(3, 1);
}

}  // namespace fair_gauge::app

#include "moc_byte_findings.cpp"
