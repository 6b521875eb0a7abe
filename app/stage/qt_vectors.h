#pragma once

// What shaders are handed, as Qt wants it.

#include <QColor>
#include <QMatrix4x4>
#include <QVector3D>

#include <glm/geometric.hpp>
#include <glm/gtc/type_ptr.hpp>
#include <glm/mat4x4.hpp>
#include <glm/vec3.hpp>

namespace ripple::app {

inline const glm::vec3 kKey = glm::normalize(glm::vec3(0.42f, 0.86f, 0.50f)); ///< toward the light

inline QMatrix4x4 toQt(const glm::mat4& m) {
    return QMatrix4x4(glm::value_ptr(m)).transposed();
}
inline QVector3D toQt(const glm::vec3& v) {
    return {v.x, v.y, v.z};
}
inline QVector3D rgb(const QColor& c) {
    return {c.redF(), c.greenF(), c.blueF()};
}

} // namespace ripple::app
