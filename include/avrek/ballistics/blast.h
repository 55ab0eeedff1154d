#pragma once
#include <avrek/arsenal/projectile_spec.h>
#include <avrek/scene/world.h>

#include <cstddef>
#include <span>

namespace avrek {

/// Something that goes off.
struct Blast {
    Vector3 centre = Vector3::Zero();
    Time at = present;
    BodyId source{};    ///< who fired it
    TeamId team{};      ///< of the source
    double power = 1.0; ///< share of its damage and push that is left, at least 0
};

/// What a blast does to one body.
struct BlastHit {
    BodyId body{};
    Hit nearest{};                  ///< its nearest exposed point; the distance is from the blast's centre
    double exposure = 0.0;          ///< share of the sight lines to it that nothing blocks, over 0 to 1
    double team_share = 1.0;        ///< share that counts against the source or its team
    double damage = 0.0;            ///< health points
    Vector3 push = Vector3::Zero(); ///< m/s, away from the centre
};

/// How many sight lines a blast sends to a body.
inline constexpr std::size_t blast_sight_lines = 13;

/// What a blast does to the bodies within its radius, each once, in the order of their ids. Sight lines lead
/// from the centre to the body's nearest point and, where they meet the body too, to up to twelve points
/// around it, 0.9 m up and down and 0.2 m to the sides at most; the level blocks them, bodies do not. Damage
/// is spec.damage * falloff(distance of the nearest exposed point / radius) * exposure * power, times
/// self_share for the source and own_side for its team; the push is alike. Bodies without exposure are left
/// out. Writes as many as fit; returns how many. Precondition (asserted): a radius over 0, and at most 64
/// bodies of the team and 64 others within it: of more, those with the lowest ids count.
std::size_t blast(const World& world, const BlastSpec& spec, const Blast& blast, std::span<BlastHit> hits);

} // namespace avrek
