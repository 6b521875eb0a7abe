#include "app/jobs/latest_job.h"

#include <chrono>
#include <condition_variable>
#include <utility>

#include <sys/resource.h>
#include <tbb/task_scheduler_observer.h>
#include <unistd.h>

namespace ripple::app {

namespace {

/// The thread that this runs on takes what time others leave, so that the interface thread never waits for a
/// core.
void giveWay() {
    constexpr int kNiceness = 10;
    thread_local const int kDone = ::setpriority(PRIO_PROCESS, static_cast<id_t>(::gettid()),
                                                 kNiceness); // it works on if that is not allowed
    static_cast<void>(kDone);
}

/// So do the threads that parallel loops are spread over.
class WorkersGiveWay : public tbb::task_scheduler_observer {
public:
    WorkersGiveWay() { observe(true); }
    void on_scheduler_entry(bool worker) override {
        if (worker) {
            giveWay();
        }
    }
};

} // namespace

namespace {

/// Pieces of work that run, of all jobs.
struct RunningWork {
    std::mutex mutex;
    std::condition_variable ended;
    int count = 0;
};
RunningWork& runningWork() {
    static auto* all = new RunningWork; // never destroyed: work may outlive everything else
    return *all;
}

} // namespace

LatestJob::LatestJob(QObject* parent)
    : QObject(parent),
      link_(std::make_shared<Link>()),
      pool_(new QThreadPool) {
    link_->job = this;
    // Two: a cancelled piece of work may still be ending while the next one begins.
    pool_->setMaxThreadCount(2);
    poll_.setInterval(60);
    connect(&poll_, &QTimer::timeout, this, [this] { Q_EMIT progressed(fraction()); });
}

LatestJob::~LatestJob() {
    if (progress_) {
        progress_->cancel();
    }
    {
        const std::lock_guard lock(link_->mutex);
        link_->job = nullptr;
    }
    pool_->clear(); // what has not begun
    if (pool_->activeThreadCount() == 0) {
        delete pool_;
    } // else its threads end by themselves; waiting for them would hold up whoever closes a window
}

bool LatestJob::waitForAll(int milliseconds) {
    std::unique_lock lock(runningWork().mutex);
    return runningWork().ended.wait_for(lock, std::chrono::milliseconds(milliseconds),
                                        [] { return runningWork().count == 0; });
}

void LatestJob::post(const std::shared_ptr<Link>& link, quint64 generation,
                     std::function<void(LatestJob&)> what) {
    const std::lock_guard lock(link->mutex);
    LatestJob* job = link->job;
    if (!job) {
        return;
    }
    QMetaObject::invokeMethod( // which goes with the job
        job,
        [job, generation, what = std::move(what)] {
            if (generation == job->generation_) { // else a newer request took its place
                what(*job);
            }
        },
        Qt::QueuedConnection);
}

void LatestJob::begin() {
    if (progress_) {
        progress_->cancel();
    }
    ++generation_;
    fraction_ = std::make_shared<std::atomic<double>>(0.0);
    progress_ = std::make_shared<base::Progress>([fraction = fraction_](double f) { fraction->store(f); });
    progress_->hold(held_);
    setRunning(true);
}

void LatestJob::launch(std::function<void()> task) {
    static WorkersGiveWay workers;
    const auto count = [](int change) {
        const std::lock_guard lock(runningWork().mutex);
        runningWork().count += change;
        runningWork().ended.notify_all();
    };
    // Whether it begins or is cleared away before, it is counted as long as it is there.
    const std::shared_ptr<void> counted((count(1), nullptr), [count](void*) { count(-1); });
    pool_->start([task = std::move(task), counted] {
        giveWay();
        task();
    });
}

void LatestJob::finish(const std::function<void()>& deliver) {
    setRunning(false);
    deliver();
}

void LatestJob::cancel() {
    if (!running_) {
        return;
    }
    progress_->cancel();
    ++generation_;
    setRunning(false);
    Q_EMIT cancelled();
}

void LatestJob::hold(bool held) {
    held_ = held;
    if (progress_) {
        progress_->hold(held);
    }
}

void LatestJob::setRunning(bool running) {
    if (running_ == running) {
        return;
    }
    running_ = running;
    running_ ? poll_.start() : poll_.stop();
    Q_EMIT runningChanged(running_);
}

} // namespace ripple::app
