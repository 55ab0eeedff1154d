// Any bytes as what comes over a network: every decoder gives a message or none, and what it gives can be
// lived with.
#include "../tests/digest/bots_fight.h"
#include "../tests/net/offered_bodies.h"
#include "own_state.h"
#include "packed_intents.h"
#include "quic/streams.h"
#include "wire.h"

#include <zstd.h>

#include <cstddef>
#include <cstdint>
#include <cstdlib>

using namespace avrek;

namespace {

void take_own_state(std::span<const std::uint8_t> packed) {
    static const Arsenal& arsenal = trial::bots_arsenal();
    static const trial::BotsFight sound = [] {
        trial::BotsFight fight{arsenal, 4, 1};
        while (fight.skirmish.tick() < 100) {
            fight.advance();
        }
        return fight;
    }();
    Skirmish skirmish = sound.skirmish;
    const std::vector<detail::WordKind> kinds = detail::kinds_of_own_state();
    detail::BitReader bits{packed};
    const detail::OwnState state = detail::read_change(bits, kinds, detail::own_state(skirmish, BodyId{1}));
    if (!bits.is_sound()) {
        return;
    }
    if (!detail::assume(skirmish, BodyId{1}, state)) {
        std::abort(); // it has the right number of words
    }
    for (int tick = 0; tick < 3; ++tick) {
        const Intent intent{.who = BodyId{1}, .ahead = 1.0F, .buttons = {Button::trigger}};
        skirmish.advance({&intent, 1});
    }
    (void)skirmish.readout(BodyId{1});
}

// The bytes as messages about values that change, as a packed step, and as one that is still to be packed.
void take_tuning(std::span<const std::byte> bytes) {
    (void)detail::decode_tuning(bytes);
    (void)detail::decode_proposal(bytes);
    (void)detail::decode_answer(bytes);
    (void)unpack_tuning(bytes);
    std::vector<std::byte> packed(ZSTD_compressBound(bytes.size()));
    packed.resize(ZSTD_compress(packed.data(), packed.size(), bytes.data(), bytes.size(), 1));
    const auto step = unpack_tuning(packed);
    if (!step) {
        return;
    }
    const auto again = unpack_tuning(pack(*step));
    if (!again || pack(*again) != pack(*step)) {
        std::abort(); // packing loses nothing
    }
    static const TunedArsenal tuned{
        {{"base.toml", "[weapon.reed]\ndamage = 20\nrate_of_fire = 300\nmagazine = 8\n"
                       "range = 40\nreload = { time = 2 }\n"
                       "[match.ring]\nscore_to_win = 5\n"}}};
    if (const auto arsenal = tuned.with(*step)) {
        (void)hash_of(**arsenal);
    }
}

} // namespace

extern "C" int LLVMFuzzerTestOneInput(const std::uint8_t* data, std::size_t size) {
    if (size == 0) {
        return 0;
    }
    const std::span<const std::uint8_t> packed{data + 1, size - 1};
    const std::span<const std::byte> bytes = std::as_bytes(packed);
    if (data[0] == 255) {
        take_tuning(bytes);
        return 0;
    }
    switch (data[0] % 6) {
    case 0: {
        (void)detail::decode_join(bytes);
        (void)detail::decode_welcome(bytes);
        (void)detail::decode_refusal(bytes);
        (void)detail::decode_goodbye(bytes);
        (void)read_ticket(bytes);
        break;
    }
    case 1:
        if (const auto notices = detail::decode_notices(bytes)) {
            (void)detail::encode(*notices);
        }
        if (const auto ledger = detail::decode_ledger(bytes)) {
            Ledger there;
            for (const LedgerEntry& entry : ledger->entries) {
                there.set(entry.subject, entry.property, entry.value);
            }
        }
        break;
    case 2: {
        (void)detail::decode_intents(bytes, BodyId{1});
        (void)detail::decode_command(bytes, BodyId{1});
        bool relative = false;
        for (const Intent& intent : detail::unpack_intents(packed, BodyId{1}, relative)) {
            if (detail::as_sent(intent) != intent) {
                std::abort(); // what was on the grid stays there
            }
        }
        break;
    }
    case 3: {
        const detail::SeenBody before[] = {{.id = BodyId{1}, .pose = {1, 2, 3, 4}},
                                           {.id = BodyId{7}, .pitch = 100}};
        (void)detail::decode_snapshot(bytes);
        if (const auto bodies = detail::unpack_bodies(packed, before)) {
            const trial::OfferedBodies all{before, bodies->bodies};
            if (detail::unpack_bodies(detail::pack_bodies(all.had, all.offers), before)->bodies !=
                bodies->bodies) {
                std::abort(); // packing loses nothing
            }
        }
        break;
    }
    case 4:
        take_own_state(packed);
        break;
    default: {
        detail::PartedMessages parted;
        detail::InStream stream;
        for (std::size_t at = 0; at < bytes.size(); at += 16) {
            const auto piece = bytes.subspan(at, std::min<std::size_t>(16, bytes.size() - at));
            (void)parted.take(piece);
            stream.take(piece);
            while (stream.next()) {
            }
            if (stream.is_longer_than(1U << 16U)) {
                break;
            }
        }
        break;
    }
    }
    return 0;
}
