#pragma once
#include <avrek/core/time.h>

#include <cstdint>
#include <string>
#include <string_view>

namespace avrek {

/// What happens to damage between combatants of one team.
enum class FriendlyFire : std::uint8_t {
    off,       ///< nothing
    reduced,   ///< a share of it counts
    full,      ///< all of it counts
    reflected, ///< a share of it comes back to whom it came from
};

/// The word for a policy in files.
std::string_view to_string(FriendlyFire policy);

/// How many lives a combatant has.
struct LivesSpec {
    std::int32_t start = -1; ///< at the start of a match; -1: they are not counted
    std::int32_t min = 0;    ///< never fewer
    std::int32_t max = 99;   ///< never more
};

/// Coming back after a death.
struct RespawnSpec {
    Duration delay = std::chrono::seconds{3};
    Duration protection{};    ///< in which nothing touches who came back
    bool ends_on_fire = true; ///< firing or striking ends the protection
};

/// Who else gets credit for a kill.
struct AssistSpec {
    double min_damage = 20.0; ///< damage, over 0
    Duration within = std::chrono::seconds{10};
};

/// What is won by what.
struct ScoreSpec {
    std::int32_t kill = 1;
    std::int32_t assist = 0;
    std::int32_t death = 0;
    std::int32_t team_kill = -1; ///< of somebody of the own team, or of oneself
};

/// How shots are judged of shooters who see others as they were a while ago.
struct LagCompensationSpec {
    Duration max_rewind = std::chrono::milliseconds{250}; ///< no shot looks farther back, 0 to 1 s
    /// Who has been out of the shooter's sight for longer than this is not hit, at least 0.
    Duration cover_grace = std::chrono::milliseconds{100};
    bool trades = true; ///< what somebody fired still counts when its shooter is dead by then
};

/// The rules of a match.
struct MatchSpec {
    std::string id{};
    bool teams = true;             ///< scores count by team; otherwise everybody is alone
    std::int32_t score_to_win = 0; ///< of a team, or of one where everybody is alone; 0: no limit
    bool last_one_wins = false;    ///< it is over when only one side has anybody left
    Duration time_limit = Duration::max();
    FriendlyFire friendly_fire = FriendlyFire::full;
    double team_share = 0.5; ///< of FriendlyFire::reduced and reflected, in [0, 1]
    double self_share = 1.0; ///< of what somebody does to itself, in [0, 1]
    LivesSpec lives{};
    RespawnSpec respawn{};
    AssistSpec assist{};
    ScoreSpec score{};
    LagCompensationSpec lag_compensation{};
    bool corpses_stop_shots = true;                     ///< hits still meet the bodies of the dead
    bool drops_weapon = true;                           ///< the weapon in hand lies where its bearer died
    Duration corpse_lifetime = std::chrono::seconds{8}; ///< of the dead, before it is gone
};

} // namespace avrek
