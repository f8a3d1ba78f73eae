// The drawing has its own units: 100 high, as wide as needed. Where a symbol stands is said here and nowhere else.
#include "wire/schematic.h"

#include <QCoreApplication>
#include <QPainter>
#include <QPainterPath>

#include <cmath>

#include "language/translation.h"
#include "widgets/text.h"
#include "wiring/wiring_list.h"

namespace fair_gauge::app {
namespace {

constexpr double high = 100, wide = 186;
constexpr double node_x = 52, node_y = 50;  // where the sensor's signal leaves its own circuit
constexpr double converter_x = 140;         // left edge of the converter
constexpr double resistor_long = 17, resistor_thick = 6.5;

// The label of a row of the stage's fields.
QString label_of(const char* text) { return text_of(std::string(translated(text))); }

}  // namespace

// A painter that knows our symbols.
struct Schematic::Drawing {
  QPainter& painter;
  const Theme& theme;
  double u;  // pixels for one unit
  QPointF origin;

  QPointF px(QPointF at) const { return origin + at * u; }
  void pen(const QColor& colour, double width = 1.6) {
    painter.setPen(QPen(colour, width, Qt::SolidLine, Qt::RoundCap, Qt::RoundJoin));
  }
  void wire(std::initializer_list<QPointF> points) {
    pen(theme.colours().ink, 1.4);
    QPointF last = *points.begin();
    for (const QPointF& point : points) {
      painter.drawLine(px(last), px(point));
      last = point;
    }
  }
  void dot(QPointF at) {
    painter.setBrush(theme.colours().ink);
    painter.setPen(Qt::NoPen);
    painter.drawEllipse(px(at), 3, 3);
  }
  void text(QPointF at, const QString& words, Face face, const QColor& colour, Qt::Alignment align = Qt::AlignLeft) {
    painter.setFont(theme.font(face));
    painter.setPen(colour);
    const double width = 260;
    const QRectF box = align & Qt::AlignRight     ? QRectF(px(at) - QPointF(width, 12), QSizeF(width, 24))
                       : align & Qt::AlignHCenter ? QRectF(px(at) - QPointF(width / 2, 12), QSizeF(width, 24))
                                                  : QRectF(px(at) - QPointF(0, 12), QSizeF(width, 24));
    painter.drawText(box, static_cast<int>((align | Qt::AlignVCenter).toInt()), words);
  }
  void name(QPointF at, const QString& words, Qt::Alignment align = Qt::AlignLeft) {
    text(at, words, Face::small, theme.colours().quiet, align);
  }
  void live(QPointF at, const QString& words, Qt::Alignment align = Qt::AlignLeft) {
    text(at, words, Face::number_small, theme.colours().accent, align);
  }
  // A resistor on a vertical wire; a sensor's has the slanted line of a resistance that something else sets.
  void resistor(QPointF middle, Qt::Orientation orientation, bool sensor = false) {
    const double w = (orientation == Qt::Vertical ? resistor_thick : resistor_long) * u,
                 h = (orientation == Qt::Vertical ? resistor_long : resistor_thick) * u;
    const QRectF box(px(middle) - QPointF(w / 2, h / 2), QSizeF(w, h));
    pen(sensor ? theme.colours().accent : theme.colours().ink, sensor ? 2 : 1.6);
    painter.setBrush(theme.colours().sheet);
    painter.drawRoundedRect(box, 2, 2);
    if (!sensor) return;
    const QPointF low = box.bottomLeft() + QPointF(-0.4 * w, 0), top = box.topRight() + QPointF(0.4 * w, 0);
    painter.drawLine(low, top);
    painter.drawLine(low, low + QPointF(-4, 0));
  }
  void capacitor(QPointF middle) {
    pen(theme.colours().ink, 2);
    painter.drawLine(px(middle + QPointF(-4, -1.2)), px(middle + QPointF(4, -1.2)));
    painter.drawLine(px(middle + QPointF(-4, 1.2)), px(middle + QPointF(4, 1.2)));
  }
  void ground(QPointF at) {
    pen(theme.colours().ink, 2);
    for (int i = 0; i < 3; ++i)
      painter.drawLine(px(at + QPointF(-4 + 1.3 * i, 1.8 * i)), px(at + QPointF(4 - 1.3 * i, 1.8 * i)));
  }
  void rail(QPointF at, const QString& words) {
    pen(theme.colours().second, 2.4);
    painter.drawLine(px(at - QPointF(8, 0)), px(at + QPointF(8, 0)));
    name(at + QPointF(-8, -5), words);
  }
  void block(const QRectF& box, const QString& title, const QColor& edge) {
    pen(edge, 1.8);
    painter.setBrush(theme.colours().sheet);
    painter.drawRoundedRect(QRectF(px(box.topLeft()), box.size() * u), 6, 6);
    text(box.center(), title, Face::strong, theme.colours().ink, Qt::AlignHCenter);
  }
  void amplifier(QPointF left, double size) {
    pen(theme.colours().ink, 1.8);
    painter.setBrush(theme.colours().sheet);
    painter.drawPolygon(
        QPolygonF({px(left + QPointF(0, -size)), px(left + QPointF(0, size)), px(left + QPointF(1.7 * size, 0))}));
  }
};

Schematic::Schematic(const Theme& theme, Workbench& workbench, QWidget* parent)
    : QWidget(parent), theme_(theme), workbench_(workbench) {
  setObjectName(QStringLiteral("schematic"));
  setAccessibleName(tr("Circuit of the channel"));
  setMinimumHeight(160);
  connect(&workbench, &Workbench::selection_changed, this, &Schematic::rebuild);
  connect(&workbench, &Workbench::bench_changed, this, &Schematic::rebuild);
  connect(&workbench, &Workbench::values_changed, this, &Schematic::refresh);
  connect(&theme, &Theme::changed, this, &Schematic::arrange);
  rebuild();
}

double Schematic::unit() const { return std::min({width() / wide, height() / high, 1.0 * theme_.px(5)}); }

void Schematic::add_value(StageName stage, const QString& label, QPointF at) {
  for (const FieldRow& row : fields_of_stage(stage, workbench_)) {
    const auto* quantity = std::get_if<QuantityRow>(&row.kind);
    if (!quantity || row.label != label) continue;
    auto* field = new QuantityField(theme_, quantity->dimension, this);
    field->setProperty("flat", true);
    field->set_unit(*quantity->unit);
    field->setToolTip(in_own_marks(row.why));
    field->setAccessibleName(row.label);
    connect(field, &QuantityField::echo_changed, this, &Schematic::echo_changed);
    connect(field, &QuantityField::value_given, this, [this, row](double base) {
      const auto& kind = std::get<QuantityRow>(row.kind);
      if (base < kind.least || base > kind.most)
        return emit echo_changed(tr("That cannot be: %1").arg(limits_of_row(kind, workbench_.style())), true);
      workbench_.document().edit(row.label, [&](Bench& bench) {
        ChannelPieces pieces = pieces_of(bench, workbench_.channel_id());
        kind.set(pieces, kind.is_fraction ? base / 100 : base);
      });
    });
    if (quantity->forget)
      field->set_emptied({}, [this, row] {
        workbench_.document().edit(row.label, [&](Bench& bench) {
          ChannelPieces pieces = pieces_of(bench, workbench_.channel_id());
          std::get<QuantityRow>(row.kind).forget(pieces);
        });
      });
    field->show();
    values_.push_back({stage, row, field, at});
    return;
  }
}

void Schematic::rebuild() {
  const auto& chain = workbench_.chosen().chain;
  const Device* device = chain ? find_by_id(workbench_.bench().devices, chain->channel.device) : nullptr;
  const std::string shape = device
                                ? workbench_.channel_id() + std::to_string(static_cast<int>(device->front_end.kind)) +
                                      device->part + std::to_string(static_cast<int>(device->front_end.position)) +
                                      (device->front_end.filter_ohm > 0 ? "f" : "")
                                : "";
  if (shape == built_for_) return refresh();
  built_for_ = shape;
  for (const Value& value : values_) {
    value.field->hide();
    value.field->deleteLater();
  }
  values_.clear();
  if (!device) return update();
  if (chain->converter->counts() == "raw" || chain->channel.arrives_converted())
    return arrange();  // a bus has no values to type over yet
  const FrontEnd& front_end = device->front_end;
  const StageName front = StageName::front_end;
  using enum FrontEndKind;
  if (front_end.kind == divider) {
    const bool top = front_end.position == Position::top;
    add_value(front, label_of(to_translate("Fixed resistor")), {node_x - 44, top ? 30.0 : 70.0});
    add_value(front, label_of(to_translate("Supply, nominal")), {node_x + 11, 13});
  } else if (front_end.kind == load) {
    add_value(front, label_of(to_translate("Load resistor")), {node_x - 44, 72});
  } else if (front_end.kind == transimpedance) {
    add_value(front, label_of(to_translate("Feedback resistor")), {76, 12});
  } else if (front_end.kind == level_divider) {
    add_value(front, label_of(to_translate("Upper resistor")), {64, 36});
    add_value(front, label_of(to_translate("Lower resistor")), {108, 70});
  } else if (front_end.kind == amplifier) {
    add_value(front, label_of(to_translate("Gain")), {84, 74});
    add_value(front, label_of(to_translate("Offset at the output")), {84, 86});
  }
  if (front_end.filter_ohm > 0) {
    add_value(front, label_of(to_translate("Filter resistor")), {95, 38});
    add_value(front, label_of(to_translate("Filter capacitor")), {121, 73});
  }
  if (!chain->converter->counts_pulses())
    add_value(StageName::converter, label_of(to_translate("Reference, as measured")), {converter_x + 3, 84});
  arrange();
  refresh();
}

void Schematic::arrange() {
  const double u = unit();
  const QPointF origin((width() - wide * u) / 2, (height() - high * u) / 2);
  for (const Value& value : values_) {
    value.field->setFont(theme_.font(Face::number_small));
    const int field_height = theme_.px(26), field_width = theme_.px(66);
    const QPointF at = origin + value.at * u;
    value.field->setGeometry(static_cast<int>(at.x()), static_cast<int>(at.y()) - field_height / 2, field_width,
                             field_height);
  }
  update();
}

void Schematic::resizeEvent(QResizeEvent* event) {
  QWidget::resizeEvent(event);
  arrange();
}

void Schematic::showEvent(QShowEvent* event) {
  QWidget::showEvent(event);
  refresh();
}

void Schematic::refresh() {
  if (!isVisible()) return;
  Bench bench = workbench_.bench();
  const ChannelPieces pieces = pieces_of(bench, workbench_.channel_id());
  if (!pieces.device) return;
  for (const Value& value : values_) {
    const auto& row = std::get<QuantityRow>(value.row.kind);
    double base = row.get(pieces);
    if (std::isnan(base) && pieces.reference) base = pieces.reference->best_v();  // as long as nobody measured it
    value.field->show_value(base, text_of_row(row, base, workbench_.style()));
  }
  update();
}

// From the node to the converter, through a filter if there is one, with the live volts on the wire.
void Schematic::draw_to_converter(Drawing& drawing, QPointF from) const {
  const Chain& chain = *workbench_.chosen().chain;
  const Device& device = *find_by_id(workbench_.bench().devices, chain.channel.device);
  const QPointF pin(converter_x, from.y());
  drawing.wire({from, pin});
  if (device.front_end.filter_ohm > 0) {
    drawing.resistor({104, from.y()}, Qt::Horizontal);
    drawing.wire({{124, from.y()}, {124, 64}});
    drawing.capacitor({124, 65});
    drawing.wire({{124, 66.5}, {124, 80}});
    drawing.ground({124, 80});
    drawing.dot({124, from.y()});
  }
  const QRectF box(converter_x, 28, 44, 44);
  drawing.block(box, chain.converter->counts_pulses() ? tr("Counter") : tr("Converter"), drawing.theme.colours().ink);
  const auto values = evaluate(chain, workbench_.solved_from());
  const NumberStyle& style = workbench_.style();
  const auto value_of = [&](const Stage* stage) {
    return stage ? values[static_cast<std::size_t>(stage - chain.stages.data())] : StageValue(Problem{});
  };
  if (const auto code = value_of(chain.code_stage())) {
    drawing.live({converter_x + 22, 60}, text_of(fixed(*code, 0, style)), Qt::AlignHCenter);
    drawing.name({converter_x + 22, 67}, chain.converter->counts_pulses() ? tr("pulses") : tr("counts"),
                 Qt::AlignHCenter);
  }
  if (!chain.converter->counts_pulses()) {
    drawing.name({converter_x + 3, 77}, tr("reference"));
    const Converter& converter = *find_by_id(workbench_.bench().converters, device.converter);
    drawing.name(
        {converter_x + 22, 38},
        tr("%1 bits").arg(converter.bits) + (converter.gain == 1 ? QString() : tr(", gain %1").arg(converter.gain)),
        Qt::AlignHCenter);
  }
  const Stage* volts =
      chain.stage(StageName::front_end) ? chain.stage(StageName::front_end) : chain.stage(StageName::sensor);
  if (volts->unit->dimension != Dimension::voltage) return;
  if (const auto at_pin = value_of(volts))
    drawing.live({converter_x - 2, from.y() - 6}, text_of(with_prefix(*at_pin, "V", 4, style)), Qt::AlignRight);
}

void Schematic::draw_divider(Drawing& drawing) const {
  const Chain& chain = *workbench_.chosen().chain;
  const Device& device = *find_by_id(workbench_.bench().devices, chain.channel.device);
  const bool fixed_above = device.front_end.position == Position::top;
  drawing.wire({{node_x, 10}, {node_x, 90}});
  const Rail* rail = find_by_id(workbench_.bench().rails, device.front_end.rail);
  drawing.rail({node_x, 10}, rail ? text_of(called(*rail)) : tr("its supply"));
  drawing.resistor({node_x, 30}, Qt::Vertical, !fixed_above);
  drawing.resistor({node_x, 70}, Qt::Vertical, fixed_above);
  drawing.ground({node_x, 90});
  drawing.dot({node_x, node_y});
  const double sensor_y = fixed_above ? 70 : 30, fixed_y = fixed_above ? 30 : 70;
  drawing.name({node_x - 44, fixed_y - 7}, tr("fixed, ±%1 %").arg(device.front_end.fixed_tolerance * 100));
  drawing.name({node_x + 9, sensor_y - 4}, tr("sensor"));
  const auto values = evaluate(chain, workbench_.solved_from());
  if (const auto& ohms = values[static_cast<std::size_t>(chain.stage(StageName::sensor) - chain.stages.data())])
    drawing.live({node_x + 9, sensor_y + 4}, text_of(with_prefix(*ohms, "Ω", 4, workbench_.style())));
  if (device.front_end.wires > 0)
    drawing.name({node_x - 8, sensor_y},
                 tr("%1 leads of %2")
                     .arg(device.front_end.wires)
                     .arg(text_of(with_prefix(device.front_end.lead_ohm, "Ω", 3, workbench_.style()))),
                 Qt::AlignRight);
  draw_to_converter(drawing, {node_x, node_y});
}

// A sensor that gives a voltage or a current by itself: a block with its supply, its ground and its output.
void Schematic::draw_source(Drawing& drawing) const {
  const Chain& chain = *workbench_.chosen().chain;
  const Device& device = *find_by_id(workbench_.bench().devices, chain.channel.device);
  const Part& part = *workbench_.catalogue().find(chain.part_id);
  const bool load = device.front_end.kind == FrontEndKind::load;
  const double y = load ? 30 : node_y;
  if (part.interface == Interface::thermocouple) {
    // Two legs of different metal that meet at the hot end.
    drawing.pen(drawing.theme.colours().accent, 2.4);
    drawing.painter.drawLine(drawing.px({14, 50}), drawing.px({38, 44}));
    drawing.pen(drawing.theme.colours().second, 2.4);
    drawing.painter.drawLine(drawing.px({14, 50}), drawing.px({38, 58}));
    drawing.dot({14, 50});
    drawing.name({4, 38}, tr("hot end, type %1").arg(text_of(part.transfer.variant)));
    drawing.wire({{38, 44}, {44, 44}, {44, 50}, {node_x, 50}});
    drawing.wire({{38, 58}, {44, 58}, {44, 80}});
    drawing.ground({44, 80});
    drawing.name({26, 72}, tr("cold junction"), Qt::AlignHCenter);
  } else {
    if (part.interface != Interface::bridge)
      drawing.block({16, y - 12, 26, 24}, tr("Sensor"), drawing.theme.colours().accent);
    if (part.interface == Interface::bridge) {
      const QPointF corners[] = {{29, 32}, {47, 50}, {29, 68}, {11, 50}};
      for (int i = 0; i < 4; ++i) drawing.wire({corners[i], corners[(i + 1) % 4]});
      for (int i = 0; i < 4; ++i) {
        const QPointF middle = (corners[i] + corners[(i + 1) % 4]) / 2;
        drawing.pen(drawing.theme.colours().accent, 2);
        drawing.painter.setBrush(drawing.theme.colours().sheet);
        drawing.painter.drawRect(QRectF(drawing.px(middle) - QPointF(6, 6), QSizeF(12, 12)));
      }
      drawing.name({29, 50}, tr("bridge"), Qt::AlignHCenter);
    }
    const double above = part.interface == Interface::bridge ? 32 : y - 12,
                 below = part.interface == Interface::bridge ? 68 : y + 12;
    drawing.wire({{29, above}, {29, 12}});
    const Rail* rail = find_by_id(workbench_.bench().rails, device.front_end.rail);
    drawing.rail({29, 12}, rail ? text_of(called(*rail)) : tr("its supply"));
    if (!load) {
      drawing.wire({{29, below}, {29, 88}});
      drawing.ground({29, 88});
    }
  }
  if (load) {
    drawing.wire({{29, 42}, {29, 90}});
    drawing.resistor({29, 72}, Qt::Vertical);
    drawing.ground({29, 90});
    drawing.dot({29, node_y});
    drawing.wire({{29, node_y}, {node_x, node_y}});
  } else if (part.interface != Interface::thermocouple) {
    drawing.wire({{part.interface == Interface::bridge ? 47.0 : 42.0, node_y}, {node_x, node_y}});
  }
  const auto values = evaluate(chain, workbench_.solved_from());
  const Stage* sensor = chain.stage(StageName::sensor);
  const auto& output = values[static_cast<std::size_t>(sensor - chain.stages.data())];
  const bool told_at_the_pin = !chain.stage(StageName::front_end) && sensor->unit->dimension == Dimension::voltage;
  if (output && sensor->unit->dimension != Dimension::number && !told_at_the_pin)
    drawing.live(part.interface == Interface::thermocouple ? QPointF(38, 32) : QPointF(46, y - 8),
                 text_of(with_prefix(*output, sensor->unit->symbol, 4, workbench_.style())));
}

void Schematic::draw_level_divider(Drawing& drawing) const {
  draw_source(drawing);
  drawing.wire({{node_x, node_y}, {100, node_y}, {100, 88}});
  drawing.resistor({76, node_y}, Qt::Horizontal);
  drawing.resistor({100, 70}, Qt::Vertical);
  drawing.ground({100, 88});
  drawing.dot({100, node_y});
  draw_to_converter(drawing, {100, node_y});
}

void Schematic::draw_amplifier(Drawing& drawing) const {
  draw_source(drawing);
  const Chain& chain = *workbench_.chosen().chain;
  const FrontEnd& front_end = find_by_id(workbench_.bench().devices, chain.channel.device)->front_end;
  const bool one_input =
      front_end.amplifier == AmplifierKind::non_inverting || front_end.amplifier == AmplifierKind::inverting;
  drawing.wire({{node_x, node_y}, {78, node_y}});
  drawing.wire({{104, node_y}, {112, node_y}});
  if (one_input) {
    drawing.wire({{78, 43}, {70, 43}, {70, 22}, {82, 22}});
    drawing.wire({{98, 22}, {110, 22}, {110, node_y}});
    drawing.resistor({90, 22}, Qt::Horizontal);
    drawing.dot({110, node_y});
    const double feedback =
        front_end.input_ohm *
        (front_end.amplifier == AmplifierKind::inverting ? front_end.gain : std::max(0.0, front_end.gain - 1));
    drawing.name(
        {90, 13},
        tr("feedback %1 against %2").arg(text_of(resistor_code(feedback)), text_of(resistor_code(front_end.input_ohm))),
        Qt::AlignHCenter);
  }
  drawing.amplifier({78, node_y}, 15);
  drawing.name({66, 74}, tr("gain"));
  drawing.name({66, 86}, tr("offset"));
  draw_to_converter(drawing, {112, node_y});
}

void Schematic::draw_transimpedance(Drawing& drawing) const {
  draw_source(drawing);
  drawing.wire({{node_x, node_y}, {78, node_y}});
  drawing.wire({{104, node_y}, {112, node_y}});
  drawing.wire({{66, node_y}, {66, 22}, {82, 22}});
  drawing.wire({{98, 22}, {110, 22}, {110, node_y}});
  drawing.resistor({90, 22}, Qt::Horizontal);
  drawing.dot({66, node_y});
  drawing.dot({110, node_y});
  drawing.amplifier({78, node_y}, 15);
  draw_to_converter(drawing, {112, node_y});
}

void Schematic::draw_pulse_count(Drawing& drawing) const {
  // The sensor and its load lie in series; the counter sees the voltage between them.
  drawing.wire({{node_x, 10}, {node_x, 90}});
  drawing.rail({node_x, 10}, tr("its supply"));
  drawing.block({node_x - 13, 20, 26, 20}, tr("Sensor"), drawing.theme.colours().accent);
  drawing.resistor({node_x, 70}, Qt::Vertical);
  drawing.name({node_x + 8, 70}, tr("load resistor: see Values"));
  drawing.ground({node_x, 90});
  drawing.dot({node_x, node_y});
  draw_to_converter(drawing, {node_x, node_y});
}

// A part that answers with bytes: its lines to the controller, each held up by a resistor where the bus needs it.
void Schematic::draw_bus(Drawing& drawing) const {
  const Chain& chain = *workbench_.chosen().chain;
  const Device& device = *find_by_id(workbench_.bench().devices, chain.channel.device);
  const Part& part = *workbench_.catalogue().find(chain.part_id);
  const bool two_wire = part.interface == Interface::i2c,
             one_line = part.interface == Interface::one_wire || part.interface == Interface::single_wire;
  QStringList lines;
  for (const std::string& conductor : conductors_of(part, {}))
    if (ends_at_a_pin(conductor)) lines << text_of(translated(conductor));
  drawing.block({12, 30, 44, 40}, tr("Sensor"), drawing.theme.colours().accent);
  drawing.block({converter_x - 4, 30, 44, 40}, tr("Controller"), drawing.theme.colours().ink);
  for (int i = 0; i < lines.size(); ++i) {
    const double pitch = lines.size() > 3 ? 10 : 14;
    const double y = 50 + pitch * (i - (static_cast<double>(lines.size()) - 1) / 2);
    drawing.wire({{56, y}, {converter_x - 4, y}});
    drawing.name({60, y - 3.5}, lines[i]);
    if (!two_wire && !one_line) continue;
    const double x = 88 + 18 * i;
    drawing.wire({{x, 10}, {x, y}});
    drawing.resistor({x, 22}, Qt::Vertical);
    drawing.dot({x, y});
    drawing.rail({x, 10}, i == 0 ? tr("pull-up") : QString());
  }
  if (device.address > 0)
    drawing.name({34, 62}, tr("address 0x%1").arg(device.address, 2, 16, QLatin1Char('0')), Qt::AlignHCenter);
  if (!device.serial.empty()) drawing.name({12, 76}, tr("serial %1").arg(text_of(device.serial)));
  if (!device.bus.empty()) drawing.name({60, 76}, text_of(device.bus));
  const auto values = evaluate(chain, workbench_.solved_from());
  if (const auto& raw = values[static_cast<std::size_t>(chain.code_stage() - chain.stages.data())])
    drawing.live({converter_x + 18, 62}, text_of(fixed(*raw, 0, workbench_.style())), Qt::AlignHCenter);
}

// A value that other firmware converted: nothing of its circuit is known here.
void Schematic::draw_arriving(Drawing& drawing) const {
  const Chain& chain = *workbench_.chosen().chain;
  const Part* part = workbench_.catalogue().find(chain.part_id);
  drawing.block({8, 34, 40, 32}, tr("Sensor"), drawing.theme.colours().quiet);
  drawing.block({70, 34, 44, 32}, tr("Other firmware"), drawing.theme.colours().accent);
  drawing.block({converter_x - 4, 34, 44, 32}, tr("This program"), drawing.theme.colours().ink);
  drawing.wire({{48, 50}, {70, 50}});
  drawing.wire({{114, 50}, {converter_x - 4, 50}});
  drawing.name({28, 74}, part ? text_of(part->id) : tr("of an unknown part"), Qt::AlignHCenter);
  const auto values = evaluate(chain, workbench_.solved_from());
  if (const auto& value = values[static_cast<std::size_t>(chain.stage(StageName::raw) - chain.stages.data())])
    drawing.live({125, 26},
                 text_of(with_unit(*value, chain.channel.arrives->decimals, chain.stage(StageName::raw)->unit->symbol,
                                   workbench_.style())),
                 Qt::AlignHCenter);
}

void Schematic::draw(Drawing& drawing) const {
  const Chain& chain = *workbench_.chosen().chain;
  if (chain.channel.arrives_converted() && chain.converter->counts_pulses()) return draw_arriving(drawing);
  const FrontEnd& front_end = find_by_id(workbench_.bench().devices, chain.channel.device)->front_end;
  if (chain.converter->counts() == "raw") return draw_bus(drawing);
  if (chain.converter->counts_pulses()) return draw_pulse_count(drawing);
  using enum FrontEndKind;
  switch (front_end.kind) {
    case divider: return draw_divider(drawing);
    case level_divider: return draw_level_divider(drawing);
    case amplifier: return draw_amplifier(drawing);
    case transimpedance: return draw_transimpedance(drawing);
    case load:
    case direct: draw_source(drawing); return draw_to_converter(drawing, {node_x, node_y});
  }
}

void Schematic::paintEvent(QPaintEvent*) {
  QPainter painter(this);
  painter.setRenderHint(QPainter::Antialiasing);
  painter.fillRect(rect(), theme_.colours().sheet);
  if (!workbench_.chosen().chain) return;
  const double u = unit();
  Drawing drawing{painter, theme_, u, QPointF((width() - wide * u) / 2, (height() - high * u) / 2)};
  draw(drawing);
}

}  // namespace fair_gauge::app

#include "moc_schematic.cpp"
