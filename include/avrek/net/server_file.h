#pragma once
#include <avrek/core/diagnostics.h>
#include <avrek/net/tickets.h>

#include <cstdint>
#include <string>
#include <vector>

/// Where a server is and who issues its tickets, in a file: a stand-in for the service that makes matches.
namespace avrek {

/// Address of a server, and the keys of its ticket issuer. Anyone with the secret one can join as any player.
struct ServerFile {
    std::uint64_t match = 0;
    KeyPair issuer{};      ///< its secret key is zero where another service issues the tickets
    PublicKey server{};    ///< session key of the server
    std::string address{}; ///< where to connect to
    std::uint16_t port = 0;
};

/// Returns whether tickets can be issued from a server file.
bool can_issue(const ServerFile& server_file);

/// Writes a server file as JSON, readable for its owner alone. Returns why it cannot; a file that was there
/// stays then.
[[nodiscard]] std::vector<Diagnostic> write_server_file(const ServerFile& server_file,
                                                        const std::string& file);

/// Reads a server file, or returns why it cannot.
[[nodiscard]] Loaded<ServerFile> read_server_file(const std::string& file);

} // namespace avrek
