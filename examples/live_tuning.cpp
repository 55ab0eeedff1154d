// A fight whose values change five times while it runs: first alone, with what became of one combatant each
// time, then over a network with two clients, where each step counts in one tick for all.
//
//     live_tuning [data]
#include <avrek/avrek.h>

#include <array>
#include <cstdio>
#include <string>
#include <utility>
#include <vector>

using namespace avrek;

namespace {

constexpr double seconds = 20.0;
constexpr BodyId watched{1};

struct Change {
    double at;
    const char* what;
    const char* overlay;
};

// Crews that neither die nor stagger, so that what is withdrawn is nobody's death.
constexpr const char* steady_crews = "[body.crew]\nhealth = 2000\n"
                                     "[body.crew.light_reaction]\nlasts = 0\n"
                                     "[body.crew.heavy_reaction]\nlasts = 0\n";

constexpr std::array<Change, 5> changes{{
    {3.0, "twice the rate", "[weapon.thorn-rifle]\nrate_of_fire = 1440\n"},
    {6.0, "a small magazine", "[weapon.thorn-rifle]\nmagazine = 8\n"},
    {9.0, "tougher crews", "[body.crew]\nhealth = 3000\n[body.crew.guard]\nstamina = 80\n"},
    {12.0, "a slow reload", "[weapon.thorn-rifle.reload]\ntime = 4.0\nempty_time = 5.0\ncommit = 3.0\n"},
    {15.0, "a quick one",
     "[weapon.thorn-rifle]\nmagazine = 30\n[weapon.thorn-rifle.reload]\ntime = 1.0\n"
     "empty_time = 1.2\ncommit = 0.8\n"},
}};

TuningStep step_of(const Change& change) {
    return {.texts = {{std::string{change.what} + ".toml", change.overlay}}};
}

void print_state(const char* when, const Skirmish& fight) {
    const Combatant& who = *fight.match().find(watched);
    const CombatantReadout shown = fight.readout(watched);
    std::printf("  %-6s %4.0f of %4.0f health", when, who.vitals.health, who.vitals.maximum);
    if (shown.weapon) {
        const WeaponReadout& hands = *shown.weapon;
        std::printf(", %2d rounds and %2d in reserve", hands.rounds, hands.reserve);
        if (hands.reload_progress > 0.0) {
            std::printf(", reload %.0f %% done", 100.0 * hands.reload_progress);
        }
    }
    std::printf("\n");
}

// Prints what the next tick says about the step.
void print_events(std::span<const Event> events) {
    std::size_t weapons = 0;
    std::size_t bodies = 0;
    int rounds = 0;
    double points = 0.0;
    for (const Event& event : events) {
        if (const auto* hands = std::get_if<HandlingEvent>(&event)) {
            weapons += hands->event.kind == WeaponEventKind::retuned ? 1 : 0;
            rounds += hands->event.kind == WeaponEventKind::retuned ? hands->event.discarded : 0;
        } else if (const auto* body = std::get_if<RetunedEvent>(&event)) {
            bodies += body->who != nobody ? 1 : 0;
            points += body->lost;
        }
    }
    std::printf("  events: %zu weapons and %zu bodies changed; %d rounds and %.0f points lost\n", weapons,
                bodies, rounds, points);
}

BoutSetup setup_of(std::size_t crew) {
    return {.crew = crew, .weapons = {WeaponId{0}}, .shooters = {ShooterId{0}}};
}

bool fight_alone(const GameData& data) {
    Skirmish fight{data.arsenal, data.arena.level, {.limits = {.combatants = 4}}, 4, data.arena.plan};
    Bots bots{fight};
    begin_bout(setup_of(4), bout_members(setup_of(4)), fight, bots);
    TunedArsenal tuned{data.texts};
    std::size_t next = 0;
    while (to_seconds(fight.now() - Time{}) < seconds) {
        const bool is_due = next < changes.size() && to_seconds(fight.now() - Time{}) >= changes[next].at;
        if (is_due) {
            const TuningStep step = step_of(changes[next]);
            const auto arsenal = tuned.with(step);
            if (!arsenal) {
                std::fprintf(stderr, "%s\n", to_string(arsenal.diagnostics.front()).c_str());
                return false;
            }
            std::printf("%4.1f s  %s\n", changes[next].at, changes[next].what);
            print_state("before", fight);
            (void)fight.retune(*arsenal);
            tuned.take(step);
            print_state("after", fight);
            ++next;
        }
        const std::span<const Event> events = fight.advance(bots.think(fight));
        if (is_due) {
            print_events(events);
        }
    }
    std::printf("the state after %.0f s: %016llx\n\n", seconds,
                static_cast<unsigned long long>(fight.state_hash()));
    return true;
}

// Two clients over 100 ms, with the steps or without. Returns how many shown events were withdrawn.
std::uint64_t fight_over_network(const GameData& data, bool tunes) {
    LinkTrialSetup setup;
    setup.bout = setup_of(2);
    setup.links = {{.latency = from_seconds(0.1)}};
    setup.skirmish.limits.combatants = 2;
    LinkTrial match{data, setup, 4};
    std::size_t next = 0;
    while (to_seconds(match.server().skirmish().now() - Time{}) < seconds) {
        const Time now = match.server().skirmish().now();
        if (tunes && next < changes.size() && to_seconds(now - Time{}) >= changes[next].at) {
            if (const Loaded<Tick> tick = match.server().retune(step_of(changes[next]))) {
                std::printf("%4.1f s  %-16s told; counts %.0f ms later for all\n", changes[next].at,
                            changes[next].what, 1000.0 * to_seconds(tick_span(*tick, {64}).begin - now));
            }
            ++next;
        }
        match.step();
    }
    const std::int32_t magazine = match.server().skirmish().arsenal().weapons[0].magazine;
    for (std::size_t player = 0; player < 2 && tunes; ++player) {
        std::printf("player %zu: a magazine of %d, the server's has %d\n", player + 1,
                    match.client(player).predicted().arsenal().weapons[0].magazine, magazine);
    }
    std::uint64_t withdrawn = 0;
    std::uint64_t corrections = 0;
    for (const LinkTrialPlayer& player : match.finish().players) {
        withdrawn += player.withdrawn;
        corrections += player.counts.corrections;
    }
    std::printf("%s: %llu corrections, %llu shown events withdrawn\n",
                tunes ? "with five steps" : "without steps", static_cast<unsigned long long>(corrections),
                static_cast<unsigned long long>(withdrawn));
    return withdrawn;
}

} // namespace

int main(int count, char** words) {
    const std::string folder = count > 1 ? words[1] : "data";
    const std::vector<std::string> files{folder + "/halm-ring.toml"};
    Loaded<GameData> data = load_game_data(files, folder + "/atrium.toml");
    if (data) {
        data->texts.push_back({"steady-crews.toml", steady_crews});
        data->digest = digest_of(data->texts);
        data->arsenal = std::move(*parse_arsenal(data->texts));
    }
    if (!data || data->arsenal.shooters.empty()) {
        std::fprintf(stderr, "live_tuning needs the arsenal and the level of the Halm Ring\n");
        return 2;
    }
    if (!fight_alone(*data)) {
        return 1;
    }
    const std::uint64_t with = fight_over_network(*data, true);
    const std::uint64_t without = fight_over_network(*data, false);
    return with <= without ? 0 : 1;
}
