#include "bits.h"
#include "wire_bytes.h"

#include <bit>

/// Notices, packed bit by bit: members that keep their defaults take a bit each.
namespace avrek::detail {

namespace {

constexpr unsigned notice_kind_bits = 5;
static_assert(notice_kind_count <= 1U << notice_kind_bits);

// Any bits can come: times wrap around.
std::uint64_t nanoseconds_of(Time at) {
    return static_cast<std::uint64_t>(at.time_since_epoch().count());
}

void write_double(BitWriter& bits, double value) {
    bits.bits(std::bit_cast<std::uint64_t>(value), 64);
}

double read_double(BitReader& bits) {
    return finite(std::bit_cast<double>(bits.bits(64)));
}

void write_vector(BitWriter& bits, const Vector3& vector) {
    const bool is_zero = vector.isZero(0);
    bits.flag(!is_zero);
    for (int axis = 0; !is_zero && axis < 3; ++axis) {
        write_double(bits, vector[axis]);
    }
}

Vector3 read_vector(BitReader& bits) {
    Vector3 vector = Vector3::Zero();
    const bool is_zero = !bits.flag();
    for (int axis = 0; !is_zero && axis < 3; ++axis) {
        vector[axis] = read_double(bits);
    }
    return vector;
}

// Ids and times are written as what they are more than those of the notice before.
void write_notice(BitWriter& bits, const Notice& notice, const Notice& before) {
    bits.bits(static_cast<std::uint8_t>(notice.kind), notice_kind_bits);
    bits.small_signed(static_cast<std::int64_t>(notice.id - before.id), 8);
    bits.small_signed(static_cast<std::int64_t>(nanoseconds_of(notice.at) - nanoseconds_of(before.at)), 10);
    write_somebody(bits, notice.who);
    write_somebody(bits, notice.by);
    bits.small_signed(to_number(notice.weapon));
    bits.small_signed(notice.index);
    bits.small(notice.number);
    bits.flag(notice.amount != 0.0);
    if (notice.amount != 0.0) {
        write_double(bits, notice.amount);
    }
    write_vector(bits, notice.point);
    write_vector(bits, notice.direction);
    write_vector(bits, notice.aim);
    bits.small(notice.payload.size(), 1);
    for (const std::byte byte : notice.payload) {
        bits.bits(static_cast<std::uint8_t>(byte), 8);
    }
}

Notice read_notice(BitReader& bits, const Notice& before) {
    Notice notice;
    const std::uint64_t kind = bits.bits(notice_kind_bits);
    if (kind >= notice_kind_count) {
        bits.fail();
        return notice;
    }
    notice.kind = static_cast<NoticeKind>(kind);
    notice.id = before.id + static_cast<std::uint64_t>(bits.small_signed(8));
    const auto since = static_cast<std::uint64_t>(bits.small_signed(10));
    notice.at = Time{Duration{static_cast<std::int64_t>(nanoseconds_of(before.at) + since)}};
    notice.who = read_somebody(bits);
    notice.by = read_somebody(bits);
    notice.weapon = optional_id<WeaponId>(static_cast<std::int32_t>(bits.small_signed()));
    notice.index = static_cast<std::int32_t>(bits.small_signed());
    notice.number = static_cast<std::uint32_t>(bits.small());
    notice.amount = bits.flag() ? read_double(bits) : 0.0;
    notice.point = read_vector(bits);
    notice.direction = read_vector(bits);
    notice.aim = read_vector(bits);
    const std::uint64_t size = bits.small(1);
    if (size > max_notice_payload) {
        bits.fail();
        return notice;
    }
    for (std::uint64_t at = 0; at < size; ++at) {
        notice.payload.push_back(static_cast<std::byte>(bits.bits(8)));
    }
    return notice;
}

} // namespace

Bytes encode(std::span<const Notice> notices) {
    std::vector<std::uint8_t> packed;
    BitWriter bits{packed};
    bits.small(notices.size());
    Notice before;
    for (const Notice& notice : notices) {
        write_notice(bits, notice, before);
        before.id = notice.id;
        before.at = notice.at;
    }
    bits.finish();
    const auto bytes = std::as_bytes(std::span{packed});
    return {bytes.begin(), bytes.end()};
}

std::optional<std::vector<Notice>> decode_notices(std::span<const std::byte> bytes) {
    BitReader bits{as_numbers(bytes)};
    std::vector<Notice> notices;
    Notice before;
    for (std::uint64_t left = bits.small(); left > 0; --left) {
        notices.push_back(read_notice(bits, before));
        if (!bits.is_sound()) {
            return std::nullopt;
        }
        before.id = notices.back().id;
        before.at = notices.back().at;
    }
    return bits.is_at_end() ? std::optional{std::move(notices)} : std::nullopt;
}

} // namespace avrek::detail
