#pragma once

#include "bundle/fault.h"

#include <initializer_list>
#include <vector>

namespace ripple::tests {

inline std::vector<const bundle::Fault*> faultsNamed(std::initializer_list<const char*> ids) {
    std::vector<const bundle::Fault*> faults;
    for (const char* id : ids) {
        faults.push_back(&bundle::faultNamed(id));
    }
    return faults;
}

} // namespace ripple::tests
