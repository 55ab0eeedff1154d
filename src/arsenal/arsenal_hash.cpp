#include <avrek/arsenal/arsenal_hash.h>
#include <avrek/core/state_hash.h>

#include <concepts>
#include <string_view>
#include <type_traits>

namespace avrek {

namespace {

// Adds values one after another; every member of a spec; a new member must be added here.
class ArsenalHashing {
  public:
    std::uint64_t value() const { return hash_.value(); }

    template <class Value>
    requires std::integral<Value> || std::is_enum_v<Value>
    void add(Value value) { hash_.add(static_cast<std::uint64_t>(value)); }
    void add(double value) { hash_.add(value); }
    void add(Duration value) { hash_.add(static_cast<std::uint64_t>(value.count())); }
    void add(const Vector3& value) { hash_.add(value); }
    void add(const Look& value) { all(value.yaw, value.pitch); }
    void add(const Pose& pose) {
        all(pose.position, pose.rotation.x(), pose.rotation.y(), pose.rotation.z(), pose.rotation.w());
    }
    void add(const std::string& text) {
        hash_.add(std::uint64_t{text.size()});
        for (const char letter : text) {
            hash_.add(static_cast<std::uint64_t>(static_cast<unsigned char>(letter)));
        }
    }
    template <class Value>
    void add(const std::vector<Value>& values) {
        hash_.add(std::uint64_t{values.size()});
        for (const Value& value : values) {
            add(value);
        }
    }
    template <class Value>
    void add(const std::optional<Value>& value) {
        hash_.add(std::uint64_t{value.has_value()});
        if (value) {
            add(*value);
        }
    }
    template <class... Shapes>
    void add(const std::variant<Shapes...>& shape) {
        hash_.add(std::uint64_t{shape.index()});
        std::visit([this](const auto& one) { this->add(one); }, shape);
    }
    void add(const Sphere& shape) { all(shape.centre, shape.radius); }
    void add(const Capsule& shape) { all(shape.from, shape.to, shape.radius); }
    void add(const Cylinder& shape) { all(shape.from, shape.to, shape.radius); }
    void add(const Box& shape) { all(shape.pose, shape.half_extents); }
    void add(const HalfSpace& shape) { all(shape.normal, shape.offset); }
    void add(const CurvePoint& point) { all(point.x, point.y); }
    void add(const Curve& curve) { add(curve.points); }
    void add(const SpecRef& name) { all(name.id, name.index); }
    void add(const ConditionSet& set) { add(set.bits); }
    void add(ActSet acts) {
        for (std::size_t act = 0; act < act_count; ++act) {
            hash_.add(std::uint64_t{acts.contains(static_cast<Act>(act))});
        }
    }

