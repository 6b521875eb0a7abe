#pragma once

#include "base/problem.h"
#include "base/progress.h"

#include <QObject>
#include <QThreadPool>
#include <QTimer>

#include <atomic>
#include <functional>
#include <memory>
#include <optional>

namespace ripple::app {

/// Work off the interface thread, of which only the newest request counts: starting again cancels what runs.
/// Its signals and results come on the thread that owns it.
class LatestJob : public QObject {
    Q_OBJECT
public:
    explicit LatestJob(QObject* parent = nullptr);
    /// Cancels and waits.
    ~LatestJob() override;

    /// Runs work(progress) in the background, then done(result) or failed(problem) here; neither after a
    /// newer start() or a cancel(). `Result` is a value or a shared pointer.
    template <typename Result>
    void start(std::function<Result(base::Progress&)> work, std::function<void(Result)> done,
               std::function<void(base::Problem)> failed);

    void cancel();
    /// Makes room for other work, or takes up its own again (base::Progress::hold).
    void hold(bool held);
    bool running() const { return running_; }
    double fraction() const { return fraction_ ? fraction_->load() : 0.0; }

Q_SIGNALS:
    void runningChanged(bool running);
    /// 0..1, a few times a second while it runs.
    void progressed(double fraction);
    void cancelled();

private:
    void begin();
    void launch(std::function<void()> task);
    void finish(quint64 generation, const std::function<void()>& deliver);
    void setRunning(bool running);

    QThreadPool pool_;
    QTimer poll_;
    std::shared_ptr<base::Progress> progress_;
    std::shared_ptr<std::atomic<double>> fraction_;
    quint64 generation_ = 0;
    bool running_ = false;
    bool held_ = false;
};

template <typename Result>
void LatestJob::start(std::function<Result(base::Progress&)> work, std::function<void(Result)> done,
                      std::function<void(base::Problem)> failed) {
    begin();
    const quint64 generation = generation_;
    launch([this, generation, progress = progress_, work = std::move(work), done = std::move(done),
            failed = std::move(failed)] {
        std::function<void()> deliver;
        try {
            auto result = std::make_shared<Result>(work(*progress));
            deliver = [done, result] { done(std::move(*result)); };
        } catch (const base::Cancelled&) {
            deliver = [] {};
        } catch (const base::Failure& failure) {
            deliver = [failed, problem = failure.problem()] { failed(problem); };
        } catch (const std::exception& error) {
            deliver = [failed, problem = base::unexpected(error)] { failed(problem); };
        }
        QMetaObject::invokeMethod(
            this, [this, generation, deliver] { finish(generation, deliver); }, Qt::QueuedConnection);
    });
}

} // namespace ripple::app
