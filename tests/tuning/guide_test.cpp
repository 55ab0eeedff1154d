#include "../rounds.h"
#include "../test_data.h"
#include <avrek/scene/raycast.h>
#include <avrek/tuning/kill_distribution.h>

#include <gtest/gtest.h>

#include <algorithm>
#include <cmath>
#include <random>

namespace avrek {
namespace {

// The shooter of docs/tuning.md, and nothing else: its formulas, drawn at random and not integrated.
class GuideShooter {
  public:
    GuideShooter(const Engagement& engagement, std::uint64_t seed) : one_(engagement), random_(seed) {
        const PostureSpec& posture = one_.shooter_body->posture;
        depth_ = posture.grip.z() + posture.muzzle + one_.distance;
        target_ = {{0.0, 0.0, depth_}, turned_to({pi, 0.0})};
        poses_ = rest_poses(one_.target.body->rig, target_);
        const Vector3 aim = to_world(target_, aim_point(one_.target.body->rig, one_.aim));
        for (int step = 0; step < 8; ++step) { // the line from the muzzle shall meet the middle of the region
            const Vector3 muzzle = muzzle_of(look_);
            const Look off = look_of(line_of(look_));
            const Look want = look_of(aim - muzzle);
            look_ = {look_.yaw + want.yaw - off.yaw, look_.pitch + want.pitch - off.pitch};
        }
    }

    // When the target dies, in seconds after it was seen; none up to the limit.
    std::optional<double> fight() {
        const ShooterSpec& shooter = one_.shooter;
        const WeaponSpec& weapon = *one_.weapon;
        const double first_yaw = 2.0 * triangular();
        const double first_pitch = triangular();
        const double sway_yaw = 2.0 * pi * unit();
        const double sway_pitch = 2.0 * pi * unit();
        const double lag = 2.0 * unit() - 1.0;
        const double pulled = to_seconds(shooter.reaction);
        const double blend = one_.distance > shooter.near ? 1.0 : 0.0;
        double health = one_.target.body->health;
        double bloom = 0.0;
        Look returning;
        Look kept;
        double before = -1e9;
        int shot = 0;
        for (const double at : shot_times()) {
            const double t = pulled + at;
            const double halves = t / to_seconds(shooter.recovery);
            const double left = 1.0 / (1.0 + halves + halves * halves);
            const double behind = 2.0 * lag * to_seconds(shooter.tracking) * one_.target_speed / depth_;
            const double gap = t - before;
            const double back = after(weapon.recoil.recovery, gap);
            const double settled = std::exp2(-gap / to_seconds(shooter.recovery));
            returning = {returning.yaw * back, returning.pitch * back};
            kept = {kept.yaw * settled, kept.pitch * settled};
            const Look view{
                look_.yaw + shooter.error * first_yaw * left +
                    shooter.min_error * std::sin(3.0 * t + sway_yaw) + behind + returning.yaw + kept.yaw,
                look_.pitch + shooter.error * first_pitch * left +
                    shooter.min_error * std::cos(3.9 * t + sway_pitch) + returning.pitch + kept.pitch};
            bloom *= after(weapon.spread.bloom.recovery, gap);
            const SpreadSpec& spread = weapon.spread;
            const double cone = spread.hip + blend * (spread.aimed.value_or(spread.hip) - spread.hip);
            const double rest = to_seconds(spread.first_shot_rest);
            health -= hit(view, rest > 0.0 && gap >= rest ? 0.0 : cone + bloom);
            if (health <= 1e-9) {
                return t;
            }
            bloom = std::min(bloom + at_curve(spread.bloom.per_shot, bloom), spread.bloom.max);
            const double factor = 1.0 + blend * (weapon.recoil.aimed - 1.0);
            Look kick = weapon.recoil.pattern.empty() ? Look{} : weapon.recoil.pattern[step_of(shot)];
            kick.yaw = factor * (kick.yaw + (2.0 * unit() - 1.0) * weapon.recoil.jitter.yaw);
            kick.pitch = factor * (kick.pitch + (2.0 * unit() - 1.0) * weapon.recoil.jitter.pitch);
            const double returns = weapon.recoil.recovery_share;
            const double stays = (1.0 - shooter.control) * (1.0 - returns);
            returning = {returning.yaw + returns * kick.yaw, returning.pitch + returns * kick.pitch};
            kept = {kept.yaw + stays * kick.yaw, kept.pitch + stays * kick.pitch};
            before = t;
            ++shot;
        }
        return std::nullopt;
    }

  private:
    double unit() { return std::uniform_real_distribution<double>{0.0, 1.0}(random_); }
    double triangular() { return unit() + unit() - 1.0; }

    static double at_curve(const Curve& curve, double x) {
        const auto& points = curve.points;
        if (points.empty() || x <= points.front().x) {
            return points.empty() ? 0.0 : points.front().y;
        }
        for (std::size_t index = 1; index < points.size(); ++index) {
            if (x < points[index].x) {
                const double share = (x - points[index - 1].x) / (points[index].x - points[index - 1].x);
                return points[index - 1].y + share * (points[index].y - points[index - 1].y);
            }
        }
        return points.back().y;
    }
    static double after(const Recovery& recovery, double gap) {
        const double since = gap - to_seconds(recovery.delay);
        return since <= 0.0 ? 1.0 : at_curve(recovery.left, since);
    }
    std::size_t step_of(int shot) const { // runs without a rest
        const auto size = static_cast<int>(one_.weapon->recoil.pattern.size());
        const int loop = one_.weapon->recoil.loop_from;
        return static_cast<std::size_t>(shot < size ? shot : loop + (shot - loop) % (size - loop));
    }

