#include "widgets/theme.h"

#include <QApplication>
#include <QEvent>
#include <QFile>
#include <QFontDatabase>
#include <QRegularExpression>
#include <QWidget>

#include <algorithm>
#include <cmath>

namespace fair_gauge::app {
namespace {

const Colours light{.paper = "#f6f1e7",
                    .sheet = "#fdfbf5",
                    .shade = "#ece4d3",
                    .rule = "#ddd3bf",
                    .ink = "#1f2627",
                    .quiet = "#5f6361",
                    .accent = "#17655b",
                    .tint = "#e2ece4",
                    .second = "#3f4a8a",
                    .amber = "#96570a",
                    .red = "#a2342a",
                    .bar = "#1e2627",
                    .bar_ink = "#efe9dc",
                    .on_accent = "#ffffff"};
const Colours dark{.paper = "#14181a",
                   .sheet = "#1c2224",
                   .shade = "#262d2f",
                   .rule = "#343c3e",
                   .ink = "#ece6d8",
                   .quiet = "#a3a79f",
                   .accent = "#62c2ae",
                   .tint = "#1b2f2d",
                   .second = "#a3aef0",
                   .amber = "#e0a04a",
                   .red = "#f08a7c",
                   .bar = "#0c0f10",
                   .bar_ink = "#ece6d8",
                   .on_accent = "#0d1514"};

constexpr const char* text_family = "Gauge";
constexpr const char* number_family = "Gauge Numerals";

const char* const sheet_template = R"(
* { outline: none; }
QDialog, #page, #shelf, #margin, QScrollArea, QScrollArea > QWidget > QWidget { background: @paper; }
QLabel, QCheckBox { background: transparent; }
#tape, #card { background: @sheet; }
#topbar { background: @bar; }
#topbar QPushButton { color: @bar_ink; background: transparent; border: none; border-radius: @4; padding: @8 @12; text-align: center; }
#topbar QPushButton[tight="true"] { padding: @8 @4; }
#topbar QPushButton:hover { background: rgba(255,255,255,28); }
#topbar QPushButton:checked { background: @paper; color: @ink; }
#topbar QPushButton:focus { border: 1px solid @bar_ink; padding: @7 @11; }
#topbar QPushButton:checked:focus { border: 2px solid @quiet; padding: @6 @10; }
#topbar QPushButton[tight="true"]:focus { padding: @7 @3; }
#topbar QPushButton[tight="true"]:checked:focus { padding: @6 @2; }
QLineEdit, QPlainTextEdit, QComboBox { background: @sheet; border: 1px solid @rule; border-radius: @4; padding: @4 @8; selection-background-color: @accent; selection-color: @on_accent; }
QLineEdit[flat="true"] { background: transparent; border: none; border-bottom: 1px dashed @accent; border-radius: 0; padding: 0; color: @accent; }
QLineEdit:hover, QComboBox:hover { border-color: @quiet; }
QLineEdit:focus, QPlainTextEdit:focus, QComboBox:focus { border: 1px solid @accent; }
QLineEdit[faulty="true"] { border: 1px solid @red; }
QLineEdit:disabled, QComboBox:disabled { color: @quiet; }
QComboBox { min-width: @40; }
QComboBox::drop-down { border: none; width: @20; }
QComboBox::down-arrow { image: url(:/icons/down-@tone.svg); width: @12; height: @12; }
QComboBox QAbstractItemView { background: @sheet; border: 1px solid @rule; selection-background-color: @tint; selection-color: @ink; padding: @4; }
QCheckBox { spacing: @8; }
QCheckBox::indicator, QTableView::indicator { width: @16; height: @16; border: 1px solid @quiet; border-radius: @4; background: @sheet; }
QCheckBox::indicator:checked, QTableView::indicator:checked { background: @accent; border-color: @accent; image: url(:/icons/tick-@tone.svg); }
QCheckBox::indicator:disabled { border-color: @rule; background: transparent; }
QCheckBox::indicator:focus, QCheckBox::indicator:hover { border-color: @accent; }
QCheckBox:focus { border-bottom: 1px solid @accent; }
QPushButton { background: @sheet; border: 1px solid @rule; border-radius: @4; padding: @8 @16; }
QPushButton:hover { border-color: @accent; }
QPushButton:focus { border: 1px solid @accent; }
QPushButton[primary="true"] { background: @accent; color: @on_accent; border: 2px solid @accent; padding: @7 @15; }
QPushButton[primary="true"]:focus { border: 2px solid @on_accent; }
QPushButton[tab="true"] { background: transparent; border: 1px solid transparent; border-bottom: 2px solid transparent; border-radius: 0; padding: @4 @tab; color: @quiet; }
QPushButton[tab="true"]:checked { color: @ink; border-bottom: 2px solid @accent; }
QPushButton[tab="true"]:hover { color: @accent; }
QPushButton[tab="true"]:focus { color: @accent; border: 1px solid @accent; border-bottom: 2px solid @accent; }
QPushButton[quiet="true"] { background: transparent; border: 1px solid transparent; color: @accent; padding: @4 @4; text-align: left; }
QPushButton[quiet="true"]:hover { background: @shade; }
QPushButton[quiet="true"]::menu-indicator { image: none; width: 0; }
QPushButton[quiet="true"]:focus { border: 1px solid @accent; }
QPushButton:disabled { color: @quiet; border-color: @rule; background: transparent; }
QScrollBar:vertical { background: transparent; width: @8; margin: 0; }
QScrollBar::handle:vertical { background: @rule; border-radius: @4; min-height: @24; }
QScrollBar::add-line, QScrollBar::sub-line, QScrollBar::add-page, QScrollBar::sub-page { background: transparent; height: 0; width: 0; }
QToolTip { background: @bar; color: @bar_ink; border: none; padding: @8; }
QMenu { background: @sheet; border: 1px solid @rule; padding: @4; }
QMenu::item { padding: @8 @24; }
QMenu::item:selected { background: @tint; }
QMenu::item:disabled { color: @quiet; }
QScrollArea { border: 1px solid transparent; }
#page_room { border: none; }
QScrollArea:focus { border: 1px solid @accent; }
QTableWidget { background: transparent; border: 1px solid transparent; gridline-color: @rule; selection-background-color: @tint; selection-color: @ink; }
QTableWidget::item { padding: @4 0; border-bottom: 1px solid @rule; }
QHeaderView::section { background: transparent; color: @quiet; border: none; border-bottom: 1px solid @rule; padding: @4 0 @4 3px; text-align: left; }
QListWidget { background: transparent; border: 1px solid transparent; }
QTableWidget:focus, QListWidget:focus { border: 1px solid @accent; }
QListWidget::item { padding: @8 0; border-bottom: 1px solid @rule; }
QListWidget::item:selected { background: @tint; color: @ink; }
QProgressBar { background: @shade; border: none; border-radius: 2px; }
QProgressBar::chunk { background: @accent; border-radius: 2px; }
#caution { background: @shade; border-radius: @4; }
#banner { background: @tint; border-bottom: 1px solid @rule; }
)";

// Without contextual alternates, by which != becomes one sign and the x of 0x58 a multiplication: their tag is made one
// that nobody asks for. Under names of our own, as long as theirs, or the same faces of the system are taken instead.
bool add_face(const QString& path) {
  const auto in_file = [](const char* name) {
    QByteArray wide;
    for (const char* c = name; *c; ++c) wide.append('\0').append(*c);
    return wide;
  };
  QFile file(path);
  if (!file.open(QIODevice::ReadOnly)) return false;
  QByteArray face = file.readAll().replace("calt", "none");
  face.replace(in_file("Inter"), in_file(text_family)).replace(in_file("JetBrains Mono"), in_file(number_family));
  return QFontDatabase::addApplicationFontFromData(face) >= 0;
}

}  // namespace

