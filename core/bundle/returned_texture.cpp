// What was done to a texture, found by trying: every way that importers are known to turn, swap, bend and
// round values is applied to some texels of the original and compared with what came back.

#include "bundle/returned.h"

#include "base/srgb.h"
#include "base/units.h"
#include "image/texels.h"
#include "bundle/texture_damage.h"

#include <algorithm>
#include <array>
#include <cmath>
#include <limits>
#include <set>

namespace ripple::bundle {

namespace {

using image::Image;
using image::Pixel;

constexpr std::array<std::array<std::size_t, 3>, 6> kOrders = {
    {{0, 1, 2}, {2, 1, 0}, {0, 2, 1}, {1, 0, 2}, {1, 2, 0}, {2, 0, 1}}};
enum class Curve { none, toSrgb, fromSrgb };

/// One way in which the values may have come about.
struct Way {
    bool rowsFlipped = false;
    bool columnsFlipped = false;
    std::size_t firstRow = 0; ///< of the original, that is the first of those left
    std::size_t order = 0;    ///< of kOrders
    Curve curve = Curve::none;
    bool premultiplied = false;
    bool eightBitsBefore = false; ///< the curve

    int changes() const {
        return int(rowsFlipped) + int(columnsFlipped) + int(order != 0) + int(curve != Curve::none) +
               int(premultiplied) + int(eightBitsBefore);
    }
};

float roundedTo(float value, float most) {
    return std::round(std::clamp(value, 0.0f, 1.0f) * most) / most;
}

bool isWhole(Pixel pixel) {
    return pixel == Pixel::u8 || pixel == Pixel::u16;
}

class Search {
public:
    Search(const Image& original, const Image& given, std::size_t rowsPerFrame)
        : original_(original),
          given_(given),
          rowsPerFrame_(rowsPerFrame) {
        missing_ = given.width == original.width && given.height < original.height &&
                           (original.height - given.height) % rowsPerFrame == 0
                       ? original.height - given.height
                       : 0;
        scaled_ = missing_ == 0 && (given.width != original.width || given.height != original.height);
        eightBits_ = given.pixel == Pixel::u8 || onlySteps();
        chooseSites();
    }

    std::vector<Change> changes() {
        struct Tried {
            Way way;
            Fit fit;
        };
        std::optional<Tried> best;    // of those that explain every value
        std::optional<Tried> nearest; // of all
        for (const Way& way : ways()) {
            const Fit fit = fitOf(way);
            const auto better = [&](const std::optional<Tried>& than) {
                return !than || way.changes() < than->way.changes() ||
                       (way.changes() == than->way.changes() && fit.rms < than->fit.rms);
            };
            if (fit.explained && better(best)) {
                best = Tried{way, fit};
            }
            const auto score = [](const Tried& tried) {
                return tried.fit.rms * (1.0 + 0.25 * tried.way.changes());
            };
            if (!nearest || score({way, fit}) < score(*nearest)) {
                nearest = Tried{way, fit};
            }
        }
        if (best) {
            return listed(best->way, best->fit);
        }
        // Of the spread of the values. Blocks of four colours lose much of what is no picture.
        constexpr double kAlike = 0.2;
        constexpr double kAlikeInBlocks = 0.7;
        if (scaled_ && nearest->fit.rms < kAlike * spread_) {
            return listed(nearest->way, nearest->fit);
        }
        if (!scaled_ && nearest->fit.rms < kAlikeInBlocks * spread_ && looksCompressed(given_, original_)) {
            std::vector<Change> list = listed(nearest->way, nearest->fit);
            std::erase_if(list, [](const Change& change) { return change.id == "eight-bits"; });
            list.push_back(change(TextureDamage::blockCompressed));
            return list;
        }
        std::vector<Change> list = scaled_ ? std::vector{resized()} : std::vector<Change>();
        const Fit as = fitOf({});
        constexpr double kRounding = 20.0 / 65535.0; // where the curve of sRGB is steepest, there and back
        if (!scaled_ && as.most < kRounding) {
            return {{"rounded",
                     "values were rounded on the way, as by a curve there and back: off by up to " +
                         base::numberText(as.most),
                     "switch conversions off",
                     {},
                     0.0}};
        }
        list.push_back({"unknown",
                        "it was changed in a way that is not known: values are off by up to " +
                            base::numberText(as.most),
                        "compare the importer's settings with IMPORT.md",
                        {},
                        0.0});
        return list;
    }

private:
    struct Fit {
        bool explained = false;
        double rms = std::numeric_limits<double>::max();
        double most = 0.0;
        bool clamped = false; ///< values lay outside 0..1, and no longer do
        bool rounded = false; ///< values were rounded more coarsely than the original's
    };

    /// Whether deep values are multiples of 1/255 all.
    bool onlySteps() const {
        if (original_.pixel == Pixel::u8) {
            return false;
        }
        std::set<float> seen;
        for (std::size_t k = 0; k < 4096; ++k) {
            const std::size_t texel = k * (given_.width * given_.height) / 4096;
            for (std::size_t c = 0; c < 3; ++c) {
                const float value = valueAt(given_, texel % given_.width, texel / given_.width, c);
                if (!(std::abs(value - roundedTo(value, 255.0f)) < 2e-5f)) {
                    return false;
                }
                seen.insert(value);
            }
        }
        return seen.size() > 2; // a plain image says nothing
    }

