#pragma once
#include "arsenal_options.h"
#include "command_line.h"
#include "level_options.h"
#include <avrek/data/replay_file.h>
#include <avrek/data/telemetry.h>
#include <avrek/net/server.h>
#include <avrek/skirmish/bout.h>

#include <cstdint>
#include <optional>
#include <span>
#include <string>
#include <vector>

/// Options that the commands with crews of bots share.
namespace avrek::cli {

struct CrewOptions {
    CommonOptions common;
    double crew = 8;
    std::optional<double> seconds = 60.0; ///< none: no limit
    double rate = 64;
    std::string level = demo_level;
    std::string rules;
    std::string body;
    std::string blade;
    std::vector<std::string> shooters;
    std::string record;
    std::string telemetry;
};

/// Members of a command's crews.
enum class CrewOf { bots, players };

/// Describes these options to a command; `most` of them at most.
void add_crew_options(Command& command, CrewOptions& options, double most, CrewOf who = CrewOf::bots);

/// The ticks that the options allow.
std::int64_t ticks_of(const CrewOptions& options);

/// A value of an option that must be whole. Throws WrongCall.
std::int64_t whole(const char* option, double value);

/// Returns the index of what an option names in the arsenal; the first with an empty name. Throws WrongCall.
template <class Id, class Spec>
Id id_named(const std::string& kind, const std::vector<Spec>& specs, const std::string& id) {
    for (std::size_t index = 0; index < specs.size(); ++index) {
        if (id.empty() || specs[index].id == id) {
            return static_cast<Id>(index);
        }
    }
    if (specs.empty()) {
        throw WrongCall{{"error: the arsenal has no " + kind + ", and this needs one"}};
    }
    throw unknown_name(kind, id, ids_of(specs));
}

BoutSetup setup_of(const Arsenal& arsenal, const CrewOptions& options);
SkirmishSettings settings_of(const Arsenal& arsenal, const LevelPlan& plan, const CrewOptions& options);

/// A replay and telemetry of a skirmish, as far as they were asked for.
class Recording {
  public:
    /// Throws WrongCall when a file cannot be written.
    void open(const CrewOptions& options, const std::vector<ArsenalText>& texts, const Skirmish& skirmish,
              std::span<const BoutMember> members);
    /// After a tick of a server: who came and left, and what went in. As tick().
    bool take(const Server& server);
    /// Somebody comes in or leaves, before a tick.
    void add(const Arsenal& arsenal, const Entrant& entrant);
    void remove(BodyId id);
    /// The values change, before a tick.
    void retune(const TuningStep& step);
    /// After a tick. Returns false when the replay can no longer be written; close() says why.
    bool tick(const Skirmish& skirmish, std::span<const Intent> intents,
              std::span<const GameAction> actions = {});
    /// Ends both. Returns what has gone wrong with either: the results are shown first, then it stops at
    /// this.
    [[nodiscard]] std::vector<Diagnostic> close(const Skirmish& skirmish);

  private:
    bool records_ = false;
    bool has_telemetry_ = false;
    ReplayWriter replay_{};
    Telemetry telemetry_{};
};

} // namespace avrek::cli
