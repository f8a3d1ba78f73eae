#include "sources/file_source.h"

#include <QFileInfo>

namespace fair_gauge::app {
namespace {

constexpr int look_ms = 200;
constexpr qint64 most_at_once = 256 << 10, longest_line = 1 << 20;

}  // namespace

FileSource::FileSource(QString path, QObject* parent) : LiveSource(parent), path_(std::move(path)) {
  timer_.setInterval(look_ms);
  connect(&timer_, &QTimer::timeout, this, &FileSource::look);
}

void FileSource::start() {
  set_state(LineState::opening, tr("Opening %1 …").arg(path_));
  open(false);
  timer_.start();
}

void FileSource::stop() {
  timer_.stop();
  file_.close();
  set_state(LineState::stopped, tr("Nothing is connected"));
}

bool FileSource::open(bool from_beginning) {
  file_.close();
  file_.setFileName(path_);
  text_ = SerialText(true);
  if (!file_.open(QIODevice::ReadOnly)) {
    set_state(LineState::missing, tr("%1 cannot be read: %2. It is looked for again.").arg(path_, file_.errorString()));
    return false;
  }
  if (!from_beginning) {
    const QByteArray first = file_.readLine(longest_line);
    // Half a line is the beginning of what comes.
    if (first.endsWith('\n') && file_.size() > file_.pos()) {
      (void)text_.take(std::string_view(first.constData(), static_cast<std::size_t>(first.size())));
      file_.seek(file_.size() - 1);
      char last = 0;
      if (file_.getChar(&last) && last != '\n') (void)text_.take("\n");  // of a line that was begun the end is no line
    } else {
      file_.seek(0);
    }
  }
  set_state(LineState::running, tr("Following %1").arg(QFileInfo(path_).fileName()));
  return true;
}

void FileSource::look() {
  if (!file_.isOpen() || !QFileInfo::exists(path_)) {
    if (file_.isOpen()) file_.close();
    if (!open(true)) return;
  }
  if (file_.size() < file_.pos() && !open(true)) return;  // written anew
  const QByteArray bytes = file_.read(most_at_once);
  if (bytes.isEmpty()) return;
  for (const SerialLine& line : text_.take(std::string_view(bytes.constData(), static_cast<std::size_t>(bytes.size()))))
    emit line_came(line, 0);
}

}  // namespace fair_gauge::app

#include "moc_file_source.cpp"
