#pragma once
#include <avrek/core/diagnostics.h>
#include <avrek/net/tickets.h>

#include <optional>
#include <string>
#include <string_view>
#include <vector>

/// Keys and tickets in JSON files that only their owner can read, and public keys as text.
namespace avrek {

/// Returns a public key as 64 hexadecimal digits.
std::string to_text(const PublicKey& key);
/// Returns the public key of 64 hexadecimal digits; none if the text is no such thing.
std::optional<PublicKey> public_key_of(std::string_view text);

/// Writes the keys of a ticket issuer. Returns why it cannot; a file that was there stays then.
[[nodiscard]] std::vector<Diagnostic> write_issuer_keys(const KeyPair& keys, const std::string& file);
/// Reads the keys of a ticket issuer, or returns why it cannot.
[[nodiscard]] Loaded<KeyPair> read_issuer_keys(const std::string& file);

/// Writes a ticket and the keys of its bearer: anyone with the file can use it. Returns why it cannot; a file
/// that was there stays then.
[[nodiscard]] std::vector<Diagnostic> write_credentials(const Credentials& credentials,
                                                        const std::string& file);
/// Reads a ticket and the keys of its bearer, or returns why it cannot.
[[nodiscard]] Loaded<Credentials> read_credentials(const std::string& file);

} // namespace avrek
