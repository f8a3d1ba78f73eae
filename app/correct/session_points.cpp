#include "correct/session_points.h"

#include <QDateTime>
#include <QSettings>

#include "calibrate/apply_correction.h"

namespace fair_gauge::app {
namespace {

QString key_of(const Workbench& workbench, const std::string& channel) {
  const QString bench = QString::fromUtf8(
      QByteArray(const_cast<Workbench&>(workbench).document().path().toUtf8()).toBase64(QByteArray::Base64UrlEncoding));
  return QStringLiteral("points/%1/%2")
      .arg(bench.isEmpty() ? QStringLiteral("new") : bench, QString::fromStdString(channel));
}

}  // namespace

std::vector<RecordedPoint> kept_points(const Workbench& workbench, const std::string& channel) {
  return points_from_text(QSettings().value(key_of(workbench, channel)).toString().toStdString()).value_or({});
}

void keep_points(const Workbench& workbench, const std::string& channel, const std::vector<RecordedPoint>& points) {
  if (points.empty())
    QSettings().remove(key_of(workbench, channel));
  else
    QSettings().setValue(key_of(workbench, channel), QString::fromStdString(points_to_text(points)));
}

Series live_series(const Workbench& workbench, const std::string& channel) {
  Series series;
  const auto chain = uncorrected_chain(workbench.bench(), workbench.catalogue(), channel);
  if (!chain) return series;
  for (const Sample& sample : workbench.samples(channel))
    if (const auto reading = read_raw(*chain, sample.raw))
      series.seconds.push_back(sample.seconds), series.values.push_back(*reading);
  return series;
}

Series series_of_log(const Workbench& workbench, const std::string& channel, const LogSeries& log) {
  Series series;
  const auto chain = uncorrected_chain(workbench.bench(), workbench.catalogue(), channel);
  for (std::size_t i = 0; chain && i < log.raw.size(); ++i)
    if (const auto reading = read_raw(*chain, log.raw[i]))
      series.seconds.push_back(log.seconds[i]), series.values.push_back(*reading);
  return series;
}

int today() { return static_cast<int>(QDate(1970, 1, 1).daysTo(QDate::currentDate())); }
QString now_text() { return QDateTime::currentDateTime().toString(QStringLiteral("yyyy-MM-dd HH:mm")); }

}  // namespace fair_gauge::app
