#include "board/board_drawing.h"

#include <QHelpEvent>
#include <QKeyEvent>
#include <QPainter>
#include <QToolTip>
#include <algorithm>

#include "quantity/number_format.h"
#include "widgets/text.h"

namespace fair_gauge::app {
namespace {

// At normal size of the text, pixels.
constexpr int controller_wide = 176, pin_wide = 76, reach = 116, rail_high = 28, gap = 8;

QString joined(const std::vector<std::string>& words) {
  QStringList all;
  for (const std::string& each : words) all << text_of(each);
  return all.join(QLatin1Char(' '));
}

}  // namespace

BoardDrawing::BoardDrawing(const Theme& theme, Workbench& workbench, QWidget* parent)
    : QWidget(parent), theme_(theme), workbench_(workbench) {
  setAccessibleName(tr("Drawing of the bench"));
  setFocusPolicy(Qt::StrongFocus);
  setMouseTracking(true);
  setSizePolicy(QSizePolicy::Expanding, QSizePolicy::Fixed);
  connect(&theme, &Theme::changed, this, [this] { arrange(), updateGeometry(), update(); });
}

int BoardDrawing::line_high() const { return QFontMetrics(theme_.font(Face::small)).height(); }
int BoardDrawing::plate_high() const { return QFontMetrics(theme_.font(Face::strong)).height() + line_high() + 6; }

QSize BoardDrawing::sizeHint() const { return {theme_.px(560), high_}; }
QSize BoardDrawing::minimumSizeHint() const { return {theme_.column_px(404), high_}; }

void BoardDrawing::show_bench(const std::optional<Thing>& chosen) {
  chosen_ = chosen;
  map_ = board_map(workbench_.bench(), workbench_.catalogue());
  QStringList words;
  for (const Rail& rail : workbench_.bench().rails) words << tr("Supply %1.").arg(text_of(called(rail)));
  for (const std::string& each : words_of(map_)) words << text_of(each);
  setAccessibleDescription(in_own_marks(words.join(QLatin1Char(' '))));
  arrange();
  updateGeometry();
  update();
}

QString BoardDrawing::supply_of(const HungThing& hung) const {
  const Rail* rail = find_by_id(workbench_.bench().rails, hung.rail);
  return rail ? text_of(with_prefix(rail->voltage.best_v(), "V", 3)) : QString();
}

void BoardDrawing::add_wire(const QLine& line, bool is_shared, const QString& words) {
  wires_.push_back({line, is_shared, in_own_marks(words)});
}

void BoardDrawing::add_pins(const std::vector<std::string>& pins, int middle) {
  if (pins.empty()) return;
  const int wide = theme_.column_px(pin_wide);
  pins_.push_back(
      {QRect(controller_.right() - wide, middle - line_high() / 2, wide - theme_.px(gap), line_high()), joined(pins)});
}

// A part at the end of its wire; under a converter what is at its inputs. \returns where the next one begins
int BoardDrawing::add_hung(const HungThing& hung, int left, int top) {
  const QString supply = supply_of(hung);
  QString tip = text_of(hung.name);
  if (!hung.what.empty()) tip += QStringLiteral(", ") + text_of(hung.what);
  if (!supply.isEmpty()) tip += QStringLiteral(", ") + supply;
  if (hung.starved) tip += QStringLiteral(": ") + text_of(*hung.starved);
  plates_.push_back({hung.thing, QRect(left, top, width() - left - 2, plate_high()), text_of(hung.name),
                     hung.starved ? text_of(*hung.starved) : text_of(hung.what), supply, hung.starved.has_value(),
                     in_own_marks(tip), hung.again});
  int bottom = top + plate_high() + theme_.px(gap);
  const int trunk = left + theme_.px(12), inside = left + theme_.px(28);
  for (const HungThing& input : hung.at_inputs) {
    const int middle = bottom + plate_high() / 2;
    add_wire(QLine(trunk, bottom - theme_.px(gap), trunk, middle), false);
    add_wire(QLine(trunk, middle, inside, middle), false);
    bottom = add_hung(input, inside, bottom);
  }
  return bottom;
}

// Each of these returns where what comes below begins.
int BoardDrawing::arrange_rails() {
  int top = 0;
  for (const Rail& rail : workbench_.bench().rails) {
    const QString volts = text_of(with_prefix(rail.voltage.best_v(), "V", 3));
    const QString name = text_of(called(rail));
    plates_.push_back({{ThingKind::rail, rail.id},
                       QRect(0, top, width() - 2, theme_.px(rail_high)),
                       name,
                       {},
                       volts,
                       false,
                       in_own_marks(name + QStringLiteral(", ") + volts)});
    top += theme_.px(rail_high);
  }
  return top;
}

int BoardDrawing::arrange_head(int top) {
  const bool is_there = !map_.lines.empty() || !map_.free_pins.empty();
  head_ = QStringList{map_.controller.empty() && is_there ? tr("Controller") : text_of(map_.controller),
                      text_of(map_.bears)}
              .join(QLatin1Char('\n'))
              .trimmed();
  if (head_.isEmpty()) return top;
  return top +
         QFontMetrics(theme_.font(Face::small))
             .boundingRect(QRect(0, 0, controller_.width() - 2 * theme_.px(gap), 20 * line_high()), Qt::TextWordWrap,
                           in_own_marks(head_))
             .height() +
         theme_.px(gap);
}

void BoardDrawing::add_plate_of(const BoardLine& line, const QRect& box) {
  plates_.push_back({*line.thing,
                     box,
                     text_of(line.name),
                     text_of(line.what),
                     {},
                     false,
                     in_own_marks(text_of(line.name + ", " + line.what))});
}

// A bus: its own line, and its parts on it.
int BoardDrawing::arrange_bus(const BoardLine& line, int top) {
  const int edge = controller_.right(), end = edge + theme_.column_px(reach);
  const int middle = top + plate_high() / 2, trunk = edge + theme_.px(24);
  const int wide = width() - trunk - theme_.px(gap) - 2;
  add_plate_of(line, QRect(trunk + theme_.px(gap), top, wide, plate_high()));
  add_pins(line.pins, middle);
  add_wire(QLine(edge, middle, trunk + theme_.px(gap), middle), true);
  top += plate_high() + theme_.px(gap);
  for (const HungThing& hung : line.hung) {
    const int at = top + plate_high() / 2;
    add_wire(QLine(trunk, middle, trunk, at), true);
    add_wire(QLine(trunk, at, end, at), true, text_of(hung.link));
    top = add_hung(hung, end, top);
  }
  return top;
}

int BoardDrawing::arrange_inputs(const BoardLine& line, int top) {
  const int edge = controller_.right(), end = edge + theme_.column_px(reach);
  for (const HungThing& hung : line.hung) {
    const int at = top + plate_high() / 2;
    add_pins(hung.pins, at);
    add_wire(QLine(edge, at, end, at), false, text_of(hung.link));
    top = add_hung(hung, end, top);
  }
  return top;
}

// A converter inside the controller, as high as what it reads, which ends at the bottom.
int BoardDrawing::arrange_converter(const BoardLine& line, int top, int bottom) {
  const QFontMetrics metrics(theme_.font(Face::small));
  const bool has_pins = std::ranges::any_of(line.hung, [](const HungThing& hung) { return !hung.pins.empty(); });
  int wide = controller_.width() - (has_pins ? theme_.column_px(pin_wide) : 2 * theme_.px(gap)) - theme_.px(gap);
  for (const QString& word : text_of(line.name).split(QLatin1Char(' ')))  // in large writing one may need more
    wide = std::clamp(metrics.horizontalAdvance(word) + 2 * theme_.px(8) + 2, wide,
                      controller_.width() - 3 * theme_.px(gap));
  int least = theme_.px(gap) + 6;  // its name and what it is
  for (const std::string& words : {line.name, line.what})
    least += metrics
                 .boundingRect(QRect(0, 0, wide - 2 * theme_.px(8), 20 * line_high()), Qt::TextWordWrap,
                               in_own_marks(text_of(words)))
                 .height();
  bottom = std::max(bottom, top + least + theme_.px(gap));
  add_plate_of(line, QRect(theme_.px(gap), top, wide, bottom - top - theme_.px(gap)));
  return bottom;
}

int BoardDrawing::arrange_free_pins(int top) {
  const int edge = controller_.right();
  QStringList reading, interrupting, others;
  for (const FreePin& pin : map_.free_pins)
    (pin.reads_volts ? reading : pin.interrupts ? interrupting : others) << text_of(pin.name);
  QStringList free;
  const auto add = [&free](const QStringList& pins, const QString& words) {
    if (!pins.isEmpty()) free << pins.join(QStringLiteral(", ")) + words;
  };
  add(reading, tr(" (to read a voltage)"));
  add(interrupting, tr(" (can interrupt)"));
  add(others, {});
  free_pins_ = free.isEmpty() ? QString() : tr("Free: %1").arg(free.join(QStringLiteral("; ")));
  const QFontMetrics metrics(theme_.font(Face::small));
  free_place_ =
      metrics.boundingRect(QRect(edge + theme_.px(24), top, width() - edge - theme_.px(24) - 2, 10 * line_high()),
                           Qt::TextWordWrap, free_pins_);
  if (free_pins_.isEmpty()) return top;
  add_wire(QLine(edge, top + line_high() / 2, edge + theme_.px(12), top + line_high() / 2), false);
  return top + free_place_.height() + theme_.px(gap);
}

void BoardDrawing::arrange() {
  plates_.clear(), wires_.clear(), pins_.clear();
  const int controller_top = arrange_rails() + theme_.px(12);
  controller_ = QRect(0, controller_top, theme_.column_px(controller_wide), 0);
  int top = arrange_head(controller_top + theme_.px(gap));
  for (const BoardLine& line : map_.lines) {
    const bool is_converter = line.thing && line.thing->kind == ThingKind::converter;
    const int first = top;
    top = line.thing && !is_converter ? arrange_bus(line, top) : arrange_inputs(line, top);
    if (is_converter) top = arrange_converter(line, first, top);
    top += theme_.px(4);
  }
  top = arrange_free_pins(top);
  const bool any = !map_.lines.empty() || !head_.isEmpty() || !free_pins_.isEmpty();
  controller_.setHeight(any ? std::max(top, controller_top + 3 * line_high()) - controller_top : 0);
  std::ranges::stable_sort(plates_, {},
                           [](const Plate& plate) { return std::pair(plate.box.top(), plate.box.left()); });
  int bottom = any ? controller_.bottom() + 2 : top;
  if (plates_.empty()) bottom = 6 * line_high();
  if (high_ != bottom) high_ = bottom, updateGeometry();
}

void BoardDrawing::resizeEvent(QResizeEvent* event) {
  QWidget::resizeEvent(event);
  arrange();
}

QRect BoardDrawing::place_of(const Thing& thing) const {
  const auto found = std::ranges::find(plates_, thing, &Plate::thing);
  return found == plates_.end() ? QRect() : found->box;
}

void BoardDrawing::paintEvent(QPaintEvent*) {
  QPainter painter(this);
  painter.setRenderHint(QPainter::Antialiasing);
  const Colours& colours = theme_.colours();
  const QFontMetrics strong(theme_.font(Face::strong)), small(theme_.font(Face::small));
  if (controller_.height() > 0) {
    painter.setPen(QPen(colours.second, 1.6));
    painter.setBrush(colours.shade);
    painter.drawRoundedRect(QRectF(controller_).adjusted(1, 1, -1, -1), 6, 6);
    painter.setFont(theme_.font(Face::small));
    painter.setPen(colours.ink);
    painter.drawText(controller_.adjusted(theme_.px(gap), theme_.px(gap), -theme_.px(gap), 0), Qt::TextWordWrap,
                     in_own_marks(head_));
  }
  for (const Wire& wire : wires_) {
    painter.setPen(
        QPen(wire.is_shared ? colours.second : colours.ink, wire.is_shared ? 3 : 1.4, Qt::SolidLine, Qt::FlatCap));
    painter.drawLine(wire.line);
    if (wire.words.isEmpty()) continue;
    painter.setFont(theme_.font(Face::small));
    painter.setPen(colours.quiet);
    const int left = wire.line.x1() + theme_.px(6), wide = wire.line.x2() - left - theme_.px(4);
    painter.drawText(QRect(left, wire.line.y1() - small.height() - 2, wide, small.height()), Qt::AlignLeft,
                     small.elidedText(wire.words, Qt::ElideRight, wide));
  }
  for (const PinName& pin : pins_) {
    painter.setFont(theme_.font(Face::code));
    painter.setPen(colours.ink);
    painter.drawText(pin.box, Qt::AlignRight | Qt::AlignVCenter,
                     QFontMetrics(painter.font()).elidedText(pin.words, Qt::ElideMiddle, pin.box.width()));
  }
  painter.setFont(theme_.font(Face::small));
  painter.setPen(colours.quiet);
  painter.drawText(free_place_, Qt::TextWordWrap, free_pins_);
  if (plates_.empty()) {
    painter.setPen(colours.quiet);
    painter.drawText(rect().adjusted(theme_.px(gap), theme_.px(gap), -theme_.px(gap), 0), Qt::TextWordWrap,
                     tr("Nothing is on the bench yet. What you add is drawn here: supplies across the top, the "
                        "controller with its pins, and what hangs on them."));
  }
  for (const Plate& plate : plates_) {
    const bool is_chosen = chosen_ == plate.thing;
    const bool is_rail = plate.thing.kind == ThingKind::rail;
    const QRectF box = QRectF(plate.box).adjusted(1, 1, -1, -1);
    painter.setPen(is_chosen ? QPen(colours.accent, hasFocus() ? 3 : 2) : QPen(colours.rule, 1.2));
    painter.setBrush(is_chosen ? colours.tint : colours.sheet);
    if (is_rail && !is_chosen)
      painter.setPen(Qt::NoPen), painter.setBrush(Qt::NoBrush);
    else if (is_rail && is_chosen && !hasFocus())
      painter.setPen(Qt::NoPen);
    painter.drawRoundedRect(box, 4, 4);
    const QRect inside = plate.box.adjusted(theme_.px(8), 0, -theme_.px(8), 0);
    const int volts = plate.supply.isEmpty() ? 0 : small.horizontalAdvance(plate.supply) + theme_.px(8);
    painter.setFont(theme_.font(Face::small));
    painter.setPen(plate.starved ? colours.red : colours.quiet);
    if (volts > 0) {
      const QString words = in_own_marks(plate.supply);
      painter.drawText(is_rail ? inside : inside.adjusted(0, 3, 0, 0),
                       static_cast<int>((Qt::AlignRight | (is_rail ? Qt::AlignVCenter : Qt::AlignTop)).toInt()), words);
    }
    painter.setFont(theme_.font(Face::strong));
    painter.setPen(colours.ink);
    if (is_rail) {
      const int wide = strong.horizontalAdvance(plate.name);
      painter.drawText(inside, Qt::AlignLeft | Qt::AlignVCenter, plate.name);
      const int y = plate.box.center().y();
      painter.setPen(QPen(colours.second, 2.4));
      painter.drawLine(inside.left() + wide + theme_.px(12), y, inside.right() - volts - theme_.px(4), y);
      continue;
    }
    const bool in_controller = plate.thing.kind == ThingKind::converter && controller_.contains(plate.box);
    if (in_controller) {
      painter.setFont(theme_.font(Face::small));
      const QRect words = inside.adjusted(0, 4, 0, -4);
      QRect used;
      painter.drawText(words, Qt::TextWordWrap, in_own_marks(plate.name), &used);
      painter.setPen(colours.quiet);
      painter.drawText(words.adjusted(0, used.height() + 2, 0, 0), Qt::TextWordWrap, in_own_marks(plate.what));
      continue;
    }
    painter.drawText(QRect(inside.left(), plate.box.top() + 3, inside.width() - volts, strong.height()), Qt::AlignLeft,
                     strong.elidedText(in_own_marks(plate.name), Qt::ElideRight, inside.width() - volts));
    painter.setFont(theme_.font(Face::small));
    painter.setPen(plate.starved ? colours.red : colours.quiet);
    painter.drawText(QRect(inside.left(), plate.box.top() + 3 + strong.height(), inside.width(), small.height()),
                     Qt::AlignLeft, small.elidedText(in_own_marks(plate.what), Qt::ElideRight, inside.width()));
  }
}

const BoardDrawing::Plate* BoardDrawing::plate_at(QPoint at) const {
  const auto found = std::ranges::find_if(plates_, [&](const Plate& plate) { return plate.box.contains(at); });
  return found == plates_.end() ? nullptr : &*found;
}

void BoardDrawing::mousePressEvent(QMouseEvent* event) {
  if (const Plate* plate = plate_at(event->pos())) emit chosen(Thing(plate->thing));
}

void BoardDrawing::mouseMoveEvent(QMouseEvent* event) {
  setCursor(plate_at(event->pos()) ? Qt::PointingHandCursor : Qt::ArrowCursor);
}

// To the next or last thing in reading order.
void BoardDrawing::step(int by) {
  if (plates_.empty()) return;
  std::vector<Thing> things;  // each once, wherever else it is drawn
  for (const Plate& plate : plates_)
    if (!plate.again) things.push_back(plate.thing);
  const auto now = chosen_ ? std::ranges::find(things, *chosen_) : things.end();
  const auto count = static_cast<std::ptrdiff_t>(things.size());
  const auto to = now == things.end() ? 0 : std::clamp<std::ptrdiff_t>(now - things.begin() + by, 0, count - 1);
  emit chosen(Thing(things[static_cast<std::size_t>(to)]));
}

void BoardDrawing::keyPressEvent(QKeyEvent* event) {
  switch (event->key()) {
    case Qt::Key_Up:
    case Qt::Key_Left: return step(-1);
    case Qt::Key_Down:
    case Qt::Key_Right: return step(1);
    case Qt::Key_Home: return step(-static_cast<int>(plates_.size()));
    case Qt::Key_End: return step(static_cast<int>(plates_.size()));
    default: QWidget::keyPressEvent(event);
  }
}

bool BoardDrawing::event(QEvent* event) {
  if (event->type() != QEvent::ToolTip) return QWidget::event(event);
  const auto* help = static_cast<QHelpEvent*>(event);
  if (const Plate* plate = plate_at(help->pos()))
    QToolTip::showText(help->globalPos(), plate->tip, this);
  else
    QToolTip::hideText();
  return true;
}

}  // namespace fair_gauge::app

#include "moc_board_drawing.cpp"
