#pragma once
#include <avrek/arsenal/weapon_spec.h>
#include <avrek/core/ids.h>
#include <avrek/core/time.h>
#include <avrek/core/vectors.h>
#include <avrek/vitals/damage.h>
#include <avrek/weapon/readout.h>
#include <avrek/weapon/weapon.h>

#include <cstddef>
#include <cstdint>
#include <span>
#include <string_view>
#include <vector>

/// One weapon in a game with its own world: the game casts the rays, Avrek does the rest.
///
///     Gun gun{rifle, {.seed = seed, .shooter = me}};
///     for (const Shot& shot : gun.advance(until, input)) {
///         for (const Vector3& direction : shot.directions(view)) {
///             if (auto hit = my_raycast(muzzle, direction)) {
///                 target.take(shot.damage(hit->distance, hit->region), shot.at);
///             }
///         }
///     }
///
/// A thin face over WeaponSpec, WeaponState and advance(), which stay usable.
namespace avrek {

/// A shot that left, with everything that its pellets need.
struct Shot {
    Time at{};
    WeaponEvent event{};                ///< as advance() reports it
    const WeaponSpec* weapon = nullptr; ///< never null
    std::uint64_t seed = 0;
    BodyId shooter = nobody;

    /// The directions of a shot's pellets, each computed when it is asked for.
    class Directions {
      public:
        /// Goes from pellet to pellet.
        class Iterator {
          public:
            /// Stands at a pellet.
            Iterator(const Directions& of, std::int32_t pellet) : of_(of), pellet_(pellet) {}
            Vector3 operator*() const; ///< unit length
            /// Goes to the next pellet.
            Iterator& operator++() {
                ++pellet_;
                return *this;
            }
            /// Returns whether it stands elsewhere.
            bool operator!=(const Iterator& other) const { return pellet_ != other.pellet_; }

          private:
            const Directions& of_;
            std::int32_t pellet_;
        };

        /// Spreads pellets around `middle`.
        Directions(const Shot& shot, const Vector3& middle) : shot_(shot), middle_(middle) {}
        /// First pellet.
        Iterator begin() const { return {*this, 0}; }
        /// End of the pellets.
        Iterator end() const { return {*this, shot_.weapon->pellets}; }

      private:
        const Shot& shot_;
        Vector3 middle_;
    };

    /// Returns the directions of its pellets for a look without recoil: the view's kick and the spread come
    /// on top. The same seed, shooter and shot give the same directions on every machine. The shot must
    /// outlive the result.
    Directions directions(const Look& view) const;
    /// Returns the damage of one pellet that hits a region of a rig after `distance`; see hit_damage().
    /// `pierced` is the share that remains after piercing.
    Damage damage(Metres distance, const RigSpec& rig, RegionId region, double pierced = 1.0) const;
    /// The same by the name of a region, for a game with bodies of its own.
    Damage damage(Metres distance, std::string_view region, double pierced = 1.0) const;
};

/// Settings of a gun.
struct GunSettings {
    std::uint64_t seed = 0;  ///< keys the spread
    BodyId shooter = nobody; ///< gives every combatant its own spread
    Time at{};               ///< start
};

/// A weapon with its magazine, its reserve and its events. Copies are independent.
class Gun {
  public:
    /// Takes the weapon in hand, full and ready. `spec` must outlive the gun; validate() finds no error in
    /// it.
    explicit Gun(const WeaponSpec& spec, const GunSettings& settings = {});

    /// Advances to `until` with what the player holds from now on. Returns the shots in order of time, which
    /// stay valid until the next call. Precondition (asserted): `until` is not before the last one.
    std::span<const Shot> advance(Time until, const WeaponIntent& input);
    /// Advances with inputs at times of their own, in order; see avrek::advance().
    std::span<const Shot> advance(Time until, std::span<const WeaponIntent> inputs);

    /// Returns everything that happened in the last advance(), shots included.
    std::span<const WeaponEvent> events() const { return events_; }
    /// Returns what an interface shows of the weapon.
    WeaponReadout readout(const Screen& screen = {}) const;
    const WeaponSpec& spec() const { return *spec_; }       ///< the weapon
    const WeaponState& state() const { return state_; }     ///< for a save or a replay
    AmmoReserve& reserve() { return reserve_; }             ///< ammunition that is picked up goes here
    const AmmoReserve& reserve() const { return reserve_; } ///< rounds to reload from

  private:
    const WeaponSpec* spec_;
    GunSettings settings_;
    WeaponState state_;
    AmmoReserve reserve_;
    std::vector<WeaponEvent> events_{};
    std::vector<Shot> shots_{};
};

} // namespace avrek
