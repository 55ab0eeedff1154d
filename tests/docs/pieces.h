#pragma once
// Things that snippets name without making them.
#include <avrek/avrek.h>

namespace avrek::snippets {

struct Pieces {
    Arsenal arsenal;
    ArsenalDigest digest;
    GameData data;
    std::vector<ArsenalText> texts;
    Arena arena;
    Level level;
    LevelPlan plan;
    ServerSettings settings;
    BodySpec crew_spec;
    WeaponSpec rifle;
    std::vector<Intent> intents;
    std::vector<WeaponId> weapons;
    std::uint64_t seed = 1;
    TeamId canopy{};
    BodySpecId crew{};
    MeleeId sickle{};
    BodyId me{1};
    BodyId keeper{2};
    BodyId shooter{3};
    BodyId id{4};
    Time at{};
    Time past{};
    Time clock{};
    Vector3 muzzle;
    Vector3 direction;
    Vector3 position;
    Vector3 velocity;
    Radians yaw = 0.0;
    Pose pose;
    Ray ray;
    Metres distance = 1.0;
    std::string_view region;
    WeaponEvent shot;
    std::vector<ProjectileEvent> projectile_events;
    std::vector<VitalsEvent> vitals_events;
};

void draw_and_play(const ClientEvents& events);
void react(const Event& event);
void play_sound(const Vector3& at);
void show_death(BodyId who);
void draw(const Skirmish& view);
Intent what_the_player_wants();
Intent read_input();
Time clock_now();
} // namespace avrek::snippets
