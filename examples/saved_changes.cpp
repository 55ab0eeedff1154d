// A designer's evening in miniature: an overlay is saved some times while a fight runs. Each saved text
// counts at once, or its faults are shown; a session file keeps what counted; in the end the fight goes back
// to the second save, and what differs from the beginning is left as an overlay.
//
//     saved_changes [data]
#include <avrek/avrek.h>

#include <chrono>
#include <cstdio>
#include <filesystem>
#include <fstream>
#include <string>

using namespace avrek;

namespace {

constexpr const char* saves[] = {
    "[weapon.thorn-rifle]\nrate_of_fire = 900\n",
    "[weapon.thorn-rifle]\nrate_of_fire = 900\nmagazine = 20\n",
    "[weapon.thorn-rifle]\nrate_of_fire = 900\nmagazine = -12\n", // a slip
    "[weapon.thorn-rifle]\nrate_of_fire = 900\nmagazine = 12\ndamage = 30\n",
};

SessionTime now() {
    return std::chrono::time_point_cast<std::chrono::milliseconds>(std::chrono::system_clock::now());
}

void print_faults(const std::vector<Diagnostic>& faults) {
    for (const Diagnostic& fault : faults) {
        std::printf("    %s\n", to_string(fault).c_str());
    }
}

void play(Skirmish& fight, Bots& bots, double seconds) {
    for (const Time end = fight.now() + from_seconds(seconds); fight.now() < end;) {
        fight.advance(bots.think(fight));
    }
}

void print_rifle(const Skirmish& fight, const char* when) {
    const WeaponSpec& rifle = fight.arsenal()[*fight.arsenal().weapon("thorn-rifle")];
    std::printf("%4.1f s  %s: %.0f a minute, a magazine of %d, damage %.0f\n",
                to_seconds(fight.now() - Time{}), when, rifle.rounds_per_minute, rifle.magazine,
                rifle.damage);
}

// Saves the overlay, as an editor would, and takes it into the fight. A real program looks some times a
// second; two looks in a row that find the same make a change.
void save_and_take(const std::string& overlay, const char* text, ArsenalWatch& watch, Skirmish& fight,
                   TuningSession& session) {
    std::ofstream{overlay} << text;
    (void)watch.look();
    const auto news = watch.look();
    if (!news || news->arsenal == nullptr) {
        std::printf("%4.1f s  saved, with a fault; the values stay\n", to_seconds(fight.now() - Time{}));
        print_faults(news ? news->diagnostics : std::vector<Diagnostic>{});
        return;
    }
    if (const Outcome taken = fight.retune(news->arsenal); !taken) {
        std::printf("    the fight does not take it: %s\n", std::string{taken.why()}.c_str());
        return;
    }
    print_rifle(fight, "saved");
    for (const ArsenalDifference& one : news->differences) {
        std::printf("    %s: %s -> %s\n", one.path.c_str(), one.before.c_str(), one.after.c_str());
    }
    print_faults(session.keep(watch.texts(), now(), "a designer").diagnostics);
}

} // namespace

int main(int count, char** words) {
    const std::filesystem::path data = std::filesystem::absolute(count > 1 ? words[1] : "data");
    const std::filesystem::path room = std::filesystem::temp_directory_path() / "avrek-saved-changes";
    std::filesystem::create_directories(room);
    std::filesystem::current_path(room);
    const std::string overlay = "evening.toml";
    const std::string kept = "evening.session";
    std::filesystem::remove(kept);
    std::ofstream{overlay} << "[weapon.thorn-rifle]\n";

    ArsenalWatch watch{{(data / "halm-ring.toml").string(), overlay}};
    const Loaded<Arsenal> arsenal = parse_arsenal(watch.texts());
    Loaded<TuningSession> session = TuningSession::open(kept);
    if (!arsenal || !session) {
        print_faults(arsenal.diagnostics);
        print_faults(session.diagnostics);
        return 2;
    }
    (void)session->keep(watch.texts(), now(), "a designer");
    const Loaded<Arena> arena = load_arena((data / "atrium.toml").string(), *arsenal);
    if (!arena) {
        print_faults(arena.diagnostics);
        return 2;
    }
    Skirmish fight{*arsenal, arena->level, {}, 1, arena->plan};
    Bots bots{fight};
    const BoutSetup setup{
        .crew = 4, .weapons = {*arsenal->weapon("thorn-rifle")}, .shooters = {*arsenal->shooter("gardener")}};
    begin_bout(setup, bout_members(setup), fight, bots);
    print_rifle(fight, "begins");
    for (const char* text : saves) {
        play(fight, bots, 2.0);
        save_and_take(overlay, text, watch, fight, *session);
    }

    play(fight, bots, 2.0);
    const auto before = session->texts(2);
    const auto back = before ? parse_arsenal(*before) : Loaded<Arsenal>{};
    if (!back || !fight.retune(std::make_shared<const Arsenal>(*back))) {
        print_faults(before.diagnostics);
        return 2;
    }
    print_rifle(fight, "back to change 2");
    const auto changed = overlay_between(*session->texts(0), *before, "evening.toml");
    std::printf("what differs from the beginning:\n%s", changed ? changed->text.c_str() : "");
    std::printf("kept in %s: %zu changes\n", kept.c_str(), session->changes()->size());
    std::filesystem::remove_all(room);
    return 0;
}
