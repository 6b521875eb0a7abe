// What nearly every file of tests includes, compiled once for each program of tests.
#pragma once

#include <QtTest>

#include "core/precompiled.h"

#include <random>

#include <glm/gtc/matrix_transform.hpp>

#include "bake/bake.h"
#include "bundle/manifest.h"
#include "motion/perform.h"
#include "project/document.h"
#include "source/open.h"
