#include "source/obj_parse.h"

#include "base/text.h"
#include "source/text_lines.h"

#include <algorithm>
#include <cstring>

namespace ripple::source {

namespace {

/// A 1-based or negative (counted from the end) index as 0-based.
std::int32_t index(TextLines& lines, std::size_t count) {
    const std::int64_t raw = lines.whole();
    const auto have = static_cast<std::int64_t>(count);
    const std::int64_t zeroBased = raw < 0 ? have + raw : raw - 1;
    if (zeroBased < 0 || zeroBased >= have) {
        lines.failHere("is an index out of range: " + std::to_string(raw) + " of " + std::to_string(have),
                       "export it again");
    }
    return static_cast<std::int32_t>(zeroBased);
}

void parseFace(TextLines& lines, ObjFile& file) {
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

void addFaceText(std::string& text, std::string_view line) {
    text.append(line);
    text += '\n';
}

} // namespace

ObjFile parseObj(std::span<const std::byte> bytes, const std::string& where) {
    ObjFile file;
    std::uint32_t material = 0;
    TextLines lines(bytes, where);
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
            const std::string name = base::likelyUtf8(lines.rest());
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
    TextLines lines(bytes, where);
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

} // namespace ripple::source
