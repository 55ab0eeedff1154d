#pragma once
#include <avrek/core/ids.h>
#include <avrek/core/time.h>
#include <avrek/core/vectors.h>

#include <cstddef>
#include <cstdint>
#include <optional>
#include <string_view>
#include <vector>

/// Notices: events that are sent once to their audience, and, if remembered, to late joiners.
namespace avrek {

/// Kinds of notices.
enum class NoticeKind : std::uint8_t {
    /// `by` hit `who`; sent to both. `amount` is the damage, `index` the region, `point` the place of a shot,
    /// a projectile or a blow, zero for all else.
    hit,
    /// `by`, or nobody, killed `who` with `weapon`; remembered until the respawn
    death,
    respawn, ///< `who` respawned at `point`, which is zero for foes
    /// a projectile of `by`'s shot `number` is at `point`, with the velocity `direction`; it has flown for
    /// `amount` seconds. `index` is the number of the projectile among those of `weapon`; with a homing
    /// target `who`, `aim` is the point of it, in its axes. A client is told when its player could see the
    /// projectile; then of what follows. Late joiners are told too
    launched,
    /// projectile `index` bounces off body `who` at `point`; `direction` is its new velocity, with which it
    /// has
    /// flown for `amount` seconds
    deflected,
    /// projectile `index` sticks to `who`, or to the level, at `point`, which is `aim` in the axes of `who`
    stuck,
    landed, ///< projectile `index` is gone, at `point`
    /// explosion by `by` at `point`; `amount` is its radius. The side of `by` gets it, and all who could
    /// see it; to these `by` is nobody unless they know where that one is. Others hear it, see Noise
    exploded,
    /// Pickup `index` is gone; `who` took it. This kind and the five that follow go at once to the side of
    /// `who`, and to others when they could see the place: `at` is later then, and `who` is nobody.
    pickup_taken,
    /// Pickup `index`, PickupId{`number`}, is at `point`: it has come back, or was placed after the start.
    pickup_placed,
    /// A weapon of `who`, who died, lies at `point`: `weapon`, with `number` rounds in its magazine. `index`
    /// is its number, which `weapon_taken` names.
    weapon_dropped,
    weapon_taken, ///< weapon `index` no longer lies there
    /// A hazard is at `point`: HazardId{`number`} of TeamId{`amount`}, laid by `who`. Its axes look along
    /// `direction`, up is `aim`. `index` is its number, which `hazard_ended` names; the plan's count from 0.
    hazard_laid,
    hazard_ended, ///< hazard `index` is gone
    match_over,   ///< `index` won; -1: a draw; remembered
    joined,       ///< `who` has joined
    left,         ///< `who` has left
    action,       ///< GameAction by `by` about `who` at `point`; `number` is its tag, `index` its kind
    game,         ///< the game's own: `number` is its topic; all other members are free
};

/// Number of notice kinds.
inline constexpr std::size_t notice_kind_count = 19;

/// Returns the word for a kind, such as "match over".
std::string_view to_string(NoticeKind kind);

/// One notice. Members that its kind does not name keep their defaults.
struct Notice {
    NoticeKind kind = NoticeKind::game;
    std::uint64_t id = 0; ///< counted from 1 over the match; the server sets it
    Time at{};
    BodyId who = nobody;
    BodyId by = nobody;
    std::optional<WeaponId> weapon{};
    std::int32_t index = -1;
    std::uint32_t number = 0;
    double amount = 0.0;
    Vector3 point = Vector3::Zero();
    Vector3 direction = Vector3::Zero();
    Vector3 aim = Vector3::Zero();
    std::vector<std::byte> payload{}; ///< at most `max_notice_payload`
    friend bool operator==(const Notice&, const Notice&) = default;
};

/// Maximum size of a payload in bytes.
inline constexpr std::size_t max_notice_payload = 1024;

/// Kinds of audiences.
enum class AudienceKind : std::uint8_t { all, all_but, team, one };

/// Receivers of a notice.
struct Audience {
    AudienceKind kind = AudienceKind::all;
    BodyId who = nobody; ///< for `all_but` and `one`
    TeamId team{};       ///< for `team`

    /// Returns whether a listener of a team is in the audience.
    bool holds(BodyId listener, TeamId its_team) const;
};

/// Notices for late joiners: the newest of each key.
class NoticeBoard {
  public:
    /// Remembers a notice: one of the game under its topic, others under their kind and subject. It replaces
    /// an older one.
    void remember(const Notice& notice, const Audience& audience);
    /// Forgets the notices of a kind about a combatant.
    void forget(NoticeKind kind, BodyId who);
    /// Forgets the notice of the game with a topic.
    void forget_topic(std::uint32_t topic);
    /// Returns the notices for a late joiner, oldest first.
    std::vector<Notice> for_listener(BodyId listener, TeamId team) const;
    /// Returns the number of remembered notices.
    std::size_t size() const { return remembered_.size(); }

  private:
    struct Remembered {
        Notice notice{};
        Audience audience{};
    };
    std::vector<Remembered> remembered_; // in order of ids
};

} // namespace avrek
