// Any bytes, as a saved state, as changes to a sound one, and as a delta: they are refused, or give a fight
// that goes on.
#include "../tests/digest/bots_fight.h"
#include <avrek/core/state_delta.h>

#include <cstddef>
#include <cstdint>
#include <cstring>

using namespace avrek;

namespace {

std::vector<std::byte> sound_state(const Arsenal& arsenal) {
    trial::BotsFight fight{arsenal, 4, 1};
    while (fight.skirmish.tick() < 200) {
        fight.advance();
    }
    std::vector<std::byte> bytes(fight.skirmish.saved_size());
    (void)fight.skirmish.save(bytes);
    return bytes;
}

} // namespace

extern "C" int LLVMFuzzerTestOneInput(const std::uint8_t* bytes, std::size_t size) {
    static const Arsenal& arsenal = trial::bots_arsenal();
    static const std::vector<std::byte> sound = sound_state(arsenal);
    static Skirmish fight = trial::BotsFight{arsenal, 4, 1}.skirmish;
    if (size == 0) {
        return 0;
    }
    const std::span<const std::byte> rest = std::as_bytes(std::span{bytes, size}).subspan(1);
    std::vector<std::byte> state{rest.begin(), rest.end()};
    if (bytes[0] % 3 == 1) { // places and what to put there
        state = sound;
        for (std::size_t at = 0; at + 4 < rest.size(); at += 5) {
            std::uint32_t index = 0;
            std::memcpy(&index, &rest[at], sizeof index);
            state[index % state.size()] = rest[at + 4];
        }
    } else if (bytes[0] % 3 == 2) {
        const auto made = apply_delta(sound, rest, 1U << 20U);
        state = made ? *made : sound;
    }
    if (fight.restore(state)) {
        for (int tick = 0; tick < 8; ++tick) {
            fight.advance({});
        }
    }
    return 0;
}
