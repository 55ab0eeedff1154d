#include "key_file.h"
#include <avrek/net/ticket_files.h>

#include <utility>

namespace avrek {

namespace {

// Reads a file whose members are keys and tickets, into these.
std::vector<Diagnostic>
read_members(const std::string& file, const std::string& allowed,
             std::initializer_list<std::pair<const char*, std::span<std::byte>>> members) {
    Loaded<nlohmann::json> read = detail::read_key_file(file, allowed);
    if (!read) {
        return std::move(read.diagnostics);
    }
    std::vector<Diagnostic> faults;
    for (const auto& [name, bytes] : members) {
        if (!read->is_object() || !detail::from_hex(read->value(name, nlohmann::json{}), bytes)) {
            faults.push_back({.file = file,
                              .where = name,
                              .message = "is not " + std::to_string(2 * bytes.size()) + " hexadecimal digits",
                              .allowed = allowed});
        }
    }
    return faults;
}

constexpr const char* keys_file = "the file that `avrek ticket --keys` wrote";
constexpr const char* ticket_file = "the file that `avrek ticket --credentials` wrote";

} // namespace

std::string to_text(const PublicKey& key) {
    return detail::hex_of(key);
}

std::optional<PublicKey> public_key_of(std::string_view text) {
    PublicKey key{};
    return detail::from_hex(std::string{text}, key) ? std::optional{key} : std::nullopt;
}

std::vector<Diagnostic> write_issuer_keys(const KeyPair& keys, const std::string& file) {
    return detail::write_key_file(
        {{"issuer", detail::hex_of(keys.open)}, {"issuer_secret", detail::hex_of(keys.secret)}}, file);
}

Loaded<KeyPair> read_issuer_keys(const std::string& file) {
    KeyPair keys;
    std::vector<Diagnostic> faults =
        read_members(file, keys_file, {{"issuer", keys.open}, {"issuer_secret", keys.secret}});
    return {faults.empty() ? std::optional{keys} : std::nullopt, std::move(faults)};
}

std::vector<Diagnostic> write_credentials(const Credentials& credentials, const std::string& file) {
    return detail::write_key_file({{"ticket", detail::hex_of(credentials.ticket)},
                                   {"bearer", detail::hex_of(credentials.keys.open)},
                                   {"bearer_secret", detail::hex_of(credentials.keys.secret)}},
                                  file);
}

Loaded<Credentials> read_credentials(const std::string& file) {
    Credentials read;
    std::vector<Diagnostic> faults = read_members(
        file, ticket_file,
        {{"ticket", read.ticket}, {"bearer", read.keys.open}, {"bearer_secret", read.keys.secret}});
    return {faults.empty() ? std::optional{read} : std::nullopt, std::move(faults)};
}

} // namespace avrek
