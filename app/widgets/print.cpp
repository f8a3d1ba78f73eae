#include "widgets/print.h"

#include <QApplication>
#include <QPageLayout>
#include <QPdfWriter>
#include <QSaveFile>
#include <QTextDocument>

namespace fair_gauge::app {

QString print_html(const QString& html, const QString& path) {
  QSaveFile file(path);
  if (!file.open(QIODevice::WriteOnly))
    return QCoreApplication::translate("print", "%1 could not be written: %2").arg(path, file.errorString());
  {
    QPdfWriter writer(&file);
    writer.setPageSize(QPageSize(QPageSize::A4));
    writer.setPageMargins(QMarginsF(0, 0, 0, 0), QPageLayout::Millimeter);  // those of the document count
    writer.setResolution(144);
    QTextDocument document;
    document.setDefaultFont(QFont(QApplication::font().family(), 10));
    document.setHtml(html);
    document.print(&writer);
  }
  return file.commit()
             ? QString()
             : QCoreApplication::translate("print", "%1 could not be written: %2").arg(path, file.errorString());
}

}  // namespace fair_gauge::app
