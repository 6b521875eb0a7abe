// What was done to the mesh of a score's bundle, in which the code's inputs lie.

#include "bundle/attribute.h"
#include "bundle/imported_mesh.h"
#include "bundle/mesh_match.h"
#include "bundle/rehearsal.h"

#include "base/units.h"

#include <algorithm>
#include <set>

namespace ripple::bundle {

namespace {

using mesh::Mesh;

/// The UV sets that a score reads, and whether it reads colours.
struct Read {
    std::set<std::size_t> sets;
    bool colours = false;
    bool normals = false;
};

Read readBy(const std::vector<PlacedInput>& inputs) {
    Read read;
    for (const PlacedInput& input : inputs) {
        for (const std::string& from : input.from) {
            if (const auto set = uvSetOf(from)) {
                read.sets.insert(*set);
            }
            read.colours = read.colours || from == "COLOR_0";
            read.normals = read.normals || from == "NORMAL";
        }
    }
    return read;
}

class ScoreMeshSearch {
public:
    ScoreMeshSearch(const ScoreBundle& bundle, const Mesh& given, const mesh::AxisMap& map,
                    const base::Progress& progress)
        : bundle_(bundle),
          own_(bundle.mesh),
          given_(given),
          read_(readBy(bundle.manifest.inputs)),
          match_(own_, given, bundle.manifest.target, map,
                 read_.sets.empty() ? std::nullopt : std::optional(*read_.sets.begin())),
          progress_(progress) {}

    /// What is said of it; without costs.
    std::size_t look() {
        lost_ = match_.compareSets(read_.sets, "inputs of the code");
        if (read_.colours) {
            compareColours();
        }
        match_.compareTriangles();
        degrees_ = match_.compareNormals();
        return match_.changes().size();
    }

    ReturnedFile changes() {
        ReturnedFile file;
        file.file = bundle_.manifest.meshFile;
        file.degrees = degrees_ > 1.0 ? degrees_ : 0.0;
        takeCosts(file);
        file.changes = std::move(match_.changes());
        for (const Change& change : file.changes) {
            file.metres = std::max(file.metres, change.metres.value_or(0.0));
        }
        return file;
    }

private:
    void compareColours() {
        if (given_.colours.size() != given_.vertexCount()) {
            match_.add("colours-missing", "the vertex colours are gone", "keep vertex colours");
            lost_ = true;
            return;
        }
        constexpr float kExact = 1e-5f;
        constexpr float kEightBits = 0.51f / 255.0f;
        const auto within = [&](std::span<const glm::vec4> wanted, float apart) {
            return match_.all([&](std::size_t g, std::size_t o) {
                for (int c = 0; c < 4; ++c) {
                    if (std::abs(given_.colours[g][c] - wanted[o][c]) > apart) {
                        return false;
                    }
                }
                return true;
            });
        };
        const auto say = [&](TextureDamage damage) {
            const DamageWords& words = wordsOf(damage);
            match_.add(words.id, "vertex colours: " + std::string(words.what), words.prevention);
        };
        if (within(own_.colours, kExact)) {
            return;
        }
        // Rounding alone is less than anything else; then one change, then two of them.
        if (within(own_.colours, kEightBits)) {
            say(TextureDamage::eightBits);
            return;
        }
        std::vector<TextureDamage> kinds;
        for (const DamageWords& words : textureDamages()) {
            if (damagesColours(words.damage) && words.damage != TextureDamage::eightBits) {
                kinds.push_back(words.damage);
            }
        }
        std::vector<std::vector<TextureDamage>> ways;
        for (const TextureDamage one : kinds) {
            ways.push_back({one});
        }
        for (const TextureDamage one : kinds) {
            for (const TextureDamage other : kinds) {
                if (one != other) {
                    ways.push_back({one, other});
                }
            }
        }
        for (const std::vector<TextureDamage>& way : ways) {
            std::vector<glm::vec4> damaged = own_.colours;
            for (const TextureDamage damage : way) {
                damaged = damagedColours(damage, damaged);
            }
            if (within(damaged, kEightBits)) {
                std::ranges::for_each(way, say);
                if (!within(damaged, kExact)) {
                    say(TextureDamage::eightBits);
                }
                return;
            }
        }
        match_.add("colours-changed", "the vertex colours are others, in no way that is known",
                   "import vertex colours as they are");
    }

    /// The bundle's mesh with what the code reads of each vertex as it came back; places stay.
    Mesh cameBack() const {
        Mesh mesh = own_;
        const mesh::AxisMap back = match_.map().back();
        for (std::size_t g = 0; g < match_.originalOf().size(); ++g) {
            const std::uint32_t o = match_.originalOf()[g];
            if (o == MeshMatch::kNone) {
                continue;
            }
            for (const std::size_t set : read_.sets) {
                mesh.uvSets[set][o] = match_.asShipped(set, g);
            }
            if (read_.colours) {
                mesh.colours[o] = given_.colours[g];
            }
            if (read_.normals && g < given_.normals.size()) {
                mesh.normals[o] = glm::vec3(back.turned(glm::dvec3(given_.normals[g])));
            }
        }
        return mesh;
    }

    /// What the changes to inputs cost: each that can be rehearsed alone, and all together.
    void takeCosts(ReturnedFile& file) {
        std::vector<Change*> ofInputs;
        for (Change& change : match_.changes()) {
            if (!change.metres && !change.id.starts_with("vertices-")) {
                ofInputs.push_back(&change);
            }
        }
        if (lost_ || ofInputs.empty()) {
            return;
        }
        const StagedScore right = staged(bundle_);
        const Mesh mesh = cameBack();
        const PlayedScore own(right, {});
        const PlayedScore other({mesh, right.inputs, right.composition, right.loopSeconds}, {});
        const Rehearsed all = comparePlayed(own, other, progress_);
        file.metres = all.metres;
        file.degrees = std::max(file.degrees, all.degrees);
        for (Change* change : ofInputs) {
            const auto known = std::ranges::find_if(
                faults(), [&](const Fault& fault) { return change->id == std::string_view(fault.id); });
            if (ofInputs.size() == 1) {
                change->metres = all.metres;
                change->degrees = std::max(change->degrees, all.degrees);
            } else if (known != faults().end()) {
                const Fault* fault = &*known;
                const Rehearsed alone = rehearse(right, {&fault, 1}, progress_);
                change->metres = alone.metres;
                change->degrees = alone.degrees;
            }
        }
    }

    const ScoreBundle& bundle_;
    const Mesh& own_;
    const Mesh& given_;
    Read read_;
    MeshMatch match_;
    const base::Progress& progress_;
    bool lost_ = false;    ///< an input is not there at all
    double degrees_ = 0.0; ///< of normals
};

} // namespace

ReturnedFile changesOfScoreMesh(const ScoreBundle& bundle, const Mesh& given,
                                const base::Progress& progress) {
    const auto best = fewestChanges<ScoreMeshSearch>(
        bundle.mesh, given, bundle.manifest.target, [&](const mesh::AxisMap& map) {
            return std::make_unique<ScoreMeshSearch>(bundle, given, map, progress);
        });
    return best ? best->changes() : ReturnedFile{bundle.manifest.meshFile, {unknownMesh()}, 0.0, 0.0};
}

} // namespace ripple::bundle
