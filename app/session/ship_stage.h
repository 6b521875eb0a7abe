#pragma once

#include "app/session/bake_stage.h"
#include "bundle/check.h"
#include "bundle/code_cost.h"
#include "bundle/write_bundle.h"

#include <QTimer>

#include <map>

namespace ripple::app {

/// A file that shipping would write.
struct ShipFile {
    std::string file;
    std::size_t bytes = 0;
};

struct ShipState {
    bool asCode = false;
    bundle::Manifest manifest;   ///< of a bake
    bundle::ScoreManifest score; ///< of a score as code
    std::vector<ShipFile> files;
    std::size_t notesBytes = 0; ///< manifest and IMPORT.md, to within the digits of the measured error
    std::map<std::string, std::string> code; ///< by language: "glsl"
    bundle::CodeCost cost;
};

/// What is shipped: how large it will be; and writing and checking it.
class ShipStage : public Computed {
    Q_OBJECT
public:
    ShipStage(const project::Document& document, PerformanceStage& performance, BakeStage& bake);

    /// How long a change must have come to rest before its files are sized: milliseconds.
    void setRest(int milliseconds) { soon_.setInterval(milliseconds); }

    /// What would be written; null without a bake.
    std::shared_ptr<const ShipState> sized() const { return sized_; }
    bool sizing() const { return sizeJob_.running() || soon_.isActive(); }
    /// Of what was written, as long as that is what the document says.
    std::shared_ptr<const bundle::CheckReport> check() const { return check_; }
    /// A bundle was written, and what was chosen is another by now.
    bool changedSinceWritten() const { return changedSinceWritten_; }
    const std::optional<base::Problem>& problem() const { return problem_; }
    LatestJob& job() { return writeJob_; }
    /// Writing goes on when what is above changes: it has all it needs.
    std::vector<LatestJob*> jobs() override { return {&sizeJob_}; }

    /// A score is shipped, as code, with these choices; else a bake.
    bool asCode() const;
    bundle::ScoreChoices choices() const;
    /// Where it is written to; empty while no folder is chosen.
    QString folder() const;
    /// Sizes the files once the bake has come to rest; without a bake there is nothing to size.
    void sizeSoon();
    void size();
    /// Whether sizes are looked at: else what changes is sized when they are.
    void want(bool wanted);
    /// A bake begins whose files will be others.
    void stopSizing();
    /// What was written and checked is no longer what the document says.
    void documentChanged();
    void write();

Q_SIGNALS:
    void sizedChanged();
    void written();
    void failed();

protected:
    void clear() override;
    void outdate() override {}

private:
    bundle::Origin origin() const;     ///< of what is baked: goes into the manifest
    bundle::Delivery delivery() const; ///< of a bake

    const project::Document& document_;
    PerformanceStage& performance_;
    BakeStage& bake_;
    std::shared_ptr<const ShipState> sized_;
    std::shared_ptr<const bundle::CheckReport> check_;
    bool changedSinceWritten_ = false;
    bool wanted_ = true;
    bool owed_ = false; ///< there is something to size
    std::optional<base::Problem> problem_;
    QTimer soon_;
    LatestJob sizeJob_;
    LatestJob writeJob_;
};

} // namespace ripple::app
