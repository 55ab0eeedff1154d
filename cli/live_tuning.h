#pragma once
#include "crew_options.h"
#include <avrek/data/arsenal_watch.h>

#include <functional>
#include <optional>
#include <string>
#include <vector>

/// Values that change while a command runs.
namespace avrek::cli {

/// Prints what became of watched files to standard error.
void say_news(const ArsenalNews& news);

/// Runs `show` now, and again whenever a file changes, until an interrupt. On a terminal it clears the screen
/// first. Throws WrongCall without files.
void run_watched(const std::vector<std::string>& files, const std::function<void()>& show);

/// Runs `show` once, or watched if the options say so.
void run_or_watch(const CommonOptions& common, const std::function<void()>& show);

/// Returns a watch of files. Throws WrongCall without any.
ArsenalWatch watch_of(const std::vector<std::string>& files);

/// The steps of a bout: overlays that were asked for at their times, and files that are watched.
class LiveTuning {
  public:
    /// `words` are "SECONDS=FILE.toml". Throws WrongCall with the faults of all of them.
    LiveTuning(const std::vector<ArsenalText>& texts, const std::vector<std::string>& words);

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

    std::vector<Planned> planned_{}; ///< in order of time
    std::size_t next_ = 0;
    std::optional<ArsenalWatch> watch_{};
    std::vector<Taken> taken_{};
    std::size_t noted_ = 0;
};

} // namespace avrek::cli
