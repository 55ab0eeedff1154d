#include "report_data.h"

#include "arsenal_options.h"
#include <avrek/data/arsenal_digest.h>
#include <avrek/data/arsenal_values.h>
#include <avrek/tuning/breakpoints.h>
#include <avrek/tuning/duel.h>
#include <avrek/tuning/link_effects.h>
#include <avrek/tuning/sensitivity.h>

#include <fmt/format.h>
#include <nlohmann/json.hpp>

#include <algorithm>
#include <cmath>

namespace avrek::cli {

namespace {

using Json = nlohmann::ordered_json;

constexpr std::size_t max_curve_points = 80;
constexpr Metres link_distance = 15.0;

double rounded(double value, int decimals) {
    const double factor = std::pow(10.0, decimals);
    return std::round(value * factor) / factor;
}

Json ms_of(const std::optional<Duration>& time) {
    return time ? Json(rounded(to_milliseconds(*time), 1)) : Json(nullptr);
}

Json percent_of(double share) {
    return rounded(100.0 * share, 2);
}

Json curve_of(const KillDistribution& kills) {
    Json curve = Json::array();
    const std::size_t step = std::max<std::size_t>(1, kills.points.size() / max_curve_points);
    double before = -1.0;
    for (std::size_t index = 0; index < kills.points.size(); ++index) {
        const KillPoint& point = kills.points[index];
        const bool last = index + 1 == kills.points.size();
        if ((index % step == 0 && point.killed > before + 1e-4) || last) {
            curve.push_back({rounded(to_milliseconds(point.at - kills.pulled), 1), percent_of(point.killed)});
            before = point.killed;
        }
    }
    return curve;
}

Json kill_of(const KillDistribution& kills) {
    return {{"killed", percent_of(kills.killed())},    {"magazine", percent_of(kills.in_magazine)},
            {"p10", ms_of(time_of_share(kills, 0.1))}, {"p50", ms_of(time_of_share(kills, 0.5))},
            {"p90", ms_of(time_of_share(kills, 0.9))}, {"shots", rounded(mean_shots(kills), 2)},
            {"error", percent_of(kills.error)},        {"curve", curve_of(kills)}};
}

class Report {
  public:
    Report(const ReportAsked& asked, const std::function<void(double)>& goes_on)
        : asked_(asked), goes_on_(goes_on),
          base_(*parse_arsenal(asked.base).value), settings_{asked.settings} {}

    Json run() {
        Json data{{"title", "Weapons of the arsenal, measured"},
                  {"digest", fmt::format("{:016x}", digest_of(asked_.base).whole)},
                  {"command", asked_.command},
                  {"version", AVREK_VERSION},
                  {"body", asked_.body},
                  {"weapons", asked_.armaments},
                  {"shooters", asked_.shooters},
                  {"distances", asked_.distances}};
        double worst = 0.0;
        for (const std::string& shooter : asked_.shooters) {
            const DuelMatrix matrix = matrix_of(base_, shooter);
            for (const KillDistribution& kills : matrix.kills) {
                worst = std::max(worst, kills.error);
            }
            data["kills"][shooter] = kills_of(matrix);
            data["duels"][shooter] = duels_of(matrix);
            data["standings"][shooter] = standings_of(matrix);
            done_ += 0.3 / static_cast<double>(asked_.shooters.size());
            goes_on_(done_);
        }
        data["error"] = percent_of(worst);
        data["overview"] = overview();
        data["handling"] = handling();
        data["links"] = links();
        data["link_wins"] = link_wins();
        data["breakpoints"] = breakpoints();
        data["sensitivity"] = sensitivity();
        if (!asked_.overlays.empty()) {
            data["after"] = after();
        }
        return data;
    }

  private:
    DuelMatrix matrix_of(const Arsenal& arsenal, const std::string& shooter) const {
        return duel_matrix(arsenal, asked_.armaments, asked_.distances,
                           {{shooter, shooter}, asked_.body, {}, true, settings_});
    }

    Json kills_of(const DuelMatrix& matrix) const {
        Json all;
        const std::size_t count = matrix.names.size();
        for (std::size_t row = 0; row < count; ++row) {
            Json& list = all[matrix.names[row]] = Json::array();
            for (std::size_t distance = 0; distance < matrix.distances.size(); ++distance) {
                list.push_back(kill_of(matrix.kills[distance * count + row]));
            }
        }
        return all;
    }

