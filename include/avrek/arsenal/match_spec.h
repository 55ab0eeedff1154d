#pragma once
#include <avrek/core/ids.h>
#include <avrek/core/time.h>

#include <cstddef>
#include <cstdint>
#include <string>
#include <string_view>
#include <vector>

namespace avrek {

/// Rule for damage between combatants of one team.
enum class FriendlyFire : std::uint8_t {
    off,       ///< none of it counts
    reduced,   ///< a share of it counts
    full,      ///< all of it counts
    reflected, ///< a share of it hits the attacker instead
};

/// Returns the word for a rule, as files write it.
std::string_view to_string(FriendlyFire policy);

/// Rule for health and defence points whose maximum changes during a life.
enum class RetunedHealth : std::uint8_t {
    share,  ///< they keep their share of the maximum
    points, ///< they stay, up to the new maximum
};

/// Returns the word for a rule, as files write it.
std::string_view to_string(RetunedHealth rule);

/// Lives of a combatant.
struct LivesSpec {
    std::int32_t start = -1; ///< at the start of a match; -1: lives are not counted
    std::int32_t min = 0;    ///< minimum lives
    std::int32_t max = 99;   ///< maximum lives
};

/// Respawn after a death.
struct RespawnSpec {
    Duration delay = std::chrono::seconds{3};
    Duration protection{};    ///< time after a respawn without any harm
    bool ends_on_fire = true; ///< firing or striking ends the protection
};

/// Credit for an assist.
struct AssistSpec {
    double min_damage = 20.0; ///< minimum damage, over 0
    Duration within = std::chrono::seconds{10};
};

/// Points for the score.
struct ScoreSpec {
    std::int32_t kill = 1;
    std::int32_t assist = 0;
    std::int32_t death = 0;
    std::int32_t team_kill = -1; ///< for killing a team member, or oneself
};

/// Lag compensation: how hits by shooters with a delayed view are validated.
struct LagCompensationSpec {
    Duration max_rewind = std::chrono::milliseconds{250}; ///< maximum rewind of targets, 0 to 1 s
    /// A target hidden from the shooter for longer than this is not hit. At least 0.
    Duration cover_grace = std::chrono::milliseconds{100};
    bool trades = true; ///< shots still count when their shooter has died by then
};

/// Rules for the combatants of one team, in place of those for all.
struct SideSpec {
    std::string name{};
    std::int32_t team = 0;         ///< number of its team, 0 to 31
    std::int32_t lives = -1;       ///< lives of each at the start; -1: LivesSpec::start
    std::int32_t respawns = -1;    ///< respawns that they share; -1: any number
    std::int32_t score_to_win = 0; ///< its own goal; 0: MatchSpec::score_to_win
    bool alert_spreads = false;    ///< a foe that notices one of them makes all of them alert
};

/// Maximum number of sides with rules of their own.
inline constexpr std::size_t max_sides = 8;

/// The rules of a match.
struct MatchSpec {
    std::string id{};
    bool teams = true;             ///< scores count by team; otherwise every combatant is alone
    std::int32_t score_to_win = 0; ///< team score, or combatant score without teams; 0: no limit
    bool last_one_wins = false;    ///< the match ends when only one side is left
    Duration time_limit = Duration::max();
    FriendlyFire friendly_fire = FriendlyFire::full;
    double team_share = 0.5; ///< with FriendlyFire::reduced and reflected, in [0, 1]
    double self_share = 1.0; ///< share of the damage to oneself, in [0, 1]
    LivesSpec lives{};
    RespawnSpec respawn{};
    AssistSpec assist{};
    ScoreSpec score{};
    std::vector<SideSpec> sides{}; ///< at most `max_sides`, each of another team
    LagCompensationSpec lag_compensation{};
    RetunedHealth retuned_health = RetunedHealth::share; ///< when values change in a running fight
    bool corpses_stop_shots = true;                      ///< shots still hit the bodies of the dead
    bool drops_weapon = true;                            ///< the weapon in hand drops where its bearer dies
    Duration corpse_lifetime = std::chrono::seconds{8};  ///< time until the body of the dead is removed
};

/// Returns the rules of one team alone, or null if it has none or teams do not count.
const SideSpec* side_of(const MatchSpec& rules, TeamId team);

} // namespace avrek
