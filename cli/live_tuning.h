#pragma once
#include "crew_options.h"
#include "session_options.h"
#include <avrek/data/arsenal_watch.h>

#include <functional>
#include <optional>
#include <string>
#include <utility>
#include <vector>

/// Values that change while a command runs.
namespace avrek::cli {

/// Prints what became of watched files to standard error.
void say_news(const ArsenalNews& news);

/// Runs `show` once. With --watch it runs again whenever a file changes, until an interrupt; on a terminal it
/// clears the screen first. Throws WrongCall if there is no file to watch, or for --session without --watch.
/// `by` is the command, for the session.
void run_or_watch(const CommonOptions& common, const std::string& by, const std::function<void()>& show);

/// Returns a keeper of the session of these options; one that keeps nothing if they have none. Throws
/// WrongCall if no value can change.
SessionKeeper keeper_of(const CommonOptions& common, std::span<const ArsenalText> texts,
                        const std::string& by, bool can_change);

/// Returns a watch of files. Throws WrongCall without any.
ArsenalWatch watch_of(const std::vector<std::string>& files);

/// Returns the time and the step of "SECONDS=FILE.toml", the word of an option. Throws WrongCall.
std::pair<Time, TuningStep> timed_step(const char* option, const std::string& word);

/// The steps of a bout: overlays that were asked for at their times, and files that are watched.
class LiveTuning {
  public:
    /// `words` are "SECONDS=FILE.toml". Throws WrongCall with the faults of all of them.
    LiveTuning(const std::vector<ArsenalText>& texts, const std::vector<std::string>& words,
               const CommonOptions& common);

    /// Watches files from now on.
    void watch(const std::vector<std::string>& files) { watch_ = watch_of(files); }
    bool is_watching() const { return watch_.has_value(); }
    /// Takes the steps whose time has come.
    void before_tick(Skirmish& skirmish, Recording& recording);
    /// Counts what came of them.
    void note(std::span<const Event> events);
    /// Returns a line for each step.
    std::string text() const;
    /// Returns the number of steps taken.
    std::size_t count() const { return taken_.size(); }

  private:
    struct Planned {
        Time at{};
        TuningStep step{};
        std::shared_ptr<const Arsenal> arsenal{};
    };
    struct Taken {
        Time at{};
        std::string name{};
        std::size_t weapons = 0;
        std::size_t bodies = 0;
        std::int64_t rounds = 0; ///< lost
        double points = 0.0;     ///< lost
    };
    void take(Skirmish& skirmish, Recording& recording, const Planned& planned);

    TunedArsenal tuned_;
    SessionKeeper session_{};
    std::vector<Planned> planned_{}; ///< in order of time
    std::size_t next_ = 0;
    std::optional<ArsenalWatch> watch_{};
    std::vector<Taken> taken_{};
    std::size_t noted_ = 0;
};

} // namespace avrek::cli
