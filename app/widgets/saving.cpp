#include "widgets/saving.h"

#include <QFileInfo>
#include <QRegularExpression>
#include <algorithm>

namespace fair_gauge::app {
namespace {

// "PDF (*.pdf)" → "pdf"
QString suffix_of(const QString& kind) {
  return kind.section(QStringLiteral("(*."), 1).section(QLatin1Char(')'), 0, 0);
}

}  // namespace

QString ask_where_to_save(QWidget* parent, const QString& title, const QString& name, const QStringList& kinds,
                          QFileDialog::Options options) {
  QFileDialog dialog(parent, title, {}, kinds.join(QStringLiteral(";;")));
  dialog.setObjectName(QStringLiteral("where_to_save"));
  dialog.setAcceptMode(QFileDialog::AcceptSave);
  dialog.setOptions(options);
  dialog.setDefaultSuffix(suffix_of(kinds.front()));
  QObject::connect(&dialog, &QFileDialog::filterSelected, &dialog,
                   [&dialog](const QString& kind) { dialog.setDefaultSuffix(suffix_of(kind)); });
  static const QRegularExpression other(QStringLiteral("[^\\w.-]+"), QRegularExpression::UseUnicodePropertiesOption);
  dialog.selectFile(QString(name).replace(other, QStringLiteral("-")));
  while (dialog.exec() == QDialog::Accepted && !dialog.selectedFiles().isEmpty()) {
    QString path = dialog.selectedFiles().constFirst();
    const bool named = std::ranges::any_of(kinds, [&](const QString& kind) {
      return path.endsWith(QLatin1Char('.') + suffix_of(kind), Qt::CaseInsensitive);
    });
    if (named) return path;
    // A dot inside the name is no suffix of ours; the whole name is asked about once more where it is taken.
    QString whole = path + QLatin1Char('.') + dialog.defaultSuffix();
    if (options.testFlag(QFileDialog::DontConfirmOverwrite) || !QFileInfo::exists(whole)) return whole;
    dialog.selectFile(whole);
  }
  return {};
}

}  // namespace fair_gauge::app