    static Json duels_of(const DuelMatrix& matrix) {
        Json all = Json::array();
        for (std::size_t distance = 0; distance < matrix.distances.size(); ++distance) {
            Json& board = all.emplace_back(Json::array());
            for (std::size_t row = 0; row < matrix.names.size(); ++row) {
                Json& line = board.emplace_back(Json::array());
                for (std::size_t column = 0; column < matrix.names.size(); ++column) {
                    const DuelOutcome& one = matrix.at(distance, row, column);
                    line.push_back({percent_of(one.win_rate(0)), percent_of(one.wins[0]),
                                    percent_of(one.wins[1]), percent_of(one.trades), percent_of(one.neither),
                                    percent_of(one.health_left[0])});
                }
            }
        }
        return all;
    }

    static Json standings_of(const DuelMatrix& matrix) {
        Json all;
        const std::vector<DuelStanding> found = standings(matrix);
        for (std::size_t row = 0; row < found.size(); ++row) {
            Json rates = Json::array();
            for (const double rate : found[row].win_rates) {
                rates.push_back(percent_of(rate));
            }
            all[matrix.names[row]] = {
                {"rates", rates}, {"dominates", found[row].dominates}, {"best_at", found[row].best_at}};
        }
        return all;
    }

    Json overview() const {
        Json rows = Json::array();
        for (const std::string& name : asked_.armaments) {
            const WeaponSpec* weapon = find(base_.weapons, name);
            Json row{{"name", name}};
            if (weapon != nullptr) {
                row["delivery"] = std::string{to_string(delivery_of(*weapon))};
                row["damage"] = weapon->pellets > 1
                                    ? fmt::format("{:g} x {}", weapon->damage, weapon->pellets)
                                    : fmt::format("{:g}", weapon->damage);
                row["rate"] = weapon->rounds_per_minute;
                const bool filled = weapon->feed == AmmoFeed::magazine || weapon->feed == AmmoFeed::cell;
                row["magazine"] = filled ? Json(weapon->magazine / weapon->rounds_per_shot) : Json(nullptr);
                row["range"] = weapon->range;
            } else {
                row["delivery"] = "blade";
                const auto engagement =
                    avrek::engagement_of(base_, name, asked_.shooters.front(), asked_.body, 1.0);
                const MeleeAttackSpec& attack = engagement->melee->attacks[engagement->attack];
                row["damage"] = fmt::format("{:g}", attack.damage);
                row["rate"] = rounded(60.0 / to_seconds(length_of(attack)), 0);
                row["magazine"] = nullptr;
                row["range"] = attack.reach + attack.thrust;
            }
            rows.push_back(row);
        }
        return rows;
    }

    // Spread and recoil, shot by shot, as fast as the weapon fires.
    Json handling() const {
        Json all;
        for (const std::string& name : asked_.armaments) {
            const WeaponSpec* weapon = find(base_.weapons, name);
            if (weapon == nullptr) {
                continue;
            }
            Json& one = all[name];
            for (const double blend : {0.0, 1.0}) {
                Posture posture;
                posture.aim_blend = blend;
                WeaponSpec calm = *weapon;
                calm.recoil.jitter = {};
                const auto events = fire_by_plan(calm, {}, posture, std::chrono::seconds{20}, 30);
                const auto views = view_at_shots(calm, events, 0.0);
                Json cones = Json::array();
                Json path = Json::array();
                for (const WeaponEvent& event : events) {
                    if (event.kind == WeaponEventKind::shot) {
                        const Look& view = views[cones.size()];
                        path.push_back(
                            {rounded(-to_degrees(view.yaw), 3), rounded(to_degrees(view.pitch), 3)});
                        cones.push_back(rounded(to_degrees(event.spread), 3));
                    }
                }
                one[blend == 0.0 ? "hip" : "aimed"] = {{"cones", cones}, {"recoil", path}};
            }
        }
        return all;
    }

    NetworkSetup network() const {
        NetworkSetup setup;
        setup.lag_compensation =
            base_.matches.empty() ? LagCompensationSpec{} : base_.matches.front().lag_compensation;
        return setup;
    }

    Json links() const {
        Json rows = Json::array();
        const NetworkSetup setup = network();
        for (const LinkSpec& link : base_.links) {
            const LinkView view = view_over(link, setup);
            const CoverDelay cover = death_after_cover(view, view, setup);
            rows.push_back({{"name", link.id},
                            {"latency", to_milliseconds(link.latency)},
                            {"jitter", to_milliseconds(link.jitter)},
                            {"loss", percent_of(link.loss)},
                            {"view_delay", rounded(to_milliseconds(view.view_delay), 0)},
                            {"unrewound", rounded(to_milliseconds(view.unrewound), 0)},
                            {"news", rounded(to_milliseconds(view.news_delay), 0)},
                            {"corner", rounded(to_milliseconds(corner_advantage(view, view)), 0)},
                            {"cover_server", rounded(to_milliseconds(cover.on_server), 0)},
                            {"cover_victim", rounded(to_milliseconds(cover.felt), 0)}});
        }
        return rows;
    }

