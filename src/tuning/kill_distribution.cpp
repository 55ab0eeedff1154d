#include "shared_maps.h"
#include <avrek/tuning/kill_distribution.h>

#include <algorithm>
#include <bit>
#include <cassert>
#include <cmath>
#include <memory>
#include <tuple>
#include <unordered_map>

namespace avrek {

namespace {

constexpr double nobody_left = 1e-4;      // of all: what becomes of these is not looked at any more
constexpr double hardly_left = 1e-5;      // of one point of the integral
constexpr std::uint32_t most_pending = 5; // shots under way at the same time that are told apart

// Sums in lanes, which compilers make wide.
double sum_of(const float* values, std::size_t count) {
    constexpr std::size_t lanes = 8;
    float sums[lanes]{};
    std::size_t index = 0;
    for (; index + lanes <= count; index += lanes) {
        for (std::size_t lane = 0; lane < lanes; ++lane) {
            sums[lane] += values[index + lane];
        }
    }
    double sum = 0.0;
    for (const float lane : sums) {
        sum += static_cast<double>(lane);
    }
    for (; index < count; ++index) {
        sum += static_cast<double>(values[index]);
    }
    return sum;
}

void add_product(std::vector<float>& to, const float* one, const float* other) {
    for (std::size_t index = 0; index < to.size(); ++index) {
        to[index] += one[index] * other[index];
    }
}

// What arrives of a shot at one moment.
struct Due {
    Time at{};
    std::size_t shot = 0;
    std::size_t arrival = 0;
};

// A state of the target, with the chance of it for each point of the integral.
struct Cell {
    std::uint32_t state = 0;
    std::uint32_t landed = 0; // bit n: of the pending shot n something has come
    std::vector<float> chances{};
};

using Cells = std::vector<Cell>;

struct Died {
    Time at{};
    std::size_t shot = 0;
    double halves[2]{};
};

class Fight {
  public:
    Fight(const Engagement& engagement, const EngagementMaps& maps, std::size_t points)
        : engagement_(engagement), points_(points), chances_(engagement, maps, points),
          victim_(engagement.target, chances_.blows()),
          limit_(Time{engagement.shooter.reaction} + engagement.limit) {
        const auto& shots = chances_.shots();
        for (std::size_t shot = 0; shot < shots.size(); ++shot) {
            for (std::size_t arrival = 0; arrival < chances_.arrivals().size(); ++arrival) {
                const Time at = shots[shot].at + chances_.arrivals()[arrival].delay;
                if (at < limit_) {
                    dues_.push_back({at, shot, arrival});
                }
            }
        }
        std::stable_sort(dues_.begin(), dues_.end(), [](const Due& a, const Due& b) { return a.at < b.at; });
        of_shots_.resize(shots.size());
        all_wanted_.assign(points, true);
    }

    KillDistribution run() {
        KillDistribution kills;
        const auto& shots = chances_.shots();
        kills.pulled = engagement_.shooter.reaction;
        kills.first_shot = shots.empty() ? kills.pulled : shots.front().at - Time{};
        if (engagement_.melee != nullptr) {
            const MeleeAttackSpec& attack = engagement_.melee->attacks[engagement_.attack];
            kills.first_shot += attack.windup + attack.active / 2;
        }
        Cells cells{{0, 0, std::vector<float>(points_, 1.0F)}};
        std::vector<Died> died;
        struct Moment {
            Time at;
            double health;
            double hit;
        };
        std::vector<Moment> moments;
        std::vector<bool> wanted = all_wanted_;
        for (const Due& due : dues_) {
            step(cells, due, wanted, died);
            if (due.arrival + 1 == chances_.arrivals().size()) {
                of_shots_[due.shot] = {}; // of long fights there would be too many
            }
            Moment moment{due.at, 0.0, 1.0};
            std::vector<float> alive(points_, 0.0F);
            for (const Cell& cell : cells) {
                for (std::size_t point = 0; point < points_; ++point) {
                    alive[point] += cell.chances[point];
                }
                const double sum = sum_of(cell.chances.data(), points_) / static_cast<double>(points_);
                moment.health += sum * victim_.health_share(cell.state);
                moment.hit -= victim_.is_hurt(cell.state) ? 0.0 : sum;
            }
            moments.push_back(moment);
            const double left = sum_of(alive.data(), points_) / static_cast<double>(points_);
            for (std::size_t point = 0; point < points_; ++point) {
                wanted[point] = static_cast<double>(alive[point]) > hardly_left;
            }
            if (left < nobody_left) {
                break;
            }
        }
        pass(cells, limit_, chances_.shots().size(), died);
        tell(kills, died);
        kills.points = with_moments(std::move(kills.points), moments);
        return kills;
    }

