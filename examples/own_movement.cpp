// A locomotion of the game's own over a network: a dash, a wall jump and a slow field, all predicted.
//
// Server and clients run the same pure function, so a client moves at once and is right to the last bit. The
// last lines compare the motion on both ends, and count how often the server had to correct a client.
//
//     own_movement data/halm-ring.toml
#include <avrek/avrek.h>

#include <cstdio>
#include <vector>

using namespace avrek;

namespace {

constexpr Button dash_button = game_button(0);
constexpr Duration dash_lasts = std::chrono::milliseconds{150};
constexpr Duration dash_pause = std::chrono::milliseconds{1200};
constexpr double dash_speed = 14.0; // m/s

// All that the locomotion remembers. It travels, is saved and is rolled back inside of the motion.
struct Memory {
    std::int64_t dash_until = 0; // ns
    std::int64_t ready_at = 0;   // ns
    std::uint32_t held = 0;      // buttons in the last tick
    std::uint16_t dashes = 0;
    std::uint16_t wall_jumps = 0;
};

class CanopyRunner final : public Locomotion {
  public:
    std::string_view name() const override { return "canopy-runner"; }
    std::uint32_t version() const override { return 1; }
    BodyMotion advance(const MotionInput& in, BodyMotion motion) const override {
        auto memory = motion.game.as<Memory>();
        const auto now = in.span.begin.time_since_epoch().count();
        const Buttons pressed = Buttons::from_bits(in.intent.buttons.bits() & ~memory.held);
        memory.held = in.intent.buttons.bits();
        const Vector3 ahead = direction_of({in.intent.yaw, 0.0});
        if (in.can_move && pressed.has(dash_button) && now >= memory.ready_at) {
            memory.dash_until = now + dash_lasts.count();
            memory.ready_at = now + dash_pause.count();
            ++memory.dashes;
        }
        if (in.can_move && pressed.has(Button::jump) && motion.airborne) {
            jump_off_wall(in, motion, memory);
        }
        DesiredMotion wish = desired_motion(in);
        wish.velocity *= is_in_field(motion.position) ? 0.4 : 1.0;
        if (now < memory.dash_until) {
            wish.velocity = dash_speed * ahead;
            motion.velocity = {wish.velocity.x(), motion.velocity.y(), wish.velocity.z()};
        }
        advance_walking(in.world, in.body.movement, motion, wish, in.span.end - in.span.begin);
        if (wish.velocity.isZero() && motion.velocity.squaredNorm() < 1e-6) {
            motion.velocity.setZero(); // it stands
        }
        motion.game.set(memory);
        return motion;
    }

  private:
    static bool is_in_field(const Vector3& at) {
        return (at - Vector3{0, 0, 2}).squaredNorm() < 9.0; // a pool of sap
    }
    // Kicks off from a wall that is within reach ahead: away from it, and up.
    static void jump_off_wall(const MotionInput& in, BodyMotion& motion, Memory& memory) {
        const Vector3 chest = motion.position + Vector3{0, 1, 0};
        const Cast reach{{chest, direction_of({in.intent.yaw, 0.0}), 0.8}, 0.2};
        const auto wall = in.world.closest_hit(reach, {.hits = {CollisionLayer::level}});
        if (wall && !wall->inside && std::abs(wall->normal.y()) < 0.3) {
            motion.velocity = 4.0 * wall->normal + Vector3{0, 5, 0};
            ++memory.wall_jumps;
        }
    }
};

// The player runs up and down between two walls, jumps at them, dashes now and then.
Intent wanted(Tick tick, std::uint32_t player) {
    const Tick beat = (tick + 50 * player) % 448; // seven seconds
    Intent intent{.yaw = static_cast<float>(beat < 224 ? 0.0 : pi), .ahead = 1.0F, .left = 0.3F};
    intent.buttons.set(dash_button, beat % 112 > 30 && beat % 112 < 36);
    intent.buttons.set(Button::jump, beat % 224 > 90 && beat % 8 < 4);
    return intent;
}

Level garden() {
    return Level{{{HalfSpace{world_up(), 0.0}},
                  {Box{{{0, 3, 10}, Rotation::Identity()}, {12, 3, 0.5}}},
                  {Box{{{0, 3, -10}, Rotation::Identity()}, {12, 3, 0.5}}}}};
}

} // namespace

int main(int count, char** words) {
    const std::vector<std::string> files{count > 1 ? words[1] : "data/halm-ring.toml"};
    Loaded<GameData> data = load_game_data(files);
    const auto crew = data ? data->arsenal.body("crew") : std::nullopt;
    if (!crew) {
        std::fprintf(stderr, "the arsenal needs a crew\n");
        return 2;
    }
    data->arena.level = garden();
    data->arena.plan = {};
    data->arena.plan.spawns = {{{-3, 0, -8}, 0.0, TeamId{0}}, {{3, 0, -8}, 0.0, TeamId{1}}};

    const CanopyRunner runner;
    const KeyPair issuer = make_keys();
    ServerSettings settings{.issuer = issuer.open};
    settings.skirmish.locomotions = {&runner};
    for (std::uint32_t id = 1; id <= 2; ++id) {
        const TeamId team{static_cast<std::uint8_t>(id - 1)};
        settings.slots.push_back({.player = BodyId{id}, .team = team, .body = *crew});
    }
    LinkNetwork network{7};
    Server server{*data, settings, 3, network.server()};
    const LinkSpec link{.latency = std::chrono::milliseconds{100}}; // there and back
    std::vector<std::unique_ptr<Client>> clients;
    for (const PlayerSlot& slot : settings.slots) {
        const TicketClaims claims{
            .match = settings.match, .player = slot.player, .expires = 3600, .server = network.server_key()};
        clients.push_back(std::make_unique<Client>(*data, ClientSettings{.locomotions = {&runner}},
                                                   network.connect(link, issue_credentials(issuer, claims))));
    }
    // A minute in which the players act, and a second in which they stand still.
    while (network.now() < Time{std::chrono::seconds{61}}) {
        network.advance(network.now() + std::chrono::milliseconds{2});
        for (const auto& client : clients) {
            (void)client->receive(network.now());
            while (client->is_tick_due(network.now())) {
                const Tick tick = client->predicted().tick();
                const auto player = static_cast<std::uint32_t>(client->you());
                (void)client->tick(tick < 60 * 64 ? wanted(tick, player) : Intent{});
            }
        }
        while (server.skirmish().now() <= network.now()) {
            server.tick(network.now().time_since_epoch() / std::chrono::seconds{1});
        }
    }
    for (const auto& client : clients) {
        if (client->state() != ClientState::playing) {
            std::fprintf(stderr, "a client is not in: %s\n", client->reason().c_str());
            return 1;
        }
        const BodyMotion& there = std::as_const(server).skirmish().find(client->you())->motion;
        const BodyMotion& here = client->predicted().find(client->you())->motion;
        const auto memory = there.game.as<Memory>();
        std::printf(
            "player %u: %u dashes, %u wall jumps in a minute; corrected %llu times, by %.2f m in all; "
            "the motion on both ends is %s\n",
            static_cast<unsigned>(client->you()), unsigned{memory.dashes}, unsigned{memory.wall_jumps},
            static_cast<unsigned long long>(client->counts().corrections), client->counts().corrected,
            here == there ? "equal" : "different");
    }
}
