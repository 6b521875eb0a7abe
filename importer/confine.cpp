#include "importer/confine.h"

#include <csignal>

#include <fcntl.h>
#include <linux/landlock.h>
#include <sys/prctl.h>
#include <sys/resource.h>
#include <sys/syscall.h>
#include <unistd.h>

namespace ripple::importer {

namespace {

// Of kernels newer than the headers that this is built with (linux/landlock.h, versions 2 to 4).
constexpr std::uint64_t kRefer = 1ULL << 13;
constexpr std::uint64_t kTruncate = 1ULL << 14;
constexpr std::uint64_t kNetwork = 3; // binding and connecting TCP sockets

struct Rules {
    std::uint64_t files = 0;
    std::uint64_t network = 0;
};

void limit(decltype(RLIMIT_AS) what, std::size_t to) {
    rlimit now = {};
    if (::getrlimit(what, &now) == 0) {
        now.rlim_cur = std::min<rlim_t>(to, now.rlim_max);
        ::setrlimit(what, &now);
    }
}

void allowReading(int rules, const std::filesystem::path& path, std::uint64_t access) {
    const int place = ::open(path.c_str(), O_PATH | O_CLOEXEC);
    if (place >= 0) {
        landlock_path_beneath_attr attribute = {};
        attribute.allowed_access = access;
        attribute.parent_fd = place;
        ::syscall(SYS_landlock_add_rule, rules, LANDLOCK_RULE_PATH_BENEATH, &attribute, 0);
        ::close(place);
    }
}

void lockIn(const std::filesystem::path& file) {
    const auto version = ::syscall(SYS_landlock_create_ruleset, nullptr, 0, LANDLOCK_CREATE_RULESET_VERSION);
    if (version < 1) {
        return; // the kernel has none, or it is switched off
    }
    constexpr std::uint64_t kFirst = (1ULL << 13) - 1; // all thirteen rights of version 1
    Rules rules{kFirst, 0};
    rules.files |= version >= 2 ? kRefer : 0;
    rules.files |= version >= 3 ? kTruncate : 0;
    rules.network = version >= 4 ? kNetwork : 0;
    const std::size_t size = version >= 4 ? sizeof rules : sizeof rules.files;
    const auto set = static_cast<int>(::syscall(SYS_landlock_create_ruleset, &rules, size, 0));
    if (set < 0) {
        return;
    }
    allowReading(set, file, LANDLOCK_ACCESS_FS_READ_FILE); // also where it is a link that leads elsewhere
    allowReading(set, file.parent_path(), LANDLOCK_ACCESS_FS_READ_FILE | LANDLOCK_ACCESS_FS_READ_DIR);
    ::syscall(SYS_landlock_restrict_self, set, 0);
    ::close(set);
}

} // namespace

void confine(const Limits& limits, const std::filesystem::path& file) {
    ::prctl(PR_SET_PDEATHSIG, SIGKILL);
    ::prctl(PR_SET_NO_NEW_PRIVS, 1, 0, 0, 0);
    ::prctl(PR_SET_DUMPABLE, 0);
#if !defined(__SANITIZE_ADDRESS__) // whose shadow takes terabytes of address space
    limit(RLIMIT_AS, limits.memoryBytes);
#endif
    limit(RLIMIT_FSIZE, limits.memoryBytes); // the answer lies in memory too
    limit(RLIMIT_CPU, limits.seconds);
    limit(RLIMIT_CORE, 0);
    lockIn(file);
}

} // namespace ripple::importer
