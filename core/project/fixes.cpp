#include "project/fixes.h"

#include "base/units.h"
#include "mesh/bounds.h"

#include <algorithm>

namespace ripple::project {

namespace {

const source::Clip* clipNamed(const source::FrameSource& source, const std::string& name) {
    for (const source::Clip& clip : source.clips()) {
        if (clip.name == name) {
            return &clip;
        }
    }
    return nullptr;
}

void addCount(std::vector<std::string>& lines, std::size_t now, std::size_t old, const char* noun) {
    if (now != old) {
        lines.push_back(base::plural(now, noun) + ", " + (old == 1 ? "was " : "were ") +
                        base::countText(old));
    }
}

} // namespace

void applyFix(Document& document, const inspect::Fix& fix) {
    if (fix.reading) {
        document.source.reading = *fix.reading;
    }
    if (fix.sampleRate) {
        document.recipe.fps = *fix.sampleRate;
    }
    if (fix.maxWidth) {
        document.recipe.maxWidth = *fix.maxWidth;
    }
    if (fix.followOutside) {
        document.source.followOutside = true;
    }
    if (fix.lookupByItself) {
        document.recipe.lookupUvSet.reset();
    }
    if (fix.clips) {
        document.recipe.clips = *fix.clips;
    }
}

std::vector<std::string> dropStaleChoices(Document& document, const source::FrameSource& now) {
    std::vector<std::string> lines;
    bake::Recipe& recipe = document.recipe;
    std::vector<bake::ClipChoice> kept;
    for (bake::ClipChoice choice : recipe.clips) {
        const source::Clip* clip = clipNamed(now, choice.name);
        if (!clip) {
            lines.push_back("clip " + choice.name + " is gone and no longer chosen");
            continue;
        }
        if (choice.window && clip->isSequence() && choice.window->last >= clip->frames) {
            lines.push_back("frames " + std::to_string(choice.window->first) + "–" +
                            std::to_string(choice.window->last) + " no longer fit; all are taken");
            choice.window.reset();
        }
        kept.push_back(std::move(choice));
    }
    recipe.clips = std::move(kept);
    return lines;
}

std::vector<std::string> describeChange(const source::FrameSource& old, const source::FrameSource& now) {
    std::vector<std::string> lines;
    addCount(lines, now.mesh().vertexCount(), old.mesh().vertexCount(), "vertex");
    addCount(lines, now.mesh().triangleCount(), old.mesh().triangleCount(), "triangle");
    addCount(lines, now.mesh().uvSets.size(), old.mesh().uvSets.size(), "UV set");
    addCount(lines, now.joints().size(), old.joints().size(), "joint");
    for (const source::Clip& clip : now.clips()) {
        const source::Clip* before = clipNamed(old, clip.name);
        if (!before) {
            lines.push_back("clip " + clip.name + " is new");
        } else if (clip.isSequence() && clip.frames != before->frames) {
            addCount(lines, clip.frames, before->frames, "frame");
        } else if (clip.duration != before->duration) {
            lines.push_back(clip.name + " lasts " + base::secondsText(clip.duration) + ", was " +
                            base::secondsText(before->duration));
        }
    }
    for (const source::Clip& clip : old.clips()) {
        if (!clipNamed(now, clip.name)) {
            lines.push_back("clip " + clip.name + " is gone");
        }
    }
    mesh::Bounds a;
    mesh::Bounds b;
    a.add(old.mesh().positions);
    b.add(now.mesh().positions);
    if (lines.empty() && a != b) {
        lines.push_back("another size: " + base::lengthText(static_cast<double>(b.diagonal())) +
                        " from corner to corner, was " + base::lengthText(static_cast<double>(a.diagonal())));
    }
    return lines;
}

} // namespace ripple::project