    std::vector<KillPoint> from_first_hit() {
        Cells unhurt{{0, 0, std::vector<float>(points_, 1.0F)}};
        std::vector<std::pair<Duration, double>> felt;
        std::vector<bool> wanted = all_wanted_;
        for (std::size_t first = 0; first < dues_.size(); ++first) {
            std::vector<Died> died;
            step(unhurt, dues_[first], wanted, died);
            Cells hurt;
            Cells still;
            double left = 0.0;
            for (Cell& cell : unhurt) {
                if (victim_.is_hurt(cell.state)) {
                    hurt.push_back(std::move(cell));
                } else {
                    for (const float chance : cell.chances) {
                        left = std::max(left, static_cast<double>(chance));
                    }
                    still.push_back(std::move(cell));
                }
            }
            unhurt = std::move(still);
            const Time known = dues_[first].at;
            for (std::size_t next = first + 1; next < dues_.size() && !hurt.empty(); ++next) {
                step(hurt, dues_[next], all_wanted_, died);
                drop_empty(hurt);
            }
            pass(hurt, limit_, chances_.shots().size(), died);
            for (const Died& one : died) {
                felt.emplace_back(std::max(Duration{}, one.at - known), one.halves[0] + one.halves[1]);
            }
            if (left < 1e-4) {
                break;
            }
        }
        std::sort(felt.begin(), felt.end());
        std::vector<KillPoint> points;
        double sum = 0.0;
        for (const auto& [at, mass] : felt) {
            sum += mass / static_cast<double>(points_);
            if (!points.empty() && points.back().at == at) {
                points.back().killed = sum;
            } else {
                points.push_back({at, sum, 0.0, 1.0});
            }
        }
        for (KillPoint& point : points) {
            point.killed = sum > 0.0 ? point.killed / sum : 0.0;
        }
        return points;
    }

  private:
    template <class Moments>
    static std::vector<KillPoint> with_moments(std::vector<KillPoint> points, const Moments& moments) {
        for (const auto& moment : moments) {
            points.push_back({moment.at - Time{}, -1.0, moment.health, moment.hit});
        }
        std::stable_sort(points.begin(), points.end(),
                         [](const KillPoint& a, const KillPoint& b) { return a.at < b.at; });
        std::vector<KillPoint> merged;
        KillPoint now{{}, 0.0, 1.0, 0.0};
        for (const KillPoint& point : points) {
            now.at = point.at;
            now.killed = std::max(now.killed, point.killed);
            if (point.killed < 0.0) { // of a moment
                now.health = point.health;
                now.hit = point.hit;
            }
            if (merged.empty() || merged.back().at != point.at) {
                merged.emplace_back();
            }
            merged.back() = now;
        }
        return merged;
    }

    void drop_empty(Cells& cells) {
        std::erase_if(cells, [](const Cell& cell) {
            return std::all_of(cell.chances.begin(), cell.chances.end(),
                               [](float chance) { return chance < 1e-7F; });
        });
    }

    const std::vector<std::vector<float>>& of_shot(std::size_t shot, const std::vector<bool>& wanted) {
        std::vector<std::vector<float>>& pellets = of_shots_[shot];
        if (pellets.empty()) {
            pellets.resize(chances_.pellets());
            for (std::size_t pellet = 0; pellet < pellets.size(); ++pellet) {
                chances_.chances_of(shot, pellet, wanted, pellets[pellet]);
            }
        }
        return pellets;
    }

    void die(const std::vector<float>& chances, Time at, std::size_t shot, std::vector<Died>& died) const {
        const std::size_t half = points_ / 2;
        const Died one{at, shot, {sum_of(chances.data(), half), sum_of(chances.data() + half, half)}};
        if (one.halves[0] + one.halves[1] > 0.0) {
            died.push_back(one);
        }
    }

    // Lets time pass for all cells.
    void pass(Cells& cells, Time at, std::size_t shot, std::vector<Died>& died) {
        if (!victim_.changes()) {
            return;
        }
        victim_.begin_moment();
        Cells next;
        for (Cell& cell : cells) {
            const Victim::Passed passed = victim_.pass(cell.state, at);
            if (passed.state == dead_state) {
                die(cell.chances, passed.died, shot, died);
            } else {
                add(next, passed.state, cell.landed, std::move(cell.chances));
            }
        }
        index_.clear();
        cells = std::move(next);
    }

    void add(Cells& cells, std::uint32_t state, std::uint32_t landed, std::vector<float>&& chances) {
        Cell& cell = cell_of(cells, state, landed);
        if (cell.chances.empty()) {
            cell.chances = std::move(chances);
            return;
        }
        for (std::size_t point = 0; point < points_; ++point) {
            cell.chances[point] += chances[point];
        }
    }

