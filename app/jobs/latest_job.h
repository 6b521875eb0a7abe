#pragma once

#include "base/problem.h"
#include "base/progress.h"

#include <QObject>
#include <QThreadPool>
#include <QTimer>

#include <atomic>
#include <functional>
#include <memory>
#include <mutex>
#include <optional>

namespace ripple::app {

/// Work off the interface thread, of which only the newest request counts: starting again cancels what runs.
/// Its signals and results come on the thread that owns it.
class LatestJob : public QObject {
    Q_OBJECT
public:
    explicit LatestJob(QObject* parent = nullptr);
    /// Cancels and does not wait: what runs ends by itself, and its result goes nowhere. So work must hold
    /// all that it looks at, and never `this` of whoever owns the job.
    ~LatestJob() override;

    /// Runs work(progress) in the background, then done(result) or failed(problem) here; neither after a
    /// newer start() or a cancel(). `Result` is a value or a shared pointer.
    template <typename Result>
    void start(std::function<Result(base::Progress&)> work, std::function<void(Result)> done,
               std::function<void(base::Problem)> failed);

    /// Hands something to the owner's thread while work runs, from any thread: it is done there unless the
    /// job is of something else by then, or gone.
    using Tell = std::function<void(std::function<void()>)>;
    /// The same, for work that tells of its parts.
    template <typename Result>
    void startTelling(const std::function<Result(base::Progress&, const Tell&)>& work,
                      std::function<void(Result)> done, std::function<void(base::Problem)> failed);

    /// Waits until no work of any job runs, or so long. True if none does.
    static bool waitForAll(int milliseconds);

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
    /// What work knows of the job: null once that is gone.
    struct Link {
        std::mutex mutex;
        LatestJob* job = nullptr;
    };
    /// Does it on the job's thread, if there is the job and it is still at this piece of work.
    static void post(const std::shared_ptr<Link>& link, quint64 generation,
                     std::function<void(LatestJob&)> what);
    void begin();
    void launch(std::function<void()> task);
    void finish(const std::function<void()>& deliver);
    void setRunning(bool running);

    std::shared_ptr<Link> link_;
    QThreadPool* pool_;
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
    startTelling<Result>(
        [work = std::move(work)](base::Progress& progress, const Tell&) { return work(progress); },
        std::move(done), std::move(failed));
}

template <typename Result>
void LatestJob::startTelling(const std::function<Result(base::Progress&, const Tell&)>& work,
                             std::function<void(Result)> done, std::function<void(base::Problem)> failed) {
    begin();
    launch([link = link_, generation = generation_, progress = progress_, work, done = std::move(done),
            failed = std::move(failed)] {
        const Tell tell = [&](std::function<void()> what) {
            post(link, generation, [what = std::move(what)](LatestJob&) { what(); });
        };
        std::function<void()> deliver;
        try {
            auto result = std::make_shared<Result>(work(*progress, tell));
            deliver = [done, result] { done(std::move(*result)); };
        } catch (const base::Cancelled&) {
            deliver = [] {};
        } catch (const base::Failure& failure) {
            deliver = [failed, problem = failure.problem()] { failed(problem); };
        } catch (const std::exception& error) {
            deliver = [failed, problem = base::unexpected(error)] { failed(problem); };
        }
        post(link, generation, [deliver](LatestJob& job) { job.finish(deliver); });
    });
}

} // namespace ripple::app
