#pragma once
#include <chrono>
#include <csignal>
#include <cstdint>
#include <string>

namespace avrek::cli {

/// A line on standard error that says how far long work is: where that is a terminal, after two seconds.
class Progress {
  public:
    Progress(std::string what, std::int64_t total);
    ~Progress();
    Progress(const Progress&) = delete;
    Progress& operator=(const Progress&) = delete;
    void show(std::int64_t done);
    /// Takes the line away, before a result is printed. The destructor does so too.
    void end();
    /// Whether standard error is a terminal.
    static bool is_shown();

  private:
    std::string what_;
    std::int64_t total_;
    bool on_terminal_;
    bool shown_ = false;
    std::chrono::steady_clock::time_point started_ = std::chrono::steady_clock::now();
    std::chrono::steady_clock::time_point last_ = started_;
};

/// While it lives, an interrupt (Ctrl-C) or a request to end is noted and does not end the program. A read or
/// write that is waiting then fails.
class NotesInterrupts {
  public:
    NotesInterrupts();
    ~NotesInterrupts();
    NotesInterrupts(const NotesInterrupts&) = delete;
    NotesInterrupts& operator=(const NotesInterrupts&) = delete;
    bool was_interrupted() const;

  private:
    struct sigaction before_ {};
    struct sigaction terminate_before_ {};
};

} // namespace avrek::cli