    Cell& cell_of(Cells& cells, std::uint32_t state, std::uint32_t landed) {
        const auto [place, is_new] = index_.try_emplace(std::uint64_t{state} << 32U | landed, cells.size());
        if (is_new) {
            cells.push_back({state, landed, {}});
        }
        return cells[place->second];
    }

    void step(Cells& cells, const Due& due, const std::vector<bool>& wanted, std::vector<Died>& died) {
        index_.clear();
        pass(cells, due.at, due.shot, died);
        const auto& arrivals = chances_.arrivals();
        const bool last = due.arrival + 1 == arrivals.size();
        const std::uint32_t bit =
            arrivals.size() > 1 ? 1U << static_cast<std::uint32_t>(due.shot % most_pending) : 0U;
        const bool in_place = !victim_.changes() && arrivals.size() == 1;
        for (const std::vector<float>& chances : of_shot(due.shot, wanted)) {
            if (in_place) {
                strike_in_place(cells, due, chances, died);
            } else {
                strike(cells, due, chances, bit, died);
            }
        }
        if (in_place) {
            std::erase_if(cells,
                          [this](const Cell& cell) { return sum_of(cell.chances.data(), points_) < 1e-7; });
        }
        if (last && bit != 0) {
            index_.clear();
            Cells next;
            for (Cell& cell : cells) {
                add(next, cell.state, cell.landed & ~bit, std::move(cell.chances));
            }
            cells = std::move(next);
        }
    }

    // One pellet, where nothing changes by itself and nothing is under way: each state only loses to states
    // of less health, so all is done in place, from the least health up.
    void strike_in_place(Cells& cells, const Due& due, const std::vector<float>& chances,
                         std::vector<Died>& died) {
        constexpr std::size_t none = static_cast<std::size_t>(-1);
        const std::vector<std::uint32_t>& blows = chances_.arrivals().front().blows;
        std::vector<std::uint32_t> landing;
        for (const std::uint32_t blow : blows) {
            if (sum_of(chances.data() + blow * points_, points_) > 0.0) {
                landing.push_back(blow);
            }
        }
        if (landing.empty()) {
            return;
        }
        std::vector<std::size_t> order(cells.size());
        std::vector<std::size_t> place;
        const auto put = [&](std::uint32_t state, std::size_t cell) {
            place.resize(std::max<std::size_t>(place.size(), state + 1U), none);
            place[state] = cell;
        };
        for (std::size_t cell = 0; cell < cells.size(); ++cell) {
            order[cell] = cell;
            put(cells[cell].state, cell);
        }
        std::sort(order.begin(), order.end(), [&](std::size_t a, std::size_t b) {
            return victim_.substance(cells[a].state) < victim_.substance(cells[b].state);
        });
        std::vector<float> dead(points_, 0.0F);
        std::vector<float> stays(points_);
        for (const std::size_t index : order) {
            std::fill(stays.begin(), stays.end(), 1.0F);
            for (const std::uint32_t blow : landing) {
                const std::uint32_t found = victim_.strike(cells[index].state, blow, due.at);
                const float* of_blow = chances.data() + blow * points_;
                if (found == cells[index].state) {
                    continue;
                }
                if (found == dead_state) {
                    add_product(dead, cells[index].chances.data(), of_blow);
                } else {
                    if (found >= place.size() || place[found] == none) {
                        cells.push_back({found, 0, std::vector<float>(points_, 0.0F)});
                        put(found, cells.size() - 1);
                    }
                    add_product(cells[place[found]].chances, cells[index].chances.data(), of_blow);
                }
                for (std::size_t point = 0; point < points_; ++point) {
                    stays[point] -= of_blow[point];
                }
            }
            for (std::size_t point = 0; point < points_; ++point) {
                cells[index].chances[point] *= std::max(0.0F, stays[point]);
            }
        }
        die(dead, due.at, due.shot, died);
    }

