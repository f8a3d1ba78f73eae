#include "sources/recording.h"

#include <QDateTime>
#include <QEventLoop>
#include <QThreadPool>

#include "widgets/text.h"

namespace fair_gauge::app {
namespace {

constexpr int writes_ms = 500;
constexpr std::size_t most_waiting = 64u << 20;

// \returns why one could not be written; those that were are taken off
std::optional<Problem> write_events(const std::string& path, std::vector<RecordingEvent>& events) {
  std::optional<Problem> problem;
  std::size_t written = 0;
  for (; written < events.size() && !problem; ++written) problem = append_event(path, events[written]);
  events.erase(events.begin(), events.begin() + static_cast<std::ptrdiff_t>(written - (problem ? 1 : 0)));
  return problem;
}

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
  happens("begun", text_of(bench.name));
  emit changed();
  return {};
}

void Recording::happens(const char* kind, const QString& words) {
  constexpr std::size_t most = 10'000;
  if (recorder_ && events_.size() < most) events_.push_back({now(), kind, words.toStdString()});
}

void Recording::take(const SerialLine& line, double age_s) {
  if (recorder_ && waiting_ < most_waiting) came_.emplace_back(line, now() - age_s);
}

void Recording::write() {
  if (writing_ || !recorder_) return;  // a slow disk: the next time takes all of it
  writing_ = true;
  auto* pool = QThreadPool::globalInstance();
  pool->start([recorder = recorder_, came = std::exchange(came_, {}), self = QPointer(this), at = now(),
               path = path_.toStdString(), events = std::exchange(events_, {})]() mutable {
    for (const auto& [line, seconds] : came) recorder->take(line, seconds);
    auto problem = recorder->tick(at);
    if (auto other = write_events(path, events); other && !problem) problem = std::move(other);
    const Written written{recorder->rows(), recorder->waiting(), problem ? text_of(to_text(*problem)) : QString(),
                          std::move(events)};
    QMetaObject::invokeMethod(QCoreApplication::instance(), [self, recorder, written] {
      if (self && self->recorder_ == recorder) self->take_written(written);
    });
  });
}

void Recording::take_written(const Written& written) {
  writing_ = false;
  events_.insert(events_.begin(), written.left.begin(), written.left.end());
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
  auto problem = recorder_->finish();
  rows_ = recorder_->rows();
  happens("ended", {});
  if (auto other = write_events(path_.toStdString(), events_); other && !problem) problem = std::move(other);
  events_.clear();
  recorder_.reset();
  path_.clear();
  emit changed();
  return problem ? text_of(to_text(*problem)) : QString();
}

}  // namespace fair_gauge::app

#include "moc_recording.cpp"
