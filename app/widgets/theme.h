// Named colours, sizes and faces: the only place where they are literals. Widgets read them and repaint on changed().
#pragma once

#include <QColor>
#include <QFont>
#include <QObject>
#include <QPalette>
#include <vector>

#include "truth/verdict.h"

class QWidget;

namespace fair_gauge::app {

struct Colours {
  QColor paper;   ///< the worktop
  QColor sheet;   ///< cards and fields that lie on it
  QColor shade;   ///< quiet filled areas: cautions, empty bars
  QColor rule;    ///< thin lines
  QColor ink;     ///< text and numbers
  QColor quiet;   ///< captions and units
  QColor accent;  ///< what can be acted upon; fair
  QColor tint;    ///< the wanted range
  QColor second;  ///< a second curve; what is held
  QColor amber;   ///< tight
  QColor red;     ///< unfair, faults
  QColor bar;     ///< the top bar
  QColor bar_ink;
  QColor on_accent;  ///< text on accent
};

enum class Face { text, strong, small, label, title, number, number_small, number_large, code, stage, stage_title };

class Theme : public QObject {
  Q_OBJECT
 public:
  enum class Tone { light, dark };

  explicit Theme(QObject* parent = nullptr);

  const Colours& colours() const { return colours_; }
  Tone tone() const { return tone_; }
  /// The whole window takes it on at once, which takes a few tenths of a second; what is so already costs nothing.
  /// \param text_scale  0.8…2; everything that is text grows with it
  void set(Tone tone, double text_scale);
  void set_tone(Tone tone) { set(tone, text_scale_); }
  void set_text_scale(double scale) { set(tone_, scale); }
  double text_scale() const { return text_scale_; }
  /// So large that a window of 1280×800 has not room for everything at once.
  bool is_text_huge() const { return text_scale_ > 1.6; }
  bool is_text_large() const { return text_scale_ > 1.2; }

  QFont font(Face face) const;
  /// Pixels on the 4 px grid, grown with the text.
  int px(int at_normal_size) const;
  /// Width of a fixed column. Grows half as much as the text, so that columns still fit beside one another.
  int column_px(int at_normal_size) const;
  QColor ink_of(Fairness fairness) const;
  /// Gives a part of the window (a page, a bar, a dialog), once it is built, the style sheet of the application.
  void dress(QWidget& part);

  /// Loads the program's own faces. \returns the families that could not be loaded
  static QStringList load_faces();

 signals:
  void changed();

 private:
  QString make_sheet() const;
  void put_sheet(QWidget& part);
  bool eventFilter(QObject* object, QEvent* event) override;

  Tone tone_ = Tone::light;
  double text_scale_ = 1;
  Colours colours_;
  QString sheet_;
  int generation_ = 0;
  std::vector<QWidget*> dressed_;
};

}  // namespace fair_gauge::app
