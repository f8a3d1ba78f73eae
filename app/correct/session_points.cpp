#include "correct/session_points.h"

#include <QDateTime>
#include <QSettings>
#include <cmath>

namespace fair_gauge::app {
namespace {

QString key_of(const Workbench& workbench, const std::string& channel) {
  const QString bench = QString::fromUtf8(QByteArray(const_cast<Workbench&>(workbench).document().path().toUtf8()).toBase64(QByteArray::Base64UrlEncoding));
  return QStringLiteral("points/%1/%2").arg(bench.isEmpty() ? QStringLiteral("new") : bench, QString::fromStdString(channel));
}

}  // namespace

std::vector<RecordedPoint> kept_points(const Workbench& workbench, const std::string& channel) {
  std::vector<RecordedPoint> points;
  const auto document = parse_json(QSettings().value(key_of(workbench, channel)).toString().toStdString(), "");
  std::vector<Problem> problems;
  if (document) JsonReader(*document, problems).read(document->value, points, "");
  return problems.empty() ? points : std::vector<RecordedPoint>{};
}

void keep_points(const Workbench& workbench, const std::string& channel, const std::vector<RecordedPoint>& points) {
  if (points.empty())
    QSettings().remove(key_of(workbench, channel));
  else
    QSettings().setValue(key_of(workbench, channel), QString::fromStdString(to_json_value(points).dump()));
}

std::optional<Chain> uncorrected_chain(const Workbench& workbench, const std::string& channel) {
  Bench bench = workbench.bench();
  if (Channel* each = find_by_id(bench.channels, channel)) each->correction = {};
  auto chain = build_chain(bench, workbench.catalogue(), channel);
  return chain ? std::optional(std::move(*chain)) : std::nullopt;
}

Series live_series(const Workbench& workbench, const std::string& channel) {
  Series series;
  const auto chain = uncorrected_chain(workbench, channel);
  if (!chain) return series;
  for (const Sample& sample : workbench.samples(channel))
    if (const auto reading = read_raw(*chain, sample.raw)) series.seconds.push_back(sample.seconds), series.values.push_back(*reading);
  return series;
}

Series series_of_log(const Workbench& workbench, const std::string& channel, const LogSeries& log) {
  Series series;
  const auto chain = uncorrected_chain(workbench, channel);
  for (std::size_t i = 0; chain && i < log.raw.size(); ++i)
    if (const auto reading = read_raw(*chain, log.raw[i])) series.seconds.push_back(log.seconds[i]), series.values.push_back(*reading);
  return series;
}

std::vector<CalibrationPoint> points_for_fit(const std::vector<RecordedPoint>& points) {
  std::vector<CalibrationPoint> fitted;
  for (const RecordedPoint& point : points) {
    const double scatter = point.readings > 1 ? point.spread / std::sqrt(static_cast<double>(point.readings)) : point.spread;
    fitted.push_back({point.reference, point.reading, point.reference_standard > 0 ? std::hypot(point.reference_standard, scatter) : 0});
  }
  return fitted;
}

int today() { return static_cast<int>(QDate(1970, 1, 1).daysTo(QDate::currentDate())); }
QString now_text() { return QDateTime::currentDateTime().toString(QStringLiteral("yyyy-MM-dd HH:mm")); }

}  // namespace fair_gauge::app
