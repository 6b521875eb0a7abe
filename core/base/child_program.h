#pragma once

#include "base/files.h"
#include "base/no_progress.h"

#include <chrono>
#include <filesystem>
#include <span>
#include <string>
#include <vector>

namespace ripple::base {

/// A program of ours that works apart from this one, for work that may fail in any way.
///
/// It gets nothing to read and nowhere to print; it answers by writing to file descriptor kAnswerFile, which
/// is a file in memory. A large process takes a while to end, so it says when it has answered, and is then no
/// longer waited for.
class ChildProgram {
public:
    static constexpr int kAnswerFile = 3;
    static constexpr int kAnsweredPipe = 4;
    /// In the child: the answer is whole, and status 0 is all that is left to say.
    static void sayAnswered();

    enum class End {
        done,    ///< it said that it had answered, or ended by itself with status 0
        failed,  ///< … with another
        crashed, ///< a signal ended it that nobody here sent
        tooLong, ///< it used up its computing time (SIGXCPU), or four times that on the clock
    };

    /// Starts `program`, runs it to its end and takes its answer. `seconds` is the computing time that it was
    /// given; it sets its own limit. Throws Failure where it can't be started, and Cancelled, both with the
    /// program ended.
    ChildProgram(const std::filesystem::path& program, const std::vector<std::string>& arguments,
                 double seconds, const Progress& progress);
    ~ChildProgram();
    ChildProgram(const ChildProgram&) = delete;
    ChildProgram& operator=(const ChildProgram&) = delete;

    End end() const { return end_; }
    /// What it wrote; stays as long as this object.
    std::span<const std::byte> answer() const { return answer_; }

private:
    void start(const std::filesystem::path& program, const std::vector<std::string>& arguments);
    void await(double seconds, const Progress& progress);
    void takeStatus(int status);
    void takeAnswer();
    /// Kills what still runs.
    void stop();

    int file_ = -1;
    int answered_ = -1; ///< reading end of its pipe
    int process_ = -1;  ///< −1: it is gone
    End end_ = End::failed;
    std::span<const std::byte> answer_;
};

/// Where a program that is installed with this one lies: beside it, or in libexec/curly-ripple. Throws
/// Failure if it is in neither place.
std::filesystem::path programBeside(const std::string& name);

} // namespace ripple::base
