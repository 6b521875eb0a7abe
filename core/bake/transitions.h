#pragma once

#include "bake/recipe.h"
#include "bake/texture_set.h"
#include "base/problem.h"

#include <span>
#include <vector>

namespace ripple::bake {

/// How clips go over into each other: of each to each other one, in the clips' order. Those that `chosen`
/// holds as it says, the others in kUsualFade.
std::vector<Transition> transitionsOf(std::span<const BakedClip> clips, std::span<const Transition> chosen);

/// The chosen transitions with another length of one; that of kUsualFade is left out.
std::vector<Transition> withTransition(std::vector<Transition> chosen, const Transition& transition);

/// Fades that take longer than a clip that does not go round, which then stands still in it.
base::Findings longFades(std::span<const BakedClip> clips, std::span<const Transition> transitions);

} // namespace ripple::bake
