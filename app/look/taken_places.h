#pragma once

#include <QRectF>

#include <algorithm>
#include <initializer_list>
#include <optional>
#include <vector>

namespace ripple::app {

/// Keeps labels on a picture from lying over each other.
class TakenPlaces {
public:
    void take(const QRectF& place) { taken_.push_back(place); }
    bool isFree(const QRectF& place) const {
        return std::ranges::none_of(taken_, [&](const QRectF& other) { return other.intersects(place); });
    }
    /// The first of `places` that is free, which is taken then; nothing if none is.
    std::optional<QRectF> takeFirstFree(std::initializer_list<QRectF> places) {
        const auto* found =
            std::ranges::find_if(places, [this](const QRectF& place) { return isFree(place); });
        if (found == places.end()) {
            return std::nullopt;
        }
        take(*found);
        return *found;
    }

private:
    std::vector<QRectF> taken_;
};

} // namespace ripple::app
