#pragma once
#include "match_parts.h"
#include <avrek/skirmish/skirmish.h>

#include <array>
#include <cstdint>
#include <functional>
#include <optional>
#include <span>
#include <string_view>
#include <vector>

/// Copies of fights, for slow work beside the tick.
namespace avrek::detail {

/// A copy of what the hash of a match covers. It reads like the match, and refers to nothing.
class KeptMatch {
  public:
    void keep(const Match& match);

    Time now() const { return state_.now; }
    bool is_over() const { return state_.over; }
    std::optional<MatchId> rules_set() const { return state_.rules_set; }
    std::int32_t team_score(TeamId team) const { return state_.team_scores[to_index(team)]; }
    std::int32_t respawns_left(TeamId team) const { return respawns_left_[to_index(team)]; }
    std::span<const Combatant> combatants() const { return state_.combatants; }
    std::span<const HazardState> hazards() const { return state_.hazards; }
    std::span<const PickupState> pickups() const { return state_.pickups; }
    std::span<const DroppedWeapon> dropped() const { return state_.dropped; }
    bool is_alert(BodyId id) const;
    std::uint64_t state_hash() const;

  private:
    MatchState state_{};
    std::array<std::int32_t, team_count> respawns_left_{};
    std::vector<bool> alert_{}; // as the combatants
};

/// Numbers of a pool of projectiles that the hash of a fight covers.
class KeptPool {
  public:
    explicit KeptPool(const ProjectilePool& pool) : size_(pool.size()), hash_(pool.state_hash()) {}
    std::size_t size() const { return size_; }
    std::uint64_t state_hash() const { return hash_; }

  private:
    std::size_t size_;
    std::uint64_t hash_;
};

/// A copy of what the hash and the named fields of a fight cover. It reads like the skirmish, and refers to
/// nothing.
class KeptFight {
  public:
    /// Copies a fight, into the memory of the copy before.
    void keep(const Skirmish& skirmish);

    Tick tick() const { return tick_; }
    const KeptMatch& match() const { return match_; }
    std::span<const Fighter> fighters() const { return fighters_; }
    std::span<const KeptPool> projectiles() const { return pools_; }
    /// Returns Skirmish::fight_hash() of that time.
    std::uint64_t fight_hash() const;

  private:
    Tick tick_ = 0;
    KeptMatch match_{};
    std::vector<Fighter> fighters_{};
    std::vector<KeptPool> pools_{};
};

/// Returns part_hashes() of the skirmish of that time.
std::vector<std::uint16_t> part_hashes(const KeptFight& fight);

/// Does visit_named_fields() with the skirmish of that time.
void visit_named_fields(const KeptFight& fight,
                        const std::function<void(std::string_view, std::uint64_t)>& visit);

} // namespace avrek::detail
