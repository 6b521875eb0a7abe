#pragma once

#include "app/session/session.h"

#include <QVBoxLayout>

namespace ripple::app {

// What is in a source, as rows of a panel.

/// Clips with their length, and whether they close.
void addClipRows(Session& session, QVBoxLayout& column);
/// UV sets: what takes each, what is odd about it, where the lookup goes; both ways of counting.
void addUvRows(Session& session, QVBoxLayout& column);
/// Meshes to take or leave, and what moves them.
void addMeshRows(Session& session, QVBoxLayout& column);
/// What was found, as cards: worst first, each with its fixes; then what is well.
void addFindingCards(Session& session, QVBoxLayout& column);

} // namespace ripple::app
