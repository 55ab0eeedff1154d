#pragma once
#include <avrek/core/ids.h>

#include <array>
#include <cstddef>
#include <cstdint>
#include <optional>
#include <span>
#include <string_view>
#include <vector>

/// Tickets: who can join which match as which player. A trusted service, such as matchmaking, issues them.
/// Signed with Ed25519 (libsodium).
namespace avrek {

/// A public key, of Ed25519 or X25519.
using PublicKey = std::array<std::byte, 32>;
/// A secret key.
using SecretKey = std::array<std::byte, 64>;

/// Keys that sign tickets, or open sessions.
struct KeyPair {
    PublicKey open{};
    SecretKey secret{}; ///< session keys use the first 32 bytes
};

/// Returns new keys for a ticket issuer, from the system's random numbers.
KeyPair make_issuer_keys();
/// Returns new session keys for a server (X25519). `open` goes into its tickets.
KeyPair make_server_keys();

/// Claims of a ticket.
struct TicketClaims {
    std::uint64_t match = 0;
    BodyId player = nobody;   ///< player that its bearer plays
    std::int64_t expires = 0; ///< seconds since 1970-01-01 at which it expires
    std::uint64_t number = 0; ///< unique
    PublicKey server{};       ///< session key of the match's server
    bool may_tune = false;    ///< its bearer may change the values of the running fight
    friend bool operator==(const TicketClaims&, const TicketClaims&) = default;
};

/// Size of a ticket in bytes.
inline constexpr std::size_t ticket_size = 129;
/// A signed ticket.
using Ticket = std::array<std::byte, ticket_size>;

/// Returns the time of day by which tickets expire: seconds since 1970-01-01, by the system's clock.
std::int64_t seconds_of_day();

/// Signs a ticket. With `claims.number` 0 its number is drawn from the system's random numbers.
Ticket issue_ticket(const KeyPair& issuer, TicketClaims claims);

/// Reason to reject a ticket.
enum class TicketFault : std::uint8_t {
    none,
    malformed,
    forged, ///< not signed by the issuer
    other_match,
    expired,
    used, ///< it has opened a session already
};

/// Returns the words for a fault, such as "has expired".
std::string_view to_string(TicketFault fault);

/// Returns the claims of a ticket without checking them, for its bearer, who needs the server's key. None if
/// its size or version is wrong.
std::optional<TicketClaims> read_ticket(std::span<const std::byte> ticket);

/// Checks the tickets of one match. It knows the issuer, and which tickets were used.
class TicketCheck {
  public:
    /// Checks tickets of this issuer for this match.
    TicketCheck(const PublicKey& issuer, std::uint64_t match) : issuer_(issuer), match_(match) {}

    /// Accepts a ticket, once. Returns the reason to reject it. Sets `claims` if the issuer signed it.
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