    void chooseSites() {
        constexpr std::size_t kSites = 1500;
        const std::size_t texels = given_.width * given_.height;
        const std::size_t count = std::min(texels, kSites);
        double sum = 0.0;
        double squares = 0.0;
        std::size_t values = 0;
        for (std::size_t k = 0; k < count; ++k) {
            // Steps that share no factor with the width reach all columns and rows.
            const std::size_t texel = texels <= kSites ? k : (k * 7919 + k * texels / count) % texels;
            sites_.push_back({texel % given_.width, texel / given_.width});
            for (std::size_t c = 0; c < 3; ++c) {
                const auto value = static_cast<double>(valueAt(given_, sites_.back().x, sites_.back().y, c));
                if (std::isfinite(value)) {
                    sum += value;
                    squares += value * value;
                    ++values;
                }
            }
        }
        const double mean = values ? sum / static_cast<double>(values) : 0.0;
        spread_ =
            values ? std::sqrt(std::max(0.0, squares / static_cast<double>(values) - mean * mean)) : 0.0;
    }

    std::vector<Way> ways() const {
        std::vector<Way> all;
        std::vector<std::size_t> firstRows = {0};
        if (missing_) {
            firstRows.push_back(missing_);
        }
        const bool alpha = original_.channels == 4;
        for (const std::size_t firstRow : firstRows) {
            for (std::size_t order = 0; order < kOrders.size(); ++order) {
                for (const Curve curve : {Curve::none, Curve::toSrgb, Curve::fromSrgb}) {
                    for (int bits = 0; bits < 16; ++bits) {
                        const Way way{(bits & 1) != 0, (bits & 2) != 0, firstRow,       order,
                                      curve,           (bits & 4) != 0, (bits & 8) != 0};
                        const bool idle =
                            (way.premultiplied && !alpha) ||
                            (way.eightBitsBefore && (curve == Curve::none || original_.pixel == Pixel::u8));
                        if (!idle) {
                            all.push_back(way);
                        }
                    }
                }
            }
        }
        return all;
    }

    float originalAt(const Way& way, std::size_t x, std::size_t y, std::size_t channel) const {
        const std::size_t column = way.columnsFlipped ? given_.width - 1 - x : x;
        const std::size_t row = way.rowsFlipped ? given_.height - 1 - y : y;
        if (!scaled_) {
            return valueAt(original_, column, row + way.firstRow, channel);
        }
        // The mean of what the texel covers.
        const auto range = [](std::size_t at, std::size_t of, std::size_t texels) {
            const std::size_t first = std::min(at * texels / of, texels - 1);
            return std::pair(first, std::clamp((at + 1) * texels / of, first + 1, texels));
        };
        const auto [left, right] = range(column, given_.width, original_.width);
        const auto [top, bottom] = range(row, given_.height, original_.height);
        float sum = 0.0f;
        for (std::size_t v = top; v < bottom; ++v) {
            for (std::size_t u = left; u < right; ++u) {
                sum += valueAt(original_, u, v, channel);
            }
        }
        return sum / static_cast<float>((right - left) * (bottom - top));
    }

    float made(const Way& way, std::size_t x, std::size_t y, std::size_t channel) const {
        const std::size_t from = channel < 3 ? kOrders[way.order][channel] : channel;
        if (from >= original_.channels) {
            return 1.0f;
        }
        float value = originalAt(way, x, y, from);
        if (way.eightBitsBefore) {
            value = roundedTo(value, 255.0f);
        }
        if (channel < 3) {
            value = way.curve == Curve::toSrgb     ? base::toSrgb(value)
                    : way.curve == Curve::fromSrgb ? base::fromSrgb(value)
                                                   : value;
            value *= way.premultiplied ? originalAt(way, x, y, 3) : 1.0f;
        }
        return value;
    }

    /// How far a value may lie from its prediction, by how it is kept.
    float tolerance(const Way& way, float value) const {
        const float bent = way.curve != Curve::none || way.premultiplied ? 3e-4f : 0.0f;
        if (scaled_) {
            return 0.0f; // by other filters than this one: only likeness counts
        }
        const bool keeps = original_.pixel == Pixel::u8 && bent == 0.0f; // there is nothing to round
        if (keeps || eightBits_) {
            return keeps ? 0.5f / 255.0f : bent + 1.003f / 255.0f; // some cut off instead of rounding
        }
        if (isWhole(given_.pixel)) {
            return bent + 1.003f / 65535.0f;
        }
        return bent + (given_.pixel == Pixel::half ? std::abs(value) * 0x1p-10f + 0x1p-24f
                                                   : std::abs(value) * 1e-6f + 1e-7f);
    }

