#include "base/child_program.h"

#include "base/problem.h"
#include "base/progress.h"

#include <algorithm>
#include <array>
#include <cerrno>
#include <csignal>
#include <cstdlib>
#include <system_error>
#include <thread>

#include <fcntl.h>
#include <poll.h>
#include <spawn.h>
#include <sys/mman.h>
#include <sys/stat.h>
#include <sys/wait.h>
#include <unistd.h>

namespace ripple::base {

namespace {

constexpr double kClockPerComputing = 4.0; // a busy machine gives a program part of its time only

[[noreturn]] void cannotStart(const std::filesystem::path& program, int code) {
    fail(program.filename().string(), "could not be started (" + std::generic_category().message(code) + ")",
         "check that it lies beside this program and may be run, and that there is memory left");
}

/// What of the environment it gets: what the loader and checking builds need, and large pages for large
/// arrays, since it begins with none.
std::vector<std::string> environment() {
    std::vector<std::string> kept = {"LC_ALL=C", "GLIBC_TUNABLES=glibc.malloc.hugetlb=1"};
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

ChildProgram::ChildProgram(const std::filesystem::path& program, const std::vector<std::string>& arguments,
                           double seconds, const Progress& progress) {
    try {
        start(program, arguments);
        await(seconds, progress);
        takeAnswer();
    } catch (...) {
        stop();
        ::close(answered_);
        ::close(file_);
        throw;
    }
}

ChildProgram::~ChildProgram() {
    stop();
    if (!answer_.empty()) {
        ::munmap(const_cast<std::byte*>(answer_.data()), answer_.size());
    }
    ::close(answered_);
    ::close(file_);
}

void ChildProgram::sayAnswered() {
    const char byte = 1;
    [[maybe_unused]] const auto written = ::write(kAnsweredPipe, &byte, 1);
}

void ChildProgram::stop() {
    if (process_ >= 0) {
        ::kill(process_, SIGKILL);
        ::waitpid(process_, nullptr, 0);
        process_ = -1;
    }
}

void ChildProgram::start(const std::filesystem::path& program, const std::vector<std::string>& arguments) {
    file_ = ::memfd_create("answer", MFD_CLOEXEC | MFD_ALLOW_SEALING);
    int pipe[2] = {-1, -1};
    if (file_ < 0 || ::pipe2(pipe, O_CLOEXEC) != 0) {
        cannotStart(program, errno);
    }
    answered_ = pipe[0];
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
    // Through numbers that neither of them has: the one must not be written over before it is taken.
    constexpr int kAside = 100;
    ::posix_spawn_file_actions_adddup2(&files, file_, kAside);
    ::posix_spawn_file_actions_adddup2(&files, pipe[1], kAside + 1);
    ::posix_spawn_file_actions_adddup2(&files, kAside, kAnswerFile);
    ::posix_spawn_file_actions_adddup2(&files, kAside + 1, kAnsweredPipe);
    ::posix_spawn_file_actions_addclose(&files, kAside);
    ::posix_spawn_file_actions_addclose(&files, kAside + 1);
    sigset_t none;
    sigset_t all;
    ::sigemptyset(&none);
    ::sigfillset(&all);
    ::posix_spawnattr_setsigmask(&attributes, &none);
    ::posix_spawnattr_setsigdefault(&attributes, &all);
    ::posix_spawnattr_setflags(&attributes, POSIX_SPAWN_SETSIGMASK | POSIX_SPAWN_SETSIGDEF);
    const int code = ::posix_spawn(&process_, program.c_str(), &files, &attributes, pointersTo(words).data(),
                                   pointersTo(kept).data());
    ::posix_spawn_file_actions_destroy(&files);
    ::posix_spawnattr_destroy(&attributes);
    ::close(pipe[1]); // so that only the child holds it
    if (code != 0) {
        process_ = -1;
        cannotStart(program, code);
    }
}

void ChildProgram::await(double seconds, const Progress& progress) {
    using Clock = std::chrono::steady_clock;
    const auto begun = Clock::now();
    for (;;) {
        // Readable when it has answered, hung up when it has ended.
        pollfd wanted{answered_, POLLIN, 0};
        constexpr int kLook = 20; // milliseconds between looks at whether it was cancelled
        ::poll(&wanted, 1, kLook);
        progress.checkpoint();
        if (wanted.revents & POLLIN) {
            end_ = End::done;
            return;
        }
        if (wanted.revents & POLLHUP) {
            int status = 0;
            if (::waitpid(process_, &status, WNOHANG) == 0) {
                // It hung up and lives on: it ends by itself soon, or when its time is over.
                std::this_thread::sleep_for(std::chrono::milliseconds(1));
            } else {
                process_ = -1;
                takeStatus(status);
                return;
            }
        }
        if (std::chrono::duration<double>(Clock::now() - begun).count() > kClockPerComputing * seconds) {
            end_ = End::tooLong;
            stop();
            return;
        }
    }
}

void ChildProgram::takeStatus(int status) {
    const int signal = WIFSIGNALED(status) ? WTERMSIG(status) : 0;
    end_ = signal == SIGXCPU          ? End::tooLong
           : signal != 0              ? End::crashed
           : WEXITSTATUS(status) == 0 ? End::done
                                      : End::failed;
}

void ChildProgram::takeAnswer() {
    struct stat state = {};
    // Sealed, it stays as it is even if something of the program lives on.
    if (::fcntl(file_, F_ADD_SEALS, F_SEAL_WRITE | F_SEAL_SHRINK | F_SEAL_GROW) != 0 ||
        ::fstat(file_, &state) != 0 || state.st_size <= 0) {
        return;
    }
    const auto size = static_cast<std::size_t>(state.st_size);
    void* mapped = ::mmap(nullptr, size, PROT_READ, MAP_PRIVATE | MAP_POPULATE, file_, 0);
    if (mapped != MAP_FAILED) {
        answer_ = {static_cast<const std::byte*>(mapped), size};
    }
}

std::filesystem::path programBeside(const std::string& name) {
    std::error_code error;
    const std::filesystem::path own = std::filesystem::read_symlink("/proc/self/exe", error).parent_path();
    const std::array places = {own / name, own.parent_path() / "libexec" / "curly-ripple" / name};
    for (const std::filesystem::path& place : places) {
        if (std::filesystem::exists(place, error)) {
            return place;
        }
    }
    fail(name, "is not beside this program, where it belongs",
         "install the program again, with all its files");
}

} // namespace ripple::base
