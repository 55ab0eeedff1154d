// Snippets of what a game brings of its own, compiled. A test compares the code; nothing here runs.
#include "pieces.h"

#include <array>
#include <cstring>

namespace avrek::snippets {

// A state lists its fields in a function beside it.
namespace listed {

struct Credit {
    BodyId source = nobody;
    double damage = 0.0;
    Time last{};
};

template <class Visitor>
void visit_fields(Visitor&& field, FieldsOf<Credit> auto& credit) {
    field("source", credit.source);
    field("damage", credit.damage);
    field("last", credit.last);
}

} // namespace listed

// The game's half.
namespace own {

struct Hover final : Locomotion {
    std::string_view name() const override { return "hover"; }
    std::uint32_t version() const override { return 1; }
    BodyMotion advance(const MotionInput& in, BodyMotion motion) const override {
        motion.position += to_seconds(in.span.end - in.span.begin) * motion.velocity;
        return motion;
    }
};

void launch_at_what_is_seen(const Scene& scene, const ProjectileSpec& spec, const AimQuestion& aim,
                            const Filter& filter) {
    const auto launch = [](const Vector3&, const Vector3&) {};
    const LaunchSolution shot = solve_launch(scene, spec, {.aim = aim, .barrel = 0.8}, filter);
    if (shot.lead && shot.aim.fires) {
        launch(shot.aim.origin, shot.aim.direction);
    }
}

struct Nod final : PoseSource {
    std::string_view name() const override { return "nod"; }
    std::uint32_t version() const override { return 1; }
    PoseState advance(const PoseInput&, PoseState before) const override { return before; }
    void pose(const PosedBody& of, std::span<Pose> poses) const override {
        poses[1].rotation = turned_to({0.0, of.pitch});
    }
};

void bytes(BodyMotion& motion) {
    struct Dash {
        std::int64_t ready_at;
        std::int32_t left;
        std::int32_t unused;
    };
    Dash dash = motion.game.as<Dash>();
    motion.game.set(dash);
}

struct Wall {
    double height = 0.0;
};

struct Walls final : CompanionState {
    std::array<Wall, 8> walls{};
    std::size_t size() const override { return sizeof walls; }
    void save(std::span<std::byte> to) const override { std::memcpy(to.data(), &walls, sizeof walls); }
    bool restore(std::span<const std::byte> from) override {
        const bool fits = from.size() == sizeof walls;
        std::memcpy(&walls, from.data(), fits ? sizeof walls : 0);
        return fits;
    }
    std::uint64_t hash() const override { return bytes_check(std::as_bytes(std::span{walls})); }
};

void act(Skirmish& fight, const Pieces& with, BodyId foe, const Vector3& pull, std::uint32_t hook) {
    const auto& [me, intents] = std::tie(with.me, with.intents);
    const GameAction actions[] = {
        {.at = fight.now(), .by = me, .tag = hook, .what = PushAction{.who = foe, .velocity = pull}}};
    for (const Event& event : fight.advance(intents, {}, actions)) {
        react(event);
    }
}

void change(const GameData& data, Skirmish& fight, Server& server) {
    TunedArsenal tuned{data.texts}; // the texts of the arsenal, and the steps so far
    const TuningStep step{.texts = {{"quick.toml", "[weapon.thorn-rifle]\nrate_of_fire = 900\n"}}};
    if (const auto arsenal = tuned.with(step); arsenal && fight.retune(*arsenal)) {
        tuned.take(step);
    }
    const Loaded<Tick> tick = server.retune(step); // counts from there on, for all
}

void step_by_step(const GameData& data, Skirmish& fight, const TuningStep& step) {
    TunedArsenal tuned{data.texts};
    if (const auto arsenal = tuned.with(step); arsenal && fight.retune(*arsenal)) {
        tuned.take(step);
    }
}

void tidy_up(const TunedArsenal& tuned) {
    const auto tidy = fold_overlays(tuned.texts()); // what weeks of tuning have come to
}

void keep_changes(const GameData& data, const TunedArsenal& tuned, Server& server, SessionTime now) {
    auto session = TuningSession::open("evening.session");
    (void)session->keep(tuned.texts(), now, "playtest"); // after each step
    const auto before = session->texts(3);               // back to change 3:
    (void)server.retune({.texts = *before, .replaces = true});
    const auto overlay = overlay_between(data.texts, tuned.texts(), "evening.toml");
}

void toughen(const Arsenal& arsenal, const BodySpec& crew, Vitals& vitals, std::vector<VitalsEvent>& events) {
    BodySpec tougher = crew;
    tougher.health = 150;
    retune({arsenal.conditions, crew}, {arsenal.conditions, tougher}, vitals, {}, events);
}

void watch_files(const std::vector<std::string>& files, Skirmish& fight, bool running) {
    ArsenalWatch watch{files};
    while (running) { // some times a second
        if (const auto news = watch.look(); news && news->arsenal) {
            (void)fight.retune(news->arsenal);
        }
    }
}

Pose pose_in(const GameCommand& command);

void seek(const GameData& data, const Hover& runner) {
    const auto draw = [](const Skirmish&, std::span<const Event>) {};
    ReplayPlayer player;
    const auto faults = player.open("fight.replay", data, {&runner});
    player.seek(12'000);
    while (player.tick() < player.length()) {
        draw(player.fight(), player.play());
    }
}

void turn(Server& server, HazardId wall, std::uint32_t put_wall) {
    server.on_tick([&](GameTick& tick) {
        for (const GameCommand& command : tick.commands) {
            tick.actions.push_back({.at = tick.fight.now(),
                                    .by = command.who,
                                    .tag = put_wall,
                                    .what = HazardAction{.hazard = wall, .pose = pose_in(command)}});
        }
    });
}

} // namespace own

} // namespace avrek::snippets