    // One pellet of what is due.
    void strike(Cells& cells, const Due& due, const std::vector<float>& chances, std::uint32_t bit,
                std::vector<Died>& died) {
        const auto& arrivals = chances_.arrivals();
        // Of a shot at most one thing comes: the chance of this one, when none has come yet.
        std::vector<float> open;
        if (due.arrival > 0) {
            open.assign(points_, 1.0F);
            for (std::size_t before = 0; before < due.arrival; ++before) {
                for (const std::uint32_t blow : arrivals[before].blows) {
                    for (std::size_t point = 0; point < points_; ++point) {
                        open[point] -= chances[blow * points_ + point];
                    }
                }
            }
        }
        index_.clear();
        Cells next;
        std::vector<float> dead(points_, 0.0F);
        std::vector<float> hit(points_);
        for (Cell& cell : cells) {
            if ((cell.landed & bit) != 0) {
                add(next, cell.state, cell.landed, std::move(cell.chances));
                continue;
            }
            std::vector<float> stays = cell.chances;
            for (const std::uint32_t blow : arrivals[due.arrival].blows) {
                const float* of_blow = chances.data() + blow * points_;
                float most = 0.0F;
                for (std::size_t point = 0; point < points_; ++point) {
                    hit[point] = cell.chances[point] * of_blow[point];
                    most = std::max(most, hit[point]);
                }
                if (most <= 1e-9F) {
                    continue;
                }
                const std::uint32_t found = victim_.strike(cell.state, blow, due.at);
                if (found == cell.state && bit == 0) {
                    continue;
                }
                if (!open.empty()) {
                    for (std::size_t point = 0; point < points_; ++point) {
                        hit[point] = std::min(cell.chances[point], hit[point] / std::max(1e-6F, open[point]));
                    }
                }
                for (std::size_t point = 0; point < points_; ++point) {
                    stays[point] -= hit[point];
                }
                if (found == dead_state) {
                    for (std::size_t point = 0; point < points_; ++point) {
                        dead[point] += hit[point];
                    }
                } else {
                    Cell& to = cell_of(next, found, cell.landed | bit);
                    if (to.chances.empty()) {
                        to.chances = hit;
                    } else {
                        for (std::size_t point = 0; point < points_; ++point) {
                            to.chances[point] += hit[point];
                        }
                    }
                }
            }
            for (float& chance : stays) {
                chance = std::max(0.0F, chance);
            }
            add(next, cell.state, cell.landed, std::move(stays));
        }
        die(dead, due.at, due.shot, died);
        drop_empty(next);
        cells = std::move(next);
        index_.clear();
    }

    void tell(KillDistribution& kills, std::vector<Died>& died) const {
        std::stable_sort(died.begin(), died.end(), [](const Died& a, const Died& b) { return a.at < b.at; });
        const auto& shots = chances_.shots();
        const double half = 2.0 / static_cast<double>(points_);
        double sums[2]{};
        for (const Died& one : died) {
            sums[0] += half * one.halves[0];
            sums[1] += half * one.halves[1];
            const double killed = std::min(1.0, 0.5 * (sums[0] + sums[1]));
            kills.error = std::max(kills.error, 0.5 * std::abs(sums[0] - sums[1]));
            if (kills.points.empty() || kills.points.back().at != one.at - Time{}) {
                kills.points.push_back({one.at - Time{}});
            }
            kills.points.back().killed = killed;
            const std::size_t shot = std::min(one.shot, shots.empty() ? 0 : shots.size() - 1);
            kills.shots.resize(std::max(kills.shots.size(), shot + 1), 0.0);
            const double mass = (one.halves[0] + one.halves[1]) / static_cast<double>(points_);
            kills.shots[shot] += mass;
            const bool blade = engagement_.melee != nullptr;
            const Time fired = blade || shots.empty() ? one.at : std::min(one.at, shots[shot].at);
            kills.kills.push_back({fired - Time{}, one.at - Time{}, mass});
            if (!shots.empty() && shots[shot].reloads == 0) {
                kills.in_magazine = std::min(1.0, kills.in_magazine + mass);
            }
        }
    }

    const Engagement& engagement_;
    std::size_t points_;
    ShotChances chances_;
    Victim victim_;
    Time limit_;
    std::vector<Due> dues_{};
    std::vector<std::vector<std::vector<float>>> of_shots_{};
    std::vector<bool> all_wanted_{};
    std::unordered_map<std::uint64_t, std::size_t> index_{};
};

} // namespace

std::vector<KillDistribution> kill_distributions(std::span<const Engagement> engagements,
                                                 const DistributionSettings& settings) {
    assert(std::has_single_bit(settings.points) && settings.points >= 32 && settings.points <= 4096);
    SharedMaps maps;
    std::vector<KillDistribution> all;
    all.reserve(engagements.size());
    for (const Engagement& engagement : engagements) {
        const EngagementMaps found = maps.maps_of(engagement);
        all.push_back(Fight{engagement, found, settings.points}.run());
        all.back().in_reach = found.place.in_reach && !found.shots->outcomes().empty();
    }
    return all;
}

KillDistribution kill_distribution(const Engagement& engagement, const DistributionSettings& settings) {
    return std::move(kill_distributions({&engagement, 1}, settings).front());
}

std::vector<KillPoint> time_from_first_hit(const Engagement& engagement,
                                           const DistributionSettings& settings) {
    SharedMaps maps;
    const EngagementMaps found = maps.maps_of(engagement);
    return Fight{engagement, found, settings.points}.from_first_hit();
}

} // namespace avrek
