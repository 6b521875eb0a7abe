#pragma once

#include <QElapsedTimer>

#include <deque>
#include <functional>
#include <utility>

namespace ripple::app {

/// Work that only the interface thread can do, in pieces of a few milliseconds, between which events are
/// answered.
class Pieces {
public:
    using Piece = std::function<void()>;

    void add(Piece piece) { pieces_.push_back(std::move(piece)); }
    void clear() { pieces_.clear(); }
    bool empty() const { return pieces_.empty(); }
    /// Does pieces for about so long, one at least.
    void work(int milliseconds) {
        QElapsedTimer clock;
        clock.start();
        while (!pieces_.empty() && (clock.elapsed() < milliseconds)) {
            one();
        }
    }
    void workAll() {
        while (!pieces_.empty()) {
            one();
        }
    }

private:
    void one() {
        const Piece piece = std::move(pieces_.front());
        pieces_.pop_front();
        piece();
    }

    std::deque<Piece> pieces_;
};

} // namespace ripple::app
