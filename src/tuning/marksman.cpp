#include "marksman.h"

#include <avrek/core/elementary.h>
#include <avrek/core/random.h>

#include <algorithm>
#include <cmath>

namespace avrek::detail {

namespace {

constexpr std::uint32_t shots_apart = 1024; // between the random numbers of two fights

} // namespace

Arsenal engagement_arsenal(std::span<const Engagement> engagements) {
    Arsenal arsenal = *engagements.front().arsenal;
    MatchSpec rules;
    rules.id = "engagement";
    rules.respawn.delay = std::chrono::hours{10};
    rules.drops_weapon = false;
    arsenal.matches = {rules};
    for (const Engagement& engagement : engagements) {
        arsenal.bodies.push_back(*engagement.shooter_body);
        arsenal.bodies.push_back(*engagement.target.body);
    }
    // Targets stand at rest throughout, as they do in what is computed.
    for (BodySpec& body : arsenal.bodies) {
        body.poses.clear();
        body.ready = ready_poses(body);
        const auto stays_up = [](ReactionSpec& reaction) {
            if (reaction.shows == BodyState::down) {
                reaction.shows = BodyState::stunned;
                reaction.lasts += reaction.rise;
            }
        };
        stays_up(body.light_reaction);
        stays_up(body.heavy_reaction);
        std::for_each(body.reactions.begin(), body.reactions.end(), stays_up);
    }
    return arsenal;
}

TickRate rate_for(std::span<const PlannedShot> shots) {
    Duration closest = std::chrono::milliseconds{100};
    for (std::size_t shot = 1; shot < shots.size(); ++shot) {
        closest = std::min(closest, shots[shot].at - shots[shot - 1].at);
    }
    const double hertz = 2.0 / std::max(1e-3, to_seconds(closest));
    return {static_cast<std::int32_t>(std::clamp(std::ceil(hertz * 1.02), 20.0, 500.0))};
}

Marksman::Marksman(const Engagement& engagement, BodyId id, const Vector3& feet, Radians yaw)
    : engagement_(engagement), id_(id), feet_(feet), yaw_(yaw), place_(place_of(engagement)),
      statements_(engagement.weapon != nullptr ? statements_of(*engagement.weapon, engagement.plan,
                                                               engagement.posture, engagement.limit)
                                               : std::vector<WeaponIntent>{}),
      shots_(shots_of(engagement)),
      across_(engagement.target_speed / std::max(0.1, place_.target.position.z())) {
    if (engagement.weapon != nullptr) {
        weapon_ = engagement.arsenal->weapon(engagement.weapon->id);
    }
}

Entrant Marksman::entrant(TeamId team, BodySpecId body) const {
    Entrant entrant{id_, team, body};
    if (weapon_) {
        entrant.weapons = {&*weapon_, 1};
    } else if (engagement_.melee != nullptr) {
        entrant.melee = engagement_.arsenal->melee_weapon(engagement_.melee->id);
    }
    entrant.at = feet_;
    entrant.yaw = yaw_;
    return entrant;
}

Intent Marksman::ready() const {
    Intent intent;
    intent.who = id_;
    intent.yaw = static_cast<float>(yaw_ + place_.look.yaw);
    intent.pitch = static_cast<float>(place_.look.pitch);
    intent.buttons.set(Button::aim, engagement_.posture.aim_blend > 0.5);
    intent.buttons.set(Button::crouch, engagement_.posture.crouching);
    return intent;
}

void Marksman::begin(Skirmish& skirmish, std::uint32_t fight, Time seen, std::optional<Duration> later) {
    const auto key = static_cast<std::uint32_t>(id_);
    skirmish.edit(id_)->shots = fight * shots_apart;
    for (LoadoutSlot& slot : skirmish.match().edit(id_)->loadout.slots) {
        slot.state.kick_seed = fight;
    }
    double uniform[6];
    for (std::uint32_t pair = 0; pair < 3; ++pair) {
        const auto drawn = random_pair({fight, key, RandomPurpose::bot, pair, 0});
        uniform[2 * pair] = drawn[0];
        uniform[2 * pair + 1] = drawn[1];
    }
    draw_ = aim_draw_of({uniform[0], uniform[1], uniform[2], uniform[3], uniform[4]});
    const double spread = (2.0 * uniform[5] - 1.0) * to_seconds(engagement_.shooter.reaction_spread);
    seen_ = seen + later.value_or(Duration{});
    pulls_ = seen_ + engagement_.shooter.reaction + (later ? from_seconds(spread) : Duration{});
    loose_ = {};
    intent_ = ready();
    next_ = 0;
}

Intent Marksman::think(const Skirmish& skirmish) {
    const Span span = tick_span(skirmish.tick(), skirmish.settings().rate);
    look(skirmish, span.end);
    press(span);
    return intent_;
}

// Looks where it wants to by the end of the tick, with the kicks so far pulled back as well as it can.
void Marksman::look(const Skirmish& skirmish, Time end) {
    const Fighter& fighter = *skirmish.find(id_);
    const Duration since = end - seen_;
    const Look off = aim_error(engagement_.shooter, draw_, since, across_);
    const double around = across_ * to_seconds(since);
    const double left = kick_left(engagement_.shooter, end - skirmish.now());
    const Look& base = place_.look;
    intent_.yaw =
        static_cast<float>(yaw_ + base.yaw + around + off.yaw + loose_.yaw * left - fighter.kick.yaw);
    intent_.pitch = static_cast<float>(base.pitch + off.pitch + loose_.pitch * left - fighter.kick.pitch);
}

// One statement, or one blow, takes effect in a tick; what comes too soon after it waits for the next.
void Marksman::press(Span span) {
    const bool strikes = engagement_.melee != nullptr;
    const std::size_t count = strikes ? shots_.size() : statements_.size();
    intent_.press_offset = 0;
    intent_.strike = -1;
    if (next_ >= count) {
        return;
    }
    const Duration after =
        strikes ? shots_[next_].at - Time{engagement_.shooter.reaction} : statements_[next_].at - Time{};
    const Time due = pulls_ + after;
    if (due >= span.end) {
        return;
    }
    intent_.press_offset = static_cast<std::uint32_t>(std::max<Duration::rep>(0, (due - span.begin).count()));
    if (strikes) {
        intent_.strike = static_cast<std::int8_t>(engagement_.attack);
    } else {
        intent_.buttons.set(Button::trigger, statements_[next_].trigger);
        intent_.buttons.set(Button::reload, statements_[next_].reload);
    }
    ++next_;
}

// It pulls a share of each kick back at once, and the rest as it takes aim again.
void Marksman::feel(std::span<const Event> events, Span span) {
    const double left = kick_left(engagement_.shooter, span.end - span.begin);
    loose_ = {loose_.yaw * left, loose_.pitch * left};
    for (const ShotEvent& shot : events_of<ShotEvent>(events)) {
        if (shot.who != id_ || engagement_.weapon == nullptr) {
            continue;
        }
        const double stays = (1.0 - engagement_.weapon->recoil.recovery_share) *
                             (1.0 - engagement_.shooter.control) *
                             kick_left(engagement_.shooter, span.end - shot.at);
        loose_ = {loose_.yaw + stays * shot.kick.yaw, loose_.pitch + stays * shot.kick.pitch};
    }
}

} // namespace avrek::detail
