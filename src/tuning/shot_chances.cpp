#include "shot_chances.h"

#include <avrek/arsenal/recovery.h>
#include <avrek/core/elementary.h>
#include <avrek/core/random.h>
#include <avrek/tuning/kill_distribution.h>
#include <avrek/vitals/hits.h>

#include <algorithm>
#include <array>
#include <cmath>
#include <limits>

namespace avrek::detail {

namespace {

constexpr std::uint32_t no_blow = std::numeric_limits<std::uint32_t>::max();
constexpr double finest_share = 1.0 / 200.0; // share of the health: the resolution of fired maps
constexpr Duration finest_delay = std::chrono::milliseconds{4};

// Even phases, whatever the number of points.
double phase_of(std::size_t point) {
    constexpr double golden_share = 0.6180339887498949;
    const double phase = golden_share * static_cast<double>(point);
    return phase - std::floor(phase);
}

// Sixteen random bits as a number in (-1, 1).
double signed_share(std::uint32_t bits) {
    return (2.0 * static_cast<double>(bits) + 1.0) * 0x1p-16 - 1.0;
}

double amount_of(const VictimBlow& blow) {
    double sum = 0.0;
    for (const VictimHit& hit : blow) {
        sum += hit.damage.amount();
    }
    return sum;
}

bool does_something(const VictimBlow& blow) {
    return std::any_of(blow.begin(), blow.end(), [](const VictimHit& hit) {
        return hit.damage.amount() > 0.0 || hit.effect->condition.spec.has_value();
    });
}

} // namespace

ShotChances::ShotChances(const Engagement& engagement, const EngagementMaps& maps)
    : engagement_(engagement), maps_(maps), shots_(shots_of(engagement)) {
    if (engagement.weapon != nullptr && delivery_of(*engagement.weapon) != Delivery::spray) {
        pellets_ = static_cast<std::size_t>(engagement.weapon->pellets);
    }
    if (engagement.weapon != nullptr) {
        shots_frame_ = maps.shots->frame_from(maps.place.muzzle);
        sight_frame_ = maps.sight->frame_from(maps.place.eye);
    } else {
        shots_frame_ = maps.shots->frame_from(Vector3::Zero());
    }
    make_blows();
}

void ShotChances::begin(const AimBlock& points) {
    block_ = points;
    points_ = points.count;
    draws_ = aim_points(points);
    phases_.clear();
    for (const AimDraw& draw : draws_) {
        phases_.push_back(
            {sine(draw.sway_yaw), cosine(draw.sway_yaw), sine(draw.sway_pitch), cosine(draw.sway_pitch)});
    }
    looks_.assign(points_ / lanes, {});
    spots_.assign(points_, {});
    spotted_ = static_cast<std::size_t>(-1);
    jitter_.assign(points_, {});
    returning_.assign(points_, {});
    words_.assign(points_, {});
    kicked_ = 0;
}

void ShotChances::make_blows() {
    const RigSpec& rig = engagement_.target.body->rig;
    const WeaponSpec* weapon = engagement_.weapon;
    const ProjectileSpec* projectile =
        weapon != nullptr ? find(engagement_.arsenal->projectiles, weapon->projectile.id) : nullptr;
    const bool fired = projectile != nullptr;
    std::vector<double> powers;
    for (const PlannedShot& shot : shots_) {
        const auto known = std::find(powers.begin(), powers.end(), shot.power);
        power_of_.push_back(static_cast<std::uint32_t>(known - powers.begin()));
        if (known == powers.end()) {
            powers.push_back(shot.power);
        }
    }
    std::vector<Duration> delays;
    for (const double power : powers) {
        std::vector<std::uint32_t>& places = blow_of_.emplace_back();
        for (const MapOutcome& outcome : maps_.shots->outcomes()) {
            VictimBlow blow;
            for (const MapHit& hit : outcome.hits) {
                if (weapon == nullptr) {
                    const MeleeAttackSpec& attack = engagement_.melee->attacks[engagement_.attack];
                    blow.push_back(
                        {strike_damage(*engagement_.melee, attack, rig, hit.region), &attack.effect});
                } else if (hit.blast) {
                    blow.push_back({blast_damage(projectile->blast, {.distance = hit.flown,
                                                                     .exposure = hit.exposure,
                                                                     .power = power * hit.power}),
                                    &projectile->blast.effect});
                } else {
                    blow.push_back(
                        {hit_damage(*weapon, hit.flown, rig, hit.region, power, hit.power), &weapon->effect});
                }
            }
            if (!does_something(blow)) {
                places.push_back(no_blow);
                continue;
            }
            // Many shots of a grid hardly differ.
            std::uint32_t found = no_blow;
            const double grain = fired ? finest_share * engagement_.target.body->health : 0.0;
            for (std::uint32_t index = 0; index < blows_.size() && fired; ++index) {
                const Duration apart = delays[index] - outcome.delay;
                if (std::abs(amount_of(blows_[index]) - amount_of(blow)) <= grain &&
                    std::chrono::abs(apart) <= finest_delay / 2 && blows_[index].size() == blow.size() &&
                    blows_[index].front().effect == blow.front().effect) {
                    found = index;
                    break;
                }
            }
            if (found == no_blow) {
                found = static_cast<std::uint32_t>(blows_.size());
                blows_.push_back(blow);
                delays.push_back(outcome.delay);
            }
            places.push_back(found);
        }
    }
    for (std::uint32_t blow = 0; blow < blows_.size(); ++blow) {
        auto place = std::find_if(arrivals_.begin(), arrivals_.end(),
                                  [&](const Arrival& one) { return one.delay == delays[blow]; });
        if (place == arrivals_.end()) {
            arrivals_.push_back({delays[blow], {}});
            place = arrivals_.end() - 1;
        }
        place->blows.push_back(blow);
    }
    std::sort(arrivals_.begin(), arrivals_.end(),
              [](const Arrival& a, const Arrival& b) { return a.delay < b.delay; });
    shares_.resize(maps_.shots->outcomes().size());
}

// Takes the jitter of the kicks of all shots before this one into the views; see view_at_shots().
void ShotChances::kick(std::size_t shot) {
    const WeaponSpec* weapon = engagement_.weapon;
    if (weapon == nullptr || weapon->recoil.jitter == Look{}) {
        return;
    }
    const RecoilSpec& recoil = weapon->recoil;
    const double factor = (1.0 + (recoil.aimed - 1.0) * engagement_.posture.aim_blend) *
                          (engagement_.posture.crouching ? recoil.crouching : 1.0);
    const double stays = (1.0 - recoil.recovery_share) * (1.0 - engagement_.shooter.control);
    for (; kicked_ < shot; ++kicked_) {
        const Duration apart = shots_[kicked_ + 1].at - shots_[kicked_].at;
        const double left = share_left(recoil.recovery, apart);
        const double unsettled = kick_left(engagement_.shooter, apart);
        for (std::size_t point = 0; point < points_; ++point) {
            if (kicked_ % 4 == 0) {
                words_[point] = random_words({static_cast<std::uint64_t>(block_.first + point), 0,
                                              RandomPurpose::recoil, static_cast<std::uint32_t>(kicked_), 0});
            }
            const std::uint32_t word = words_[point][kicked_ % 4];
            const Look kicked{signed_share(word & 0xffffU) * recoil.jitter.yaw * factor,
                              signed_share(word >> 16U) * recoil.jitter.pitch * factor};
            Look& kept = jitter_[point];
            Look& back = returning_[point];
            kept = {(kept.yaw + stays * kicked.yaw) * unsettled,
                    (kept.pitch + stays * kicked.pitch) * unsettled};
            back = {(back.yaw + recoil.recovery_share * kicked.yaw) * left,
                    (back.pitch + recoil.recovery_share * kicked.pitch) * left};
        }
    }
}

// How far off its look without error each point's view is: aim_error(), all at once, and the kicks.
void ShotChances::find_views(std::size_t shot) {
    const Duration since = shots_[shot].at - Time{};
    const ShooterSpec& shooter = engagement_.shooter;
    const double across = engagement_.target_speed / std::max(0.1, maps_.place.target.position.z());
    const double left = shooter.error * error_left(shooter, since);
    const double sway = 3.0 * to_seconds(since);
    const double yaw_sine = shooter.min_error * sine(sway);
    const double yaw_cosine = shooter.min_error * cosine(sway);
    const double pitch_sine = shooter.min_error * sine(1.3 * sway);
    const double pitch_cosine = shooter.min_error * cosine(1.3 * sway);
    const double behind = 2.0 * to_seconds(shooter.tracking) * across;
    const Look& kicks = shots_[shot].view;
    for (std::size_t point = 0; point < points_; ++point) {
        const AimDraw& draw = draws_[point];
        const Phases& phases = phases_[point];
        const Look view{draw.first.yaw * left + yaw_sine * phases.yaw_cosine + yaw_cosine * phases.yaw_sine +
                            behind * draw.lag + kicks.yaw + jitter_[point].yaw + returning_[point].yaw,
                        draw.first.pitch * left + pitch_cosine * phases.pitch_cosine -
                            pitch_sine * phases.pitch_sine + kicks.pitch + jitter_[point].pitch +
                            returning_[point].pitch};
        looks_[point / lanes].yaw[point % lanes] = static_cast<float>(view.yaw);
        looks_[point / lanes].pitch[point % lanes] = static_cast<float>(view.pitch);
    }
}

// Where the middle of the shot's cone lies on the map, for each point of the integral.
void ShotChances::find_spots(std::size_t shot, const std::vector<bool>& wanted) {
    if (spotted_ == shot) {
        return;
    }
    spotted_ = shot;
    kick(shot);
    find_views(shot);
    const PostureSpec& posture = engagement_.shooter_body->posture;
    const double height = engagement_.posture.crouching ? posture.crouched : 1.0;
    const auto at_height = [&](const Vector3& point) {
        return narrow({point.x(), height * point.y(), point.z()});
    };
    const Look& look = maps_.place.look;
    const LookingShooter shooter{.yaw_sine = static_cast<float>(sine(look.yaw)),
                                 .yaw_cosine = static_cast<float>(cosine(look.yaw)),
                                 .pitch_sine = static_cast<float>(sine(look.pitch)),
                                 .pitch_cosine = static_cast<float>(cosine(look.pitch)),
                                 .eye = at_height(posture.eye),
                                 .grip = at_height(posture.grip),
                                 .muzzle = static_cast<float>(posture.muzzle)};
    for (std::size_t group = 0; group < looks_.size(); ++group) {
        const std::size_t first = group * lanes;
        bool any = false;
        for (std::size_t lane = 0; lane < lanes; ++lane) {
            any = any || wanted[first + lane];
        }
        if (!any) {
            continue;
        }
        LookLanes& looks = looks_[group];
        place_looks(shooter, looks);
        for (std::size_t lane = 0; lane < lanes; ++lane) {
            spots_[first + lane] = {
                {static_cast<double>(looks.right[lane]), static_cast<double>(looks.up[lane])},
                phase_of(block_.first + first + lane),
                looks.ahead[lane] != 0};
        }
    }
}

// Where eight looks lead on the map.
void ShotChances::place_looks(const LookingShooter& shooter, LookLanes& looks) const {
    const PointLanes& all = point_lanes();
    all.look(shooter, looks);
    if (engagement_.weapon == nullptr) {
        looks.eye = {}; // a map of swings is one of directions
        all.place_views(shots_frame_, looks);
        return;
    }
    all.place_views(sight_frame_, looks);
    for (std::size_t lane = 0; lane < lanes; ++lane) {
        const MapOutcome* seen = nullptr;
        if (looks.ahead[lane] != 0) {
            seen = maps_.sight->at(
                {static_cast<double>(looks.right[lane]), static_cast<double>(looks.up[lane])});
        }
        auto length =
            static_cast<float>(seen != nullptr ? seen->hits.front().flown : engagement_.weapon->range);
        if (seen == nullptr && looks.view[1][lane] < 0.0F) {
            length = std::min(length, looks.eye[1][lane] / -looks.view[1][lane]);
        }
        looks.length[lane] = length;
    }
    all.place_shots(shots_frame_, looks);
}

void ShotChances::chances_of(std::size_t shot, std::size_t pellet, const std::vector<bool>& wanted,
                             std::vector<float>& chances) {
    chances.assign(blows_.size() * points_, 0.0F);
    find_spots(shot, wanted);
    const std::vector<std::uint32_t>& blow_of = blow_of_[power_of_[shot]];
    const WeaponSpec* weapon = engagement_.weapon;
    const double radius = weapon != nullptr ? sine(shots_[shot].cone) / cosine(shots_[shot].cone) : 0.0;
    MapPoint aside;
    double jitter = radius;
    if (weapon != nullptr && !weapon->spread.pellet_pattern.empty()) {
        const PatternPoint& figure =
            weapon->spread.pellet_pattern[pellet % weapon->spread.pellet_pattern.size()];
        aside = {-figure.left * radius, figure.up * radius};
        jitter = weapon->spread.pellet_jitter * radius;
    }
    const bool centred = weapon != nullptr && weapon->spread.pellet_pattern.empty() &&
                         weapon->spread.shape == SpreadShape::centred && radius > 0.0;
    for (std::size_t point = 0; point < points_; ++point) {
        if (!wanted[point] || !spots_[point].ahead) {
            continue;
        }
        std::fill(shares_.begin(), shares_.end(), 0.0);
        const MapPoint centre{spots_[point].centre.right + aside.right, spots_[point].centre.up + aside.up};
        const double phase = spots_[point].phase;
        if (centred) {
            // The same chance for each distance from the middle: half of an even disc, and half of even discs
            // of every radius.
            constexpr std::array nodes{0.0694318442029737, 0.3300094782075719, 0.6699905217924281,
                                       0.9305681557970263};
            constexpr std::array weights{0.1739274225687269, 0.3260725774312731, 0.3260725774312731,
                                         0.1739274225687269};
            maps_.shots->add_shares(centre, radius, 0.5, phase, shares_);
            for (std::size_t node = 0; node < nodes.size(); ++node) {
                maps_.shots->add_shares(centre, nodes[node] * radius, 0.5 * weights[node], phase, shares_);
            }
        } else {
            maps_.shots->add_shares(centre, jitter, 1.0, phase, shares_);
        }
        for (std::size_t outcome = 0; outcome < shares_.size(); ++outcome) {
            if (shares_[outcome] > 0.0 && blow_of[outcome] != no_blow) {
                chances[blow_of[outcome] * points_ + point] += static_cast<float>(shares_[outcome]);
            }
        }
    }
}

} // namespace avrek::detail
