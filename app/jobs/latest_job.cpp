#include "app/jobs/latest_job.h"

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

LatestJob::LatestJob(QObject* parent) : QObject(parent) {
    // Two: a cancelled piece of work may still be ending while the next one begins.
    pool_.setMaxThreadCount(2);
    poll_.setInterval(60);
    connect(&poll_, &QTimer::timeout, this, [this] { Q_EMIT progressed(fraction()); });
}

LatestJob::~LatestJob() {
    if (progress_) {
        progress_->cancel();
    }
    pool_.waitForDone();
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
    pool_.start([task = std::move(task)] {
        giveWay();
        task();
    });
}

void LatestJob::finish(quint64 generation, const std::function<void()>& deliver) {
    if (generation != generation_) {
        return; // a newer request took its place
    }
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
