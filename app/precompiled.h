// What most files of the application include, compiled once (core/precompiled.h).
#pragma once

#include "core/precompiled.h"

#include <QtWidgets>

#include "app/session/session.h"
