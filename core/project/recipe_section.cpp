#include "project/recipe_section.h"

#include "bake/kind.h"
#include "bake/store.h"

#include <limits>

namespace ripple::project {

using Json = nlohmann::ordered_json;
using Section = base::JsonSection;

std::size_t positive(const Section& section, const char* key, std::size_t otherwise) {
    return section.within(key, otherwise, std::size_t(1), std::numeric_limits<std::size_t>::max());
}

namespace {

/// One of a list of names.
template <typename Value>
Value named(const Section& section, const char* key, Value otherwise,
            std::optional<Value> (*byName)(const std::string&)) {
    const auto found = byName(section.get(key, bake::name(otherwise)));
    if (!found) {
        section.refuse(key, kAdvice);
    }
    return *found;
}

bake::ClipChoice parseClip(const Section& section) {
    bake::ClipChoice clip;
    clip.name = section.get("name", "");
    if (section.has("first_frame") && section.has("last_frame")) {
        const auto first = section.get("first_frame", std::size_t(0));
        const auto last = section.get("last_frame", std::size_t(0));
        if (last < first) {
            base::fail(section.where(), "the window of clip \"" + clip.name + "\" is not possible",
                       "choose it again");
        }
        clip.window = {first, last};
    }
    if (section.has("closing")) {
        clip.closing = named(section, "closing", bake::Closing::drop, &bake::closingByName);
    }
    clip.shippedName = section.get("shipped_name", clip.shippedName);
    clip.fps = section.within("fps", clip.fps, 0.0, 1e4);
    if (section.has("play")) {
        clip.ending = named(section, "play", bake::Ending::loop, &bake::endingByName);
    }
    if (section.has("speed")) {
        const std::vector<double> speed = section.get("speed", std::vector<double>());
        if (speed.size() != 2 || !(speed[0] >= 0.0 && speed[0] <= speed[1])) {
            section.refuse("speed", kAdvice);
        }
        clip.speed = bake::SpeedRange{speed[0], speed[1]};
    }
    return clip;
}

} // namespace

Json recipeJson(const bake::Recipe& recipe) {
    Json clips = Json::array();
    for (const bake::ClipChoice& clip : recipe.clips) {
        Json entry = {{"name", clip.name}};
        if (clip.window) {
            entry["first_frame"] = clip.window->first;
            entry["last_frame"] = clip.window->last;
        }
        if (clip.closing) {
            entry["closing"] = bake::name(*clip.closing);
        }
        if (!clip.shippedName.empty()) {
            entry["shipped_name"] = clip.shippedName;
        }
        if (clip.fps > 0.0) {
            entry["fps"] = clip.fps;
        }
        if (clip.ending) {
            entry["play"] = bake::name(*clip.ending);
        }
        if (clip.speed) {
            entry["speed"] = {clip.speed->least, clip.speed->most};
        }
        clips.push_back(entry);
    }
    Json transitions = Json::array();
    for (const bake::Transition& each : recipe.transitions) {
        transitions.push_back({{"from", each.from}, {"to", each.to}, {"seconds", each.seconds}});
    }
    return {{"clips", clips},
            {"step", recipe.step},
            {"thin_m", recipe.thin},
            {"fps", recipe.fps},
            {"closing", bake::name(recipe.closing)},
            {"fade_frames", recipe.fadeFrames},
            {"kind", recipe.kind->id},
            {"shapes", recipe.shapes},
            {"content", bake::name(recipe.content)},
            {"position_store", recipe.positionStore},
            {"normal_store", recipe.normalStore},
            {"normals_in_alpha", recipe.normalsInAlpha},
            {"tangents", recipe.tangents},
            {"range_per_clip", recipe.rangePerClip},
            {"max_width", recipe.maxWidth},
            {"power_of_two", recipe.powerOfTwo},
            {"test_row", recipe.testRow},
            {"oversampling", recipe.oversampling ? Json(*recipe.oversampling) : Json(nullptr)},
            {"joint_form", bake::name(recipe.jointForm)},
            {"influences", recipe.influences},
            {"influences_in_uvs", recipe.influencesInUvs},
            {"blend", bake::name(recipe.blend)},
            {"transitions", transitions},
            {"lookup_uv_set", recipe.lookupUvSet ? Json(*recipe.lookupUvSet) : Json(nullptr)},
            {"half_uvs", recipe.halfUvs}};
}

bake::Recipe parseRecipe(const Section& section) {
    bake::Recipe recipe;
    if (section.has("clips")) {
        for (const Section& clip : section.list("clips")) {
            recipe.clips.push_back(parseClip(clip));
        }
    }
    recipe.step = positive(section, "step", recipe.step);
    recipe.fps = section.get("fps", recipe.fps);
    recipe.thin = section.get("thin_m", recipe.thin);
    // Up to version 2 there was only the choice to drop the repeated frame or not.
    recipe.closing = section.get("drop_repeated", true) ? bake::Closing::drop : bake::Closing::asIs;
    recipe.closing = named(section, "closing", recipe.closing, &bake::closingByName);
    recipe.fadeFrames = positive(section, "fade_frames", recipe.fadeFrames);
    recipe.kind = bake::kindByName(section.get("kind", recipe.kind->id));
    if (!recipe.kind) {
        section.refuse("kind", kAdvice);
    }
    recipe.shapes = positive(section, "shapes", recipe.shapes);
    if (section.has("oversampling") && !section.json()["oversampling"].is_null()) {
        recipe.oversampling =
            section.within("oversampling", std::size_t(1), std::size_t(1), bake::kMostOversampling);
    }
    recipe.jointForm = named(section, "joint_form", recipe.jointForm, &bake::jointFormByName);
    recipe.influences = section.get("influences", recipe.influences) > 4 ? 8 : 4;
    recipe.influencesInUvs = section.get("influences_in_uvs", recipe.influencesInUvs);
    recipe.blend = named(section, "blend", recipe.blend, &bake::blendByName);
    if (section.has("transitions")) {
        for (const Section& each : section.list("transitions")) {
            recipe.transitions.push_back({each.get("from", ""), each.get("to", ""),
                                          each.within("seconds", bake::kUsualFade, 0.0, bake::kLongestFade)});
        }
    }
    recipe.content = named(section, "content", recipe.content, &bake::contentByName);
    recipe.normalsInAlpha = section.get("normals_in_alpha", recipe.normalsInAlpha);
    recipe.tangents = section.get("tangents", recipe.tangents);
    recipe.rangePerClip = section.get("range_per_clip", recipe.rangePerClip);
    recipe.powerOfTwo = section.get("power_of_two", recipe.powerOfTwo);
    recipe.testRow = section.get("test_row", recipe.testRow);
    if (section.has("lookup_uv_set") && !section.json()["lookup_uv_set"].is_null()) {
        recipe.lookupUvSet = section.get("lookup_uv_set", std::size_t(0));
    }
    recipe.halfUvs = section.get("half_uvs", recipe.halfUvs);
    recipe.positionStore = bake::positionStore(section.get("position_store", recipe.positionStore)).name;
    recipe.normalStore = bake::normalStore(section.get("normal_store", recipe.normalStore)).name;
    recipe.maxWidth = positive(section, "max_width", recipe.maxWidth);
    // Older versions kept choices that the kind does not store, and left them out of the bake.
    return bake::withKind(recipe, *recipe.kind);
}

} // namespace ripple::project
