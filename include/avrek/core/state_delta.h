#pragma once
#include <cstddef>
#include <optional>
#include <span>
#include <vector>

namespace avrek {

/// Returns the bytes that turn one saved state into another: runs of equal and of different bytes. Small if
/// little has changed; works for any two states.
std::vector<std::byte> make_delta(std::span<const std::byte> before, std::span<const std::byte> after);

/// Returns the state that a delta makes of `before`. Returns none if the bytes are damaged or would make more
/// than `most` bytes.
std::optional<std::vector<std::byte>> apply_delta(std::span<const std::byte> before,
                                                  std::span<const std::byte> delta,
                                                  std::size_t most = std::size_t{1} << 30U);

} // namespace avrek
