// Every animated file of the installed test models whose motion joints hold: decoded at kept frames it is the
// source's own, and between them far nearer than blended vertices are.

#include "bake/bake.h"
#include "bake/error.h"
#include "bake/kind.h"
#include "model_files.h"
#include "problem_of.h"
#include "source/open.h"
#include "source/rig.h"
#include "suite.h"

#include <QTest>

using namespace ripple;

namespace {

bake::ErrorReport errorOf(const source::FrameSource& source, const bake::Recipe& recipe) {
    const bake::SamplePlan plan = bake::planSampling(source, recipe);
    const bake::Baked baked = bake::bake(source, plan, recipe);
    return bake::measureError(source, plan, {}, baked.reader(source.mesh()), baked.textures.clips,
                              base::noProgress(), bake::Detail::positions);
}

} // namespace

class TestJointModels : public QObject {
    Q_OBJECT
private Q_SLOTS:
    void animatedModelsMoveByTheirJoints() {
        std::size_t animated = 0;
        std::size_t moving = 0;
        QStringList wrong;
        for (const auto& file : tests::modelFiles()) {
            std::shared_ptr<const source::FrameSource> source;
            std::shared_ptr<const source::Rig> rig;
            try {
                source = source::open(file);
                rig = source->rig();
            } catch (const base::Failure&) {
                continue; // not read, or moved by more than joints
            }
            const source::Clip& clip = source->clips()[0];
            const double seconds = clip.duration;
            // Two seconds tell as much as minutes of captured motion do.
            const std::size_t frames = static_cast<std::size_t>(std::min(seconds, 2.0) * clip.fps) + 1;
            if (clip.duration <= 0.0 || frames * source->mesh().vertexCount() > 2000000) {
                continue;
            }
            ++animated;
            const std::string name = file.string().substr(std::string(MODELS_FOLDER).size());
            bake::Recipe recipe;
            recipe.positionStore = "float32";
            recipe.maxWidth = bake::kLargestTexture;
            recipe.closing = bake::Closing::asIs;
            if (seconds > 2.0) {
                recipe.clips = {{clip.name, bake::FrameWindow{0, frames - 1}, std::nullopt}};
            } else {
                recipe.clips = {{clip.name, std::nullopt, std::nullopt}};
            }
            try {
                const bake::ErrorReport vertices = errorOf(*source, recipe);
                recipe.kind = &bake::kJoints;
                recipe.influences = 8;
                const bake::ErrorReport joints = errorOf(*source, recipe);
                const auto say = [&](const char* what, double part) {
                    wrong << QString("%1 %2 %3").arg(QString::fromStdString(name), what).arg(part);
                };
                if (source->influences() <= 8 && joints.atFrames.max > 1e-5 * joints.diagonal) {
                    say("is off at kept frames by part of its size", joints.atFrames.max / joints.diagonal);
                }
                // What moves evenly is blended without loss either way.
                const double nothing = 5e-6 * joints.diagonal;
                if (vertices.betweenFrames.max > nothing) {
                    ++moving;
                    if (joints.betweenFrames.max > 0.1 * vertices.betweenFrames.max + nothing) {
                        say("blends worse than a tenth:",
                            joints.betweenFrames.max / vertices.betweenFrames.max);
                    }
                }
            } catch (const base::Failure& failure) {
                wrong << QString::fromStdString(name + ": " + failure.problem().line());
            }
        }
        QVERIFY2(wrong.isEmpty(), qPrintable(wrong.join("\n")));
        QVERIFY2(animated >= 25 && moving >= 12, qPrintable(QString("%1, %2").arg(animated).arg(moving)));
    }
};

static const ripple::tests::SuiteOf<TestJointModels> kSuite;
#include "test_joint_models.moc"
