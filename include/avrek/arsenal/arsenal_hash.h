#pragma once
#include <avrek/arsenal/arsenal.h>

#include <cstdint>

namespace avrek {

/// Returns a hash over every value of every spec. Equal arsenals have equal hashes, bit for bit; others
/// almost surely differ. Not cryptographic.
std::uint64_t hash_of(const Arsenal& arsenal);

/// Returns a hash over every value of a body but its id, with the same promise.
std::uint64_t hash_of(const BodySpec& spec);
/// Returns a hash over every value of a melee weapon but its id, with the same promise.
std::uint64_t hash_of(const MeleeSpec& spec);
/// Returns a hash over every value of a projectile but its id, with the same promise.
std::uint64_t hash_of(const ProjectileSpec& spec);
/// Returns a hash over every value of a surface but its id, with the same promise.
std::uint64_t hash_of(const SurfaceSpec& spec);

} // namespace avrek