Theme::Theme(QObject* parent) : QObject(parent), colours_(light), sheet_(make_sheet()) {}

QStringList Theme::load_faces() {
  static const QStringList missing = [] {  // once: loading a face again makes every later look-up slower
    QStringList files;
    for (const char* file : {"Inter-Regular.otf", "Inter-Medium.otf", "Inter-SemiBold.otf", "JetBrainsMono-Regular.ttf",
                             "JetBrainsMono-Medium.ttf"})
      if (!add_face(QStringLiteral(":/faces/%1").arg(QLatin1String(file)))) files << QLatin1String(file);
    return files;
  }();
  return missing;
}

void Theme::set(Tone tone, double text_scale) {
  text_scale = std::clamp(text_scale, 0.8, 2.0);
  if (generation_ > 0 && tone == tone_ && text_scale == text_scale_) return;
  tone_ = tone;
  text_scale_ = text_scale;
  colours_ = tone == Tone::light ? light : dark;
  QPalette palette;
  palette.setColor(QPalette::Window, colours_.paper);
  palette.setColor(QPalette::Base, colours_.sheet);
  palette.setColor(QPalette::AlternateBase, colours_.shade);
  palette.setColor(QPalette::Text, colours_.ink);
  palette.setColor(QPalette::WindowText, colours_.ink);
  palette.setColor(QPalette::Button, colours_.sheet);
  palette.setColor(QPalette::ButtonText, colours_.ink);
  palette.setColor(QPalette::PlaceholderText, colours_.quiet);
  palette.setColor(QPalette::Highlight, colours_.accent);
  palette.setColor(QPalette::HighlightedText, colours_.on_accent);
  palette.setColor(QPalette::Link, colours_.accent);
  QApplication::setPalette(palette);
  QApplication::setFont(font(Face::text));
  sheet_ = make_sheet();
  ++generation_;
  for (QWidget* part : dressed_)
    if (part->isVisible()) put_sheet(*part);
  emit changed();
}

