#pragma once
#include <avrek/arsenal/projectile_spec.h>
#include <avrek/scene/world.h>

#include <cstddef>
#include <span>

namespace avrek {

/// An explosion in the world.
struct Blast {
    Vector3 centre = Vector3::Zero();
    Time at = present;
    BodyId source{};    ///< attacker
    TeamId team{};      ///< team of the attacker
    double power = 1.0; ///< factor for damage and push, at least 0
};

/// Effect of an explosion on one body.
struct BlastHit {
    BodyId body{};
    Hit nearest{};                  ///< nearest exposed point; distance from the centre
    double exposure = 0.0;          ///< share of unblocked sight lines, in (0, 1]
    double team_share = 1.0;        ///< share for the attacker or its team
    double damage = 0.0;            ///< damage that it does
    Vector3 push = Vector3::Zero(); ///< m/s, away from the centre
};

/// Number of sight lines from an explosion to a body.
inline constexpr std::size_t blast_sight_lines = 13;

/// Writes the effect on each body within the radius, each once, in order of ids. Sight lines lead from the
/// centre to the body's nearest point and to up to twelve points of the body around it, at most 0.9 m up and
/// down and 0.2 m to the sides. The level blocks them, bodies do not. Damage is spec.damage *
/// falloff(distance of the nearest exposed point / radius) * exposure * power, times self_share for the
/// source and team_share for its team; the push likewise. Bodies without exposure are left out. Returns the
/// number written, as many as fit. Precondition (asserted): a radius over 0; at most 64 bodies of the team
/// and 64 others count, those with the lowest ids.
std::size_t blast(const World& world, const BlastSpec& spec, const Blast& blast, std::span<BlastHit> hits);

/// One sight line of an explosion, for pictures.
struct SightLine {
    Vector3 to = Vector3::Zero(); ///< point of the body
    bool reaches = false;         ///< false: the level blocks it
};

/// Writes the sight lines from `blast.centre` to a body within the radius, from which blast() has its
/// exposure. Returns how many; 0 for a body that is not within the radius, or whose inside the centre is in.
std::size_t sight_lines_to(const World& world, Metres radius, const Blast& blast, BodyId body,
                           std::span<SightLine, blast_sight_lines> lines);

} // namespace avrek
