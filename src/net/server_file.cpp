#include "key_file.h"
#include <avrek/net/server_file.h>

#include <utility>

namespace avrek {

namespace {

constexpr const char* allowed_file = "the file that `avrek host --server-file` wrote";

} // namespace

bool can_issue(const ServerFile& server_file) {
    return server_file.issuer.secret != SecretKey{};
}

std::vector<Diagnostic> write_server_file(const ServerFile& server_file, const std::string& file) {
    nlohmann::ordered_json all{{"match", server_file.match},
                               {"issuer", detail::hex_of(server_file.issuer.open)}};
    if (can_issue(server_file)) {
        all["issuer_secret"] = detail::hex_of(server_file.issuer.secret);
    }
    all["server"] = detail::hex_of(server_file.server);
    all["address"] = server_file.address;
    all["port"] = server_file.port;
    return detail::write_key_file(all, file);
}

Loaded<ServerFile> read_server_file(const std::string& file) {
    Loaded<nlohmann::json> read = detail::read_key_file(file, allowed_file);
    if (!read) {
        return {std::nullopt, std::move(read.diagnostics)};
    }
    const nlohmann::json& all = *read;
    ServerFile server_file;
    const auto is_key = [&all](const char* name, std::span<std::byte> to) {
        return detail::from_hex(all.value(name, nlohmann::json{}), to);
    };
    const bool sound =
        all.is_object() && all.contains("match") && all["match"].is_number_unsigned() &&
        is_key("issuer", server_file.issuer.open) &&
        (!all.contains("issuer_secret") || is_key("issuer_secret", server_file.issuer.secret)) &&
        is_key("server", server_file.server) && all.contains("address") && all["address"].is_string() &&
        all.contains("port") && all["port"].is_number_unsigned() && all["port"] >= 1 && all["port"] <= 65535;
    if (!sound) {
        return {std::nullopt, {{.file = file, .message = "is not a server file", .allowed = allowed_file}}};
    }
    server_file.match = all["match"].get<std::uint64_t>();
    server_file.address = all["address"].get<std::string>();
    server_file.port = all["port"].get<std::uint16_t>();
    return {std::move(server_file), {}};
}

} // namespace avrek
