#include "bake/test_row.h"

#include "bake/reading_code.h"
#include "image/texels.h"

#include <array>
#include <cmath>

namespace ripple::bake {

namespace {

/// Between the steps of eight bits, apart from each other, and not the same read through an sRGB curve.
constexpr std::array kValues = {0.2013f, 0.4127f, 0.8231f, 0.6349f};

/// How far what is sampled may be from it: less than a step of eight bits where the texture has more.
float tolerance(image::Pixel pixel) {
    return pixel == image::Pixel::u8 ? 1e-3f : 1e-5f;
}

} // namespace

std::optional<std::size_t> testRowOf(const BakeFormat& format, const TextureFormat& texture) {
    const bool joints = *texture.quantity == kJoint;
    const Layout& layout = joints ? format.joints.layout : format.layout;
    if (!layout.testRow || (!texture.inBlocks && !joints)) {
        return std::nullopt;
    }
    return layout.usedHeight();
}

float testValue(image::Pixel pixel, std::size_t channel) {
    image::Image one;
    one.width = one.height = one.channels = 1;
    one.pixel = pixel;
    one.data.resize(image::bytesPer(pixel));
    setValue(one, 0, 0, 0, kValues[channel]);
    return valueAt(one, 0, 0, 0);
}

void writeTestRows(TextureSet& set) {
    for (std::size_t t = 0; t < set.textures.size(); ++t) {
        const auto row = testRowOf(set, set.textures[t]);
        image::Image& image = set.images[t];
        for (std::size_t x = 0; row && x < image.width; ++x) {
            for (std::size_t c = 0; c < image.channels; ++c) {
                setValue(image, x, *row, c, kValues[c]);
            }
        }
    }
}

std::optional<std::size_t> firstWrongTestRow(const TextureSet& set) {
    for (std::size_t t = 0; t < set.textures.size(); ++t) {
        const auto row = testRowOf(set, set.textures[t]);
        const image::Image& image = set.images[t];
        for (std::size_t x = 0; row && x < image.width; ++x) {
            for (std::size_t c = 0; c < image.channels; ++c) {
                if (valueAt(image, x, *row, c) != testValue(image.pixel, c)) {
                    return t;
                }
            }
        }
    }
    return std::nullopt;
}

void addTestRowCode(ReadingCode& reading) {
    using code::Base;
    using code::Value;
    const BakeFormat& set = reading.set();
    std::vector<code::Parameter> parameters;
    code::Body body;
    const Value right = body.variable("right", code::truth(true));
    for (const TextureFormat& texture : set.textures) {
        parameters.push_back({Base::texture, texture.sampler()});
        const auto row = testRowOf(set, texture);
        if (!row) {
            continue;
        }
        const Value texel = body.fixed("test_of_" + texture.sampler(),
                                       reading.fetched(code::named(texture.sampler(), Base::texture),
                                                       texture.height, 0, static_cast<int>(*row)));
        for (std::size_t c = 0; c < texture.channelsUsed; ++c) {
            const char channel[] = {"xyzw"[c], '\0'};
            const Value off = code::absolute(texel.components(channel) - testValue(texture.pixel, c));
            body.assign(right, right && off < tolerance(texture.pixel));
        }
    }
    body.giveBack(right);
    code::Module& module = reading.module();
    module.add(code::Function{
        {"True if the textures' last rows hold what was written there. If not, a loader or importer turned,",
         "converted, resized or rounded them: show the mesh in a loud colour, and see IMPORT.md."},
        Base::boolean,
        module.own("reads_right"),
        parameters,
        body.take()});
}

} // namespace ripple::bake
