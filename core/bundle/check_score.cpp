#include "bundle/check_score.h"

#include "bake/compare_poses.h"
#include "base/files.h"
#include "base/progress.h"
#include "base/units.h"
#include "bundle/file_check.h"
#include "bundle/read_bundle.h"
#include "bundle/score_reader.h"
#include "bundle/test_moments.h"
#include "emit/identifier.h"
#include "motion/perform.h"

#include <algorithm>
#include <charconv>
#include <cmath>
#include <random>

#include <glm/gtc/quaternion.hpp>
#include <glm/vector_relational.hpp>
#include <nlohmann/json.hpp>

namespace ripple::bundle {

namespace {

constexpr std::size_t kTurns = 24;

/// The numbers that stand in the text behind `name` and "=", up to the end of the statement: of
/// "vec3 NAME = vec3(1.0, 2.0, 3.0);" three. In every language they stand alike.
std::vector<double> constantIn(const std::string& code, const std::string& name) {
    std::vector<double> numbers;
    std::size_t at = 0;
    // A name may be the end of a longer one.
    const auto partOfName = [](char c) { return std::isalnum(static_cast<unsigned char>(c)) || c == '_'; };
    for (at = code.find(name); at != std::string::npos; at = code.find(name, at + 1)) {
        const bool whole = (at == 0 || !partOfName(code[at - 1])) &&
                           (at + name.size() >= code.size() || !partOfName(code[at + name.size()]));
        const std::size_t equals = code.find('=', at);
        const std::size_t end = code.find(';', at);
        if (!whole || equals == std::string::npos || equals > end) {
            continue;
        }
        for (std::size_t i = equals + 1; i < end; ++i) {
            const bool begins = (std::isdigit(static_cast<unsigned char>(code[i])) || code[i] == '-') &&
                                !partOfName(code[i - 1]);
            double value = 0.0;
            if (begins) {
                const auto read = std::from_chars(code.data() + i, code.data() + end, value);
                if (read.ec == std::errc()) {
                    numbers.push_back(value);
                    i = static_cast<std::size_t>(read.ptr - code.data()) - 1;
                }
            }
        }
        return numbers;
    }
    return numbers;
}

class CodeCheck {
public:
    CodeCheck(const std::filesystem::path& directory, const ScoreManifest& manifest, CheckReport& report)
        : directory_(directory),
          manifest_(manifest),
          report_(report) {}

    void run() {
        for (const std::string& language : manifest_.languages) {
            file_ = manifest_.name + "." + language;
            const base::Bytes bytes = base::readFile(insideBundle(directory_, file_));
            code_ = std::string(base::asText(bytes));
            const mesh::Bounds& bounds = manifest_.bounds;
            states(own("loop_seconds"), {manifest_.loopSeconds});
            states(own("bounds_min"), vector(bounds.min));
            states(own("bounds_max"), vector(bounds.max));
            if (manifest_.unturnedBounds != bounds) {
                states(own("unturned_bounds_min"), vector(manifest_.unturnedBounds.min));
                states(own("unturned_bounds_max"), vector(manifest_.unturnedBounds.max));
            }
            for (const ScoreParameter& parameter : manifest_.parameters) {
                states("defaults." + parameter.name, {parameter.usual});
            }
        }
    }

private:
    std::string own(const char* what) const { return emit::identifier(manifest_.name) + "_" + what; }
    static std::vector<double> vector(const glm::vec3& v) {
        return {static_cast<double>(v.x), static_cast<double>(v.y), static_cast<double>(v.z)};
    }
    void states(const std::string& name, const std::vector<double>& wanted) {
        const std::vector<double> got = constantIn(code_, name);
        const bool same = got.size() == wanted.size() &&
                          std::equal(got.begin(), got.end(), wanted.begin(), [](double a, double b) {
                              return std::abs(a - b) <= 1e-6 * std::max(1.0, std::abs(b));
                          });
        if (!same) {
            report_.problems.push_back({file_, "states another " + name + " than the manifest does",
                                        "it was changed by hand; write the bundle again"});
        }
    }

