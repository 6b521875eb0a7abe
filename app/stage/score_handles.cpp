#include "app/stage/score_handles.h"

#include "base/units.h"
#include "motion/kinds.h"

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
        const motion::MaskRow& row = motion::rowOf(term);
        if (row.edges != motion::FieldUnit::modelMetres) {
            return; // its values lie nowhere on the model
        }
        const QString number = QString(" %1").arg(t);
        const auto find = [t](motion::Voice& v) { return t < v.heldBy.size() ? &v.heldBy[t] : nullptr; };
        // Distances from a point or a line are rings, seen from the model's side; planes stand in the middle
        // of the model, where they are seen.
        const bool round = term.kind != motion::MaskKind::planes;
        const glm::vec3 given = glm::normalize(term.direction);
        const glm::vec3 axis = term.kind == motion::MaskKind::line ? given : glm::vec3(0, 1, 0);
        const glm::vec3 way = round ? squareTo(axis) : given;
        const glm::vec3 origin = round ? term.point : centre_ - way * glm::dot(centre_ - term.point, way);
        const auto fields = motion::edgeFields(term);
        for (const motion::Field<motion::MaskTerm>& field : row.fields) {
            if (field.unit == motion::FieldUnit::point) {
                pointOf<motion::MaskTerm>(field, number, term, find);
            }
        }
        for (const motion::Field<motion::MaskTerm>& edge : fields) {
            if (edge.unit == row.edges) {
                // Faint is the end where nothing moves.
                const bool still = (&edge == &fields[0]) != term.flip;
                length(edge.handle + number, QObject::tr(edge.caption), round ? Mark::ring : Mark::plane,
                       origin, way, motion::numberOf(edge, term), still,
                       [find, edge, least = round ? 0.0 : -1e9](motion::Voice& v, double metres) {
                           if (motion::MaskTerm* of = find(v)) {
                               motion::setNumber(edge, *of, std::max(metres, least));
                           }
                       });
                made.back().axis = axis;
            }
        }
        const float beyond = static_cast<float>(std::max(term.low, term.high)) + 0.12f * size_;
        for (const motion::Field<motion::MaskTerm>& field : row.fields) {
            if (field.unit == motion::FieldUnit::direction) {
                directionOf<motion::MaskTerm>(field, number, origin, std::max(beyond, 0.1f * size_), term,
                                              find);
            }
        }
    }

    void push(const motion::Voice& voice) {
        const motion::PushRow& row = motion::rowOf(voice.push);
        const auto find = [](motion::Voice& v) { return &v.push; };
        glm::vec3 origin = centre_; // the pivot, where the push has one
        float reach = 0.24f * size_;
        const motion::Field<motion::Push>* span = nullptr;
        for (const motion::Field<motion::Push>& field : row.fields) {
            span = field.unit == motion::FieldUnit::length ? &field : span;
        }
        for (const motion::Field<motion::Push>& field : row.fields) {
            if (field.unit == motion::FieldUnit::point) {
                pointOf<motion::Push>(field, {}, voice.push, find);
                origin = motion::vectorOf(field, voice.push);
            } else if (field.unit == motion::FieldUnit::direction) {
                // What is bent runs along the direction that stands before it in the row.
                if (span && &field + 1 == span) {
                    spanAlong(*span, voice, glm::normalize(motion::vectorOf(field, voice.push)));
                    reach =
                        static_cast<float>(voice.push.span.metres(static_cast<double>(size_))) + 0.1f * size_;
                }
                directionOf<motion::Push>(field, {}, origin, reach, voice.push, find);
            }
        }
    }

    void course(const motion::Voice& voice) {
        const motion::CourseRow& row = motion::rowOf(voice.course);
        const auto find = [](motion::Voice& v) { return &v.course; };
        if (!row.wavelength || row.wavelength->unit != motion::FieldUnit::length) {
            return; // in unison, or on the texture
        }
        const glm::vec3 given = glm::normalize(voice.course.direction);
        const bool line = voice.course.kind == motion::CourseKind::line;
        glm::vec3 origin = centre_;
        for (const motion::Field<motion::Course>& field : row.fields) {
            if (field.unit == motion::FieldUnit::point) {
                pointOf<motion::Course>(field, {}, voice.course, find);
                origin = motion::vectorOf(field, voice.course);
            }
        }
        wave(voice, *row.wavelength, origin, row.heads ? given : squareTo(line ? given : glm::vec3(0, 1, 0)));
        for (const motion::Field<motion::Course>& field : row.fields) {
            if (row.heads && field.unit == motion::FieldUnit::direction) {
                // From the other side: the wave's end keeps its place for itself.
                direction(field.handle, QObject::tr(field.caption), origin, -given, 0.34f * size_,
                          [field](motion::Voice& v, const glm::vec3& to) {
                              motion::setVector(field, v.course, -to);
                          });
            }
        }
    }

private:
    template <typename Part>
    using FindPart = std::function<Part*(motion::Voice&)>;

    template <typename Part>
    void pointOf(const motion::Field<Part>& field, const QString& suffix, const Part& part,
                 const FindPart<Part>& find) {
        if (field.handle[0] != '\0') {
            point(field.handle + suffix, QObject::tr(field.caption), motion::vectorOf(field, part),
                  [field, find](motion::Voice& v, const glm::vec3& to) { set(field, find(v), to); });
        }
    }

    template <typename Part>
    void directionOf(const motion::Field<Part>& field, const QString& suffix, const glm::vec3& origin,
                     float length, const Part& part, const FindPart<Part>& find) {
        if (field.handle[0] != '\0') {
            direction(field.handle + suffix, QObject::tr(field.caption), origin,
                      motion::vectorOf(field, part), length,
                      [field, find](motion::Voice& v, const glm::vec3& to) { set(field, find(v), to); });
        }
    }

    template <typename Part>
    static void set(const motion::Field<Part>& field, Part* part, const glm::vec3& to) {
        if (part) {
            motion::setVector(field, *part, to);
        }
    }

    void wave(const motion::Voice& voice, const motion::Field<motion::Voice>& field, const glm::vec3& origin,
              const glm::vec3& way) {
        const double whole = static_cast<double>(size_);
        const double metres = voice.wavelength.metres(whole);
        // Of a wave that is longer than the model a half, a quarter or an eighth, which can be reached.
        int parts = 1;
        while (parts < 8 && metres > 0.6 * whole * parts) {
            parts *= 2;
        }
        const QString what = parts == 1   ? QObject::tr("one wave")
                             : parts == 2 ? QObject::tr("half a wave")
                                          : QObject::tr("1/%1 of a wave").arg(parts);
        length(field.handle, what, Mark::waves, origin, way, metres / parts, false,
               [whole, parts](motion::Voice& v, double to) {
                   const double least = 1e-3 * whole; // a wave of no length is none
                   v.wavelength.value = std::max(to * parts, least) / (v.wavelength.ofSize ? whole : 1.0);
               });
    }

    void spanAlong(const motion::Field<motion::Push>& field, const motion::Voice& voice,
                   const glm::vec3& way) {
        const double whole = static_cast<double>(size_);
        length(field.handle, QObject::tr(field.caption), Mark::arrow, voice.push.point, way,
               voice.push.span.metres(whole), false, [whole](motion::Voice& v, double to) {
                   v.push.span.value = std::max(to, 1e-3 * whole) / (v.push.span.ofSize ? whole : 1.0);
               });
    }

    glm::vec3 centre_;
    float size_;
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
