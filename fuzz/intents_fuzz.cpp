// Any bytes, as what combatants want and where a game puts them: a fight that goes on, and whose numbers stay
// numbers.
#include "../tests/digest/bots_fight.h"
#include <avrek/skirmish/named_fields.h>

#include <cmath>
#include <cstddef>
#include <cstdint>
#include <cstdlib>
#include <cstring>

using namespace avrek;

namespace {

// Takes values from the bytes as they come; zeros when they are used up.
struct Bytes {
    const std::uint8_t* at;
    std::size_t left;

    template <class T>
    T take() {
        T value{};
        if (left >= sizeof(T)) {
            std::memcpy(&value, at, sizeof(T));
            at += sizeof(T);
            left -= sizeof(T);
        } else {
            left = 0;
        }
        return value;
    }
};

} // namespace

extern "C" int LLVMFuzzerTestOneInput(const std::uint8_t* bytes, std::size_t size) {
    static const Arsenal& arsenal = trial::bots_arsenal();
    static const Skirmish start = trial::BotsFight{arsenal, 4, 1}.skirmish;
    Skirmish fight = start;
    Bytes from{bytes, size};
    for (int tick = 0; tick < 64 && from.left > 0; ++tick) {
        std::vector<Intent> intents;
        std::vector<BodyUpdate> updates;
        for (int count = from.take<std::uint8_t>() % 6; count > 0; --count) {
            Intent intent;
            intent.who = BodyId{from.take<std::uint8_t>() % 6U};
            intent.press_offset = from.take<std::uint32_t>();
            intent.yaw = from.take<float>();
            intent.pitch = from.take<float>();
            intent.ahead = from.take<float>();
            intent.left = from.take<float>();
            intent.buttons = Buttons::from_bits(from.take<std::uint16_t>());
            intent.slot = from.take<std::int8_t>();
            intent.strike = from.take<std::int8_t>();
            intent.spotted = BodyId{from.take<std::uint32_t>()};
            intent.lost_sight_of = BodyId{from.take<std::uint8_t>()};
            intent.view_delay = from.take<std::uint32_t>();
            intents.push_back(intent);
        }
        if (from.take<std::uint8_t>() % 4 == 0) {
            updates.push_back({.who = BodyId{from.take<std::uint8_t>() % 6U},
                               .position = {from.take<double>(), from.take<double>(), from.take<double>()},
                               .yaw = from.take<double>(),
                               .velocity = {from.take<double>(), from.take<double>(), from.take<double>()},
                               .airborne = (from.take<std::uint8_t>() & 1U) != 0});
        }
        fight.advance(intents, updates);
    }
    for (const NamedField& field : named_fields(fight)) {
        const double* value = std::get_if<double>(&field.value);
        if (value != nullptr && std::isnan(*value)) {
            std::abort();
        }
    }
    return 0;
}
