#pragma once
#include <cstddef>
#include <optional>
#include <span>
#include <vector>

namespace avrek {

/// What turns one saved state into another, as bytes: runs of what is the same, by their length, and of what
/// is not. Small where little has changed, and any two states will do.
std::vector<std::byte> make_delta(std::span<const std::byte> before, std::span<const std::byte> after);

/// The state that a delta makes of `before`; none when it is none for it, whatever its bytes, or would make
/// more than `most` bytes.
std::optional<std::vector<std::byte>> apply_delta(std::span<const std::byte> before,
                                                  std::span<const std::byte> delta,
                                                  std::size_t most = std::size_t{1} << 30U);

} // namespace avrek
