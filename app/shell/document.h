// The bench in the window: its file, its undo and redo, its autosave. The value itself is core's Bench.
#pragma once

#include <QObject>
#include <QTimer>
#include <functional>

#include "bench/bench_file.h"

namespace fair_gauge::app {

class Document : public QObject {
  Q_OBJECT
 public:
  explicit Document(QObject* parent = nullptr);

  const Bench& bench() const { return bench_; }
  const QString& path() const { return path_; }
  bool is_saved() const { return bench_ == saved_; }

  /// Opens a file. Faults that were passed over are in `problems`; such a bench asks for a new name when saved.
  Result<std::vector<Problem>> open(const QString& path);
  /// Writes to `path`. On failure the bench stays unsaved and nothing is lost.
  Result<std::size_t> save(const QString& path);
  /// True if the file must not be written over: it is the demonstration, or faults were passed over in reading it.
  bool needs_new_name() const { return path_.isEmpty() || protected_; }

  /// Makes one undoable change. Changes of the same label within a second are one.
  void edit(const QString& label, const std::function<void(Bench&)>& change);
  void replace(const QString& label, Bench bench);
  void undo();
  void redo();
  bool can_undo() const { return !undo_.empty(); }
  bool can_redo() const { return !redo_.empty(); }
  QString undo_label() const { return undo_.empty() ? QString() : undo_.back().label; }
  QString redo_label() const { return redo_.empty() ? QString() : redo_.back().label; }

  /// The bench of a session that ended without saving, if there is one for this file.
  std::optional<Bench> unsaved_leftover() const;
  void drop_leftover();
  void write_autosave();  ///< now, if there is something to keep
  static QString autosave_folder();

 signals:
  void changed();
  void autosave_failed(const QString& why);

 private:
  struct Step {
    QString label;
    Bench bench;
  };
  QString autosave_path() const;
  void set(Bench bench);

  Bench bench_;
  Bench saved_;
  QString path_;
  bool protected_ = false;
  std::vector<Step> undo_;
  std::vector<Step> redo_;
  QTimer autosave_;
  qint64 last_edit_ms_ = 0;
};

}  // namespace fair_gauge::app
