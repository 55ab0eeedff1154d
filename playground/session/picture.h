#pragma once
#include <avrek/skirmish/skirmish.h>

#include <deque>
#include <functional>
#include <optional>
#include <span>
#include <string>
#include <vector>

/// Things that events leave to be drawn, each with its times, so that it can be drawn at any.
namespace avrek::playground {

/// A tracer on its way.
struct Tracer {
    Vector3 from = Vector3::Zero();
    Vector3 to = Vector3::Zero();
    Time begins{};
    Time ends{};
    BodyId who = nobody;
    Metres flown = 0.0; ///< at its end
    bool hit_body = false;
};

/// Where a pellet of the player went, off the axis of its cone.
struct Direction {
    Radians left = 0.0;
    Radians up = 0.0;
};

/// A mark on a surface.
struct Mark {
    Vector3 at = Vector3::Zero();
    Vector3 normal = world_up();
    Time since{};
    bool on_body = false;
    SurfaceId surface{};
};

/// Damage that floats where it was done.
struct FloatingDamage {
    Vector3 at = Vector3::Zero();
    double amount = 0.0;
    Time since{};
    bool by_player = false;
    bool killed = false;
    std::vector<std::string> explanation{}; ///< step by step
};

/// A flash at a muzzle, or of an explosion with a radius.
struct Flash {
    Vector3 at = Vector3::Zero();
    Metres radius = 0.0; ///< 0: of a muzzle
    Time since{};
    BodyId who = nobody;
};

/// A sight line of an explosion to a body.
struct BlastLine {
    Vector3 from = Vector3::Zero();
    Vector3 to = Vector3::Zero();
    bool reaches = false;
    Time since{};
};

/// Recoil of a run of shots so far, and how far the player has pulled against it.
struct RecoilPoint {
    Look kick{};
    Look pulled{}; ///< equal to `kick` if the player holds on to the point
    Time at{};
};

/// A moment to go back to.
struct Moment {
    enum class Kind : std::uint8_t { hit, hurt, kill, death, values };
    Kind kind = Kind::hit;
    Time at{};
    std::string text{};
};

/// A line about what has happened.
struct FeedLine {
    std::string text{};
    Time since{};
};

/// Everything that events leave to be drawn.
struct Picture {
    std::deque<Tracer> tracers{};
    std::deque<Mark> marks{};
    std::deque<Direction> directions{}; ///< the player's last hundred pellets
    std::deque<FloatingDamage> damage{};
    std::deque<Flash> flashes{};
    std::deque<FeedLine> feed{};
    std::deque<BlastLine> blast_lines{};
    std::deque<RecoilPoint> recoil{};       ///< the player's run of shots, newest last
    Look run_began{};                       ///< where the player looked then
    Look kick_began{};                      ///< recoil that there was then
    std::optional<Time> shot_at{};          ///< the player's last shot
    std::deque<Moment> moments{};           ///< hits, kills and changes of the player
    std::vector<std::string> explanation{}; ///< the player's last damage, step by step
    Vector3 axis = world_forward();         ///< axis of the last shot by the player
    std::uint32_t axis_of = 0;              ///< number of that shot
    std::optional<Time> hit_at{};           ///< the player hit somebody
    std::optional<Time> kill_at{};          ///< the player killed somebody
    std::optional<Time> hurt_at{};          ///< the player was hurt
    std::uint32_t noticed_by = 0;           ///< 1 while foes notice the player
};

/// Names of combatants for the feed.
using NameOf = std::function<std::string(BodyId)>;

/// Takes the events of a fight into a picture for a player.
void take(Picture& picture, std::span<const Event> events, const Skirmish& fight, BodyId player,
          const NameOf& name_of);
/// Notes the recoil of a player, once for each picture. A run ends 0.5 s after its last shot.
void note_recoil(Picture& picture, const Skirmish& fight, BodyId player);
/// Drops what is over at a time.
void drop_over(Picture& picture, Time now);
/// Drops what begins after a time, when time has gone back.
void drop_after(Picture& picture, Time now);

} // namespace avrek::playground
