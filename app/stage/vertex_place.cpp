// What a vertex stage hands to shipped code, of copies that are separate and of merged ones.

#include "app/stage/scene_shaders.h"

#include "code/tree.h"
#include "emit/dialect.h"
#include "scatter/merge_code.h"

namespace ripple::app {

namespace {

const char* const kToTheCopy = R"(    pose_position = own_origin() + own_scale() * own_rotated(pose_position);
    pose_normal = own_rotated(pose_normal);
)";

const char* const kMergedVertex =
    R"(    vec3 merged_position = own_origin() + own_scale() * own_rotated(a_position);
    vec3 merged_normal = own_rotated(a_normal);
)";

} // namespace

VertexPlace placeOfVertex(const std::optional<scatter::Keeps>& keeps, const mesh::Bounds& box) {
    if (!keeps) {
        return {"",           "a_position",  "a_normal", "own_id()", "own_origin()",
                "own_axes()", "own_scale()", kToTheCopy, ""};
    }
    if (*keeps == scatter::Keeps::nothing || *keeps == scatter::Keeps::masks) {
        // One mesh at its own origin: nothing tells where a copy was.
        return {kMergedVertex,
                "merged_position",
                "merged_normal",
                "0.0",
                "vec3(0.0)",
                "mat3(1.0)",
                "1.0",
                "",
                ""};
    }
    const bool colours = *keeps == scatter::Keeps::colours;
    code::Module module{"own_merge", {}};
    scatter::addMergeCode(module, *keeps, !colours, box);
    // The values that the vertices of the merged mesh would have.
    const std::string pivot = colours ? "own_kept()"
                                      : "own_origin().xy, vec2(own_origin().z, own_kept().x), "
                                        "vec2(own_scale(), own_id()), own_kept().yz";
    return {std::string(kMergedVertex) + "    own_merge_pivot pivot = own_merge_pivot_of(" + pivot +
                ");\n    vec3 own_rest = own_merge_unmerged(pivot, merged_position);\n"
                "    vec3 own_rest_normal = own_merge_unmerged_direction(pivot, merged_normal);\n",
            "own_rest",
            "own_rest_normal",
            "pivot.id",
            "pivot.origin",
            "own_merge_pivot_axes(pivot)",
            "pivot.scale",
            "    pose_position = own_merge_merged(pivot, pose_position);\n"
            "    pose_normal = own_merge_merged_direction(pivot, pose_normal);\n",
            emit::glsl().print(module).text};
}

} // namespace ripple::app
