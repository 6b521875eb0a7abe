#pragma once

#include <string>

namespace ripple::app {

/// Where in a table the row called `name` stands; -1 if it does not.
template <typename Rows>
int rowIndex(const Rows& rows, const std::string& name) {
    for (std::size_t i = 0; i < rows.size(); ++i) {
        if (rows[i].name == name) {
            return static_cast<int>(i);
        }
    }
    return -1;
}

} // namespace ripple::app
