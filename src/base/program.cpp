// SPDX-License-Identifier: GPL-3.0-or-later
#include "base/program.h"

#include "base/text.h"

#include <cerrno>
#include <csignal>
#include <cstdlib>
#include <fcntl.h>
#include <poll.h>
#include <sys/resource.h>
#include <sys/wait.h>
#include <unistd.h>

namespace jointer {

namespace {

std::string whereIs(const std::string& name) {
    const char* paths = std::getenv("PATH");
    for (const std::string_view folder : split(paths ? paths : "/usr/local/bin:/usr/bin:/bin", ':'))
        if (const std::string path = std::string(folder.empty() ? "." : folder) + "/" + name;
            access(path.c_str(), X_OK) == 0)
            return path;
    return {};
}

// Between the copy of the process and the new program only what no lock is needed for.
[[noreturn]] void become(const char* program, char* const* arguments, const char* folder, int says,
                         const ProgramLimits& limits) {
    const auto limit = [](auto what, std::size_t most) {
        const rlimit both{most, most};
        setrlimit(what, &both);
    };
    limit(RLIMIT_AS, limits.memoryBytes);
    limit(RLIMIT_FSIZE, limits.fileBytes);
    limit(RLIMIT_CORE, 0);
    limit(RLIMIT_CPU, static_cast<std::size_t>(limits.time.count() / 1000 + 2));
    setpgid(0, 0);
    const int nothing = open("/dev/null", O_RDONLY);
    dup2(nothing, 0);
    dup2(says, 1);
    dup2(says, 2);
    for (int descriptor = 3; descriptor < 256; ++descriptor) close(descriptor);
    if (chdir(folder) == 0) execv(program, arguments);
    _exit(127);
}

// Its words are read to the end, so that it never waits for a reader.
Result<std::string> lastWords(int from, const ProgramLimits& limits, const Cancellation& stop) {
    const auto deadline = std::chrono::steady_clock::now() + limits.time;
    std::string words, buffer(1 << 14, '\0');
    for (;;) {
        if (stop.stop_requested()) return failure("stopped", "It was stopped.");
        if (std::chrono::steady_clock::now() > deadline)
            return failure("program-too-slow", "It took too long.");
        pollfd waiting{from, POLLIN, 0};
        if (poll(&waiting, 1, 50) <= 0) continue;
        const ssize_t n = read(from, buffer.data(), buffer.size());
        if (n < 0 && errno == EINTR) continue;
        if (n <= 0) return words;
        words.append(buffer.data(), static_cast<std::size_t>(n));
        if (words.size() > 4000) words.erase(0, words.size() - 2000);
    }
}

} // namespace

Result<void> runProgram(const std::string& name, const std::vector<std::string>& arguments,
                        const std::filesystem::path& folder, const ProgramLimits& limits,
                        const Cancellation& stop) {
    const std::string program = whereIs(name);
    if (program.empty())
        return failure("no-program", "It needs the program “" + name + "”, which is not installed.");
    std::vector<std::string> words = arguments;
    words.insert(words.begin(), name);
    std::vector<char*> pointers;
    for (std::string& word : words) pointers.push_back(word.data());
    pointers.push_back(nullptr);
    const std::string where = folder.string();
    int ends[2];
    if (pipe2(ends, O_CLOEXEC) != 0) return failure("program-failed", "No process could be started for it.");
    const pid_t child = fork();
    if (child == 0) become(program.c_str(), pointers.data(), where.c_str(), ends[1], limits);
    close(ends[1]);
    if (child < 0) {
        close(ends[0]);
        return failure("program-failed", "No process could be started for it.");
    }
    const auto said = lastWords(ends[0], limits, stop);
    close(ends[0]);
    if (!said) kill(-child, SIGKILL), kill(child, SIGKILL);
    int status = 0;
    while (waitpid(child, &status, 0) < 0 && errno == EINTR) {}
    if (!said) return std::unexpected(said.error());
    if (WIFEXITED(status) && WEXITSTATUS(status) == 0) return {};
    std::string last(trimmed(*said));
    if (const std::size_t line = last.find_last_of('\n'); line != last.npos) last.erase(0, line + 1);
    return failure("program-failed",
                   "The program “" + name + "” failed" + (last.empty() ? "." : ": " + validUtf8(last)));
}

TemporaryFolder::TemporaryFolder() {
    std::error_code error;
    std::string pattern = (std::filesystem::temp_directory_path(error) / "jointer-XXXXXX").string();
    if (!error && mkdtemp(pattern.data())) path_ = pattern;
}

TemporaryFolder::~TemporaryFolder() {
    std::error_code error;
    if (!path_.empty()) std::filesystem::remove_all(path_, error);
}

} // namespace jointer
