#pragma once
#include <avrek/core/diagnostics.h>
#include <avrek/skirmish/skirmish.h>

#include <memory>
#include <string>
#include <vector>

/// What happened in fights, as tables for those who ask about it later: an SQLite database, or a folder of
/// CSV. The tables, and queries, are in docs/telemetry.md.
namespace avrek {

/// Writes telemetry while a skirmish runs. A database that is there already gets one more match; files of CSV
/// are replaced.
class Telemetry {
  public:
    Telemetry();
    ~Telemetry();
    Telemetry(Telemetry&&) noexcept;
    Telemetry& operator=(Telemetry&&) noexcept;

    /// Opens a database, if the name ends in .db, or else a folder, which is made. Returns what is wrong.
    std::vector<Diagnostic> open(const std::string& file);

    /// A match begins.
    void begin(const Skirmish& skirmish, const std::string& level);
    /// What to call somebody, and the shooter profile that it plays by, if any. Those who are not named are
    /// called by their number.
    void name(BodyId id, const std::string& name, const std::string& shooter = {});
    /// The events of the last tick. Once a simulated second all of it is put on the disk.
    void take(const Skirmish& skirmish);
    /// The match is over: combatants and their tallies are written. Returns what went wrong since open().
    std::vector<Diagnostic> end(const Skirmish& skirmish);

    struct Writing; ///< for its own code alone

  private:
    std::unique_ptr<Writing> writing_;
};

} // namespace avrek
