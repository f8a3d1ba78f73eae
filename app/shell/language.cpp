#include "shell/language.h"

#include <QCoreApplication>
#include <QDir>
#include <QLibraryInfo>
#include <QLocale>
#include <QTranslator>

#include "files/file.h"
#include "language/translation.h"
#include "parts/catalogue.h"

namespace fair_gauge::app {
namespace {

constexpr std::size_t largest_bytes = 16u << 20;

QDir folder() { return QDir(QString::fromStdString(data_folder()) + QStringLiteral("/translations")); }

class WindowTexts : public QTranslator {
 public:
  bool isEmpty() const override { return false; }
  QString translate(const char*, const char* text, const char*, int) const override {
    const char* other = translated(text);
    return other == text ? QString() : QString::fromUtf8(other);
  }
};

}  // namespace

QStringList translated_languages() {
  QStringList codes;
  for (const QString& file : folder().entryList({QStringLiteral("*.po")}, QDir::Files, QDir::Name))
    codes << file.section(QLatin1Char('.'), 0, 0);
  return codes;
}

QString language_meant(const QString& code) {
  if (!code.isEmpty()) return code;
  const QString system = QLocale::system().name().section(QLatin1Char('_'), 0, 0);
  return translated_languages().contains(system) ? system : QStringLiteral("en");
}

void use_language(const QString& code) {
  const QString language = language_meant(code);
  std::shared_ptr<const Translation> translation;
  if (translated_languages().contains(language))
    if (const auto text = read_file(folder().filePath(language + QStringLiteral(".po")).toStdString(), largest_bytes))
      translation = std::make_shared<const Translation>(Translation::of_po(*text));
  use_translation(std::move(translation));
}

void install_window_texts(const QString& code) {
  static WindowTexts texts;
  static QTranslator own_of_qt;
  QCoreApplication::removeTranslator(&own_of_qt);
  QCoreApplication::installTranslator(&texts);
  if (own_of_qt.load(QLocale(language_meant(code)), QStringLiteral("qtbase"), QStringLiteral("_"),
                     QLibraryInfo::path(QLibraryInfo::TranslationsPath)))
    QCoreApplication::installTranslator(&own_of_qt);
}

}  // namespace fair_gauge::app
