// Saved states hold nothing but the state.
#include "../../src/ballistics/projectile_states.h"
#include "../../src/scene/body_frames.h"
#include "../digest/bots_fight.h"

#include <gtest/gtest.h>

#include <algorithm>
#include <array>
#include <cstdlib>
#include <cstring>
#include <vector>

namespace avrek {
namespace {

#if defined(__GNUC__) && !defined(__clang__)
// The members of a type are all of it but its padding, as the compiler knows it; of types with arrays or
// vectors in them it does not, and a restore finds what is missing there.
template <class T>
void expect_no_member_is_missing(const char* name) {
    alignas(T) std::array<std::byte, sizeof(T)> ours;
    alignas(T) std::array<std::byte, sizeof(T)> compilers;
    ours.fill(std::byte{0xff});
    compilers.fill(std::byte{0xff});
    StateGaps::of<T>().clear(ours.data());
    __builtin_clear_padding(reinterpret_cast<T*>(compilers.data()));
    const auto* mine = std::mismatch(ours.begin(), ours.end(), compilers.begin()).first;
    EXPECT_EQ(mine, ours.end()) << name << ", byte " << mine - ours.begin();
}

TEST(StateGaps, AreThePaddingOfEveryState) {
    expect_no_member_is_missing<WeaponState>("WeaponState");
    expect_no_member_is_missing<ConditionState>("ConditionState");
    expect_no_member_is_missing<GuardState>("GuardState");
    expect_no_member_is_missing<ReactionCount>("ReactionCount");
    expect_no_member_is_missing<Credit>("Credit");
    expect_no_member_is_missing<PlayerStats>("PlayerStats");
    expect_no_member_is_missing<HazardTouch>("HazardTouch");
    expect_no_member_is_missing<detail::ProjectileSlot>("ProjectileSlot");
    expect_no_member_is_missing<detail::BodySlot>("BodySlot");
}
#endif

[[gnu::noinline]] void litter_stack(unsigned char litter) {
    volatile unsigned char room[100'000];
    for (volatile unsigned char& byte : room) {
        byte = litter;
    }
}

// Equal states are equal bytes, whatever memory held before.
TEST(StateGaps, EqualStatesAreEqualBytes) {
    const auto fought = [](unsigned char litter) {
        std::vector<unsigned char*> held;
        for (int block = 0; block < 200; ++block) { // what the fight is made in
            held.push_back(static_cast<unsigned char*>(std::malloc(20'000)));
            std::memset(held.back(), litter, 20'000);
        }
        std::for_each(held.begin(), held.end(), [](unsigned char* block) { std::free(block); });
        litter_stack(litter);
        trial::BotsFight fight{trial::bots_arsenal(), 6, 3};
        while (fight.skirmish.tick() < 300) {
            litter_stack(litter);
            fight.advance();
        }
        std::vector<std::byte> room(fight.skirmish.saved_size());
        EXPECT_EQ(fight.skirmish.save(room).size(), room.size());
        return room;
    };
    EXPECT_EQ(fought(0x00), fought(0xd7));
}

} // namespace
} // namespace avrek