    const std::filesystem::path& directory_;
    const ScoreManifest& manifest_;
    CheckReport& report_;
    std::string file_;
    std::string code_;
};

double turnOf(std::size_t instant) {
    return static_cast<double>(instant % kTurns) / kTurns;
}

/// One for each instant, that stand and are turned as a level has them.
std::vector<motion::Copy> someCopies(const motion::CopySizes& sizes) {
    std::vector<motion::Copy> copies;
    std::mt19937 random(5);
    std::uniform_real_distribution<float> any(-1.0f, 1.0f);
    const auto anywhere = [&] { return glm::vec3(any(random), any(random), any(random)); };
    for (std::size_t c = 0; c < kTurns; ++c) {
        motion::Copy& copy = copies.emplace_back();
        copy.origin = 50.0f * anywhere();
        copy.id = 0.5f + 0.49f * any(random);
        if (c % 3 != 0) {
            // Upright ones and those on slopes.
            const glm::quat yaw = glm::angleAxis(3.14f * any(random), glm::vec3(0.0f, 1.0f, 0.0f));
            const glm::quat tilt = glm::angleAxis(c % 2 ? 0.0f : any(random), glm::vec3(1.0f, 0.0f, 0.0f));
            copy.axes = glm::mat3_cast(yaw * tilt);
            copy.scale = c % 4 ? sizes[c / 4 % 2] : std::sqrt(sizes[0] * sizes[1]);
        }
    }
    return copies;
}

/// That what is read moves within its bounds, and as numbers: in every copy.
void checkMotion(const ScoreReader& read, const ScoreManifest& manifest, std::size_t vertices,
                 const base::Progress& progress, CheckReport& report) {
    std::vector<glm::vec3> positions(vertices);
    std::vector<glm::vec3> normals(vertices);
    const mesh::AxisMap space = manifest.target.space();
    // Once round as the mesh itself; in files that say so, once more as copies.
    std::vector<motion::Copy> copies(kTurns);
    if (manifest.copySizes) {
        std::ranges::copy(someCopies(*manifest.copySizes), std::back_inserter(copies));
    }
    for (std::size_t i = 0; i < copies.size(); ++i) {
        progress.checkpoint();
        const motion::Copy& copy = copies[i];
        const bool turned = copy.scale != 1.0f || copy.axes != glm::mat3(1.0f);
        const mesh::Bounds& bounds = turned ? manifest.bounds : manifest.unturnedBounds;
        read.pose(turnOf(i), copy, positions, normals);
        mesh::Bounds reached;
        reached.add(positions);
        reached = space.of(reached);
        const bool finite = !motion::findStray(turnOf(i), positions, normals).has_value();
        if (!finite || glm::any(glm::lessThan(reached.min, bounds.min)) ||
            glm::any(glm::greaterThan(reached.max, bounds.max))) {
            report.problems.push_back({manifest.meshFile,
                                       finite ? "moves out of the bounds in the manifest"
                                              : "holds values of which the score makes no finite positions",
                                       "the mesh was changed, or its inputs; write the bundle again"});
            return;
        }
    }
}

void compareWithSource(const ScoreReader& read, const ScoreManifest& manifest, std::size_t vertices,
                       const source::FrameSource& source, const base::Progress& progress,
                       CheckReport& report) {
    if (source.mesh().vertexCount() != vertices) {
        base::fail(manifest.meshFile,
                   "has " + std::to_string(vertices) + " vertices, the source has " +
                       std::to_string(source.mesh().vertexCount()),
                   "compare with the source that the score was written for, or write it for this one");
    }
    const motion::Performance wanted(*manifest.origin.score, source.mesh());
    report.error = bake::comparePoses(
        vertices, kTurns,
        [&](std::size_t i, auto positions, auto normals) { wanted.pose(turnOf(i), {}, positions, normals); },
        [&](std::size_t i, auto positions, auto normals) { read.pose(turnOf(i), positions, normals); },
        progress);
    // What half precision and stored masks lose was measured at other instants.
    constexpr double kElsewhere = 1.5;
    report.allowedAtFrames = 1e-5 * manifest.model.size + kElsewhere * manifest.halfLossMetres.value_or(0.0);
    const double allowedDegrees =
        0.05 + kElsewhere * (manifest.normalLossDeg.value_or(0.0) + manifest.halfLossDeg);
    const char* fix = "the source, the mesh or its UV sets changed since; write the bundle again";
    if (!(report.error->all.max <= report.allowedAtFrames)) {
        report.problems.push_back({manifest.meshFile,
                                   "moves otherwise than the source does: off by " +
                                       base::lengthText(report.error->all.max) + " at vertex " +
                                       std::to_string(report.error->worstVertex),
                                   fix});
    } else if (!(report.error->normalMaxDegrees <= allowedDegrees)) {
        report.problems.push_back({manifest.meshFile,
                                   "has other normals than the source while it moves: off by " +
                                       base::degreesText(report.error->normalMaxDegrees) +
                                       "; it may lose at most " + base::degreesText(allowedDegrees),
                                   fix});
    }
}

} // namespace

bool holdsScore(const std::filesystem::path& directory) {
    try {
        const base::Bytes bytes = base::readFile(manifestFile(directory));
        const auto json = nlohmann::json::parse(base::asText(bytes), nullptr, false);
        return json.is_object() && json.value("kind", nlohmann::json()) == "score";
    } catch (const std::exception&) {
        return false;
    }
}

ScoreManifest readScoreManifest(const std::filesystem::path& directory) {
    const std::filesystem::path file = manifestFile(directory);
    const base::Bytes bytes = base::readFile(file);
    return parseScoreManifest(std::string(base::asText(bytes)), file.filename().string());
}

CheckReport checkScore(const std::filesystem::path& directory, const source::FrameSource* against,
                       const base::Progress& progress) {
    CheckReport report;
    try {
        const ScoreManifest manifest = readScoreManifest(directory);
        report.problems = manifest.doubts;
        checkFiles(directory, manifest.files, report);
        CodeCheck(directory, manifest, report).run();
        const ScoreBundle bundle = readScoreBundle(directory);
        const ScoreReader read(bundle.mesh, manifest.inputs, bundle.composition);
        checkMotion(read, manifest, manifest.vertices, progress, report);
        const auto pose = [&](double turn, std::span<glm::vec3> positions, std::span<glm::vec3> normals) {
            read.pose(turn, positions, normals);
        };
        checkTestFile(
            directory, manifest,
            testOf(manifest.name, pose, manifest.loopSeconds, bundle.mesh.positions, manifest.target),
            manifest.model.size, report);
        if (against) {
            compareWithSource(read, manifest, manifest.vertices, *against, progress, report);
        }
    } catch (const base::Failure& failure) {
        const base::Problem& problem = failure.problem();
        if (std::find(report.problems.begin(), report.problems.end(), problem) == report.problems.end()) {
            report.problems.push_back(problem);
        }
    }
    return report;
}

} // namespace ripple::bundle
