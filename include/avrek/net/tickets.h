#pragma once
#include <avrek/core/ids.h>

#include <array>
#include <cstddef>
#include <cstdint>
#include <optional>
#include <span>
#include <string_view>
#include <vector>

/// Tickets: who may join which match as whom, said by somebody whom the server trusts, such as the service
/// that made the match. Signed with Ed25519 (libsodium).
namespace avrek {

using PublicKey = std::array<std::byte, 32>;
using SecretKey = std::array<std::byte, 64>;

/// What signs tickets, or what opens sessions.
struct KeyPair {
    PublicKey open{};
    SecretKey secret{}; ///< of a server's session keys the first 32 bytes
};

/// New keys for whoever issues tickets, from the system's random numbers.
KeyPair make_issuer_keys();
/// New keys for a server's sessions (X25519). Its `open` goes into its tickets.
KeyPair make_server_keys();

/// What a ticket says.
struct TicketClaims {
    std::uint64_t match = 0;
    BodyId player = nobody;   ///< whom the bearer plays
    std::int64_t expires = 0; ///< seconds since 1970-01-01, from when on it is not good any more
    std::uint64_t number = 0; ///< no two tickets have the same
    PublicKey server{};       ///< of the match, for the session's keys
    friend bool operator==(const TicketClaims&, const TicketClaims&) = default;
};

inline constexpr std::size_t ticket_size = 128;
using Ticket = std::array<std::byte, ticket_size>;

/// Signs a ticket. Its number is drawn from the system's random numbers where `claims.number` is 0.
Ticket issue_ticket(const KeyPair& issuer, TicketClaims claims);

/// Why a ticket is no good.
enum class TicketFault : std::uint8_t {
    none,
    malformed,
    forged, ///< the issuer did not sign it
    other_match,
    expired,
    used, ///< it has opened a session already
};

/// The words for a fault, such as "has expired".
std::string_view to_string(TicketFault fault);

/// What a ticket says, whether it is true or not: for its bearer, who must know where to go. None when it has
/// the wrong size or version.
std::optional<TicketClaims> read_ticket(std::span<const std::byte> ticket);

/// The doorkeeper of one match: knows the issuer, and which tickets were used.
class TicketCheck {
  public:
    TicketCheck(const PublicKey& issuer, std::uint64_t match) : issuer_(issuer), match_(match) {}

    /// Lets a ticket in, once. Returns what keeps it out; `claims` is set when it was signed by the issuer.
    TicketFault admit(std::span<const std::byte> ticket, std::int64_t now, TicketClaims& claims);

  private:
    struct Used {
        std::uint64_t number = 0;
        std::int64_t expires = 0;
    };
    PublicKey issuer_;
    std::uint64_t match_;
    std::vector<Used> used_; // until they expire
};

} // namespace avrek
