#pragma once

namespace ripple::app {

/// The stage's looks as buttons, menu entries and keys; ids are what a project's view names.
struct LookRow {
    const char* id;
    const char* text;
    const char* key;
};
inline constexpr LookRow kLooks[] = {
    {"lit", "Lit", "L"}, {"wire", "Wire", "W"}, {"uv-grid", "UV grid", "U"}, {"normals", "Normals", "N"}};

} // namespace ripple::app
