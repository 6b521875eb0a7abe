#include "app/jobs/latest_job.h"

#include <utility>

namespace ripple::app {

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
    pool_.start(std::move(task));
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
