#pragma once

#include "scatter/ground.h"
#include "scatter/placement.h"

#include <cstddef>
#include <cstdint>
#include <memory>
#include <optional>
#include <span>
#include <vector>

#include <glm/vec4.hpp>

namespace ripple::scatter {

/// One copy at an instant: where it stands and what it plays (docs/definitions.md §14).
struct CopyState {
    glm::vec3 origin{0.0f};                     ///< metres, world
    float scale = 1.0f;                         ///< from the object to the world
    glm::vec4 rotation{0.0f, 0.0f, 0.0f, 1.0f}; ///< unit quaternion x y z w
    int clip = 0;
    float frame = 0.0f; ///< of the clip
    int clipBefore = 0; ///< what is faded from
    float frameBefore = 0.0f;
    float fade = 1.0f;    ///< 0: all of what was before; 1: all of what is now; even in time
    float id = 0.0f;      ///< 0..1, another one for each copy
    float turn = 0.0f;    ///< of a score's loop, 0..1
    float speed = 0.0f;   ///< over the ground, metres a second
    int image = 0;        ///< which of the base colour's images
    glm::vec3 tint{1.0f}; ///< linear; what the base colour is multiplied with
    bool operator==(const CopyState&) const = default;
};

/// How copies get about.
enum class Travel {
    still,
    wander, ///< at one speed, while they play a clip that walks
    gaits,  ///< at changing speeds, each with the clip that is made for it
    fly,    ///< through the volume, as a swarm does
};

/// A row for each: its name in files, and words.
struct TravelRow {
    Travel travel;
    const char* id;
    const char* label;
    const char* about; ///< one sentence for people
};
std::span<const TravelRow> travelRows();
const TravelRow& rowOf(Travel travel);

/// A clip as a crowd plays it.
struct CrowdClip {
    float frames = 1.0f; ///< that it plays; at least 1
    float fps = 30.0f;   ///< above 0
    bool closed = true;  ///< it goes round; else it gives way to another at its end
    float walks = 0.0f;  ///< metres a second that its feet cover at its own rate and at size 1; 0: it stands
    bool operator==(const CrowdClip&) const = default;
};

/// All that a crowd does.
struct CrowdChoices {
    Differences differences;      ///< clipWeights: how often each of `clips` is chosen
    std::vector<CrowdClip> clips; ///< none: a score is played
    std::vector<float> fades;     ///< clips × clips: seconds from the clip of the row to that of the column
    float loopSeconds = 1.0f;     ///< of a score, above 0
    Travel travel = Travel::still;
    float speed = 0.4f;   ///< metres a second at size 1 and at the clip's own rate, 0 and more
    float fastest = 0.8f; ///< of Travel::gaits, at least `speed`
    float facing = 0.0f;  ///< which way the model looks: turns about +Y, 0 is +Z, a quarter is +X
    glm::vec3 area{10.0f, 3.0f, 10.0f}; ///< metres about the middle in which they stay
    bool alongSurface = false;
    glm::vec3 tints[2] = {glm::vec3(1.0f), glm::vec3(1.0f)}; ///< linear
    int images = 1;
    bool operator==(const CrowdChoices&) const = default;
};

/// Copies that play, change clips by cross-fades, and travel. Everything that they decide is a hash of the
/// seed, the copy's index and how often it has decided before, and time goes in steps: the same for everyone.
class Crowd {
    /// What a copy keeps from step to step.
    struct Mind {
        std::uint32_t index = 0;
        std::uint32_t decided = 0; ///< how often
        float rate = 1.0f;         ///< of its clips
        float seconds = 0.0f;      ///< until it decides again
        float progress = 1.0f;     ///< of what it decided last: 0 to 1, at which that is all it does
        float fadeRate = 0.0f;     ///< of the progress, a second
        bool changes = false;      ///< its clip fades; else its speed alone
        bool lost = false;         ///< beside the ground
        float heading = 0.0f;      ///< turns about +Y: 0 goes toward +Z
        float turning = 0.0f;      ///< turns a second
        float wished = 0.0f;       ///< the same, as it was decided
        float speedBefore = 0.0f;  ///< what it goes from and to, metres a second
        float speedNow = 0.0f;
        float clipRateBefore = 1.0f; ///< how fast its clip played beside `rate`, and so fades out
        float clipRate = 1.0f;       ///< how fast it plays after what it decided last
        glm::vec3 home{0.0f};
    };

public:
    static constexpr int kStepsASecond = 60;

    /// All that a crowd is after a step.
    struct Moment {
        long step = 0;
        std::vector<Mind> minds;       ///< copies
        std::vector<CopyState> states; ///< copies

        std::size_t bytes() const { return minds.size() * (sizeof(Mind) + sizeof(CopyState)); }
    };

    /// `placed`: where they begin. Throws base::Failure for a clip without frames, or fades that are not as
    /// many as clips × clips.
    Crowd(CrowdChoices choices, std::span<const Copy> placed, std::shared_ptr<const Ground> ground);

    /// Goes to the step nearest to `seconds` (0 and more); back is from the beginning. No allocation, but for
    /// threads where many copies go far.
    void goTo(double seconds);
    /// Which step that is.
    static long stepAt(double seconds);
    long at() const { return now_.step; }
    const Moment& moment() const { return now_; }
    /// To a moment of this crowd; goTo() goes on from there.
    void take(const Moment& moment) { now_ = moment; }
    std::span<const CopyState> states() const { return now_.states; }
    const CrowdChoices& choices() const { return choices_; }

private:
    /// How much of what was decided last has come about, 0..1: by it clips fade and the speed changes.
    static float eased(const Mind& mind);
    void begin();
    /// Of some copies, so many steps.
    void play(std::size_t first, std::size_t end, long steps);
    void decide(Mind& mind, CopyState& state, bool first);
    int clipFor(const Mind& mind, float wish) const;
    void play(Mind& mind, CopyState& state, float seconds);
    void walk(Mind& mind, CopyState& state, float seconds);
    void fly(const Mind& mind, CopyState& state, long step) const;
    void stand(CopyState& state, const glm::quat& yaw, const std::optional<Spot>& spot) const;

    CrowdChoices choices_;
    std::vector<Copy> placed_;
    std::shared_ptr<const Ground> ground_;
    std::vector<float> limits_;    ///< up to which hash each clip is chosen
    glm::vec2 facing_{0.0f, 1.0f}; ///< sine and cosine of half of what the model is turned by
    bool anyWalks_ = false;
    bool changes_ = false; ///< there is more than one thing to decide for
    Moment now_;
};

} // namespace ripple::scatter
