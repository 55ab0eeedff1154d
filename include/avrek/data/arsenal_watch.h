#pragma once
#include <avrek/data/arsenal_values.h>
#include <avrek/data/tuned_arsenal.h>

#include <memory>
#include <optional>
#include <string>
#include <vector>

/// Files of an arsenal that are watched while somebody changes them.
namespace avrek {

/// News of changed files: a new arsenal, or faults. With faults the last good arsenal stays.
struct ArsenalNews {
    std::vector<Diagnostic> diagnostics{};        ///< faults, or warnings about the new arsenal
    std::shared_ptr<const Arsenal> arsenal{};     ///< null with faults
    TuningStep step{};                            ///< the new texts, for Server::retune() and recordings
    std::vector<ArsenalDifference> differences{}; ///< from the last good arsenal, by key
};

/// Watches files that overlay each other, also those that an editor replaces. It reads them at each look, so
/// it needs neither a thread nor the clock.
///
///     ArsenalWatch watch{files};
///     while (running) {                                  // some times a second
///         if (const auto news = watch.look(); news && news->arsenal) {
///             (void)fight.retune(news->arsenal);
///         }
///     }
class ArsenalWatch {
  public:
    /// Reads the files as they are now.
    explicit ArsenalWatch(std::vector<std::string> files);

    /// Reads the files. Returns what became of a change as soon as two looks in a row have found the same, so
    /// that files that are being written are left alone; none without a change.
    std::optional<ArsenalNews> look();
    /// Returns the texts of the last good arsenal.
    const std::vector<ArsenalText>& texts() const { return good_; }

  private:
    /// Contents of all files; of one that cannot be read its name alone, and the fault.
    struct Read {
        std::vector<ArsenalText> texts{};
        std::vector<Diagnostic> faults{};
        bool is_same(const Read& other) const;
    };
    Read read() const;

    std::vector<std::string> files_;
    std::vector<ArsenalText> good_;
    Read told_{}; ///< the last contents that were told, or began with
    Read last_{}; ///< at the last look
};

} // namespace avrek
