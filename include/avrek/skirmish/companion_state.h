#pragma once
#include <cstddef>
#include <cstdint>
#include <span>

namespace avrek {

/// State of the game's own beside a fight: abilities, doors, vehicles. It is saved, restored and hashed with
/// the fight, so rollback, prediction and checks of replays cover both.
///
///     struct Walls final : CompanionState {
///         std::array<Wall, 8> walls{};
///         std::size_t size() const override { return sizeof walls; }
///         void save(std::span<std::byte> to) const override {
///             std::memcpy(to.data(), &walls, sizeof walls);
///         }
///         bool restore(std::span<const std::byte> from) override {
///             const bool fits = from.size() == sizeof walls;
///             std::memcpy(&walls, from.data(), fits ? sizeof walls : 0);
///             return fits;
///         }
///         std::uint64_t hash() const override {
///             return bytes_check(std::as_bytes(std::span{walls}));
///         }
///     };
class CompanionState {
  public:
    virtual ~CompanionState() = default;
    /// Returns the size that save() writes now, in bytes.
    virtual std::size_t size() const = 0;
    /// Writes the state to `to`, which has size() bytes.
    virtual void save(std::span<std::byte> to) const = 0;
    /// Restores a state that save() wrote. Returns false and changes nothing if the bytes are none: those of
    /// a replay file can be anything.
    virtual bool restore(std::span<const std::byte> from) = 0;
    /// Returns a hash: equal for equal states on every machine.
    virtual std::uint64_t hash() const = 0;
};

} // namespace avrek
