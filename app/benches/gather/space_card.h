#pragma once

#include "app/look/number_field.h"
#include "app/look/segmented_choice.h"
#include "app/session/session.h"

#include <QAbstractButton>
#include <QButtonGroup>
#include <QLabel>
#include <QWidget>

namespace ripple::app {

/// The model's widest side, to scale beside a door of 2 m and a figure of 1.75 m.
class SizePicture : public QWidget {
    Q_OBJECT
public:
    explicit SizePicture(QWidget* parent = nullptr);
    /// Some of the model's vertices, metres, +Y up.
    void setPoints(std::vector<glm::vec3> points);

protected:
    void paintEvent(QPaintEvent* event) override;

private:
    std::vector<glm::vec3> points_;
    mesh::Bounds bounds_;
};

/// A choice of up axis that shows how the model would stand.
class UpPicture : public QAbstractButton {
    Q_OBJECT
public:
    explicit UpPicture(const QString& words, QWidget* parent = nullptr);
    void setPoints(std::vector<glm::vec3> points);
    QSize sizeHint() const override { return {72, 74}; }

protected:
    void paintEvent(QPaintEvent* event) override;

private:
    std::vector<glm::vec3> points_;
};

/// Unit, size and up axis of the source.
class SpaceCard : public QWidget {
    Q_OBJECT
public:
    explicit SpaceCard(Session& session, QWidget* parent = nullptr);

private:
    void refresh();

    Session& session_;
    SizePicture* size_;
    QLabel* sizes_;
    SegmentedChoice* units_;
    NumberField* unit_;
    QButtonGroup ups_;
    std::vector<UpPicture*> pictures_;
};

} // namespace ripple::app
