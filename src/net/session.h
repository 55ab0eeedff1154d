#pragma once
#include <avrek/net/tickets.h>

#include <array>
#include <cstddef>
#include <cstdint>
#include <optional>
#include <span>
#include <vector>

/// Authenticates the packets of a session: keys from an exchange (X25519), a number and a tag (SipHash-2-4,
/// 64 bits) on each packet. It encrypts nothing.
namespace avrek::detail {

using SessionKey = std::array<std::byte, 32>;

struct SessionKeys {
    SessionKey sends{};
    SessionKey receives{};
};

/// The two ends' keys; none when the other's key is no key.
std::optional<SessionKeys> keys_of_server(const KeyPair& server, const PublicKey& client);
std::optional<SessionKeys> keys_of_client(const KeyPair& client, const PublicKey& server);

/// Closes bytes so that only the owner of `to` can read them, and opens them again.
std::vector<std::byte> closed_for(const PublicKey& to, std::span<const std::byte> bytes);
std::optional<std::vector<std::byte>> opened(const KeyPair& own, std::span<const std::byte> bytes);

/// Why a packet was not taken.
enum class SealFault : std::uint8_t { none, too_short, forged, replayed };

/// Numbers and tags what one end sends, and checks what it receives. Packets that may be lost or overtaken
/// and those that may not are numbered apart.
class Seal {
  public:
    static constexpr std::size_t overhead = 13; // kind, number, tag

    Seal() = default;
    explicit Seal(const SessionKeys& keys) : keys_(keys) {}

    /// A packet: kind, number, body, tag.
    std::span<const std::byte> close(std::uint8_t kind, bool certain, std::span<const std::byte> body);
    /// The body of a packet, which is a part of it. The kind is its first byte.
    std::span<const std::byte> open(std::span<const std::byte> packet, bool certain, SealFault& fault);

  private:
    SessionKeys keys_{};
    std::array<std::uint32_t, 2> sent_{};
    std::array<std::uint32_t, 2> newest_{}; // received, of each sort
    std::uint64_t window_ = 0;              // packets that can be overtaken: bit n for newest - n
    std::vector<std::byte> room_;
};

} // namespace avrek::detail
