#pragma once
#include "bits.h"
#include <avrek/net/noise.h>
#include <avrek/net/server.h>
#include <avrek/skirmish/skirmish.h>

#include <array>
#include <cstdint>
#include <optional>
#include <span>
#include <vector>

/// Noises from the combatants that make them to the clients that hear them.
namespace avrek::detail {

/// A noise where it was made.
struct MadeNoise {
    BodyId who = nobody;
    NoiseKind kind = NoiseKind::shot;
    std::optional<WeaponId> weapon{};
    Vector3 from = Vector3::Zero();
    std::vector<BodyId> told{}; ///< players who are told of an explosion itself, in order of their ids
};

/// A noise as it travels.
struct ToldNoise {
    NoiseKind kind = NoiseKind::shot;
    std::uint8_t weapon = 0; ///< counted from 1; 0: none
    std::uint8_t yaw = 0;    ///< 64 steps
    std::uint8_t pitch = 0;  ///< 16 steps from straight down to straight up
    std::uint8_t loudness = 0;
    bool again = false; ///< it was told with the last snapshot too
    friend bool operator==(const ToldNoise&, const ToldNoise&) = default;
};

inline constexpr std::uint8_t max_loudness = 15;
inline constexpr std::size_t max_noises = 64; ///< in one snapshot

void write_noises(BitWriter& to, const std::vector<ToldNoise>& noises);
/// The reader is unsound afterwards when there are none such.
std::vector<ToldNoise> read_noises(BitReader& from);
Noise noise_of(const ToldNoise& told, Time at);

/// Finds the noises of a fight.
class NoiseFinder {
  public:
    /// Adds an explosion, for all but the players who are told where it is.
    void explode(const Vector3& centre, std::optional<WeaponId> weapon, std::vector<BodyId> told);
    /// Finds the noises since the last call. Call it once for each snapshot.
    void look(const Skirmish& fight);
    /// Appends the noises of this snapshot, and again those of the one before, that a player hears: of
    /// explosions, and of those who are hidden from it, which are in order of their ids.
    void tell(const Skirmish& fight, BodyId player, const InterestSettings& settings,
              std::span<const BodyId> hidden, std::vector<ToldNoise>& told) const;

  private:
    struct Heard {
        BodyId id = nobody;
        std::uint32_t shots = 0;
        Vector3 feet = Vector3::Zero();
        Metres walked = 0.0; ///< since the last step
    };
    static void hear(const Skirmish& fight, BodyId player, const InterestSettings& settings,
                     const MadeNoise& noise, bool again, std::vector<ToldNoise>& told);

    std::array<std::vector<MadeNoise>, 2> made_{}; ///< now, and before
    std::vector<MadeNoise> exploded_{};            ///< since the last look()
    std::vector<Heard> known_{};                   ///< in order of ids
    std::vector<Heard> before_{};
};

} // namespace avrek::detail
