#pragma once
#include <avrek/core/ids.h>
#include <avrek/core/time.h>
#include <avrek/core/vectors.h>

#include <cstddef>
#include <cstdint>
#include <string_view>
#include <vector>

/// Notices: what happened, told once to whom it concerns, and, if that is wanted, to whoever comes later.
namespace avrek {

enum class NoticeKind : std::uint8_t {
    hit,        ///< `by` hurt `who`: told to both; `amount` is the damage, `place` the region
    death,      ///< `who` was killed, by `by` or nobody, with `weapon`; remembered until it comes back
    respawn,    ///< `who` is back at `point`
    launched,   ///< a projectile of `by`'s shot `number` leaves from `point` in `direction`
    landed,     ///< it is gone, at `point`
    exploded,   ///< something of `by` went off at `point`; `amount` is its radius
    taken,      ///< `who` took pickup `place`
    match_over, ///< `place` won, or nobody with -1; remembered
    joined,     ///< `who` has joined
    left,       ///< `who` has left
    game,       ///< the game's own: `place` is what it likes, `payload` too
};

inline constexpr std::size_t notice_kind_count = 11;

/// The word for a kind, such as "match over".
std::string_view to_string(NoticeKind kind);

struct Notice {
    NoticeKind kind = NoticeKind::game;
    std::uint64_t id = 0; ///< of all notices of a match, counted from 1: the server gives it
    Time at{};
    BodyId who = nobody;
    BodyId by = nobody;
    std::int32_t weapon = -1; ///< index into Arsenal::weapons
    std::int32_t index = -1;
    std::uint32_t number = 0;
    double amount = 0.0;
    Vector3 point = Vector3::Zero();
    Vector3 direction = Vector3::Zero();
    std::vector<std::byte> payload{}; ///< at most `max_notice_payload`
    friend bool operator==(const Notice&, const Notice&) = default;
};

inline constexpr std::size_t max_notice_payload = 1024;

enum class AudienceKind : std::uint8_t { all, all_but, team, one };

/// Whom a notice is for.
struct Audience {
    AudienceKind kind = AudienceKind::all;
    BodyId who = nobody; ///< of `all_but` and `one`
    TeamId team{};       ///< of `team`

    bool holds(BodyId listener, TeamId its_team) const;
};

/// The notices that late joiners are told: of each key the newest.
class NoticeBoard {
  public:
    /// Remembers a notice under its kind and whom it is about, in place of an older one.
    void remember(const Notice& notice, const Audience& audience);
    /// Forgets what is remembered of a kind about somebody.
    void forget(NoticeKind kind, BodyId who);
    /// What somebody who comes is told, oldest first.
    std::vector<Notice> for_listener(BodyId listener, TeamId team) const;
    std::size_t size() const { return remembered_.size(); }

  private:
    struct Remembered {
        Notice notice{};
        Audience audience{};
    };
    std::vector<Remembered> remembered_; // in order of ids
};

} // namespace avrek
