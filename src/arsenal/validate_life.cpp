#include "key_ranges.h"
#include <avrek/core/bounds.h>

#include <span>
#include <string>

namespace avrek {

namespace {

// A shorter period would take longer to simulate than to play.
constexpr Duration shortest_period = std::chrono::milliseconds{1};

void search_defence_layer(detail::Search& search, const DefenceLayerSpec& layer) {
    search.error(!detail::within(layer.start, 0.0, layer.max), "defence",
                 "has a layer that starts with more than it holds", "start from 0 to max");
    search.error(layer.refill > 0.0 && layer.decay > 0.0, "defence",
                 "has a layer that both comes back and goes", "a refill or a decay");
}

void search_guard(detail::Search& search, const GuardSpec& guard) {
    search.warning(guard.stamina > 0.0 && guard.broken <= Duration::zero(), "guard.broken",
                   "is 0, so a broken guard is whole again at once", "over 0 s");
}

void search_reaction(detail::Search& search, const ReactionSpec& reaction, const char* key) {
    search.warning(reaction.rise > Duration::zero() && reaction.shows != BodyState::down, key,
                   "has a time to rise, but does not lie down", "shows = \"down\", or no rise");
}

constexpr Metres deepest = 0.1; // that a pose may sink below the feet

std::string joint_names(const RigSpec& rig) {
    std::string names;
    for (const JointSpec& joint : rig.joints) {
        names += (names.empty() ? "" : ", ") + joint.name;
    }
    return names.empty() ? "the name of a joint; the body has none" : names;
}

// Poses that do not fit the rig.
void search_poses(detail::Search& search, const BodySpec& body) {
    const ReadyPoses ready = ready_poses(body);
    for (const PoseSpec& pose : body.poses) {
        const std::string key = "pose." + pose.name;
        std::size_t kind = 0;
        std::string kinds;
        for (std::size_t word = 0; word < pose_kind_count; ++word) {
            kinds += (word > 0 ? ", " : "") + std::string{to_string(static_cast<PoseKind>(word))};
            kind += pose.name != to_string(static_cast<PoseKind>(word)) && kind == word ? 1 : 0;
        }
        search.error(kind == pose_kind_count, key.c_str(), "is no pose that a body takes", kinds.c_str());
        for (const JointPoseSpec& joint : pose.joints) {
            search.error(!find_joint(body.rig, joint.name), (key + ".joint." + joint.name).c_str(),
                         "names no joint of the body", joint_names(body.rig).c_str());
        }
        if (kind == pose_kind_count) {
            continue;
        }
        search.error(kind == static_cast<std::size_t>(PoseKind::aiming) &&
                         (pose.shift != Vector3::Zero() || pose.turn.w() != 1.0),
                     key.c_str(), "moves the whole body, but it is laid over another pose", "joints alone");
        const std::span poses = std::span{ready.poses}.subspan(kind * ready.joints, ready.joints);
        for (const PosedShape& posed : posed_shapes(body.rig, poses)) {
            search.warning(
                bounds_of(posed.shape).low.y() < -deepest, key.c_str(),
                ("sinks region '" + region_of(body.rig, posed.region).name + "' below the feet").c_str(),
                "at most 0.1 m below them");
        }
    }
}

} // namespace

std::vector<SpecFault> validate(const BodySpec& body) {
    detail::Search search;
    detail::search_ranges(search, body);
    for (const DefenceLayerSpec& layer : body.defence) {
        search_defence_layer(search, layer);
    }
    if (body.guard) {
        search_guard(search, *body.guard);
    }
    search_reaction(search, body.light_reaction, "light_reaction");
    search_reaction(search, body.heavy_reaction, "heavy_reaction");
    for (const ReactionSpec& reaction : body.reactions) {
        search_reaction(search, reaction, ("reaction." + reaction.name).c_str());
        search.error(reaction.name == "none" || reaction.name == "light" || reaction.name == "heavy",
                     "reaction", ("has '" + reaction.name + "', which is a word of its own").c_str(),
                     "another name");
    }
    search_poses(search, body);
    for (const RegionSpec& region : body.rig.regions) {
        for (std::size_t shape = 0; shape < region.shapes.size(); ++shape) {
            search.error(joint_of(region, shape) > body.rig.joints.size(), "region",
                         ("'" + region.name + "' moves with a joint that the rig does not have").c_str(),
                         "0 for the body itself, or one of its joints, counted from 1");
        }
    }
    return std::move(search.found);
}

std::vector<SpecFault> validate(const ConditionSpec& condition) {
    detail::Search search;
    detail::search_ranges(search, condition);
    search.error(condition.period != Duration::zero() && condition.period < shortest_period, "period",
                 "is shorter than a millisecond", "0, or at least 0.001 s");
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
    detail::Search search;
    detail::search_ranges(search, hazard);
    search.error(hazard.period < shortest_period, "period", "is shorter than a millisecond",
                 "at least 0.001 s");
    search.error(hazard.layers.bits() == 0, "layers", "is empty, so it touches nothing", "at least one");
    search.warning(hazard.damage == 0.0 && hazard.effect.condition.id.empty() &&
                       (hazard.effect.reaction.id.empty() || hazard.effect.reaction.id == "none"),
                   "damage", "is 0, and it has no effect: it does nothing", "damage, or an effect.condition");
    return std::move(search.found);
}

std::vector<SpecFault> validate(const PickupSpec& pickup) {
    detail::Search search;
    detail::search_ranges(search, pickup);
    search.error(pickup.rounds > 0 && pickup.ammo.id.empty(), "rounds", "are of no kind of ammunition",
                 "0, or an ammo");
    search.warning(pickup.health == 0.0 && pickup.rounds == 0 && pickup.lives == 0 &&
                       pickup.weapon.id.empty() && pickup.condition.id.empty(),
                   "health", "is 0, and there is nothing else in it", "something to take");
    return std::move(search.found);
}

std::vector<SpecFault> validate(const MatchSpec& match) {
    detail::Search search;
    detail::search_ranges(search, match);
    search.error(match.lives.max < match.lives.min, "lives.max", "is less than lives.min",
                 "at least lives.min");
    search.error(match.lives.start >= 0 && match.lives.max >= match.lives.min &&
                     !detail::within(match.lives.start, match.lives.min, match.lives.max),
                 "lives.start", "is not between lives.min and lives.max", "lives.min to lives.max");
    const bool counted = match.lives.start >= 0;
    bool ends = counted;
    for (const SideSpec& side : match.sides) {
        ends |= side.lives >= 0 || side.respawns >= 0;
        const std::string key = "side." + side.name;
        search.error(side.lives >= 0 && !detail::within(side.lives, match.lives.min, match.lives.max),
                     (key + ".lives").c_str(), "is not between lives.min and lives.max",
                     "lives.min to lives.max");
        search.error(side_of(match, TeamId{static_cast<std::uint8_t>(side.team)}) != &side && match.teams,
                     (key + ".team").c_str(), "is that of another side", "another team for each side");
    }
    search.warning(!match.sides.empty() && !match.teams, "side", "does nothing where teams do not count",
                   "teams = true");
    search.warning(match.last_one_wins && !ends, "last_one_wins", "never happens when lives are not counted",
                   "lives.start");
    search.warning(counted && match.lives.min > 0, "lives.min", "is over 0, so nobody is ever out of lives",
                   "0");
    return std::move(search.found);
}

} // namespace avrek
