#include "search.h"

namespace avrek {

namespace {

// A shorter period would take longer to simulate than to play.
constexpr Duration shortest_period = std::chrono::milliseconds{1};

void search_defence_layer(Search& search, const DefenceLayerSpec& layer) {
    search.error(!positive(layer.max), "defence", "has a layer without room for points", "max over 0");
    search.error(!within(layer.start, 0.0, layer.max), "defence",
                 "has a layer that starts with more than it holds", "start from 0 to max");
    search.error(!within(layer.share, 0.0, 1.0), "defence", "has a layer that takes no share of damage",
                 "share from 0 to 1");
    search.error(!within(layer.wear, 0.0, 1e6), "defence", "has a layer with no wear", "wear at least 0");
    search.error(!within(layer.refill, 0.0, 1e9) || !within(layer.decay, 0.0, 1e9), "defence",
                 "has a layer with a rate that is none", "refill and decay at least 0");
    search.error(layer.refill > 0.0 && layer.decay > 0.0, "defence",
                 "has a layer that both comes back and goes", "a refill or a decay");
    search.error(layer.delay < Duration::zero(), "defence", "has a layer with a delay under 0",
                 "at least 0 s");
}

void search_guard(Search& search, const GuardSpec& guard) {
    search.error(!within(guard.arc, 1e-9, 2.0 * pi + 1e-9), "guard.arc", "is no arc",
                 "over 0 to 360 degrees");
    search.error(!within(guard.lets_through, 0.0, 1.0), "guard.lets_through", "is no share", "0 to 1");
    search.error(std::any_of(guard.types.begin(), guard.types.end(),
                             [](const DamageTypeFactor& kind) { return !within(kind.factor, 0.0, 1.0); }),
                 "guard.types", "has a share that is none", "0 to 1");
    search.error(!within(guard.stamina, 0.0, 1e9), "guard.stamina", "is no stamina", "at least 0");
    search.error(!within(guard.cost, 0.0, 1e6), "guard.cost", "is no cost", "at least 0");
    search.error(!within(guard.refill, 0.0, 1e9), "guard.refill", "is no rate", "at least 0");
    search.error(guard.delay < Duration::zero() || guard.broken < Duration::zero() ||
                     guard.perfect < Duration::zero(),
                 "guard.delay", "is less than 0, or broken or perfect is", "at least 0 s");
    search.warning(guard.stamina > 0.0 && guard.broken <= Duration::zero(), "guard.broken",
                   "is 0, so a broken guard is whole again at once", "over 0 s");
}

void search_reaction(Search& search, const ReactionSpec& reaction, const char* key) {
    search.error(reaction.lasts < Duration::zero() || reaction.rise < Duration::zero() ||
                     reaction.window < Duration::zero(),
                 key, "has a time under 0", "at least 0 s");
    search.error(reaction.shows != BodyState::staggered && reaction.shows != BodyState::stunned &&
                     reaction.shows != BodyState::down,
                 key, "shows no reaction", "staggered, stunned or down");
    search.error(!within(reaction.push, 0.0, 1e4), key, "has a push that is no speed", "0 to 10000 m/s");
    search.error(!is_sound(reaction.repeats, 0.0, 1.0), key, "has repeats that are not shares over counts",
                 "x rising from 0, y from 0 to 1");
    search.warning(reaction.rise > Duration::zero() && reaction.shows != BodyState::down, key,
                   "has a time to rise, but does not lie down", "shows = \"down\", or no rise");
}

} // namespace

void search_effect(Search& search, const EffectSpec& effect) {
    search.error(!positive(effect.strength), "effect.strength", "is no strength", "over 0");
}

std::vector<SpecFault> validate(const BodySpec& body) {
    Search search;
    search.error(!positive(body.health), "health", "is no health", "over 0");
    search.error(body.defence.size() > max_defence_layers, "defence", "are too many", "at most 4");
    for (const DefenceLayerSpec& layer : body.defence) {
        search_defence_layer(search, layer);
    }
    search.error(std::any_of(body.resists.begin(), body.resists.end(),
                             [](const DamageTypeFactor& kind) { return !within(kind.factor, 0.0, 1e6); }),
                 "resists", "has a factor that is none", "at least 0");
    if (body.guard) {
        search_guard(search, *body.guard);
    }
    search_reaction(search, body.light_reaction, "light_reaction");
    search_reaction(search, body.heavy_reaction, "heavy_reaction");
    return std::move(search.found);
}

std::vector<SpecFault> validate(const ConditionSpec& condition) {
    Search search;
    search.error(condition.lasts < Duration::zero(), "lasts", "is less than 0", "at least 0 s");
    search.error(condition.period != Duration::zero() && condition.period < shortest_period, "period",
                 "is shorter than a millisecond", "0, or at least 0.001 s");
    search.error(!within(condition.amount, 0.0, 1e9), "amount", "is no amount", "at least 0 health");
    search.error(condition.max_count < 1, "max_count", "is no number of times", "at least 1");
    search.error(condition.max_time <= Duration::zero(), "max_time", "is no time", "over 0 s");
    for (const auto& [key, factor] : {std::pair{"damage_taken", condition.damage_taken},
                                      {"damage_dealt", condition.damage_dealt},
                                      {"speed", condition.speed},
                                      {"spread", condition.spread}}) {
        search.error(!within(factor, 0.0, 1e6), key, "is no factor", "at least 0");
    }
    search.error(!within(condition.grants_points, 0.0, 1e9), "grants.points", "are no points", "at least 0");
    const bool instant = is_instant(condition);
    search.warning(instant && condition.period > Duration::zero(), "period",
                   "means nothing for an instant condition", "0 s, or lasts over 0");
    search.warning(!instant && condition.amount > 0.0 && condition.period == Duration::zero(), "amount",
                   "never comes, without a period", "a period over 0 s, or lasts = 0");
    search.warning(!instant && condition.lasts != lasting && condition.period > condition.lasts, "period",
                   "is longer than the condition lasts, so it never ticks", "at most lasts");
    search.warning(condition.max_count > 1 && condition.stacking != Stacking::count, "max_count",
                   "counts only with stacking count", "1, or stacking = \"count\"");
    const bool changes = condition.damage_taken != 1.0 || condition.damage_dealt != 1.0 ||
                         condition.speed != 1.0 || condition.spread != 1.0 || !condition.forbids.is_empty();
    search.warning(instant && changes, "lasts", "is 0, so its changes end at once", "over 0 s");
    return std::move(search.found);
}

std::vector<SpecFault> validate(const HazardSpec& hazard) {
    Search search;
    search_effect(search, hazard.effect);
    search.error(!within(hazard.damage, 0.0, 1e9), "damage", "is no damage", "at least 0 health");
    search.error(hazard.period < shortest_period, "period", "is shorter than a millisecond",
                 "at least 0.001 s");
    search.error(hazard.lasts <= Duration::zero(), "lasts", "is no time", "over 0 s");
    search.error(hazard.layers.bits() == 0, "layers", "is empty, so it touches nothing", "at least one");
    search.warning(hazard.damage == 0.0 && hazard.effect.condition.id.empty() &&
                       hazard.effect.reaction == ReactionClass::none,
                   "damage", "is 0, and it has no effect: it does nothing", "damage, or an effect.condition");
    return std::move(search.found);
}

std::vector<SpecFault> validate(const PickupSpec& pickup) {
    Search search;
    search.error(!positive(pickup.radius), "radius", "is no radius", "over 0 m");
    search.error(pickup.respawn_delay <= Duration::zero(), "respawn_delay", "is no time", "over 0 s");
    search.error(!within(pickup.health, 0.0, 1e9), "health", "is no health", "at least 0");
    search.error(pickup.rounds < 0, "rounds", "is no number", "at least 0");
    search.error(pickup.lives < 0, "lives", "is no number", "at least 0");
    search.error(!positive(pickup.strength), "strength", "is no strength", "over 0");
    search.error(pickup.rounds > 0 && pickup.ammo.id.empty(), "rounds", "are of no kind of ammunition",
                 "0, or an ammo");
    search.warning(pickup.health == 0.0 && pickup.rounds == 0 && pickup.lives == 0 &&
                       pickup.weapon.id.empty() && pickup.condition.id.empty(),
                   "health", "is 0, and there is nothing else in it", "something to take");
    return std::move(search.found);
}

std::vector<SpecFault> validate(const MatchSpec& match) {
    Search search;
    search.error(match.time_limit <= Duration::zero(), "time_limit", "is no time", "over 0 s");
    search.error(!within(match.team_share, 0.0, 1.0), "team_share", "is no share", "0 to 1");
    search.error(!within(match.self_share, 0.0, 1.0), "self_share", "is no share", "0 to 1");
    search.error(match.lives.min < 0 || match.lives.max < match.lives.min, "lives.max",
                 "is less than lives.min", "at least lives.min");
    search.error(match.lives.start >= 0 && match.lives.max >= match.lives.min &&
                     !within(match.lives.start, match.lives.min, match.lives.max),
                 "lives.start", "is not between lives.min and lives.max", "lives.min to lives.max");
    search.error(match.respawn.delay < Duration::zero() || match.respawn.protection < Duration::zero(),
                 "respawn.delay", "is less than 0, or the protection is", "at least 0 s");
    search.error(!positive(match.assist.min_damage), "assist.min_damage", "is no damage", "over 0");
    search.error(match.assist.within < Duration::zero(), "assist.within", "is less than 0", "at least 0 s");
    search.error(match.corpse_lifetime < Duration::zero(), "corpse_lifetime", "is less than 0",
                 "at least 0 s");
    search.error(match.score_to_win < 0, "score_to_win", "is no score", "at least 0");
    const bool counted = match.lives.start >= 0;
    search.warning(match.last_one_wins && !counted, "last_one_wins",
                   "never happens when lives are not counted", "lives.start");
    search.warning(counted && match.lives.min > 0, "lives.min", "is over 0, so nobody is ever out of lives",
                   "0");
    return std::move(search.found);
}

} // namespace avrek
