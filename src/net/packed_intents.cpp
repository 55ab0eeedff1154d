#include "packed_intents.h"

#include "bits.h"
#include <avrek/core/units.h>

#include <algorithm>
#include <bit>
#include <cassert>
#include <cmath>

namespace avrek::detail {

namespace {

constexpr unsigned time_step_bits = 16;
constexpr double turn_steps = 65536.0;

std::int32_t step(double value, double steps) {
    const double scaled = std::floor(value * steps + 0.5);
    return std::isfinite(scaled) && std::abs(scaled) < 1e9 ? static_cast<std::int32_t>(scaled) : 0;
}

// An intent as whole numbers.
struct Steps {
    std::int32_t yaw = 0;
    std::int32_t pitch = 0;
    std::int32_t ahead = 0;
    std::int32_t left = 0;
    std::uint32_t press_offset = 0;
    std::uint32_t buttons = 0;
    GameBytes<32> game{};
    std::int8_t slot = -1;
    std::int8_t strike = -1;
    BodyId spotted = nobody;
    BodyId lost_sight_of = nobody;
    friend bool operator==(const Steps&, const Steps&) = default;
};

Steps steps_of(const Intent& intent) {
    Steps steps;
    steps.yaw =
        step(shortest_turn(std::isfinite(intent.yaw) ? intent.yaw : 0.0), turn_steps / (2.0 * pi)) & 65535;
    steps.pitch = std::clamp(step(intent.pitch, turn_steps / (2.0 * pi)), -16383, 16383);
    steps.ahead = std::clamp(step(intent.ahead, 127.0), -127, 127);
    steps.left = std::clamp(step(intent.left, 127.0), -127, 127);
    steps.press_offset = intent.press_offset >> time_step_bits;
    steps.buttons = intent.buttons.bits();
    steps.game = intent.game;
    steps.slot = intent.slot;
    steps.strike = intent.strike;
    steps.spotted = intent.spotted;
    steps.lost_sight_of = intent.lost_sight_of;
    return steps;
}

Intent intent_of(const Steps& steps, BodyId who) {
    Intent intent;
    intent.who = who;
    const std::int32_t yaw = steps.yaw > 32768 ? steps.yaw - 65536 : steps.yaw;
    intent.yaw = static_cast<float>(yaw * (2.0 * pi / turn_steps));
    intent.pitch = static_cast<float>(steps.pitch * (2.0 * pi / turn_steps));
    intent.ahead = static_cast<float>(steps.ahead) / 127.0F;
    intent.left = static_cast<float>(steps.left) / 127.0F;
    intent.press_offset = steps.press_offset << time_step_bits;
    intent.buttons = Buttons::from_bits(steps.buttons);
    intent.game = steps.game;
    intent.slot = steps.slot;
    intent.strike = steps.strike;
    intent.spotted = steps.spotted;
    intent.lost_sight_of = steps.lost_sight_of;
    return intent;
}

void write_game(BitWriter& to, const GameBytes<32>& before, const GameBytes<32>& now) {
    for (std::size_t word = 0; word < now.words.size(); ++word) {
        const std::uint64_t change = now.words[word] ^ before.words[word];
        to.flag(change != 0);
        if (change != 0) {
            const auto width = static_cast<unsigned>(std::bit_width(change));
            to.bits(width - 1, 6);
            to.bits(change, width - 1); // its first bit is known
        }
    }
}

void read_game(BitReader& from, GameBytes<32>& game) {
    for (std::uint64_t& word : game.words) {
        if (from.flag()) {
            const auto width = static_cast<unsigned>(from.bits(6));
            word ^= from.bits(width) | std::uint64_t{1} << width;
        }
    }
}

void write(BitWriter& to, const Steps& before, const Steps& now) {
    const auto changed = [&](bool is) {
        to.flag(is);
        return is;
    };
    if (changed(now.yaw != before.yaw || now.pitch != before.pitch)) {
        to.small_signed(static_cast<std::int16_t>(now.yaw - before.yaw), 6);
        to.small_signed(now.pitch - before.pitch, 5);
    }
    if (changed(now.ahead != before.ahead || now.left != before.left)) {
        to.bits(static_cast<std::uint32_t>(now.ahead + 127), 8);
        to.bits(static_cast<std::uint32_t>(now.left + 127), 8);
    }
    // All that is rare.
    Steps rest = now;
    rest.yaw = before.yaw;
    rest.pitch = before.pitch;
    rest.ahead = before.ahead;
    rest.left = before.left;
    if (changed(!(rest == before))) {
        to.bits(now.buttons, button_count);
        if (changed(now.buttons >> button_count != 0)) {
            to.bits(now.buttons >> button_count, game_button_count);
        }
        to.bits(static_cast<std::uint32_t>(now.slot + 128), 8);
        to.bits(static_cast<std::uint32_t>(now.strike + 128), 8);
        to.small(now.press_offset);
        write_somebody(to, now.spotted);
        write_somebody(to, now.lost_sight_of);
        if (changed(now.game != before.game)) {
            write_game(to, before.game, now.game);
        }
    }
}

Steps read(BitReader& from, const Steps& before) {
    Steps now = before;
    if (from.flag()) {
        now.yaw = (before.yaw + static_cast<std::int32_t>(from.small_signed(6) & 65535)) & 65535;
        now.pitch =
            std::clamp(before.pitch + static_cast<std::int32_t>(from.small_signed(5) % 65536), -16383, 16383);
    }
    if (from.flag()) {
        now.ahead = std::min(127, static_cast<std::int32_t>(from.bits(8)) - 127);
        now.left = std::min(127, static_cast<std::int32_t>(from.bits(8)) - 127);
    }
    if (from.flag()) {
        now.buttons = static_cast<std::uint32_t>(from.bits(button_count));
        if (from.flag()) {
            now.buttons |= static_cast<std::uint32_t>(from.bits(game_button_count)) << button_count;
        }
        now.slot = static_cast<std::int8_t>(static_cast<int>(from.bits(8)) - 128);
        now.strike = static_cast<std::int8_t>(static_cast<int>(from.bits(8)) - 128);
        now.press_offset = static_cast<std::uint32_t>(from.small()) & 65535U;
        now.spotted = read_somebody(from);
        now.lost_sight_of = read_somebody(from);
        if (from.flag()) {
            read_game(from, now.game);
        }
    }
    return now;
}

} // namespace

Intent as_sent(Intent intent) {
    Intent sent = intent_of(steps_of(intent), intent.who);
    sent.view_delay = intent.view_delay; // which the server knows
    return sent;
}

std::vector<std::uint8_t> pack_intents(std::span<const Intent> intents, bool game_since_snapshot) {
    assert(intents.size() <= max_packed_intents);
    std::vector<std::uint8_t> packed;
    BitWriter to{packed};
    to.bits(intents.size(), 5);
    to.flag(game_since_snapshot);
    Steps before;
    for (const Intent& intent : intents) {
        const Steps now = steps_of(intent);
        write(to, before, now);
        before = now;
    }
    to.finish();
    return packed;
}

std::vector<Intent> unpack_intents(std::span<const std::uint8_t> packed, BodyId who,
                                   bool& game_since_snapshot) {
    BitReader from{packed};
    const std::uint64_t count = from.bits(5);
    game_since_snapshot = from.flag();
    std::vector<Intent> intents;
    if (count > max_packed_intents) {
        return intents;
    }
    Steps before;
    for (std::uint64_t place = 0; place < count && from.is_sound(); ++place) {
        before = read(from, before);
        intents.push_back(intent_of(before, who));
    }
    if (!from.is_at_end()) {
        intents.clear();
    }
    return intents;
}

} // namespace avrek::detail
