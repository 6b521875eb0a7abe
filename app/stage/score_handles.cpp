#include "app/stage/score_handles.h"

#include "base/units.h"

#include <QObject>

#include <algorithm>
#include <cmath>

#include <glm/geometric.hpp>

namespace ripple::app {

namespace {

using Grip = ScoreHandle::Grip;
using Mark = ScoreHandle::Mark;

QString lengthWords(double metres) {
    const QString size = QString::fromStdString(base::lengthText(std::abs(metres)));
    return metres < 0.0 ? "−" + size : size;
}

QString wayWords(const glm::vec3& way) {
    return QObject::tr("X %1 · Y %2 · Z %3")
        .arg(static_cast<double>(way.x), 0, 'f', 2)
        .arg(static_cast<double>(way.y), 0, 'f', 2)
        .arg(static_cast<double>(way.z), 0, 'f', 2);
}

QString pointWords(const glm::vec3& point) {
    return QObject::tr("X %1 · Y %2 · Z %3")
        .arg(lengthWords(static_cast<double>(point.x)), lengthWords(static_cast<double>(point.y)),
             lengthWords(static_cast<double>(point.z)));
}

glm::vec3 squareTo(const glm::vec3& way) {
    const glm::vec3 other = std::abs(way.x) < 0.8f ? glm::vec3(1, 0, 0) : glm::vec3(0, 0, 1);
    return glm::normalize(other - way * glm::dot(other, way));
}

double along(const ScoreHandle& handle, const glm::vec3& at) {
    return static_cast<double>(glm::dot(at - handle.origin, handle.way));
}

class Maker {
public:
    Maker(const mesh::Bounds& rest, double size) : centre_(rest.centre()), size_(static_cast<float>(size)) {}

    std::vector<ScoreHandle> made;

    void point(const QString& name, const QString& what, const glm::vec3& at,
               std::function<void(motion::Voice&, const glm::vec3&)> move) {
        ScoreHandle handle;
        handle.name = name;
        handle.at = at;
        handle.caption = what;
        handle.words = what + " " + pointWords(at);
        handle.move = std::move(move);
        made.push_back(std::move(handle));
    }

    void direction(const QString& name, const QString& what, const glm::vec3& origin, const glm::vec3& way,
                   float length, std::function<void(motion::Voice&, const glm::vec3&)> set) {
        ScoreHandle handle;
        handle.name = name;
        handle.grip = Grip::turn;
        handle.mark = Mark::arrow;
        handle.origin = origin;
        handle.way = glm::normalize(way);
        handle.at = origin + length * handle.way;
        handle.caption = what;
        handle.words = what + " " + wayWords(handle.way);
        handle.move = [origin, set = std::move(set)](motion::Voice& v, const glm::vec3& at) {
            set(v, glm::normalize(at - origin));
        };
        made.push_back(std::move(handle));
    }

    /// A length from `origin` along `way`.
    void length(const QString& name, const QString& what, Mark mark, const glm::vec3& origin,
                const glm::vec3& way, double metres, bool faint,
                std::function<void(motion::Voice&, double metres)> set) {
        ScoreHandle handle;
        handle.name = name;
        handle.grip = Grip::along;
        handle.mark = mark;
        handle.origin = origin;
        handle.way = way;
        handle.at = origin + static_cast<float>(metres) * way;
        handle.caption = what;
        handle.words = what + " " + lengthWords(metres);
        handle.faint = faint;
        handle.move = [handle, set = std::move(set)](motion::Voice& v, const glm::vec3& at) {
            set(v, along(handle, at));
        };
        made.push_back(std::move(handle));
    }

