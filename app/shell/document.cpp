#include "shell/document.h"

#include <QCryptographicHash>
#include <QDateTime>
#include <QDir>
#include <QFileInfo>
#include <QStandardPaths>
#include <QThreadPool>

#include "files/file.h"
#include "parts/catalogue.h"

namespace fair_gauge::app {
namespace {

constexpr int autosave_delay_ms = 1000;
constexpr qint64 same_edit_ms = 1000;
constexpr std::size_t most_steps = 500;

}  // namespace

Document::Document(QObject* parent) : QObject(parent) {
  autosave_.setSingleShot(true);
  autosave_.setInterval(autosave_delay_ms);
  connect(&autosave_, &QTimer::timeout, this, &Document::write_autosave);
}

Result<std::vector<Problem>> Document::open(const QString& path) {
  auto loaded = load_bench(path.toStdString());
  if (!loaded) return loaded.problem();
  path_ = path;
  bench_ = saved_ = std::move(loaded->bench);
  const bool shipped =
      QFileInfo(path).absoluteFilePath().startsWith(QDir(QString::fromStdString(data_folder())).absolutePath());
  protected_ = shipped || !loaded->problems.empty();
  undo_.clear();
  redo_.clear();
  emit changed();
  return std::move(loaded->problems);
}

Result<std::size_t> Document::save(const QString& path) {
  auto written = save_bench(bench_, path.toStdString());
  if (!written) return written;
  drop_leftover();
  path_ = path;
  protected_ = false;
  saved_ = bench_;
  emit changed();
  return written;
}

void Document::edit(const QString& label, const std::function<void(Bench&)>& change) {
  Bench next = bench_;
  change(next);
  replace(label, std::move(next));
}

void Document::replace(const QString& label, Bench bench) {
  if (bench == bench_) return;
  const qint64 now = QDateTime::currentMSecsSinceEpoch();
  const bool same_edit = !undo_.empty() && undo_.back().label == label && now - last_edit_ms_ < same_edit_ms;
  last_edit_ms_ = now;
  if (!same_edit) undo_.push_back({label, std::move(bench_)});
  if (undo_.size() > most_steps) undo_.erase(undo_.begin());
  redo_.clear();
  set(std::move(bench));
}

void Document::undo() {
  if (undo_.empty()) return;
  Step step = std::move(undo_.back());
  undo_.pop_back();
  redo_.push_back({step.label, std::move(bench_)});
  last_edit_ms_ = 0;
  set(std::move(step.bench));
}

void Document::redo() {
  if (redo_.empty()) return;
  Step step = std::move(redo_.back());
  redo_.pop_back();
  undo_.push_back({step.label, std::move(bench_)});
  last_edit_ms_ = 0;
  set(std::move(step.bench));
}

void Document::set(Bench bench) {
  bench_ = std::move(bench);
  autosave_.start();
  emit changed();
}

QString Document::autosave_folder() {
  QString state = qEnvironmentVariable("XDG_STATE_HOME");
  if (state.isEmpty()) state = QDir::homePath() + QStringLiteral("/.local/state");
  return state + QStringLiteral("/fair-gauge/unsaved");
}

QString Document::autosave_path() const {
  const auto name =
      QCryptographicHash::hash(QFileInfo(path_).absoluteFilePath().toUtf8(), QCryptographicHash::Sha1).toHex().left(16);
  return autosave_folder() + QLatin1Char('/') + QString::fromLatin1(name) + QStringLiteral(".fairgauge.json");
}

void Document::write_autosave() {
  autosave_.stop();
  if (is_saved()) return drop_leftover();
  const QString path = autosave_path();
  QThreadPool::globalInstance()->start([bench = bench_, path, this] {
    QDir().mkpath(QFileInfo(path).path());
    const auto written = save_bench(bench, path.toStdString());
    if (!written) emit autosave_failed(QString::fromStdString(to_text(written.problem())));
  });
}

std::optional<Bench> Document::unsaved_leftover() const {
  if (!QFileInfo::exists(autosave_path())) return std::nullopt;
  auto loaded = load_bench(autosave_path().toStdString());
  if (!loaded || loaded->bench == bench_) return std::nullopt;
  return std::move(loaded->bench);
}

void Document::drop_leftover() {
  QThreadPool::globalInstance()->waitForDone();
  QFile::remove(autosave_path());
}

}  // namespace fair_gauge::app
