#include "gnuplot.h"

#include "command_line.h"
#include "output.h"

#include <fcntl.h>
#include <fmt/format.h>
#include <spawn.h>
#include <sys/wait.h>
#include <unistd.h>

#include <algorithm>
#include <cerrno>
#include <csignal>
#include <cstdio>
#include <cstring>
#include <filesystem>
#include <fstream>
#include <optional>

namespace avrek::cli {

namespace {

// A directory of our own that goes when we do.
class ScratchDirectory {
  public:
    ScratchDirectory() {
        std::string name = (std::filesystem::temp_directory_path() / "avrek-XXXXXX").string();
        if (mkdtemp(name.data()) == nullptr) {
            throw WrongCall{
                {fmt::format("error: cannot make a temporary directory: {}", std::strerror(errno))}};
        }
        path_ = name;
    }
    ~ScratchDirectory() {
        std::error_code ignored;
        std::filesystem::remove_all(path_, ignored);
    }
    ScratchDirectory(const ScratchDirectory&) = delete;
    ScratchDirectory& operator=(const ScratchDirectory&) = delete;

    std::string file(const char* name) const { return (path_ / name).string(); }

  private:
    std::filesystem::path path_;
};

// While it lives, an interrupt ends the child alone, so that we can tidy up after it.
class InterruptsGoToTheChild {
  public:
    InterruptsGoToTheChild() : before_(std::signal(SIGINT, SIG_IGN)) {}
    ~InterruptsGoToTheChild() { std::signal(SIGINT, before_); }
    InterruptsGoToTheChild(const InterruptsGoToTheChild&) = delete;
    InterruptsGoToTheChild& operator=(const InterruptsGoToTheChild&) = delete;

  private:
    void (*before_)(int);
};

// Runs gnuplot on a script file, its words into another file. The status of waitpid(), or nothing and errno.
std::optional<int> run_gnuplot(const std::string& script, const std::string& words) {
    const InterruptsGoToTheChild interrupts;
    posix_spawn_file_actions_t actions;
    posix_spawn_file_actions_init(&actions);
    posix_spawn_file_actions_addopen(&actions, STDERR_FILENO, words.c_str(), O_WRONLY | O_CREAT | O_TRUNC,
                                     0600);
    posix_spawnattr_t attributes;
    posix_spawnattr_init(&attributes);
    sigset_t interrupt;
    sigemptyset(&interrupt);
    sigaddset(&interrupt, SIGINT);
    posix_spawnattr_setsigdefault(&attributes, &interrupt);
    posix_spawnattr_setflags(&attributes, POSIX_SPAWN_SETSIGDEF);
    std::string program = "gnuplot";
    std::string argument = script;
    char* const call[] = {program.data(), argument.data(), nullptr};
    pid_t process = 0;
    const int error = posix_spawnp(&process, "gnuplot", &actions, &attributes, call, environ);
    posix_spawnattr_destroy(&attributes);
    posix_spawn_file_actions_destroy(&actions);
    if (error != 0) {
        errno = error;
        return std::nullopt;
    }
    int status = 0;
    while (waitpid(process, &status, 0) < 0 && errno == EINTR) {
    }
    return status;
}

// Whether a picture has its end: a drawing that ran into a full disk succeeds all the same.
bool is_whole(const std::string& file) {
    std::ifstream stream{file, std::ios::binary | std::ios::ate};
    const std::streamoff size = stream.tellg();
    std::string tail(16, ' ');
    stream.seekg(std::max<std::streamoff>(0, size - static_cast<std::streamoff>(tail.size())));
    stream.read(tail.data(), static_cast<std::streamsize>(tail.size()));
    return tail.find("IEND") != std::string::npos || tail.find("</svg>") != std::string::npos;
}

std::string first_line(const std::string& file) {
    std::ifstream stream{file};
    std::string line;
    while (std::getline(stream, line) && line.find_first_not_of(" \t^") == std::string::npos) {
    }
    return line;
}

} // namespace

std::string quoted(const std::string& text) {
    std::string result = "'";
    for (const char character : text) {
        result += character == '\'' ? std::string{"''"} : std::string(1, character == '\n' ? ' ' : character);
    }
    return result + "'";
}

void draw(const std::string& script, const std::string& file) {
    const ScratchDirectory scratch;
    const bool svg = file.ends_with(".svg");
    const std::string terminal = svg ? "svg size 1280,800 font 'DejaVu Sans,14' background '#ffffff'"
                                     : "pngcairo size 1280,800 font 'DejaVu Sans,11' background '#ffffff'";
    const std::string part = fmt::format("{}.{}.part", file, getpid());
    if (!std::ofstream{part}) {
        throw WrongCall{{fmt::format("error: cannot write {}: {}", file, std::strerror(errno))}};
    }
    std::ofstream script_file{scratch.file("script")};
    script_file << "set terminal " << terminal << "\nset output " << quoted(part) << '\n'
                << script << "\nset output\n";
    script_file.close();
    if (!script_file) {
        throw WrongCall{{fmt::format("error: cannot draw {}: no room for its script in {}", file,
                                     std::filesystem::temp_directory_path().string())}};
    }
    const std::optional<int> status = run_gnuplot(scratch.file("script"), scratch.file("words"));
    if (!status) {
        const std::string why = errno == ENOENT ? "it is not installed" : std::strerror(errno);
        throw WrongCall{
            {fmt::format("error: --plot needs the program gnuplot: {}; scripts/demo.sh installs it", why)}};
    }
    if (*status != 0 || !is_whole(part)) {
        std::remove(part.c_str());
        const bool interrupted = WIFSIGNALED(*status) && WTERMSIG(*status) == SIGINT;
        const std::string words = first_line(scratch.file("words"));
        const std::string why = interrupted     ? "interrupted"
                                : words.empty() ? "the picture was cut off"
                                                : words;
        throw WrongCall{{fmt::format("error: cannot draw {}: {}", file, why)}};
    }
    replace_file(part, file);
}

} // namespace avrek::cli
