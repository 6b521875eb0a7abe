#include "source/obj_parse.h"

#include <algorithm>
#include <cmath>
#include <cstring>

#include <fast_float/fast_float.h>

namespace ripple::source {

namespace {

bool isBlank(char c) {
    return c == ' ' || c == '\t' || c == '\r';
}

/// Walks over a text line by line and, inside a line, word by word.
class Lines {
public:
    Lines(std::span<const std::byte> bytes, const std::string& where)
        : text_(base::asText(bytes)),
          where_(where),
          at_(text_.data()),
          end_(text_.data() + text_.size()) {}

    /// Moves to the next line; false at the end.
    bool next() {
        if (at_ >= end_) {
            return false;
        }
        line_ = at_;
        const auto* newline =
            static_cast<const char*>(std::memchr(at_, '\n', static_cast<std::size_t>(end_ - at_)));
        lineEnd_ = newline ? newline : end_;
        at_ = newline ? newline + 1 : end_;
        word_ = line_;
        skipBlanks();
        return true;
    }

    /// True if the line's first word is `keyword`; then the cursor stands behind it.
    bool startsWith(std::string_view keyword) {
        const auto room = static_cast<std::size_t>(lineEnd_ - word_);
        if (room > keyword.size() && std::memcmp(word_, keyword.data(), keyword.size()) == 0 &&
            isBlank(word_[keyword.size()])) {
            word_ += keyword.size();
            skipBlanks();
            return true;
        }
        return false;
    }
    char first() const { return word_ < lineEnd_ ? *word_ : '\0'; }
    bool atLineEnd() const { return word_ >= lineEnd_; }

    float number() {
        float value = 0.0f;
        const auto result = fast_float::from_chars(word_, lineEnd_, value);
        if (result.ec != std::errc() || (result.ptr < lineEnd_ && !isBlank(*result.ptr)) ||
            !std::isfinite(value)) {
            failHere("is not a usable number",
                     "numbers need a decimal point and must be finite; export it again");
        }
        word_ = result.ptr;
        skipBlanks();
        return value;
    }

    glm::vec3 vec3() {
        const float x = number();
        const float y = number();
        const float z = number();
        return {x, y, z};
    }

    /// A whole number directly at the cursor; does not skip blanks.
    std::int64_t whole() {
        const bool minus = word_ < lineEnd_ && *word_ == '-';
        const char* digit = word_ + (minus ? 1 : 0);
        std::int64_t value = 0;
        const char* start = digit;
        while (digit < lineEnd_ && *digit >= '0' && *digit <= '9' && digit - start < 12) {
            value = value * 10 + (*digit++ - '0');
        }
        if (digit == start) {
            failHere("is not an index", "export it again");
        }
        word_ = digit;
        return minus ? -value : value;
    }
    bool take(char c) {
        if (word_ < lineEnd_ && *word_ == c) {
            ++word_;
            return true;
        }
        return false;
    }
    void skipBlanks() {
        while (word_ < lineEnd_ && isBlank(*word_)) {
            ++word_;
        }
    }

    std::string_view line() const { return {line_, static_cast<std::size_t>(lineEnd_ - line_)}; }
    std::string rest() const {
        const char* end = lineEnd_;
        while (end > word_ && isBlank(end[-1])) {
            --end;
        }
        return std::string(word_, end);
    }

