#pragma once
#include <avrek/core/bounds.h>
#include <avrek/core/time.h>
#include <avrek/scene/filter.h>
#include <avrek/scene/raycast.h>

#include <cassert>
#include <cstddef>
#include <optional>
#include <span>

/// The interface of a world. A game with its own world implements World; Scene is the built-in one.
namespace avrek {

/// The newest time that a world knows.
inline constexpr Time present = Time::max();

/// A sphere, or a point, that flies straight at an even speed. Bodies are where they are at `begin` when it
/// starts, and where they are at `end` at its full length. With equal times they stand still. Scene meets a
/// body that turns meanwhile within 4 mm of where it is, however fast the sphere is.
struct Cast {
    Ray ray;
    Metres radius = 0.0; ///< the sphere, at least 0
    Time begin = present;
    Time end = begin; ///< not before `begin`
};

/// A hit of a query.
struct Hit {
    Metres distance = 0.0;            ///< casts: along the ray; else from the queried point
    double share = 0.0;               ///< share of a cast's length and time, in [0, 1]
    Vector3 point = Vector3::Zero();  ///< in the world, on the surface that was hit
    Vector3 normal = Vector3::Zero(); ///< out of the surface that was hit, unit length
    bool inside = false;              ///< the start is inside: distance and share are 0
    bool back = false;                ///< a cast leaves a solid, or hits a triangle from behind
    std::optional<BodyId> body{};     ///< body that was hit; none for the level
    std::optional<RegionId> region{}; ///< region of the body's rig; none for the level
    SurfaceId surface{};              ///< SurfaceId{0} for a body that nothing bounces off
    CollisionLayer layer = CollisionLayer::level;
    /// Index of the level piece; triangles are counted on from there.
    std::uint32_t part = 0;
};

/// The world that shots fly in. A game implements the three pure functions; all ballistics use only these.
/// They must return the same results for the same world and arguments. The game can call them from several
/// threads if its implementation allows it.
class World {
  public:
    virtual ~World() = default;

    /// Returns the nearest hit along a cast, or none. raycast.h defines hits. At equal distance the level
    /// comes before bodies, a lower body id before a higher one, an earlier region or level part before a
    /// later one.
    virtual std::optional<Hit> closest_hit(const Cast& cast, const Filter& filter) const = 0;

    /// Writes all hits along a cast in order, and the points where solids are left: hits with `back` set and
    /// an outward normal. Overlapping solids are entered and left one by one. Spheres with a radius give no
    /// exits. Returns the number written; if `found` is too small, the nearest ones.
    virtual std::size_t every_hit(const Cast& cast, const Filter& filter, std::span<Hit> found) const = 0;

    /// Writes what overlaps `volume` at the time `at`: the level once, then bodies by id, each once with its
    /// point nearest to the volume's centre. Distances are from there, negative inside. Returns the number
    /// written, as many as fit.
    virtual std::size_t overlaps(const Volume& volume, Time at, const Filter& filter,
                                 std::span<Hit> found) const = 0;

    /// Returns the pose of a body at a time, for projectiles that stick to it or home in on it; none if
    /// unknown.
    virtual std::optional<Pose> body_pose(BodyId, Time) const { return std::nullopt; }

    /// Returns a distance around `point` within which no level part stops shots (stops_shots), at any time; 0
    /// if unknown. It only saves projectiles most of their casts.
    virtual Metres clearance(const Vector3&) const { return 0.0; }

    /// Returns whether a body can be within a box between `begin` and `end`; true if unknown. It only saves
    /// projectiles casts.
    virtual bool may_meet_bodies(const Bounds&, Time, Time) const { return true; }

    /// Returns whether a cast hits anything, for sight and blocked shots. Can be faster than closest_hit().
    virtual bool any_hit(const Cast& cast, const Filter& filter) const {
        return closest_hit(cast, filter).has_value();
    }

    /// Writes the nearest hit of each of many casts: the same as closest_hit() for one after the other. Can
    /// be faster: Scene takes about a fifth off rays that miss the caches. Precondition (asserted): as many
    /// hits as casts.
    virtual void closest_hits(std::span<const Cast> casts, const Filter& filter,
                              std::span<std::optional<Hit>> hits) const {
        assert(hits.size() == casts.size());
        for (std::size_t index = 0; index < casts.size(); ++index) {
            hits[index] = closest_hit(casts[index], filter);
        }
    }

    /// Writes for each of many casts whether it hits anything, as any_hit() says. Precondition (asserted): as
    /// many answers as casts.
    virtual void any_hits(std::span<const Cast> casts, const Filter& filter, std::span<bool> hits) const {
        assert(hits.size() == casts.size());
        for (std::size_t index = 0; index < casts.size(); ++index) {
            hits[index] = any_hit(casts[index], filter);
        }
    }
};

} // namespace avrek
