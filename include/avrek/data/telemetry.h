#pragma once
#include <avrek/core/diagnostics.h>
#include <avrek/skirmish/skirmish.h>

#include <memory>
#include <string>
#include <vector>

/// Telemetry: the events of fights as tables, in an SQLite database or a folder of CSV files.
/// docs/telemetry.md has the tables, and queries.
namespace avrek {

/// Writes telemetry while a skirmish runs. An existing database gets one more match; CSV files are replaced.
class Telemetry {
  public:
    Telemetry();
    ~Telemetry();
    Telemetry(Telemetry&&) noexcept;
    Telemetry& operator=(Telemetry&&) noexcept;

    /// Opens a database if the name ends in .db, else a folder, which is made. Returns the faults.
    std::vector<Diagnostic> open(const std::string& file);

    /// Begins a match.
    void begin(const Skirmish& skirmish, const std::string& level);
    /// Names a combatant, and its shooter profile, if any. Unnamed combatants go by their number.
    void name(BodyId id, const std::string& name, const std::string& shooter = {});
    /// Records the events of the last tick. Once per simulated second they go to a thread that writes them to
    /// disk; a disk that is a minute behind holds up the tick, for 5 s at most: one that takes nothing for so
    /// long gets no more, and end() says so.
    void take(const Skirmish& skirmish);
    /// Ends the match: writes combatants and their statistics. Returns the faults since open().
    std::vector<Diagnostic> end(const Skirmish& skirmish);

    struct Writing; ///< private

  private:
    std::unique_ptr<Writing> writing_;
};

} // namespace avrek
