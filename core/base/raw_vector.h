#pragma once

#include <memory>
#include <vector>

namespace ripple::base {

/// Leaves new elements as they are instead of clearing them: for large buffers that are filled at once, by
/// several threads, where clearing them first on one thread takes as long as filling them.
template <typename T>
struct RawAllocator : std::allocator<T> {
    template <typename U>
    struct rebind {
        using other = RawAllocator<U>;
    };
    RawAllocator() = default;
    template <typename U>
    RawAllocator(const RawAllocator<U>&) noexcept {}

    template <typename U>
    void construct(U* at) noexcept {
        ::new (static_cast<void*>(at)) U;
    }
    template <typename U, typename... Arguments>
    void construct(U* at, Arguments&&... arguments) {
        ::new (static_cast<void*>(at)) U(std::forward<Arguments>(arguments)...);
    }
};

/// A vector whose resize() does not clear.
template <typename T>
using RawVector = std::vector<T, RawAllocator<T>>;

} // namespace ripple::base
