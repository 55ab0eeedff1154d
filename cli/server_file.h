#pragma once
#include <avrek/net/tickets.h>

#include <cstdint>
#include <string>

namespace avrek::cli {

/// Stand-in for the service that makes matches: `avrek host` writes it, and `avrek join` issues its own
/// tickets from it. Anyone with the file can join as any player.
struct ServerFile {
    std::uint64_t match = 0;
    KeyPair issuer{};
    PublicKey server{};
    std::string address{}; ///< where to connect to
    std::uint16_t port = 0;
};

/// The time of day in seconds since 1970-01-01, which tickets go by.
std::int64_t seconds_of_day();

/// Writes it, readable for its owner alone. Throws WrongCall when it cannot.
void write_server_file(const ServerFile& server_file, const std::string& file);

/// Throws WrongCall when the file cannot be read or is none.
ServerFile read_server_file(const std::string& file);

} // namespace avrek::cli