    void mask(const motion::MaskTerm& term, std::size_t t) {
        using motion::MaskKind;
        const QString number = QString(" %1").arg(t);
        const auto setter = [t](double motion::MaskTerm::*member, double least) {
            return [t, member, least](motion::Voice& v, double metres) {
                if (t < v.heldBy.size()) {
                    v.heldBy[t].*member = std::max(metres, least);
                }
            };
        };
        const bool flip = term.flip;
        const QString low = flip ? QObject::tr("full motion") : QObject::tr("no motion");
        const QString high = flip ? QObject::tr("no motion") : QObject::tr("full motion");
        glm::vec3 origin = term.point;
        glm::vec3 way = glm::normalize(term.direction);
        double least = -1e9;
        Mark mark = Mark::plane;
        if (term.kind == MaskKind::planes) {
            // In the middle of the model, where it is seen.
            origin = centre_ - way * glm::dot(centre_ - term.point, way);
        } else if (term.kind == MaskKind::point || term.kind == MaskKind::line) {
            const glm::vec3 axis = term.kind == MaskKind::line ? way : glm::vec3(0, 1, 0);
            point("mask point" + number, QObject::tr("centre of the mask"), term.point,
                  [t](motion::Voice& v, const glm::vec3& at) {
                      if (t < v.heldBy.size()) {
                          v.heldBy[t].point = at;
                      }
                  });
            way = squareTo(axis);
            least = 0.0;
            mark = Mark::ring;
            ringAxis_ = axis;
        } else {
            return;
        }
        length("low" + number, low, mark, origin, way, term.low, !flip,
               setter(&motion::MaskTerm::low, least));
        made.back().axis = ringAxis_;
        length("high" + number, high, mark, origin, way, term.high, flip,
               setter(&motion::MaskTerm::high, least));
        made.back().axis = ringAxis_;
        if (term.kind == MaskKind::planes) {
            const float beyond = static_cast<float>(std::max(term.low, term.high)) + 0.12f * size_;
            direction("mask way" + number, QObject::tr("direction of the mask"), origin, way,
                      std::max(beyond, 0.1f * size_), [t](motion::Voice& v, const glm::vec3& to) {
                          if (t < v.heldBy.size()) {
                              v.heldBy[t].direction = to;
                          }
                      });
        }
    }

    void push(const motion::Voice& voice) {
        using motion::PushKind;
        const motion::Push& push = voice.push;
        const auto toDirection = [](motion::Voice& v, const glm::vec3& to) { v.push.direction = to; };
        const auto toPoint = [](motion::Voice& v, const glm::vec3& to) { v.push.point = to; };
        const float reach = 0.24f * size_;
        switch (push.kind) {
        case PushKind::direction:
        case PushKind::world:
        case PushKind::orbit:
            direction("push", QObject::tr("push direction"), centre_, push.direction, reach, toDirection);
            break;
        case PushKind::point:
            point("pivot", QObject::tr("pushes away from here"), push.point, toPoint);
            break;
        case PushKind::bend:
            point("pivot", QObject::tr("pivot of the bend"), push.point, toPoint);
            direction("hinge", QObject::tr("hinge axis"), push.point, push.direction, 0.25f * size_,
                      toDirection);
            span(voice, glm::normalize(push.length),
                 [](motion::Voice& v, const glm::vec3& to) { v.push.length = to; });
            break;
        case PushKind::twist:
            point("pivot", QObject::tr("start of the twist"), push.point, toPoint);
            span(voice, glm::normalize(push.direction), toDirection);
            break;
        case PushKind::normal:
        case PushKind::uvSlide:
        case PushKind::uvTurn:
        case PushKind::cutOut:
            break;
        }
    }

