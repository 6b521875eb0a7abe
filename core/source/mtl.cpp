#include "source/mtl.h"

#include "base/files.h"
#include "base/text.h"
#include "source/material_detail.h"
#include "source/text_lines.h"

#include <algorithm>
#include <cmath>
#include <map>
#include <optional>
#include <sstream>

#include <fast_float/fast_float.h>

namespace ripple::source {

namespace {

using mesh::MaterialDetail;

using Words = std::vector<std::string>;

Words wordsOf(const std::string& line) {
    std::istringstream stream(line);
    Words words;
    for (std::string word; stream >> word;) {
        words.push_back(word);
    }
    return words;
}

std::optional<float> numberOf(const std::string& word) {
    float value = 0.0f;
    const auto [end, error] = fast_float::from_chars(word.data(), word.data() + word.size(), value);
    const bool whole = error == std::errc() && end == word.data() + word.size() && std::isfinite(value);
    return whole ? std::optional(value) : std::nullopt;
}

/// "r g b", or one number for all three ("Kd 0.8"). None for "spectral FILE" and "xyz x y z".
std::optional<glm::vec3> colourOf(const Words& words) {
    std::vector<float> numbers;
    for (const std::string& word : words) {
        const auto number = numberOf(word);
        if (!number) {
            return std::nullopt;
        }
        numbers.push_back(*number);
    }
    return numbers.size() == 1   ? std::optional(glm::vec3(numbers[0]))
           : numbers.size() >= 3 ? std::optional(glm::vec3(numbers[0], numbers[1], numbers[2]))
                                 : std::nullopt;
}

/// How many words follow an option of a texture line; the file's name comes behind them all.
const std::map<std::string, std::size_t> kOptionWords = {
    {"-blendu", 1}, {"-blendv", 1}, {"-bm", 1}, {"-boost", 1}, {"-cc", 1},     {"-clamp", 1}, {"-imfchan", 1},
    {"-mm", 2},     {"-o", 3},      {"-s", 3},  {"-t", 3},     {"-texres", 1}, {"-type", 1}};

/// The file named on a texture line; names may hold blanks. Offsets and scales may have one to three numbers.
std::string fileOf(const std::string& line) {
    std::size_t at = 0;
    const auto skipBlanks = [&] { at = std::min(line.find_first_not_of(" \t", at), line.size()); };
    const auto word = [&] {
        const std::size_t end = std::min(line.find_first_of(" \t", at), line.size());
        return line.substr(at, end - at);
    };
    for (skipBlanks(); at < line.size(); skipBlanks()) {
        const auto option = kOptionWords.find(word());
        if (option == kOptionWords.end()) {
            break;
        }
        at += option->first.size();
        for (std::size_t i = 0; i < option->second; ++i) {
            skipBlanks();
            if (i > 0 && !numberOf(word())) {
                break;
            }
            at += word().size();
        }
    }
    return line.substr(std::min(at, line.size()));
}

/// Fills one material from the lines that are its own.
class MaterialReader {
public:
    MaterialReader(Companions& companions, mesh::Material& material, base::Findings& findings)
        : companions_(companions),
          material_(material),
          findings_(findings) {
        detail_.material.pbrMetallicRoughness.metallicFactor = 0.0;
    }

