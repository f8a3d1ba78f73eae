#include "shell/settings.h"

#include <QDesktopServices>
#include <QDir>
#include <QGuiApplication>
#include <QLocale>
#include <QPushButton>
#include <QSettings>
#include <QUrl>
#include <algorithm>
#include <cmath>

#include "language/translation.h"
#include "shell/document.h"
#include "shell/language.h"
#include "sources/serial_source.h"

namespace fair_gauge::app {
namespace {

constexpr double text_scales[] = {0.875, 1, 1.125, 1.25, 1.5, 1.75, 2};

// Of an enum as its number, of what was written by hand or by another version the first.
template <class Enum>
Enum choice_of(const QSettings& settings, const char* key, Enum last) {
  const int number = settings.value(QLatin1String(key), 0).toInt();
  return number >= 0 && number <= static_cast<int>(last) ? static_cast<Enum>(number) : Enum{};
}

std::string unit_of(const QSettings& settings, const char* key, Dimension dimension) {
  const std::string code = settings.value(QLatin1String(key)).toString().toStdString();
  const Unit* unit = unit_by_ucum(code);
  return unit && unit->dimension == dimension ? code : std::string();
}

std::vector<const Unit*> units_of(Dimension dimension) {
  std::vector<const Unit*> units;
  for (const Unit& unit : all_units())
    if (unit.dimension == dimension) units.push_back(&unit);
  return units;
}

QStringList names_of(Dimension dimension) {
  QStringList names{QObject::tr("as the part or the line has it")};
  for (const Unit* unit : units_of(dimension)) names << text_of(unit->symbol);
  return names;
}

// What the desktop gave before the program put its own colours in place.
bool desktop_is_dark() {
  static const bool is_dark = QGuiApplication::palette().color(QPalette::Window).lightness() < 128;
  return is_dark;
}

}  // namespace

Settings Settings::read() {
  const QSettings kept;
  Settings settings;
  if (kept.contains(QLatin1String("paper")))
    settings.paper = choice_of(kept, "paper", Paper::dark);
  else if (kept.contains(QLatin1String("dark")))  // as earlier versions kept it
    settings.paper = kept.value(QLatin1String("dark")).toBool() ? Paper::dark : Paper::light;
  settings.decimal_mark = choice_of(kept, "decimal_mark", DecimalMark::comma);
  settings.language = kept.value(QLatin1String("language")).toString();
  const double scale = kept.value(QLatin1String("text_scale"), 1.0).toDouble();
  settings.text_scale = std::isfinite(scale) && scale >= 0.8 && scale <= 2 ? scale : 1;
  const int speed = kept.value(QLatin1String("line_speed"), settings.line_speed).toInt();
  if (SerialSource::usual_speeds().contains(speed)) settings.line_speed = speed;
  settings.temperature = unit_of(kept, "temperature_unit", Dimension::temperature);
  settings.pressure = unit_of(kept, "pressure_unit", Dimension::pressure);
  return settings;
}

void Settings::write() const {
  QSettings kept;
  kept.setValue(QLatin1String("paper"), static_cast<int>(paper));
  kept.setValue(QLatin1String("decimal_mark"), static_cast<int>(decimal_mark));
  kept.setValue(QLatin1String("language"), language);
  kept.setValue(QLatin1String("text_scale"), text_scale);
  kept.setValue(QLatin1String("line_speed"), line_speed);
  kept.setValue(QLatin1String("temperature_unit"), QString::fromStdString(temperature));
  kept.setValue(QLatin1String("pressure_unit"), QString::fromStdString(pressure));
}

Theme::Tone Settings::tone() const {
  const bool is_dark = paper == Paper::as_desktop ? desktop_is_dark() : paper == Paper::dark;
  return is_dark ? Theme::Tone::dark : Theme::Tone::light;
}

// Months and days in the language, numbers as a place writes them that has this mark.
void Settings::set_locale() const {
  const QLocale spoken(language_meant(language));
  if (decimal_mark == DecimalMark::as_language)
    return QLocale::setDefault(language.isEmpty() ? QLocale::system() : spoken);
  const QString mark = QString(QLatin1Char(decimal_mark == DecimalMark::comma ? ',' : '.'));
  for (const QLocale& place : QLocale::matchingLocales(spoken.language(), QLocale::AnyScript, QLocale::AnyCountry))
    if (place.decimalPoint() == mark) return QLocale::setDefault(place);
}

void Settings::prefer_units(Bench& bench, const std::vector<std::string>& channels) const {
  for (const std::string& id : channels) {
    Channel* channel = find_by_id(bench.channels, id);
    if (!channel || channel->arrives) continue;
    const Dimension dimension = dimension_of(channel->quantity);
    const std::string& wanted = dimension == Dimension::temperature ? temperature
                                : dimension == Dimension::pressure  ? pressure
                                                                    : channel->unit;
    if (!wanted.empty()) channel->unit = wanted;
  }
}

SettingsWindow::SettingsWindow(Theme& theme, Workbench& workbench, QWidget* parent)
    : QDialog(parent), theme_(theme), workbench_(workbench) {
  setObjectName(QStringLiteral("settings"));
  setWindowTitle(tr("Settings"));
  auto* form = new Form(theme);
  form->add_heading(tr("TO LOOK AT"));
  paper_ = form->add_choice(
      tr("paper"), tr("Ctrl+D changes it too"), {tr("as the desktop"), tr("light"), tr("dark")}, "settings_paper",
      [this](int index) { change([&](Settings& settings) { settings.paper = static_cast<Paper>(index); }); });
  QStringList sizes;
  for (const double scale : text_scales) sizes << tr("%1 %").arg(std::floor(scale * 100));
  text_size_ = form->add_choice(
      tr("size of the text"), tr("Ctrl++ and Ctrl+- change it too"), sizes, "settings_text_size",
      [this](int index) { change([&](Settings& settings) { settings.text_scale = text_scales[index]; }); });
  QStringList languages{tr("as the system's"), QStringLiteral("English")};
  for (const QString& code : translated_languages()) languages << QLocale(code).nativeLanguageName();
  language_ = form->add_choice(tr("language"), tr("The command line is English"), languages, "settings_language",
                               [this](int index) {
                                 change([&](Settings& settings) {
                                   settings.language = index == 0   ? QString()
                                                       : index == 1 ? QStringLiteral("en")
                                                                    : translated_languages().value(index - 2);
                                 });
                               });
  form->add_heading(tr("NUMBERS AND UNITS"));
  decimal_mark_ =
      form->add_choice(tr("decimal mark"),
                       tr("Of numbers that are shown. Both marks are understood where you type, whatever stands here."),
                       {tr("as the system's language"), tr("point: 24.8"), tr("comma: 24,8")}, "settings_decimal_mark",
                       [this](int index) {
                         change([&](Settings& settings) { settings.decimal_mark = static_cast<DecimalMark>(index); });
                       });
  temperature_ = form->add_choice(
      tr("new temperatures in"), tr("Channels that are there keep their unit: change it at Shown, in the strip"),
      names_of(Dimension::temperature), "settings_temperature", [this](int index) {
        change([&](Settings& settings) {
          settings.temperature =
              index == 0 ? "" : units_of(Dimension::temperature)[static_cast<std::size_t>(index - 1)]->ucum;
        });
      });
  pressure_ = form->add_choice(
      tr("new pressures in"), tr("Channels that are there keep their unit: change it at Shown, in the strip"),
      names_of(Dimension::pressure), "settings_pressure", [this](int index) {
        change([&](Settings& settings) {
          settings.pressure =
              index == 0 ? "" : units_of(Dimension::pressure)[static_cast<std::size_t>(index - 1)]->ucum;
        });
      });
  form->add_heading(tr("LISTENING"));
  QStringList speeds;
  for (const int speed : SerialSource::usual_speeds()) speeds << tr("%1 baud").arg(speed);
  line_speed_ = form->add_choice(
      tr("usual speed of a line"), tr("What Read, Line begins with"), speeds, "settings_line_speed", [this](int index) {
        change([&](Settings& settings) { settings.line_speed = SerialSource::usual_speeds()[index]; });
      });
  auto* folders = new QGridLayout;
  folders->setHorizontalSpacing(8);
  folders->setVerticalSpacing(4);
  folders->setColumnStretch(1, 1);
  folders->addWidget(new Text(theme, Face::label, tr("WHERE YOUR THINGS ARE"), Tint::quiet), 0, 0, 1, 3);
  add_folder(*folders, tr("own parts"), text_of(user_parts_folder()));
  add_folder(*folders, tr("own boards"), text_of(data_folders("boards").back()));
  add_folder(*folders, tr("kept aside until saved"), Document::autosave_folder());
  auto* close = new QPushButton(tr("Close"));
  close->setProperty("primary", true);
  connect(close, &QPushButton::clicked, this, &QDialog::accept);
  auto* all = column(12);
  all->setContentsMargins(24, 20, 24, 20);
  all->addWidget(form);
  all->addLayout(folders);
  all->addWidget(new Text(theme, Face::small, tr("Changes are in force at once, on this machine."), Tint::quiet));
  all->addStretch();
  all->addWidget(close, 0, Qt::AlignRight);
  setLayout(all);
  setMinimumWidth(theme.px(460));
  connect(&theme, &Theme::changed, this, &SettingsWindow::show_settings);
  show_settings();
}

void SettingsWindow::add_folder(QGridLayout& rows, const QString& what, const QString& folder) {
  auto* words = new Text(theme_, Face::small, what);
  auto* path = new Text(theme_, Face::small, {}, Tint::quiet);
  path->set_verbatim(QDir(folder).path().replace(QDir::homePath(), QStringLiteral("~")));
  path->let_select();
  path->setWordWrap(true);
  auto* open = new QPushButton(tr("Open"));
  open->setAccessibleName(tr("Open the folder of %1").arg(what));
  open->setToolTip(folder);
  connect(open, &QPushButton::clicked, this, [folder] {
    QDir().mkpath(folder);
    QDesktopServices::openUrl(QUrl::fromLocalFile(folder));
  });
  const int row = rows.rowCount();
  rows.addWidget(words, row, 0);
  rows.addWidget(path, row, 1);
  rows.addWidget(open, row, 2);
}

void SettingsWindow::change(const std::function<void(Settings&)>& change) {
  Settings settings = Settings::read();
  settings.text_scale = theme_.text_scale();
  const Settings before = settings;
  change(settings);
  settings.write();
  const bool speaks_other =
      settings.language != before.language && language_meant(settings.language).toStdString() != language_in_use();
  if (speaks_other) {
    use_language(settings.language);
    install_window_texts(settings.language);
    emit language_chosen();
  }
  if (settings.decimal_mark != before.decimal_mark || speaks_other) {
    settings.set_locale();
    workbench_.take_up_locale();
  }
  theme_.set(settings.tone(), settings.text_scale);
  show_settings();
}

void SettingsWindow::show_settings() {
  const Settings settings = Settings::read();
  paper_->setCurrentIndex(static_cast<int>(settings.paper));
  const auto near =
      std::ranges::min_element(text_scales, {}, [this](double scale) { return std::abs(scale - theme_.text_scale()); });
  text_size_->setCurrentIndex(static_cast<int>(near - std::begin(text_scales)));
  decimal_mark_->setCurrentIndex(static_cast<int>(settings.decimal_mark));
  const auto place = [](Dimension dimension, const std::string& ucum) {
    const auto units = units_of(dimension);
    const auto found = std::ranges::find(units, ucum, &Unit::ucum);
    return ucum.empty() || found == units.end() ? 0 : static_cast<int>(found - units.begin()) + 1;
  };
  const auto known = translated_languages().indexOf(settings.language);
  language_->setCurrentIndex(known >= 0 ? static_cast<int>(known) + 2 : settings.language.isEmpty() ? 0 : 1);
  temperature_->setCurrentIndex(place(Dimension::temperature, settings.temperature));
  pressure_->setCurrentIndex(place(Dimension::pressure, settings.pressure));
  line_speed_->setCurrentIndex(static_cast<int>(SerialSource::usual_speeds().indexOf(settings.line_speed)));
}

}  // namespace fair_gauge::app

#include "moc_settings.cpp"
