#include "sources/sources_beside.h"

#include <QFileInfo>
#include <algorithm>

#include "sources/file_source.h"
#include "sources/serial_source.h"

namespace fair_gauge::app {

bool SourcesBeside::is_file(const QString& path) { return QFileInfo(path.trimmed()).isFile(); }

std::unique_ptr<LiveSource> SourcesBeside::source_of(const QString& path, int baud) {
  if (is_file(path)) return std::make_unique<FileSource>(path.trimmed());
  auto line = std::make_unique<SerialSource>();
  line->set_line(path, baud);
  return line;
}

QString SourcesBeside::add(const QString& path, int baud, const QString& prefix) {
  if (path.trimmed().isEmpty()) return tr("No line is named: type its path, such as /dev/ttyUSB1, or that of a file.");
  if (entries_.size() >= most) return tr("%1 sources are the most.").arg(most);
  if (prefix.contains(QLatin1Char(' ')) || prefix.size() > 40)
    return tr("\"%1\" cannot stand before a name: 40 characters at most, no space.").arg(prefix);
  const QString canonical = QFileInfo(path.trimmed()).canonicalFilePath();
  if (std::ranges::any_of(entries_, [&](const Entry& each) {
        return each.path == path.trimmed() ||
               (!canonical.isEmpty() && QFileInfo(each.path).canonicalFilePath() == canonical);
      }))
    return tr("%1 is listened to already.").arg(path.trimmed());
  entries_.push_back({path.trimmed(), prefix, baud, source_of(path.trimmed(), baud)});
  LiveSource* source = entries_.back().source.get();
  connect(source, &LiveSource::line_came, this, [this, prefix](const SerialLine& line, double age_s) {
    SerialLine named = line;
    for (RawItem& item : named.items) item.name = prefix.toStdString() + item.name;
    emit line_came(named, age_s);
  });
  connect(source, &LiveSource::state_changed, this, &SourcesBeside::changed);
  source->start();
  emit changed();
  return {};
}

void SourcesBeside::remove(std::size_t which) {
  if (which >= entries_.size()) return;
  const std::unique_ptr<LiveSource> gone = std::move(entries_[which].source);
  entries_.erase(entries_.begin() + static_cast<std::ptrdiff_t>(which));
  gone->disconnect(this);
  gone->stop();
  emit changed();
}

bool SourcesBeside::is_any_running() const {
  return std::ranges::any_of(entries_, [](const Entry& each) { return each.source->state() == LineState::running; });
}

}  // namespace fair_gauge::app

#include "moc_sources_beside.cpp"