    void take(const std::string& key, const std::string& rest, const std::string& where) {
        const Words words = wordsOf(rest);
        auto& pbr = detail_.material.pbrMetallicRoughness;
        if (key == "Kd") {
            if (const auto colour = colourOf(words)) {
                material_.baseColour = glm::vec4(*colour, material_.baseColour.a);
            } else {
                note(where, "its diffuse colour is given as \"" + rest + "\", which is not read",
                     "write it as three numbers; white is taken");
            }
        } else if (key == "Ke") {
            if (const auto colour = colourOf(words)) {
                detail_.material.emissiveFactor = {static_cast<double>(colour->r),
                                                   static_cast<double>(colour->g),
                                                   static_cast<double>(colour->b)};
            }
        } else if (key == "d" || key == "Tr") {
            // "-halo" makes edges more opaque than the middle; the number behind it is the least.
            const auto number = words.empty() ? std::nullopt : numberOf(words.back());
            if (number) {
                material_.baseColour.a = std::clamp(key == "d" ? *number : 1.0f - *number, 0.0f, 1.0f);
            }
        } else if (key == "Ns" && !words.empty()) {
            if (const auto exponent = numberOf(words[0]); exponent && *exponent >= 0.0f && !roughKnown_) {
                // Of a Blinn-Phong exponent: alpha = sqrt(2 / (n + 2)) (Walter et al., Microfacet Models for
                // Refraction, 2007), and the standard's roughness is the root of alpha.
                pbr.roughnessFactor = std::pow(2.0 / (static_cast<double>(*exponent) + 2.0), 0.25);
            }
        } else if ((key == "Pr" || key == "Pm") && !words.empty()) {
            if (const auto number = numberOf(words[0])) {
                (key == "Pr" ? pbr.roughnessFactor : pbr.metallicFactor) =
                    std::clamp(static_cast<double>(*number), 0.0, 1.0);
                roughKnown_ = roughKnown_ || key == "Pr";
            }
        } else if (key == "map_d") {
            material_.alphaMode = mesh::AlphaMode::mask;
        } else if (key == "map_Kd") {
            material_.baseColourImage = image(fileOf(rest), "base-colour");
            pbr.baseColorTexture.index = addTexture(material_.baseColourImage);
        } else if (key == "map_Ke") {
            detail_.material.emissiveTexture.index = addTexture(image(fileOf(rest), "emissive"));
        } else if (key == "norm") {
            detail_.material.normalTexture.index = addTexture(image(fileOf(rest), "normal"));
        } else if (key == "map_Bump" || key == "map_bump" || key == "bump") {
            note(where, "its bump map is not passed on: the mesh file knows normal maps only",
                 "make a normal map of it, named by the key norm");
        }
    }

    void finish() {
        if (material_.baseColour.a < 1.0f && material_.alphaMode == mesh::AlphaMode::opaque) {
            material_.alphaMode = mesh::AlphaMode::blend;
        }
        tinygltf::Material& all = detail_.material;
        const auto& glow = all.emissiveFactor;
        if (all.emissiveTexture.index >= 0 &&
            std::all_of(glow.begin(), glow.end(), [](double g) { return g == 0.0; })) {
            all.emissiveFactor = {1.0, 1.0, 1.0}; // the factor that lets the map be seen
        }
        takePlainParts(material_, all);
        detail_.textures = std::make_shared<std::vector<MaterialDetail::Texture>>(std::move(textures_));
        material_.detail = std::make_shared<MaterialDetail>(std::move(detail_));
        noteTextureUses(material_);
    }

private:
    void note(const std::string& where, const std::string& what, const std::string& fix) {
        findings_.push_back({"material-part",
                             base::Severity::note,
                             {where + ": material \"" + material_.name + "\"", what, fix}});
    }

    std::shared_ptr<const mesh::EncodedImage> image(const std::string& file, const std::string& what) {
        return companions_.image(file, what, findings_);
    }

    int addTexture(const std::shared_ptr<const mesh::EncodedImage>& image) {
        if (!image) {
            return -1;
        }
        textures_.emplace_back().image = image;
        return static_cast<int>(textures_.size()) - 1;
    }

    Companions& companions_;
    mesh::Material& material_;
    base::Findings& findings_;
    MaterialDetail detail_;
    std::vector<MaterialDetail::Texture> textures_;
    bool roughKnown_ = false;
};

} // namespace

mesh::Material readObjMaterial(Companions& companions, std::span<const std::string> libraries,
                               const std::string& name, base::Findings& findings) {
    mesh::Material material;
    material.name = name;
    material.doubleSided = true; // OBJ knows no back-face culling
    MaterialReader reader(companions, material, findings);
    for (const std::string& library : libraries) {
        const auto path = companions.find(library);
        if (!path) {
            continue; // Companions::report() says so
        }
        try {
            const base::Bytes bytes = base::readFile(*path);
            const std::string where = base::likelyUtf8(library);
            bool ours = false;
            TextLines lines(bytes, where);
            while (lines.next()) {
                const std::string key(lines.word());
                const std::string rest = lines.rest();
                if (key == "newmtl") {
                    ours = base::likelyUtf8(rest) == name;
                } else if (ours) {
                    reader.take(key, rest, where);
                }
            }
        } catch (const base::Failure& failure) {
            findings.push_back({"material-missing", base::Severity::note, failure.problem()});
        }
    }
    reader.finish();
    return material;
}

} // namespace ripple::source
