// The bench in the window: its file, its undo and redo, its autosave. The value itself is core's Bench.
#pragma once

#include <QLockFile>
#include <QObject>
#include <QThreadPool>
#include <QTimer>
#include <functional>
#include <map>
#include <memory>
#include <optional>
#include <vector>

#include "bench/bench_file.h"

namespace fair_gauge::app {

class Document : public QObject {
  Q_OBJECT
 public:
  explicit Document(QObject* parent = nullptr);
  ~Document() override;  ///< what is unsaved stays kept aside

  const Bench& bench() const { return bench_; }
  const QString& path() const { return path_; }
  bool is_saved() const { return bench_ == saved_; }

  /// Opens a file. Faults that were passed over are in `problems`; such a bench asks for a new name when saved.
  Result<std::vector<Problem>> open(const QString& path);
  /// Begins a bench that has no file yet.
  void begin(Bench bench);
  /// Why a channel has no reading: it hangs on a value of the file that is faulty, and nothing of it has been changed
  /// since. Null if there is no such reason.
  const Problem* fault_of(const std::string& channel) const;
  /// Keys of the open file that are not known or stand twice.
  const std::vector<Problem>& warnings() const { return warnings_; }
  enum class Overwrite { unless_changed, anyway };
  /// Writes to `path`. On failure the bench stays unsaved and nothing is lost. A file that somebody else has changed
  /// since it was opened is a failure too, unless it is to be written anyway.
  Result<std::size_t> save(const QString& path, Overwrite overwrite = Overwrite::unless_changed);
  /// True if the open file no longer holds what was read or written last.
  bool is_changed_outside() const;
  /// True if the file must not be written over: it is the demonstration, or faults were passed over in reading it.
  bool needs_new_name() const { return path_.isEmpty() || protected_; }

  /// Makes one undoable change. Changes of the same label to the same thing within a second are one.
  void edit(const QString& label, const std::function<void(Bench&)>& change);
  void replace(const QString& label, Bench bench);
  void undo();
  void redo();
  bool can_undo() const { return !undo_.empty(); }
  bool can_redo() const { return !redo_.empty(); }
  QString undo_label() const { return undo_.empty() ? QString() : undo_.back().label; }
  QString redo_label() const { return redo_.empty() ? QString() : redo_.back().label; }

  /// What a session kept aside that ended without saving. Each session writes its own; nobody else writes or removes it
  /// until what it holds is saved or dropped by the person.
  struct Leftover {
    QString file;   ///< of what was kept
    QString bench;  ///< file that it belongs to; empty → it had none
    Bench content;
  };
  /// The latest leftover for the open file, if there is one.
  std::optional<Leftover> leftover() const;
  /// Leftovers whose bench had no file or whose file is gone: nobody would come across them by opening it.
  std::vector<Leftover> homeless_leftovers() const;
  /// Takes a leftover's content as an undoable change; it goes when that is saved.
  void bring_back(const Leftover& leftover);
  void drop_leftover();  ///< that of this session, and what was brought back in it
  void drop(const Leftover& leftover);
  void write_autosave();   ///< begins to, if there is something to keep; beside the interface thread
  void finish_autosave();  ///< waits until it is on the disk
  static QString autosave_folder();

 signals:
  void changed();
  void edited(const QString& label);  ///< one undoable change was made, or taken back
  void autosave_failed(const QString& why);

 private:
  struct Step {
    QString label;
    Bench bench;
  };
  void begin_session();
  void end_session();
  std::vector<Leftover> all_leftovers() const;
  void set(Bench bench);

  Bench bench_;
  Bench saved_;
  QString path_;
  bool protected_ = false;
  Bench as_loaded_;
  std::map<std::string, Problem> faulty_channels_;
  std::vector<Problem> warnings_;
  std::vector<Step> undo_;
  std::vector<Step> redo_;
  QTimer autosave_;
  qint64 last_edit_ms_ = 0;
  QByteArray on_disk_;    // fingerprint of the open file as it was read or written last
  QString session_file_;  // where this session keeps what is unsaved
  std::unique_ptr<QLockFile> session_lock_;
  std::vector<QString> brought_back_;
  std::string last_place_;  // of the last change
  QThreadPool writer_;      // one write after the other
};

}  // namespace fair_gauge::app
