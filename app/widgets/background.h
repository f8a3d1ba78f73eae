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
    run(std::move(work), std::move(done));
  }
  /// The same of work that tells what it has so far: `work` takes a function besides, and what that is called with is
  /// handed to `told` on this thread.
  template <class Sofar, class Work, class Told, class Done>
  void start_telling(Work work, Told told, Done done) {
    cancel();
    cancelled_ = std::make_shared<std::atomic<bool>>(false);
    std::function<void(Sofar)> tell = [told = std::move(told), cancelled = cancelled_, owner = owner_](Sofar so_far) {
      QMetaObject::invokeMethod(QCoreApplication::instance(), [so_far = std::move(so_far), told, cancelled, owner] {
        if (!*cancelled && owner) told(so_far);
      });
    };
    run([work = std::move(work),
         tell = std::move(tell)](const std::atomic<bool>& cancelled) mutable { return work(cancelled, tell); },
        std::move(done));
  }
  /// What is running ends early and its result is dropped.
  void cancel() {
    if (cancelled_) *cancelled_ = true;
  }
  bool is_running() const { return cancelled_ && !*cancelled_; }

 private:
  template <class Work, class Done>
  void run(Work work, Done done) {
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
  QPointer<QObject> owner_;
  std::shared_ptr<std::atomic<bool>> cancelled_;
};

}  // namespace fair_gauge::app
