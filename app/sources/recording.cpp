#include "sources/recording.h"

#include <QDateTime>
#include <QEventLoop>
#include <QThreadPool>

#include "widgets/text.h"

namespace fair_gauge::app {
namespace {

constexpr int writes_ms = 500;
constexpr std::size_t most_waiting = 64u << 20;

double now() { return static_cast<double>(QDateTime::currentMSecsSinceEpoch()) / 1000; }

}  // namespace

Recording::Recording(QObject* parent) : QObject(parent) {
  timer_.setInterval(writes_ms);
  connect(&timer_, &QTimer::timeout, this, &Recording::write);
}

Recording::~Recording() { end(); }

QString Recording::begin(const Bench& bench, const Catalogue& catalogue, const QString& path) {
  if (QString left = end(); !left.isEmpty()) return left;
  auto opened = Recorder::open(bench, catalogue, path.toStdString(), RecordedColumns::all);
  if (!opened) return text_of(to_text(opened.problem()));
  recorder_ = std::make_shared<Recorder>(std::move(*opened));
  path_ = path;
  trouble_.clear();
  rows_ = 0;
  waiting_ = 0;
  timer_.start();
  emit changed();
  return {};
}

void Recording::take(const SerialLine& line) {
  if (recorder_ && waiting_ < most_waiting) came_.emplace_back(line, now());
}

void Recording::write() {
  if (writing_ || !recorder_) return;  // a slow disk: the next time takes all of it
  writing_ = true;
  auto* pool = QThreadPool::globalInstance();
  pool->start([recorder = recorder_, came = std::exchange(came_, {}), self = QPointer(this), at = now()] {
    for (const auto& [line, seconds] : came) recorder->take(line, seconds);
    const auto problem = recorder->tick(at);
    const Written written{recorder->rows(), recorder->waiting(), problem ? text_of(to_text(*problem)) : QString()};
    QMetaObject::invokeMethod(QCoreApplication::instance(), [self, recorder, written] {
      if (self && self->recorder_ == recorder) self->take_written(written);
    });
  });
}

void Recording::take_written(const Written& written) {
  writing_ = false;
  rows_ = written.rows;
  waiting_ = written.waiting;
  trouble_ = waiting_ >= most_waiting
                 ? tr("64 MB wait to be written: what comes now is not kept. %1").arg(written.trouble)
                 : written.trouble;
  emit changed();
}

QString Recording::end() {
  if (!recorder_) return {};
  timer_.stop();
  while (writing_) QCoreApplication::processEvents(QEventLoop::ExcludeUserInputEvents | QEventLoop::WaitForMoreEvents);
  for (const auto& [line, seconds] : std::exchange(came_, {})) recorder_->take(line, seconds);
  const auto problem = recorder_->finish();
  rows_ = recorder_->rows();
  recorder_.reset();
  path_.clear();
  emit changed();
  return problem ? text_of(to_text(*problem)) : QString();
}

}  // namespace fair_gauge::app

#include "moc_recording.cpp"