// The sheet is set on a few large parts, once they are put together: a widget that is built under a sheet has it worked
// out again at every step of its building, and one under two sheets has both worked out.
void Theme::dress(QWidget& part) {
  dressed_.push_back(&part);
  part.installEventFilter(this);
  connect(&part, &QObject::destroyed, this, [this, gone = &part] { std::erase(dressed_, gone); });
  put_sheet(part);
}

void Theme::put_sheet(QWidget& part) {
  part.setProperty("generation", generation_);
  part.setStyleSheet(sheet_);
}

// What was hidden while the tone changed is dressed anew when it is shown.
bool Theme::eventFilter(QObject* object, QEvent* event) {
  if (event->type() == QEvent::Show && object->property("generation").toInt() != generation_)
    put_sheet(*static_cast<QWidget*>(object));
  return QObject::eventFilter(object, event);
}

int Theme::px(int at_normal_size) const { return static_cast<int>(std::lround(at_normal_size * text_scale_)); }

int Theme::column_px(int at_normal_size) const {
  return static_cast<int>(std::lround(at_normal_size * (1 + (text_scale_ - 1) / 2)));
}

QFont Theme::font(Face face) const {
  struct Cut {
    const char* family;
    int pixels;
    QFont::Weight weight;
  };
  const auto cut = [face]() -> Cut {
    switch (face) {
      case Face::text: return {text_family, 13, QFont::Normal};
      case Face::strong: return {text_family, 13, QFont::DemiBold};
      case Face::small: return {text_family, 12, QFont::Normal};
      case Face::label: return {text_family, 11, QFont::DemiBold};
      case Face::title: return {text_family, 17, QFont::DemiBold};
      case Face::number: return {number_family, 15, QFont::Normal};
      case Face::number_small: return {number_family, 13, QFont::Normal};
      case Face::number_large: return {number_family, 20, QFont::Medium};
      case Face::code: return {number_family, 12, QFont::Normal};
      case Face::stage: return {text_family, 12, QFont::Normal};
      case Face::stage_title: return {text_family, 13, QFont::DemiBold};
    }
    return {text_family, 13, QFont::Normal};
  }();
  QFont font{QString::fromLatin1(cut.family)};
  // Seven stages stand beside one another, and a formula is one line: their text grows as columns do.
  const bool in_column =
      face == Face::stage || face == Face::stage_title || face == Face::number_large || face == Face::code;
  font.setPixelSize(in_column ? column_px(cut.pixels) : px(cut.pixels));
  font.setWeight(cut.weight);
  if (face == Face::label) font.setLetterSpacing(QFont::AbsoluteSpacing, 0.4);
  return font;
}

QColor Theme::ink_of(Fairness fairness) const {
  switch (fairness) {
    case Fairness::fair: return colours_.accent;
    case Fairness::tight: return colours_.amber;
    case Fairness::unfair: return colours_.red;
    case Fairness::unknown: return colours_.quiet;
  }
  return colours_.quiet;
}

QString Theme::make_sheet() const {
  QString sheet = QString::fromLatin1(sheet_template);
  const std::pair<const char*, QColor> names[] = {{"@on_accent", colours_.on_accent},
                                                  {"@bar_ink", colours_.bar_ink},
                                                  {"@paper", colours_.paper},
                                                  {"@sheet", colours_.sheet},
                                                  {"@shade", colours_.shade},
                                                  {"@rule", colours_.rule},
                                                  {"@second", colours_.second},
                                                  {"@ink", colours_.ink},
                                                  {"@quiet", colours_.quiet},
                                                  {"@accent", colours_.accent},
                                                  {"@tint", colours_.tint},
                                                  {"@amber", colours_.amber},
                                                  {"@red", colours_.red},
                                                  {"@bar", colours_.bar}};
  for (const auto& [name, colour] : names) sheet.replace(QLatin1String(name), colour.name());
  sheet.replace(QLatin1String("@tab"),
                is_text_huge() ? QStringLiteral("4px") : QStringLiteral("@7"));  // eight in a row
  sheet.replace(QLatin1String("@tone"), tone_ == Tone::light ? QStringLiteral("light") : QStringLiteral("dark"));
  static const QRegularExpression size(QStringLiteral("@(\\d+)"));
  for (auto match = size.match(sheet); match.hasMatch(); match = size.match(sheet, match.capturedEnd()))
    sheet.replace(match.capturedStart(), match.capturedLength(),
                  QStringLiteral("%1px").arg(px(match.captured(1).toInt())));
  return sheet;
}

}  // namespace fair_gauge::app

#include "moc_theme.cpp"
