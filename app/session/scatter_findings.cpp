#include "app/session/scatter_findings.h"

#include "app/session/words.h"
#include "base/units.h"

#include <QFileInfo>
#include <QImageReader>

#include <algorithm>

namespace ripple::app {

namespace {

OpenFinding finding(Lamp lamp, const QString& title, const QString& words) {
    OpenFinding open;
    open.lamp = lamp;
    open.bench = "scatter";
    open.title = title;
    open.words = words;
    return open;
}

void addMerged(Session& session, const ScatterState& state, std::vector<OpenFinding>& all) {
    if (!state.mergeLoss || *state.mergeLoss <= session.tolerance()) {
        return;
    }
    OpenFinding open = finding(
        Lamp::look,
        Findings::tr("Merged copies stand up to %1 from where separate ones would")
            .arg(text(base::lengthText(*state.mergeLoss))),
        Findings::tr(
            "In one mesh heights, distances and pivots are the merged mesh's: what reads them goes wrong."));
    const auto keep = [&](const QString& label, scatter::Keeps keeps) {
        open.fixes.push_back({label, [&session, label, keeps] {
                                  session.edit(label,
                                               [keeps](project::Document& d) { d.scatter.keeps = keeps; });
                              }});
    };
    if (state.choices.keeps != scatter::Keeps::uvs) {
        keep(Findings::tr("Store pivots in UV sets"), scatter::Keeps::uvs);
    }
    if (state.score && state.choices.keeps == scatter::Keeps::nothing) {
        keep(Findings::tr("Store masks"), scatter::Keeps::masks);
    }
    all.push_back(std::move(open));
}

} // namespace

void addScatterFindings(Session& session, std::vector<OpenFinding>& all) {
    if (const auto& problem = session.scatterProblem()) {
        OpenFinding open = finding(Lamp::broken,
                                   text(problem->where).left(1).toUpper() + text(problem->where).mid(1) +
                                       " " + text(problem->what),
                                   text(problem->fix) + ".");
        open.fixes.push_back({Findings::tr("Stand on the flat quay"), [&session] {
                                  session.edit(Findings::tr("Stand on the flat quay"),
                                               [](project::Document& d) { d.scatter.ground = "flat"; });
                              }});
        if (session.document().scatter.ground == "flat") {
            open.fixes.clear();
        }
        all.push_back(std::move(open));
    }
    const auto state = session.scatter();
    if (!state) {
        return;
    }
    addMerged(session, *state, all);
    for (const std::string& file : session.document().scatter.images) {
        if (!QImageReader(pathText(file)).canRead()) {
            OpenFinding open =
                finding(Lamp::look,
                        Findings::tr("The image %1 can't be read").arg(QFileInfo(pathText(file)).fileName()),
                        Findings::tr("Copies that take it are white."));
            open.fixes.push_back({Findings::tr("Leave it out"), [&session, file] {
                                      session.edit(
                                          Findings::tr("Leave out an image"),
                                          [&](project::Document& d) { std::erase(d.scatter.images, file); });
                                  }});
            all.push_back(std::move(open));
        }
    }
    const glm::vec3 size = state->measured.bounds.size();
    const double wide = static_cast<double>(std::min(size.x, size.z)) *
                        static_cast<double>(state->choices.differences.leastSize);
    if (state->placed.spacing > 0.0 && state->placed.spacing < 0.5 * wide) {
        all.push_back(finding(
            Lamp::look, Findings::tr("Copies stand in each other"),
            Findings::tr("The nearest two are %1 apart, and each is %2 wide. Take fewer, or a larger area.")
                .arg(text(base::lengthText(state->placed.spacing)), text(base::lengthText(wide)))));
    }
}

} // namespace ripple::app
