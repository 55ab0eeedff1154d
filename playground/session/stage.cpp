#include "stage.h"

#include <algorithm>
#include <cassert>
#include <cmath>
#include <utility>

namespace avrek::playground {

namespace {

constexpr Tick between_kept = 16;            // ticks
constexpr std::size_t max_new_arsenals = 64; // before some are forgotten
constexpr double target_speed = 2.0;         // m/s
constexpr std::uint32_t first_target = 1001;

SkirmishSettings settings_of(const StageSettings& settings) {
    SkirmishSettings set{.rate = settings.rate};
    set.limits.combatants = std::max<std::size_t>(settings.crew, 1) + std::min(settings.targets, max_targets);
    set.history_frames = 8; // a picture is up to a tick behind
    return set;
}

} // namespace

BoutSetup bots_of(const Arsenal& arsenal, std::size_t crew) {
    BoutSetup setup{.crew = crew};
    for (std::size_t index = 0; index < arsenal.weapons.size(); ++index) {
        setup.weapons.push_back(static_cast<WeaponId>(index));
    }
    for (std::size_t index = 0; index < arsenal.shooters.size(); ++index) {
        setup.shooters.push_back(static_cast<ShooterId>(index));
    }
    if (!arsenal.melee.empty()) {
        setup.melee = MeleeId{};
    }
    return setup;
}

std::vector<BoutMember> members_of(const BoutSetup& setup, BodyId player) {
    std::vector<BoutMember> members = bout_members(setup);
    for (BoutMember& member : members) {
        if (member.id == player) {
            member.weapons = setup.weapons;
            member.weapons.resize(std::min<std::size_t>(member.weapons.size(), Loadout::slot_count));
        }
    }
    return members;
}

std::vector<Diagnostic> validate_stage(const GameData& data, const StageSettings& settings) {
    std::vector<Diagnostic> faults;
    const auto need = [&faults](bool is_there, const char* what) {
        if (!is_there) {
            faults.push_back(
                {.message = std::string{"the arsenal has no "} + what + ", and the playground needs one"});
        }
    };
    need(!data.arsenal.bodies.empty(), "body");
    need(!data.arsenal.weapons.empty(), "weapon");
    need(!data.arsenal.shooters.empty(), "shooter");
    need(!data.arsenal.matches.empty(), "rules of a match");
    if (settings.targets > max_targets) {
        faults.push_back({.message = "targets are " + std::to_string(settings.targets), .allowed = "0 to 8"});
    }
    if (settings.crew < 1 || settings.crew > 256) {
        faults.push_back({.message = "crew is " + std::to_string(settings.crew), .allowed = "1 to 256"});
    }
    if (faults.empty()) {
        faults = avrek::validate(data.arsenal, settings_of(settings), data.arena.plan);
    }
    return faults;
}

Stage::Stage(std::shared_ptr<const GameData> data, const StageSettings& settings)
    : data_(std::move(data)), setup_(bots_of(data_->arsenal, settings.crew)),
      members_(members_of(setup_, player())), targets_(std::min(settings.targets, max_targets)),
      max_kept_(static_cast<std::size_t>(to_seconds(settings.kept) * settings.rate.hertz) / between_kept +
                2) {
    fight_ = std::make_unique<Skirmish>(data_->arsenal, data_->arena.level, settings_of(settings),
                                        settings.seed, data_->arena.plan);
    bots_.emplace(*fight_);
    for (const BoutMember& member : members_) {
        [[maybe_unused]] const Outcome added = fight_->add(entrant_of(setup_, member));
        assert(added);
        if (member.id != player()) {
            bots_->add(member.id, member.shooter);
        }
    }
    counting_ = wanted_ = std::shared_ptr<const Arsenal>{data_, &data_->arsenal};
    play_tick(); // the player has a place after the first tick
    lay_rails();
    kept_.clear(); // the targets are there from here on
    played_.clear();
    keep_state();
    controls.look = fight_->find(player())->look;
}

const std::string& Stage::name_of(BodyId who) const {
    static const std::string none = "nobody";
    static const std::string target = "target";
    if (who != nobody && static_cast<std::uint32_t>(who) >= first_target) {
        return target;
    }
    const auto found = std::find_if(members_.begin(), members_.end(),
                                    [who](const BoutMember& member) { return member.id == who; });
    return found != members_.end() ? found->name : none;
}

void Stage::advance(const Played& played) {
    if (played.retuned != nullptr && fight_->retune(played.retuned)) {
        counting_ = played.retuned;
    }
    stand_targets_up();
    const std::span<const Intent> thought = bots_->think(*fight_);
    std::vector<Intent> intents{played.intent};
    intents.insert(intents.end(), thought.begin(), thought.end());
    // To and fro at an even speed: where a target is depends on the time alone.
    std::vector<BodyUpdate> updates;
    const double end = to_seconds(tick_span(fight_->tick(), fight_->settings().rate).end - Time{});
    for (const Rail& rail : rails_) {
        const Vector3 way = rail.to - rail.from;
        const double turns = end * target_speed / std::sqrt(way.squaredNorm());
        const double share = std::abs(std::remainder(turns, 2.0));
        const double sign = std::remainder(turns, 2.0) < 0.0 ? -1.0 : 1.0;
        updates.push_back({.who = rail.target,
                           .position = rail.from + way * share,
                           .yaw = pi,
                           .velocity = way.normalized() * (sign * target_speed)});
    }
    fight_->advance(intents, updates);
}

// One rail behind the other, across the look of the player's first place.
void Stage::lay_rails() {
    const Fighter& fighter = *fight_->find(player());
    const Pose place{fighter.motion.position, turned_to({fighter.look.yaw, 0.0})};
    for (std::size_t index = 0; index < targets_; ++index) {
        const double ahead = 8.0 + 6.0 * static_cast<double>(index);
        Rail rail{static_cast<BodyId>(first_target + index), to_world(place, Vector3{-3.0, 0.0, ahead}),
                  to_world(place, Vector3{3.0, 0.0, ahead})};
        for (Vector3* end : {&rail.from, &rail.to}) {
            const Ray down{*end + 2.0 * world_up(), -world_up(), 6.0};
            if (const auto ground = fight_->scene().closest_hit({down}, {.hits = {CollisionLayer::level}})) {
                *end = ground->point;
            }
        }
        rails_.push_back(rail);
    }
    stand_targets_up();
}

// Those that are not there come in; those that have fallen, at each even second.
void Stage::stand_targets_up() {
    for (const Rail& rail : rails_) {
        const Combatant* who = std::as_const(*fight_).match().find(rail.target);
        const bool is_time = fight_->tick() % (2 * fight_->settings().rate.hertz) == 0;
        if (who != nullptr && who->vitals.life == LifeState::dead && is_time) {
            fight_->remove(rail.target);
            who = nullptr;
        }
        if (who == nullptr) {
            (void)bool{fight_->add({.id = rail.target,
                                    .team = TeamId{1},
                                    .body = setup_.body,
                                    .role = Role::prop,
                                    .at = rail.from,
                                    .yaw = pi})};
        }
    }
}

// Drops what came after the fight's tick.
void Stage::forget_later() {
    const Tick now = fight_->tick();
    while (!kept_.empty() && kept_.back().tick > now) {
        kept_.pop_back();
    }
    if (!kept_.empty()) {
        played_.resize(static_cast<std::size_t>(now - kept_.front().tick));
    }
    newest_ = now;
}

// A slider that is dragged makes many arsenals: those that no kept tick needs are forgotten.
void Stage::forget_arsenals() {
    std::vector<std::shared_ptr<const Arsenal>> needed{wanted_};
    for (const Kept& kept : kept_) {
        needed.push_back(kept.counting);
    }
    for (const Played& played : played_) {
        if (played.retuned != nullptr) {
            needed.push_back(played.retuned);
        }
    }
    std::sort(needed.begin(), needed.end());
    needed.erase(std::unique(needed.begin(), needed.end()), needed.end());
    fight_->forget_arsenals(needed);
    new_arsenals_ = 0;
}

void Stage::keep_state() {
    kept_.push_back({fight_->tick(), counting_, std::vector<std::byte>(fight_->saved_size()), *bots_});
    (void)fight_->save(kept_.back().state);
}

void Stage::play_tick() {
    const Tick tick = fight_->tick();
    if (newest_ != tick) {
        forget_later();
    }
    if (tick % between_kept == 0) {
        keep_state();
        while (kept_.size() > max_kept_) {
            const auto ticks = static_cast<std::ptrdiff_t>(kept_[1].tick - kept_[0].tick);
            played_.erase(played_.begin(), played_.begin() + ticks);
            kept_.pop_front();
        }
        if (new_arsenals_ > max_new_arsenals) {
            forget_arsenals();
        }
    }
    played_.push_back({intent_of(controls, player()), wanted_ != counting_ ? wanted_ : nullptr});
    advance(played_.back());
    newest_ = fight_->tick();
    events_.insert(events_.end(), fight_->events().begin(), fight_->events().end());
    controls.slot = -1;
}

void Stage::play(Duration real) {
    events_.clear();
    if (paused_) {
        return;
    }
    owed_ += from_seconds(to_seconds(std::clamp(real, Duration{}, max_played_at_once)) * speed_);
    for (;;) {
        const Span span = tick_span(fight_->tick(), fight_->settings().rate);
        if (owed_ < span.end - span.begin) {
            return;
        }
        owed_ -= span.end - span.begin;
        play_tick();
    }
}

void Stage::pause(bool is_paused) {
    paused_ = is_paused;
    owed_ = {};
}

void Stage::set_speed(double speed) {
    speed_ = std::clamp(speed, 1.0 / 16.0, 4.0);
}

Tick Stage::tick_of(Time at) const {
    return tick_at(at, fight_->settings().rate);
}

Tick Stage::oldest() const {
    return kept_.front().tick;
}

bool Stage::seek(Tick tick) {
    events_.clear();
    if (tick < oldest() || tick > newest_) {
        return false;
    }
    auto from = std::prev(kept_.end());
    while (from->tick > tick) {
        --from;
    }
    if (!fight_->restore(from->state)) {
        return false;
    }
    bots_ = from->bots;
    counting_ = from->counting;
    const auto first = static_cast<std::size_t>(from->tick - oldest());
    for (std::size_t index = first; fight_->tick() < tick; ++index) {
        advance(played_[index]);
    }
    owed_ = {};
    return true;
}

void Stage::step() {
    pause(true);
    if (fight_->tick() < newest_) {
        seek(fight_->tick() + 1);
        return;
    }
    events_.clear();
    play_tick();
}

Time Stage::shown() const {
    const Span last = tick_span(fight_->tick() - 1, fight_->settings().rate);
    return last.begin + std::clamp(owed_, Duration{}, last.end - last.begin);
}

Outcome Stage::retune(std::shared_ptr<const Arsenal> arsenal) {
    if (const Outcome known = fight_->know(arsenal); !known) {
        return known;
    }
    wanted_ = std::move(arsenal);
    ++new_arsenals_;
    return Outcome::done();
}

} // namespace avrek::playground
