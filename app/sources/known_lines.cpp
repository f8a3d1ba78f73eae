#include "sources/known_lines.h"

#include <QSettings>
#include <QStringList>

namespace fair_gauge::app {
namespace {

constexpr QLatin1String beside_word("beside");

QString key_of(const QString& bench) {
  return QStringLiteral("lines/") + QString::fromLatin1(bench.toUtf8().toBase64(QByteArray::Base64UrlEncoding));
}

}  // namespace

std::vector<KnownLine> known_lines(const QString& bench) {
  std::vector<KnownLine> lines;
  for (const QString& kept : QSettings().value(key_of(bench)).toStringList()) {
    const QStringList words = kept.split(QLatin1Char('\t'));
    if (words.size() == 4 && !words[0].isEmpty() && words[1].toInt() > 0)
      lines.push_back({words[0], words[1].toInt(), words[2] == beside_word, words[3]});
  }
  return lines;
}

void keep_lines(const QString& bench, const std::vector<KnownLine>& lines) {
  QStringList kept;
  for (const KnownLine& line : lines)
    kept << QStringList{line.path, QString::number(line.baud), line.is_beside ? QString(beside_word) : QString(),
                        line.prefix}
                .join(QLatin1Char('\t'));
  QSettings().setValue(key_of(bench), kept);
}

}  // namespace fair_gauge::app
