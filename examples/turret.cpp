// Eye, muzzle and lead: a turret lobs seeds at a drone that crosses the atrium, and a shooter beside a bench
// finds out what the muzzle has before it.
//
//     turret [data]
#include <avrek/avrek.h>

#include <cstdio>
#include <filesystem>

using namespace avrek;

namespace {

const char* word_for(ProjectileEventKind kind) {
    switch (kind) {
    case ProjectileEventKind::exploded:
        return "explodes";
    case ProjectileEventKind::bounced:
        return "bounces";
    default:
        return "arrives";
    }
}

// Prints the view of a shooter behind the bench, and where the shot goes, by each rule.
void aim_past_the_bench(const Scene& atrium) {
    const struct {
        const char* name;
        Vector3 eye;
        Vector3 muzzle;
    } stands[] = {{"standing", {-3.4, 1.7, 7.0}, {-3.6, 1.4, 7.6}},
                  {"crouching", {-3.4, 1.2, 7.0}, {-3.6, 0.8, 7.6}},
                  {"too close", {-3.4, 1.2, 8.3}, {-3.6, 0.8, 8.9}}};
    for (const auto& [name, eye, muzzle] : stands) {
        const Look look{0.0, from_degrees(-4.0)};
        AimQuestion question{
            .eye = {eye, direction_of(look), 60}, .muzzle = muzzle, .grip = muzzle - Vector3{0, 0, 0.6}};
        const AimSolution aim = solve_aim(atrium, question, {});
        std::printf("%-10s sees (%4.1f %4.1f %4.1f), muzzle %s, shot from (%4.1f %4.1f %4.1f)\n", name,
                    aim.aim_point.x(), aim.aim_point.y(), aim.aim_point.z(), to_string(aim.muzzle).data(),
                    aim.origin.x(), aim.origin.y(), aim.origin.z());
    }
}

} // namespace

int main(int count, char** words) {
    const std::filesystem::path data = count > 1 ? words[1] : "data";
    const auto arsenal = load_arsenal(data / "halm-ring.toml");
    const auto level = arsenal ? load_level(data / "atrium.toml", *arsenal) : Loaded<Level>{};
    const ProjectileSpec* seed = arsenal ? find(arsenal->projectiles, "seed") : nullptr;
    if (!level || seed == nullptr) {
        std::fprintf(stderr, "turret needs halm-ring.toml, with the projectile seed, and atrium.toml\n");
        return 2;
    }
    Scene atrium{*level};
    aim_past_the_bench(atrium);

    // The turret stands on a post and turns half around; its eye is above the muzzle.
    const Pose base{{0, 2.5, -12}};
    const TurretSpec turret{.left = from_degrees(100),
                            .right = from_degrees(100),
                            .up = from_degrees(50),
                            .yaw_rate = from_degrees(60),
                            .pitch_rate = from_degrees(40)};
    const BodyId drone{7};
    const BodySpec& body = *find(arsenal->bodies, "crew");
    const auto drone_at = [](Time time) { return Vector3{9 - 3.5 * to_seconds(time - Time{}), 0, 6}; };
    (void)atrium.add({drone, &body.rig, {drone_at(Time{})}, TeamId{1}});

    Look look{};
    ProjectilePool seeds{*seed, 8};
    std::vector<ProjectileEvent> events;
    Time ready{};
    for (Tick tick = 0; tick < 45; ++tick) { // at 15 ticks a second
        const Span span = tick_span(tick, {.hertz = 15});
        const Vector3 at = drone_at(span.begin) + 1.1 * world_up();
        const Vector3 velocity =
            (drone_at(span.end) - drone_at(span.begin)) / to_seconds(span.end - span.begin);
        atrium.begin_frame(span.end);
        atrium.move(drone, {drone_at(span.end)});

        const Vector3 muzzle = base.position + 0.8 * turret_direction(base, look);
        const Leads leads = solve_lead(*seed, {.muzzle = muzzle, .target = at, .velocity = velocity});
        TurretTurn turn{look};
        if (leads.low) {
            turn = slew(turret, look, turret_look(base, leads.low->direction), span.end - span.begin);
        }
        look = turn.look;
        events.clear();
        const Camera eye{.pose = {base.position + 0.3 * world_up(), base.rotation * turned_to(look)}};
        if (turn.on_target && span.begin >= ready) {
            const auto mark = on_screen(eye, at);
            std::printf("%5.2f s  fires at yaw %5.1f pitch %4.1f; the drone is at pixel %4.0f, %3.0f; "
                        "they meet in %.2f s\n",
                        to_seconds(span.begin - Time{}), to_degrees(look.yaw), to_degrees(look.pitch),
                        mark->at.right, mark->at.down, to_seconds(leads.low->flight));
            seeds.launch({.at = span.begin, .muzzle = muzzle, .direction = leads.low->direction}, events);
            ready = span.begin + std::chrono::milliseconds{900};
        }
        seeds.advance(atrium, arsenal->surfaces, span, events);
        for (const ProjectileEvent& event : events) {
            if (event.kind != ProjectileEventKind::launched) {
                std::printf("%5.2f s  a seed %s%s at (%4.1f %4.1f %4.1f)\n", to_seconds(event.at - Time{}),
                            word_for(event.kind), event.hit && event.hit->body ? " on the drone" : "",
                            event.point.x(), event.point.y(), event.point.z());
            }
            std::array<BlastHit, 4> hurt;
            const Blast burst{.centre = event.point, .at = event.at};
            if (event.kind == ProjectileEventKind::exploded && blast(atrium, seed->blast, burst, hurt) > 0) {
                std::printf("        its blast is worth %.1f and pushes at %.1f m/s\n", hurt[0].damage,
                            hurt[0].push.norm());
            }
        }
    }
}
