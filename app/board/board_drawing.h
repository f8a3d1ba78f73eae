// The bench drawn as it hangs together: supplies across the top, the controller with its pins, and what comes out of
// it. Nothing is placed by hand; what is clicked is the chosen thing.
#pragma once

#include <QWidget>
#include <optional>
#include <vector>

#include "shell/workbench.h"
#include "widgets/theme.h"
#include "wiring/board_map.h"

namespace fair_gauge::app {

class BoardDrawing : public QWidget {
  Q_OBJECT
 public:
  BoardDrawing(const Theme& theme, Workbench& workbench, QWidget* parent = nullptr);

  void show_bench(const std::optional<Thing>& chosen);
  /// Where a thing is drawn; an empty one where it is not.
  QRect place_of(const Thing& thing) const;

  QSize sizeHint() const override;
  QSize minimumSizeHint() const override;

 signals:
  void chosen(const fair_gauge::Thing& thing);

 protected:
  void paintEvent(QPaintEvent* event) override;
  void resizeEvent(QResizeEvent* event) override;
  void mousePressEvent(QMouseEvent* event) override;
  void mouseMoveEvent(QMouseEvent* event) override;
  void keyPressEvent(QKeyEvent* event) override;
  bool event(QEvent* event) override;  // hover: the whole of what is cut off

 private:
  // A thing with its name, and under it in quiet ink what it is.
  struct Plate {
    Thing thing;
    QRect box;
    QString name, what, supply;
    bool starved = false;
    QString tip;
    bool again = false;  // it stands elsewhere too: its alert pin
  };
  // A straight piece of wire with what stands on it.
  struct Wire {
    QLine line;
    bool is_shared = false;  // of a bus
    QString words;
  };
  // The name of a pin at the controller's edge.
  struct PinName {
    QRect box;
    QString words;
  };
  void arrange();
  int arrange_rails();
  int arrange_head(int top);
  int arrange_bus(const BoardLine& line, int top);
  int arrange_inputs(const BoardLine& line, int top);
  int arrange_converter(const BoardLine& line, int top, int bottom);
  int arrange_free_pins(int top);
  void add_plate_of(const BoardLine& line, const QRect& box);
  int add_hung(const HungThing& hung, int left, int top);
  void add_wire(const QLine& line, bool is_shared, const QString& words = {});
  void add_pins(const std::vector<std::string>& pins, int middle);
  const Plate* plate_at(QPoint at) const;
  void step(int by);
  QString supply_of(const HungThing& hung) const;
  int line_high() const;
  int plate_high() const;

  const Theme& theme_;
  Workbench& workbench_;
  std::optional<Thing> chosen_;
  BoardMap map_;
  std::vector<Plate> plates_;  // in reading order
  std::vector<Wire> wires_;
  std::vector<PinName> pins_;
  QRect controller_;
  QString head_;  // what the controller is, and what its pins bear
  QString free_pins_;
  QRect free_place_;
  int high_ = 0;
};

}  // namespace fair_gauge::app
