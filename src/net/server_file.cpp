#include <avrek/net/server_file.h>

#include <fcntl.h>
#include <nlohmann/json.hpp>
#include <unistd.h>

#include <cerrno>
#include <cstring>
#include <fstream>
#include <span>
#include <utility>

namespace avrek {

namespace {

constexpr const char* allowed_file = "the file that `avrek host --server-file` wrote";

std::string hex_of(std::span<const std::byte> bytes) {
    constexpr const char* digits = "0123456789abcdef";
    std::string text;
    for (const std::byte byte : bytes) {
        text += digits[static_cast<unsigned>(byte) >> 4U];
        text += digits[static_cast<unsigned>(byte) & 15U];
    }
    return text;
}

// Fills `bytes`; false when the text is no such number of bytes.
bool from_hex(const nlohmann::json& value, std::span<std::byte> bytes) {
    const std::string text = value.is_string() ? value.get<std::string>() : std::string{};
    if (text.size() != 2 * bytes.size() || text.find_first_not_of("0123456789abcdef") != std::string::npos) {
        return false;
    }
    for (std::size_t index = 0; index < bytes.size(); ++index) {
        bytes[index] = static_cast<std::byte>(std::stoul(text.substr(2 * index, 2), nullptr, 16));
    }
    return true;
}

} // namespace

std::vector<Diagnostic> write_server_file(const ServerFile& server_file, const std::string& file) {
    const nlohmann::ordered_json all{{"match", server_file.match},
                                     {"issuer", hex_of(server_file.issuer.open)},
                                     {"issuer_secret", hex_of(server_file.issuer.secret)},
                                     {"server", hex_of(server_file.server)},
                                     {"address", server_file.address},
                                     {"port", server_file.port}};
    const std::string text = all.dump(2) + '\n';
    const std::string fresh = file + ".new";
    ::unlink(fresh.c_str());
    const int to = ::open(fresh.c_str(), O_WRONLY | O_CREAT | O_EXCL, 0600);
    const bool written =
        to >= 0 && ::write(to, text.data(), text.size()) == static_cast<ssize_t>(text.size());
    const int fault = errno;
    if (to >= 0) {
        ::close(to);
    }
    if (!written || ::rename(fresh.c_str(), file.c_str()) != 0) {
        const int why = written ? errno : fault;
        ::unlink(fresh.c_str());
        return {{.file = file, .message = std::string{"cannot be written: "} + std::strerror(why)}};
    }
    return {};
}

Loaded<ServerFile> read_server_file(const std::string& file) {
    std::ifstream from{file};
    if (!from) {
        return {std::nullopt,
                {{.file = file,
                  .message = std::string{"cannot be read: "} + std::strerror(errno),
                  .allowed = allowed_file}}};
    }
    const nlohmann::json all = nlohmann::json::parse(from, nullptr, false);
    ServerFile server_file;
    const bool sound = all.is_object() && all.contains("match") && all["match"].is_number_unsigned() &&
                       from_hex(all.value("issuer", nlohmann::json{}), server_file.issuer.open) &&
                       from_hex(all.value("issuer_secret", nlohmann::json{}), server_file.issuer.secret) &&
                       from_hex(all.value("server", nlohmann::json{}), server_file.server) &&
                       all.contains("address") && all["address"].is_string() && all.contains("port") &&
                       all["port"].is_number_unsigned() && all["port"] >= 1 && all["port"] <= 65535;
    if (!sound) {
        return {std::nullopt, {{.file = file, .message = "is not a server file", .allowed = allowed_file}}};
    }
    server_file.match = all["match"].get<std::uint64_t>();
    server_file.address = all["address"].get<std::string>();
    server_file.port = all["port"].get<std::uint16_t>();
    return {std::move(server_file), {}};
}

} // namespace avrek
