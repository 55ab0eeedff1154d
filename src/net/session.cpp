#include "session.h"

#include "sodium_ready.h"

#include <cstring>

namespace avrek::detail {

namespace {

constexpr std::size_t head_size = 5;
constexpr std::size_t tag_size = crypto_shorthash_BYTES;
static_assert(head_size + tag_size == Seal::overhead);

// The tag of a packet without it; packets of the two sorts have different ones.
std::array<std::byte, tag_size> tag_of(const SessionKey& key, bool certain,
                                       std::span<const std::byte> bytes) {
    std::array<std::byte, tag_size> tag;
    crypto_shorthash(raw(tag.data()), raw(bytes.data()), bytes.size(), raw(key.data() + (certain ? 16 : 0)));
    return tag;
}

} // namespace

std::optional<SessionKeys> keys_of_server(const KeyPair& server, const PublicKey& client) {
    make_sodium_ready();
    SessionKeys keys;
    const int fault =
        crypto_kx_server_session_keys(raw(keys.receives.data()), raw(keys.sends.data()),
                                      raw(server.open.data()), raw(server.secret.data()), raw(client.data()));
    return fault == 0 ? std::optional{keys} : std::nullopt;
}

std::optional<SessionKeys> keys_of_client(const KeyPair& client, const PublicKey& server) {
    make_sodium_ready();
    SessionKeys keys;
    const int fault =
        crypto_kx_client_session_keys(raw(keys.receives.data()), raw(keys.sends.data()),
                                      raw(client.open.data()), raw(client.secret.data()), raw(server.data()));
    return fault == 0 ? std::optional{keys} : std::nullopt;
}

std::vector<std::byte> closed_for(const PublicKey& to, std::span<const std::byte> bytes) {
    make_sodium_ready();
    std::vector<std::byte> closed(bytes.size() + crypto_box_SEALBYTES);
    if (crypto_box_seal(raw(closed.data()), raw(bytes.data()), bytes.size(), raw(to.data())) != 0) {
        closed.clear(); // the key is none
    }
    return closed;
}

std::optional<std::vector<std::byte>> opened(const KeyPair& own, std::span<const std::byte> bytes) {
    make_sodium_ready();
    if (bytes.size() < crypto_box_SEALBYTES) {
        return std::nullopt;
    }
    std::vector<std::byte> open(bytes.size() - crypto_box_SEALBYTES);
    const int fault = crypto_box_seal_open(raw(open.data()), raw(bytes.data()), bytes.size(),
                                           raw(own.open.data()), raw(own.secret.data()));
    return fault == 0 ? std::optional{std::move(open)} : std::nullopt;
}

std::span<const std::byte> Seal::close(std::uint8_t kind, bool certain, std::span<const std::byte> body) {
    const std::uint32_t number = ++sent_[certain ? 1 : 0];
    room_.resize(head_size + body.size() + tag_size);
    room_[0] = std::byte{kind};
    std::memcpy(room_.data() + 1, &number, sizeof number);
    if (!body.empty()) {
        std::memcpy(room_.data() + head_size, body.data(), body.size());
    }
    const std::span<const std::byte> tagged = std::span{room_}.first(head_size + body.size());
    const auto tag = tag_of(keys_.sends, certain, tagged);
    std::memcpy(room_.data() + tagged.size(), tag.data(), tag_size);
    return room_;
}

std::span<const std::byte> Seal::open(std::span<const std::byte> packet, bool certain, SealFault& fault) {
    if (packet.size() < overhead) {
        fault = SealFault::too_short;
        return {};
    }
    const std::span<const std::byte> tagged = packet.first(packet.size() - tag_size);
    const auto tag = tag_of(keys_.receives, certain, tagged);
    if (sodium_memcmp(tag.data(), packet.data() + tagged.size(), tag_size) != 0) {
        fault = SealFault::forged;
        return {};
    }
    std::uint32_t number = 0;
    std::memcpy(&number, packet.data() + 1, sizeof number);
    std::uint32_t& newest = newest_[certain ? 1 : 0];
    const bool newer = number > newest;
    if (certain) {
        if (!newer) {
            fault = SealFault::replayed;
            return {};
        }
    } else if (newer) {
        const std::uint32_t by = number - newest;
        window_ = by < 64 ? window_ << by | 1U : 1U;
    } else {
        const std::uint32_t age = newest - number;
        if (age >= 64 || (window_ >> age & 1U) != 0) {
            fault = SealFault::replayed;
            return {};
        }
        window_ |= std::uint64_t{1} << age;
    }
    newest = newer ? number : newest;
    fault = SealFault::none;
    return tagged.subspan(head_size);
}

} // namespace avrek::detail
