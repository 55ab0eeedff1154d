#pragma once
// A match over links with foes who stand on two sides of a wall.
#include "net_rig.h"

#include <algorithm>
#include <iterator>
#include <memory>
#include <vector>

namespace avrek::trial {

inline constexpr Metres wall_height = 4.0;

// Player 1 on one side of a wall, its foe 2 and that one's friend 4 on the other.
struct Walled : NetRig {
    std::vector<std::vector<Noise>> noises;
    std::vector<std::vector<Notice>> notices;

    explicit Walled(const LinkSpec& link = {.latency = from_seconds(0.05)}, Metres half_width = 20.0,
                    const Arsenal& arsenal = bots_arsenal())
        : NetRig(4, wall(half_width), arsenal, plan()) {
        for (PlayerSlot& slot : settings.slots) {
            slot.weapons = {WeaponId{0}, WeaponId{1}};
        }
        server = std::make_unique<Server>(data, settings, 11, network.server());
        for (const std::uint32_t player : {1U, 2U, 4U}) {
            join(ticket(player), link);
            wants.back() = {};
        }
        noises.resize(clients.size());
        notices.resize(clients.size());
        takes = [this](std::size_t client, const ClientEvents& events) {
            noises[client].insert(noises[client].end(), events.noises.begin(), events.noises.end());
            notices[client].insert(notices[client].end(), events.notices.begin(), events.notices.end());
        };
        run(2.0);
        forget();
    }
    static Level wall(Metres half_width) {
        return Level{
            {{HalfSpace{world_up(), 0}, SurfaceId{1}},
             {Box{{{0, wall_height / 2, 0}, Rotation::Identity()}, {half_width, wall_height / 2, 0.2}},
              SurfaceId{1}}}};
    }
    static LevelPlan plan() {
        LevelPlan made;
        made.spawns = {
            {{0, 0, 4}, pi, TeamId{1}}, {{0, 0, -4}, 0.0, TeamId{0}}, {{2, 0, -4}, 0.0, TeamId{0}}};
        made.pickups = {{PickupId{0}, {0, 0, -6}}};
        return made;
    }
    void throw_one() { // by player 2
        wants[1].buttons.set(Button::trigger, true);
        run(0.1);
        wants[1].buttons.set(Button::trigger, false);
    }
    void forget() {
        for (auto& of_one : noises) {
            of_one.clear();
        }
        for (auto& of_one : notices) {
            of_one.clear();
        }
    }
    std::ptrdiff_t explosions_heard(std::size_t client) const {
        return std::count_if(noises[client].begin(), noises[client].end(),
                             [](const Noise& noise) { return noise.kind == NoiseKind::explosion; });
    }
    std::vector<Notice> of_kind(std::size_t client, NoticeKind kind) const {
        std::vector<Notice> some;
        std::copy_if(notices[client].begin(), notices[client].end(), std::back_inserter(some),
                     [kind](const Notice& one) { return one.kind == kind; });
        return some;
    }
};

} // namespace avrek::trial
