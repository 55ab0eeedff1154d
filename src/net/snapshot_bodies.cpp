#include "snapshot_bodies.h"

#include "bits.h"

#include <algorithm>
#include <array>
#include <cassert>

namespace avrek::detail {

namespace {

// The place in `bodies` of an id, or where it would stand.
std::size_t place_of(std::span<const SeenBody> bodies, BodyId id) {
    return static_cast<std::size_t>(
        std::lower_bound(bodies.begin(), bodies.end(), id,
                         [](const SeenBody& one, BodyId wanted) { return one.id < wanted; }) -
        bodies.begin());
}

SeenBody earlier(std::span<const SeenBody> bodies, BodyId id) {
    const std::size_t index = place_of(bodies, id);
    return index < bodies.size() && bodies[index].id == id ? bodies[index] : SeenBody{.id = id};
}

// A difference of places: how wide, then the bits.
constexpr unsigned widths[] = {3, 6, 9, 26};

void write_step(BitWriter& to, std::int32_t by) {
    const auto bits = static_cast<std::uint32_t>(by) << 1U ^ static_cast<std::uint32_t>(by >> 31);
    unsigned choice = 0;
    while (choice < 3 && bits >> widths[choice] != 0) {
        ++choice;
    }
    to.bits(choice, 2);
    to.bits(bits, widths[choice]);
}

std::int32_t read_step(BitReader& from) {
    const unsigned choice = static_cast<unsigned>(from.bits(2));
    const auto bits = static_cast<std::uint32_t>(from.bits(widths[choice]));
    return static_cast<std::int32_t>(bits >> 1U) ^ -static_cast<std::int32_t>(bits & 1U);
}

constexpr auto max_state = static_cast<std::uint64_t>(BodyState::gone);

// The bytes of a pose that have changed: which, then each as its difference modulo 256.
using PoseBytes = std::array<std::uint8_t, PoseState::size>;

void write_pose(BitWriter& to, const PoseState& before, const PoseState& now) {
    to.flag(before != now);
    if (before == now) {
        return;
    }
    const auto from = before.as<PoseBytes>();
    const auto bytes = now.as<PoseBytes>();
    for (std::size_t byte = 0; byte < bytes.size(); ++byte) {
        to.flag(from[byte] != bytes[byte]);
    }
    for (std::size_t byte = 0; byte < bytes.size(); ++byte) {
        if (from[byte] != bytes[byte]) {
            to.bits(static_cast<std::uint8_t>(bytes[byte] - from[byte]), 8);
        }
    }
}

PoseState read_pose(BitReader& from, PoseState before) {
    if (!from.flag()) {
        return before;
    }
    auto bytes = before.as<PoseBytes>();
    std::array<bool, PoseState::size> changed{};
    for (bool& is : changed) {
        is = from.flag();
    }
    for (std::size_t byte = 0; byte < bytes.size(); ++byte) {
        if (changed[byte]) {
            bytes[byte] = static_cast<std::uint8_t>(bytes[byte] + from.bits(8));
        }
    }
    before.set(bytes);
    return before;
}

void write(BitWriter& to, const SeenBody& before, const SeenBody& now) {
    if (before == now) {
        to.flag(false);
        return;
    }
    to.flag(true);
    const auto changed = [&](bool is) {
        to.flag(is);
        return is;
    };
    const SnapshotPose& a = before.pose;
    const SnapshotPose& b = now.pose;
    if (changed(a.x != b.x || a.z != b.z)) {
        write_step(to, b.x - a.x);
        write_step(to, b.z - a.z);
    }
    if (changed(a.y != b.y)) {
        write_step(to, b.y - a.y);
    }
    if (changed(a.yaw != b.yaw)) {
        to.small_signed((b.yaw - a.yaw + 2048 + 4096) % 4096 - 2048, 5);
    }
    if (changed(before.pitch != now.pitch)) {
        to.small_signed(now.pitch - before.pitch, 4);
    }
    if (changed(before.shots != now.shots)) {
        to.small(static_cast<std::uint8_t>(now.shots - before.shots), 2);
    }
    if (changed(before.flags != now.flags || before.weapon != now.weapon || before.state != now.state)) {
        to.bits(now.flags, 7);
        to.bits(static_cast<std::uint64_t>(now.state), 3);
        to.bits(now.weapon, 8);
    }
    write_pose(to, before.posed, now.posed);
}

SeenBody read(BitReader& from, const SeenBody& before) {
    SeenBody now = before;
    if (!from.flag()) {
        return now;
    }
    const auto stepped = [](std::int32_t value, std::int32_t by) {
        return std::clamp(value + by, -max_snapshot_steps, max_snapshot_steps);
    };
    if (from.flag()) {
        now.pose.x = stepped(now.pose.x, read_step(from));
        now.pose.z = stepped(now.pose.z, read_step(from));
    }
    if (from.flag()) {
        now.pose.y = stepped(now.pose.y, read_step(from));
    }
    if (from.flag()) {
        now.pose.yaw = static_cast<std::uint16_t>((now.pose.yaw + from.small_signed(5)) & 4095);
    }
    if (from.flag()) {
        now.pitch = static_cast<std::int16_t>(
            std::clamp<std::int64_t>(now.pitch + from.small_signed(4) % 4096, -1024, 1024));
    }
    if (from.flag()) {
        now.shots = static_cast<std::uint8_t>(now.shots + from.small(2));
    }
    if (from.flag()) {
        now.flags = static_cast<std::uint8_t>(from.bits(7));
        now.state = static_cast<BodyState>(std::min<std::uint64_t>(from.bits(3), max_state));
        now.weapon = static_cast<std::uint8_t>(from.bits(8));
    }
    now.posed = read_pose(from, before.posed);
    return now;
}

} // namespace

std::vector<std::uint8_t> pack_bodies(std::span<const SeenBody> before, std::span<const SeenBody> now) {
    assert(now.size() <= max_seen_bodies);
    std::vector<std::uint8_t> packed;
    packed.reserve(16 + 8 * now.size());
    BitWriter to{packed};
    const auto same_id = [](const SeenBody& one, const SeenBody& other) { return one.id == other.id; };
    const bool same = std::equal(before.begin(), before.end(), now.begin(), now.end(), same_id);
    to.flag(same); // the same bodies as before
    if (!same) {
        to.small(now.size());
        std::uint32_t last = 0;
        for (const SeenBody& body : now) {
            to.small(static_cast<std::uint32_t>(body.id) - last);
            last = static_cast<std::uint32_t>(body.id);
        }
    }
    for (const SeenBody& body : now) {
        write(to, earlier(before, body.id), body);
    }
    return packed;
}

std::optional<std::vector<SeenBody>> unpack_bodies(std::span<const std::uint8_t> packed,
                                                   std::span<const SeenBody> before) {
    BitReader from{packed};
    std::vector<SeenBody> now;
    if (from.flag()) {
        for (const SeenBody& body : before) {
            now.push_back(SeenBody{.id = body.id});
        }
    } else {
        const std::uint64_t count = from.small();
        if (count > max_seen_bodies) {
            return std::nullopt;
        }
        std::uint64_t last = 0;
        for (std::uint64_t place = 0; place < count && from.is_sound(); ++place) {
            const std::uint64_t by = from.small();
            last += by;
            if ((place > 0 && by == 0) || by > 0xffffffffU || last >= static_cast<std::uint32_t>(nobody)) {
                return std::nullopt; // ids rise
            }
            now.push_back(SeenBody{.id = BodyId{static_cast<std::uint32_t>(last)}});
        }
    }
    for (SeenBody& body : now) {
        body = read(from, earlier(before, body.id));
    }
    return from.is_at_end() ? std::optional{std::move(now)} : std::nullopt;
}

} // namespace avrek::detail
