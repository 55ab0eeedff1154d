#include "kill_fight.h"

#include <algorithm>

namespace avrek::detail {

namespace {

constexpr double nobody_left = 1e-4;     // share of all; the rest is ignored
constexpr double hardly_left = 1e-5;     // share of one point of the integral
constexpr std::uint32_t max_pending = 5; // shots under way at the same time that are told apart

} // namespace

KillFight::KillFight(const Engagement& engagement, const EngagementMaps& maps)
    : chances_(engagement, maps), victim_(engagement.target, chances_.blows()),
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
}

void KillFight::begin(const AimBlock& points) {
    block_ = points;
    points_ = points.count;
    chances_.begin(points);
    of_shots_.assign(chances_.shots().size(), {});
    all_wanted_.assign(points_, true);
}

KillFight::Cells KillFight::unhurt() const {
    return {{0, 0, std::vector<float>(points_, 1.0F)}};
}

KillBlock KillFight::run(const AimBlock& points) {
    begin(points);
    KillBlock block;
    Cells cells = unhurt();
    std::vector<bool> wanted = all_wanted_;
    for (const Due& due : dues_) {
        step(cells, due, wanted, block.died);
        if (due.arrival + 1 == chances_.arrivals().size()) {
            of_shots_[due.shot] = {}; // long fights would have too many
        }
        KillMoment moment{due.at};
        std::vector<float> alive(points_, 0.0F);
        for (const Cell& cell : cells) {
            lanes_.add(alive.data(), cell.chances.data(), points_);
            const double sum = lanes_.sum(cell.chances.data(), points_);
            moment.health += sum * victim_.health_share(cell.state);
            moment.unhurt += victim_.is_hurt(cell.state) ? 0.0 : sum;
        }
        block.moments.push_back(moment);
        for (std::size_t point = 0; point < points_; ++point) {
            wanted[point] = static_cast<double>(alive[point]) > hardly_left;
        }
        if (lanes_.sum(alive.data(), points_) < nobody_left * static_cast<double>(points_)) {
            break;
        }
    }
    pass(cells, limit_, chances_.shots().size(), block.died);
    return block;
}

std::vector<KillPoint> KillFight::from_first_hit(const AimBlock& points) {
    begin(points);
    Cells not_hurt = unhurt();
    std::vector<std::pair<Duration, double>> felt;
    std::vector<bool> wanted = all_wanted_;
    for (std::size_t first = 0; first < dues_.size(); ++first) {
        Deaths died;
        step(not_hurt, dues_[first], wanted, died);
        Cells hurt;
        Cells still;
        double left = 0.0;
        for (Cell& cell : not_hurt) {
            if (victim_.is_hurt(cell.state)) {
                hurt.push_back(std::move(cell));
            } else {
                for (const float chance : cell.chances) {
                    left = std::max(left, static_cast<double>(chance));
                }
                still.push_back(std::move(cell));
            }
        }
        not_hurt = std::move(still);
        const Time known = dues_[first].at;
        for (std::size_t next = first + 1; next < dues_.size() && !hurt.empty(); ++next) {
            step(hurt, dues_[next], all_wanted_, died);
            drop_empty(hurt);
        }
        pass(hurt, limit_, chances_.shots().size(), died);
        for (const KillSums& one : died) {
            felt.emplace_back(std::max(Duration{}, one.at - known), one.all());
        }
        if (left < 1e-4) {
            break;
        }
    }
    std::sort(felt.begin(), felt.end());
    std::vector<KillPoint> felt_points;
    double sum = 0.0;
    for (const auto& [at, mass] : felt) {
        sum += mass / static_cast<double>(points_);
        if (!felt_points.empty() && felt_points.back().at == at) {
            felt_points.back().killed = sum;
        } else {
            felt_points.push_back({at, sum, 0.0, 1.0});
        }
    }
    for (KillPoint& point : felt_points) {
        point.killed = sum > 0.0 ? point.killed / sum : 0.0;
    }
    return felt_points;
}

void KillFight::drop_empty(Cells& cells) {
    std::erase_if(cells, [](const Cell& cell) {
        return std::all_of(cell.chances.begin(), cell.chances.end(),
                           [](float chance) { return chance < 1e-7F; });
    });
}

const std::vector<std::vector<float>>& KillFight::of_shot(std::size_t shot, const std::vector<bool>& wanted) {
    std::vector<std::vector<float>>& pellets = of_shots_[shot];
    if (pellets.empty()) {
        pellets.resize(chances_.pellets());
        for (std::size_t pellet = 0; pellet < pellets.size(); ++pellet) {
            chances_.chances_of(shot, pellet, wanted, pellets[pellet]);
        }
    }
    return pellets;
}

void KillFight::die(const std::vector<float>& chances, Time at, std::size_t shot, Deaths& died) const {
    const std::size_t each = points_ / lattice_parts;
    KillSums one{at, shot, block_, {}};
    for (std::size_t part = 0; part < lattice_parts; ++part) {
        one.of_parts[part] = lanes_.sum(chances.data() + part * each, each);
    }
    if (one.all() > 0.0) {
        died.push_back(one);
    }
}

// Lets time pass for all cells.
void KillFight::pass(Cells& cells, Time at, std::size_t shot, Deaths& died) {
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

void KillFight::add(Cells& cells, std::uint32_t state, std::uint32_t landed, std::vector<float>&& chances) {
    Cell& cell = cell_of(cells, state, landed);
    if (cell.chances.empty()) {
        cell.chances = std::move(chances);
        return;
    }
    lanes_.add(cell.chances.data(), chances.data(), points_);
}

KillFight::Cell& KillFight::cell_of(Cells& cells, std::uint32_t state, std::uint32_t landed) {
    const auto [place, is_new] = index_.try_emplace(std::uint64_t{state} << 32U | landed, cells.size());
    if (is_new) {
        cells.push_back({state, landed, {}});
    }
    return cells[place->second];
}

void KillFight::step(Cells& cells, const Due& due, const std::vector<bool>& wanted, Deaths& died) {
    index_.clear();
    pass(cells, due.at, due.shot, died);
    const auto& arrivals = chances_.arrivals();
    const bool last = due.arrival + 1 == arrivals.size();
    const std::uint32_t bit =
        arrivals.size() > 1 ? 1U << static_cast<std::uint32_t>(due.shot % max_pending) : 0U;
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
                      [this](const Cell& cell) { return lanes_.sum(cell.chances.data(), points_) < 1e-7; });
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

} // namespace avrek::detail