    // Both with the same weapon: what it costs to see the other later.
    Json link_wins() const {
        Json all;
        for (const std::string& name : asked_.armaments) {
            const auto engagement =
                avrek::engagement_of(base_, name, asked_.shooters.front(), asked_.body, link_distance);
            const KillDistribution kills = kill_distribution(*engagement, settings_);
            if (kills.killed() < 0.5) {
                continue;
            }
            Json& rates = all[name] = Json::array();
            for (int later = 0; later <= 300; later += 25) {
                const DuelSide side{&kills, {}, engagement->shooter.reaction_spread};
                DuelSide late = side;
                late.view_delay = std::chrono::milliseconds{later};
                rates.push_back({later, percent_of(duel(late, side).win_rate(0))});
            }
        }
        return all;
    }

    Json breakpoints() const {
        Json rows = Json::array();
        const BodySpec& body = *find(base_.bodies, asked_.body);
        const Target target{.body = &body, .conditions = base_.conditions};
        const RegionId aim = usual_aim(body);
        for (const std::string& name : asked_.armaments) {
            const WeaponSpec* weapon = find(base_.weapons, name);
            if (weapon == nullptr) {
                continue;
            }
            const ProjectileSpec* projectile = find(base_.projectiles, weapon->projectile.id);
            Json stretches = Json::array();
            for (const ShotsStretch& one : shots_over_distance(*weapon, target, aim, projectile)) {
                stretches.push_back({rounded(one.from, 1), rounded(one.to, 1), one.shots});
            }
            const Metres near = std::min(asked_.distances.front(), weapon->range);
            const DamageBreakpoints found = damage_breakpoints(*weapon, target, near, aim, projectile);
            const auto off = [&](const std::optional<double>& damage) {
                return damage && weapon->damage > 0.0
                           ? Json(rounded(100.0 * (*damage / weapon->damage - 1.0), 1))
                           : Json(nullptr);
            };
            rows.push_back({{"name", name},
                            {"damage", weapon->damage},
                            {"at", near},
                            {"shots", found.shots},
                            {"fewer_from", off(found.fewer_from)},
                            {"more_below", off(found.more_below)},
                            {"stretches", stretches}});
        }
        return rows;
    }

    Json sensitivity() {
        Json all;
        for (const std::string& name : asked_.armaments) {
            SensitivitySetup setup;
            setup.armament = name;
            setup.shooter = asked_.shooters.front();
            setup.body = asked_.body;
            setup.distance = find(base_.weapons, name) != nullptr ? link_distance : 1.0;
            if (const WeaponSpec* weapon = find(base_.weapons, name)) {
                setup.distance = std::min(setup.distance, 0.6 * weapon->range);
            }
            setup.settings.points = 32;
            Json rows = Json::array();
            for (const Sensitivity& one : sensitivities(asked_.base, setup)) {
                rows.push_back({{"path", one.number.path},
                                {"value", one.number.value},
                                {"time", rounded(one.of_time, 3)},
                                {"wins", rounded(one.of_wins, 3)},
                                {"acts", one.acts_from ? percent_of(*one.acts_from) : Json(nullptr)}});
            }
            all[name] = {{"at", setup.distance}, {"rows", rows}};
            done_ += 0.6 / static_cast<double>(asked_.armaments.size());
            goes_on_(done_);
        }
        return all;
    }

    Json after() const {
        std::vector<ArsenalText> texts = asked_.base;
        texts.insert(texts.end(), asked_.overlays.begin(), asked_.overlays.end());
        const Arsenal arsenal = *parse_arsenal(texts).value;
        Json changes = Json::array();
        for (const ArsenalDifference& one : differences(asked_.base, texts)) {
            changes.push_back({one.path, one.before, one.after});
        }
        const DuelMatrix matrix = matrix_of(arsenal, asked_.shooters.front());
        std::string files;
        for (const ArsenalText& overlay : asked_.overlays) {
            files += (files.empty() ? "" : ", ") + overlay.name;
        }
        return {{"files", files},
                {"changes", changes},
                {"kills", kills_of(matrix)},
                {"standings", standings_of(matrix)}};
    }

    const ReportAsked& asked_;
    const std::function<void(double)>& goes_on_;
    Arsenal base_;
    DistributionSettings settings_;
    double done_ = 0.0;
};

} // namespace

Json report_data(const ReportAsked& asked, const std::function<void(double)>& goes_on) {
    return Report{asked, goes_on}.run();
}

} // namespace avrek::cli