    /// About the whole line.
    [[noreturn]] void failLine(const std::string& what, const std::string& fix) const {
        const auto number = 1 + std::count(text_.data(), line_, '\n');
        base::fail(where_ + ", line " + std::to_string(number), what, fix);
    }
    /// About the word at the cursor.
    [[noreturn]] void failHere(const std::string& what, const std::string& fix) const {
        const char* wordEnd = word_;
        while (wordEnd < lineEnd_ && !isBlank(*wordEnd) && wordEnd - word_ < 24) {
            ++wordEnd;
        }
        const std::string word(word_, wordEnd);
        failLine(word.empty() ? "the line breaks off" : "\"" + word + "\" " + what, fix);
    }

private:
    std::string_view text_;
    const std::string& where_;
    const char* at_;
    const char* end_;
    const char* line_ = nullptr;
    const char* lineEnd_ = nullptr;
    const char* word_ = nullptr;
};

/// A 1-based or negative (counted from the end) index as 0-based.
std::int32_t index(Lines& lines, std::size_t count) {
    const std::int64_t raw = lines.whole();
    const auto have = static_cast<std::int64_t>(count);
    const std::int64_t zeroBased = raw < 0 ? have + raw : raw - 1;
    if (zeroBased < 0 || zeroBased >= have) {
        lines.failHere("is an index out of range: " + std::to_string(raw) + " of " + std::to_string(have),
                       "export it again");
    }
    return static_cast<std::int32_t>(zeroBased);
}

void parseFace(Lines& lines, ObjFile& file) {
    const std::size_t before = file.corners.size();
    while (!lines.atLineEnd()) {
        ObjCorner corner;
        corner.v = index(lines, file.positions.size());
        if (lines.take('/')) {
            if (!lines.take('/')) {
                corner.vt = index(lines, file.uvs.size());
                if (lines.take('/')) {
                    corner.vn = index(lines, file.normals.size());
                }
            } else {
                corner.vn = index(lines, file.normals.size());
            }
        }
        file.corners.push_back(corner);
        lines.skipBlanks();
    }
    if (file.corners.size() - before < 3) {
        lines.failLine("a face has fewer than three corners", "remove it where the mesh was made");
    }
    file.faceStart.push_back(static_cast<std::uint32_t>(file.corners.size()));
}

/// Exporters of other systems write ".\\textures\\red.png".
std::string portable(std::string path) {
    std::replace(path.begin(), path.end(), '\\', '/');
    return path;
}

void addFaceText(std::string& text, std::string_view line) {
    text.append(line);
    text += '\n';
}

} // namespace

ObjFile parseObj(std::span<const std::byte> bytes, const std::string& where) {
    ObjFile file;
    std::uint32_t material = 0;
    Lines lines(bytes, where);
    while (lines.next()) {
        if (lines.startsWith("v")) {
            file.positions.push_back(lines.vec3());
            // "v x y z r g b" is a widespread way to write vertex colours.
            if (!lines.atLineEnd()) {
                const float fourth = lines.number();
                if (!lines.atLineEnd()) {
                    const float g = lines.number();
                    file.colours.resize(file.positions.size() - 1, glm::vec4(1.0f));
                    file.colours.push_back({fourth, g, lines.number(), 1.0f});
                }
            }
        } else if (lines.startsWith("vn")) {
            file.normals.push_back(lines.vec3());
        } else if (lines.startsWith("vt")) {
            const float u = lines.number();
            file.uvs.push_back({u, lines.atLineEnd() ? 0.0f : lines.number()});
        } else if (lines.startsWith("f")) {
            addFaceText(file.faceText, lines.line());
            parseFace(lines, file);
            if (file.materialNames.empty()) {
                file.materialNames.emplace_back();
            }
            file.faceMaterial.push_back(material);
        } else if (lines.startsWith("usemtl")) {
            addFaceText(file.faceText, lines.line());
            const std::string name = lines.rest();
            const auto found = std::find(file.materialNames.begin(), file.materialNames.end(), name);
            material = static_cast<std::uint32_t>(found - file.materialNames.begin());
            if (found == file.materialNames.end()) {
                file.materialNames.push_back(name);
            }
        } else if (lines.startsWith("mtllib")) {
            file.libraries.push_back(lines.rest());
        }
    }
    if (!file.colours.empty()) {
        file.colours.resize(file.positions.size(), glm::vec4(1.0f));
    }
    return file;
}

bool parseObjFrame(std::span<const std::byte> bytes, const std::string& where, const std::string& faceText,
                   std::vector<glm::vec3>& positions, std::vector<glm::vec3>& normals) {
    positions.clear();
    normals.clear();
    std::size_t compared = 0;
    Lines lines(bytes, where);
    while (lines.next()) {
        if (lines.startsWith("v")) {
            positions.push_back(lines.vec3());
        } else if (lines.first() == 'f' || lines.first() == 'u') {
            const std::string_view line = lines.line();
            if (faceText.size() - compared < line.size() + 1 ||
                std::memcmp(faceText.data() + compared, line.data(), line.size()) != 0 ||
                faceText[compared + line.size()] != '\n') {
                return false;
            }
            compared += line.size() + 1;
        } else if (lines.startsWith("vn")) {
            normals.push_back(lines.vec3());
        }
    }
    return compared == faceText.size();
}

mesh::Material readObjMaterial(const std::filesystem::path& folder, std::span<const std::string> libraries,
                               const std::string& name, base::Findings& findings) {
    mesh::Material material;
    material.name = name;
    material.doubleSided = true; // OBJ knows no back-face culling
    for (const std::string& library : libraries) {
        base::Bytes bytes;
        try {
            bytes = base::readFile(folder / portable(library));
        } catch (const base::Failure& failure) {
            findings.push_back({"material-missing", base::Severity::note, failure.problem()});
            continue;
        }
        bool ours = false;
        Lines lines(bytes, library);
        while (lines.next()) {
            if (lines.startsWith("newmtl")) {
                ours = lines.rest() == name;
            } else if (!ours) {
                continue;
            } else if (lines.startsWith("Kd")) {
                material.baseColour = glm::vec4(lines.vec3(), material.baseColour.a);
            } else if (lines.startsWith("d")) {
                material.baseColour.a = lines.number();
            } else if (lines.startsWith("map_d")) {
                material.alphaMode = mesh::AlphaMode::mask;
            } else if (lines.startsWith("map_Kd")) {
                const std::filesystem::path image = folder / portable(lines.rest());
                try {
                    auto encoded = std::make_shared<mesh::EncodedImage>();
                    encoded->bytes = base::readFile(image);
                    encoded->name = image.filename().string();
                    const std::string extension = base::extensionOf(image);
                    encoded->mimeType =
                        extension == ".jpg" || extension == ".jpeg" ? "image/jpeg" : "image/png";
                    material.baseColourImage = std::move(encoded);
                } catch (const base::Failure& failure) {
                    findings.push_back({"texture-missing",
                                        base::Severity::look,
                                        {image.filename().string(),
                                         "the base-colour image of material \"" + name +
                                             "\" can't be read: " + failure.problem().what,
                                         "put it beside the model; until then the plain colour is shown"}});
                }
            }
        }
    }
    if (material.baseColour.a < 1.0f && material.alphaMode == mesh::AlphaMode::opaque) {
        material.alphaMode = mesh::AlphaMode::blend;
    }
    return material;
}

} // namespace ripple::source
