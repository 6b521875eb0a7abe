#include "bake/transitions.h"

#include "base/units.h"

#include <algorithm>

namespace ripple::bake {

namespace {

const Transition* find(std::span<const Transition> all, const std::string& from, const std::string& to) {
    const auto found = std::find_if(
        all.begin(), all.end(), [&](const Transition& each) { return each.from == from && each.to == to; });
    return found == all.end() ? nullptr : &*found;
}

} // namespace

std::vector<Transition> transitionsOf(std::span<const BakedClip> clips, std::span<const Transition> chosen) {
    std::vector<Transition> all;
    for (const BakedClip& from : clips) {
        for (const BakedClip& to : clips) {
            if (&from != &to) {
                const Transition* own = find(chosen, from.name, to.name);
                all.push_back(own ? *own : Transition{from.name, to.name, kUsualFade});
            }
        }
    }
    return all;
}

std::vector<Transition> withTransition(std::vector<Transition> chosen, const Transition& transition) {
    std::erase_if(chosen, [&](const Transition& each) {
        return each.from == transition.from && each.to == transition.to;
    });
    if (transition.seconds != kUsualFade) {
        chosen.push_back(transition);
    }
    return chosen;
}

base::Findings longFades(std::span<const BakedClip> clips, std::span<const Transition> transitions) {
    base::Findings findings;
    for (const BakedClip& clip : clips) {
        const auto longest = std::max_element(
            transitions.begin(), transitions.end(), [&](const Transition& a, const Transition& b) {
                const auto own = [&](const Transition& t) {
                    return t.from == clip.name || t.to == clip.name ? t.seconds : 0.0;
                };
                return own(a) < own(b);
            });
        if (clip.closed || longest == transitions.end() ||
            (longest->from != clip.name && longest->to != clip.name) || longest->seconds <= clip.seconds()) {
            continue;
        }
        findings.push_back(
            {"fade-longer-than-clip",
             base::Severity::look,
             {"clip \"" + clip.name + "\"",
              "takes " + base::secondsText(clip.seconds()) + ", the fade from \"" + longest->from +
                  "\" to \"" + longest->to + "\" " + base::secondsText(longest->seconds) +
                  ": it stands at its end before that is over",
              "fade more quickly, or close the clip so that it goes round"}});
    }
    return findings;
}

} // namespace ripple::bake
