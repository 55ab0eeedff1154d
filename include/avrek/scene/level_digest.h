#pragma once
#include <avrek/scene/level.h>

#include <cstdint>

namespace avrek {

/// A number that is the same for the same level, and hardly ever else: of all pieces and triangles, their
/// surfaces and layers, in order. It finds two machines that do not play in the same level.
std::uint64_t digest_of(const Level& level);

} // namespace avrek
