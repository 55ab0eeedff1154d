#include "snapshot_bodies.h"

#include "bits.h"

#include <algorithm>
#include <array>
#include <cassert>
#include <cstring>
#include <numeric>

namespace avrek::detail {

namespace {

// The place in `bodies` of an id, or where it would stand.
std::size_t place_of(std::span<const SeenBody> bodies, BodyId id) {
    return static_cast<std::size_t>(
        std::lower_bound(bodies.begin(), bodies.end(), id,
                         [](const SeenBody& one, BodyId wanted) { return one.id < wanted; }) -
        bodies.begin());
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
        now.pose.yaw = static_cast<std::uint16_t>((now.pose.yaw + from.small_signed(5) % 4096) & 4095);
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

constexpr std::size_t id_bits = 10; // that a body typically takes in a list of ids

bool has_same_ids(std::span<const BodyId> had, std::span<const BodyOffer> offers) {
    return std::equal(had.begin(), had.end(), offers.begin(), offers.end(),
                      [](BodyId one, const BodyOffer& other) { return one == other.id; });
}

// Bits besides the changes themselves.
std::size_t head_size(std::span<const BodyId> had, std::span<const BodyOffer> offers) {
    return 2 + offers.size() + (has_same_ids(had, offers) ? 0 : 10 + id_bits * offers.size());
}

} // namespace

PackedChange packed_change(const SeenBody& before, const SeenBody& now) {
    static_assert(PoseState::size <= 10, "or the words of a change are too few");
    std::vector<std::uint8_t> bytes;
    bytes.reserve(sizeof(PackedChange::words));
    BitWriter to{bytes};
    write(to, before, now);
    PackedChange change;
    change.bits = static_cast<std::uint32_t>(to.size());
    to.finish();
    assert(bytes.size() <= sizeof change.words);
    std::memcpy(change.words.data(), bytes.data(), bytes.size());
    return change;
}

std::size_t size_of(std::span<const BodyId> had, std::span<const BodyOffer> offers) {
    std::size_t bits = head_size(had, offers);
    for (const BodyOffer& offer : offers) {
        bits += offer.change->bits;
    }
    return (bits + 7) / 8;
}

void choose_bodies(std::size_t room, std::span<const BodyId> had, std::span<BodyOffer> offers) {
    struct Changed {
        double worth = 0.0;
        std::size_t index = 0;
    };
    std::vector<Changed> changed;
    changed.reserve(offers.size());
    std::size_t used = head_size(had, offers);
    for (std::size_t index = 0; index < offers.size(); ++index) {
        offers[index].fate = BodyFate::fresh;
        if (offers[index].is_new || !offers[index].change->is_none()) {
            changed.push_back({offers[index].worth, index});
        } else {
            used += offers[index].change->bits;
        }
    }
    const auto is_worth_more = [](const Changed& one, const Changed& other) {
        return one.worth != other.worth ? one.worth > other.worth : one.index < other.index;
    };
    // Halves what is undecided: sorting all would take longer.
    auto begin = changed.begin();
    auto end = changed.end();
    while (begin != end) {
        const auto middle = begin + (end - begin) / 2;
        std::nth_element(begin, middle, end, is_worth_more);
        const std::size_t bits =
            std::accumulate(begin, middle + 1, used, [&](std::size_t sum, const Changed& one) {
                return sum + offers[one.index].change->bits;
            });
        if (bits <= 8 * room || middle == changed.begin()) {
            used = bits;
            begin = middle + 1;
        } else {
            end = middle;
        }
    }
    std::for_each(end, changed.end(), [&](const Changed& one) {
        BodyOffer& offer = offers[one.index];
        offer.fate = offer.is_new ? BodyFate::absent : BodyFate::kept;
    });
}

std::vector<std::uint8_t> pack_bodies(std::span<const BodyId> had, std::span<const BodyOffer> offers) {
    std::vector<std::uint8_t> bytes;
    bytes.reserve(16 + 8 * offers.size());
    BitWriter to{bytes};
    const auto has_fate = [&](BodyFate fate) {
        return std::any_of(offers.begin(), offers.end(),
                           [fate](const BodyOffer& one) { return one.fate == fate; });
    };
    const bool same = !has_fate(BodyFate::absent) && has_same_ids(had, offers);
    to.flag(same); // the same bodies as before
    if (!same) {
        const auto count = std::count_if(offers.begin(), offers.end(),
                                         [](const BodyOffer& one) { return one.fate != BodyFate::absent; });
        assert(count <= static_cast<std::ptrdiff_t>(max_seen_bodies));
        to.small(static_cast<std::uint64_t>(count));
        std::uint32_t last = 0;
        for (const BodyOffer& offer : offers) {
            if (offer.fate != BodyFate::absent) {
                to.small(static_cast<std::uint32_t>(offer.id) - last);
                last = static_cast<std::uint32_t>(offer.id);
            }
        }
    }
    const bool all_fresh = !has_fate(BodyFate::kept);
    to.flag(all_fresh);
    for (const BodyOffer& offer : offers) {
        if (!all_fresh && offer.fate != BodyFate::absent) {
            to.flag(offer.fate == BodyFate::fresh);
        }
        if (offer.fate == BodyFate::fresh) {
            to.words(offer.change->words, offer.change->bits);
        }
    }
    to.finish();
    return bytes;
}

std::optional<ReceivedBodies> unpack_bodies(std::span<const std::uint8_t> packed,
                                            std::span<const SeenBody> before) {
    BitReader from{packed};
    ReceivedBodies now;
    if (from.flag()) {
        for (const SeenBody& body : before) {
            now.bodies.push_back(SeenBody{.id = body.id});
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
            now.bodies.push_back(SeenBody{.id = BodyId{static_cast<std::uint32_t>(last)}});
        }
    }
    const bool all_fresh = from.flag();
    for (SeenBody& body : now.bodies) {
        const bool is_fresh = all_fresh || from.flag();
        const std::size_t there = place_of(before, body.id);
        const bool was_there = there < before.size() && before[there].id == body.id;
        if (!is_fresh && !was_there) {
            return std::nullopt;
        }
        const SeenBody was = was_there ? before[there] : body;
        body = is_fresh ? read(from, was) : was;
        if (!all_fresh) {
            now.fresh.push_back(is_fresh);
        }
    }
    return from.is_at_end() ? std::optional{std::move(now)} : std::nullopt;
}

} // namespace avrek::detail
