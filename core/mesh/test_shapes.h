#pragma once

#include "mesh/mesh.h"

#include <cstddef>
#include <span>
#include <string>

namespace ripple::mesh {

/// A plain mesh to try displacement on, for people without a mesh of their own.
struct TestShape {
    std::string kind = "sheet"; ///< an id in testShapes()
    double size = 1.0;          ///< metres: its longest side
    std::size_t across = 16;    ///< cells, 1 to kMostCells
    std::size_t along = 16;
    bool operator==(const TestShape&) const = default;
};

constexpr std::size_t kMostCells = 512;

/// A kind of test shape. To add one, write its builder and a row in test_shapes.cpp.
struct ShapeKind {
    const char* id;
    const char* name;
    const char* words; ///< what it is good for, in a sentence
    TestShape usual;
    const char* across; ///< what its cells across are called, as "around"
    const char* along;
    void (*build)(const TestShape&, Mesh&);
};

std::span<const ShapeKind> testShapes();

/// Stands on or hangs from the origin, UVs in 0..1, two-sided where it is thin. Throws base::Failure for an
/// unknown kind, a size that is not above 0, or cells out of range.
Mesh makeTestShape(const TestShape& shape);

} // namespace ripple::mesh
