#include "shell/document.h"

#include <QCryptographicHash>
#include <QDateTime>
#include <QDir>
#include <QFileInfo>
#include <QStandardPaths>
#include <QUuid>

#include <algorithm>

#include "files/file.h"
#include "language/translation.h"
#include "parts/catalogue.h"

namespace fair_gauge::app {
namespace {

constexpr int autosave_delay_ms = 1000;
constexpr qint64 same_edit_ms = 1000;
constexpr std::size_t most_steps = 500;
const QString suffix = QStringLiteral(".fairgauge.json");

QByteArray fingerprint_of(const QString& path) {
  QFile file(path);
  if (path.isEmpty() || !file.open(QIODevice::ReadOnly)) return {};
  return QCryptographicHash::hash(file.readAll(), QCryptographicHash::Sha1);
}

// Which items of a list differ, as "devices 2".
template <class T>
void name_changes(const std::vector<T>& a, const std::vector<T>& b, const char* list, std::string& places) {
  for (std::size_t i = 0; i < std::max(a.size(), b.size()); ++i)
    if (i >= a.size() || i >= b.size() || !(a[i] == b[i])) places += std::string(list) + " " + std::to_string(i) + ";";
}

// What a change has touched: two changes are one only where they are of the same things.
std::string place_of_change(const Bench& a, const Bench& b) {
  std::string places;
  name_changes(a.rails, b.rails, "rails", places);
  name_changes(a.converters, b.converters, "converters", places);
  name_changes(a.buses, b.buses, "buses", places);
  name_changes(a.devices, b.devices, "devices", places);
  name_changes(a.channels, b.channels, "channels", places);
  name_changes(a.own_parts, b.own_parts, "own parts", places);
  return places;
}

}  // namespace

Document::Document(QObject* parent) : QObject(parent) {
  autosave_.setSingleShot(true);
  autosave_.setInterval(autosave_delay_ms);
  connect(&autosave_, &QTimer::timeout, this, &Document::write_autosave);
  writer_.setMaxThreadCount(1);
  begin_session();
}

Document::~Document() {
  if (autosave_.isActive()) write_autosave();
  end_session();
}

Result<std::vector<Problem>> Document::open(const QString& path) {
  const bool shipped =
      QFileInfo(path).absoluteFilePath().startsWith(QDir(QString::fromStdString(data_folder())).absolutePath());
  auto loaded = load_bench(path.toStdString(), shipped ? Texts::in_language : Texts::as_written);
  if (!loaded) return loaded.problem();
  if (autosave_.isActive()) write_autosave();
  end_session();  // what is unsaved in it stays kept
  path_ = path;
  on_disk_ = fingerprint_of(path);
  bench_ = saved_ = as_loaded_ = std::move(loaded->bench);
  faulty_channels_ = std::move(loaded->faulty_channels);
  warnings_ = std::move(loaded->warnings);
  begin_session();
  protected_ = shipped || !loaded->problems.empty();
  undo_.clear();
  redo_.clear();
  emit changed();
  return std::move(loaded->problems);
}

void Document::begin(Bench bench) {
  if (autosave_.isActive()) write_autosave();
  end_session();
  path_.clear();
  on_disk_.clear();
  bench_ = as_loaded_ = std::move(bench);
  saved_ = Bench();
  faulty_channels_.clear();
  warnings_.clear();
  protected_ = false;
  undo_.clear();
  redo_.clear();
  begin_session();
  if (!is_saved()) autosave_.start();
  emit changed();
}

const Problem* Document::fault_of(const std::string& id) const {
  const auto fault = faulty_channels_.find(id);
  if (fault == faulty_channels_.end()) return nullptr;
  const auto same = [&](const auto& now, const auto& then, const std::string& name) {
    const auto *a = find_by_id(now, name), *b = find_by_id(then, name);
    return a && b ? *a == *b : !a && !b;
  };
  const Channel* channel = find_by_id(bench_.channels, id);
  const Device* device = channel ? find_by_id(bench_.devices, channel->device) : nullptr;
  const bool untouched = same(bench_.channels, as_loaded_.channels, id) &&
                         (!channel || same(bench_.devices, as_loaded_.devices, channel->device)) &&
                         (!device || same(bench_.converters, as_loaded_.converters, device->converter)) &&
                         bench_.rails == as_loaded_.rails;
  return untouched ? &fault->second : nullptr;
}

bool Document::is_changed_outside() const { return !path_.isEmpty() && fingerprint_of(path_) != on_disk_; }

Result<std::size_t> Document::save(const QString& path, Overwrite overwrite) {
  if (path == path_ && overwrite == Overwrite::unless_changed && QFileInfo::exists(path) && is_changed_outside())
    return Problem{translated("another program or window has changed this file since it was opened here"),
                   translated("another name, or to write over it"),
                   {.file = path.toStdString()}};
  auto written = save_bench(bench_, path.toStdString());
  if (!written) return written;
  drop_leftover();
  path_ = path;
  on_disk_ = fingerprint_of(path);
  protected_ = false;
  saved_ = bench_;
  end_session();
  begin_session();
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
  std::string place = place_of_change(bench_, bench);
  const bool same_edit =
      !undo_.empty() && undo_.back().label == label && now - last_edit_ms_ < same_edit_ms && place == last_place_;
  last_place_ = std::move(place);
  last_edit_ms_ = now;
  if (!same_edit) undo_.push_back({label, std::move(bench_)});
  if (undo_.size() > most_steps) undo_.erase(undo_.begin());
  redo_.clear();
  set(std::move(bench));
  if (!same_edit) emit edited(label);
}

void Document::undo() {
  if (undo_.empty()) return;
  Step step = std::move(undo_.back());
  undo_.pop_back();
  redo_.push_back({step.label, std::move(bench_)});
  last_edit_ms_ = 0;
  set(std::move(step.bench));
  emit edited(tr("taken back: %1").arg(step.label));
}

void Document::redo() {
  if (redo_.empty()) return;
  Step step = std::move(redo_.back());
  redo_.pop_back();
  undo_.push_back({step.label, std::move(bench_)});
  last_edit_ms_ = 0;
  set(std::move(step.bench));
  emit edited(tr("made again: %1").arg(step.label));
}

void Document::set(Bench bench) {
  bench_ = std::move(bench);
  if (!autosave_.isActive()) autosave_.start();  // a second after the first unsaved change, however many follow
  emit changed();
}

QString Document::autosave_folder() {
  QString state = qEnvironmentVariable("XDG_STATE_HOME");
  if (state.isEmpty()) state = QDir::homePath() + QStringLiteral("/.local/state");
  return state + QStringLiteral("/fair-gauge/unsaved");
}

// A name of its own for each session, that begins with the bench it belongs to.
void Document::begin_session() {
  const auto name =
      QCryptographicHash::hash(QFileInfo(path_).absoluteFilePath().toUtf8(), QCryptographicHash::Sha1).toHex().left(16);
  session_file_ = autosave_folder() + QLatin1Char('/') + QString::fromLatin1(path_.isEmpty() ? "new" : name) +
                  QLatin1Char('-') + QUuid::createUuid().toString(QUuid::Id128) + suffix;
}

void Document::end_session() {
  finish_autosave();
  session_lock_.reset();
  brought_back_.clear();
}

void Document::write_autosave() {
  autosave_.stop();
  if (is_saved()) {
    writer_.start([file = session_file_] {
      QFile::remove(file);
      QFile::remove(file + QStringLiteral(".of"));
    });
    return;
  }
  if (!session_lock_) {
    QDir().mkpath(autosave_folder());
    session_lock_ = std::make_unique<QLockFile>(session_file_ + QStringLiteral(".lock"));
    session_lock_->setStaleLockTime(0);
    session_lock_->tryLock(0);
  }
  writer_.start([bench = bench_, path = path_, file = session_file_, this] {
    const auto written = save_bench(bench, file.toStdString());
    if (!written) {
      emit autosave_failed(QString::fromStdString(to_text(written.problem())));
      return;
    }
    if (!QFileInfo::exists(file + QStringLiteral(".of")))
      (void)write_file((file + QStringLiteral(".of")).toStdString(), path.toStdString());
  });
}

void Document::finish_autosave() { writer_.waitForDone(); }

std::vector<Document::Leftover> Document::all_leftovers() const {
  std::vector<Leftover> all;
  const QDir folder(autosave_folder());
  for (const QString& name : folder.entryList({QLatin1Char('*') + suffix}, QDir::Files, QDir::Time)) {
    const QString file = folder.filePath(name);
    if (file == session_file_) continue;
    QLockFile lock(file + QStringLiteral(".lock"));
    lock.setStaleLockTime(0);
    if (!lock.tryLock(0)) continue;  // its session is still going on
    lock.unlock();
    QFile of(file + QStringLiteral(".of"));
    const QString bench = of.open(QIODevice::ReadOnly) ? QString::fromUtf8(of.readAll()) : QString();
    if (auto loaded = load_bench(file.toStdString())) all.push_back({file, bench, std::move(loaded->bench)});
  }
  return all;
}

std::optional<Document::Leftover> Document::leftover() const {
  for (Leftover& each : all_leftovers())
    if (!path_.isEmpty() && QFileInfo(each.bench).absoluteFilePath() == QFileInfo(path_).absoluteFilePath() &&
        !(each.content == bench_))
      return std::move(each);
  return std::nullopt;
}

std::vector<Document::Leftover> Document::homeless_leftovers() const {
  auto all = all_leftovers();
  std::erase_if(all, [](const Leftover& each) { return !each.bench.isEmpty() && QFileInfo::exists(each.bench); });
  return all;
}

void Document::bring_back(const Leftover& leftover) {
  brought_back_.push_back(leftover.file);
  replace(tr("Bring back unsaved changes"), leftover.content);
}

void Document::drop_leftover() {
  autosave_.stop();
  finish_autosave();
  brought_back_.push_back(session_file_);
  for (const QString& file : std::exchange(brought_back_, {})) {
    QFile::remove(file);
    QFile::remove(file + QStringLiteral(".of"));
  }
}

void Document::drop(const Leftover& leftover) {
  QFile::remove(leftover.file);
  QFile::remove(leftover.file + QStringLiteral(".of"));
}

}  // namespace fair_gauge::app

#include "moc_document.cpp"