    void add(const PickupSpec& spec) {
        all(spec.id, spec.radius, spec.on_request, spec.only_when_useful, spec.respawn_delay, spec.health,
            spec.ammo, spec.rounds, spec.weapon, spec.condition, spec.strength, spec.lives);
    }
    void add(const ConditionSpec& spec) {
        all(spec.id, spec.lasts, spec.period, spec.ticks_at_once, spec.amount, spec.type, spec.heals,
            spec.stacking, spec.max_count, spec.max_time, spec.damage_taken, spec.damage_dealt, spec.speed,
            spec.spread, spec.forbids, spec.grants_defence, spec.grants_points, spec.cancels, spec.prevents,
            spec.ends_when, spec.cancels_set, spec.prevents_set);
    }
    void add(const DamageTypeSpec& spec) { all(spec.id, spec.heals, spec.guardable); }
    void add(const DamageTypeFactor& spec) { all(spec.type, spec.factor); }
    void add(const AmmoSpec& spec) { all(spec.id, spec.carry_limit); }
    void add(const HeatSpec& spec) { all(spec.per_shot, spec.cooling_time, spec.delay, spec.unlocks_at); }
    void add(const CellSpec& spec) { all(spec.refill_time, spec.delay); }
    void add(const BounceSpec& spec) {
        all(spec.count, spec.restitution, spec.friction, spec.distance, spec.min_speed);
    }
    void add(const PierceSpec& spec) { all(spec.energy, spec.per_body); }
    void add(const Recovery& spec) { all(spec.delay, spec.left); }
    void add(const LinkSpec& spec) {
        all(spec.id, spec.latency, spec.jitter, spec.loss, spec.loss_run, spec.duplicated, spec.reordered,
            spec.up, spec.down);
    }
    void add(const AimSpec& spec) {
        all(spec.in, spec.out, spec.toggles, spec.field_of_view, spec.movement, spec.crosshair);
    }
    void add(const HandlingSpec& spec) {
        all(spec.raise, spec.stow, spec.sprint_out, spec.fires_sprinting, spec.fires_airborne);
    }
    void add(const EffectSpec& spec) {
        all(spec.type, spec.condition, spec.strength, spec.reaction, spec.heals, spec.guardable);
    }
    void add(const Arsenal& spec) {
        all(spec.weapons, spec.ammo, spec.bodies, spec.surfaces, spec.projectiles, spec.melee,
            spec.damage_types, spec.conditions, spec.hazards, spec.pickups, spec.matches, spec.shooters,
            spec.links);
    }
    void add(const ShooterSpec& spec) {
        all(spec.id, spec.reaction, spec.reaction_spread, spec.error, spec.min_error, spec.recovery,
            spec.tracking, spec.turn, spec.field, spec.sight, spec.control, spec.near, spec.burst, spec.pause,
            spec.memory, spec.takes_cover);
    }
    void add(const MovementSpec& spec) {
        all(spec.speed, spec.sprint, spec.crouching, spec.jump, spec.radius, spec.height, spec.step);
    }
    void add(const PostureSpec& spec) { all(spec.eye, spec.grip, spec.muzzle, spec.crouched); }
    void add(const Interruptions& spec) { all(spec.trigger, spec.swap, spec.sprint, spec.strike, spec.stun); }
    void add(const ReloadSpec& spec) {
        all(spec.style, spec.time, spec.empty_time, spec.commit, spec.start, spec.empty_start, spec.end,
            spec.keeps_rounds, spec.automatic, spec.cancelled_by);
    }
    void add(const RegionSpec& spec) { all(spec.name, spec.shapes, spec.joint); }
    void add(const JointSpec& spec) { all(spec.name, spec.rest); }
    void add(const RigSpec& spec) { all(spec.regions, spec.joints); }
    void add(const BodySpec& spec) {
        all(spec.id, spec.health, spec.rig, spec.defence, spec.resists, spec.immune, spec.immune_set,
            spec.guard, spec.light_reaction, spec.heavy_reaction, spec.movement, spec.posture);
    }
    void add(const BurstSpec& spec) { all(spec.shots, spec.gap, spec.cut_on_release); }
    void add(const ChargeSpec& spec) { all(spec.min, spec.full, spec.power, spec.fires_when_full); }
    void add(const SpinSpec& spec) { all(spec.up, spec.down, spec.rate, spec.fires_from); }
    void add(const BloomSpec& spec) { all(spec.per_shot, spec.max, spec.recovery); }
    void add(const SpreadSpec& spec) {
        all(spec.hip, spec.aimed, spec.crouching, spec.airborne, spec.moving, spec.speed_half_life,
            spec.first_shot_rest, spec.shape, spec.pellet_pattern, spec.pellet_jitter, spec.bloom);
    }
    void add(const WeaponSpec& spec) {
        all(spec.id, spec.modes, spec.rounds_per_minute, spec.press_buffer, spec.burst, spec.charge,
            spec.spin, spec.feed, spec.supply, spec.ammo, spec.ammo_kind, spec.magazine, spec.chamber,
            spec.reserve, spec.rounds_per_shot, spec.pellets, spec.heat, spec.cell, spec.reload, spec.spread,
            spec.recoil, spec.aim, spec.handling, spec.range, spec.damage, spec.falloff,
            spec.region_multipliers, spec.effect, spec.projectile, spec.spray, spec.bounce, spec.pierce,
            spec.tracer_speed);
    }
    void add(const SurfaceSpec& spec) {
        all(spec.id, spec.restitution, spec.friction, spec.grazing_angle, spec.resistance);
    }
    void add(const RecoilSpec& spec) {
        all(spec.pattern, spec.loop_from, spec.jitter, spec.aimed, spec.crouching, spec.recovery_share,
            spec.recovery, spec.reset_delay, spec.gun_kick);
    }
    void add(const HazardSpec& spec) {
        all(spec.id, spec.volume, spec.damage, spec.effect, spec.period, spec.lasts, spec.side, spec.layers);
    }
    void add(const DefenceLayerSpec& spec) {
        all(spec.name, spec.max, spec.start, spec.share, spec.wear, spec.carries_over, spec.passes,
            spec.delay, spec.refill, spec.decay, spec.takes_healing, spec.depth);
    }
    void add(const GuardSpec& spec) {
        all(spec.arc, spec.lets_through, spec.types, spec.stamina, spec.cost, spec.refill, spec.delay,
            spec.broken, spec.perfect, spec.perfect_staggers);
    }
    void add(const ReactionSpec& spec) {
        all(spec.lasts, spec.shows, spec.rise, spec.forbids, spec.push, spec.repeats, spec.window);
    }
    void add(const BlastSpec& spec) {
        all(spec.radius, spec.damage, spec.falloff, spec.team_share, spec.self_share, spec.push, spec.effect);
    }
    void add(const ProjectileSpec& spec) {
        all(spec.id, spec.speed, spec.inherit, spec.gravity, spec.drag, spec.radius, spec.lifetime, spec.fuse,
            spec.arming_distance, spec.self_hit_after, spec.proximity, spec.turn_rate, spec.sticks,
            spec.bounce, spec.pierce, spec.blast);
    }
    void add(const MeleeAttackSpec& spec) {
        all(spec.name, spec.windup, spec.active, spec.recovery, spec.damage, spec.push, spec.push_away,
            spec.grip, spec.reach, spec.radius, spec.thrust, spec.path, spec.effect);
    }
    void add(const MeleeSpec& spec) { all(spec.id, spec.attacks, spec.region_multipliers); }
    void add(const LivesSpec& spec) { all(spec.start, spec.min, spec.max); }
    void add(const RespawnSpec& spec) { all(spec.delay, spec.protection, spec.ends_on_fire); }
    void add(const AssistSpec& spec) { all(spec.min_damage, spec.within); }
    void add(const ScoreSpec& spec) { all(spec.kill, spec.assist, spec.death, spec.team_kill); }
    void add(const LagCompensationSpec& spec) { all(spec.max_rewind, spec.cover_grace, spec.trades); }
    void add(const MatchSpec& spec) {
        all(spec.id, spec.teams, spec.score_to_win, spec.last_one_wins, spec.time_limit, spec.friendly_fire,
            spec.team_share, spec.self_share, spec.lives, spec.respawn, spec.assist, spec.score,
            spec.lag_compensation, spec.corpses_stop_shots, spec.drops_weapon, spec.corpse_lifetime);
    }
    void add(const PatternPoint& spec) { all(spec.left, spec.up); }
    void add(const RegionMultiplier& spec) { all(spec.region, spec.multiplier); }

  private:
    template <class... Values>
    void all(const Values&... values) {
        (add(values), ...);
    }

    StateHash hash_{};
};

} // namespace

std::uint64_t hash_of(const Arsenal& arsenal) {
    ArsenalHashing hashing;
    hashing.add(arsenal);
    return hashing.value();
}

} // namespace avrek
