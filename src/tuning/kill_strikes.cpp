#include "kill_fight.h"

#include <algorithm>

namespace avrek::detail {

// The chance at each point that none of these blows comes.
std::vector<float> KillFight::rest_of(const std::vector<float>& chances,
                                      std::span<const std::uint32_t> blows) const {
    std::vector<float> rest(points_, 1.0F);
    for (const std::uint32_t blow : blows) {
        lanes_.subtract(rest.data(), chances.data() + blow * points_, points_);
    }
    lanes_.clamp(rest.data(), points_);
    return rest;
}

// One pellet, where nothing changes by itself and nothing is under way: each state only loses to states
// less health, so all is done in place, from the least health up.
void KillFight::strike_in_place(Cells& cells, const Due& due, const std::vector<float>& chances,
                                Deaths& died) {
    constexpr std::size_t none = static_cast<std::size_t>(-1);
    const std::vector<std::uint32_t>& blows = chances_.arrivals().front().blows;
    std::vector<std::uint32_t> landing;
    for (const std::uint32_t blow : blows) {
        if (lanes_.sum(chances.data() + blow * points_, points_) > 0.0) {
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
    std::vector<std::uint32_t> moving;
    std::vector<std::uint32_t> moved; // the blows that `stays` leaves out
    std::vector<float> stays(points_, 1.0F);
    for (const std::size_t index : order) {
        moving.clear();
        for (const std::uint32_t blow : landing) {
            const std::uint32_t found = victim_.strike(cells[index].state, blow, due.at);
            const float* of_blow = chances.data() + blow * points_;
            if (found == cells[index].state) {
                continue;
            }
            moving.push_back(blow);
            if (found == dead_state) {
                lanes_.add_product(dead.data(), cells[index].chances.data(), of_blow, points_);
            } else {
                if (found >= place.size() || place[found] == none) {
                    cells.push_back({found, 0, std::vector<float>(points_, 0.0F)});
                    put(found, cells.size() - 1);
                }
                lanes_.add_product(cells[place[found]].chances.data(), cells[index].chances.data(), of_blow,
                                   points_);
            }
        }
        if (moving != moved) { // nearly always they are the same for all states
            stays = rest_of(chances, moving);
            moved = moving;
        }
        lanes_.multiply(cells[index].chances.data(), stays.data(), points_);
    }
    die(dead, due.at, due.shot, died);
}

// One pellet of what is due.
void KillFight::strike(Cells& cells, const Due& due, const std::vector<float>& chances, std::uint32_t bit,
                       Deaths& died) {
    const auto& arrivals = chances_.arrivals();
    // At most one thing comes of a shot: the chance of this one, when none has come yet.
    std::vector<float> open;
    if (due.arrival > 0) {
        open.assign(points_, 1.0F);
        for (std::size_t before = 0; before < due.arrival; ++before) {
            for (const std::uint32_t blow : arrivals[before].blows) {
                lanes_.subtract(open.data(), chances.data() + blow * points_, points_);
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
            lanes_.subtract(stays.data(), hit.data(), points_);
            if (found == dead_state) {
                lanes_.add(dead.data(), hit.data(), points_);
            } else {
                Cell& to = cell_of(next, found, cell.landed | bit);
                if (to.chances.empty()) {
                    to.chances = hit;
                } else {
                    lanes_.add(to.chances.data(), hit.data(), points_);
                }
            }
        }
        lanes_.clamp(stays.data(), points_);
        add(next, cell.state, cell.landed, std::move(stays));
    }
    die(dead, due.at, due.shot, died);
    drop_empty(next);
    cells = std::move(next);
    index_.clear();
}

} // namespace avrek::detail
