#include "bundle/check_score.h"

#include "base/files.h"
#include "base/progress.h"
#include "base/units.h"
#include "bundle/file_check.h"
#include "bundle/read_bundle.h"
#include "bundle/score_manifest.h"
#include "emit/identifier.h"
#include "motion/half_precision.h"
#include "motion/perform.h"
#include "source/open.h"

#include <algorithm>
#include <charconv>
#include <cmath>

#include <glm/geometric.hpp>
#include <glm/vector_relational.hpp>
#include <nlohmann/json.hpp>

namespace ripple::bundle {

namespace {

constexpr int kTurns = 24;

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
            const base::Bytes bytes = base::readFile(directory_ / file_);
            code_ = std::string(base::asText(bytes));
            const mesh::Bounds& bounds = manifest_.bounds;
            states(own("loop_seconds"), {manifest_.loopSeconds});
            states(own("bounds_min"), vector(bounds.min));
            states(own("bounds_max"), vector(bounds.max));
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

/// What the score makes of the inputs that the mesh holds.
class OnInputs {
    static motion::Composition compose(const ScoreManifest& manifest) {
        const motion::Composition exact = motion::composeScore(*manifest.origin.score, manifest.model);
        return manifest.halfLossMetres ? motion::inHalfPrecision(exact) : exact;
    }

public:
    OnInputs(const mesh::Mesh& mesh, const ScoreManifest& manifest)
        : composition_(compose(manifest)),
          inputs_(mesh, manifest.inputs, composition_),
          roots_{composition_.position, composition_.normal},
          evaluator_(composition_.graph, roots_) {}

    void pose(double turn, std::span<glm::vec3> positions, std::span<glm::vec3> normals) const {
        const motion::Evaluator::Target targets[] = {{{}, positions}, {{}, normals}};
        evaluator_.run(inputs_.fields(), {}, static_cast<float>(turn), targets);
    }

private:
    motion::Composition composition_;
    ReadInputs inputs_;
    std::array<motion::NodeId, 2> roots_;
    motion::Evaluator evaluator_;
};

void compare(const OnInputs& read, const ScoreManifest& manifest, const mesh::Mesh& mesh,
             const source::FrameSource* against, const base::Progress& progress, CheckReport& report) {
    const std::size_t vertices = mesh.vertexCount();
    if (against && against->mesh().vertexCount() != vertices) {
        base::fail(manifest.meshFile,
                   "has " + std::to_string(vertices) + " vertices, the source has " +
                       std::to_string(against->mesh().vertexCount()),
                   "compare with the source that the score was written for, or write it for this one");
    }
    std::optional<motion::Performance> wanted;
    if (against) {
        wanted.emplace(*manifest.origin.score, against->mesh());
        report.error.emplace();
        report.error->diagonal = static_cast<double>(manifest.model.size);
    }
    std::vector<glm::vec3> positions(vertices);
    std::vector<glm::vec3> normals(vertices);
    std::vector<glm::vec3> rightPositions(vertices);
    std::vector<glm::vec3> rightNormals(vertices);
    bake::ErrorReport error;
    double squares = 0.0;
    std::size_t count = 0;
    for (int t = 0; t < kTurns; ++t) {
        progress.checkpoint();
        const double turn = static_cast<double>(t) / kTurns;
        read.pose(turn, positions, normals);
        mesh::Bounds reached;
        reached.add(positions);
        const bool finite = !motion::findStray(turn, positions, normals).has_value();
        if (!finite || glm::any(glm::lessThan(reached.min, manifest.bounds.min)) ||
            glm::any(glm::greaterThan(reached.max, manifest.bounds.max))) {
            report.problems.push_back({manifest.meshFile,
                                       finite ? "moves out of the bounds in the manifest"
                                              : "holds values of which the score makes no finite positions",
                                       "the mesh was changed, or its inputs; write the bundle again"});
            return;
        }
        if (!wanted) {
            continue;
        }
        wanted->pose(turn, {}, rightPositions, rightNormals);
        for (std::size_t v = 0; v < vertices; ++v) {
            const auto off = static_cast<double>(glm::distance(positions[v], rightPositions[v]));
            squares += off * off;
            ++count;
            if (off > error.all.max) {
                error.all.max = off;
                error.worstVertex = v;
            }
        }
        progress.report(static_cast<double>(t + 1) / kTurns);
    }
    if (!wanted) {
        return;
    }
    error.all.rms = std::sqrt(squares / static_cast<double>(std::max<std::size_t>(count, 1)));
    error.atFrames = error.all;
    report.error->all = error.all;
    report.error->atFrames = error.atFrames;
    report.error->worstVertex = error.worstVertex;
    // What half precision loses was measured at other instants.
    report.allowedAtFrames = 1e-5 * manifest.model.size + 1.5 * manifest.halfLossMetres.value_or(0.0);
    if (error.all.max > report.allowedAtFrames) {
        report.problems.push_back(
            {manifest.meshFile,
             "moves otherwise than the source does: off by " + base::lengthText(error.all.max) +
                 " at vertex " + std::to_string(error.worstVertex),
             "the source, the mesh or its UV sets changed since; write the bundle again"});
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

CheckReport checkScore(const std::filesystem::path& directory, const source::FrameSource* against,
                       const base::Progress& progress) {
    CheckReport report;
    try {
        const std::filesystem::path file = manifestFile(directory);
        const base::Bytes bytes = base::readFile(file);
        const ScoreManifest manifest =
            parseScoreManifest(std::string(base::asText(bytes)), file.filename().string());
        report.problems = manifest.doubts;
        checkFiles(directory, manifest.files, report);
        CodeCheck(directory, manifest, report).run();
        const auto opened = source::open(insideBundle(directory, manifest.meshFile));
        if (opened->mesh().vertexCount() != manifest.vertices) {
            base::fail(manifest.meshFile,
                       "has " + std::to_string(opened->mesh().vertexCount()) +
                           " vertices, the manifest says " + std::to_string(manifest.vertices),
                       "the mesh was changed; write the bundle again");
        }
        compare(OnInputs(opened->mesh(), manifest), manifest, opened->mesh(), against, progress, report);
    } catch (const base::Failure& failure) {
        const base::Problem& problem = failure.problem();
        if (std::find(report.problems.begin(), report.problems.end(), problem) == report.problems.end()) {
            report.problems.push_back(problem);
        }
    }
    return report;
}

} // namespace ripple::bundle
