#include "scatter/crowd.h"

#include "bake/frame_blend.h"
#include "base/parallel.h"
#include "base/problem.h"

#include <algorithm>
#include <array>
#include <cmath>

#include <glm/geometric.hpp>
#include <glm/gtc/constants.hpp>

namespace ripple::scatter {

namespace {

constexpr float kStep = 1.0f / Crowd::kStepsASecond;

constexpr std::array kTravelRows = {
    TravelRow{Travel::still, "still", "Still", "Each stays where it stands"},
    TravelRow{Travel::wander, "wander", "Wander",
              "Each goes its way while it plays a clip that walks, and stops for the others"},
    TravelRow{Travel::gaits, "gaits", "Two gaits",
              "Each changes its speed, and with it the clip that is made for that"},
    TravelRow{Travel::fly, "fly", "Fly", "All fly through the volume, as a swarm does"},
};

glm::quat about(const glm::vec3& axis, float turns) {
    return glm::angleAxis(glm::two_pi<float>() * turns, axis);
}

float inTurn(float turns) {
    return turns - std::floor(turns);
}

} // namespace

std::span<const TravelRow> travelRows() {
    return kTravelRows;
}

const TravelRow& rowOf(Travel travel) {
    return kTravelRows[static_cast<std::size_t>(travel)]; // in the order of the kinds
}

Crowd::Crowd(CrowdChoices choices, std::span<const Copy> placed, std::shared_ptr<const Ground> ground)
    : choices_(std::move(choices)),
      placed_(placed.begin(), placed.end()),
      ground_(std::move(ground)) {
    const std::size_t clips = choices_.clips.size();
    for (const CrowdClip& clip : choices_.clips) {
        if (!(clip.frames >= 1.0f) || !(clip.fps > 0.0f)) {
            base::fail("a clip of the crowd", "has no frames", "choose clips that play");
        }
        anyWalks_ = anyWalks_ || clip.walks > 0.0f;
    }
    if (choices_.fades.size() != clips * clips) {
        base::fail("the crowd's fades", "are not one for each clip to each other",
                   "say how long each takes, or 0");
    }
    limits_ = clipLimits(choices_.differences.clipWeights);
    limits_.resize(std::max<std::size_t>(clips, 1), 1.0f);
    const auto chosen =
        std::ranges::count_if(choices_.differences.clipWeights, [](float weight) { return weight > 0.0f; });
    changes_ = clips > 0 && (chosen > 1 || choices_.travel == Travel::gaits);
    const float half = 0.5f * glm::two_pi<float>() * choices_.facing;
    facing_ = {std::sin(half), std::cos(half)};
    begin();
}

void Crowd::begin() {
    now_.step = 0;
    now_.minds.assign(placed_.size(), {});
    now_.states.assign(placed_.size(), {});
    for (std::size_t i = 0; i < placed_.size(); ++i) {
        const Copy& copy = placed_[i];
        Mind& mind = now_.minds[i];
        CopyState& state = now_.states[i];
        mind.index = copy.index;
        mind.rate = copy.own.rate;
        mind.home = copy.origin;
        mind.heading = copy.own.turn + choices_.facing;
        state.origin = copy.origin;
        state.scale = copy.own.size;
        state.rotation = components(copy.rotation);
        state.id = copy.own.id;
        state.turn = copy.own.start;
        state.tint = glm::mix(choices_.tints[0], choices_.tints[1], copy.own.tint);
        state.image = static_cast<int>(hashed(choices_.differences.seed, copy.index, Purpose::image) *
                                       static_cast<float>(std::max(choices_.images, 1)));
        decide(mind, state, true);
        state.clipBefore = state.clip;
        if (!choices_.clips.empty()) {
            const CrowdClip& clip = choices_.clips[static_cast<std::size_t>(state.clip)];
            state.frame = copy.own.start * (clip.closed ? clip.frames : clip.frames - 1.0f);
            state.frameBefore = state.frame;
            mind.seconds -= changes_ ? copy.own.start * mind.seconds : 0.0f; // they don't change together
        }
        state.speed = mind.speedNow;
        if (choices_.travel == Travel::fly) {
            fly(mind, state, 0);
        }
    }
}

float Crowd::eased(const Mind& mind) {
    return mind.progress < 1.0f ? static_cast<float>(bake::easedFade(static_cast<double>(mind.progress)))
                                : 1.0f;
}

int Crowd::clipFor(const Mind& mind, float wish) const {
    if (choices_.clips.empty()) {
        return 0;
    }
    const float chosen = hashed(choices_.differences.seed, mind.index, Purpose::clip, mind.decided);
    int clip = 0;
    while (clip + 1 < static_cast<int>(limits_.size()) && chosen >= limits_[static_cast<std::size_t>(clip)]) {
        ++clip;
    }
    if (choices_.travel != Travel::gaits || choices_.clips[static_cast<std::size_t>(clip)].walks <= 0.0f) {
        return clip;
    }
    // Of those that walk, the one whose own speed is nearest.
    int nearest = clip;
    for (int c = 0; c < static_cast<int>(choices_.clips.size()); ++c) {
        const float walks = choices_.clips[static_cast<std::size_t>(c)].walks;
        const float best = choices_.clips[static_cast<std::size_t>(nearest)].walks;
        if (walks > 0.0f && std::abs(std::log(walks / wish)) < std::abs(std::log(best / wish))) {
            nearest = c;
        }
    }
    return nearest;
}

void Crowd::decide(Mind& mind, CopyState& state, bool first) {
    const auto by = [&](Purpose purpose) {
        return hashed(choices_.differences.seed, mind.index, purpose, mind.decided);
    };
    const bool gaits = choices_.travel == Travel::gaits;
    const float wish =
        gaits ? choices_.speed + (choices_.fastest - choices_.speed) * by(Purpose::speed) : choices_.speed;
    const int clip = clipFor(mind, std::max(wish, 1e-3f));
    ++mind.decided;
    mind.wished = 0.16f * (by(Purpose::heading) - 0.5f);
    float fade = first ? 0.0f : 0.3f; // without clips, for the speed
    float stays = 2.5f + 4.0f * by(Purpose::stay);
    bool walks = choices_.travel == Travel::wander || gaits;
    float clipRate = 1.0f;
    if (!choices_.clips.empty()) {
        const CrowdClip& next = choices_.clips[static_cast<std::size_t>(clip)];
        const auto row = static_cast<std::size_t>(state.clip) * choices_.clips.size();
        fade = first ? 0.0f : choices_.fades[row + static_cast<std::size_t>(clip)];
        walks = walks && (next.walks > 0.0f || !anyWalks_);
        if (gaits && next.walks > 0.0f) {
            clipRate = std::clamp(wish / next.walks, 0.25f, 4.0f); // so that no foot slides
        }
        if (!next.closed) { // once, and the next one fades in as it ends
            stays = (next.frames - 1.0f) / (next.fps * mind.rate * clipRate) - fade;
        }
        stays = std::max(stays, fade + kStep); // what was before is gone by then
    }
    mind.seconds = stays;
    mind.speedBefore = first ? 0.0f : state.speed;
    mind.speedNow = walks ? wish * state.scale * mind.rate : 0.0f;
    if (first) {
        mind.speedBefore = mind.speedNow;
    }
    const bool playsOn = first || choices_.clips.empty() ||
                         (clip == state.clip && choices_.clips[static_cast<std::size_t>(clip)].closed);
    if (!playsOn) {
        state.clipBefore = state.clip;
        state.frameBefore = state.frame;
        state.frame = 0.0f;
    }
    state.clip = clip;
    mind.clipRateBefore = first ? clipRate : mind.clipRate;
    mind.clipRate = clipRate;
    mind.changes = !playsOn;
    mind.progress = fade > 0.0f ? 0.0f : 1.0f;
    mind.fadeRate = fade > 0.0f ? 1.0f / fade : 0.0f;
    state.fade = mind.changes ? mind.progress : 1.0f;
}

void Crowd::play(Mind& mind, CopyState& state, float seconds) {
    mind.progress = std::min(1.0f, mind.progress + seconds * mind.fadeRate);
    mind.seconds -= seconds;
    if (choices_.clips.empty()) {
        state.turn = inTurn(state.turn + seconds * mind.rate / choices_.loopSeconds);
    } else {
        const auto on = [&](int of, float frame, float rate) {
            const CrowdClip& clip = choices_.clips[static_cast<std::size_t>(of)];
            const float next = frame + seconds * rate * clip.fps;
            if (clip.closed) {
                return next >= clip.frames ? next - clip.frames * std::floor(next / clip.frames) : next;
            }
            // The only one starts over, a frame's time after its last frame.
            return changes_ ? std::min(next, clip.frames - 1.0f) : next >= clip.frames ? 0.0f : next;
        };
        // A clip keeps its rate while it fades: the weights that mix both clips' feet mix both speeds. One
        // that plays on goes along with the speed.
        const bool follows = !mind.changes && mind.clipRateBefore != mind.clipRate;
        const float rate =
            follows ? glm::mix(mind.clipRateBefore, mind.clipRate, eased(mind)) : mind.clipRate;
        state.frame = on(state.clip, state.frame, mind.rate * rate);
        if (mind.changes) {
            state.frameBefore = on(state.clipBefore, state.frameBefore, mind.rate * mind.clipRateBefore);
            state.fade = mind.progress;
            mind.changes = state.fade < 1.0f;
        }
    }
    const bool turnsAbout = choices_.clips.empty() && choices_.travel != Travel::still;
    if (mind.seconds <= 0.0f && (changes_ || turnsAbout)) {
        decide(mind, state, false);
    }
}

void Crowd::stand(CopyState& state, const glm::quat& yaw, const std::optional<Spot>& spot) const {
    state.rotation = components(yaw);
    if (!spot) {
        return; // beside the ground it goes on at the height that it has
    }
    state.origin.y = spot->position.y;
    if (choices_.alongSurface) {
        state.rotation = components(uprightTo(spot->normal) * yaw);
    }
}

void Crowd::walk(Mind& mind, CopyState& state, float seconds) {
    state.speed = glm::mix(mind.speedBefore, mind.speedNow, eased(mind));
    // The half of the heading makes the quaternion, and the heading itself.
    const float half = 0.5f * glm::two_pi<float>() * mind.heading;
    const float s = std::sin(half);
    const float c = std::cos(half);
    const glm::vec2 way(2.0f * s * c, c * c - s * s); // x, z
    // Beyond the area, or the ground, it is drawn back.
    const glm::vec2 at(state.origin.x, state.origin.z);
    float wish = mind.wished;
    if (mind.lost || std::abs(at.x) > 0.5f * choices_.area.x || std::abs(at.y) > 0.5f * choices_.area.z) {
        const glm::vec2 home = -at / std::max(glm::length(at), 1e-4f);
        const float side = home.x * way.y - home.y * way.x; // above 0: home lies toward growing headings
        const float ahead = glm::dot(home, way);
        wish = ahead > 0.0f ? 0.25f * side : (side < 0.0f ? -0.25f : 0.25f);
    }
    // Turning follows what is wished in half a second, so that the heading has no corners.
    mind.turning += (wish - mind.turning) * std::min(1.0f, 4.0f * seconds);
    const float full = choices_.speed * state.scale * mind.rate;
    const float moving = full > 0.0f ? std::min(state.speed / full, 1.0f) : 0.0f; // nobody turns standing
    mind.heading = inTurn(mind.heading + mind.turning * seconds * moving);
    state.origin.x += way.x * state.speed * seconds;
    state.origin.z += way.y * state.speed * seconds;
    const auto spot = ground_->below({state.origin.x, state.origin.z});
    mind.lost = !spot;
    // It looks where it went: the heading less what the model is turned by itself.
    stand(state, {c * facing_.y + s * facing_.x, 0.0f, s * facing_.y - c * facing_.x, 0.0f}, spot);
}

void Crowd::fly(const Mind& mind, CopyState& state, long step) const {
    // Each goes round on a curve of its own that fills the volume (sines along the three axes), at about the
    // speed that is asked for; it looks where it goes and leans into its curve.
    const std::uint32_t seed = choices_.differences.seed;
    const auto by = [&](std::uint32_t part) { return hashed(seed, mind.index, Purpose::heading, part); };
    const glm::vec3 reach =
        0.5f * choices_.area * glm::vec3(0.55f + 0.45f * by(1), 0.35f + 0.6f * by(2), 0.55f + 0.45f * by(3));
    const float radius = 0.5f * (reach.x + reach.z);
    const float speed = choices_.speed * mind.rate;
    const float turns = speed / (glm::two_pi<float>() * std::max(radius, 1e-3f)); // a second
    const float t = static_cast<float>(step) * kStep;
    const float a = glm::two_pi<float>() * inTurn(by(4) + turns * t);
    const float b = glm::two_pi<float>() * inTurn(by(5) + 2.0f * turns * t);
    const float rate = glm::two_pi<float>() * turns;
    const glm::vec3 place(reach.x * std::sin(a), reach.y * std::sin(b), reach.z * std::cos(a));
    const glm::vec3 velocity(rate * reach.x * std::cos(a), 2.0f * rate * reach.y * std::cos(b),
                             -rate * reach.z * std::sin(a));
    state.origin = place + glm::vec3(0.0f, 0.5f * choices_.area.y, 0.0f);
    state.speed = glm::length(velocity);
    const float heading = std::atan2(velocity.x, velocity.z) / glm::two_pi<float>();
    const float level = std::hypot(velocity.x, velocity.z);
    const float climb = std::atan2(velocity.y, level) / glm::two_pi<float>();
    // In a curve at speed v and radius r: tan of the lean is v² / (r g).
    const float lean = std::atan2(speed * speed, std::max(radius, 1e-3f) * 9.81f) / glm::two_pi<float>();
    state.rotation =
        components(about({0.0f, 1.0f, 0.0f}, heading) * about({1.0f, 0.0f, 0.0f}, -climb) *
                   about({0.0f, 0.0f, 1.0f}, -lean) * about({0.0f, 1.0f, 0.0f}, -choices_.facing));
}

void Crowd::play(std::size_t first, std::size_t end, long steps) {
    const bool walks = choices_.travel == Travel::wander || choices_.travel == Travel::gaits;
    for (std::size_t i = first; i < end; ++i) {
        for (long step = 0; step < steps; ++step) { // copies know nothing of each other
            play(now_.minds[i], now_.states[i], kStep);
            if (walks) {
                walk(now_.minds[i], now_.states[i], kStep);
            }
        }
        if (choices_.travel == Travel::fly) { // where it is follows from the time alone
            fly(now_.minds[i], now_.states[i], now_.step + steps);
        }
    }
}

long Crowd::stepAt(double seconds) {
    return std::lround(std::max(seconds, 0.0) * kStepsASecond);
}

void Crowd::goTo(double seconds) {
    const long wanted = stepAt(seconds);
    if (wanted < now_.step) {
        begin();
    }
    const long steps = wanted - now_.step;
    const std::size_t copies = now_.states.size();
    constexpr std::size_t kWorthThreads = 50000; // steps of copies: a few milliseconds
    if (copies * static_cast<std::size_t>(steps) < kWorthThreads) {
        play(0, copies, steps);
    } else {
        base::parallelFor(copies, 64, [&](std::size_t first, std::size_t end) { play(first, end, steps); });
    }
    now_.step = wanted;
}

} // namespace ripple::scatter
