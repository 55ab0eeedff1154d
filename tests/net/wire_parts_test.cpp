// Parts of the wire: whatever is sent arrives bit for bit, and whatever arrives harms nobody.
#include "../../src/core/by_id.h"
#include "../digest/bots_fight.h"
#include "../rounds.h"
#include "bits.h"
#include "offered_bodies.h"
#include "own_state.h"
#include "packed_intents.h"
#include "snapshot_bodies.h"
#include "wire.h"

#include <gtest/gtest.h>

#include <algorithm>
#include <cmath>
#include <limits>
#include <random>

namespace avrek::detail {
namespace {

using Bytes = std::vector<std::uint8_t>;

// Bytes that were sent, cut off or changed anywhere.
Bytes damaged(Bytes bytes, std::mt19937_64& random) {
    if (random() % 2 == 0) {
        bytes.resize(random() % (bytes.size() + 1));
    }
    for (std::size_t change = random() % 4; change > 0 && !bytes.empty(); --change) {
        bytes[random() % bytes.size()] ^= static_cast<std::uint8_t>(1U << (random() % 8));
    }
    return bytes;
}

TEST(Bits, ComeBackWhateverTheirWidths) {
    std::mt19937_64 random{1};
    for (int round = 0; round < rounds(500); ++round) {
        struct Item {
            int kind;
            unsigned width;
            std::uint64_t value;
        };
        std::vector<Item> items;
        Bytes bytes;
        BitWriter writer{bytes};
        for (std::size_t count = random() % 30; count > 0; --count) {
            const Item item{static_cast<int>(random() % 4), static_cast<unsigned>(1 + random() % 64),
                            random() >> random() % 64};
            items.push_back(item);
            if (item.kind == 0) {
                writer.bits(item.value, item.width);
            } else if (item.kind == 1) {
                writer.flag(item.value % 2 != 0);
            } else if (item.kind == 2) {
                writer.small(item.value, 1 + item.width % 8);
            } else {
                writer.small_signed(static_cast<std::int64_t>(item.value), 1 + item.width % 8);
            }
        }
        writer.finish();
        BitReader reader{bytes};
        for (const Item& item : items) {
            const std::uint64_t mask = item.width == 64 ? ~0ULL : (1ULL << item.width) - 1U;
            if (item.kind == 0) {
                ASSERT_EQ(reader.bits(item.width), item.value & mask);
            } else if (item.kind == 1) {
                ASSERT_EQ(reader.flag(), item.value % 2 != 0);
            } else if (item.kind == 2) {
                ASSERT_EQ(reader.small(1 + item.width % 8), item.value);
            } else {
                ASSERT_EQ(reader.small_signed(1 + item.width % 8), static_cast<std::int64_t>(item.value));
            }
        }
        EXPECT_TRUE(reader.is_at_end());
        EXPECT_EQ(reader.bits(9), 0U);
        EXPECT_FALSE(reader.is_sound());
    }
}

Intent random_intent(std::mt19937_64& random) {
    std::uniform_real_distribution<float> real{-4.0F, 4.0F};
    Intent intent{.who = BodyId{3}};
    intent.press_offset = static_cast<std::uint32_t>(random() % 15'000'000);
    intent.yaw = real(random);
    intent.pitch = 0.3F * real(random);
    intent.ahead = real(random);
    intent.left = real(random);
    intent.buttons = Buttons::from_bits(static_cast<std::uint32_t>(random()));
    intent.slot = static_cast<std::int8_t>(random() % 7) - 1;
    intent.strike = static_cast<std::int8_t>(random() % 4) - 1;
    intent.spotted = random() % 3 == 0 ? BodyId{static_cast<std::uint32_t>(random() % 9)} : nobody;
    intent.lost_sight_of = random() % 3 == 0 ? BodyId{static_cast<std::uint32_t>(random() % 9)} : nobody;
    intent.game.words[random() % 4] = random() % 3 == 0 ? random() : 0;
    return intent;
}

TEST(PackedIntents, ArriveAsTheyAreSent) {
    std::mt19937_64 random{2};
    for (int round = 0; round < rounds(2'000); ++round) {
        std::vector<Intent> sent;
        for (std::size_t count = 1 + random() % max_packed_intents; count > 0; --count) {
            const Intent next =
                random() % 2 == 0 || sent.empty() ? as_sent(random_intent(random)) : sent.back();
            EXPECT_EQ(as_sent(next), next) << "what is on the grid stays there";
            sent.push_back(next);
        }
        const Bytes packed = pack_intents(sent);
        bool relative = false;
        ASSERT_EQ(unpack_intents(packed, BodyId{3}, relative), sent);
        const auto wrong = unpack_intents(damaged(packed, random), BodyId{5}, relative);
        EXPECT_LE(wrong.size(), max_packed_intents);
        for (const Intent& intent : wrong) {
            EXPECT_EQ(intent.who, BodyId{5});
        }
    }
    const std::vector<Intent> same(max_packed_intents, as_sent(random_intent(random)));
    EXPECT_LT(pack_intents(same).size(), pack_intents({same.data(), 1}).size() + 2 * max_packed_intents)
        << "what does not change costs little";
}

TEST(PackedIntents, AreNearWhatWasWantedAndSoundWhateverThatIs) {
    std::mt19937_64 random{3};
    for (int round = 0; round < rounds(2'000); ++round) {
        const Intent wanted = random_intent(random);
        const Intent sent = as_sent(wanted);
        EXPECT_LE(std::abs(std::remainder(sent.yaw - wanted.yaw, static_cast<float>(2.0 * pi))), 1e-4F);
        EXPECT_EQ(sent.buttons, wanted.buttons);
        EXPECT_LE(std::abs(static_cast<std::int64_t>(sent.press_offset) - wanted.press_offset), 1 << 16);
    }
    for (const float odd :
         {std::numeric_limits<float>::quiet_NaN(), std::numeric_limits<float>::infinity(), -1e30F}) {
        const Intent sent = as_sent({.who = BodyId{3}, .yaw = odd, .pitch = odd, .ahead = odd, .left = odd});
        for (const float value : {sent.yaw, sent.pitch, sent.ahead, sent.left}) {
            EXPECT_TRUE(std::isfinite(value)) << odd;
        }
        bool relative = false;
        ASSERT_EQ(unpack_intents(pack_intents({&sent, 1}, true), BodyId{3}, relative), std::vector{sent});
        ASSERT_TRUE(relative);
    }
}

TEST(Notices, ArriveAsTheyAreSentAndAreSmall) {
    std::mt19937_64 random{6};
    const auto one_in = [&random](unsigned odds) { return random() % odds == 0; };
    const auto vector = [&] {
        std::normal_distribution<double> place{0.0, 50.0};
        return one_in(2) ? Vector3(Vector3::Zero()) : Vector3{place(random), place(random), place(random)};
    };
    for (int round = 0; round < rounds(2'000); ++round) {
        std::vector<Notice> sent(random() % 6);
        for (Notice& notice : sent) {
            notice.kind = static_cast<NoticeKind>(random() % notice_kind_count);
            notice.id = one_in(20) ? random() : random() % 1000;
            notice.at = Time{Duration{static_cast<std::int64_t>(one_in(20) ? random() : random() >> 24U)}};
            notice.who = one_in(3) ? nobody : BodyId{static_cast<std::uint32_t>(random())};
            notice.by = one_in(3) ? nobody : BodyId{static_cast<std::uint32_t>(random() % 64)};
            notice.weapon = one_in(3) ? std::nullopt : std::optional{static_cast<WeaponId>(random() % 9)};
            notice.index = static_cast<std::int32_t>(random()) >> random() % 32;
            notice.number = static_cast<std::uint32_t>(random()) >> random() % 32;
            notice.amount = vector().x();
            notice.point = vector();
            notice.direction = vector();
            notice.aim = vector();
            notice.payload.resize(one_in(10) ? random() % max_notice_payload : 0, std::byte{7});
        }
        const detail::Bytes bytes = encode(sent);
        ASSERT_EQ(decode_notices(bytes), sent);
        Bytes numbers(as_numbers(bytes).begin(), as_numbers(bytes).end());
        numbers = damaged(std::move(numbers), random);
        (void)decode_notices(std::as_bytes(std::span{numbers}));
    }
    const Notice taken{
        .kind = NoticeKind::pickup_taken, .id = 400, .at = Time{std::chrono::minutes{5}}, .index = 3};
    EXPECT_LE(encode({{taken}}).size(), 14U);
}

TEST(ShownBodies, ArriveWhateverWasThereBefore) {
    std::mt19937_64 random{4};
    const auto crowd = [&random] {
        std::vector<SeenBody> bodies;
        for (std::uint32_t id = 0; id < 20; ++id) {
            if (random() % 3 != 0) {
                const auto at = [&] { return static_cast<std::int32_t>(random() % 20'000) - 10'000; };
                bodies.push_back({BodyId{id * 7},
                                  {at(), at(), at(), static_cast<std::uint16_t>(random() % 4096)},
                                  static_cast<std::int16_t>(static_cast<int>(random() % 2049) - 1024),
                                  static_cast<std::uint8_t>(random() % 64),
                                  static_cast<std::uint8_t>(random() % 7),
                                  static_cast<std::uint8_t>(random())});
            }
        }
        return bodies;
    };
    std::size_t changed = 0;
    std::size_t unchanged = 0;
    std::size_t left_out = 0;
    for (int round = 0; round < rounds(1'000); ++round) {
        const std::vector<SeenBody> before = crowd();
        const std::vector<SeenBody> now = random() % 4 == 0 ? before : crowd();
        trial::OfferedBodies all{before, now};
        const Bytes packed = pack_bodies(all.had, all.offers);
        ASSERT_EQ(unpack_bodies(packed, before), (ReceivedBodies{now, {}}));
        ASSERT_LE(packed.size(), size_of(all.had, all.offers));
        (now == before ? unchanged : changed) += packed.size();
        const auto wrong = unpack_bodies(damaged(packed, random), before);
        if (wrong) {
            EXPECT_LE(wrong->bodies.size(), max_seen_bodies);
            EXPECT_TRUE(std::is_sorted(wrong->bodies.begin(), wrong->bodies.end(),
                                       [](const SeenBody& a, const SeenBody& b) { return a.id < b.id; }));
        }
        // With less room the worthiest arrive, and the others stay as they were.
        for (BodyOffer& offer : all.offers) {
            offer.worth = static_cast<double>(random() % 8);
        }
        const std::size_t room = 40 + random() % 200;
        choose_bodies(room, all.had, all.offers);
        const Bytes some = pack_bodies(all.had, all.offers);
        ASSERT_LE(some.size(), room + 40);
        ReceivedBodies expected;
        const BodyOffer* best = nullptr;
        for (std::size_t index = 0; index < now.size(); ++index) {
            const BodyOffer& offer = all.offers[index];
            const bool is_fresh = offer.fate == BodyFate::fresh;
            if (offer.fate != BodyFate::absent) {
                expected.bodies.push_back(is_fresh ? now[index] : *find_by_id(before, now[index].id));
                expected.fresh.push_back(is_fresh);
            }
            const bool has_changed = offer.is_new || !offer.change->is_none();
            best = has_changed && (best == nullptr || offer.worth > best->worth) ? &offer : best;
        }
        if (std::find(expected.fresh.begin(), expected.fresh.end(), false) == expected.fresh.end()) {
            expected.fresh.clear();
        }
        ASSERT_EQ(unpack_bodies(some, before), expected);
        left_out += static_cast<std::size_t>(std::count(expected.fresh.begin(), expected.fresh.end(), false));
        EXPECT_TRUE(best == nullptr || best->fate == BodyFate::fresh);
    }
    EXPECT_LT(10 * unchanged, changed);
    EXPECT_GT(left_out, 100U);
}

// A state that is taken over goes on like the original, with the same words.
TEST(OwnState, IsAllThatAClientPredicts) {
    for (const std::uint64_t seed : {1U, 2U, 3U}) {
        trial::BotsFight server{trial::bots_arsenal(), 6, seed};
        trial::BotsFight client{trial::bots_arsenal(), 6, seed + 50};
        for (Tick tick = 0; tick < 400; ++tick) {
            server.advance();
            client.advance();
            if (tick % 40 != 39) {
                continue;
            }
            for (std::uint32_t id = 0; id < 6; ++id) {
                const BodyId who = server.skirmish.fighters()[id].id;
                const OwnState state = own_state(server.skirmish, who);
                ASSERT_EQ(state.words.size(), kinds_of_own_state().size());
                if (assume(client.skirmish, who, state)) {
                    EXPECT_EQ(own_state(client.skirmish, who), state) << seed << ' ' << tick << ' ' << id;
                }
            }
        }
    }
}

TEST(OwnState, ChangesComeBackAndAreSmallWhereLittleChanged) {
    std::mt19937_64 random{5};
    trial::BotsFight fight{trial::bots_arsenal(), 4, 9};
    const BodyId who = fight.skirmish.fighters()[1].id;
    const auto kinds = kinds_of_own_state();
    OwnState before;
    for (Tick tick = 0; tick < 300; ++tick) {
        fight.advance();
        const OwnState after = own_state(fight.skirmish, who);
        Bytes bytes;
        BitWriter writer{bytes};
        write_change(writer, kinds, before, after);
        BitReader reader{bytes};
        ASSERT_EQ(read_change(reader, kinds, before), after);
        EXPECT_TRUE(reader.is_at_end());
        if (tick > 0) {
            EXPECT_LT(bytes.size(), 8 * after.words.size() / 2);
        }
        const Bytes odd = damaged(bytes, random);
        BitReader wrong{odd};
        const OwnState found = read_change(wrong, kinds, before);
        EXPECT_TRUE(!wrong.is_sound() || found.words.size() == after.words.size());
        before = after;
    }
}

// A forged state is no reason to stop: numbers are brought into their ranges, and what is no state is
// refused.
TEST(OwnState, IsSoundWhateverItsWordsAre) {
    std::mt19937_64 random{6};
    trial::BotsFight fight{trial::bots_arsenal(), 4, 3};
    for (Tick tick = 0; tick < 30; ++tick) {
        fight.advance();
    }
    const BodyId who = fight.skirmish.fighters()[0].id;
    const OwnState sound = own_state(fight.skirmish, who);
    const std::uint64_t hash = fight.skirmish.state_hash();
    OwnState shorter = sound;
    shorter.words.pop_back();
    EXPECT_FALSE(assume(fight.skirmish, who, shorter));
    EXPECT_FALSE(assume(fight.skirmish, BodyId{77}, sound));
    EXPECT_EQ(fight.skirmish.state_hash(), hash) << "nothing has changed";
    for (int round = 0; round < rounds(300); ++round) {
        OwnState forged = sound;
        for (std::size_t change = 1 + random() % forged.words.size(); change > 0; --change) {
            const std::uint64_t words[] = {random(), ~0ULL, 0, 0x7ff8000000000000ULL, 1ULL << 63U};
            forged.words[random() % forged.words.size()] = words[random() % 5];
        }
        if (assume(fight.skirmish, who, forged)) {
            const OwnState repaired = own_state(fight.skirmish, who);
            EXPECT_TRUE(assume(fight.skirmish, who, repaired));
            EXPECT_EQ(own_state(fight.skirmish, who), repaired) << "what was repaired stays as it is";
        }
        fight.advance(); // and it can be gone on from
        const auto found = std::find_if(fight.skirmish.fighters().begin(), fight.skirmish.fighters().end(),
                                        [who](const Fighter& fighter) { return fighter.id == who; });
        ASSERT_NE(found, fight.skirmish.fighters().end());
        EXPECT_TRUE(found->motion.position.allFinite());
    }
}

} // namespace
} // namespace avrek::detail
