#pragma once
#include <avrek/core/bounds.h>
#include <avrek/core/time.h>
#include <avrek/scene/filter.h>
#include <avrek/scene/raycast.h>

#include <cstddef>
#include <optional>
#include <span>

/// What Avrek asks of a world. A game that has its own implements World; Scene is the one that comes with
/// Avrek.
namespace avrek {

/// Stands for the newest moment that a world knows of.
inline constexpr Time present = Time::max();

/// A ball, or a point, that flies straight and evenly. Bodies stand as they do at `begin` while it starts,
/// and as they do at `end` when it is at its full length; with both equal they stand still.
struct Cast {
    Ray ray;
    Metres radius = 0.0; ///< of the ball, at least 0
    Time begin = present;
    Time end = begin; ///< not before `begin`
};

/// Where a query met something.
struct Hit {
    Metres distance = 0.0; ///< of casts: along the ray; of overlaps and nearest points: from the asked point
    double share = 0.0;    ///< of the length, and of the time, of a cast: in [0, 1]
    Vector3 point = Vector3::Zero();  ///< of the world, on the surface of what was hit
    Vector3 normal = Vector3::Zero(); ///< out of what was hit, of unit length
    bool inside = false; ///< the start is inside: distance and share 0, the normal opposite to the ray
    bool back = false;   ///< a cast leaves the solid here, or hits a triangle from behind
    std::optional<BodyId> body{};     ///< the body that was hit; none for the level
    std::optional<RegionId> region{}; ///< of the body's rig; none for the level
    SurfaceId surface{};              ///< of the level; SurfaceId{0} for a body
    CollisionLayer layer = CollisionLayer::level;
    std::uint32_t part = 0; ///< which piece of the level, or, counted on from the pieces, which triangle
};

/// Something in which shots fly and hit. The three functions that have no body here are all that a game must
/// write; what Avrek's ballistics do, they do by these alone. They must give the same results for the same
/// world and arguments, and may be called from several threads at once if the game does so.
class World {
  public:
    virtual ~World() = default;

    /// The nearest thing along a cast that `filter` lets it hit. What counts as a hit is said in raycast.h.
    /// Of things at the same distance the level comes before bodies, a lower body id before a higher one, and
    /// an earlier region or level part before a later one.
    virtual std::optional<Hit> closest_hit(const Cast& cast, const Filter& filter) const = 0;

    /// Everything along a cast in order, and where it is left again: hits with `back` set, with the normal
    /// outwards. Of solids that overlap, each is entered and left for itself. Balls with a radius give no
    /// exits. Keeps the nearest when `found` is too small for all; returns how many it wrote.
    virtual std::size_t every_hit(const Cast& cast, const Filter& filter, std::span<Hit> found) const = 0;

    /// What has inner points in common with `volume` as of the moment `at`: the level once, if it does, then
    /// bodies by id, each once with its point nearest to the volume's centre; distances are from there, under
    /// 0 when it is inside. Writes as many as fit; returns how many.
    virtual std::size_t overlaps(const Volume& volume, Time at, const Filter& filter,
                                 std::span<Hit> found) const = 0;

    /// Where a body stands at a moment, for what sticks to it or flies after it; none when it is not known.
    virtual std::optional<Pose> body_pose(BodyId, Time) const { return std::nullopt; }

    /// A distance to `point` within which certainly nothing of the level stops shots (stops_shots), at any
    /// moment; 0 when that is not known. It saves projectiles most of their casts, and changes nothing else.
    virtual Metres clearance(const Vector3&) const { return 0.0; }

    /// Whether a body may be within a box at some moment from `begin` to `end`; true when that is not known.
    /// It saves projectiles casts too.
    virtual bool may_meet_bodies(const Bounds&, Time, Time) const { return true; }

    /// Whether a cast hits anything: whether sight or a shot is blocked. As closest_hit(), and quicker where
    /// the world knows how.
    virtual bool any_hit(const Cast& cast, const Filter& filter) const {
        return closest_hit(cast, filter).has_value();
    }
};

} // namespace avrek
