#include "source/frame_cache.h"

namespace ripple::source {

std::shared_ptr<const StoredFrame> FrameCache::get(std::size_t frame,
                                                   const std::function<void(StoredFrame&)>& load) {
    {
        const std::lock_guard lock(mutex_);
        if (const auto found = at_.find(frame); found != at_.end()) {
            recent_.splice(recent_.begin(), recent_, found->second);
            return found->second->stored;
        }
    }
    auto fresh = std::make_shared<StoredFrame>();
    load(*fresh);
    const std::lock_guard lock(mutex_);
    if (at_.contains(frame)) {
        return fresh; // another thread was quicker
    }
    recent_.push_front({frame, fresh});
    at_[frame] = recent_.begin();
    bytes_ += fresh->bytes();
    while (bytes_ > limit_ && recent_.size() > 1) {
        bytes_ -= recent_.back().stored->bytes();
        at_.erase(recent_.back().frame);
        recent_.pop_back();
    }
    return fresh;
}

std::size_t FrameCache::bytes() const {
    const std::lock_guard lock(mutex_);
    return bytes_;
}

} // namespace ripple::source
