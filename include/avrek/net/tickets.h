#pragma once
#include <avrek/core/ids.h>
#include <avrek/net/keys.h>

#include <array>
#include <cstddef>
#include <cstdint>
#include <optional>
#include <span>
#include <string_view>
#include <utility>
#include <vector>

/// Tickets: who can join which match as which player. A trusted service, such as matchmaking, issues them.
/// Signed with Ed25519 (libsodium).
namespace avrek {

/// Claims of a ticket.
struct TicketClaims {
    std::uint64_t match = 0;
    BodyId player = nobody;   ///< player that its bearer plays
    std::int64_t expires = 0; ///< seconds since 1970-01-01 at which it expires
    std::uint64_t number = 0; ///< unique
    PublicKey server{};       ///< key of the match's server
    PublicKey bearer{};       ///< key of the client that can use it: a stolen ticket opens nothing
    bool may_tune = false;    ///< its bearer may change the values of the running fight
    friend bool operator==(const TicketClaims&, const TicketClaims&) = default;
};

/// Size of a ticket in bytes.
inline constexpr std::size_t ticket_size = 161;
/// A signed ticket.
using Ticket = std::array<std::byte, ticket_size>;

/// Returns the time of day by which tickets expire: seconds since 1970-01-01, by the system's clock.
std::int64_t seconds_of_day();

/// Signs a ticket. With `claims.number` 0 its number is drawn from the system's random numbers.
Ticket issue_ticket(const KeyPair& issuer, TicketClaims claims);

/// A ticket and the keys to which it is bound: a client needs both to be let in.
struct Credentials {
    Ticket ticket{};
    KeyPair keys{};
};

/// Signs a ticket that is bound to new keys, which go to the client with it.
Credentials issue_credentials(const KeyPair& issuer, TicketClaims claims);

/// Reason to reject a ticket.
enum class TicketFault : std::uint8_t {
    none,
    malformed,
    forged, ///< not signed by the issuer
    other_match,
    other_server,
    other_bearer, ///< it is bound to other keys than the client's
    expired,
    used, ///< it has opened a session already
};

/// Returns the words for a fault, such as "has expired".
std::string_view to_string(TicketFault fault);

/// Returns the claims of a ticket without checking them, for its bearer, who needs the server's key. None if
/// its size or version is wrong.
std::optional<TicketClaims> read_ticket(std::span<const std::byte> ticket);

/// Checks the tickets of one match. It knows who issues them, and which were used. Make the server's keys
/// anew with each match: tickets that another one has used are then for another server.
class TicketCheck {
  public:
    /// Checks tickets of these issuers for a match on a server.
    TicketCheck(std::vector<PublicKey> issuers, std::uint64_t match, const PublicKey& server)
        : issuers_(std::move(issuers)), match_(match), server_(server) {}

    /// Returns the reason to reject a ticket, without looking at its bearer. Sets `claims` if an issuer
    /// signed it.
    TicketFault examine(std::span<const std::byte> ticket, std::int64_t now, TicketClaims& claims) const;
    /// Accepts a ticket from a client that holds the keys of `bearer`, once. Returns the reason to reject it.
    /// Sets `claims` if an issuer signed it.
    TicketFault admit(std::span<const std::byte> ticket, const PublicKey& bearer, std::int64_t now,
                      TicketClaims& claims);
    /// Rejects a ticket from now on, as one that was used.
    void revoke(const TicketClaims& claims) { used_.push_back({claims.number, claims.expires}); }

  private:
    struct Used {
        std::uint64_t number = 0;
        std::int64_t expires = 0;
    };
    std::vector<PublicKey> issuers_;
    std::uint64_t match_;
    PublicKey server_;
    std::vector<Used> used_; // until they expire
};

} // namespace avrek
