#include "../core/words.h"
#include "sodium_ready.h"
#include <avrek/net/tickets.h>

#include <algorithm>
#include <bit>
#include <chrono>
#include <cstring>

namespace avrek {

using detail::raw;

namespace {

static_assert(std::endian::native == std::endian::little, "tickets are written as memory is");

constexpr std::uint32_t ticket_version = 3;
constexpr std::size_t signed_size = ticket_size - crypto_sign_BYTES;
static_assert(signed_size == 4 + 8 + 4 + 8 + 8 + 32 + 32 + 1);

template <class T>
void put(std::byte*& to, const T& value) {
    std::memcpy(to, &value, sizeof value);
    to += sizeof value;
}

template <class T>
void get(const std::byte*& from, T& value) {
    std::memcpy(&value, from, sizeof value);
    from += sizeof value;
}

} // namespace

KeyPair make_keys() {
    detail::make_sodium_ready();
    KeyPair keys;
    crypto_sign_keypair(raw(keys.open.data()), raw(keys.secret.data()));
    return keys;
}

std::uint64_t make_seed() {
    detail::make_sodium_ready();
    std::uint64_t seed = 0;
    randombytes_buf(&seed, sizeof seed);
    return seed;
}

std::int64_t seconds_of_day() {
    return std::chrono::duration_cast<std::chrono::seconds>(
               std::chrono::system_clock::now().time_since_epoch())
        .count();
}

Ticket issue_ticket(const KeyPair& issuer, TicketClaims claims) {
    detail::make_sodium_ready();
    while (claims.number == 0) {
        randombytes_buf(&claims.number, sizeof claims.number);
    }
    Ticket ticket{};
    std::byte* to = ticket.data();
    put(to, ticket_version);
    put(to, claims.match);
    put(to, static_cast<std::uint32_t>(claims.player));
    put(to, claims.expires);
    put(to, claims.number);
    put(to, claims.server);
    put(to, claims.bearer);
    put(to, static_cast<std::uint8_t>(claims.may_tune));
    crypto_sign_detached(raw(to), nullptr, raw(ticket.data()), signed_size, raw(issuer.secret.data()));
    return ticket;
}

Credentials issue_credentials(const KeyPair& issuer, TicketClaims claims) {
    Credentials made{.keys = make_keys()};
    claims.bearer = made.keys.open;
    made.ticket = issue_ticket(issuer, claims);
    return made;
}

std::string_view to_string(TicketFault fault) {
    static constexpr auto words = std::to_array<std::string_view>(
        {"is good", "is no ticket of this version", "was not signed by the issuer of this match",
         "is for another match", "is for another server", "is bound to other keys than the client's",
         "has expired", "has been used already"});
    return detail::word_of(words, fault);
}

std::optional<TicketClaims> read_ticket(std::span<const std::byte> ticket) {
    if (ticket.size() != ticket_size) {
        return std::nullopt;
    }
    const std::byte* from = ticket.data();
    std::uint32_t version = 0;
    std::uint32_t player = 0;
    TicketClaims claims;
    get(from, version);
    get(from, claims.match);
    get(from, player);
    get(from, claims.expires);
    get(from, claims.number);
    get(from, claims.server);
    get(from, claims.bearer);
    std::uint8_t may_tune = 0;
    get(from, may_tune);
    claims.may_tune = may_tune != 0;
    claims.player = BodyId{player};
    return version == ticket_version ? std::optional{claims} : std::nullopt;
}

TicketFault TicketCheck::examine(std::span<const std::byte> ticket, std::int64_t now,
                                 TicketClaims& claims) const {
    detail::make_sodium_ready();
    const auto read = read_ticket(ticket);
    if (!read) {
        return TicketFault::malformed;
    }
    const bool is_signed = std::any_of(issuers_.begin(), issuers_.end(), [ticket](const PublicKey& issuer) {
        return crypto_sign_verify_detached(raw(ticket.data() + signed_size), raw(ticket.data()), signed_size,
                                           raw(issuer.data())) == 0;
    });
    if (!is_signed) {
        return TicketFault::forged;
    }
    claims = *read;
    return read->match != match_     ? TicketFault::other_match
           : read->server != server_ ? TicketFault::other_server
           : read->expires <= now    ? TicketFault::expired
                                     : TicketFault::none;
}

TicketFault TicketCheck::admit(std::span<const std::byte> ticket, const PublicKey& bearer, std::int64_t now,
                               TicketClaims& claims) {
    if (const TicketFault fault = examine(ticket, now, claims); fault != TicketFault::none) {
        return fault;
    }
    if (claims.bearer != bearer) {
        return TicketFault::other_bearer;
    }
    std::erase_if(used_, [now](const Used& used) { return used.expires <= now; });
    const bool used =
        std::any_of(used_.begin(), used_.end(), [&](const Used& one) { return one.number == claims.number; });
    if (used) {
        return TicketFault::used;
    }
    revoke(claims);
    return TicketFault::none;
}

} // namespace avrek
