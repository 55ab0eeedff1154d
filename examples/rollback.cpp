// Prediction and rollback: one client plays on with what it has, an intent of somebody else comes 6 ticks
// late, it goes back to before that tick, plays the ticks again with the intent in its place, and ends up
// with the very state of one who had everything on time.
//
//     rollback [data]
#include <avrek/avrek.h>

#include <array>
#include <cstdio>
#include <string>
#include <vector>

using namespace avrek;

namespace {

constexpr Tick fight_ticks = 192;
constexpr Tick late_tick = 100; // whose intent comes late
constexpr Tick delay = 6;
constexpr BodyId friend_id{2};

// Intents of all combatants in each tick, from a fight of bots on the side.
std::vector<std::vector<Intent>> intents_of(Skirmish fight, const BoutSetup& setup) {
    Bots bots{fight};
    begin_bout(setup, bout_members(setup), fight, bots);
    std::vector<std::vector<Intent>> all;
    while (fight.tick() < fight_ticks) {
        const auto intents = bots.think(fight);
        all.emplace_back(intents.begin(), intents.end());
        fight.advance(intents);
    }
    return all;
}

} // namespace

int main(int count, char** words) {
    const std::string data = count > 1 ? words[1] : "data";
    const auto arsenal = load_arsenal(data + "/halm-ring.toml");
    const auto arena = arsenal ? load_arena(data + "/atrium.toml", *arsenal) : Loaded<Arena>{};
    if (!arena || arsenal->shooters.empty()) {
        std::fprintf(stderr, "rollback needs the arsenal and the level of the Halm Ring\n");
        return 2;
    }
    const BoutSetup setup{
        .crew = 8, .weapons = {WeaponId{0}, WeaponId{1}, WeaponId{2}}, .shooters = {ShooterId{0}}};
    const Skirmish empty{*arsenal, arena->level, {.limits = {.combatants = 8}}, 11, arena->plan};
    const std::vector<std::vector<Intent>> intents = intents_of(empty, setup);

    const auto start = [&] {
        Skirmish fight{empty};
        for (const BoutMember& member : bout_members(setup)) {
            (void)fight.add(entrant_of(setup, member));
        }
        return fight;
    };
    Skirmish on_time = start();
    Skirmish client = start();
    std::array<std::vector<std::byte>, delay + 1> saved; // the states before the last ticks
    std::vector<Intent> known;

    while (client.tick() < fight_ticks) {
        const Tick tick = client.tick();
        const std::vector<Intent>& all = intents[static_cast<std::size_t>(tick)];
        on_time.advance(all);

        std::vector<std::byte>& place = saved[static_cast<std::size_t>(tick) % saved.size()];
        place.resize(client.saved_size());
        (void)client.save(place);
        known = all;
        if (tick == late_tick) { // without the friend's: its last one holds
            std::erase_if(known, [](const Intent& intent) { return intent.who == friend_id; });
        }
        client.advance(known);

        if (tick == late_tick + delay) {
            const auto before = differences(client, on_time);
            std::printf("tick %lld: the intent of tick %lld comes; %zu numbers differ, such as\n",
                        static_cast<long long>(tick), static_cast<long long>(late_tick), before.size());
            for (std::size_t index = 0; index < before.size() && index < 3; ++index) {
                std::printf("    %s: %s, not %s\n", before[index].name.c_str(), before[index].one.c_str(),
                            before[index].other.c_str());
            }
            (void)client.restore(saved[static_cast<std::size_t>(late_tick) % saved.size()]);
            while (client.tick() <= tick) {
                client.advance(intents[static_cast<std::size_t>(client.tick())]);
            }
            std::printf("went back and played %lld ticks again: %zu numbers differ\n",
                        static_cast<long long>(delay + 1), differences(client, on_time).size());
        }
    }
    std::printf("after %lld ticks: %016llx with rollback, %016llx on time\n",
                static_cast<long long>(client.tick()), static_cast<unsigned long long>(client.state_hash()),
                static_cast<unsigned long long>(on_time.state_hash()));
    return client.state_hash() == on_time.state_hash() ? 0 : 1;
}
