#include "home/begun_box.h"

#include <QPushButton>

#include "widgets/text.h"
#include "wiring/board_map.h"

namespace fair_gauge::app {
namespace {

constexpr int columns_px = 430;

QWidget* line_of(const Theme& theme, const QString& name, const QString& what) {
  auto* words = new Text(theme, Face::small, what, Tint::quiet);
  words->setWordWrap(true);
  auto* called = new Text(theme, Face::strong, name);
  called->setWordWrap(true);
  auto* both = column(1);
  both->addWidget(called);
  both->addWidget(words);
  auto* line = new QWidget;
  line->setLayout(both);
  return line;
}

}  // namespace

BegunBox::BegunBox(const Theme& theme, QWidget* parent) : QWidget(parent), theme_(theme) {
  const auto button = [](const char* name, const QString& words, const char* look) {
    auto* made = new QPushButton(words);
    made->setObjectName(QLatin1String(name));
    made->setProperty(look, true);
    return made;
  };
  auto* choose = button("first_sensor", tr("Choose the first sensor"), "primary");
  auto* own = button("own_part", tr("Put a part on it that you have in hand"), "quiet");
  auto* listen = button("begun_listen", tr("Listen to a board"), "quiet");
  setFocusProxy(choose);
  connect(choose, &QPushButton::clicked, this, &BegunBox::first_sensor_wanted);
  connect(own, &QPushButton::clicked, this, &BegunBox::overview_wanted);
  connect(listen, &QPushButton::clicked, this, &BegunBox::listening_wanted);
  auto* ways = row(8);
  for (QPushButton* each : {choose, own, listen}) ways->addWidget(each, 0, Qt::AlignLeft);
  ways->addStretch();

  has_ = column(10);
  auto* then = column(10);
  then->addWidget(new Text(theme, Face::label, tr("WHAT COMES THEN"), Tint::quiet));
  const std::pair<QString, QString> steps[] = {
      {tr("Wire"),
       tr("Resistors and ranges by what you want to measure; what the pin sees, and how far it may be off")},
      {tr("Read"), tr("The board's raw numbers or bytes, and what each of them means")},
      {tr("Correct"), tr("Against something that is known: what is left of the error afterwards, and for how long")},
      {tr("Watch"), tr("Recorded, judged, filtered, and what would be switched by it")},
      {tr("Hand over"), tr("Firmware in whole numbers, run over every raw number before you take it")}};
  for (const auto& [name, what] : steps) then->addWidget(line_of(theme, name, what));
  then->addStretch();

  auto* beside = row(48);
  std::vector<QWidget*> sides;
  for (QVBoxLayout* each : {has_, then}) {
    auto* side = new QWidget;
    side->setLayout(each);
    sides.push_back(side);
    beside->addWidget(side, 0, Qt::AlignTop);
  }
  const auto size = [this, sides, ways] {
    ways->setDirection(theme_.text_scale() > 1.2 ? QBoxLayout::TopToBottom : QBoxLayout::LeftToRight);
    for (QWidget* each : sides) each->setFixedWidth(std::min(theme_.px(columns_px), 540));  // both beside each other
  };
  size();
  connect(&theme, &Theme::changed, this, size);
  beside->addStretch();
  auto* all = column(24);
  all->addLayout(ways);
  all->addLayout(beside);
  setLayout(all);
}

void BegunBox::show_bench(const Bench& bench, const Catalogue& catalogue, const NumberStyle& style) {
  if (bench == shown_) return;
  shown_ = bench;
  clear(has_);
  has_->addWidget(new Text(theme_, Face::label, tr("WHAT IT HAS"), Tint::quiet));
  for (const Rail& rail : bench.rails) {
    const KnownVoltage& voltage = rail.voltage;
    const QString volts = text_of(with_prefix(voltage.best_v(), "V", 4, style));
    const QString share = text_of(shortest(100 * voltage.relative_half_width(), style));
    has_->addWidget(line_of(theme_, text_of(called(rail)),
                            voltage.measured_v ? tr("%1 as measured, ±%2 %").arg(volts, share)
                                               : tr("%1 ±%2 %; read it with a meter once").arg(volts, share)));
  }
  const BoardMap map = board_map(bench, catalogue);
  for (const BoardLine& each : map.lines)
    if (each.thing) has_->addWidget(line_of(theme_, text_of(each.name), text_of(each.what)));
  if (!map.free_pins.empty())
    has_->addWidget(line_of(theme_, tr("%1 free pins").arg(map.free_pins.size()), text_of(map.bears)));
  has_->addStretch();
}

}  // namespace fair_gauge::app

#include "moc_begun_box.cpp"
