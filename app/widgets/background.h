// Work beside the interface thread: what is longer than a frame. The latest request wins; earlier ones are cancelled.
#pragma once

#include <QCoreApplication>
#include <QPointer>
#include <QThreadPool>
#include <atomic>
#include <functional>
#include <memory>

namespace fair_gauge::app {

class Background {
 public:
  /// \param owner  results are dropped once it is gone
  explicit Background(QObject* owner) : owner_(owner) {}
  ~Background() { cancel(); }
  Background(const Background&) = delete;
  Background& operator=(const Background&) = delete;

  /// Runs `work` on another thread and hands its result to `done` on this one, unless a later start or a cancel came.
  /// \param work  takes the flag that tells it to stop; it must own all that it touches
  template <class Work, class Done>
  void start(Work work, Done done) {
    cancel();
    cancelled_ = std::make_shared<std::atomic<bool>>(false);
    QThreadPool::globalInstance()->start(
        [work = std::move(work), done = std::move(done), cancelled = cancelled_, owner = owner_]() mutable {
          if (*cancelled) return;
          auto result = std::make_shared<decltype(work(*cancelled))>(work(*cancelled));
          QMetaObject::invokeMethod(QCoreApplication::instance(),
                                    [result, done = std::move(done), cancelled, owner]() mutable {
                                      if (!*cancelled && owner) {
                                        *cancelled = true;
                                        done(std::move(*result));
                                      }
                                    });
        });
  }
  /// What is running ends early and its result is dropped.
  void cancel() {
    if (cancelled_) *cancelled_ = true;
  }
  bool is_running() const { return cancelled_ && !*cancelled_; }

 private:
  QPointer<QObject> owner_;
  std::shared_ptr<std::atomic<bool>> cancelled_;
};

}  // namespace fair_gauge::app
