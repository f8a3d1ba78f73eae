// The circuit of the chosen channel, drawn from its chain: nothing is placed by hand, every value can be typed over.
#pragma once

#include <QWidget>
#include <vector>

#include "widgets/quantity_field.h"
#include "wire/stage_fields.h"

class QPainter;

namespace fair_gauge::app {

class Schematic : public QWidget {
  Q_OBJECT
 public:
  Schematic(const Theme& theme, Workbench& workbench, QWidget* parent = nullptr);

 signals:
  /// How a typed value was understood, or why not.
  void echo_changed(const QString& echo, bool faulty);

 protected:
  void paintEvent(QPaintEvent* event) override;
  void resizeEvent(QResizeEvent* event) override;
  void showEvent(QShowEvent* event) override;
  QSize sizeHint() const override { return {520, 300}; }

 private:
  // A value on the drawing that is a row of a stage's fields.
  struct Value {
    StageName stage;
    FieldRow row;
    QuantityField* field;
    QPointF at;  // of its left middle, in units of the drawing
  };
  struct Drawing;
  void rebuild();
  void refresh();
  void arrange();
  void add_value(StageName stage, const QString& label, QPointF at);
  double unit() const;
  void draw(Drawing& drawing) const;
  void draw_divider(Drawing& drawing) const;
  void draw_source(Drawing& drawing) const;
  void draw_level_divider(Drawing& drawing) const;
  void draw_amplifier(Drawing& drawing) const;
  void draw_transimpedance(Drawing& drawing) const;
  void draw_bus(Drawing& drawing) const;
  void draw_arriving(Drawing& drawing) const;
  void draw_pulse_count(Drawing& drawing) const;
  void draw_to_converter(Drawing& drawing, QPointF from) const;

  const Theme& theme_;
  Workbench& workbench_;
  std::vector<Value> values_;
  std::string built_for_;
};

}  // namespace fair_gauge::app
