#include "key_file.h"

#include <fcntl.h>
#include <unistd.h>

#include <cerrno>
#include <cstring>
#include <fstream>
#include <optional>

namespace avrek::detail {

std::string hex_of(std::span<const std::byte> bytes) {
    constexpr const char* digits = "0123456789abcdef";
    std::string text;
    for (const std::byte byte : bytes) {
        text += digits[static_cast<unsigned>(byte) >> 4U];
        text += digits[static_cast<unsigned>(byte) & 15U];
    }
    return text;
}

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

std::vector<Diagnostic> write_key_file(const nlohmann::ordered_json& content, const std::string& file) {
    const std::string text = content.dump(2) + '\n';
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

Loaded<nlohmann::json> read_key_file(const std::string& file, const std::string& allowed) {
    std::ifstream from{file};
    if (!from) {
        return {std::nullopt,
                {{.file = file,
                  .message = std::string{"cannot be read: "} + std::strerror(errno),
                  .allowed = allowed}}};
    }
    return {nlohmann::json::parse(from, nullptr, false), {}};
}

} // namespace avrek::detail
