// A pose source of the game's own over a network: a sampled walk, hit and rewound where it is shown.
//
// The server tells three bytes of each body: where in its walk it is, how fast it goes, and how low it is.
// Both ends make the same joints of them. The last lines compare what a shooter's own picture showed as a hit
// on moving limbs with what the server confirmed, and say what the poses cost on the wire.
//
//     own_animation data/halm-ring.toml
#include <avrek/avrek.h>

#include <algorithm>
#include <cmath>
#include <cstdio>
#include <map>
#include <memory>
#include <string>
#include <vector>

using namespace avrek;

namespace {

// The state of a pose, which travels.
struct Walk {
    std::uint8_t phase = 0; // 256 to a stride of two steps
    std::uint8_t speed = 0; // 16 to a metre per second
    std::uint8_t low = 0;   // 0 upright, 255 crouched
};

// Pitch in degrees through a stride, as an animator drew it: the left side; the right is half a stride later.
constexpr double thigh_pitch[] = {28, 22, 8, -8, -18, -12, 8, 24};
constexpr double shin_pitch[] = {-4, -10, -6, -4, -22, -52, -40, -14};
constexpr double arm_pitch[] = {-22, -16, -4, 10, 22, 14, 2, -12};

Radians sampled(const double (&samples)[8], double phase) {
    const double at = 8.0 * (phase - std::floor(phase));
    const auto index = static_cast<std::size_t>(at);
    const double share = at - static_cast<double>(index);
    return from_degrees((1.0 - share) * samples[index % 8] + share * samples[(index + 1) % 8]);
}

class GardenWalk final : public PoseSource {
  public:
    std::string_view name() const override { return "garden-walk"; }
    std::uint32_t version() const override { return 1; }
    PoseState advance(const PoseInput& in, PoseState before) const override {
        auto walk = before.as<Walk>();
        const double seconds = to_seconds(in.span.end - in.span.begin);
        const Vector3& velocity = in.motion.velocity;
        const double speed =
            in.motion.airborne ? 0.0 : std::sqrt(velocity.x() * velocity.x() + velocity.z() * velocity.z());
        walk.phase =
            static_cast<std::uint8_t>(walk.phase + static_cast<int>(256.0 / stride * speed * seconds + 0.5));
        walk.speed = static_cast<std::uint8_t>(std::min(255.0, 16.0 * speed));
        const int step = static_cast<int>(255.0 / 0.2 * seconds);
        const bool low = in.intent.buttons.has(Button::crouch) || in.vitals.state == BodyState::rising;
        walk.low = static_cast<std::uint8_t>(std::clamp(walk.low + (low ? step : -step), 0, 255));
        before.set(walk);
        return before;
    }
    void pose(const PosedBody& of, std::span<Pose> poses) const override {
        const auto walk = of.state.as<Walk>();
        const double swing = std::min(1.0, walk.speed / 32.0); // small steps when it is slow
        const double low = walk.low / 255.0;
        poses[0].position.y() -= 0.3 * low;
        turn(of, poses, "neck", poses[0], 0.7 * of.pitch);
        for (const bool left : {true, false}) {
            const double phase = walk.phase / 256.0 + (left ? 0.0 : 0.5);
            const Radians thigh = swing * sampled(thigh_pitch, phase) + low * from_degrees(60.0);
            const Radians shin = swing * sampled(shin_pitch, phase) - low * from_degrees(50.0);
            turn(of, poses, left ? "left-arm" : "right-arm", poses[0], swing * sampled(arm_pitch, phase));
            const std::uint32_t hip = turn(of, poses, left ? "left-thigh" : "right-thigh", poses[0], thigh);
            const std::uint32_t knee = *find_joint(of.body.rig, left ? "left-shin" : "right-shin");
            const Vector3 rest = of.body.rig.joints[knee - 1].rest.position;
            poses[knee] = {to_world(poses[hip], rest - of.body.rig.joints[hip - 1].rest.position),
                           turned_to({0.0, shin})};
        }
    }

