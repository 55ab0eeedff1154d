// A terminal session with three weapons: a scripted list of what the player does, and one line after each
// step.
//
//     loadout data/halm-ring.toml
#include <avrek/avrek.h>

#include <algorithm>
#include <cstdio>
#include <string>

using namespace avrek;

namespace {

struct Step {
    double at; ///< seconds
    const char* what;
    LoadoutIntent intent;
    std::int32_t pick_up = 0; ///< rounds for the weapon in hand
};

std::string count(std::int32_t rounds) {
    return rounds == endless_rounds ? std::string{"-"} : std::to_string(rounds);
}

void print_readout(const Step& step, const Arsenal& arsenal, const Loadout& loadout) {
    const WeaponSpec& spec = *weapon_in(arsenal, loadout, loadout.in_hand);
    const WeaponState& state = *state_in(loadout, loadout.in_hand);
    const WeaponReadout out = readout(spec, state, reserve_of(arsenal, loadout, loadout.in_hand));
    const bool ready = out.waits_for == WeaponRefusal::none;
    std::printf("%6.2f s  %-25s%-13s%2s/%-4s aim %.2f  cone %4.2f  %s", to_seconds(loadout.now - Time{}),
                step.what, spec.id.c_str(), count(out.rounds).c_str(), count(out.reserve).c_str(),
                out.aim_blend, to_degrees(out.cone),
                ready ? "ready" : std::string{to_string(out.waits_for)}.c_str());
    if (is_reloading(state)) {
        std::printf(", %.0f %%", 100.0 * out.reload_progress);
    }
    if (spec.feed == AmmoFeed::heat) {
        std::printf(", heat %.2f", out.heat);
    }
    std::printf("\n");
}

// All that happened from one step to the next, in a few words.
void print_events(const std::vector<WeaponEvent>& events) {
    int shots = 0;
    const auto print_shots = [&shots] {
        if (shots > 0) {
            std::printf("          %d shot%s\n", shots, shots == 1 ? "" : "s");
        }
        shots = 0;
    };
    for (const WeaponEvent& event : events) {
        if (event.kind == WeaponEventKind::shot) {
            ++shots;
            continue;
        }
        print_shots();
        const bool reason = event.refusal != WeaponRefusal::none;
        const std::string why = reason ? ": " + std::string{to_string(event.refusal)} : "";
        const std::string moved = event.moved > 0 ? " +" + std::to_string(event.moved) : "";
        std::printf("          %.3f s %s%s%s\n", to_seconds(event.at - Time{}),
                    std::string{to_string(event.kind)}.c_str(), moved.c_str(), why.c_str());
    }
    print_shots();
}

} // namespace

int main(int count, char** words) {
    const auto arsenal = load_arsenal(count > 1 ? words[1] : "data/halm-ring.toml");
    for (const Diagnostic& fault : arsenal.diagnostics) {
        std::fprintf(stderr, "%s\n", to_string(fault).c_str());
    }
    std::vector<WeaponId> carried;
    for (const char* id : {"thorn-rifle", "burr-gun", "pollen-spray"}) {
        const auto weapon = arsenal ? arsenal->weapon(id) : std::nullopt;
        if (!weapon) {
            std::fprintf(stderr, "the arsenal needs a %s\n", id);
            return 2;
        }
        carried.push_back(*weapon);
    }
    Loadout loadout = make_loadout(*arsenal, carried);
    for (AmmoReserve& reserve : loadout.ammo) {
        reserve.rounds = std::min(reserve.rounds, 8); // a hard day: little is left
    }

    const Step steps[] = {
        {0.00, "fire to empty", {.weapon = {.trigger = true}}},
        {3.00, "let go", {.weapon = {}}},
        {3.10, "dry fire", {.weapon = {.trigger = true}}},
        {3.20, "reload with 8 in reserve", {.weapon = {.reload = true}}},
        {4.50, "half-way through it", {.weapon = {}}},
        {6.00, "pick up 200 cartridges", {.weapon = {}}, 200},
        {6.10, "aim", {.weapon = {.aim = true}}},
        {6.50, "three shots, aimed", {.weapon = {.trigger = true, .aim = true}}},
        {6.70, "let go", {.weapon = {.aim = true}}},
        {7.00, "swap to the burr-gun", {.weapon = {}, .slot = 1}},
        {8.00, "a shot", {.weapon = {.trigger = true}, .slot = 1}},
        {8.10, "let go", {.weapon = {}, .slot = 1}},
        {8.90, "a second shot", {.weapon = {.trigger = true}, .slot = 1}},
        {9.80, "reload, shell by shell", {.weapon = {.reload = true}, .slot = 1}},
        {10.80, "a shot ends the reload", {.weapon = {.trigger = true}, .slot = 1}},
        {11.70, "swap to the next", {.weapon = {}, .slot = 1, .next = true}},
        {13.00, "hold the pollen-spray", {.weapon = {.trigger = true}, .slot = 1}},
        {17.50, "it is too hot", {.weapon = {.trigger = true}, .slot = 1}},
        {19.50, "let go", {.weapon = {}, .slot = 1}},
        {20.50, "back to the last", {.weapon = {}, .slot = 1, .last = true}},
    };
    std::vector<WeaponEvent> events;
    for (const Step& step : steps) {
        // The last intent holds at 60 ticks a second until this step, which comes at its exact time.
        LoadoutIntent intent = step.intent;
        intent.weapon.at = Time{from_seconds(step.at)};
        for (Tick tick = tick_at(loadout.now, {60}); loadout.now < intent.weapon.at; ++tick) {
            advance(*arsenal, loadout, std::min(tick_span(tick, {60}).end, intent.weapon.at), {}, events);
        }
        print_events(events);
        events.clear();
        if (step.pick_up > 0) {
            const AmmoId type = *weapon_in(*arsenal, loadout, loadout.in_hand)->ammo.spec;
            std::printf("          %d rounds stay on the ground\n",
                        add_ammo(*arsenal, loadout, type, step.pick_up));
        }
        advance(*arsenal, loadout, intent.weapon.at + Duration{1}, {&intent, 1}, events);
        print_readout(step, *arsenal, loadout);
    }
    advance(*arsenal, loadout, Time{std::chrono::seconds{22}}, {}, events);
    print_events(events);
}
