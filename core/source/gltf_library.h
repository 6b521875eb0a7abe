#pragma once

// The library that reads and writes glTF, compiled into the core (gltf_library.cpp), where nothing is seen from outside
// (CMakeLists.txt). For the import library loads another library that holds another build of it under the same names;
// whichever of two such builds is loaded first is called by both, and breaks off where they differ.

#define TINYGLTF_NO_STB_IMAGE // images stay as they are in their files
#define TINYGLTF_NO_STB_IMAGE_WRITE

#include <tiny_gltf.h>