    Fit fitOf(const Way& way) const {
        Fit fit{!scaled_, 0.0, 0.0, false, false};
        double squares = 0.0;
        std::size_t values = 0;
        for (const Site& site : sites_) {
            for (std::size_t c = 0; c < given_.channels; ++c) {
                float wanted = made(way, site.x, site.y, c);
                if (isWhole(given_.pixel) && !isWhole(original_.pixel) && (wanted < 0.0f || wanted > 1.0f)) {
                    fit.clamped = true;
                    wanted = std::clamp(wanted, 0.0f, 1.0f);
                }
                const float off = apart(given_.pixel, wanted, valueAt(given_, site.x, site.y, c));
                fit.explained = fit.explained && off <= tolerance(way, wanted); // NaN explains nothing
                fit.rounded = fit.rounded || off > std::abs(wanted) * 1e-6f + 1.01f / 65535.0f ||
                              (given_.pixel == Pixel::half && off > std::abs(wanted) * 1e-6f + 1e-7f);
                if (std::isfinite(off)) {
                    fit.most = std::max(fit.most, static_cast<double>(off));
                    squares += static_cast<double>(off) * static_cast<double>(off);
                    ++values;
                }
            }
        }
        fit.rms = values ? std::sqrt(squares / static_cast<double>(values)) : fit.rms;
        return fit;
    }

    static Change change(TextureDamage damage) {
        const DamageWords& words = wordsOf(damage);
        return {words.id, words.what, words.prevention, {}, 0.0};
    }
    Change resized() const {
        for (std::size_t level = 1; level < 14; ++level) {
            if (std::max<std::size_t>(original_.width >> level, 1) == given_.width &&
                std::max<std::size_t>(original_.height >> level, 1) == given_.height) {
                Change half = change(TextureDamage::halfSize);
                if (level > 1) {
                    half.id = "mip";
                    half.what = "it is a mip map's level " + std::to_string(level);
                }
                return half;
            }
        }
        return {"resized",
                "it was resized from " + std::to_string(original_.width) + " × " +
                    std::to_string(original_.height) + " to " + std::to_string(given_.width) + " × " +
                    std::to_string(given_.height) + " texels",
                "switch size limits and powers of two off",
                {},
                0.0};
    }

    std::vector<Change> listed(const Way& way, const Fit& fit) const {
        std::vector<Change> list;
        if (scaled_) {
            list.push_back(resized());
        }
        if (missing_) {
            // What is gone from the top, before rows were turned.
            Change gone =
                change(way.firstRow ? TextureDamage::firstFrameMissing : TextureDamage::lastFrameMissing);
            if (const std::size_t frames = missing_ / rowsPerFrame_; frames > 1) {
                gone.what = std::string(way.firstRow ? "the first " : "the last ") +
                            base::plural(frames, "frame") + " are missing";
            }
            list.push_back(gone);
        }
        if (way.rowsFlipped) {
            list.push_back(change(TextureDamage::rowsFlipped));
        }
        if (way.columnsFlipped) {
            list.push_back(change(TextureDamage::columnsFlipped));
        }
        if (way.order == 1) {
            list.push_back(change(TextureDamage::channelsSwapped));
        } else if (way.order != 0) {
            std::string order;
            for (const std::size_t channel : kOrders[way.order]) {
                order += std::string(order.empty() ? "" : ", ") + std::array{"red", "green", "blue"}[channel];
            }
            list.push_back({"channels-reordered",
                            "channels hold " + order + " of the bundle",
                            "load the channels as red, green, blue",
                            {},
                            0.0});
        }
        if (way.premultiplied) {
            list.push_back(change(TextureDamage::premultiplied));
        }
        if (way.curve != Curve::none) {
            list.push_back(
                change(way.curve == Curve::toSrgb ? TextureDamage::srgbApplied : TextureDamage::srgbRemoved));
        }
        if (way.eightBitsBefore || (eightBits_ && original_.pixel != Pixel::u8 && fit.rounded)) {
            list.push_back(change(TextureDamage::eightBits));
        } else if (given_.pixel == Pixel::half && original_.pixel == Pixel::float32 && fit.rounded) {
            list.push_back({"half-precision",
                            "values were rounded to half precision",
                            "keep the file's own depth: 32-bit float",
                            {},
                            0.0});
        }
        if (fit.clamped) {
            list.push_back({"clamped",
                            "values below 0 and above 1 were cut off",
                            "keep a float format; whole numbers hold 0 to 1 only",
                            {},
                            0.0});
        }
        if (given_.channels < original_.channels) {
            list.push_back({"alpha-lost", "the alpha channel is gone", "keep four channels", {}, 0.0});
        }
        return list;
    }

    struct Site {
        std::size_t x = 0;
        std::size_t y = 0;
    };

    const Image& original_;
    const Image& given_;
    std::size_t rowsPerFrame_;
    std::size_t missing_ = 0; ///< rows
    bool scaled_ = false;
    bool eightBits_ = false;
    std::vector<Site> sites_;
    double spread_ = 0.0; ///< standard deviation of the values that came back
};

} // namespace

std::vector<Change> changesOfTexture(const Image& original, const Image& given, std::size_t rowsPerFrame) {
    return Search(original, given, rowsPerFrame).changes();
}

} // namespace ripple::bundle
