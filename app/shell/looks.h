#pragma once

#include <QtGlobal>

namespace ripple::app {

/// The stage's looks as buttons, menu entries and keys; ids are what a project's view names.
struct LookRow {
    const char* id;
    const char* text;
    const char* key;
    const char* words; ///< what it shows, and what taking it again does
};
inline constexpr LookRow kLooks[] = {
    {"lit", QT_TRANSLATE_NOOP("ripple::app::MainWindow", "Lit"), "L",
     QT_TRANSLATE_NOOP("ripple::app::MainWindow", "As it will look, roughly: base colour, light and shadow")},
    {"wire", QT_TRANSLATE_NOOP("ripple::app::MainWindow", "Wire"), "W",
     QT_TRANSLATE_NOOP("ripple::app::MainWindow",
                       "Edges coloured by their length; pick a vertex to read the lengths of its edges")},
    {"uv-grid", QT_TRANSLATE_NOOP("ripple::app::MainWindow", "UV"), "U",
     QT_TRANSLATE_NOOP("ripple::app::MainWindow",
                       "A labelled grid on a UV set. Press again for the next set.")},
    {"normals", QT_TRANSLATE_NOOP("ripple::app::MainWindow", "Normals"), "N",
     QT_TRANSLATE_NOOP("ripple::app::MainWindow", "Directions of the normals as colours")},
    {"colours", QT_TRANSLATE_NOOP("ripple::app::MainWindow", "Colours"), "O",
     QT_TRANSLATE_NOOP("ripple::app::MainWindow",
                       "Vertex colours. Press again for one channel after another.")},
    {"joints", QT_TRANSLATE_NOOP("ripple::app::MainWindow", "Joints"), "J",
     QT_TRANSLATE_NOOP("ripple::app::MainWindow",
                       "Joints as bars, and the weights of one joint. Press again for the next joint.")},
    {"speed", QT_TRANSLATE_NOOP("ripple::app::MainWindow", "Speed"), "S",
     QT_TRANSLATE_NOOP("ripple::app::MainWindow", "Speed of each vertex at this moment")},
    {"mask", QT_TRANSLATE_NOOP("ripple::app::MainWindow", "Mask"), "H",
     QT_TRANSLATE_NOOP(
         "ripple::app::MainWindow",
         "Mask of the voice from black (held) to white (free). Press again for its shape and its phase.")},
    {"density", QT_TRANSLATE_NOOP("ripple::app::MainWindow", "Density"), "D",
     QT_TRANSLATE_NOOP("ripple::app::MainWindow",
                       "Whether the mesh has enough edges for the waves of the voice")},
    {"strain", QT_TRANSLATE_NOOP("ripple::app::MainWindow", "Strain"), "T",
     QT_TRANSLATE_NOOP("ripple::app::MainWindow", "How much the edges are stretched at this moment")},
    {"error", QT_TRANSLATE_NOOP("ripple::app::MainWindow", "Error"), "E",
     QT_TRANSLATE_NOOP(
         "ripple::app::MainWindow",
         "Error of the decoded positions, in millimetres. Press again for the normals, in degrees.")}};

} // namespace ripple::app