    // After the pull. Magazines are not emptied here.
    std::vector<double> shot_times() const {
        const WeaponSpec& weapon = *one_.weapon;
        const ShooterSpec& shooter = one_.shooter;
        const double interval = 60.0 / weapon.rounds_per_minute;
        const double limit = to_seconds(one_.limit);
        std::vector<double> times;
        double at = 0.0;
        while (at < limit) {
            const bool charges = weapon.modes.front() == TriggerMode::charge;
            const bool bursts =
                weapon.modes.front() == TriggerMode::automatic && one_.distance > shooter.near;
            const int count = bursts ? 1 + static_cast<int>(to_seconds(shooter.burst) / interval) : 1;
            for (int shot = 0; shot < count; ++shot) {
                at += charges ? to_seconds(weapon.charge.full) : 0.0;
                times.push_back(at);
                at += interval;
            }
            at = bursts ? std::max(at, times.back() + to_seconds(shooter.pause)) : at;
        }
        std::erase_if(times, [&](double time) { return time >= limit; });
        return times;
    }

    Vector3 turned(const Vector3& own, double yaw) const {
        return {std::cos(yaw) * own.x() + std::sin(yaw) * own.z(), own.y(),
                std::cos(yaw) * own.z() - std::sin(yaw) * own.x()};
    }
    Vector3 muzzle_of(const Look& look) const {
        const PostureSpec& posture = one_.shooter_body->posture;
        return turned(posture.grip, look.yaw) + posture.muzzle * direction_of(look);
    }
    // Region of the target that a ray hits, and how far away.
    std::optional<std::pair<std::size_t, double>> met(const Vector3& from, const Vector3& way) const {
        std::optional<std::pair<std::size_t, double>> nearest;
        const RigSpec& rig = one_.target.body->rig;
        for (const auto& [region, shape] : posed_shapes(rig, poses_)) {
            const auto entry = raycast({from, way, one_.weapon->range}, shape);
            if (entry && (!nearest || entry->distance < nearest->second)) {
                nearest = {to_index(region), entry->distance};
            }
        }
        return nearest;
    }
    Vector3 line_of(const Look& look) const {
        const Vector3 eye = turned(one_.shooter_body->posture.eye, look.yaw);
        const Vector3 view = direction_of(look);
        const auto seen = met(eye, view);
        double length = seen ? seen->second : one_.weapon->range;
        if (!seen && view.y() < 0.0) {
            length = std::min(length, eye.y() / -view.y());
        }
        return (eye + length * view - muzzle_of(look)).normalized();
    }
    double hit(const Look& view, double cone) {
        const Vector3 line = line_of(view);
        const double out = std::tan(cone) * std::sqrt(unit());
        const double around = 2.0 * pi * unit();
        const Vector3 left = world_up().cross(line).normalized();
        const Vector3 up = line.cross(left);
        const Vector3 way = (line + out * std::cos(around) * left + out * std::sin(around) * up).normalized();
        const auto found = met(muzzle_of(view), way);
        if (!found) {
            return 0.0;
        }
        double damage = one_.weapon->damage;
        damage *= one_.weapon->falloff.points.empty() ? 1.0 : at_curve(one_.weapon->falloff, found->second);
        for (const RegionMultiplier& region : one_.weapon->region_multipliers) {
            damage *=
                region.region == one_.target.body->rig.regions[found->first].name ? region.multiplier : 1.0;
        }
        return damage;
    }

    const Engagement& one_;
    std::mt19937_64 random_;
    double depth_ = 0.0;
    Pose target_{};
    std::vector<Pose> poses_{};
    Look look_{};
};

TEST(Guide, SaysAllThatAShooterIs) {
    struct Case {
        const char* weapon;
        const char* shooter;
        double distance;
        double limit; // no moment of a shot
        double target_speed;
    };
    for (const Case& one : {Case{"thorn-rifle", "gardener", 18.0, 2.95, 0.0},
                            Case{"needle-pistol", "apprentice", 9.0, 2.3, 0.0},
                            Case{"amber-rail", "old-hand", 26.0, 5.0, 6.0}}) {
        Engagement engagement = *engagement_of(shipped(), one.weapon, one.shooter, "crew", one.distance);
        engagement.limit = from_seconds(one.limit);
        engagement.target_speed = one.target_speed;
        engagement.shooter.tracking = from_seconds(0.06);
        engagement.shooter.control = 0.4;
        WeaponSpec weapon = *engagement.weapon; // that kicks, so that it matters
        for (Look& step : weapon.recoil.pattern) {
            step = {4.0 * step.yaw, 4.0 * step.pitch};
        }
        engagement.weapon = &weapon;
        const KillDistribution kills = kill_distribution(engagement, {1024});
        GuideShooter guide{engagement, 5};
        std::vector<double> deaths;
        const int fights = rounds(16'000);
        for (int fight = 0; fight < fights; ++fight) {
            if (const auto death = guide.fight()) {
                deaths.push_back(*death);
            }
        }
        double apart = 0.0;
        for (const KillPoint& point : kills.points) {
            const double at = to_seconds(point.at) + 1e-6;
            const auto dead =
                std::count_if(deaths.begin(), deaths.end(), [&](double death) { return death <= at; });
            apart = std::max(apart, std::abs(point.killed - static_cast<double>(dead) / fights));
        }
        // Bound of chance in one of a hundred comparisons (Kolmogorov, 1933), the stated error, and a few
        // thousandths of the maps.
        EXPECT_LE(apart, 1.63 / std::sqrt(fights) + kills.error + 0.005) << one.weapon;
        EXPECT_GT(kills.killed(), 0.3) << one.weapon;
    }
}

} // namespace
} // namespace avrek