  private:
    static constexpr Metres stride = 1.5;
    static std::uint32_t turn(const PosedBody& of, std::span<Pose> poses, const char* name, const Pose& body,
                              Radians pitch) {
        const std::uint32_t joint = *find_joint(of.body.rig, name);
        poses[joint] =
            to_world(body, Pose{of.body.rig.joints[joint - 1].rest.position, turned_to({0.0, pitch})});
        return joint;
    }
};

// Turns all the while as it runs to and fro, crouches and jumps now and then, and looks up and down.
Intent walking(Tick tick) {
    const double time = static_cast<double>(tick) / 64.0;
    const double yaw = 1.3 * time;
    const double way = (tick % 256 < 128 ? 0.5 : -0.5) * pi - yaw;
    Intent intent{.yaw = static_cast<float>(yaw),
                  .pitch = static_cast<float>(0.4 * std::sin(3.0 * time)),
                  .ahead = static_cast<float>(std::cos(way)),
                  .left = static_cast<float>(std::sin(way))};
    intent.buttons.set(Button::crouch, tick % 64 < 24);
    intent.buttons.set(Button::jump, tick % 128 > 80 && tick % 128 < 84);
    return intent;
}

// Aims at one limb after the other as the picture shows them.
Intent shooting(const Client& client, Tick tick) {
    const BodyId target{2};
    Intent intent;
    const Fighter* seen = client.view().find(target);
    if (seen == nullptr || seen->in_scene == false) {
        return intent;
    }
    const auto limb = static_cast<std::uint32_t>(1 + tick / 24 % 7);
    const auto joint = client.view().scene().pose_of(target, present, limb);
    const Vector3 eye = client.predicted().find(client.you())->motion.position + Vector3{0, 1.64, 0.1};
    const Vector3 next =
        seen->motion.velocity / 64.0; // it goes on while the shot is on its way to the next tick
    const Look look = look_of(to_world(*joint, Vector3{0.0, limb == 1 ? 0.16 : -0.2, 0.0}) + next - eye);
    const Look kick = client.predicted().find(client.you())->kick; // what recoil has left
    intent.yaw = static_cast<float>(look.yaw - kick.yaw);
    intent.pitch = static_cast<float>(look.pitch - kick.pitch);
    intent.buttons.set(Button::trigger, tick % 24 > 8 && tick % 24 < 20);
    intent.buttons.set(Button::aim, true);
    return intent;
}

// Poses nothing, to see what the poses cost.
struct Still final : PoseSource {
    std::string_view name() const override { return "still"; }
    std::uint32_t version() const override { return 1; }
    PoseState advance(const PoseInput&, PoseState) const override { return {}; }
    void pose(const PosedBody&, std::span<Pose>) const override {}
};

using Hits = std::map<std::uint32_t, RegionId>; // regions of the walker that were hit, by shot

struct Watched {
    Hits shown{};
    Hits on_server{};
    double bytes = 0.0; // from the server to the shooter: for each body and snapshot
};

void note(Hits& hits, const SegmentEvent& event) {
    if (event.who == BodyId{1} && event.segment.hit && event.segment.hit->body == BodyId{2} &&
        event.verdict == Verdict::stands) {
        hits[event.shot] = *event.segment.hit->region;
    }
}

Watched play(const GameData& data, const PoseSource& source) {
    const KeyPair issuer = make_keys();
    ServerSettings settings{.issuer = issuer.open};
    settings.skirmish.poses = &source;
    for (std::uint32_t id = 1; id <= 2; ++id) {
        settings.slots.push_back({.player = BodyId{id},
                                  .team = TeamId{static_cast<std::uint8_t>(id - 1)},
                                  .body = *data.arsenal.body("crew"),
                                  .weapons = {*data.arsenal.weapon("thorn-rifle")}});
    }
    LinkNetwork network{7};
    Server server{data, settings, 3, network.server()};
    const LinkSpec link{.latency = std::chrono::milliseconds{100}}; // there and back
    std::vector<std::unique_ptr<Client>> clients;
    for (const PlayerSlot& slot : settings.slots) {
        const TicketClaims claims{
            .match = settings.match, .player = slot.player, .expires = 3600, .server = network.server_key()};
        clients.push_back(std::make_unique<Client>(data, ClientSettings{.poses = &source},
                                                   network.connect(link, issue_credentials(issuer, claims))));
    }
    Watched watched;
    while (network.now() < Time{std::chrono::seconds{120}}) {
        network.advance(network.now() + std::chrono::milliseconds{2});
        for (const auto& client : clients) {
            (void)client->receive(network.now());
            while (client->is_tick_due(network.now())) {
                const Tick tick = client->predicted().tick();
                const bool shoots = client == clients.front();
                Intent wanted = shoots ? shooting(*client, tick) : walking(tick);
                if (network.now() > Time{std::chrono::seconds{119}}) {
                    wanted.buttons.set(Button::trigger, false); // all shots are to arrive
                }
                for (const OwnEvent& event : client->tick(wanted).own) {
                    for (const SegmentEvent& segment : event.segments) {
                        note(watched.shown, segment);
                    }
                }
            }
        }
        while (server.skirmish().now() <= network.now()) {
            for (const Event& event :
                 server.tick(network.now().time_since_epoch() / std::chrono::seconds{1})) {
                if (const auto* segment = std::get_if<SegmentEvent>(&event)) {
                    note(watched.on_server, *segment);
                }
            }
        }
    }
    const ClientCounts counts = clients.front()->counts();
    watched.bytes = static_cast<double>(counts.down.bytes[static_cast<std::size_t>(TrafficKind::stream)]) /
                    static_cast<double>(2 * counts.snapshots);
    return watched;
}

} // namespace

int main(int count, char** words) {
    const std::vector<std::string> files{count > 1 ? words[1] : "data/halm-ring.toml"};
    Loaded<GameData> data = load_game_data(files);
    if (!data || !data->arsenal.body("crew") || !data->arsenal.weapon("thorn-rifle")) {
        std::fprintf(stderr, "the arsenal needs a crew and a thorn-rifle\n");
        return 2;
    }
    data->arsenal.bodies[to_index(*data->arsenal.body("crew"))].health = 1e6; // it walks for two minutes
    WeaponSpec& rifle = data->arsenal.weapons[to_index(*data->arsenal.weapon("thorn-rifle"))];
    rifle.supply = AmmoSupply::endless;
    data->arena.level = Level{{{HalfSpace{world_up(), 0.0}}}};
    data->arena.plan = {};
    data->arena.plan.spawns = {{{0, 0, -6}, 0.0, TeamId{0}}, {{3, 0, 3}, 0.0, TeamId{1}}};

    const Watched walks = play(*data, GardenWalk{});
    std::size_t confirmed = 0;
    std::map<std::string, int> regions;
    for (const auto& [shot, region] : walks.shown) {
        const auto there = walks.on_server.find(shot);
        confirmed += there != walks.on_server.end() && there->second == region ? 1 : 0;
        ++regions[region_of(data->arsenal[*data->arsenal.body("crew")].rig, region).name];
    }
    std::printf("shown as hits: %zu; confirmed in the same region: %zu\n", walks.shown.size(), confirmed);
    for (const auto& [name, hits] : regions) {
        std::printf("  %-5s %d\n", name.c_str(), hits);
    }
    std::printf("the walk costs %.1f bytes a body and snapshot\n", walks.bytes - play(*data, Still{}).bytes);
}
