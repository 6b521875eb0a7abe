#pragma once

namespace ripple::app {

/// The stage's looks as buttons, menu entries and keys; ids are what a project's view names.
struct LookRow {
    const char* id;
    const char* text;
    const char* key;
    const char* words; ///< what it shows, and what taking it again does
};
inline constexpr LookRow kLooks[] = {
    {"lit", "Lit", "L", "As it will look, roughly: base colour, light and shadow"},
    {"wire", "Wire", "W", "Edges coloured by their length; pick a vertex to see its edges' lengths"},
    {"uv-grid", "UV", "U", "A labelled grid on a UV set; again: the next set"},
    {"normals", "Normals", "N", "Directions of the normals as colours"},
    {"colours", "Colours", "O", "Vertex colours; again: one channel after another"},
    {"joints", "Joints", "J",
     "Joints as sticks, and how much each vertex follows one; again: the next joint"},
    {"speed", "Speed", "S", "How fast each vertex moves at this moment"},
    {"mask", "Mask", "H",
     "What the voice is held by, black to white; again: its shape, its place in the turn"},
    {"density", "Density", "D", "Whether the mesh has enough edges for the voice's waves"},
    {"strain", "Strain", "T", "How much edges are stretched at this moment"},
    {"error", "Error", "E",
     "How far what is decoded is off, in millimetres; again: its normals, in degrees"}};

} // namespace ripple::app
