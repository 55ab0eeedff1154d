#pragma once
// A game of its own, for tests: locomotions, actions of every kind, and a state beside the fight.
#include "../digest/bots_fight.h"
#include "../scene/draw.h"
#include <avrek/core/random.h>
#include <avrek/skirmish/companion_state.h>
#include <avrek/skirmish/game_action.h>
#include <avrek/skirmish/walking_locomotion.h>

#include <array>
#include <cstring>
#include <string>
#include <vector>

namespace avrek::trial {

/// Walks with dashes and leaps, whose strengths its seed says; remembers them in the motion's own bytes.
class Leaping final : public Locomotion {
  public:
    explicit Leaping(std::uint64_t seed, std::string name = "leaping", std::uint32_t version = 1)
        : name_(std::move(name)), version_(version) {
        const auto [one, two] = random_pair({.seed = seed});
        dash_ = 3.0 + 15.0 * one;
        pause_ = 5 + static_cast<std::int64_t>(60.0 * two);
    }
    std::string_view name() const override { return name_; }
    std::uint32_t version() const override { return version_; }
    BodyMotion advance(const MotionInput& in, BodyMotion motion) const override {
        auto memory = motion.game.as<Memory>();
        const bool dashes = in.intent.buttons.has(game_button(3)) || in.intent.buttons.has(Button::sprint);
        if (in.can_move && dashes && ++memory.count >= memory.ready) {
            memory.ready = memory.count + pause_;
            memory.charge += 0.37 * static_cast<double>(in.intent.game.words[0] % 16);
            motion.velocity = (dash_ + memory.charge) * direction_of({in.intent.yaw, 0.0}) +
                              Vector3{0, motion.airborne ? motion.velocity.y() : 0.2 * dash_, 0};
            motion.airborne = true;
            motion.teleported = memory.ready % 3 == 0;
        }
        advance_walking(in.world, in.body.movement, motion, desired_motion(in), in.span.end - in.span.begin);
        if (!motion.airborne && motion.velocity.squaredNorm() < 1e-6) {
            motion.velocity.setZero();
        }
        memory.charge = memory.charge > 4.0 ? 0.0 : memory.charge;
        motion.game.set(memory);
        return motion;
    }

  private:
    struct Memory {
        std::int64_t count = 0;
        std::int64_t ready = 0;
        double charge = 0.0;
    };
    std::string name_;
    std::uint32_t version_;
    double dash_ = 0.0;
    std::int64_t pause_ = 0;
};

/// Returns a random action of the bots' arsenal, about one of the first `bodies`.
inline GameAction random_action(Draw& draw, const Skirmish& fight, std::uint32_t bodies) {
    const auto below = [&draw](int count) {
        return static_cast<int>(draw.below(static_cast<std::size_t>(count)));
    };
    const auto body = [&] { return BodyId{static_cast<std::uint32_t>(below(static_cast<int>(bodies) + 2))}; };
    const auto vector = [&](double size) {
        return Vector3{draw(-size, size), draw(0, size), draw(-size, size)};
    };
    const Duration tick = tick_span(1, fight.settings().rate).begin.time_since_epoch();
    GameAction action{.at = fight.now() + Duration{below(static_cast<int>(tick.count()))},
                      .by = body(),
                      .tag = static_cast<std::uint32_t>(below(5))};
    switch (below(18)) {
    case 0:
        action.what = HitAction{.who = body(),
                                .source = body(),
                                .damage = draw(0, 60),
                                .type = DamageTypeId{0},
                                .region = RegionId{static_cast<std::uint32_t>(below(3))},
                                .reaction = static_cast<ReactionClass>(below(3)),
                                .condition = ConditionId{0},
                                .direction = vector(1),
                                .push = vector(3),
                                .melee = below(2) == 0};
        break;
    case 1:
        action.what = HealAction{.who = body(), .source = body(), .points = draw(0, 50)};
        break;
    case 2:
        action.what = BlastAction{.centre = vector(8), .source = body(), .power = draw(0, 0.5)};
        break;
    case 3:
        action.what = PushAction{.who = body(), .velocity = vector(6), .replaces = below(2) == 0};
        break;
    case 4:
        action.what = ConditionAction{.who = body(),
                                      .source = body(),
                                      .condition = ConditionId{below(2)},
                                      .strength = draw(0.5, 2),
                                      .ends = below(3) == 0};
        break;
    case 5:
        action.what = RagdollAction{body(), from_seconds(draw(0.05, 2)), below(2) == 0};
        break;
    case 6:
        action.what = StandUpAction{body()};
        break;
    case 7:
        action.what = LivesAction{body(), below(3) - 1};
        break;
    case 8:
        action.what = ScoreAction{body(), below(7) - 3};
        break;
    case 9:
        action.what = HazardAction{.pose = {vector(6), turned_to({draw(-3, 3), 0})},
                                   .team = TeamId{1},
                                   .source = body(),
                                   .carrier = below(3) == 0 ? body() : nobody};
        break;
    case 10:
        action.what = EndHazardAction{static_cast<std::uint32_t>(below(6))};
        break;
    case 11:
        action.what = PickupAction{.position = vector(6)};
        break;
    case 12:
        action.what = RemovePickupAction{static_cast<std::uint32_t>(below(6))};
        break;
    case 13:
        action.what = PlaceAction{body(), vector(8), draw(-3, 3)};
        break;
    case 14:
        action.what = TeamAction{body(), TeamId{static_cast<std::uint8_t>(below(2))}};
        break;
    case 15:
        action.what = EnterAction{.who = body(),
                                  .melee = MeleeId{0},
                                  .role = below(4) == 0 ? Role::prop : Role::combatant,
                                  .weapons = {WeaponId{1}, WeaponId{2}},
                                  .weapon_count = 2,
                                  .is_placed = below(2) == 0,
                                  .position = vector(8),
                                  .yaw = draw(-3, 3)};
        break;
    case 16:
        action.what = LeaveAction{below(4) == 0 ? body() : nobody};
        break;
    default:
        action.what = RulesAction{MatchId{0}};
        break;
    }
    return action;
}

/// A state beside a fight: it counts what it sees.
struct Tally final : CompanionState {
    std::array<std::uint64_t, 4> seen{};

    std::size_t size() const override { return sizeof seen; }
    void save(std::span<std::byte> to) const override { std::memcpy(to.data(), seen.data(), sizeof seen); }
    bool restore(std::span<const std::byte> from) override {
        std::memcpy(seen.data(), from.data(), from.size() == sizeof seen ? sizeof seen : 0);
        return from.size() == sizeof seen;
    }
    std::uint64_t hash() const override { return bytes_check(std::as_bytes(std::span{seen})); }
};

} // namespace avrek::trial
