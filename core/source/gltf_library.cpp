#define TINYGLTF_IMPLEMENTATION
#include "source/gltf_library.h"
