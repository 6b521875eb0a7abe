#pragma once

#include "bake/kind.h"
#include "bake/recipe.h"
#include "bake/store.h"

#include <vector>

namespace ripple::tests {

/// Rigid pieces in every store, as offsets and as positions.
inline std::vector<bake::Recipe> everyBakeOfPieces() {
    std::vector<bake::Recipe> recipes;
    for (const bake::PositionStore& store : bake::positionStores()) {
        for (const bake::Content content : {bake::Content::offset, bake::Content::absolute}) {
            bake::Recipe recipe;
            recipe.kind = &bake::kPieces;
            recipe.positionStore = store.name;
            recipe.content = content;
            recipe.maxWidth = 2;
            recipes.push_back(recipe);
        }
    }
    return recipes;
}

/// Shared shapes: a whole texel of weights and a part of one.
inline std::vector<bake::Recipe> everyBakeOfShapes() {
    std::vector<bake::Recipe> recipes;
    for (const char* store : {"float32", "half", "unorm16"}) {
        for (const char* normals : {"none", "unorm8"}) {
            bake::Recipe recipe;
            recipe.kind = &bake::kShapes;
            recipe.shapes = 5;
            recipe.positionStore = store;
            recipe.normalStore = normals;
            recipe.maxWidth = 100;
            recipes.push_back(recipe);
        }
    }
    return recipes;
}

/// Joints in every form, with influences in a texture and in UV sets.
inline std::vector<bake::Recipe> everyBakeOfJoints() {
    std::vector<bake::Recipe> recipes;
    for (const char* store : {"float32", "half", "unorm16"}) {
        for (int choice = 0; choice < 8; ++choice) {
            bake::Recipe recipe;
            recipe.kind = &bake::kJoints;
            recipe.positionStore = store;
            recipe.jointForm = choice & 1 ? bake::JointForm::matrix : bake::JointForm::automatic;
            recipe.influences = choice & 2 ? 8 : 4;
            recipe.influencesInUvs = choice & 4;
            recipe.blend = choice % 3 == 1 ? bake::Blend::cubic : bake::Blend::linear;
            recipe.maxWidth = choice == 0 ? 16 : 2048; // more than a row to a frame
            recipes.push_back(recipe);
        }
    }
    return recipes;
}

} // namespace ripple::tests
