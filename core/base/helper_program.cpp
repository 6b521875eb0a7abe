#include "base/helper_program.h"

#include "base/problem.h"

#include <algorithm>
#include <array>
#include <cerrno>
#include <csignal>
#include <cstdlib>
#include <system_error>

#include <fcntl.h>
#include <poll.h>
#include <spawn.h>
#include <sys/mman.h>
#include <sys/stat.h>
#include <sys/syscall.h>
#include <sys/wait.h>
#include <unistd.h>

namespace ripple::base {

namespace {

constexpr double kClockPerComputing = 4.0; // a busy machine gives a program part of its time only

[[noreturn]] void cannotStart(const std::filesystem::path& program, int code) {
    fail(program.filename().string(), "could not be started (" + std::generic_category().message(code) + ")",
         "check that it lies beside this program and may be run, and that there is memory left");
}

/// What of the environment it gets: what the loader and checking builds need.
std::vector<std::string> environment() {
    std::vector<std::string> kept = {"LC_ALL=C"};
    for (const char* name : {"LD_LIBRARY_PATH", "ASAN_OPTIONS", "UBSAN_OPTIONS", "LSAN_OPTIONS"}) {
        if (const char* value = std::getenv(name)) {
            kept.push_back(std::string(name) + "=" + value);
        }
    }
    return kept;
}

std::vector<char*> pointersTo(std::vector<std::string>& texts) {
    std::vector<char*> pointers;
    for (std::string& text : texts) {
        pointers.push_back(text.data());
    }
    pointers.push_back(nullptr);
    return pointers;
}

} // namespace

HelperProgram::HelperProgram(const std::filesystem::path& program, const std::vector<std::string>& arguments,
                             double seconds, const Progress& progress) {
    try {
        await(start(program, arguments), seconds, progress);
        takeAnswer();
    } catch (...) {
        ::close(file_);
        throw;
    }
}

HelperProgram::~HelperProgram() {
    if (!answer_.empty()) {
        ::munmap(const_cast<std::byte*>(answer_.data()), answer_.size());
    }
    ::close(file_);
}

int HelperProgram::start(const std::filesystem::path& program, const std::vector<std::string>& arguments) {
    file_ = ::memfd_create("answer", MFD_CLOEXEC | MFD_ALLOW_SEALING);
    if (file_ < 0) {
        cannotStart(program, errno);
    }
    std::vector<std::string> words = {program.string()};
    words.insert(words.end(), arguments.begin(), arguments.end());
    std::vector<std::string> kept = environment();
    posix_spawn_file_actions_t files;
    posix_spawnattr_t attributes;
    ::posix_spawn_file_actions_init(&files);
    ::posix_spawnattr_init(&attributes);
    for (const int standard : {0, 1, 2}) {
        ::posix_spawn_file_actions_addopen(&files, standard, "/dev/null", standard == 0 ? O_RDONLY : O_WRONLY,
                                           0);
    }
    ::posix_spawn_file_actions_adddup2(&files, file_, kAnswerFile);
    sigset_t none;
    sigset_t all;
    ::sigemptyset(&none);
    ::sigfillset(&all);
    ::posix_spawnattr_setsigmask(&attributes, &none);
    ::posix_spawnattr_setsigdefault(&attributes, &all);
    ::posix_spawnattr_setflags(&attributes, POSIX_SPAWN_SETSIGMASK | POSIX_SPAWN_SETSIGDEF);
    pid_t process = -1;
    const int code = ::posix_spawn(&process, program.c_str(), &files, &attributes, pointersTo(words).data(),
                                   pointersTo(kept).data());
    ::posix_spawn_file_actions_destroy(&files);
    ::posix_spawnattr_destroy(&attributes);
    if (code != 0) {
        cannotStart(program, code);
    }
    return process;
}

void HelperProgram::await(int process, double seconds, const Progress& progress) {
    using Clock = std::chrono::steady_clock;
    const auto begun = Clock::now();
    const int handle = static_cast<int>(::syscall(SYS_pidfd_open, process, 0));
    int status = 0;
    bool late = false;
    pid_t ended = 0;
    while ((ended = ::waitpid(process, &status, WNOHANG)) == 0) {
        const double passed = std::chrono::duration<double>(Clock::now() - begun).count();
        late = passed > kClockPerComputing * seconds;
        if (late || progress.cancelled()) {
            ::kill(process, SIGKILL);
            ::waitpid(process, &status, 0);
            break;
        }
        pollfd wanted{handle, POLLIN, 0};
        constexpr int kLook = 20; // milliseconds between looks at whether it was cancelled
        ::poll(&wanted, handle >= 0 ? 1 : 0, kLook);
    }
    if (handle >= 0) {
        ::close(handle);
    }
    progress.checkpoint();
    const int signal = WIFSIGNALED(status) ? WTERMSIG(status) : 0;
    end_ = late || signal == SIGXCPU  ? End::tooLong
           : signal != 0 || ended < 0 ? End::crashed
           : WEXITSTATUS(status) == 0 ? End::done
                                      : End::failed;
}

void HelperProgram::takeAnswer() {
    struct stat state = {};
    // Sealed, it stays as it is even if something of the program lives on.
    if (::fcntl(file_, F_ADD_SEALS, F_SEAL_WRITE | F_SEAL_SHRINK | F_SEAL_GROW) != 0 ||
        ::fstat(file_, &state) != 0 || state.st_size <= 0) {
        return;
    }
    const auto size = static_cast<std::size_t>(state.st_size);
    void* mapped = ::mmap(nullptr, size, PROT_READ, MAP_PRIVATE, file_, 0);
    if (mapped != MAP_FAILED) {
        answer_ = {static_cast<const std::byte*>(mapped), size};
    }
}

std::filesystem::path helperPath(const std::string& name) {
    std::error_code error;
    const std::filesystem::path own = std::filesystem::read_symlink("/proc/self/exe", error).parent_path();
    const std::array places = {own / name, own.parent_path() / "libexec" / "curly-ripple" / name};
    for (const std::filesystem::path& place : places) {
        if (std::filesystem::exists(place, error)) {
            return place;
        }
    }
    fail(name, "is not beside this program, where it belongs",
         "install the program anew, with all its files");
}

} // namespace ripple::base
