#pragma once
#include <avrek/scene/level.h>

#include <cstdint>

namespace avrek {

/// Returns a digest over all pieces and triangles with their surfaces and layers, in order. Equal levels have
/// equal digests; others almost surely differ. It detects machines that play in different levels.
std::uint64_t digest_of(const Level& level);

} // namespace avrek
