#include "bits.h"
#include "wire.h"

#include <algorithm>
#include <array>
#include <bit>

// Changes of the ledger as bytes: often many small ones, so they are packed bit by bit.
namespace avrek::detail {

namespace {

// Names of the server's own properties go as their index from 1 on; 0: the name follows.
constexpr auto known_properties = std::to_array<std::string_view>(
    {"health", "score", "kills", "deaths", "assists", "lives", "alive", "connected", "team", "body", "name"});
constexpr unsigned property_bits = 4;
static_assert(known_properties.size() < 1U << property_bits);

constexpr std::size_t max_property = 64;

enum class ValueKind : std::uint8_t { gone, whole, real, text };

void write_text(BitWriter& bits, std::string_view text) {
    bits.small(text.size(), 6);
    for (const char letter : text) {
        bits.bits(static_cast<unsigned char>(letter), 8);
    }
}

std::string read_text(BitReader& bits, std::size_t max_size) {
    const std::uint64_t size = bits.small(6);
    if (size > max_size) {
        bits.fail();
        return {};
    }
    std::string text;
    for (std::uint64_t at = 0; at < size; ++at) {
        text += static_cast<char>(bits.bits(8));
    }
    return text;
}

void write_entry(BitWriter& bits, const LedgerEntry& entry) {
    const auto* known = std::find(known_properties.begin(), known_properties.end(), entry.property);
    const bool is_known = known != known_properties.end();
    bits.bits(is_known ? static_cast<std::uint64_t>(known - known_properties.begin()) + 1 : 0, property_bits);
    if (!is_known) {
        write_text(bits, entry.property);
    }
    const auto kind = entry.gone ? ValueKind::gone : static_cast<ValueKind>(entry.value.index() + 1);
    bits.bits(static_cast<std::uint64_t>(kind), 2);
    if (kind == ValueKind::whole) {
        bits.small_signed(std::get<std::int64_t>(entry.value), 5);
    } else if (kind == ValueKind::real) {
        bits.bits(std::bit_cast<std::uint64_t>(std::get<double>(entry.value)), 64);
    } else if (kind == ValueKind::text) {
        write_text(bits, std::get<std::string>(entry.value));
    }
}

LedgerEntry read_entry(BitReader& bits, BodyId subject) {
    LedgerEntry entry{.subject = subject};
    const std::uint64_t name = bits.bits(property_bits);
    if (name > known_properties.size()) {
        bits.fail();
    } else {
        entry.property = name > 0 ? std::string{known_properties[name - 1]} : read_text(bits, max_property);
    }
    switch (static_cast<ValueKind>(bits.bits(2))) {
    case ValueKind::gone:
        entry.gone = true;
        break;
    case ValueKind::whole:
        entry.value = bits.small_signed(5);
        break;
    case ValueKind::real:
        entry.value = std::bit_cast<double>(bits.bits(64));
        break;
    case ValueKind::text:
        entry.value = read_text(bits, max_ledger_text);
        break;
    }
    return entry;
}

} // namespace

Bytes encode(const LedgerMessage& message) {
    std::vector<std::uint8_t> packed;
    BitWriter bits{packed};
    bits.flag(message.whole);
    bits.small(message.entries.size(), 6);
    BodyId before = nobody;
    for (const LedgerEntry& entry : message.entries) {
        bits.flag(entry.subject != before);
        if (entry.subject != before) {
            bits.small(static_cast<std::uint32_t>(entry.subject), 5);
            before = entry.subject;
        }
        write_entry(bits, entry);
    }
    bits.finish();
    const auto bytes = std::as_bytes(std::span{packed});
    return {bytes.begin(), bytes.end()};
}

std::optional<LedgerMessage> decode_ledger(std::span<const std::byte> bytes) {
    BitReader bits{as_numbers(bytes)};
    LedgerMessage message;
    message.whole = bits.flag();
    const std::uint64_t count = bits.small(6);
    if (count > 8 * bytes.size()) {
        return std::nullopt;
    }
    BodyId subject = nobody;
    for (std::uint64_t index = 0; index < count && bits.is_sound(); ++index) {
        subject = bits.flag() ? BodyId{static_cast<std::uint32_t>(bits.small(5))} : subject;
        message.entries.push_back(read_entry(bits, subject));
        if (message.entries.back().property.empty()) {
            return std::nullopt;
        }
    }
    return bits.is_at_end() ? std::optional{std::move(message)} : std::nullopt;
}

} // namespace avrek::detail
