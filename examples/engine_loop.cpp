// How a game embeds Avrek: its pictures come as fast as they can, 20 to 200 in a second, while the fight goes
// on at a fixed 64 ticks. Time that has passed is saved up, whole ticks are taken from it, and what is left
// says where between the last two ticks things are drawn. The game moves its bodies itself.
//
//     engine_loop [data/halm-ring.toml]
#include <avrek/avrek.h>

#include <algorithm>
#include <cstdio>
#include <vector>

using namespace avrek;

namespace {

constexpr BodyId keeper{1};
constexpr BodyId rival{2};
constexpr Duration max_catching_up = std::chrono::milliseconds{250}; // after a hitch, slow down rather

// A stand-in for the time that a frame takes: uneven, with a hitch.
Duration frame_time(std::uint32_t frame) {
    if (frame == 40) {
        return std::chrono::milliseconds{600};
    }
    return from_seconds(0.005 + 0.045 * random_pair({.seed = 5, .shot = frame})[0]);
}

// The game's own movement: the rival walks to and fro.
Vector3 rival_at(Time time) {
    return {2.0 * sine(1.5 * to_seconds(time - Time{})), 0.0, 9.0};
}

struct Game {
    Skirmish fight;
    Duration saved_up{};
    std::uint32_t ticks = 0;

    // Plays the player's input: bursts at the rival's chest.
    Intent read_hands() const {
        const Vector3 way = rival_at(fight.now()) + Vector3{0, 1.2, 0} - fight.readout(keeper).eye;
        Intent intent;
        intent.who = keeper;
        const Look look = look_of(way);
        intent.yaw = static_cast<float>(look.yaw);
        intent.pitch = static_cast<float>(look.pitch);
        intent.buttons.set(Button::trigger, fight.tick() % 40 < 16);
        return intent;
    }

    void tick() {
        const Time end = tick_span(fight.tick(), fight.settings().rate).end;
        const BodyUpdate updates[] = {{.who = keeper}, {.who = rival, .position = rival_at(end), .yaw = pi}};
        const Intent intents[] = {read_hands()};
        react(fight.advance(intents, updates));
        ++ticks;
    }

    // Sounds, sparks and the interface are driven by events.
    void react(std::span<const Event> events) const {
        for (const Event& event : events) {
            std::visit(EventHandlers{[](const KillEvent& kill) {
                                         std::printf(
                                             "%7.3f s  #%u falls to #%u\n", to_seconds(kill.at - Time{}),
                                             static_cast<unsigned>(kill.who), static_cast<unsigned>(kill.by));
                                     },
                                     [](const RespawnEvent& back) {
                                         std::printf("%7.3f s  #%u is back\n", to_seconds(back.at - Time{}),
                                                     static_cast<unsigned>(back.who));
                                     },
                                     [](const auto&) {}},
                       event);
        }
    }

    // Where a body is drawn: between the last two ticks, by the time that is left over.
    Vector3 drawn(BodyId body) const {
        const Fighter& fighter = *fight.find(body);
        const Span last = tick_span(fight.tick(), fight.settings().rate);
        const double share = to_seconds(saved_up) / to_seconds(last.end - last.begin);
        return fighter.position_before + share * (fighter.motion.position - fighter.position_before);
    }

    void frame(Duration passed) {
        saved_up += std::min(passed, max_catching_up);
        for (Duration length = tick_length(); saved_up >= length; length = tick_length()) {
            saved_up -= length;
            tick();
        }
    }

    Duration tick_length() const {
        const Span next = tick_span(fight.tick(), fight.settings().rate);
        return next.end - next.begin;
    }
};

} // namespace

int main(int count, char** words) {
    const auto arsenal = load_arsenal(count > 1 ? words[1] : "data/halm-ring.toml");
    const BodySpec* crew = arsenal ? find(arsenal->bodies, "crew") : nullptr;
    if (crew == nullptr || arsenal->weapons.empty() || arsenal->matches.empty()) {
        std::fprintf(stderr, "engine_loop needs the arsenal of the Halm Ring\n");
        return 2;
    }
    Game game{Skirmish{*arsenal, Level{{{HalfSpace{world_up(), 0}}}}, {.moves_bodies = false}, 3}};
    const WeaponId rifle{};
    const auto body = *arsenal->body("crew");
    for (const Entrant& entrant :
         {Entrant{.id = keeper, .body = body, .weapons = {&rifle, 1}, .at = Vector3{0, 0, 0}},
          Entrant{.id = rival, .team = TeamId{1}, .body = body, .at = rival_at(Time{}), .yaw = pi}}) {
        if (const Outcome added = game.fight.add(entrant); !added) {
            std::fprintf(stderr, "nobody enters: %s\n", std::string{added.why()}.c_str());
            return 1;
        }
    }

    double roughest = 0.0;
    Vector3 before = game.drawn(rival);
    constexpr std::uint32_t frames = 240;
    Duration passed{};
    for (std::uint32_t frame = 0; frame < frames; ++frame) {
        const Duration length = frame_time(frame);
        passed += length;
        game.frame(length);
        const Vector3 now = game.drawn(rival);
        const double seconds = to_seconds(std::min(length, max_catching_up));
        roughest = std::max(roughest, (now - before).norm() / seconds); // as fast as the picture moves
        before = now;
    }
    const PlayerStats& stats = std::as_const(game.fight).match().find(keeper)->stats;
    std::printf("%u frames in %.2f s, %u ticks: %u shots, %u hit\n", frames, to_seconds(passed), game.ticks,
                stats.shots, stats.shots_hit);
    std::printf("the rival walks at up to 3.00 m/s, its picture moves at up to %.2f m/s\n", roughest);
}