    void course(const motion::Voice& voice) {
        using motion::CourseKind;
        const motion::Course& course = voice.course;
        glm::vec3 origin = centre_;
        glm::vec3 way = glm::normalize(course.direction);
        if (course.kind == CourseKind::point || course.kind == CourseKind::line) {
            origin = course.point;
            point("course point", QObject::tr("wave starts here"), course.point,
                  [](motion::Voice& v, const glm::vec3& to) { v.course.point = to; });
            way = squareTo(course.kind == CourseKind::line ? way : glm::vec3(0, 1, 0));
        } else if (course.kind == CourseKind::unison || course.kind == CourseKind::uv) {
            return;
        }
        const double metres = voice.wavelength.metres(static_cast<double>(size_));
        // Of a wave that is longer than the model a half, a quarter or an eighth, which can be reached.
        int parts = 1;
        while (parts < 8 && metres > 0.6 * static_cast<double>(size_) * parts) {
            parts *= 2;
        }
        const QString what = parts == 1   ? QObject::tr("one wave")
                             : parts == 2 ? QObject::tr("half a wave")
                                          : QObject::tr("1/%1 of a wave").arg(parts);
        length("wavelength", what, Mark::waves, origin, way, metres / parts, false,
               [whole = static_cast<double>(size_), parts](motion::Voice& v, double to) {
                   const double least = 1e-3 * whole; // a wave of no length is none
                   v.wavelength.value = std::max(to * parts, least) / (v.wavelength.ofSize ? whole : 1.0);
               });
        if (course.kind == CourseKind::direction || course.kind == CourseKind::world) {
            // From the other side: the wave's end keeps its place for itself.
            direction("course", QObject::tr("wave direction"), origin, -way, 0.34f * size_,
                      [](motion::Voice& v, const glm::vec3& to) { v.course.direction = -to; });
        }
    }

private:
    void span(const motion::Voice& voice, const glm::vec3& way,
              std::function<void(motion::Voice&, const glm::vec3&)> set) {
        const double metres = voice.push.span.metres(static_cast<double>(size_));
        length("span", QObject::tr("bent length"), Mark::arrow, voice.push.point, way, metres, false,
               [whole = static_cast<double>(size_)](motion::Voice& v, double to) {
                   v.push.span.value = std::max(to, 1e-3 * whole) / (v.push.span.ofSize ? whole : 1.0);
               });
        direction("length", QObject::tr("bends along"), voice.push.point, way,
                  static_cast<float>(metres) + 0.1f * size_, std::move(set));
    }

    glm::vec3 centre_;
    float size_;
    glm::vec3 ringAxis_{0.0f, 1.0f, 0.0f};
};

/// The nearest axis if that is near, else the direction itself.
glm::vec3 snapped(const glm::vec3& way) {
    constexpr float kNear = 0.9962f; // cosine of 5°
    for (int axis = 0; axis < 3; ++axis) {
        if (std::abs(way[axis]) > kNear) {
            glm::vec3 exact(0.0f);
            exact[axis] = way[axis] < 0.0f ? -1.0f : 1.0f;
            return exact;
        }
    }
    return way;
}

} // namespace

std::vector<ScoreHandle> scoreHandles(const motion::Voice& voice, const mesh::Bounds& rest, double size) {
    Maker maker(rest, size);
    for (std::size_t t = 0; t < voice.heldBy.size(); ++t) {
        maker.mask(voice.heldBy[t], t);
    }
    maker.push(voice);
    maker.course(voice);
    return std::move(maker.made);
}

glm::vec3 draggedTo(const ScoreHandle& handle, const Ray& ray, const glm::vec3& screenNormal) {
    switch (handle.grip) {
    case Grip::along: {
        // The point of the line that is nearest to the line of sight.
        const float slant = glm::dot(handle.way, ray.way);
        const float flat = 1.0f - slant * slant;
        if (flat < 1e-4f) {
            return handle.at; // looked along: there is nothing to slide on
        }
        const glm::vec3 between = ray.from - handle.origin;
        const float to = (glm::dot(between, handle.way) - slant * glm::dot(between, ray.way)) / flat;
        return handle.origin + to * handle.way;
    }
    case Grip::turn: {
        // Where the line of sight meets the sphere that the handle goes round on, or passes it nearest.
        const float radius = std::max(glm::distance(handle.at, handle.origin), 1e-6f);
        const glm::vec3 from = ray.from - handle.origin;
        const float middle = -glm::dot(from, ray.way);
        const glm::vec3 nearest = from + middle * ray.way;
        const float deep = radius * radius - glm::dot(nearest, nearest);
        const glm::vec3 near = from + (middle - std::sqrt(std::max(deep, 0.0f))) * ray.way;
        const glm::vec3 far = from + (middle + std::sqrt(std::max(deep, 0.0f))) * ray.way;
        // On the side of the sphere where it is.
        const bool behind = glm::dot(handle.at - handle.origin, ray.way) > 0.0f;
        const glm::vec3 to = behind ? far : near;
        const float size = glm::length(to);
        return size > 1e-6f ? handle.origin + radius * snapped(to / size) : handle.at;
    }
    case Grip::free:
        break;
    }
    const float toward = glm::dot(ray.way, screenNormal);
    return std::abs(toward) < 1e-6f
               ? handle.at
               : ray.from + ray.way * (glm::dot(handle.at - ray.from, screenNormal) / toward);
}

} // namespace ripple::app
