#include "progress.h"

#include <fmt/format.h>
#include <unistd.h>

#include <csignal>
#include <utility>

namespace avrek::cli {

namespace {

volatile std::sig_atomic_t interrupted = 0;

void note(int) {
    interrupted = 1;
}

} // namespace

Progress::Progress(std::string what, std::int64_t total)
    : what_(std::move(what)), total_(total), on_terminal_(isatty(STDERR_FILENO) == 1) {}

Progress::~Progress() {
    end();
}

void Progress::end() {
    if (shown_) {
        fmt::print(stderr, "\r\033[K");
        shown_ = false;
    }
}

bool Progress::is_shown() {
    return isatty(STDERR_FILENO) == 1;
}

void Progress::show(std::int64_t finished) {
    using namespace std::chrono_literals;
    const auto now = std::chrono::steady_clock::now();
    if (!on_terminal_ || now - started_ < 2s || now - last_ < 100ms) {
        return;
    }
    last_ = now;
    shown_ = true;
    const double spent = std::chrono::duration<double>(now - started_).count();
    const double left =
        finished > 0 ? spent * static_cast<double>(total_ - finished) / static_cast<double>(finished) : 0.0;
    fmt::print(stderr, "\r\033[K{}: {} of {}, {:.0f} s left", what_, finished, total_, left);
    std::fflush(stderr);
}

NotesInterrupts::NotesInterrupts() {
    interrupted = 0;
    struct sigaction noting {};
    noting.sa_handler = note; // without SA_RESTART: nothing waits on
    sigaction(SIGINT, &noting, &before_);
    sigaction(SIGTERM, &noting, &terminate_before_);
}

NotesInterrupts::~NotesInterrupts() {
    sigaction(SIGINT, &before_, nullptr);
    sigaction(SIGTERM, &terminate_before_, nullptr);
}

bool NotesInterrupts::was_interrupted() const {
    return interrupted != 0;
}

} // namespace avrek::cli
