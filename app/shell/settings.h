// What a person sets for this machine rather than for a bench, and the window that sets it.
#pragma once

#include <QDialog>

#include "shell/workbench.h"
#include "widgets/form.h"

namespace fair_gauge::app {

enum class Paper { as_desktop, light, dark };
enum class DecimalMark { as_language, point, comma };

/// Kept from one start to the next; what is missing or damaged reads as below.
struct Settings {
  Paper paper = Paper::as_desktop;
  DecimalMark decimal_mark = DecimalMark::as_language;
  double text_scale = 1;    ///< 0.8…2
  int line_speed = 115200;  ///< baud, what a serial line is first tried at
  QString language;         ///< code; empty → as the system's, "en" → English.
  std::string temperature;  ///< UCUM code of the unit of new channels; empty → as proposed
  std::string pressure;     ///< the same

  static Settings read();
  void write() const;

  /// The paper, with the desktop's own where that is wanted.
  Theme::Tone tone() const;
  /// How numbers are written from here on.
  void set_locale() const;
  /// The units of channels that were just made, where what is measured has one that is preferred.
  void prefer_units(Bench& bench, const std::vector<std::string>& channels) const;
};

/// Changes are in force, and kept, at once.
class SettingsWindow : public QDialog {
  Q_OBJECT
 public:
  SettingsWindow(Theme& theme, Workbench& workbench, QWidget* parent);
  /// Gives the keys to the box of languages, from which they were taken.
  void return_to_language() { language_->setFocus(); }

 signals:
  /// Another language is in force from now on.
  void language_chosen();

 private:
  void change(const std::function<void(Settings&)>& change);
  void add_folder(QGridLayout& rows, const QString& what, const QString& folder);
  void show_settings();

  Theme& theme_;
  Workbench& workbench_;
  QComboBox *paper_, *text_size_, *language_, *decimal_mark_, *temperature_, *pressure_, *line_speed_;
};

}  // namespace fair_gauge::app
