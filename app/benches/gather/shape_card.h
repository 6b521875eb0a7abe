#pragma once

#include "app/look/number_field.h"
#include "app/session/session.h"

#include <QLabel>
#include <QWidget>

namespace ripple::app {

/// Kind, size and cells of a test shape; shown while one is open.
class ShapeCard : public QWidget {
    Q_OBJECT
public:
    explicit ShapeCard(Session& session, QWidget* parent = nullptr);

private:
    void refresh();
    void change(const QString& what, const std::function<void(mesh::TestShape&)>& how, bool continuing);

    Session& session_;
    QLabel* words_;
    NumberField* size_;
    NumberField* across_;
    NumberField* along_;
    QLabel* acrossName_;
    QLabel* alongName_;
};

/// How often every triangle is split.
class SubdivideRow : public QWidget {
    Q_OBJECT
public:
    explicit SubdivideRow(Session& session, QWidget* parent = nullptr);

private:
    Session& session_;
};

} // namespace ripple::app
